/*
 * Worst cases: every corner of the tolerance box, and the inside of the spans of up to two searched
 * parameters, such as a track's ohms and the travel along it, which stand in two legs. All figures that are
 * asked for come from the same solution of each corner.
 */
#include "base/memory.h"
#include "circuit/elements.h"
#include <math.h>
#include <stdlib.h>

enum { SCAN = 8, REFINEMENTS = 20, PARAMS_MOST = 256, OUTER_PARAMS = 10 };

typedef struct {
    tl_island *island;
    const tl_figure *figures;
    tl_bounds *bounds; /* of each figure */
    int count;
    const bool *closed;
    double *values; /* of every parameter of the net */
    int params[TL_NET_CORNER_PARAMS], param_count;
    int searched[TL_NET_SEARCHED]; /* parameters to search inside; the last of a bound's params */
    int searched_count;
    int listed[PARAMS_MOST], listed_count; /* all that vary, before the corners' are chosen */
    int left[PARAMS_MOST], left_count;     /* those that are not tried but widen the bound */
} search;

static tl_net_status figures_at(search *s, double *results)
{
    const tl_net_state state = {s->values, s->closed};
    return tl_island_figures(s->island, &state, s->figures, s->count, results);
}

static void keep(search *s, int figure, double value)
{
    tl_bounds *bounds = &s->bounds[figure];
    const bool lower = value<bounds->low, higher = value> bounds->high;
    if (lower)
        bounds->low = value;
    if (higher)
        bounds->high = value;
    for (int i = 0; i < bounds->params && (lower || higher); i++) {
        if (lower)
            bounds->low_at[i] = s->values[bounds->param[i]];
        if (higher)
            bounds->high_at[i] = s->values[bounds->param[i]];
    }
}

/* The least and the most of each figure, over everything searched inside what is held. */
typedef struct {
    double low[TL_FIGURES_MOST], high[TL_FIGURES_MOST];
} reach;

static tl_net_status search_inside(search *s, int depth, reach *found);

static tl_net_status keep_all(search *s, reach *found)
{
    const tl_net_status fault = figures_at(s, found->low);
    for (int f = 0; f < s->count && fault == TL_NET_SOLVED; f++) {
        found->high[f] = found->low[f];
        keep(s, f, found->low[f]);
    }
    return fault;
}

static double end_of(const reach *found, int figure, double sign)
{
    return sign > 0 ? found->high[figure] : found->low[figure];
}

/*
 * Closes in on an extreme that a scan has put between x[0] and x[2], by parabolas through the three best
 * points: exact at once for a wiper's source resistance, which is one. sign: 1 for a maximum, -1 for a
 * minimum.
 */
static tl_net_status refine(search *s, int depth, int figure, double x[3], double y[3], double sign)
{
    for (int step = 0; step < REFINEMENTS; step++) {
        const double left = (x[1] - x[0]) * (y[1] - y[2]), right = (x[1] - x[2]) * (y[1] - y[0]);
        const double curve = left - right;
        if (curve == 0)
            break;
        const double at = x[1] - 0.5 * ((x[1] - x[0]) * left - (x[1] - x[2]) * right) / curve;
        if (!(at > x[0] && at < x[2]) || fabs(at - x[1]) < 1e-12 * (fabs(x[0]) + fabs(x[2])))
            break;
        reach found;
        s->values[s->searched[depth]] = at;
        const tl_net_status fault = search_inside(s, depth + 1, &found);
        if (fault != TL_NET_SOLVED)
            return fault;
        const double now = end_of(&found, figure, sign);
        const int side = at < x[1] ? 0 : 2;
        if (sign * now > sign * y[1]) { /* the new point is the best: the old best becomes the far end */
            x[2 - side] = x[1];
            y[2 - side] = y[1];
            x[1] = at;
            y[1] = now;
        } else {
            x[side] = at;
            y[side] = now;
        }
    }
    return TL_NET_SOLVED;
}

/* Whether a figure rises at one end of the span and falls at the other: only then it is extreme inside, since
 * it has one extreme there at most. Two points at each end tell. */
static bool turns(const reach ends[4], int figure, double sign)
{
    const double first = end_of(&ends[1], figure, sign) - end_of(&ends[0], figure, sign),
                 last = end_of(&ends[3], figure, sign) - end_of(&ends[2], figure, sign);
    const double noise =
        1e-13 * (fabs(end_of(&ends[0], figure, sign)) + fabs(end_of(&ends[3], figure, sign)));
    return sign > 0 ? first > noise && last < -noise : first < -noise && last > noise;
}

static tl_net_status look_at(search *s, int depth, double at, reach *found)
{
    s->values[s->searched[depth]] = at;
    return search_inside(s, depth + 1, found);
}

/* One figure's extreme between the ends: scanned, then closed in on. */
static tl_net_status close_in(search *s, int depth, int figure, double sign, double *extreme)
{
    const net_param *span = &s->island->net->params[s->searched[depth]];
    double x[SCAN + 1], y[SCAN + 1];
    int best = 1;
    for (int i = 0; i <= SCAN; i++) {
        reach found;
        x[i] = span->low + i * (span->high - span->low) / SCAN;
        const tl_net_status fault = look_at(s, depth, x[i], &found);
        if (fault != TL_NET_SOLVED)
            return fault;
        y[i] = end_of(&found, figure, sign);
        best = i < SCAN && sign * y[i] > sign * y[best] ? i : best;
    }
    best = best > 0 ? best : 1;
    double near_x[3] = {x[best - 1], x[best], x[best + 1]}, near_y[3] = {y[best - 1], y[best], y[best + 1]};
    if (sign * near_y[1] < sign * near_y[0] || sign * near_y[1] < sign * near_y[2]) {
        /* the extreme lies beyond, close to an end of the span: halved towards it until a middle is the best
         */
        const bool high = sign * near_y[2] > sign * near_y[0];
        for (int i = 0; i < REFINEMENTS && sign * near_y[1] < sign * near_y[high ? 2 : 0]; i++) {
            reach found;
            near_x[high ? 0 : 2] = near_x[1];
            near_y[high ? 0 : 2] = near_y[1];
            near_x[1] = (near_x[0] + near_x[2]) / 2;
            const tl_net_status fault = look_at(s, depth, near_x[1], &found);
            if (fault != TL_NET_SOLVED)
                return fault;
            near_y[1] = end_of(&found, figure, sign);
        }
    }
    const tl_net_status fault = refine(s, depth, figure, near_x, near_y, sign);
    *extreme = near_y[1];
    return fault;
}

/* Everything from `depth` on: the ends of the span, and what lies inside where a figure turns. */
static tl_net_status search_inside(search *s, int depth, reach *found)
{
    static const double close = 1e-4; /* of the span */
    reach ends[4];
    if (depth == s->searched_count)
        return keep_all(s, found);
    const net_param *span = &s->island->net->params[s->searched[depth]];
    const double by = close * (span->high - span->low);
    const double at[4] = {span->low, span->low + by, span->high - by, span->high};
    tl_net_status fault = TL_NET_SOLVED;
    for (int i = 0; i < 4 && fault == TL_NET_SOLVED; i++)
        fault = look_at(s, depth, at[i], &ends[i]);
    for (int f = 0; f < s->count && fault == TL_NET_SOLVED; f++) {
        found->low[f] = fmin(ends[0].low[f], ends[3].low[f]);
        found->high[f] = fmax(ends[0].high[f], ends[3].high[f]);
        if (turns(ends, f, -1))
            fault = close_in(s, depth, f, -1, &found->low[f]);
        if (fault == TL_NET_SOLVED && turns(ends, f, 1))
            fault = close_in(s, depth, f, 1, &found->high[f]);
    }
    return fault;
}

static tl_net_status try_corner(search *s, unsigned corner)
{
    reach found;
    for (int i = 0; i < s->param_count; i++) {
        const net_param *param = &s->island->net->params[s->params[i]];
        s->values[s->params[i]] = (corner >> i & 1u) != 0 ? param->high : param->low;
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

/* Which parameters to vary: those of parts that are there in this state, of rails, and of the figures'
 * limits. */
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
    }
    for (int i = 0; i < island->rails && fault == TL_NET_SOLVED; i++)
        fault = list_value(s, island->net->nodes[island->nodes[island->size + i]].volts);
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
    bool solved = figures_at(s, low) == TL_NET_SOLVED;
    s->values[param] = span->high;
    solved = solved && figures_at(s, high) == TL_NET_SOLVED;
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
        solved = figures_at(s, results[i]) == TL_NET_SOLVED;
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
        for (int i = 0; i < s->listed_count; i++) {
            const net_param *other = &s->island->net->params[s->listed[i]];
            const double share = fmod(0.381966 + 0.618034 * i + 0.27 * point, 1); /* no two alike */
            s->values[s->listed[i]] = other->low + share * (other->high - other->low);
        }
        s->values[param] = span->low;
        bool same = figures_at(s, low) == TL_NET_SOLVED;
        s->values[param] = span->high;
        same = same && figures_at(s, high) == TL_NET_SOLVED;
        for (int f = 0; f < s->count && same; f++)
            same = fabs(high[f] - low[f]) <= 1e-13 * (fabs(low[f]) + fabs(high[f]));
        if (!same)
            return false;
    }
    return true;
}

static void drop_idle(search *s)
{
    enum { FEW = 6 }; /* so many are quicker tried than looked at */
    bool idle[PARAMS_MOST];
    int kept = 0;
    if (s->listed_count <= FEW)
        return;
    for (int i = 0; i < s->listed_count; i++)
        idle[i] = is_idle(s, s->listed[i]);
    for (int i = 0; i < s->listed_count; i++) {
        s->values[s->listed[i]] = s->island->net->params[s->listed[i]].nominal;
        if (!idle[i])
            s->listed[kept++] = s->listed[i];
    }
    s->listed_count = kept;
}

/* The corners go to those that move most; the rest is left. */
static void choose_params(search *s)
{
    double effect[PARAMS_MOST];
    const bool all = s->listed_count <= TL_NET_CORNER_PARAMS;
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

static bool follows(const search *s, int param)
{
    for (int f = 0; f < s->count; f++) {
        const tl_net_value less = s->figures[f].less;
        if (less.first == param || less.second == param || (less.extra != 0 && less.third == param))
            return true;
    }
    return false;
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

/* A figure speaks of the parameters it depends on, not of those that only another figure's limit brought in.
 */
static void list_params_of_figure(search *s, int figure)
{
    tl_bounds *bounds = &s->bounds[figure];
    const tl_net_value less = s->figures[figure].less;
    for (int i = 0; i < s->param_count + s->searched_count; i++) {
        const int param = i < s->param_count ? s->params[i] : s->searched[i - s->param_count];
        if ((tl_island_has_param(s->island, param) || less.first == param || less.second == param ||
             (less.extra != 0 && less.third == param)))
            bounds->param[bounds->params++] = param;
    }
}

tl_net_status island_bounds(tl_island *island, const bool *closed, const tl_figure *figures, int count,
                            tl_bounds *bounds)
{
    const tl_net *net = island->net;
    double nominal[TL_FIGURES_MOST];
    search s = {.island = island,
                .figures = figures,
                .bounds = bounds,
                .count = count,
                .closed = closed,
                .values = tl_alloc((size_t)net->param_count, sizeof(double))};
    for (int i = 0; i < net->param_count; i++)
        s.values[i] = net->params[i].nominal;
    tl_net_status fault = list_params(&s);
    if (fault == TL_NET_SOLVED)
        fault = figures_at(&s, nominal);
    if (fault == TL_NET_SOLVED) {
        choose_searched(&s);
        drop_idle(&s);
        choose_params(&s);
    }
    for (int f = 0; f < count && fault == TL_NET_SOLVED; f++) {
        bounds[f] = (tl_bounds){.low = INFINITY, .nominal = nominal[f], .high = -INFINITY};
        list_params_of_figure(&s, f);
    }
    for (unsigned corner = 0; corner < 1u << s.param_count && fault == TL_NET_SOLVED; corner++)
        fault = try_corner(&s, corner);
    for (int f = 0; f < count && fault == TL_NET_SOLVED; f++) {
        bounds[f].attained_low = bounds[f].low;
        bounds[f].attained_high = bounds[f].high;
    }
    if (fault == TL_NET_SOLVED)
        fault = widen(&s);
    free(s.values);
    return fault;
}
