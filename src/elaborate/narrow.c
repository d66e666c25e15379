/* SPDX-License-Identifier: MIT */
/* Signals with too many parts beside them to try every corner: what lies beyond the node that
 * they share is put together as one resistor, one voltage and one current, with limits of their own. */
#include "base/memory.h"
#include "circuit/bridge.h"
#include "circuit/cut.h"
#include "elaborate/elaborate.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

enum { CUTS_MOST = 4, CORNERS_QUICK = 11 };
static const double open_ohms = 1e12; /* where nothing at all may lead there: a microvolt at most */

static int params_of(const tl_circuit *c, tl_island *island)
{
    int all = 0, count = 0;
    const int *params = tl_island_params(island, &all);
    for (int i = 0; i < all; i++) {
        double low, high;
        tl_net_param_span(c->net, params[i], &low, &high);
        count += low != high;
    }
    return count;
}

/* All nodes that were made for the signal, and those on its way to the converter. */
static bool *own_nodes(const tl_circuit *c, int signal)
{
    const tl_signal_nodes *nodes = &c->signals[signal];
    bool *own = tl_alloc((size_t)tl_net_node_count(c->net), sizeof *own);
    for (int i = c->first_node[signal]; i < c->first_node[signal + 1]; i++)
        own[i] = true;
    const int also[] = {nodes->pin, nodes->source, nodes->sampled, nodes->negative};
    for (size_t i = 0; i < sizeof also / sizeof also[0]; i++) {
        if (also[i] != TL_NET_NONE)
            own[also[i]] = true;
    }
    for (int pin = c->plan->signals[signal].pin; c->plan->pins[pin].mux != TL_NONE;
         pin = c->plan->muxes[c->plan->pins[pin].mux].common) /* its way through multiplexers */
        own[c->mux_common[c->plan->pins[pin].mux]] = true;
    return own;
}

/* Contacts that others press, or do not. */
static bool *pressed_by_others(const tl_circuit *c, int signal)
{
    bool *pressed = tl_alloc((size_t)tl_net_contact_count(c->net), sizeof *pressed);
    for (int i = 0; i < c->plan->signal_count; i++) {
        const tl_signal_nodes *nodes = &c->signals[i];
        if (i == signal)
            continue;
        if (nodes->contact != TL_NET_NONE)
            pressed[nodes->contact] = true;
        for (int k = 0; k < c->plan->signals[i].source.button_count; k++)
            pressed[nodes->buttons[k]] = true;
    }
    return pressed;
}

static bool has_one_of(const tl_island *island, const bool *pressed)
{
    for (int i = 0; i < island->part_count; i++) {
        const net_part *part = net_part_of(island, i);
        if (part->gate != TL_WHEN_ALWAYS && in_view(part->gate_view, island->view) && pressed[part->contact])
            return true;
    }
    return false;
}

/* A parameter of the circuit, or TL_NET_NONE where it would be 0. */
static int param_of(tl_circuit *c, int signal, int number, tl_dimension dimension, const double span[3])
{
    const char *what = dimension == TL_DIM_OHM ? "ohms" : dimension == TL_DIM_VOLT ? "volts" : "leakage";
    char name[TL_PATH_LONGEST], others[20];
    const tl_quantity value = {.low = span[0],
                               .nominal = fmin(span[1], open_ohms),
                               .high = fmin(span[2], open_ohms),
                               .toleranced = true};
    if (isinf(span[0]) || (span[0] == 0 && span[2] == 0))
        return TL_NET_NONE;
    snprintf(others, sizeof others, number > 0 ? "others-%d" : "others", number + 1);
    return add_param(c, path_of(name, c->plan->signals[signal].name, others, what), value, dimension,
                     dimension != TL_DIM_OHM,
                     dimension == TL_DIM_AMPERE ? TL_CAUSE_LEAKAGE : TL_CAUSE_SOURCE);
}

/* What loads send through a shared wire is kept apart from leakage for those who ask for it. */
static bool has_foreign(const tl_circuit *c, const tl_island *island)
{
    int count = 0;
    const int *params = tl_island_params(island, &count);
    bool has = false;
    for (int i = 0; i < count; i++)
        has = has || c->param[params[i]].cause == TL_CAUSE_CARRIES ||
              c->param[params[i]].cause == TL_CAUSE_LOADS;
    return has;
}

/* What others have between two shared nodes, put together. */
static void put_bridge(tl_circuit *c, int signal, int *number, const bridge *between, bool foreign)
{
    tl_island *whole = c->signals[signal].island;
    const cut as = {.is_at_rest = !foreign, .is_in_time = !foreign && !between->stores};
    const int ohms = param_of(c, signal, *number, TL_DIM_OHM, between->ohms),
              amperes[2] = {param_of(c, signal, *number, TL_DIM_AMPERE, between->amperes),
                            param_of(c, signal, *number + 1, TL_DIM_AMPERE, between->amperes)};
    *number += 2;
    island_narrow(whole, bridge_make(c->net, tl_island_narrow(whole), between, ohms, amperes), &as);
}

static void narrow_between(tl_circuit *c, int signal, int *number, const bool *own, const bool *pressed)
{
    enum { FEW = 2 };
    tl_island *whole = c->signals[signal].island;
    const bool foreign = has_foreign(c, whole);
    for (int i = 0; i < c->plan->supply_count; i++) {
        for (int k = i + 1; k < c->plan->supply_count; k++) {
            const int a = c->supply_node[i], b = c->supply_node[k];
            const tl_island *island = tl_island_narrow(whole);
            if (tl_net_is_rail(c->net, a) || tl_net_is_rail(c->net, b) ||
                tl_island_index(island, a) == TL_NET_NONE || tl_island_index(island, b) == TL_NET_NONE ||
                params_of(c, tl_island_narrow(whole)) <= CORNERS_QUICK)
                continue;
            bridge between = bridge_find(island, a, b, own, tl_circuit_state(c, signal, 0), pressed);
            if (between.count >= FEW)
                put_bridge(c, signal, number, &between, foreign);
            bridge_free(&between);
        }
    }
}

static void narrow(tl_circuit *c, int signal, cut_memory *memory)
{
    tl_island *whole = c->signals[signal].island;
    bool *own = own_nodes(c, signal), *pressed = pressed_by_others(c, signal);
    const bool foreign = has_foreign(c, whole);
    cut found;
    int number = 0;
    narrow_between(c, signal, &number, own, pressed);
    for (int i = 0; i < CUTS_MOST && (params_of(c, tl_island_narrow(whole)) > CORNERS_QUICK ||
                                      has_one_of(tl_island_narrow(whole), pressed));
         i++) {
        const cut_question asked = {memory, own, tl_circuit_state(c, signal, 0), pressed};
        if (!cut_find(tl_island_narrow(whole), &asked, &found))
            break;
        const int first = number;
        int ohms[CUT_WAYS_MOST], volts[CUT_WAYS_MOST];
        for (int k = 0; k < found.way_count; k++) {
            const cut_way *way = &found.ways[k];
            ohms[k] = param_of(c, signal, number, TL_DIM_OHM, way->ohms);
            volts[k] =
                way->rail != TL_NET_NONE ? TL_NET_NONE : param_of(c, signal, number, TL_DIM_VOLT, way->volts);
            number++;
        }
        const int amperes = param_of(c, signal, first, TL_DIM_AMPERE, found.amperes);
        found.is_at_rest = found.is_at_rest && !foreign;
        island_narrow(whole, cut_make(c->net, tl_island_narrow(whole), &found, ohms, volts, amperes), &found);
        cut_free(&found);
    }
    free(own);
    free(pressed);
}

void narrow_islands(tl_circuit *c)
{
    cut_memory memory = {0};
    for (int i = 0; i < c->plan->signal_count; i++)
        narrow(c, i, &memory);
    free(memory.of);
}
