/* Worst cases: every corner of the tolerance box, and the inside of the span of a searched parameter. */
#include "memory.h"
#include "net_internal.h"
#include <math.h>
#include <stdlib.h>

typedef struct {
    tl_island *island;
    tl_figure figure;
    const bool *closed;
    double *values; /* of every parameter of the net */
    tl_bounds *bounds;
} search;

static bool figure_has_param(const search *s, int param)
{
    return tl_island_has_param(s->island, param) || s->figure.less.first == param ||
           s->figure.less.second == param;
}

static tl_net_fault figure_at(search *s, double *value)
{
    const tl_net_state state = {s->values, s->closed};
    return tl_island_figure(s->island, &state, s->figure, value);
}

static void keep(search *s, double value)
{
    tl_bounds *bounds = s->bounds;
    const bool lower = value<bounds->low, higher = value> bounds->high;
    if (lower)
        bounds->low = value;
    if (higher)
        bounds->high = value;
    for (int i = 0; i < bounds->params; i++) {
        if (lower)
            bounds->low_at[i] = s->values[bounds->param[i]];
        if (higher)
            bounds->high_at[i] = s->values[bounds->param[i]];
    }
}

/* Golden-section search for the largest sign * figure between two values of a parameter. */
static tl_net_fault search_between(search *s, int param, double left, double right, double sign)
{
    const double golden = (sqrt(5) - 1) / 2;
    double value = 0;
    double at[2] = {right - golden * (right - left), left + golden * (right - left)};
    double figure[2] = {0, 0};
    for (int i = 0; i < 2; i++) {
        s->values[param] = at[i];
        const tl_net_fault fault = figure_at(s, &value);
        if (fault != TL_NET_SOLVED)
            return fault;
        figure[i] = sign * value;
        keep(s, value);
    }
    for (int step = 0; step < 60 && right - left > 1e-12 * (fabs(left) + fabs(right)); step++) {
        const int worse = figure[0] < figure[1] ? 0 : 1;
        if (worse == 0)
            left = at[0];
        else
            right = at[1];
        at[worse] = at[1 - worse];
        figure[worse] = figure[1 - worse];
        const int fresh = 1 - worse;
        at[fresh] = worse == 0 ? left + golden * (right - left) : right - golden * (right - left);
        s->values[param] = at[fresh];
        const tl_net_fault fault = figure_at(s, &value);
        if (fault != TL_NET_SOLVED)
            return fault;
        figure[fresh] = sign * value;
        keep(s, value);
    }
    return TL_NET_SOLVED;
}

/* Inside the span of one searched parameter: scan, then close in on both extremes. */
static tl_net_fault search_inside(search *s, int param)
{
    enum { SCAN = 16 };
    const net_param *span = &s->island->net->params[param];
    const double step = (span->high - span->low) / SCAN;
    double low = INFINITY, high = -INFINITY, low_at = 0, high_at = 0;
    for (int i = 0; i <= SCAN; i++) {
        double value = 0;
        s->values[param] = i == SCAN ? span->high : span->low + i * step;
        const tl_net_fault fault = figure_at(s, &value);
        if (fault != TL_NET_SOLVED)
            return fault;
        keep(s, value);
        if (value < low) {
            low = value;
            low_at = s->values[param];
        }
        if (value > high) {
            high = value;
            high_at = s->values[param];
        }
    }
    tl_net_fault fault = TL_NET_SOLVED;
    if (low_at > span->low && low_at < span->high)
        fault = search_between(s, param, low_at - step, low_at + step, -1);
    if (fault == TL_NET_SOLVED && high_at > span->low && high_at < span->high)
        fault = search_between(s, param, high_at - step, high_at + step, 1);
    return fault;
}

static tl_net_fault try_corner(search *s, unsigned corner)
{
    int inside = TL_NET_NONE;
    for (int i = 0; i < s->bounds->params; i++) {
        const net_param *param = &s->island->net->params[s->bounds->param[i]];
        s->values[s->bounds->param[i]] = (corner >> i & 1u) != 0 ? param->high : param->low;
        if (param->searched)
            inside = s->bounds->param[i];
    }
    if (inside != TL_NET_NONE)
        return search_inside(s, inside);
    double value = 0;
    const tl_net_fault fault = figure_at(s, &value);
    if (fault == TL_NET_SOLVED)
        keep(s, value);
    return fault;
}

/* Lists the parameters with a span; a searched one last, so that its two corners need not both be tried. */
static tl_net_fault list_params(search *s)
{
    int searched = TL_NET_NONE;
    for (int i = 0; i < s->island->net->param_count; i++) {
        const net_param *param = &s->island->net->params[i];
        if (param->low == param->high || !figure_has_param(s, i))
            continue;
        if (s->bounds->params == TL_NET_CORNER_PARAMS)
            return TL_NET_TOO_WIDE;
        s->bounds->param[s->bounds->params++] = i;
        if (param->searched)
            searched = s->bounds->params - 1;
    }
    if (searched != TL_NET_NONE) {
        const int last = s->bounds->params - 1, param = s->bounds->param[searched];
        s->bounds->param[searched] = s->bounds->param[last];
        s->bounds->param[last] = param;
    }
    return TL_NET_SOLVED;
}

tl_net_fault tl_island_bounds(tl_island *island, const bool *closed, tl_figure figure, tl_bounds *bounds)
{
    const tl_net *net = island->net;
    tl_bounds found = {.low = INFINITY, .high = -INFINITY};
    search s = {island, figure, closed, tl_alloc((size_t)net->param_count, sizeof(double)), &found};
    for (int i = 0; i < net->param_count; i++)
        s.values[i] = net->params[i].nominal;

    tl_net_fault fault = figure_at(&s, &found.nominal);
    if (fault == TL_NET_SOLVED)
        fault = list_params(&s);
    if (fault == TL_NET_SOLVED) {
        const int last = found.params - 1;
        const bool halved = last >= 0 && net->params[found.param[last]].searched;
        const unsigned corners = 1u << (halved ? last : found.params);
        for (unsigned corner = 0; corner < corners && fault == TL_NET_SOLVED; corner++)
            fault = try_corner(&s, corner);
    }
    free(s.values);
    if (fault == TL_NET_SOLVED)
        *bounds = found;
    return fault;
}
