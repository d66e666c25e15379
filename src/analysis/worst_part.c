/* SPDX-License-Identifier: MIT */
/*
 * Worst cases of single parts: where a part of a plan is in the net, and the heat in a resistor over every
 * state of its signal.
 *
 * A resistor's own ohms enter its heat twice: V^2 R / (R + S)^2 peaks where R equals what drives it, which
 * may lie inside its tolerance. From R = S a way by the factor t to either end loses (1 + t)^2 / 4t, most
 * where both ends are equally far: t = sqrt(high / low).
 */
#include "analysis/ask.h"
#include "base/memory.h"
#include "tinyladder/design/circuit.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>

tl_bounds tl_circuit_part_amperes(tl_circuit *circuit, int signal, int state, const char *part)
{
    char path[160];
    tl_bounds amperes = {.low = NAN, .nominal = NAN, .high = NAN};
    snprintf(path, sizeof path, "%s.%s", circuit->plan->signals[signal].name, part);
    const int at = tl_net_find_part(circuit->net, TL_VIEW_BELIEVED, path);
    const tl_figure figure = {.kind = TL_FIGURE_PART_AMPERES, .of = at, .less = tl_net_fixed(0)};
    if (at == TL_NET_NONE ||
        tl_island_bounds(circuit->signals[signal].island, tl_circuit_state(circuit, signal, state), figure,
                         &amperes) != TL_NET_SOLVED)
        return (tl_bounds){.low = NAN, .nominal = NAN, .high = NAN};
    return amperes;
}

double tl_circuit_resistor_watts(tl_circuit *circuit, int signal, int part, const tl_quantity *ohms)
{
    const tl_signal_nodes *nodes = &circuit->signals[signal];
    const tl_figure figure = {.kind = TL_FIGURE_PART_WATTS, .of = part, .less = tl_net_fixed(0)};
    const double t = ohms->low > 0 ? sqrt(ohms->high / ohms->low) : 1;
    double most = 0;
    for (int state = 0; state < nodes->states && part != TL_NET_NONE; state++) {
        tl_bounds watts;
        if (tl_island_bounds(nodes->island, tl_circuit_state(circuit, signal, state), figure, &watts) ==
            TL_NET_SOLVED)
            most = fmax(most, watts.high);
    }
    return most * (1 + t) * (1 + t) / (4 * t);
}

/* What the resistor's own tolerance may add, see above. */
static double spread(const tl_quantity *ohms)
{
    const double t = ohms->low > 0 ? sqrt(ohms->high / ohms->low) : 1;
    return (1 + t) * (1 + t) / (4 * t);
}

/* Behind the contact of its output, or around a shared node with all contacts open and all closed. */
static double watts_apart(tl_circuit *c, int index)
{
    const tl_plan_part *part = &c->parts.part[index];
    const tl_figure figure = {.kind = TL_FIGURE_PART_WATTS, .of = part->net, .less = tl_net_fixed(0)};
    const int contacts = tl_net_contact_count(c->net);
    bool *closed = tl_alloc((size_t)contacts, sizeof *closed);
    double most = 0;
    for (int all = 0; all < 2; all++) {
        for (int i = 0; i < c->plan->line_count; i++) {
            if (c->signals[i].contact != TL_NET_NONE)
                closed[c->signals[i].contact] = all;
        }
        if (part->contact != TL_NET_NONE)
            closed[part->contact] = true;
        const int node = tl_net_is_rail(c->net, part->b) ? part->a : part->b;
        tl_island *island = tl_island_new_along(c->net, node, closed);
        tl_bounds watts;
        if (tl_island_bounds(island, closed, figure, &watts) == TL_NET_SOLVED)
            most = fmax(most, watts.high);
        tl_island_free(island);
    }
    free(closed);
    return most;
}

/* No part has more across it than the whole island: mostly that is answer enough. */
static bool surely_cool(tl_circuit *c, const tl_plan_part *part, double enough)
{
    double low, high;
    bool *closed = NULL;
    tl_island *island = part->owner == TL_OWNED_BY_LINE ? c->signals[part->index].island : NULL;
    if (island == NULL) {
        closed = tl_alloc((size_t)tl_net_contact_count(c->net), sizeof *closed);
        if (part->contact != TL_NET_NONE)
            closed[part->contact] = true;
        island = tl_island_new_along(c->net, tl_net_is_rail(c->net, part->b) ? part->a : part->b, closed);
    }
    tl_island_extent(island, &low, &high);
    if (closed != NULL)
        tl_island_free(island);
    free(closed);
    return (high - low) * (high - low) / part->value->value.low <= enough;
}

double tl_circuit_part_watts(tl_circuit *circuit, int index, double enough)
{
    const tl_plan_part *part = &circuit->parts.part[index];
    if (part->net == TL_NET_NONE || surely_cool(circuit, part, enough))
        return 0;
    return part->owner == TL_OWNED_BY_LINE
               ? tl_circuit_resistor_watts(circuit, part->index, part->net, &part->value->value)
               : watts_apart(circuit, index) * spread(&part->value->value);
}

bool tl_circuit_shorted_sensor(tl_circuit *circuit, int signal, const tl_plan_part *partner, double *amperes,
                               double *watts)
{
    const tl_signal_nodes *nodes = &circuit->signals[signal];
    const tl_figure figures[] = {
        {.kind = TL_FIGURE_PART_AMPERES, .of = partner->net, .less = tl_net_fixed(0)},
        {.kind = TL_FIGURE_PART_WATTS, .of = partner->net, .less = tl_net_fixed(0)}};
    double low, high;
    tl_bounds bounds[2];
    const double nominal = tl_net_param_nominal(circuit->net, nodes->unknown);
    tl_net_param_span(circuit->net, nodes->unknown, &low, &high);
    tl_net_set_param(circuit->net, nodes->unknown, 0, 0, 0);
    const tl_net_status fault =
        tl_island_bounds_all(nodes->island, tl_circuit_state(circuit, signal, 0), figures, 2, bounds);
    tl_net_set_param(circuit->net, nodes->unknown, low, nominal, high);
    if (fault != TL_NET_SOLVED)
        return false;
    *amperes = fmax(fabs(bounds[0].low), fabs(bounds[0].high));
    *watts = bounds[1].high;
    return true;
}

double tl_circuit_shorted_loop(tl_circuit *circuit, int signal, int part, tl_bounds *volts, tl_bounds *watts)
{
    const tl_signal_nodes *nodes = &circuit->signals[signal];
    tl_ask asks[] = {tl_ask_of(TL_ASK_VOLTS, signal, 0, nodes->pin), tl_ask_of(TL_ASK_WATTS, signal, 0, part),
                     tl_ask_of(TL_ASK_AMPERES, signal, 0, part)};
    tl_bounds bounds[3];
    asks[0].closes[0] = nodes->shorted;
    if (nodes->shorted == TL_NET_NONE || tl_circuit_ask_all(circuit, asks, 3, bounds) != TL_NET_SOLVED)
        bounds[0] = bounds[1] = bounds[2] = (tl_bounds){.low = NAN, .nominal = NAN, .high = NAN};
    *volts = bounds[0];
    *watts = bounds[1];
    return fmax(fabs(bounds[2].low), fabs(bounds[2].high));
}
