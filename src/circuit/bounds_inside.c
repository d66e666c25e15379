/* SPDX-License-Identifier: MIT */
/*
 * Figures inside the spans of up to two searched parameters, such as a track's ohms and the travel along it,
 * which stand in two legs: extreme between their ends where they turn.
 */
#include "circuit/bounds_internal.h"
#include "circuit/elements.h"
#include <math.h>

enum { SCAN = 8, REFINEMENTS = 20 };

tl_net_status search_figures(search *s, double *results)
{
    const tl_net_state state = {s->values, s->closed};
    const tl_net_status fault = tl_island_figures(s->island, &state, s->figures, s->count, results);
    for (int i = 0; i < s->island->part_count && s->ever_lit != NULL && fault == TL_NET_SOLVED; i++) {
        const bool lit = s->island->work.mode[i] != MODE_DARK;
        s->ever_lit[i] = s->ever_lit[i] || lit;
        s->ever_dark[i] = s->ever_dark[i] || !lit;
    }
    return fault;
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

static tl_net_status keep_all(search *s, reach *found)
{
    const tl_net_status fault = search_figures(s, found->low);
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
        if (sign * now > sign * y[1]) { /* the new point is the best: the old best becomes the other end */
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
    const int scan = s->concave ? 2 : SCAN;
    int best = 0;
    for (int i = 0; i <= scan; i++) {
        reach found;
        x[i] = span->low + i * (span->high - span->low) / scan;
        const tl_net_status fault = look_at(s, depth, x[i], &found);
        if (fault != TL_NET_SOLVED)
            return fault;
        y[i] = end_of(&found, figure, sign);
        best = i < scan && sign * y[i] > sign * y[best] ? i : best;
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
tl_net_status search_inside(search *s, int depth, reach *found)
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
