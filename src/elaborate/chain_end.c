/* SPDX-License-Identifier: MIT */
/* The ends of a netlist: pins with their leakage and clamps, converters' sampling, multiplexers. */
#include "base/memory.h"
#include "elaborate/elaborate.h"
#include <math.h>
#include <stdio.h>

tl_net_value tl_level_value(const tl_circuit *c, tl_level level, int supply)
{
    return (tl_net_value){.factor = 1,
                          .first = TL_NET_NONE,
                          .constant = level.volts,
                          .slope = level.share,
                          .second = supply != TL_NONE ? c->supply_param[supply] : TL_NET_NONE};
}

static void note_leak(tl_circuit *c, tl_leak leak)
{
    c->leaks = tl_grow(c->leaks, (size_t)c->leak_count, sizeof *c->leaks);
    c->leaks[c->leak_count++] = leak;
}

static tl_net_value times(int param, double factor)
{
    tl_net_value value = tl_net_of(param);
    value.factor = factor;
    return value;
}

/* Believed here; soldered by the bench, which knows which way it flows (bench/leaks.c). */
void add_leak(tl_circuit *c, const char *path, int node, int supply, int param)
{
    double low, high;
    tl_net_param_span(c->net, param, &low, &high);
    tl_net_set_view(c->net, TL_VIEW_BELIEVED);
    if (high > 0)
        tl_net_add_leak(c->net, path, node, TL_NET_GROUND, tl_net_of(param));
    if (low < 0)
        tl_net_add_leak(c->net, path, c->supply_node[supply], node, times(param, -1));
    tl_net_set_view(c->net, TL_VIEW_BOTH);
    note_leak(c, (tl_leak){.node = node,
                           .high = c->supply_node[supply],
                           .low = TL_NET_GROUND,
                           .out = tl_net_of(param),
                           .gate = TL_WHEN_ALWAYS,
                           .contact = TL_NET_NONE});
}

void add_switch_leak(tl_circuit *c, const char *path, tl_leak leak)
{
    const bool sinks = leak.low != TL_NET_NONE;
    tl_net_set_view(c->net, TL_VIEW_BELIEVED);
    const int part = tl_net_add_leak(c->net, path, sinks ? leak.node : leak.high,
                                     sinks ? leak.low : leak.node, tl_net_of(leak.out.first));
    tl_net_condition_part(c->net, part, leak.gate, leak.contact);
    tl_net_set_view(c->net, TL_VIEW_BOTH);
    note_leak(c, leak);
}

/* Leakage and capacitance of one input; answers its node. */
static int add_input(tl_circuit *c, const char *owner, const char *name, const tl_pin_limits *limits,
                     int last)
{
    char path[TL_PATH_LONGEST], leakage[TL_PATH_LONGEST];
    const int node = tl_net_add_node(c->net, path_of(path, owner, name, NULL));
    tl_net_add_resistor(c->net, path, last, node, tl_net_fixed(0));
    if (limits->leakage.low != 0 || limits->leakage.high != 0) {
        const int leak = add_param(c, path_of(leakage, path, "leakage", NULL), limits->leakage, TL_DIM_AMPERE,
                                   true, TL_CAUSE_LEAKAGE);
        if (limits->supply != TL_NONE)
            add_leak(c, leakage, node, limits->supply, leak);
        else
            tl_net_add_current(c->net, leakage, node, TL_NET_GROUND, tl_net_of(leak));
    }
    if (limits->farads > 0)
        tl_net_add_capacitor(c->net, path_of(leakage, path, "capacitance", NULL), node, TL_NET_GROUND,
                             tl_net_fixed(limits->farads));
    return node;
}

/* The converter's sampling capacitor behind its switch. */
static void add_sampling(tl_circuit *c, const tl_signal *signal, const tl_converter *converter,
                         tl_signal_nodes *nodes)
{
    char path[TL_PATH_LONGEST];
    if (!(converter->sample_farads > 0))
        return;
    nodes->sampled = tl_net_add_node(c->net, path_of(path, signal->name, "pin", "sampled"));
    nodes->sampling = tl_net_add_contact(c->net, path);
    const int part =
        tl_net_add_resistor(c->net, path, nodes->pin, nodes->sampled, tl_net_fixed(converter->switch_ohms));
    tl_net_condition_part(c->net, part, TL_WHEN_CLOSED, nodes->sampling);
    tl_net_add_capacitor(c->net, path, nodes->sampled, TL_NET_GROUND, tl_net_fixed(converter->sample_farads));
}

/* A reference of its own drifts with the temperature. */
static tl_quantity drifted(const tl_plan *plan, tl_quantity volts, double drift)
{
    const double by = drift * fmax(fabs(plan->warmest - 25), fabs(plan->coldest - 25));
    return (tl_quantity){volts.low * (1 - by), volts.nominal, volts.high * (1 + by),
                         volts.toleranced || by > 0};
}

static int reference_of(tl_circuit *c, const tl_signal *signal)
{
    char path[TL_PATH_LONGEST];
    const tl_plan_converter *converter = tl_plan_converter_of(c->plan, signal);
    const tl_converter *part = converter->part;
    const bool range = part->range_count > 0;
    const tl_reference *reference = range ? NULL : &part->references[signal->reference];
    if (!range && reference->supply >= 0)
        return c->supply_param[reference->supply]; /* the board's supplies come first, in its order */
    if (!range && reference->supply == TL_REFERENCE_OWN_SUPPLY)
        return c->supply_param[converter->supply];
    const double full = range ? part->ranges[signal->range].high : 0;
    const tl_quantity volts =
        range ? (tl_quantity){full, full, full, false} : drifted(c->plan, reference->volts, part->drift);
    /* The first that a converter makes itself is its reference; further ones have their names. */
    bool first = true;
    for (int i = 0; !range && i < signal->reference; i++)
        first = first &&
                (part->references[i].supply >= 0 || part->references[i].supply == TL_REFERENCE_OWN_SUPPLY);
    if (range)
        snprintf(path, sizeof path, "%.60s.range-%d", converter->name, signal->range);
    else
        snprintf(path, sizeof path, "%.60s%sreference%s%.40s",
                 converter == c->plan->converters ? "" : converter->name,
                 converter == c->plan->converters ? "" : ".", first ? "" : "-", first ? "" : reference->name);
    const int there = tl_circuit_param(c, path);
    return there != TL_NET_NONE ? there : add_param(c, path, volts, TL_DIM_VOLT, true, TL_CAUSE_REFERENCE);
}

/* --- clamps: what flows once a limit is passed --- */

/* passes: its limit could be passed at all; then it is believed. It is soldered where it is known to conduct.
 */
static void add_pin_clamp(tl_circuit *c, const tl_signal *signal, const tl_pin_limits *limits, bool high,
                          bool passes, tl_signal_nodes *nodes)
{
    const bool soldered = limits->injection > 0; /* those that say nothing of them have none */
    char path[TL_PATH_LONGEST];
    int *contact = high ? &nodes->clamp_high : &nodes->clamp_low,
        *rail = high ? &nodes->high_rail : &nodes->low_rail;
    const tl_net_value volts = tl_level_value(c, high ? limits->highest : limits->lowest, limits->supply);
    const bool counted_on = /* by the plan: `clamp: pin` */
        tl_parts_next(&c->parts, (int)(signal - c->plan->signals), TL_PART_PIN_CLAMP, NULL) != NULL;
    if (*contact != TL_NET_NONE || (!passes && !soldered))
        return; /* the plan's own clamp is there before the pin's */
    path_of(path, signal->name, "pin", high ? "clamp-high" : "clamp-low");
    *contact = tl_net_add_contact(c->net, path);
    *rail = tl_net_add_node(c->net, path);
    *(high ? &nodes->passes_high : &nodes->passes_low) = passes;
    tl_net_set_rail(c->net, *rail, volts);
    if (passes) {
        tl_net_set_view(c->net, TL_VIEW_BELIEVED);
        tl_net_condition_part(c->net, tl_net_add_resistor(c->net, path, nodes->pin, *rail, tl_net_fixed(0)),
                              TL_WHEN_CLOSED, *contact);
        tl_net_set_view(c->net, TL_VIEW_BOTH);
    }
    if (soldered)
        nodes->clamp_part[high] =
            add_conducting_clamp(c, path, *rail, counted_on ? counted_on_ohms : TL_CLAMP_OHMS,
                                 (tl_switch){.contact = *contact,
                                             .node = nodes->pin,
                                             .against = TL_NET_GROUND,
                                             .level = volts,
                                             .below = !high});
    if (passes && counted_on)
        add_chain_end(nodes, *contact, high);
}

/* The volts that anything in the chain could bring, at most and at least: whether it can leave the limits at
 * all. */
static void volts_about(tl_circuit *c, const tl_signal *signal, double *least, double *most)
{
    const tl_source *source = &signal->source;
    const tl_supply *supplies = c->plan->supplies;
    const bool volts = source->kind == TL_SOURCE_VOLTAGE;
    *least = volts ? fmin(0, source->value.value.low) : 0;
    *most = volts ? source->value.value.high : source->kind == TL_SOURCE_CURRENT ? INFINITY : 0;
    const int rails[2] = {source->supply, source->bottom};
    for (int i = 0; i < 2; i++) {
        if (rails[i] != TL_TO_GROUND)
            *most = fmax(*most, supplies[rails[i]].volts.high);
    }
    for (int i = 0; i < signal->stage_count; i++) {
        if (signal->stages[i].to >= 0)
            *most = fmax(*most, supplies[signal->stages[i].to].volts.high);
    }
}

static void add_clamps(tl_circuit *c, const tl_signal *signal, const tl_pin_limits *limits,
                       tl_signal_nodes *nodes)
{
    double least, most;
    if (limits->supply == TL_NONE)
        return;
    const tl_quantity rail = c->plan->supplies[limits->supply].volts;
    volts_about(c, signal, &least, &most);
    add_pin_clamp(c, signal, limits, true, most > tl_level_volts(limits->highest, rail.low), nodes);
    add_pin_clamp(c, signal, limits, false, least < tl_level_volts(limits->lowest, rail.high), nodes);
}

/* --- multiplexers --- */

static void add_mux(tl_circuit *c, int index)
{
    char path[TL_PATH_LONGEST];
    const tl_mux *mux = &c->plan->muxes[index];
    const tl_mux_part *part = mux->part;
    const double others = part->inputs - 1;
    const tl_quantity leakage = {others * part->leakage.low, 0, others * part->leakage.high, true};
    c->mux_common[index] = tl_net_add_node(c->net, path_of(path, mux->name, "common", NULL));
    if (part->farads > 0)
        tl_net_add_capacitor(c->net, path, c->mux_common[index], TL_NET_GROUND, tl_net_fixed(part->farads));
    if (leakage.low != 0 || leakage.high != 0)
        add_leak(c, path, c->mux_common[index], mux->supply,
                 add_param(c, path_of(path, mux->name, "leakage", NULL), leakage, TL_DIM_AMPERE, true,
                           TL_CAUSE_LEAKAGE));
    for (int i = 0; i < part->inputs; i++) {
        snprintf(path, sizeof path, "%.80s.%d", mux->name, i);
        const int contact = tl_net_add_contact(c->net, path);
        tl_net_set_route(c->net, contact);
        c->mux_contact[index] = contact - i;
        if (mux->tied[i] == TL_OPEN)
            continue;
        tl_net_set_view(c->net, TL_VIEW_SOLDERED); /* a signal never comes this way */
        tl_net_condition_part(c->net,
                              tl_net_add_resistor(c->net, path, rail_node(c, mux->tied[i]),
                                                  c->mux_common[index],
                                                  tl_net_fixed(fmax(part->on_ohms.nominal, TL_DROP_OHMS))),
                              TL_WHEN_CLOSED, contact);
        tl_net_set_view(c->net, TL_VIEW_BOTH);
    }
}

void add_muxes(tl_circuit *c)
{
    c->mux_contact = tl_alloc((size_t)c->plan->mux_count, sizeof *c->mux_contact);
    c->mux_common = tl_alloc((size_t)c->plan->mux_count, sizeof *c->mux_common);
    for (int i = 0; i < c->plan->mux_count; i++)
        add_mux(c, i);
}

/* From an input of a multiplexer through its switch, and on through those behind it; answers the last common
 * line. */
static int add_route(tl_circuit *c, int pin, int node, tl_signal_nodes *nodes)
{
    char path[TL_PATH_LONGEST];
    while (c->plan->pins[pin].mux != TL_NONE && nodes->route_length < TL_ROUTE_MOST) {
        const int index = c->plan->pins[pin].mux;
        const tl_mux *mux = &c->plan->muxes[index];
        const int contact = c->mux_contact[index] + c->plan->pins[pin].input;
        path_of(path, mux->name, "on-resistance", NULL);
        const int there = tl_circuit_param(c, path);
        const int ohms = there != TL_NET_NONE
                             ? there
                             : add_param(c, path, mux->part->on_ohms, TL_DIM_OHM, false, TL_CAUSE_SWITCH);
        snprintf(path, sizeof path, "%.80s.%d", mux->name, c->plan->pins[pin].input);
        /* Several signals of one part come through the same switch of the next. */
        if (tl_net_find_part(c->net, TL_VIEW_BELIEVED, path) == TL_NET_NONE)
            tl_net_condition_part(
                c->net, tl_net_add_resistor(c->net, path, node, c->mux_common[index], tl_net_of(ohms)),
                TL_WHEN_CLOSED, contact);
        nodes->route[nodes->route_length++] = contact;
        node = c->mux_common[index];
        pin = mux->common;
    }
    return node;
}

/* Behind a multiplexer several signals share one pin: the first makes it. */
static bool take_shared_end(tl_circuit *c, int signal)
{
    tl_signal_nodes *nodes = &c->signals[signal];
    const int mux = c->plan->pins[c->plan->signals[signal].pin].mux;
    if (mux == TL_NONE)
        return false;
    for (int i = 0; i < signal; i++) {
        const tl_signal_nodes *other = &c->signals[i];
        if (other->route_length == 0 || other->common != nodes->common)
            continue;
        nodes->pin = other->pin;
        nodes->sampled = other->sampled;
        nodes->sampling = other->sampling;
        return true;
    }
    return false;
}

/* The firmware may drive the pin as well: believed, behind a contact each, at its rail and at ground. */
static void add_driven(tl_circuit *c, const tl_signal *s, const tl_pin_limits *limits, tl_signal_nodes *nodes)
{
    static const double no_ohms = 1e-6; /* so that its current can be asked for */
    char path[TL_PATH_LONGEST];
    const bool may[2] = {s->drives_low, s->drives_high};
    tl_net_set_view(c->net, TL_VIEW_BELIEVED);
    for (int high = 0; high < 2 && limits->supply != TL_NONE; high++) {
        if (!may[high])
            continue;
        nodes->driven[high] =
            tl_net_add_contact(c->net, path_of(path, s->name, "pin", high ? "driven-high" : "driven-low"));
        tl_net_set_route(c->net, nodes->driven[high]);
        nodes->driven_part[high] =
            tl_net_add_resistor(c->net, path, nodes->pin,
                                high ? c->supply_node[limits->supply] : TL_NET_GROUND, tl_net_fixed(no_ohms));
        tl_net_condition_part(c->net, nodes->driven_part[high], TL_WHEN_CLOSED, nodes->driven[high]);
    }
    tl_net_set_view(c->net, TL_VIEW_BOTH);
}

/* A lamp of the board from the pin to ground: believed, behind a contact. */
static void add_wired_lamp(tl_circuit *c, const tl_signal *s, const tl_pin *pin, tl_signal_nodes *nodes)
{
    char path[TL_PATH_LONGEST];
    if (!pin->wired || !(pin->lamp_ohms.low > 0))
        return;
    nodes->lamp = tl_net_add_contact(c->net, path_of(path, s->name, "pin", "lamp"));
    const int cathode = tl_net_add_node(c->net, path);
    const tl_quantity volts = pin->lamp, ohms = pin->lamp_ohms;
    tl_net_set_view(c->net, TL_VIEW_BELIEVED);
    const int drop =
        tl_net_add_one_way(c->net, path, nodes->pin, cathode,
                           tl_net_of(add_param(c, path, volts, TL_DIM_VOLT, false, TL_CAUSE_DROP)));
    const int resistor =
        tl_net_add_resistor(c->net, path_of(path, s->name, "pin", "lamp-series"), cathode, TL_NET_GROUND,
                            tl_net_of(add_param(c, path, ohms, TL_DIM_OHM, false, TL_CAUSE_LOADS)));
    tl_net_condition_part(c->net, drop, TL_WHEN_CLOSED, nodes->lamp);
    tl_net_condition_part(c->net, resistor, TL_WHEN_CLOSED, nodes->lamp);
    tl_net_set_view(c->net, TL_VIEW_BOTH);
}

void add_end(tl_circuit *c, int signal, int node, int negative)
{
    const tl_signal *s = &c->plan->signals[signal];
    const tl_pin *pin = &c->plan->pins[s->pin];
    tl_signal_nodes *nodes = &c->signals[signal];
    const tl_plan_converter *converter = tl_plan_converter_of(c->plan, s);
    const bool pair = pin->second != TL_NONE && pin->mux == TL_NONE;
    nodes->end = node;
    nodes->common = add_route(c, s->pin, node, nodes);
    if (converter != NULL)
        nodes->reference = reference_of(c, s);
    if (!take_shared_end(c, signal)) {
        nodes->pin = add_input(c, s->name, "pin", &pin->limits, nodes->common);
        if (converter != NULL)
            add_sampling(c, s, converter->part, nodes);
    }
    nodes->negative =
        pair ? add_input(c, s->name, "pin-negative", &c->plan->pins[pin->second].limits, negative)
             : TL_NET_GROUND;
    if (pair) /* no current at all: one island, so that the difference of its inputs can be asked for */
        tl_net_add_current(c->net, "apart", nodes->pin, nodes->negative, tl_net_fixed(0));
    add_clamps(c, s, &pin->limits, nodes);
    add_driven(c, s, &pin->limits, nodes);
    add_wired_lamp(c, s, pin, nodes);
}
