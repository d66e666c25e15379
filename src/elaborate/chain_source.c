/* SPDX-License-Identifier: MIT */
/* The sources of a netlist: each answers the node that the chain starts from. */
#include "base/memory.h"
#include "elaborate/elaborate.h"

/* Volts on top of what foreign current drops in the wire of a shared node. */
static tl_net_value above_wire(const tl_circuit *c, int wire, int volts)
{
    return (tl_net_value){.factor = 1,
                          .first = c->shared_ohms[wire],
                          .slope = 1,
                          .second = c->shared_amperes[wire],
                          .extra = 1,
                          .third = volts};
}

/* Volts against ground; against a shared node with foreign current in its wire; or following a rail. */
static tl_net_value volts_of_source(tl_circuit *c, const tl_source *source, int unknown)
{
    const int wire = source->bottom;
    if (source->follows != TL_TO_GROUND)
        return (tl_net_value){.factor = 1 / c->plan->supplies[source->follows].volts.nominal,
                              .first = c->supply_param[source->follows],
                              .slope = 1,
                              .second = unknown};
    if (wire != TL_TO_GROUND && c->shared_ohms[wire] != TL_NET_NONE && c->shared_amperes[wire] != TL_NET_NONE)
        return above_wire(c, wire, unknown);
    return tl_net_of(unknown);
}

static int add_voltage_source(tl_circuit *c, const tl_signal *signal, tl_signal_nodes *nodes)
{
    char path[TL_PATH_LONGEST];
    const tl_source *source = &signal->source;
    nodes->unknown = add_param(c, path_of(path, signal->name, "source", "voltage"), source->value.value,
                               TL_DIM_VOLT, true, TL_CAUSE_UNKNOWN);
    const int emf = tl_net_add_node(c->net, path);
    tl_net_set_rail(c->net, emf, volts_of_source(c, source, nodes->unknown));
    if (!source->ohms.given)
        return emf;
    const int node = tl_net_add_node(c->net, path_of(path, signal->name, "source", NULL));
    add_resistor(c, path_of(path, signal->name, "source", "resistance"), emf, node, &source->ohms,
                 TL_CAUSE_SOURCE_OHMS);
    return node;
}

static int add_potentiometer(tl_circuit *c, const tl_signal *signal, tl_signal_nodes *nodes)
{
    char path[TL_PATH_LONGEST];
    const tl_source *source = &signal->source;
    const tl_quantity *over = &source->over.value;
    const int wiper = tl_net_add_node(c->net, path_of(path, signal->name, "source", NULL));
    /* Both stand in two legs, so what they move may be extreme inside their spans. */
    const int track = add_searched(c, path_of(path, signal->name, "source", "potentiometer"),
                                   source->value.value, TL_DIM_OHM, TL_CAUSE_SOURCE);
    const tl_quantity travel = {over->low / 100, over->nominal / 100, over->high / 100, true};
    nodes->track = track;
    nodes->unknown = add_searched(c, path_of(path, signal->name, "source", "travel"), travel, TL_DIM_PERCENT,
                                  TL_CAUSE_UNKNOWN);

    int top = rail_node(c, source->supply), bottom = rail_node(c, source->bottom);
    if (source->ohms.given) {
        const int track_top = tl_net_add_node(c->net, path_of(path, signal->name, "source", "top"));
        const int track_bottom = tl_net_add_node(c->net, path_of(path, signal->name, "source", "bottom"));
        add_resistor(c, path_of(path, signal->name, "source", "top-end"), top, track_top, &source->ohms,
                     TL_CAUSE_TOP_END);
        add_resistor(c, path_of(path, signal->name, "source", "bottom-end"), track_bottom, bottom,
                     &source->ohms, TL_CAUSE_BOTTOM_END);
        top = track_top;
        bottom = track_bottom;
    }
    const tl_net_value above = {.factor = 1,
                                .first = track,
                                .constant = 1,
                                .slope = -1,
                                .second = nodes->unknown},
                       below = {.factor = 1, .first = track, .slope = 1, .second = nodes->unknown};
    tl_net_add_resistor(c->net, path_of(path, signal->name, "source", "upper"), top, wiper, above);
    tl_net_add_resistor(c->net, path_of(path, signal->name, "source", "lower"), wiper, bottom, below);
    return wiper;
}

static void add_open_leakage(tl_circuit *c, const tl_signal *signal, int node, int contact)
{
    char path[TL_PATH_LONGEST];
    const int rail = rail_node(c, signal->source.supply);
    const tl_quantity amperes = {0, 0, signal->source.leakage, false};
    if (!(signal->source.leakage > 0))
        return;
    const int leak = add_param(c, path_of(path, signal->name, "source", "leakage"), amperes, TL_DIM_AMPERE,
                               true, TL_CAUSE_OPEN_LEAKAGE);
    const bool sinks = tl_source_closes_low(&signal->source);
    tl_net_value out = tl_net_of(leak);
    out.factor = sinks ? 1 : -1;
    add_switch_leak(c, path,
                    (tl_leak){.node = node,
                              .high = sinks ? TL_NET_NONE : rail,
                              .low = sinks ? rail : TL_NET_NONE,
                              .out = out,
                              .gate = TL_WHEN_OPEN,
                              .contact = contact});
}

static int add_contact(tl_circuit *c, const tl_signal *signal, tl_signal_nodes *nodes)
{
    char path[TL_PATH_LONGEST];
    const tl_source *source = &signal->source;
    const int node = tl_net_add_node(c->net, path_of(path, signal->name, "source", NULL));
    const int rail = rail_node(c, source->supply);
    nodes->contact = tl_net_add_contact(c->net, path);
    nodes->states = 2;
    const int closed = add_param(c, path_of(path, signal->name, "source", "closed"), source->ohms.value,
                                 TL_DIM_OHM, false, TL_CAUSE_SOURCE);
    const int part = tl_net_add_resistor(c->net, path, node, rail, tl_net_of(closed));
    tl_net_condition_part(c->net, part, TL_WHEN_CLOSED, nodes->contact);
    add_open_leakage(c, signal, node, nodes->contact);
    return node;
}

static int add_open_collector(tl_circuit *c, const tl_signal *signal, tl_signal_nodes *nodes)
{
    char path[TL_PATH_LONGEST];
    const tl_source *source = &signal->source;
    const int node = tl_net_add_node(c->net, path_of(path, signal->name, "source", NULL));
    nodes->contact = tl_net_add_contact(c->net, path);
    nodes->states = 2;
    path_of(path, signal->name, "source", "saturation");
    const int rail = source->supply,
              drop = add_param(c, path, source->value.value, TL_DIM_VOLT, true, TL_CAUSE_SOURCE);
    const bool low = tl_plan_rail_is_low(c->plan, rail);
    tl_net_value on = tl_net_of(drop);
    if (low && rail != TL_TO_GROUND && c->shared_ohms[rail] != TL_NET_NONE &&
        c->shared_amperes[rail] != TL_NET_NONE)
        on = above_wire(c, rail, drop);
    else if (rail != TL_TO_GROUND) /* so far from its rail, into the board's range */
        on = (tl_net_value){.factor = 1,
                            .first = c->supply_param[rail],
                            .constant = 1,
                            .second = TL_NET_NONE,
                            .extra = low ? 1 : -1,
                            .third = drop};
    nodes->on_rail = add_driven_rail(c, path_of(path, signal->name, "source", "on"), node,
                                     (tl_when){TL_WHEN_CLOSED, nodes->contact}, on, &source->ohms);
    add_open_leakage(c, signal, node, nodes->contact);
    return node;
}

/* Low is somewhere from 0 V to its highest, high from its lowest to the supply. What a pin of the plan drives
 * is believed to be so; in time the pin's own driver does it, or nothing (soldered.c). */
static int add_logic(tl_circuit *c, const tl_signal *signal, tl_signal_nodes *nodes)
{
    char path[TL_PATH_LONGEST];
    const tl_source *source = &signal->source;
    const tl_quantity *rail = &c->plan->supplies[source->supply].volts;
    const double most_low = tl_level_volts(source->low, rail->high);
    const double least_high = tl_level_volts(source->high, rail->low);
    const tl_quantity low = {0, most_low / 2, most_low, true},
                      high = {least_high, (least_high + rail->high) / 2, rail->high, true};
    const int node = tl_net_add_node(c->net, path_of(path, signal->name, "source", NULL));
    nodes->contact = tl_net_add_contact(c->net, path);
    nodes->states = 2;
    const int low_param =
        add_param(c, path_of(path, signal->name, "source", "low"), low, TL_DIM_VOLT, true, TL_CAUSE_SOURCE);
    const int high_param =
        add_param(c, path_of(path, signal->name, "source", "high"), high, TL_DIM_VOLT, true, TL_CAUSE_SOURCE);
    tl_net_set_view(c->net, far_driver(c, signal) != TL_NONE ? TL_VIEW_BELIEVED : TL_VIEW_BOTH);
    nodes->on_rail =
        add_driven_rail(c, path_of(path, signal->name, "source", "low"), node,
                        (tl_when){TL_WHEN_CLOSED, nodes->contact}, tl_net_of(low_param), &source->ohms);
    nodes->off_rail =
        add_driven_rail(c, path_of(path, signal->name, "source", "high"), node,
                        (tl_when){TL_WHEN_OPEN, nodes->contact}, tl_net_of(high_param), &source->ohms);
    tl_net_set_view(c->net, TL_VIEW_BOTH);
    return node;
}

static int add_current(tl_circuit *c, const tl_signal *signal, tl_signal_nodes *nodes)
{
    char path[TL_PATH_LONGEST];
    const int node = tl_net_add_node(c->net, path_of(path, signal->name, "source", NULL));
    nodes->unknown = add_param(c, path_of(path, signal->name, "source", "current"),
                               signal->source.value.value, TL_DIM_AMPERE, true, TL_CAUSE_UNKNOWN);
    tl_net_add_current(c->net, path, TL_NET_GROUND, node, tl_net_of(nodes->unknown));
    if (signal->source.supply >= 0) { /* a transmitter may be shorted: then the loop has its supply alone */
        nodes->shorted = tl_net_add_contact(c->net, path_of(path, signal->name, "source", "shorted"));
        tl_net_set_view(c->net, TL_VIEW_BELIEVED);
        tl_net_condition_part(
            c->net,
            tl_net_add_resistor(c->net, path, c->supply_node[signal->source.supply], node, tl_net_fixed(0)),
            TL_WHEN_CLOSED, nodes->shorted);
        tl_net_set_view(c->net, TL_VIEW_BOTH);
    }
    return node;
}

static int add_resistance(tl_circuit *c, const tl_signal *signal, tl_signal_nodes *nodes)
{
    char path[TL_PATH_LONGEST];
    const tl_source *source = &signal->source;
    const int node = tl_net_add_node(c->net, path_of(path, signal->name, "source", NULL));
    int far = rail_node(c, source->supply);
    nodes->unknown = add_param(c, path_of(path, signal->name, "source", "resistance"), source->value.value,
                               TL_DIM_OHM, false, TL_CAUSE_UNKNOWN);
    if (source->ohms.given) {
        const int lead = tl_net_add_node(c->net, path_of(path, signal->name, "source", "lead"));
        add_resistor(c, path_of(path, signal->name, "source", "lead"), lead, far, &source->ohms,
                     TL_CAUSE_LEAD);
        far = lead;
    }
    tl_net_add_resistor(c->net, path_of(path, signal->name, "source", "resistance"), node, far,
                        tl_net_of(nodes->unknown));
    return node;
}

/* Half the supply in the middle of both legs, and half the difference to either side of it. */
static int add_bridge(tl_circuit *c, const tl_signal *signal, tl_signal_nodes *nodes)
{
    char path[TL_PATH_LONGEST];
    const tl_source *source = &signal->source;
    const int supply = source->supply != TL_TO_GROUND ? c->supply_param[source->supply] : TL_NET_NONE;
    const int arm = add_param(c, path_of(path, signal->name, "source", "bridge"), source->ohms.value,
                              TL_DIM_OHM, false, TL_CAUSE_SOURCE);
    int leg[2];
    nodes->unknown = add_param(c, path_of(path, signal->name, "source", "voltage"), source->value.value,
                               TL_DIM_VOLT, true, TL_CAUSE_UNKNOWN);
    for (int i = 0; i < 2; i++) {
        const int middle =
            tl_net_add_node(c->net, path_of(path, signal->name, "source", i == 0 ? "emf" : "emf-negative"));
        leg[i] = tl_net_add_node(c->net, path_of(path, signal->name, "source", i == 0 ? NULL : "negative"));
        tl_net_set_rail(c->net, middle,
                        (tl_net_value){.factor = supply != TL_NET_NONE ? 0.5 : 0,
                                       .first = supply,
                                       .constant = 1,
                                       .second = TL_NET_NONE,
                                       .extra = i == 0 ? 0.5 : -0.5,
                                       .third = nodes->unknown});
        tl_net_add_resistor(
            c->net, path, middle, leg[i],
            (tl_net_value){.factor = 0.5, .first = arm, .constant = 1, .second = TL_NET_NONE});
    }
    nodes->negative = leg[1];
    return leg[0];
}

/* Chain: resistor after resistor, every button from its tap to the rail. Star: every button through its own.
 */
static int add_buttons(tl_circuit *c, const tl_signal *signal, tl_signal_nodes *nodes)
{
    char path[TL_PATH_LONGEST];
    const tl_source *source = &signal->source;
    const int start = tl_net_add_node(c->net, path_of(path, signal->name, "source", NULL));
    const int rail = rail_node(c, source->supply), line = (int)(signal - c->plan->signals);
    int at = start;
    for (int i = 0; i < source->button_count; i++) {
        const tl_source_button *button = &source->buttons[i];
        int part;
        path_of(path, signal->name, "source", button->name);
        nodes->buttons[i] = tl_net_add_contact(c->net, path);
        if (source->kind == TL_SOURCE_STAR) {
            part = place_part(c, part_at(c, line, TL_NONE, i, false), path, start, rail);
        } else {
            const int tap = tl_net_add_node(c->net, path);
            place_part(c, part_at(c, line, TL_NONE, i, false), path, at, tap);
            part = tl_net_add_resistor(c->net, path, tap, rail, tl_net_fixed(0));
            at = tap;
        }
        tl_net_condition_part(c->net, part, TL_WHEN_CLOSED, nodes->buttons[i]);
    }
    nodes->states = 1 + source->button_count;
    return start;
}

static int first_node(tl_circuit *c, const tl_signal *signal, tl_signal_nodes *nodes)
{
    switch (signal->source.kind) {
    case TL_SOURCE_RAIL:
        nodes->unknown = c->supply_param[signal->source.supply];
        return c->supply_node[signal->source.supply];
    case TL_SOURCE_VOLTAGE:
        return add_voltage_source(c, signal, nodes);
    case TL_SOURCE_POTENTIOMETER:
        return add_potentiometer(c, signal, nodes);
    case TL_SOURCE_CURRENT:
        return add_current(c, signal, nodes);
    case TL_SOURCE_RESISTANCE:
        return add_resistance(c, signal, nodes);
    case TL_SOURCE_BRIDGE:
        return add_bridge(c, signal, nodes);
    case TL_SOURCE_CHAIN:
    case TL_SOURCE_STAR:
        return add_buttons(c, signal, nodes);
    case TL_SOURCE_OPEN_COLLECTOR:
        return add_open_collector(c, signal, nodes);
    case TL_SOURCE_LOGIC:
        return add_logic(c, signal, nodes);
    default:
        return add_contact(c, signal, nodes);
    }
}

/* What the first stage is connected to an ideal source stays at the pin when the source comes off. */
int add_source(tl_circuit *c, const tl_signal *signal, tl_signal_nodes *nodes)
{
    const int node = first_node(c, signal, nodes);
    if (signal->stage_count == 0 || tl_stage_shape_of(signal->stages[0].kind)->goes_on ||
        !tl_net_is_rail(c->net, node))
        return node;
    char path[TL_PATH_LONGEST];
    const int behind = tl_net_add_node(c->net, path_of(path, signal->name, "source", NULL));
    tl_net_add_resistor(c->net, path, node, behind, tl_net_fixed(0)); /* its wire */
    return behind;
}
