/* SPDX-License-Identifier: MIT */
/*
 * The one door for figures: whatever a rule, a proposal or a sizing wants to know of a circuit is asked here,
 * of the guaranteed view, in a state of one line.
 */
#include "analysis/ask.h"
#include <math.h>

tl_ask tl_ask_of(tl_ask_kind kind, int line, int state, int of)
{
    return (tl_ask){.kind = kind,
                    .line = line,
                    .state = state,
                    .of = of,
                    .less = tl_net_fixed(0),
                    .against = TL_NET_GROUND,
                    .closes = {TL_NET_NONE, TL_NET_NONE}};
}

tl_ask tl_ask_against(int line, int state, int node, tl_net_value level)
{
    tl_ask ask = tl_ask_of(TL_ASK_VOLTS, line, state, node);
    ask.less = level;
    return ask;
}

static tl_figure_kind figure_kind(tl_ask_kind kind)
{
    switch (kind) {
    case TL_ASK_SHARE:
        return TL_FIGURE_SHARE;
    case TL_ASK_AMPERES:
        return TL_FIGURE_PART_AMPERES;
    case TL_ASK_WATTS:
        return TL_FIGURE_PART_WATTS;
    case TL_ASK_SOURCE_OHMS:
        return TL_FIGURE_SOURCE_OHMS;
    case TL_ASK_RAIL_AMPERES:
        return TL_FIGURE_RAIL_AMPERES;
    default:
        return TL_FIGURE_VOLTS;
    }
}

static bool is_at_rest(tl_ask_kind kind)
{
    return kind >= TL_ASK_VOLTS && kind <= TL_ASK_RAIL_AMPERES;
}

/* The contacts of the state, and those that are also closed; whether a route is among them. */
static bool *state_of(tl_circuit *c, const tl_ask *ask, bool *route)
{
    bool *closed = tl_circuit_state(c, ask->line, ask->state);
    *route = false;
    for (int i = 0; i < tl_net_contact_count(c->net) && ask->also != NULL; i++)
        closed[i] = closed[i] || ask->also[i];
    for (int i = 0; i < 2; i++) {
        if (ask->closes[i] == TL_NET_NONE)
            continue;
        closed[ask->closes[i]] = true;
        *route = *route || tl_net_is_route(c->net, ask->closes[i]);
    }
    return closed;
}

/* A node to start from that is no rail, where what is asked for lies beyond the line's own island, as before
 * a shifter; TL_NET_NONE where it is in it. */
static int start_elsewhere(const tl_circuit *c, const tl_ask *ask)
{
    const tl_signal_nodes *nodes = &c->signals[ask->line];
    int a, b;
    switch (ask->kind) {
    case TL_ASK_AMPERES:
    case TL_ASK_WATTS:
        tl_net_part_ends(c->net, ask->of, &a, &b);
        return tl_island_has_part(nodes->island, ask->of) ? TL_NET_NONE : tl_net_is_rail(c->net, a) ? b : a;
    case TL_ASK_RAIL_AMPERES:
        return tl_island_touches(nodes->island, ask->of) || tl_net_is_rail(c->net, nodes->source)
                   ? TL_NET_NONE
                   : nodes->source;
    default:
        return tl_island_index(nodes->island, ask->of) != TL_NET_NONE || tl_net_is_rail(c->net, ask->of)
                   ? TL_NET_NONE
                   : ask->of;
    }
}

/* The line's own island, unless a route leads out of it, or what is asked for is not in it. */
static tl_island *island_of(tl_circuit *c, const tl_ask *ask, const bool *closed, bool route)
{
    const int elsewhere = start_elsewhere(c, ask);
    return elsewhere != TL_NET_NONE ? tl_island_new_along(c->net, elsewhere, closed)
           : route                  ? tl_island_new_along(c->net, c->signals[ask->line].pin, closed)
                                    : c->signals[ask->line].island;
}

tl_net_status tl_circuit_ask_all(tl_circuit *circuit, const tl_ask *asks, int count, tl_bounds *bounds)
{
    tl_figure figures[TL_FIGURES_MOST];
    bool route;
    for (int i = 0; i < count; i++) {
        if (asks[i].of == TL_NET_NONE || !is_at_rest(asks[i].kind))
            return TL_NET_FLOATING;
        figures[i] = (tl_figure){figure_kind(asks[i].kind), asks[i].of, asks[i].less, asks[i].against};
    }
    const bool *closed = state_of(circuit, asks, &route);
    tl_island *island = island_of(circuit, asks, closed, route);
    const tl_net_status fault = tl_island_bounds_all(island, closed, figures, count, bounds);
    if (island != circuit->signals[asks->line].island)
        tl_island_free(island);
    return fault;
}

/* A time, or a share, of which one end is known: the least, the most. */
static tl_net_status as_bounds(double low, double high, tl_bounds *bounds)
{
    *bounds =
        (tl_bounds){.low = low, .nominal = NAN, .high = high, .attained_low = low, .attained_high = high};
    return isnan(high) ? TL_NET_SINGULAR : TL_NET_SOLVED;
}

tl_net_status tl_circuit_ask(tl_circuit *circuit, const tl_ask *ask, tl_bounds *bounds)
{
    double least = 0, most = NAN;
    switch (ask->kind) {
    case TL_ASK_NOTHING:
        return TL_NET_FLOATING;
    case TL_ASK_EDGE:
        return as_bounds(0, tl_circuit_edge(circuit, ask->line, ask->state), bounds);
    case TL_ASK_SETTLE:
        return as_bounds(0, tl_circuit_settles_in(circuit, ask->line, ask->at), bounds);
    case TL_ASK_KEPT:
        tl_circuit_kept(circuit, ask->line, ask->at, &least, &most);
        return as_bounds(least, most, bounds);
    default:
        return tl_circuit_ask_all(circuit, ask, 1, bounds);
    }
}

double tl_circuit_most(tl_circuit *circuit, const tl_ask *ask)
{
    tl_bounds bounds;
    return tl_circuit_ask(circuit, ask, &bounds) == TL_NET_SOLVED ? fmax(fabs(bounds.low), fabs(bounds.high))
                                                                  : (double)NAN;
}
