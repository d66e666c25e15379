/* SPDX-License-Identifier: MIT */
/*
 * The way back from the pin's share of the reference to the unknown, as closed functions. With everything
 * else at one corner that share is straight in a source's volts or amperes, (a + b R) / (1 + d R) in a
 * resistance, a parabola in a wiper's travel (what leaks flows through what the pin sees), and a ratio of two
 * parabolas where something loads it. Two, three or five solutions of the net fix it, and one more must
 * agree. Of all corners only those are kept that are the lowest or the highest for some share; which they are
 * is found on a grid of shares, and compared with all corners on a finer one.
 *
 * What is not of that kind (a way that clamps break, a track whose ohms are worst in the middle of their
 * span) has no such functions and is searched.
 */
#include "analysis/inverse.h"
#include "base/memory.h"
#include "elaborate/circuit_struct.h"
#include <lapacke.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>

enum { GRID = 33, FINE = 129, POINTS = 5 };
static const double rounding = 1e-12; /* of rounding, in a travel */

typedef struct {
    tl_circuit *c;
    const tl_signal_nodes *nodes;
    const tl_analog_path *path;
    const bool *closed;
    double *values;
    tl_inverse *to;
    double at[POINTS + 1]; /* unknowns that are solved for, the last one to prove it */
    int points;
    bool travel;
} maker;

/* --- one corner --- */

static bool share_at(const maker *m, double unknown, double *share)
{
    const tl_net_state state = {m->values, m->closed};
    const tl_figure figure = {
        .kind = TL_FIGURE_VOLTS, .of = m->nodes->pin, .less = tl_net_fixed(0), .against = m->nodes->negative};
    double volts = 0;
    m->values[m->nodes->unknown] = unknown;
    if (tl_island_figure(tl_island_narrow(m->nodes->island), &state, figure, &volts) != TL_NET_SOLVED)
        return false;
    *share = volts / m->values[m->nodes->reference];
    return isfinite(*share);
}

static double share_of(const tl_inverse *to, const tl_inverse_corner *k, double unknown)
{
    const double x = unknown / to->scale;
    return (k->up[0] + x * (k->up[1] + x * k->up[2])) / (1 + x * (k->down[0] + x * k->down[1]));
}

/* s (1 + d x + e x^2) = a + b x + c x^2 at as many points as there are unknowns. */
static bool fit(const maker *m, const double *share, tl_inverse_corner *k)
{
    double matrix[POINTS * POINTS], right[POINTS];
    lapack_int pivots[POINTS];
    const int n = m->points;
    *k = (tl_inverse_corner){.up = {0}};
    for (int i = 0; i < n; i++) {
        const double x = m->at[i] / m->to->scale, s = share[i];
        const double of_travel[POINTS] = {1, x, x * x, -s * x, -s * x * x}, of_ohms[POINTS] = {1, x, -s * x};
        for (int j = 0; j < n; j++)
            matrix[j * n + i] = m->travel ? of_travel[j] : of_ohms[j];
        right[i] = s;
    }
    if (LAPACKE_dgesv_work(LAPACK_COL_MAJOR, n, 1, matrix, n, pivots, right, n) != 0)
        return false;
    k->up[0] = right[0];
    k->up[1] = right[1];
    k->up[2] = m->travel ? right[2] : 0;
    k->down[0] = n == 5 ? right[3] : n == 3 && !m->travel ? right[2] : 0;
    k->down[1] = n == 5 ? right[4] : 0;
    k->at_least = share_of(m->to, k, m->to->least);
    k->at_most = share_of(m->to, k, m->to->most);
    return isfinite(k->at_least) && isfinite(k->at_most) && k->at_least != k->at_most;
}

static bool work_out_corner(const maker *m, tl_inverse_corner *k)
{
    double share[POINTS + 1] = {0};
    for (int i = 0; i <= m->points; i++) {
        if (!share_at(m, m->at[i < m->points ? i : POINTS], &share[i < m->points ? i : POINTS]))
            return false;
    }
    return fit(m, share, k) &&
           fabs(share_of(m->to, k, m->at[POINTS]) - share[POINTS]) <= 1e-11 * (1 + fabs(share[POINTS]));
}

/* The unknown behind a share; what lies beyond its ends where the share does. */
static double unknown_behind(const tl_inverse *to, const tl_inverse_corner *k, double share)
{
    const bool rises = k->at_most > k->at_least;
    if (rises ? share <= k->at_least : share >= k->at_least)
        return to->below_least;
    if (rises ? share >= k->at_most : share <= k->at_most)
        return to->above_most;
    const double a = k->up[2] - share * k->down[1], b = k->up[1] - share * k->down[0], c = k->up[0] - share;
    if (fabs(a) <= 1e-14 * fabs(b))
        return to->scale * -c / b;
    /* Of the two places the one within the ends. */
    const double q = -(b + copysign(sqrt(fmax(0, b * b - 4 * a * c)), b)) / 2,
                 middle = (to->least + to->most) / 2;
    const double one = to->scale * q / a, other = to->scale * c / q;
    return fabs(one - middle) < fabs(other - middle) ? one : other;
}

/* --- all corners --- */

static void set_ends(tl_inverse *to, double scale, tl_interval within, tl_interval beyond)
{
    to->scale = scale;
    to->least = within.low;
    to->most = within.high;
    to->below_least = beyond.low;
    to->above_most = beyond.high;
}

static void choose_points(maker *m, const tl_source *source)
{
    tl_inverse *to = m->to;
    m->points = source->kind == TL_SOURCE_RESISTANCE ? 3 : 2;
    if (source->kind == TL_SOURCE_POTENTIOMETER) {
        set_ends(to, 1, (tl_interval){0, 1}, (tl_interval){0, 1});
        m->points = m->path->bends ? 5 : 3; /* leakage alone bends it like a parabola */
        m->travel = true;
        for (int i = 0; i < m->points; i++)
            m->at[i] = (i + 0.5) / m->points; /* at an end two nodes would be one */
        m->at[POINTS] = 0.4;
        return;
    }
    if (source->kind == TL_SOURCE_RESISTANCE) {
        const double low = fmax(source->value.value.low, 1), high = fmax(source->value.value.high, 1);
        set_ends(to, sqrt(low * high), (tl_interval){1e-3 * low, 1e3 * high}, (tl_interval){0, INFINITY});
        m->at[0] = low / 4;
        m->at[1] = to->scale;
        m->at[2] = high * 4;
        m->at[POINTS] = sqrt(low * to->scale) * 1.1;
        return;
    }
    const double high = fmax(fabs(source->value.value.low), fabs(source->value.value.high));
    set_ends(to, high > 0 ? high : 1, (tl_interval){-2000, 2000}, (tl_interval){-INFINITY, INFINITY});
    m->at[0] = 0.2 * to->scale; /* inside: at an end of what the source gives leakage may end as well */
    m->at[1] = 0.9 * to->scale;
    m->at[POINTS] = 0.55 * to->scale;
}

/* What varies: each tried at both ends, a track's ohms the last of them; what only pushes the pin stands at
 * one end together, as one more. */
typedef struct {
    int of[TL_NET_CORNER_PARAMS + 1], count;
    int pushed[TL_NET_CORNER_PARAMS], pushed_count;
    int ways; /* this many are tried */
} corners;

static corners corners_of(const maker *m, const int *params, int count)
{
    corners k = {.count = 0};
    const tl_island *island = tl_island_narrow(m->nodes->island);
    for (int i = 0; i < count; i++) {
        const bool pushes = params[i] != m->nodes->reference && m->nodes->negative == TL_NET_GROUND &&
                            tl_island_push(island, params[i]) != 0;
        if (pushes)
            k.pushed[k.pushed_count++] = params[i];
        else
            k.of[k.count++] = params[i];
    }
    k.ways = k.count + (k.pushed_count > 0);
    if (m->nodes->track != TL_NET_NONE)
        k.of[k.count++] = m->nodes->track;
    return k;
}

static void stand_at(const maker *m, int param, bool high)
{
    double span[2];
    tl_net_param_span(m->c->net, param, &span[0], &span[1]);
    m->values[param] = span[high];
}

/* corner: a bit for each that is tried, the track's not among them. */
static void stand_at_corner(const maker *m, const corners *k, unsigned corner)
{
    const tl_island *island = tl_island_narrow(m->nodes->island);
    const int tried = k->ways - (k->pushed_count > 0);
    for (int i = 0; i < tried; i++)
        stand_at(m, k->of[i], (corner >> i & 1u) != 0);
    for (int i = 0; i < k->pushed_count; i++)
        stand_at(m, k->pushed[i],
                 ((corner >> tried & 1u) != 0) == (tl_island_push(island, k->pushed[i]) > 0));
}

/* Every corner; those with a track's ohms at their largest are the second half. */
static bool work_out_all(const maker *m, const corners *k, tl_inverse_corner *all)
{
    const unsigned half = 1u << k->ways;
    for (unsigned corner = 0; corner < half << (m->nodes->track != TL_NET_NONE); corner++) {
        stand_at_corner(m, k, corner % half);
        if (m->nodes->track != TL_NET_NONE)
            stand_at(m, m->nodes->track, corner >= half);
        if (!work_out_corner(m, &all[corner]))
            return false;
    }
    return true;
}

/* A track's ohms stand in two legs, so the unknown may be extreme inside their span: it is where it turns
 * close to either end. */
static bool turns_inside(const maker *m, const corners *k, const tl_inverse_corner *all)
{
    const int track = m->nodes->track;
    const unsigned half = 1u << k->ways;
    double low, high;
    tl_net_param_span(m->c->net, track, &low, &high);
    for (unsigned corner = 0; corner < half; corner++) {
        tl_inverse_corner near[2];
        stand_at_corner(m, k, corner);
        for (int end = 0; end < 2; end++) {
            m->values[track] = end == 0 ? low + 1e-4 * (high - low) : high - 1e-4 * (high - low);
            if (!work_out_corner(m, &near[end]))
                return true;
        }
        for (int i = 1; i < GRID; i++) {
            const double share = (double)i / GRID, first = unknown_behind(m->to, &all[corner], share),
                         last = unknown_behind(m->to, &all[corner + half], share),
                         after = unknown_behind(m->to, &near[0], share),
                         before = unknown_behind(m->to, &near[1], share);
            if ((first - after > rounding && last - before > rounding) ||
                (after - first > rounding && before - last > rounding))
                return true;
        }
    }
    return false;
}

/* Lowest and highest over some corners, and which those are. */
typedef struct {
    unsigned which[2];
    double value[2];
} extremes;

static extremes extremes_of(const tl_inverse *to, const tl_inverse_corner *all, const bool *marked,
                            unsigned count, double share)
{
    extremes e = {{0, 0}, {INFINITY, -INFINITY}};
    for (unsigned k = 0; k < count; k++) {
        if (marked != NULL && !marked[k])
            continue;
        const double found = unknown_behind(to, &all[k], share);
        if (found < e.value[0]) {
            e.value[0] = found;
            e.which[0] = k;
        }
        if (found > e.value[1]) {
            e.value[1] = found;
            e.which[1] = k;
        }
    }
    return e;
}

static void keep_extremes(maker *m, const tl_inverse_corner *all, unsigned count)
{
    tl_inverse *to = m->to;
    bool *marked = tl_alloc(count, sizeof *marked);
    const double low = (double)m->path->first_code / m->path->reference_counts - 0.02, high = 1.02;
    for (int pass = 0; pass < 2; pass++) {
        const int steps = pass == 0 ? GRID : FINE;
        for (int i = 0; i < steps; i++) {
            const double share = low + (high - low) * i / (steps - 1);
            const extremes now = extremes_of(to, all, NULL, count, share),
                           kept = extremes_of(to, all, marked, count, share);
            for (int end = 0; end < 2; end++) {
                if (pass == 0 || now.value[end] != kept.value[end])
                    marked[now.which[end]] = true;
            }
        }
    }
    for (unsigned k = 0; k < count; k++)
        to->count += marked[k];
    to->corners = tl_alloc((size_t)to->count, sizeof *to->corners);
    for (unsigned k = 0, at = 0; k < count; k++) {
        if (marked[k])
            to->corners[at++] = all[k];
    }
    free(marked);
}

static maker maker_of(tl_circuit *c, int signal, tl_inverse *to)
{
    const size_t room = (size_t)tl_net_param_count(c->net);
    maker m = {.c = c,
               .nodes = &c->signals[signal],
               .path = &c->paths[signal], /* whoever asks for the way back has it */
               .closed = tl_circuit_state(c, signal, 0),
               .to = to};
    choose_points(&m, &c->plan->signals[signal].source);
    m.values = memcpy(tl_alloc(room, sizeof *m.values), c->nominal, room * sizeof *m.values);
    return m;
}

void inverse_make(tl_circuit *c, int signal, tl_inverse *to)
{
    maker m = maker_of(c, signal, to);
    to->known = true;
    to->usable = m.nodes->unknown != m.nodes->reference && work_out_corner(&m, &to->nominal);
    free(m.values);
}

void inverse_make_corners(tl_circuit *c, int signal, const int *params, int count, tl_inverse *to)
{
    to->corners_known = true;
    maker m = maker_of(c, signal, to);
    const corners k = corners_of(&m, params, count);
    const bool track = m.nodes->track != TL_NET_NONE;
    const unsigned all_count = 1u << (k.ways + track);
    tl_inverse_corner *all = tl_alloc(all_count, sizeof *all);
    tl_island *island = tl_island_narrow(m.nodes->island);
    tl_island_keep_contacts(island, m.closed);
    if (work_out_all(&m, &k, all) && (!track || !turns_inside(&m, &k, all)))
        keep_extremes(&m, all, all_count);
    tl_island_let_contacts_go(island);
    free(all);
    free(m.values);
}

double inverse_nominal(const tl_inverse *to, double share)
{
    return unknown_behind(to, &to->nominal, share);
}

void inverse_bounds(const tl_inverse *to, const tl_interval *shares, tl_interval *unknown)
{
    const double ends[2] = {isfinite(shares->low) ? shares->low : -1e6,
                            isfinite(shares->high) ? shares->high : 1e6};
    *unknown = (tl_interval){INFINITY, -INFINITY};
    for (int k = 0; k < to->count; k++) {
        for (int end = 0; end < 2; end++) {
            const double found = unknown_behind(to, &to->corners[k], ends[end]);
            unknown->low = fmin(unknown->low, found);
            unknown->high = fmax(unknown->high, found);
        }
    }
}
