/* SPDX-License-Identifier: MIT */
/* A fault changes the signals whose network it is in, and those that come over a line, a multiplexer, a bus
 * or a converter that has it. In doubt it touches. */
#include "explain/touch.h"
#include "elaborate/circuit_struct.h"

bool is_of_signal(const tl_circuit *c, int signal, int node)
{
    return node >= 0 && (tl_island_index(c->signals[signal].island, node) >= 0 ||
                         (node >= c->first_node[signal] && node < c->first_node[signal + 1]));
}

bool has_param_of(const tl_circuit *c, int signal, int param)
{
    return param != TL_NET_NONE && (tl_island_has_param(c->signals[signal].island, param) ||
                                    (param >= c->first_param[signal] && param < c->first_param[signal + 1]));
}

/* The network around a signal's pin has a part of it, a point or a value. */
static bool is_in(tl_circuit *circuit, const tl_scene_fault *f, int signal)
{
    const tl_signal_nodes *nodes = &circuit->signals[signal];
    for (int i = 0; i < f->part_count; i++) {
        int end[2];
        tl_net_part_ends(circuit->net, f->parts[i], &end[0], &end[1]);
        if (is_of_signal(circuit, signal, end[0]) || is_of_signal(circuit, signal, end[1]) ||
            is_of_signal(circuit, signal, f->to_node[i]))
            return true;
    }
    for (int k = 0; k < 2; k++) {
        if (is_of_signal(circuit, signal, f->node[k]) || has_param_of(circuit, signal, f->param[k]))
            return true;
    }
    return f->contact != TL_NET_NONE && f->contact == nodes->contact;
}

static bool holds(const tl_line_holder *holder, int line)
{
    return holder->given && holder->pin == line;
}

/* A line of the board that the way of a signal depends on. */
bool is_on_way(const tl_plan *plan, int signal, int line)
{
    const tl_signal *s = &plan->signals[signal];
    int pin = s->pin;
    bool is = line == pin;
    for (int deep = 0; plan->pins[pin].mux != TL_NONE && deep < TL_ROUTE_MOST; deep++) {
        const tl_mux *mux = &plan->muxes[plan->pins[pin].mux];
        is = is || holds(&mux->enable, line);
        for (int i = 0; i < mux->select_count; i++)
            is = is || mux->select[i].pin == line;
        pin = mux->common;
    }
    if (s->analog && plan->pins[pin].converter > 0) {
        const tl_plan_converter *converter = &plan->converters[plan->pins[pin].converter];
        for (int i = 0; i < TL_BUS_LINES && plan->buses[converter->bus].spi; i++)
            is = is || plan->buses[converter->bus].pins[i] == line;
        is = is || converter->select_pin == line;
    }
    return is;
}

/* The network of a line of the bus that it comes over. */
static bool is_in_bus(tl_circuit *circuit, const tl_scene_fault *f, int signal)
{
    const tl_plan *plan = circuit->plan;
    const tl_signal *s = &plan->signals[signal];
    const int converter = s->analog ? plan->pins[s->pin].converter : 0;
    if (converter <= 0)
        return false;
    const tl_bus *bus = &plan->buses[plan->converters[converter].bus];
    for (int i = 0; i < bus->line_count && !bus->spi; i++) {
        if (is_in(circuit, f, bus->first_line + i))
            return true;
    }
    return false;
}

static bool is_supply(const tl_circuit *circuit, int param)
{
    for (int i = 0; i < circuit->plan->supply_count; i++) {
        if (param != TL_NET_NONE && circuit->supply_param[i] == param)
            return true;
    }
    return false;
}

bool touches_all(const tl_circuit *circuit, const tl_scene_fault *fault)
{
    return fault->kind == TL_SCENE_MISSING || is_supply(circuit, fault->param[0]);
}

bool touches(tl_circuit *circuit, const tl_scene_fault *f, int signal)
{
    const tl_plan *plan = circuit->plan;
    const tl_signal *s = &plan->signals[signal];
    if (f == NULL)
        return true;
    if (f->kind == TL_SCENE_MISREAD && f->signal != TL_NONE)
        return f->signal == signal;
    if (f->kind == TL_SCENE_MISREAD || f->kind == TL_SCENE_SETTING)
        return s->analog && plan->pins[s->pin].converter == f->setting.converter;
    if (touches_all(circuit, f))
        return true;
    for (int k = 0; k < 2; k++) {
        if (f->line[k] != TL_NONE && is_on_way(plan, signal, f->line[k]))
            return true;
    }
    return is_in(circuit, f, signal) || is_in_bus(circuit, f, signal) ||
           (f->param[0] != TL_NET_NONE && f->param[0] == circuit->signals[signal].reference);
}
