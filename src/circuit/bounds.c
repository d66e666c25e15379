/* SPDX-License-Identifier: MIT */
/*
 * Worst cases: every corner of the tolerance box, and the inside of the spans of up to two searched
 * parameters, such as a track's ohms and the travel along it, which stand in two legs. All figures that are
 * asked for come from the same solution of each corner.
 */
#include "base/memory.h"
#include "circuit/bounds_internal.h"
#include "circuit/elements.h"
#include <math.h>
#include <stdlib.h>

enum { OUTER_PARAMS = 8, TURNING_MOST = 4 };

static tl_net_status try_corner(search *s, unsigned corner)
{
    reach found;
    for (int i = 0; i < s->param_count; i++) {
        const net_param *param = &s->island->net->params[s->params[i]];
        s->values[s->params[i]] = (corner >> i & 1u) != 0 ? param->high : param->low;
    }
    for (int i = 0; i < s->pushed_count; i++) {
        const net_param *param = &s->island->net->params[s->pushed[i]];
        const bool up = (corner >> s->param_count & 1u) != 0;
        s->values[s->pushed[i]] = up == (s->push[i] > 0) ? param->high : param->low;
    }
    return search_inside(s, 0, &found);
}

static tl_net_status list_param(search *s, int param)
{
    const net_param *span = param != TL_NET_NONE ? &s->island->net->params[param] : NULL;
    if (span == NULL || span->low == span->high)
        return TL_NET_SOLVED;
    for (int i = 0; i < s->listed_count; i++) {
        if (s->listed[i] == param)
            return TL_NET_SOLVED;
    }
    if (s->listed_count == PARAMS_MOST)
        return TL_NET_TOO_WIDE;
    s->listed[s->listed_count++] = param;
    return TL_NET_SOLVED;
}

static tl_net_status list_value(search *s, tl_net_value value)
{
    tl_net_status fault = list_param(s, value.first);
    if (fault == TL_NET_SOLVED)
        fault = list_param(s, value.second);
    return fault == TL_NET_SOLVED && value.extra != 0 ? list_param(s, value.third) : fault;
}

/* Which parameters to vary: those of parts that are there in this state, of their rails, and of the
 * figures' limits. */
static tl_net_status list_params(search *s)
{
    const tl_island *island = s->island;
    const tl_net_state state = {s->values, s->closed};
    tl_net_status fault = TL_NET_SOLVED;
    for (int i = 0; i < island->part_count && fault == TL_NET_SOLVED; i++) {
        const net_part *part = &island->net->parts[island->parts[i].part];
        if (!part->is->at_rest || !part_present(part, island->view, &state))
            continue;
        fault = list_value(s, part->value);
        if (part->is->has_gain && fault == TL_NET_SOLVED)
            fault = list_value(s, part->gain);
        for (int end = 0; end < 2 && fault == TL_NET_SOLVED; end++) {
            const net_node *node = &island->net->nodes[end == 0 ? part->a : part->b];
            if (node->is_rail)
                fault = list_value(s, node->volts);
        }
    }
    for (int f = 0; f < s->count && fault == TL_NET_SOLVED; f++)
        fault = list_value(s, s->figures[f].less);
    return fault;
}

/* --- more parameters than corners can be tried of --- */

/* How much a parameter moves the figures by itself, all else nominal; what a figure's limit follows comes
 * first. */
static double effect_of(search *s, int param)
{
    const net_param *span = &s->island->net->params[param];
    double low[TL_FIGURES_MOST], high[TL_FIGURES_MOST], most = 0;
    for (int f = 0; f < s->count; f++) {
        const tl_net_value less = s->figures[f].less;
        if (less.first == param || less.second == param || (less.extra != 0 && less.third == param))
            return INFINITY;
    }
    s->values[param] = span->low;
    bool solved = search_figures(s, low) == TL_NET_SOLVED;
    s->values[param] = span->high;
    solved = solved && search_figures(s, high) == TL_NET_SOLVED;
    for (int f = 0; f < s->count && solved; f++)
        most = fmax(most, fabs(high[f] - low[f]));
    s->values[param] = span->nominal;
    return solved && !isnan(most) ? most : INFINITY; /* what cannot be ranked comes first */
}

/* How far a parameter moves the figures by itself between its ends and its middle, each as a share of its
 * size. */
static double swing_of(search *s, int param)
{
    const net_param *span = &s->island->net->params[param];
    const double at[3] = {span->low, (span->low + span->high) / 2, span->high};
    double results[3][TL_FIGURES_MOST], most = 0;
    bool solved = true;
    for (int i = 0; i < 3 && solved; i++) {
        s->values[param] = at[i];
        solved = search_figures(s, results[i]) == TL_NET_SOLVED;
    }
    s->values[param] = span->nominal;
    for (int f = 0; f < s->count && solved; f++) {
        const double a = results[0][f], b = results[1][f], c = results[2][f];
        const double size = fabs(a) + fabs(b) + fabs(c);
        most = size > 0 ? fmax(most, (fmax(fmax(a, b), c) - fmin(fmin(a, b), c)) / size) : most;
    }
    return solved ? most : INFINITY;
}

/* Of those to be searched the ones that move the figures most; further ones are tried at their ends alone. */
static void choose_searched(search *s)
{
    double swing[PARAMS_MOST];
    for (int i = 0; i < s->listed_count; i++)
        swing[i] = s->island->net->params[s->listed[i]].searched ? swing_of(s, s->listed[i]) : 0;
    while (s->searched_count < TL_NET_SEARCHED) {
        int best = 0;
        for (int i = 1; i < s->listed_count; i++)
            best = swing[i] > swing[best] ? i : best;
        if (s->listed_count == 0 || !(swing[best] > 1e-9)) /* what hardly moves anything needs no search */
            return;
        s->searched[s->searched_count++] = s->listed[best];
        s->listed[best] = s->listed[--s->listed_count];
        swing[best] = swing[s->listed_count];
    }
}

static bool follows(const search *s, int param)
{
    for (int f = 0; f < s->count; f++) {
        const tl_net_value less = s->figures[f].less;
        if (less.first == param || less.second == param || (less.extra != 0 && less.third == param))
            return true;
    }
    return false;
}

/* Those that only push, where nothing but volts is asked for and no limit follows them. */
static void put_pushing_together(search *s)
{
    int kept = 0;
    for (int f = 0; f < s->count; f++) {
        if ((s->figures[f].kind != TL_FIGURE_VOLTS && s->figures[f].kind != TL_FIGURE_SHARE) ||
            s->figures[f].against != TL_NET_GROUND)
            return;
    }
    for (int i = 0; i < s->listed_count; i++) {
        const int param = s->listed[i], way = follows(s, param) ? 0 : tl_island_push(s->island, param);
        if (way == 0 || s->pushed_count == TL_NET_PUSHED) {
            s->listed[kept++] = param;
            continue;
        }
        s->push[s->pushed_count] = way;
        s->pushed[s->pushed_count++] = param;
    }
    s->listed_count = kept;
}

/*
 * A parameter that moves nothing at two points where nothing is special moves nothing anywhere, since figures
 * are ratios of polynomials: behind a closed button of a chain, say, or on the far side of a rail. Its
 * corners are spared.
 */
static bool is_idle(search *s, int param)
{
    const net_param *span = &s->island->net->params[param];
    for (int point = 0; point < 2; point++) {
        double low[TL_FIGURES_MOST], high[TL_FIGURES_MOST];
        for (int i = 0; i < s->listed_count + s->pushed_count; i++) {
            const int of = i < s->listed_count ? s->listed[i] : s->pushed[i - s->listed_count];
            const net_param *other = &s->island->net->params[of];
            const double share = fmod(0.381966 + 0.618034 * i + 0.27 * point, 1); /* no two alike */
            s->values[of] = other->low + share * (other->high - other->low);
        }
        s->values[param] = span->low;
        bool same = search_figures(s, low) == TL_NET_SOLVED;
        s->values[param] = span->high;
        same = same && search_figures(s, high) == TL_NET_SOLVED;
        for (int f = 0; f < s->count && same; f++)
            same = fabs(high[f] - low[f]) <= 1e-13 * (fabs(low[f]) + fabs(high[f]));
        if (!same)
            return false;
    }
    return true;
}

static void drop_idle(search *s)
{
    enum { FEW = 5 }; /* this many are quicker tried than looked at */
    bool idle[PARAMS_MOST];
    int kept = 0;
    if (s->listed_count <= FEW ||
        s->ever_lit != NULL) /* what moves nothing while a lamp is dark may once it is lit */
        return;
    s->island->work.all_lit = true; /* leaks flow wherever they may */
    for (int i = 0; i < s->listed_count; i++)
        idle[i] = is_idle(s, s->listed[i]);
    s->island->work.all_lit = false;
    for (int i = 0; i < s->listed_count; i++) {
        s->values[s->listed[i]] = s->island->net->params[s->listed[i]].nominal;
        if (!idle[i])
            s->listed[kept++] = s->listed[i];
    }
    for (int i = 0; i < s->pushed_count; i++)
        s->values[s->pushed[i]] = s->island->net->params[s->pushed[i]].nominal;
    s->listed_count = kept;
}

/* The corners go to those that move most; the rest is left. */
static void choose_params(search *s)
{
    double effect[PARAMS_MOST];
    const bool all = s->listed_count + (s->pushed_count > 0) <= TL_NET_CORNER_PARAMS;
    for (int i = 0; i < s->listed_count; i++)
        effect[i] = all ? 0 : effect_of(s, s->listed[i]);
    while (s->param_count < (all ? s->listed_count : OUTER_PARAMS)) {
        int best = TL_NET_NONE;
        for (int i = 0; i < s->listed_count; i++) {
            if (effect[i] >= 0 && (best == TL_NET_NONE || effect[i] > effect[best]))
                best = i;
        }
        if (best == TL_NET_NONE)
            break;
        effect[best] = -1;
        s->params[s->param_count++] = s->listed[best];
    }
    for (int i = 0; i < s->listed_count; i++) {
        if (effect[i] >= 0)
            s->left[s->left_count++] = s->listed[i];
    }
}

/* The span of a value over the corners of its own parameters. */
static void span_of_value(const search *s, tl_net_value value, double *low, double *high)
{
    const int of[3] = {value.first, value.second, value.extra != 0 ? value.third : TL_NET_NONE};
    *low = INFINITY;
    *high = -INFINITY;
    for (unsigned corner = 0; corner < 8; corner++) {
        for (int i = 0; i < 3; i++) {
            if (of[i] != TL_NET_NONE)
                s->values[of[i]] = (corner >> i & 1u) != 0 ? s->island->net->params[of[i]].high
                                                           : s->island->net->params[of[i]].low;
        }
        *low = fmin(*low, tl_net_value_at(value, s->values));
        *high = fmax(*high, tl_net_value_at(value, s->values));
    }
    for (int i = 0; i < 3; i++) {
        if (of[i] != TL_NET_NONE)
            s->values[of[i]] = s->island->net->params[of[i]].nominal;
    }
}

/* What bounds everything in the island: every node lies within low .. high, and an ampere brought in anywhere
 * moves no node by more than `ohms`, the sum of all resistances on whatever way leads to a rail. */
static island_extent measure_extent(const search *s)
{
    const tl_island *island = s->island;
    double low, high, least = INFINITY, most = -INFINITY;
    island_extent extent = {.gain = 1};
    for (int i = 0; i < island->rails; i++) {
        span_of_value(s, island->net->nodes[island->nodes[island->size + i]].volts, &low, &high);
        least = fmin(least, low);
        most = fmax(most, high);
    }
    for (int i = 0; i < island->part_count; i++) {
        const net_part *part = &island->net->parts[island->parts[i].part];
        if (part->is->extend == NULL)
            continue;
        span_of_value(s, part->value, &low, &high);
        const double size = fmax(fabs(low), fabs(high));
        span_of_value(s, part->gain, &low, &high);
        part->is->extend(&extent, size, fmax(fabs(low), fabs(high)));
    }
    extent.low = extent.gain * (fmin(least, 0) - extent.amperes * extent.ohms - extent.offsets);
    extent.high = extent.gain * (fmax(most, 0) + extent.amperes * extent.ohms + extent.offsets);
    extent.ohms *= extent.gain;
    return extent;
}

/*
 * The most that one parameter that was left at its nominal can move any node. A change of a resistance acts
 * like a source of I dR in series with it, and no node follows a source by more than the source itself; |I| R
 * is within the extent. The same holds for a rail or an offset; a current acts through at most all
 * resistances. Infinite where a resistance can be 0, or a limit follows the parameter: the extent itself is
 * then the bound.
 */
static double most_moved_by(const search *s, int param, const island_extent *extent)
{
    const tl_island *island = s->island;
    const net_param *span = &island->net->params[param];
    double sum = 0, low, high;
    for (int i = 0; i < island->rails; i++) {
        const tl_net_value volts = island->net->nodes[island->nodes[island->size + i]].volts;
        if (volts.first != param && volts.second != param && (volts.extra == 0 || volts.third != param))
            continue;
        span_of_value(s, volts, &low, &high);
        sum += high - low;
    }
    for (int i = 0; i < island->part_count; i++) {
        const net_part *part = &island->net->parts[island->parts[i].part];
        if (part->is->has_gain && part->gain.first == param)
            sum += (span->high - span->low) * fmax(fabs(extent->low), fabs(extent->high));
        if (!part->is->at_rest || (part->value.first != param && part->value.second != param &&
                                   (part->value.extra == 0 || part->value.third != param)))
            continue;
        span_of_value(s, part->value, &low, &high);
        if (!part->is->is_ohms)
            sum += part->is->moves(extent, high - low);
        else
            sum += span->low > 0 ? (extent->high - extent->low) *
                                       fmax(span->high - span->nominal, span->nominal - span->low) / span->low
                                 : INFINITY;
    }
    return sum;
}

static tl_net_status widen(search *s)
{
    if (s->left_count == 0)
        return TL_NET_SOLVED;
    const island_extent extent = measure_extent(s);
    double moved = 0;
    for (int i = 0; i < s->left_count; i++)
        moved += follows(s, s->left[i]) ? INFINITY : most_moved_by(s, s->left[i], &extent);
    for (int f = 0; f < s->count; f++) {
        double less_low, less_high;
        tl_bounds *bounds = &s->bounds[f];
        if (s->figures[f].kind != TL_FIGURE_VOLTS)
            return TL_NET_TOO_WIDE;
        const double against = s->figures[f].against == TL_NET_GROUND ? 0 : extent.high - extent.low;
        span_of_value(s, s->figures[f].less, &less_low, &less_high);
        bounds->low = fmax(bounds->low - moved, extent.low - against - less_high);
        bounds->high = fmin(bounds->high + moved, extent.high + against - less_low);
        bounds->outer = true;
    }
    return TL_NET_SOLVED;
}

static void list_param_of_figure(const search *s, tl_bounds *bounds, tl_net_value less, int param)
{
    int at = bounds->params;
    if (!tl_island_has_param(s->island, param) && less.first != param && less.second != param &&
        (less.extra == 0 || less.third != param))
        return;
    for (; at > 0 && bounds->param[at - 1] > param; at--)
        bounds->param[at] = bounds->param[at - 1];
    bounds->param[at] = param;
    bounds->params++;
}

/* A figure speaks of the parameters it depends on, in the order of the net; not of those that only another
 * figure's limit brought in. */
static void list_params_of_figure(search *s, int figure)
{
    tl_bounds *bounds = &s->bounds[figure];
    const tl_net_value less = s->figures[figure].less;
    for (int i = 0; i < s->param_count; i++)
        list_param_of_figure(s, bounds, less, s->params[i]);
    for (int i = 0; i < s->pushed_count; i++)
        list_param_of_figure(s, bounds, less, s->pushed[i]);
    for (int i = 0; i < s->searched_count; i++)
        list_param_of_figure(s, bounds, less, s->searched[i]);
}

static tl_net_status try_corners(search *s)
{
    tl_net_status fault = TL_NET_SOLVED;
    const int ways = s->param_count + (s->pushed_count > 0);
    for (unsigned corner = 0; corner < 1u << ways && fault == TL_NET_SOLVED; corner++)
        fault = try_corner(s, corner);
    return fault;
}

/*
 * Parts that lead one way, and conduct in some corners and not in others: somewhere between those they turn
 * over, and a figure may be extreme there. On such a place the networks with and without the part agree, and
 * each by itself is linear, so its corners hold it: all states of those parts, each over all corners, hold
 * everything.
 */
static tl_net_status try_turning(search *s)
{
    nodal *work = &s->island->work;
    int turning[TURNING_MOST], count = 0;
    bool *dark = s->ever_dark;
    tl_net_status fault = TL_NET_SOLVED;
    for (int i = 0; i < s->island->part_count && dark != NULL; i++) {
        if (!net_part_of(s->island, i)->is->turns || !s->ever_lit[i] || !dark[i])
            continue;
        if (count == TURNING_MOST)
            return TL_NET_TOO_WIDE;
        turning[count++] = i;
    }
    for (unsigned state = 0; count > 0 && state < 1u << count && fault == TL_NET_SOLVED; state++) {
        for (int k = 0; k < count; k++) {
            work->held_mode[turning[k]] = true;
            work->mode[turning[k]] = (state >> k & 1u) != 0 ? MODE_LIT : MODE_DARK;
        }
        fault = try_corners(s);
        if (fault == TL_NET_FLOATING) /* it is connected to them alone: then they conduct */
            fault = TL_NET_SOLVED;
    }
    for (int k = 0; k < count; k++)
        work->held_mode[turning[k]] = false;
    return fault;
}

void tl_island_extent(const tl_island *island, double *low, double *high)
{
    search s = {.island = (tl_island *)island,
                .values = tl_alloc((size_t)island->net->param_count, sizeof(double))};
    for (int i = 0; i < island->net->param_count; i++)
        s.values[i] = island->net->params[i].nominal;
    const island_extent extent = measure_extent(&s);
    *low = extent.low;
    *high = extent.high;
    free(s.values);
}

/* All figures from the same corners. */
static tl_net_status bounds_by_corners(search *s)
{
    const tl_net_state state = {s->values, s->closed};
    double nominal[TL_FIGURES_MOST];
    bool turns = false;
    for (int i = 0; i < s->island->part_count; i++)
        turns = turns || (net_part_of(s->island, i)->is->turns &&
                          part_present(net_part_of(s->island, i), s->island->view, &state));
    if (turns) {
        s->ever_lit = tl_alloc(2 * (size_t)s->island->part_count, sizeof *s->ever_lit);
        s->ever_dark = s->ever_lit + s->island->part_count;
    }
    tl_net_status fault = search_figures(s, nominal);
    if (fault == TL_NET_SOLVED) {
        choose_searched(s);
        put_pushing_together(s);
        drop_idle(s);
        choose_params(s);
    }
    for (int f = 0; f < s->count && fault == TL_NET_SOLVED; f++) {
        s->bounds[f] = (tl_bounds){.low = INFINITY, .nominal = nominal[f], .high = -INFINITY};
        list_params_of_figure(s, f);
    }
    if (fault == TL_NET_SOLVED)
        fault = try_corners(s);
    for (int f = 0; f < s->count && fault == TL_NET_SOLVED; f++) {
        s->bounds[f].attained_low = s->bounds[f].low;
        s->bounds[f].attained_high = s->bounds[f].high;
    }
    if (fault == TL_NET_SOLVED)
        fault = try_turning(s);
    for (int f = 0; f < s->count && fault == TL_NET_SOLVED; f++)
        s->bounds[f].outer =
            s->bounds[f].low < s->bounds[f].attained_low || s->bounds[f].high > s->bounds[f].attained_high;
    free(s->ever_lit);
    return fault == TL_NET_SOLVED ? widen(s) : fault;
}

/* Of these figures alone, with everything nominal. */
static tl_net_status begin_search(search *s, tl_island *island, const bool *closed, const tl_figure *figures,
                                  int count, tl_bounds *bounds)
{
    *s = (search){.island = island,
                  .closed = closed,
                  .figures = figures,
                  .bounds = bounds,
                  .count = count,
                  .values = tl_alloc((size_t)island->net->param_count, sizeof(double))};
    for (int i = 0; i < island->net->param_count; i++)
        s->values[i] = island->net->params[i].nominal;
    tl_island_keep_contacts(island, closed);
    return list_params(s);
}

static void end_search(search *s)
{
    tl_island_let_contacts_go(s->island);
    free(s->values);
}

tl_net_status island_ohms(tl_island *island, const bool *closed, const tl_figure *figure, tl_bounds *bounds)
{
    search s;
    tl_net_status fault = begin_search(&s, island, closed, figure, 1, bounds);
    if (fault == TL_NET_SOLVED)
        fault = ohms_need_no_corners(&s) ? bounds_of_ohms(&s) : TL_NET_TOO_WIDE;
    end_search(&s);
    return fault;
}

static tl_net_status bounds_of_group(tl_island *island, const bool *closed, const tl_figure *figures,
                                     int count, tl_bounds *bounds)
{
    search s;
    tl_net_status fault = begin_search(&s, island, closed, figures, count, bounds);
    if (fault == TL_NET_SOLVED)
        fault = bounds_by_corners(&s);
    end_search(&s);
    return fault;
}

tl_net_status island_bounds(tl_island *island, const bool *closed, const tl_figure *figures, int count,
                            tl_bounds *bounds)
{
    tl_figure corners[TL_FIGURES_MOST];
    tl_bounds found[TL_FIGURES_MOST];
    int of[TL_FIGURES_MOST], listed = 0;
    for (int f = 0; f < count; f++) {
        const bool ohms = figures[f].kind == TL_FIGURE_SOURCE_OHMS;
        const tl_net_status fault =
            ohms ? island_ohms(island, closed, &figures[f], &bounds[f]) : TL_NET_TOO_WIDE;
        if (fault == TL_NET_TOO_WIDE) {
            of[listed] = f;
            corners[listed++] = figures[f];
        } else if (fault != TL_NET_SOLVED) {
            return fault;
        }
    }
    if (listed == 0)
        return TL_NET_SOLVED;
    const tl_net_status fault = bounds_of_group(island, closed, corners, listed, found);
    for (int i = 0; i < listed && fault == TL_NET_SOLVED; i++)
        bounds[of[i]] = found[i];
    return fault;
}
