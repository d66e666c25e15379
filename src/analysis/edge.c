/* SPDX-License-Identifier: MIT */
/*
 * How long an edge takes, guaranteed: t = R C ln((E - S) / (E - T)) from the level S of the other state to
 * the threshold T on the way to E. It grows with T - S and falls with E - T, so the worst of both, each at
 * its own corner, is never too short:
 *
 *     t <= R C ln(1 + (T - S) / (E - T)).
 *
 * All capacitance behind the last shifter stands at the pin, behind all the resistance that the pin sees: the
 * line itself is never slower.
 */
#include "analysis/ask.h"
#include "base/memory.h"
#include "tinyladder/design/circuit.h"
#include <math.h>
#include <stdlib.h>

double tl_circuit_value_at(tl_circuit *circuit, int param, const tl_bounds *bounds, const double *values)
{
    for (int i = 0; i < bounds->params; i++) {
        if (bounds->param[i] == param)
            return values[i];
    }
    return tl_net_param_nominal(circuit->net, param);
}

double tl_circuit_level_at(tl_circuit *circuit, int signal, tl_level level, const tl_bounds *bounds,
                           const double *values)
{
    const int supply = circuit->plan->pins[circuit->plan->signals[signal].pin].limits.supply;
    return tl_level_volts(level, tl_circuit_value_at(circuit, circuit->supply_param[supply], bounds, values));
}

double tl_circuit_line_farads(tl_circuit *circuit, int line, int side)
{
    double farads = side == TL_ALL_SIDES || side == tl_circuit_last_side(circuit, line)
                        ? circuit->plan->pins[circuit->plan->signals[line].pin].limits.farads
                        : 0;
    for (int i = circuit->parts.first[line]; i < circuit->parts.first[line + 1]; i++) {
        const tl_plan_part *part = &circuit->parts.part[i];
        if (tl_role_of(part->role)->dimension == TL_DIM_FARAD && (side == TL_ALL_SIDES || part->side == side))
            farads += part->value->value.high;
    }
    return farads;
}

double tl_circuit_pin_farads(tl_circuit *circuit, int line)
{
    double farads = circuit->plan->pins[circuit->plan->signals[line].pin].limits.farads;
    const int side = tl_circuit_last_side(circuit, line);
    for (int i = circuit->parts.first[line]; i < circuit->parts.first[line + 1]; i++) {
        const tl_plan_part *part = &circuit->parts.part[i];
        if (tl_role_of(part->role)->dimension == TL_DIM_FARAD && part->side == side)
            farads += part->value->value.low;
    }
    return farads;
}

/* Of a node that is released: ohms at most; all sources at rest. */
static double ohms_seen(tl_circuit *circuit, int line, int state, int node)
{
    const tl_figure seen = {.kind = TL_FIGURE_SOURCE_OHMS, .of = node, .less = tl_net_fixed(0)};
    tl_bounds ohms;
    tl_island *own = circuit->signals[line].island;
    const bool *closed = tl_circuit_state(circuit, line, state);
    const bool apart = tl_island_index(own, node) == TL_NET_NONE;
    tl_island *island = apart ? tl_island_new_along(circuit->net, node, closed) : own;
    const bool good = tl_island_bounds(island, closed, seen, &ohms) == TL_NET_SOLVED;
    if (apart)
        tl_island_free(island);
    return good ? ohms.high : INFINITY;
}

double tl_circuit_rise(tl_circuit *circuit, int line, int side, double shares, double *ohms)
{
    const tl_signal_nodes *nodes = &circuit->signals[line];
    const bool first = side == 0, last = side == tl_circuit_last_side(circuit, line);
    *ohms = fmax(first ? ohms_seen(circuit, line, 0, nodes->source) : 0,
                 last ? ohms_seen(circuit, line, 0, nodes->pin) : 0);
    return shares * *ohms * tl_circuit_line_farads(circuit, line, TL_ALL_SIDES);
}

double tl_circuit_time_constant(tl_circuit *circuit, int line, int state)
{
    return ohms_seen(circuit, line, state, circuit->signals[line].pin) *
           tl_circuit_line_farads(circuit, line, tl_circuit_last_side(circuit, line));
}

tl_bus_sunk tl_circuit_bus_sink(tl_circuit *circuit, const tl_bus *bus)
{
    tl_bus_pull *pulls = NULL;
    int count = 0;
    tl_quantity rail = {0};           /* the highest */
    const int line = bus->first_line; /* both lines are alike */
    for (const tl_plan_part *pull = NULL;
         (pull = tl_parts_next(&circuit->parts, line, TL_PART_PULL, pull)) != NULL;) {
        if (!pull->up)
            continue;
        const tl_quantity *own = &circuit->plan->supplies[pull->rail].volts;
        const double ohms = pull->own
                                ? circuit->plan->pins[circuit->plan->signals[line].pin].limits.pull_up.low
                                : pull->value->value.low;
        rail = count == 0 || own->high > rail.high ? *own : rail;
        pulls = tl_grow(pulls, (size_t)count, sizeof *pulls);
        pulls[count++] = (tl_bus_pull){own->high, ohms};
    }
    const tl_bus_sunk sunk =
        tl_bus_sinks(&(tl_bus_held){bus->mode, bus->low, bus->drives, rail, pulls, count});
    free(pulls);
    return sunk;
}

/* Volts of the pin in a state. */
static bool volts_in(tl_circuit *circuit, int signal, int state, tl_bounds *volts)
{
    const tl_figure figure = {.kind = TL_FIGURE_VOLTS,
                              .of = circuit->signals[signal].pin,
                              .less = tl_net_fixed(0),
                              .against = TL_NET_GROUND};
    return tl_island_bounds(circuit->signals[signal].island, tl_circuit_state(circuit, signal, state), figure,
                            volts) == TL_NET_SOLVED;
}

/* Of an edge with the pin's supply at one voltage, whose thresholds follow it: ln of all that there is to go
 * by the rest beyond the threshold. */
static double edge_constants(tl_circuit *circuit, int signal, int state, double rail)
{
    const tl_pin_limits *limits = &circuit->plan->pins[circuit->plan->signals[signal].pin].limits;
    const bool rises = tl_signal_closes_low(&circuit->plan->signals[signal]) == (state == 0);
    tl_bounds to, from;
    if (!volts_in(circuit, signal, state, &to) || !volts_in(circuit, signal, 1 - state, &from))
        return INFINITY;
    const double vih = tl_level_volts(limits->vih, rail), vil = tl_level_volts(limits->vil, rail);
    const double left = rises ? to.low - vih : vil - to.high, way = rises ? vih - from.low : from.high - vil;
    return way <= 0 ? 0 : left > 0 ? log(1 + way / left) : INFINITY;
}

/* The same, and no less, from the worst cases that are there already: the thresholds of one end of the supply
 * against the volts of the other. */
static double edge_constants_at_most(tl_circuit *circuit, int signal, int state)
{
    const tl_signal *s = &circuit->plan->signals[signal];
    const tl_pin_limits *limits = &circuit->plan->pins[s->pin].limits;
    const tl_quantity *rail = &circuit->plan->supplies[limits->supply].volts;
    const bool rises = tl_signal_closes_low(s) == (state == 0);
    const tl_worst_case *to = tl_circuit_worst_case(circuit, signal, state),
                        *from = tl_circuit_worst_case(circuit, signal, 1 - state);
    if (to->fault != TL_NET_SOLVED || from->fault != TL_NET_SOLVED)
        return INFINITY;
    const double left = rises ? to->above_vih.low : -to->above_vil.high,
                 way = rises ? tl_level_volts(limits->vih, rail->high) - from->volts.low
                             : from->volts.high - tl_level_volts(limits->vil, rail->low);
    return way <= 0 ? 0 : left > 0 ? log(1 + way / left) : INFINITY;
}

static double edge_time_constant(tl_circuit *circuit, int signal, int state)
{
    return ohms_seen(circuit, signal, state, circuit->signals[signal].pin) *
           tl_circuit_line_farads(circuit, signal, tl_circuit_last_side(circuit, signal));
}

bool tl_circuit_edge_within(tl_circuit *circuit, int signal, int state, double seconds)
{
    const double constants = edge_constants_at_most(circuit, signal, state);
    return constants == 0 ||
           (isfinite(constants) && constants * edge_time_constant(circuit, signal, state) <= seconds) ||
           tl_circuit_edge(circuit, signal, state) <= seconds;
}

double tl_circuit_edge(tl_circuit *circuit, int signal, int state)
{
    const int supply = circuit->plan->pins[circuit->plan->signals[signal].pin].limits.supply,
              param = tl_circuit_supply_param(circuit, supply);
    double ends[2], constants = 0;
    const double nominal = tl_net_param_nominal(circuit->net, param);
    tl_net_param_span(circuit->net, param, &ends[0], &ends[1]);
    for (int i = 0; i < 2 && (i == 0 || ends[1] > ends[0]); i++) {
        tl_net_set_param(circuit->net, param, ends[i], ends[i], ends[i]);
        constants = fmax(constants, edge_constants(circuit, signal, state, ends[i]));
    }
    tl_net_set_param(circuit->net, param, ends[0], nominal, ends[1]);
    if (constants == 0)
        return 0;
    return isinf(constants) ? INFINITY : constants * edge_time_constant(circuit, signal, state);
}
