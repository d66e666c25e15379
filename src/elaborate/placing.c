/* SPDX-License-Identifier: MIT */
/* What every part of a netlist is made with: parameters, paths, resistors in their place; it knows no kind of
 * part. */
#include "base/memory.h"
#include "elaborate/elaborate.h"
#include <stdio.h>
#include <string.h>

static int add_one(tl_circuit *c, const char *name, tl_quantity value, bool searched, tl_param_info info)
{
    const int param = tl_net_add_param(c->net, name, value.low, value.nominal, value.high, searched);
    info.node = TL_NET_NONE;
    c->param = tl_grow(c->param, (size_t)param, sizeof *c->param);
    c->param[param] = info;
    return param;
}

int add_param(tl_circuit *c, const char *name, tl_quantity value, tl_dimension dimension, bool source,
              tl_cause cause)
{
    return add_one(c, name, value, false,
                   (tl_param_info){.cause = cause, .dimension = dimension, .source = source});
}

int add_searched(tl_circuit *c, const char *name, tl_quantity value, tl_dimension dimension, tl_cause cause)
{
    return add_one(c, name, value, true, (tl_param_info){.cause = cause, .dimension = dimension});
}

char *path_of(char text[TL_PATH_LONGEST], const char *signal, const char *stage, const char *leg)
{
    snprintf(text, TL_PATH_LONGEST, "%s%s%s%s%s", signal, stage != NULL ? "." : "",
             stage != NULL ? stage : "", leg != NULL ? "." : "", leg != NULL ? leg : "");
    return text;
}

int rail_node(tl_circuit *c, int supply)
{
    return supply == TL_TO_GROUND ? TL_NET_GROUND : c->supply_node[supply];
}

int add_resistor(tl_circuit *c, const char *path, int a, int b, const tl_located *ohms, tl_cause cause)
{
    const int param = add_param(c, path, ohms->value, TL_DIM_OHM, false, cause);
    c->param[param].drift = ohms->drift;
    return tl_net_add_resistor(c->net, path, a, b, tl_net_of(param));
}

tl_plan_part *part_at(tl_circuit *c, int line, int stage, int leg, bool twin)
{
    for (int i = c->parts.first[line]; i < c->parts.first[line + 1]; i++) {
        tl_plan_part *part = &c->parts.part[i];
        if (part->stage == stage && part->leg == leg && part->twin == twin)
            return part;
    }
    return NULL;
}

int place_part(tl_circuit *c, tl_plan_part *part, const char *path, int a, int b)
{
    const tl_dimension dimension = tl_role_of(part->role)->dimension;
    const int param = add_param(c, path, part->value->value, dimension, false, TL_CAUSE_PART);
    c->param[param].drift = dimension == TL_DIM_OHM ? part->value->drift : 0;
    part->net = dimension == TL_DIM_FARAD ? tl_net_add_capacitor(c->net, path, a, b, tl_net_of(param))
                                          : tl_net_add_resistor(c->net, path, a, b, tl_net_of(param));
    part->param = param;
    part->a = a;
    part->b = b;
    return part->net;
}

int add_driven_rail(tl_circuit *c, const char *path, int node, tl_when when, tl_net_value volts,
                    const tl_located *ohms)
{
    const int rail = tl_net_add_node(c->net, path);
    tl_net_set_rail(c->net, rail, volts);
    const bool exact = ohms->value.low == ohms->value.high;
    tl_net_value in_between = tl_net_fixed(ohms->given && exact ? ohms->value.nominal : 0);
    if (ohms->given && !exact) {
        const int param = add_param(c, path, ohms->value, TL_DIM_OHM, false, TL_CAUSE_SOURCE_OHMS);
        c->param[param].drift = ohms->drift;
        in_between = tl_net_of(param);
    }
    tl_net_condition_part(c->net, tl_net_add_resistor(c->net, path, node, rail, in_between), when.gate,
                          when.contact);
    return rail;
}

bool *tl_circuit_state(tl_circuit *c, int signal, int state)
{
    const tl_signal_nodes *nodes = &c->signals[signal];
    memset(c->state, 0, (size_t)tl_net_contact_count(c->net) * sizeof *c->state);
    for (int i = 0; i < nodes->route_length; i++)
        c->state[nodes->route[i]] = true;
    if (nodes->contact != TL_NET_NONE)
        c->state[nodes->contact] = state == 1;
    else if (state > 0)
        c->state[nodes->buttons[state - 1]] = true;
    return c->state;
}

int tl_circuit_param(tl_circuit *circuit, const char *path)
{
    for (int i = 0; i < tl_net_param_count(circuit->net); i++) {
        if (strcmp(tl_net_param_name(circuit->net, i), path) == 0)
            return i;
    }
    return TL_NET_NONE;
}
