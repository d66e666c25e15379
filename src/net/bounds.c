/*
 * Worst cases: every corner of the tolerance box, and the inside of the span of a searched parameter. All
 * figures that are asked for come from the same solution of each corner.
 */
#include "memory.h"
#include "net_internal.h"
#include <math.h>
#include <stdlib.h>

enum { SCAN = 16, REFINEMENTS = 20 };

typedef struct {
    tl_island *island;
    const tl_figure *figures;
    tl_bounds *bounds; /* of each figure */
    int count;
    const bool *closed;
    double *values; /* of every parameter of the net */
    int params[TL_NET_CORNER_PARAMS], param_count;
    int searched; /* a parameter to search inside, or TL_NET_NONE; the last of params then */
} search;

static tl_net_fault figures_at(search *s, double *results)
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

static tl_net_fault keep_all(search *s, double *results)
{
    const tl_net_fault fault = figures_at(s, results);
    for (int f = 0; f < s->count && fault == TL_NET_SOLVED; f++)
        keep(s, f, results[f]);
    return fault;
}

/*
 * Closes in on an extreme that a scan has put between x[0] and x[2], by parabolas through the three best
 * points: exact at once for a wiper's source resistance, which is one. sign: 1 for a maximum, -1 for a
 * minimum.
 */
static tl_net_fault refine(search *s, int figure, double x[3], double y[3], double sign)
{
    double results[TL_FIGURES_MOST];
    for (int step = 0; step < REFINEMENTS; step++) {
        const double left = (x[1] - x[0]) * (y[1] - y[2]), right = (x[1] - x[2]) * (y[1] - y[0]);
        const double curve = left - right;
        if (curve == 0)
            break;
        const double at = x[1] - 0.5 * ((x[1] - x[0]) * left - (x[1] - x[2]) * right) / curve;
        if (!(at > x[0] && at < x[2]) || fabs(at - x[1]) < 1e-12 * (fabs(x[0]) + fabs(x[2])))
            break;
        s->values[s->searched] = at;
        const tl_net_fault fault = figures_at(s, results);
        if (fault != TL_NET_SOLVED)
            return fault;
        keep(s, figure, results[figure]);
        const double now = results[figure];
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

/* Inside the span of the searched parameter: scan, then close in on what lies inside. */
static tl_net_fault search_inside(search *s)
{
    const net_param *span = &s->island->net->params[s->searched];
    double x[SCAN + 1], y[SCAN + 1][TL_FIGURES_MOST];
    for (int i = 0; i <= SCAN; i++) {
        x[i] = i == SCAN ? span->high : span->low + i * (span->high - span->low) / SCAN;
        s->values[s->searched] = x[i];
        const tl_net_fault fault = keep_all(s, y[i]);
        if (fault != TL_NET_SOLVED)
            return fault;
    }
    for (int f = 0; f < s->count; f++) {
        for (int sign = -1; sign <= 1; sign += 2) {
            int best = 0;
            for (int i = 1; i <= SCAN; i++)
                best = sign * y[i][f] > sign * y[best][f] ? i : best;
            if (best == 0 || best == SCAN)
                continue;
            double near_x[3] = {x[best - 1], x[best], x[best + 1]},
                   near_y[3] = {y[best - 1][f], y[best][f], y[best + 1][f]};
            const tl_net_fault fault = refine(s, f, near_x, near_y, sign);
            if (fault != TL_NET_SOLVED)
                return fault;
        }
    }
    return TL_NET_SOLVED;
}

static tl_net_fault try_corner(search *s, unsigned corner)
{
    double results[TL_FIGURES_MOST];
    for (int i = 0; i < s->param_count; i++) {
        const net_param *param = &s->island->net->params[s->params[i]];
        s->values[s->params[i]] = (corner >> i & 1u) != 0 ? param->high : param->low;
    }
    return s->searched != TL_NET_NONE ? search_inside(s) : keep_all(s, results);
}

static tl_net_fault list_param(search *s, int param)
{
    const net_param *span = param != TL_NET_NONE ? &s->island->net->params[param] : NULL;
    if (span == NULL || span->low == span->high || param == s->searched)
        return TL_NET_SOLVED;
    for (int i = 0; i < s->param_count; i++) {
        if (s->params[i] == param)
            return TL_NET_SOLVED;
    }
    if (span->searched && s->searched == TL_NET_NONE) {
        s->searched = param;
        return TL_NET_SOLVED;
    }
    if (s->param_count == TL_NET_CORNER_PARAMS)
        return TL_NET_TOO_WIDE;
    s->params[s->param_count++] = param;
    return TL_NET_SOLVED;
}

static tl_net_fault list_value(search *s, tl_net_value value)
{
    const tl_net_fault fault = list_param(s, value.first);
    return fault == TL_NET_SOLVED ? list_param(s, value.second) : fault;
}

/* Which parameters to vary: those of parts that are there in this state, of rails, and of the figures'
 * limits. */
static tl_net_fault list_params(search *s)
{
    const tl_island *island = s->island;
    const tl_net_state state = {s->values, s->closed};
    tl_net_fault fault = TL_NET_SOLVED;
    for (int i = 0; i < island->part_count && fault == TL_NET_SOLVED; i++) {
        const net_part *part = &island->net->parts[island->parts[i].part];
        if (part->kind != PART_CAPACITOR && part_present(part, &state))
            fault = list_value(s, part->value);
    }
    for (int i = 0; i < island->rails && fault == TL_NET_SOLVED; i++)
        fault = list_value(s, island->net->nodes[island->nodes[island->size + i]].volts);
    for (int f = 0; f < s->count && fault == TL_NET_SOLVED; f++)
        fault = list_value(s, s->figures[f].less);
    return fault;
}

/* A figure speaks of the parameters it depends on, not of those that only another figure's limit brought in.
 */
static void list_params_of_figure(search *s, int figure)
{
    tl_bounds *bounds = &s->bounds[figure];
    const tl_net_value less = s->figures[figure].less;
    for (int i = 0; i <= s->param_count; i++) {
        const int param = i < s->param_count ? s->params[i] : s->searched;
        if (param != TL_NET_NONE &&
            (tl_island_has_param(s->island, param) || less.first == param || less.second == param))
            bounds->param[bounds->params++] = param;
    }
}

tl_net_fault tl_island_bounds_all(tl_island *island, const bool *closed, const tl_figure *figures, int count,
                                  tl_bounds *bounds)
{
    const tl_net *net = island->net;
    double nominal[TL_FIGURES_MOST];
    search s = {island, figures, bounds,
                count,  closed,  tl_alloc((size_t)net->param_count, sizeof(double)),
                {0},    0,       TL_NET_NONE};
    for (int i = 0; i < net->param_count; i++)
        s.values[i] = net->params[i].nominal;
    tl_net_fault fault = list_params(&s);
    if (fault == TL_NET_SOLVED)
        fault = figures_at(&s, nominal);
    for (int f = 0; f < count && fault == TL_NET_SOLVED; f++) {
        bounds[f] = (tl_bounds){.low = INFINITY, .nominal = nominal[f], .high = -INFINITY};
        list_params_of_figure(&s, f);
    }
    for (unsigned corner = 0; corner < 1u << s.param_count && fault == TL_NET_SOLVED; corner++)
        fault = try_corner(&s, corner);
    free(s.values);
    return fault;
}

tl_net_fault tl_island_bounds(tl_island *island, const bool *closed, tl_figure figure, tl_bounds *bounds)
{
    tl_bounds found;
    const tl_net_fault fault = tl_island_bounds_all(island, closed, &figure, 1, &found);
    if (fault == TL_NET_SOLVED)
        *bounds = found;
    return fault;
}
