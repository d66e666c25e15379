/* SPDX-License-Identifier: MIT */
/*
 * Exact steps in time. With capacitors on some of the unknown nodes the nodal equations are
 *
 *     [C 0] d  [v]   [G11 G12] [v]   [i1]
 *     [0 0] dt [w] + [G21 G22] [w] = [i2]
 *
 * The nodes w without capacitor follow v at once and are eliminated: S = G11 - G12 G22^-1 G21, j = i1 - G12
 * G22^-1 i2. With u = sqrt(C) v this is u' = -A u + q. Resistors alone make A symmetric; a follower, or half
 * a channel, does not. A = Q L Q^-1, and every mode moves by itself: z(t) = z(0) exp(-l t) + q (1 - exp(-l
 * t)) / l, and a mode with l = 0 (a capacitor with no way to discharge) by q t.
 *
 * What has a way to a rail is reckoned from its rest, which a direct solution gives: far slower modes than
 * the fastest would lose it in their rounding. Only floating rows keep a drive q of their own. Where the rest
 * itself moves in a straight line over the step, by r a second, every mode has -Q^-1 sqrt(C) r as its drive.
 */
#include "base/memory.h"
#include "circuit/elements.h"
#include "circuit/transient_internal.h"
#include <lapacke.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>

double *farads_of_rows(const tl_island *island, const nodal *equations)
{
    double *farads = tl_alloc((size_t)equations->rows, sizeof *farads);
    for (int i = 0; i < island->part_count; i++) {
        const net_part *part = &island->net->parts[island->parts[i].part];
        if (equations->present[i] && part->is->store != NULL)
            part->is->store(farads, equations, equations->class_of[island->parts[i].a],
                            equations->class_of[island->parts[i].b], equations->value[i], part->lag);
    }
    return farads;
}

static double entry(const tl_transient *t, int i, int j)
{
    return t->equations->matrix[t->row[j] * t->equations->rows + t->row[i]];
}

/* Where every node comes to rest, by a direct solution; NAN where nothing defines it. */
static bool find_rest(tl_island *island, const tl_net_state *state, double *rest)
{
    nodal *work = &island->work;
    bool turned = true;
    for (int round = 0; turned; round++) {
        if (nodal_fill(work, island, state, false) != TL_NET_SOLVED ||
            nodal_solve(work, island->right, 0) != TL_NET_SOLVED || round > nodal_rounds(island))
            return false;
        turned = island->bend_count > 0 && nodal_turn(island, state, round < TURNS_TOGETHER);
    }
    for (int local = 0; local < island->size; local++) {
        const int cls = work->class_of[local];
        rest[local] = class_defined(work, cls) ? class_volts(work, cls) : NAN;
    }
    return true;
}

/* What is connected and has neither a capacitor nor a way to anything defined keeps the volts of one of its
 * nodes, its anchor; the others of it stand from there where their resistors have them. */
static void find_anchors(tl_transient *t)
{
    const int size = t->island->size;
    for (int i = 0; i < t->others; i++)
        t->anchor[i] = TL_NET_NONE;
    for (int local = 0; local < size; local++) {
        if (t->place[local] < t->charged || !t->floats[local])
            continue;
        int anchor = TL_NET_NONE;
        for (int other = size - 1; other >= 0; other--) {
            if (!tl_transient_float_together(t, local, other) || t->place[other] == TL_NET_NONE)
                continue;
            anchor = other;
            if (t->place[other] < t->charged)
                break; /* a capacitor defines it */
        }
        if (anchor != TL_NET_NONE && t->place[anchor] >= t->charged)
            t->anchor[t->place[local] - t->charged] = anchor;
    }
}

/* Resistors alone: symmetric, and the rows are in an order in which little fills up. */
static bool solve_symmetric(double *matrix, int rows, double *right, int columns)
{
    int *first = tl_alloc((size_t)rows, sizeof *first);
    for (int i = 0; i < rows; i++) {
        while (first[i] < i && matrix[i * rows + first[i]] == 0)
            first[i]++;
    }
    const bool solved = envelope_solve(matrix, NULL, first, rows, right, columns);
    free(first);
    return solved;
}

static bool solve_any(double *matrix, int rows, double *right, int columns)
{
    lapack_int *pivots = tl_alloc((size_t)rows, sizeof *pivots);
    const lapack_int info =
        LAPACKE_dgesv_work(LAPACK_COL_MAJOR, rows, columns, matrix, rows, pivots, right, rows);
    free(pivots);
    return info == 0;
}

/* follow = G22^-1 G21 and offset = G22^-1 i2. An anchor stands at 0, the rest is seen from there. */
static bool eliminate_others(tl_transient *t, bool followers)
{
    const int n = t->others, m = t->charged;
    if (n == 0)
        return true;
    double *g22 = tl_alloc((size_t)n * (size_t)n, sizeof *g22);
    double *right = tl_alloc((size_t)n * (size_t)(m + 1), sizeof *right);
    for (int i = 0; i < n; i++) {
        for (int j = 0; j < n; j++)
            g22[j * n + i] = entry(t, m + i, m + j);
        for (int j = 0; j < m; j++)
            right[j * n + i] = entry(t, m + i, j);
        right[m * n + i] = t->equations->injected[t->row[m + i]];
    }
    for (int i = 0; i < n; i++) {
        if (t->anchor[i] == TL_NET_NONE || t->place[t->anchor[i]] != m + i)
            continue;
        for (int j = 0; j < n; j++)
            g22[j * n + i] = g22[i * n + j] = i == j;
        for (int j = 0; j <= m; j++)
            right[j * n + i] = 0;
    }
    const bool solved = followers ? solve_any(g22, n, right, m + 1) : solve_symmetric(g22, n, right, m + 1);
    memcpy(t->follow, right, (size_t)n * (size_t)m * sizeof *right);
    memcpy(t->offset, right + (size_t)n * (size_t)m, (size_t)n * sizeof *right);
    free(g22);
    free(right);
    return solved;
}

/* A, column by column, into the modes' room; and the drive of the charged rows, still in their own terms. Few
 * of the others touch a row, so only what does is summed up. */
void transient_fill_motion(tl_transient *t)
{
    const int n = t->others, m = t->charged;
    for (int i = 0; i < m; i++) {
        t->scratch[i] = t->equations->injected[t->row[i]];
        for (int j = 0; j < m; j++)
            t->modes[j * m + i] = entry(t, i, j);
        for (int k = 0; k < n; k++) {
            const double siemens = entry(t, i, m + k);
            if (siemens == 0)
                continue;
            t->scratch[i] -= siemens * t->offset[k];
            for (int j = 0; j < m; j++)
                t->modes[j * m + i] -= siemens * t->follow[j * n + k];
        }
    }
    for (int j = 0; j < m; j++) {
        t->scratch[j] /= t->root_c[j];
        for (int i = 0; i < m; i++)
            t->modes[j * m + i] /= t->root_c[i] * t->root_c[j];
    }
}

/* Rows that act on no other move by themselves; many do where contacts are closed. Returns how many others
 * there are, listed in `coupled`; their matrix is closed up in the first columns of `among`. */
static int split_off(tl_transient *t, int *coupled, double *among)
{
    const int m = t->charged;
    int count = 0;
    for (int i = 0; i < m; i++) {
        bool acts = false;
        for (int j = 0; j < m && !acts; j++)
            acts = j != i && t->modes[j * m + i] != 0;
        if (acts)
            coupled[count++] = i;
        else { /* behind the others, from the end */
            const int mode = m - 1 - (i - count);
            t->lone[mode] = i;
            t->rate[mode] = t->modes[i * m + i];
        }
    }
    for (int j = 0; j < count; j++) {
        for (int i = 0; i < count; i++)
            among[j * count + i] = t->modes[coupled[j] * m + coupled[i]];
    }
    return count;
}

static lapack_int find_symmetric(int count, double *matrix, double *values)
{
    enum { FEW = 32 }; /* beyond them dividing and conquering is quicker: many alike fall out of it at once */
    const lapack_int room = 1 + 8 * count + (count > FEW ? 2 * count * count : 0), places = 3 + 5 * count;
    double *work = tl_alloc((size_t)room, sizeof *work);
    lapack_int *whole = tl_alloc((size_t)places, sizeof *whole);
    const lapack_int info = count == 0     ? 0
                            : count <= FEW ? LAPACKE_dsyev_work(LAPACK_COL_MAJOR, 'V', 'U', count, matrix,
                                                                count, values, work, room)
                                           : LAPACKE_dsyevd_work(LAPACK_COL_MAJOR, 'V', 'U', count, matrix,
                                                                 count, values, work, room, whole, places);
    free(whole);
    free(work);
    return info;
}

static bool symmetric_modes(tl_transient *t)
{
    const int m = t->charged;
    double *among = tl_alloc((size_t)(m * m), sizeof *among);
    int *coupled = tl_alloc((size_t)m, sizeof *coupled);
    const int count = split_off(t, coupled, among);
    const lapack_int info = find_symmetric(count, among, t->rate);
    memset(t->modes, 0, (size_t)(m * m) * sizeof *t->modes);
    for (int k = 0; k < count; k++) {
        for (int i = 0; i < count; i++)
            t->modes[k * m + coupled[i]] = among[k * count + i];
    }
    for (int k = count; k < m; k++)
        t->modes[k * m + t->lone[k]] = 1;
    for (int i = 0; i < m; i++) {
        for (int k = 0; k < m; k++)
            t->back[i * m + k] = t->modes[k * m + i];
    }
    free(among);
    free(coupled);
    return info == 0;
}

/* With followers: signals pass them one way only, so the rates are still real. */
static bool general_modes(tl_transient *t)
{
    const int m = t->charged, room = 8 * m;
    double *a = tl_alloc((size_t)(m * m), sizeof *a), *imaginary = tl_alloc((size_t)m, sizeof *imaginary),
           *work = tl_alloc((size_t)room, sizeof *work), none = 0;
    lapack_int *pivots = tl_alloc((size_t)m, sizeof *pivots);
    memcpy(a, t->modes, (size_t)(m * m) * sizeof *a);
    lapack_int info = LAPACKE_dgeev_work(LAPACK_COL_MAJOR, 'N', 'V', m, a, m, t->rate, imaginary, &none, 1,
                                         t->modes, m, work, room);
    memcpy(a, t->modes, (size_t)(m * m) * sizeof *a);
    memset(t->back, 0, (size_t)(m * m) * sizeof *t->back);
    for (int i = 0; i < m; i++) {
        t->back[i * m + i] = 1;
        if (imaginary[i] != 0)
            info = 1;
    }
    if (info == 0)
        info = LAPACKE_dgesv_work(LAPACK_COL_MAJOR, m, m, a, m, pivots, t->back, m);
    free(a);
    free(imaginary);
    free(work);
    free(pivots);
    return info == 0;
}

static bool find_modes(tl_transient *t, bool followers)
{
    const int m = t->charged;
    double fastest = 0;
    if (m == 0)
        return true;
    transient_fill_motion(t);
    if (!(followers ? general_modes(t) : symmetric_modes(t)))
        return false;
    for (int k = 0; k < m; k++)
        fastest = fmax(fastest, t->rate[k]);
    for (int k = 0; k < m; k++) {
        t->drive[k] = 0;
        for (int i = 0; i < m; i++)
            t->drive[k] += t->back[i * m + k] * t->scratch[i];
        if (t->rate[k] <= 1e-14 * fastest)
            t->rate[k] = 0; /* rounding of a capacitor with no way to discharge */
        else
            t->slowest = fmax(t->slowest, 1 / t->rate[k]);
    }
    return true;
}

/* Which rows have a capacitor, and where each node finds its row. */
static void sort_rows(tl_transient *t, const tl_island *island, const double *farads, bool followers)
{
    const int rows = t->equations->rows;
    for (int i = 0; i < rows; i++) {
        if (!(farads[i] > 0))
            continue;
        /* Behind a follower equal time constants would have one mode in common: 1e-5 apart they do not. */
        t->root_c[t->charged] = sqrt(farads[i] * (followers ? 1 + 1e-5 * (rows - 1 - i) : 1));
        t->row[t->charged++] = i;
    }
    for (int i = 0; i < rows; i++) {
        if (!(farads[i] > 0))
            t->row[t->charged + t->others++] = i;
    }
    int *place_of = tl_alloc((size_t)rows, sizeof *place_of);
    for (int i = 0; i < rows; i++)
        place_of[t->row[i]] = i;
    for (int local = 0; local < island->size; local++) {
        const int row = t->equations->row_of[t->equations->class_of[local]];
        t->place[local] = row != TL_NET_NONE ? place_of[row] : TL_NET_NONE;
        if (t->place[local] != TL_NET_NONE && t->place[local] < t->charged)
            t->node_of[t->place[local]] = local;
    }
    free(place_of);
}

/* What is as long as the nodes. */
static void allocate_nodes(tl_transient *t, const tl_island *island)
{
    const size_t size = (size_t)island->size;
    t->place = tl_alloc(size, sizeof *t->place);
    t->rest = tl_alloc(size, sizeof(double));
    t->floats = tl_alloc(size, sizeof *t->floats);
    t->group = tl_alloc(size, sizeof *t->group);
    t->aim = tl_alloc(size, sizeof(double));
}

/* What is as long as the rows. */
static void allocate_rows(tl_transient *t)
{
    const size_t rows = (size_t)t->equations->rows;
    t->row = tl_alloc(rows, sizeof *t->row);
    t->node_of = tl_alloc(rows, sizeof *t->node_of);
    t->root_c = tl_alloc(rows, sizeof(double));
    t->offset = tl_alloc(rows, sizeof(double));
    t->scratch = tl_alloc(3 * rows, sizeof(double));
    t->anchor = tl_alloc(rows, sizeof *t->anchor);
}

/* What is as long as there are modes. */
static void allocate_modes(tl_transient *t)
{
    const size_t m = (size_t)t->charged;
    t->lone = tl_alloc(m, sizeof *t->lone);
    for (size_t k = 0; k < m; k++)
        t->lone[k] = TL_NET_NONE;
    t->modes = tl_alloc(m * m, sizeof(double));
    t->back = tl_alloc(m * m, sizeof(double));
    t->rate = tl_alloc(m, sizeof(double));
    t->drive = tl_alloc(m, sizeof(double));
    t->follow = tl_alloc((size_t)t->others * m, sizeof(double));
    t->kept = tl_alloc(m, sizeof(double));
    t->gone = tl_alloc(m, sizeof(double));
}

/* Floating nodes are grouped by what is connected. */
static void find_groups(tl_transient *t, const tl_island *island)
{
    t->any_floats = false;
    for (int local = 0; local < island->size; local++) {
        t->group[local] = local;
        t->any_floats = t->any_floats || t->floats[local];
    }
    for (bool grew = t->any_floats; grew;) {
        grew = false;
        for (int i = 0; i < island->part_count; i++) {
            const int a = island->parts[i].a, b = island->parts[i].b;
            if (!t->equations->present[i] ||
                island->net->parts[island->parts[i].part].is->reach == REACH_NONE || a >= island->size ||
                b >= island->size || !t->floats[a] || !t->floats[b] || t->group[a] == t->group[b])
                continue;
            t->group[a] = t->group[b] = t->group[a] < t->group[b] ? t->group[a] : t->group[b];
            grew = true;
        }
    }
}

/* Rows that come to rest need no drive of their own. */
static void take_rest(tl_transient *t, const tl_island *island)
{
    for (int local = 0; local < island->size; local++) {
        const int row = t->equations->row_of[t->equations->class_of[local]];
        const bool floats = isnan(t->rest[local]);
        if (row != TL_NET_NONE && !floats)
            t->equations->injected[row] = 0;
        t->floats[local] = floats;
        if (floats)
            t->rest[local] = 0;
        t->aim[local] = t->rest[local];
    }
}

tl_transient *transient_begin(tl_island *island, const tl_net_state *state)
{
    tl_transient *t = tl_alloc(1, sizeof *t);
    if (island->in_time.class_of == NULL)
        nodal_alloc(&island->in_time, island);
    t->island = island;
    t->equations = &island->in_time;
    t->kept_seconds = -1;
    allocate_nodes(t, island);
    bool good = find_rest(island, state, t->rest);
    /* What bends is held as it is at rest. */
    memcpy(t->equations->mode, island->work.mode, (size_t)island->part_count * sizeof *island->work.mode);
    good = good && nodal_fill(t->equations, island, state, true) == TL_NET_SOLVED;
    if (good) {
        t->followers = t->equations->lopsided;
        allocate_rows(t);
        double *farads = farads_of_rows(island, t->equations);
        for (int i = 0; i < island->size + island->rails; i++)
            t->followers = t->followers || t->equations->held[i];
        sort_rows(t, island, farads, t->followers);
        free(farads);
        allocate_modes(t);
        take_rest(t, island);
        find_groups(t, island);
        find_anchors(t);
        good = eliminate_others(t, t->followers);
    }
    if (good)
        return t;
    tl_transient_free(t);
    return NULL;
}

tl_transient *tl_transient_new(tl_island *island, const tl_net_state *state)
{
    tl_transient *t = transient_begin(island, state);
    if (t == NULL)
        return NULL;
    const bool good = find_modes(t, t->followers);
    t->equations = NULL;
    if (good)
        return t;
    tl_transient_free(t);
    return NULL;
}

void tl_transient_free(tl_transient *t)
{
    if (t == NULL)
        return;
    free(t->row);
    free(t->place);
    free(t->node_of);
    free(t->root_c);
    free(t->modes);
    free(t->back);
    free(t->lone);
    free(t->rate);
    free(t->drive);
    free(t->follow);
    free(t->offset);
    free(t->rest);
    free(t->floats);
    free(t->group);
    free(t->aim);
    free(t->scratch);
    free(t->carry);
    free(t->respond);
    free(t->push);
    free(t->anchor);
    free(t->kept);
    free(t->gone);
    free(t->tracked);
    free(t->tracked_at);
    free(t->slope);
    free(t->bend);
    free(t->rest_at);
    free(t);
}

/* --- sources that move --- */

bool tl_transient_track(tl_transient *t, const tl_net_state *state, const int *params, const double *by,
                        int count)
{
    const size_t size = (size_t)t->island->size, room = (size_t)tl_net_param_count(t->island->net);
    double *values = tl_alloc(room, sizeof *values), *before = tl_alloc(size, sizeof *before);
    bool good = true;
    t->tracked = tl_alloc((size_t)count, sizeof *t->tracked);
    t->tracked_at = tl_alloc((size_t)count, sizeof *t->tracked_at);
    t->slope = tl_alloc((size_t)count * size, sizeof *t->slope);
    t->bend = tl_alloc((size_t)count * size, sizeof *t->bend);
    t->rest_at = tl_alloc(size, sizeof *t->rest_at);
    t->tracked_count = count;
    memcpy(values, state->values, room * sizeof *values);
    memcpy(t->rest_at, t->rest, size * sizeof *t->rest_at);
    const tl_net_state moved = {values, state->closed};
    for (int k = 0; k < count && good; k++) {
        double *slope = t->slope + (size_t)k * size, *bend = t->bend + (size_t)k * size;
        t->tracked[k] = params[k];
        t->tracked_at[k] = state->values[params[k]];
        values[params[k]] = t->tracked_at[k] - by[k];
        good = find_rest(t->island, &moved, before);
        values[params[k]] = t->tracked_at[k] + by[k];
        good = good && find_rest(t->island, &moved, slope);
        values[params[k]] = t->tracked_at[k];
        for (size_t local = 0; local < size; local++) {
            const double after = slope[local], here = t->rest_at[local];
            bend[local] = isnan(after) ? 0 : (after - 2 * here + before[local]) / (2 * by[k] * by[k]);
            slope[local] = isnan(after) ? 0 : (after - before[local]) / (2 * by[k]);
            if (fabs(bend[local]) * by[k] * by[k] < 1e-12 * (1 + fabs(here)))
                bend[local] = 0; /* rounding: it goes straight */
        }
    }
    free(values);
    free(before);
    return good;
}
