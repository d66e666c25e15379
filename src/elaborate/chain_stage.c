/* The stages of a netlist: each answers the node that the next one hangs on. */
#include "elaborate/elaborate.h"
#include <math.h>
#include <stdio.h>

static const tl_located no_ohms = {0};

/* The lower leg can come off: then the whole source is on the pin. */
static void let_lower_off(tl_circuit *c, const tl_signal *signal, const tl_stage *stage, int lower,
                          tl_signal_nodes *nodes)
{
    char path[TL_PATH_LONGEST];
    if (nodes->lower_open == TL_NET_NONE)
        nodes->lower_open =
            tl_net_add_contact(c->net, path_of(path, signal->name, stage->name, "lower-open"));
    tl_net_condition_part(c->net, lower, TL_WHEN_OPEN, nodes->lower_open);
}

static int add_pull(tl_circuit *c, const tl_signal *signal, const tl_stage *stage, int node)
{
    if (!stage->internal)
        return add_resistor(c, signal, stage->name, NULL, node, rail_node(c, stage->to), &stage->first);
    const tl_pin_limits *limits = &c->plan->pins[signal->pin].limits;
    const tl_located own = {.value = stage->up ? limits->pull_up : limits->pull_down};
    const int part = add_resistor(c, signal, stage->name, NULL, node,
                                  stage->up ? c->supply_node[limits->supply] : TL_NET_GROUND, &own);
    tl_net_set_view(c->net, TL_VIEW_SOLDERED); /* the firmware has yet to switch it on */
    tl_net_condition_part(c->net, part, TL_WHEN_CLOSED, pull_contact(c, signal->pin, stage->up));
    tl_net_set_view(c->net, TL_VIEW_BOTH);
    return part;
}

static void add_follower(tl_circuit *c, const tl_signal *signal, const tl_stage *stage, int node, int next,
                         tl_signal_nodes *nodes)
{
    char path[TL_PATH_LONGEST];
    const tl_quantity bias = {-stage->bias, 0, stage->bias, true},
                      offset = {-stage->offset, 0, stage->offset, true};
    path_of(path, signal->name, stage->name, "offset");
    const tl_net_value volts =
        stage->offset > 0 ? tl_net_of(add_param(c, path, offset, TL_DIM_VOLT, true)) : tl_net_fixed(0);
    const double least = isfinite(stage->gain) ? stage->gain / (1 + stage->gain) : 1;
    const tl_quantity gain = {least, (1 + least) / 2, 1, true};
    char gain_path[TL_PATH_LONGEST];
    const tl_net_value followed =
        least < 1 ? tl_net_of(add_param(c, path_of(gain_path, signal->name, stage->name, "gain"), gain,
                                        TL_DIM_NUMBER, false))
                  : tl_net_fixed(1);
    const int part = tl_net_add_follower(
        c->net, path, node, next, volts, followed,
        isfinite(stage->bandwidth) ? 1 / (2 * 3.14159265358979324 * stage->bandwidth) : 0);
    add_follower_limits(c, signal, stage, node, next, part, volts, nodes);
    if (stage->bias > 0)
        tl_net_add_current(c->net, path, node, TL_NET_GROUND,
                           tl_net_of(add_param(c, path_of(path, signal->name, stage->name, "bias"), bias,
                                               TL_DIM_AMPERE, true)));
}

/* What a source's low is, `drop` higher: behind a diode. */
static tl_net_value low_of_source(tl_circuit *c, const tl_signal *signal, const tl_signal_nodes *nodes,
                                  double drop)
{
    char path[TL_PATH_LONGEST];
    const tl_source_kind kind = signal->source.kind;
    const char *name = kind == TL_SOURCE_LOGIC ? "low" : "saturation";
    tl_net_value low = tl_net_fixed(0);
    (void)nodes;
    if (kind != TL_SOURCE_CONTACT)
        low = tl_net_of(tl_circuit_param(c, path_of(path, signal->name, "source", name)));
    low.extra = drop;
    low.third = TL_NET_NONE;
    return low;
}

/* What the part of a shifter keeps for itself while it conducts: at most the usual, and any less. */
static int drop_of(tl_circuit *c, const tl_signal *signal, const tl_stage *stage, const char *name,
                   double most)
{
    char path[TL_PATH_LONGEST];
    const tl_quantity volts = {0, most / 2, most, true};
    return add_param(c, path_of(path, signal->name, stage->name, name), volts, TL_DIM_VOLT, false);
}

/* Into a higher world a driven high holds the pull down through the diode, a diode's volts above itself: the
 * line rises by its pull, and no further than that. */
static void hold_down(tl_circuit *c, const tl_signal *signal, const tl_stage *stage, int next,
                      tl_signal_nodes *nodes)
{
    char path[TL_PATH_LONGEST];
    if (signal->source.kind != TL_SOURCE_LOGIC)
        return;
    const int level = tl_circuit_param(c, path_of(path, signal->name, "source", "high"));
    double least, most;
    tl_net_param_span(c->net, level, &least, &most);
    for (const tl_stage *pull = stage + 1; pull < signal->stages + signal->stage_count; pull++) {
        if (pull->kind != TL_STAGE_PULL || !pull->up || pull->to < 0 ||
            c->plan->supplies[pull->to].volts.low <= most + stage->drop)
            continue;
        tl_net_value held = tl_net_of(level);
        held.extra = stage->drop;
        held.third = TL_NET_NONE;
        const int contact = tl_net_add_contact(c->net, path_of(path, signal->name, stage->name, "held"));
        add_driven_rail(c, signal, stage->name, "held", next, TL_WHEN_CLOSED, contact, held,
                        &signal->source.ohms);
        add_chain_end(nodes, contact, true);
        return;
    }
}

/* The source's side and the pin's side of a shifter are islands of their own: what passes is the level. */
static void add_shifter(tl_circuit *c, const tl_signal *signal, const tl_stage *stage, int node, int next,
                        tl_signal_nodes *nodes)
{
    const bool closes_low = tl_source_closes_low(&signal->source);
    const tl_net_condition low = closes_low ? TL_WHEN_CLOSED : TL_WHEN_OPEN,
                           high = closes_low ? TL_WHEN_OPEN : TL_WHEN_CLOSED;
    const tl_located base = {.value = stage->first.value, .given = true};
    tl_net_value top;
    int loss;
    tl_net_set_view(c->net, TL_VIEW_BELIEVED);
    switch (stage->way) {
    case TL_SHIFT_DIODE:
        add_driven_rail(c, signal, stage->name, "on", next, low, nodes->contact,
                        low_of_source(c, signal, nodes, stage->drop), &signal->source.ohms);
        hold_down(c, signal, stage, next, nodes);
        break;
    case TL_SHIFT_INVERTER: /* typical drops, standards.h */
        add_driven_rail(c, signal, stage->name, "on", next, high, nodes->contact,
                        tl_net_of(drop_of(c, signal, stage, "saturation", tl_saturated)), &no_ohms);
        add_driven_rail(c, signal, stage->name, "base", node, high, nodes->contact, tl_net_fixed(tl_base_on),
                        &base);
        break;
    case TL_SHIFT_N_CHANNEL:
        tl_net_condition_part(c->net, tl_net_add_resistor(c->net, stage->name, node, next, tl_net_fixed(0)),
                              low, nodes->contact);
        break;
    case TL_SHIFT_BUFFER:
        loss = drop_of(c, signal, stage, "loss", tl_buffer_loss);
        top = tl_net_of(c->supply_param[stage->to]);
        top.extra = -1;
        top.third = loss;
        add_driven_rail(c, signal, stage->name, "low", next, low, nodes->contact, tl_net_of(loss), &no_ohms);
        add_driven_rail(c, signal, stage->name, "high", next, high, nodes->contact, top, &no_ohms);
        break;
    }
    tl_net_set_view(c->net, TL_VIEW_SOLDERED);
    add_soldered_shifter(c, signal, stage, node, next);
    tl_net_set_view(c->net, TL_VIEW_BOTH);
}

/* A clamp of the plan's own conducts to its rail and a drop beyond it: away from ground, or below ground. */
static void add_clamp(tl_circuit *c, const tl_signal *signal, const tl_stage *stage, int node,
                      tl_signal_nodes *nodes)
{
    char path[TL_PATH_LONGEST];
    if (stage->to_pin)
        return;
    const bool below = stage->to == TL_TO_GROUND;
    tl_net_value volts = below ? tl_net_fixed(0) : tl_net_of(c->supply_param[stage->to]);
    volts.extra = below ? -stage->drop : stage->drop;
    volts.third = TL_NET_NONE;
    const int contact = tl_net_add_contact(c->net, path_of(path, signal->name, stage->name, NULL));
    tl_net_set_view(c->net, TL_VIEW_BELIEVED);
    const int rail =
        add_driven_rail(c, signal, stage->name, "on", node, TL_WHEN_CLOSED, contact, volts, &no_ohms);
    tl_net_set_view(c->net, TL_VIEW_BOTH);
    add_conducting_clamp(c, path_of(path, signal->name, stage->name, "on"), node, rail, contact, volts, below,
                         counted_on_ohms);
    add_chain_end(nodes, contact, !below);
    *(below ? &nodes->passes_low : &nodes->passes_high) = true;
    *(below ? &nodes->clamp_low : &nodes->clamp_high) = contact;
    *(below ? &nodes->low_rail : &nodes->high_rail) = rail;
}

static void add_capacitor_stage(tl_circuit *c, const tl_signal *signal, const tl_stage *stage, int node)
{
    char path[TL_PATH_LONGEST];
    int plate = node;
    if (stage->second.given) {
        plate = tl_net_add_node(c->net, path_of(path, signal->name, stage->name, "plate"));
        add_resistor(c, signal, stage->name, "resistance", node, plate, &stage->second);
    }
    add_capacitor(c, signal, stage->name, NULL, plate, &stage->first);
}

static bool goes_on(const tl_stage *stage)
{
    switch (stage->kind) {
    case TL_STAGE_SERIES:
    case TL_STAGE_GUARD:
    case TL_STAGE_DIVIDER:
    case TL_STAGE_FILTER:
    case TL_STAGE_FOLLOWER:
    case TL_STAGE_SHIFTER:
        return true;
    default:
        return false;
    }
}

int add_stage(tl_circuit *c, const tl_signal *signal, const tl_stage *stage, int node, tl_signal_nodes *nodes,
              int part[2])
{
    char path[TL_PATH_LONGEST];
    const int next =
        goes_on(stage) ? tl_net_add_node(c->net, path_of(path, signal->name, stage->name, NULL)) : node;
    switch (stage->kind) {
    case TL_STAGE_SERIES:
    case TL_STAGE_GUARD:
        part[0] = add_resistor(c, signal, stage->name, NULL, node, next, &stage->first);
        break;
    case TL_STAGE_DIVIDER:
        part[0] = add_resistor(c, signal, stage->name, "upper", node, next, &stage->first);
        part[1] =
            add_resistor(c, signal, stage->name, "lower", next, rail_node(c, stage->to), &stage->second);
        let_lower_off(c, signal, stage, part[1], nodes);
        break;
    case TL_STAGE_FILTER:
        part[0] = add_resistor(c, signal, stage->name, "series", node, next, &stage->first);
        add_capacitor(c, signal, stage->name, "capacitor", next, &stage->second);
        break;
    case TL_STAGE_PULL:
        part[0] = add_pull(c, signal, stage, node);
        break;
    case TL_STAGE_PARTNER:
        part[0] = add_resistor(c, signal, stage->name, NULL, node, rail_node(c, stage->to), &stage->first);
        break;
    case TL_STAGE_LOAD:
        part[0] = add_resistor(c, signal, stage->name, NULL, node, TL_NET_GROUND, &stage->first);
        break;
    case TL_STAGE_CAPACITOR:
        add_capacitor_stage(c, signal, stage, node);
        break;
    case TL_STAGE_CABLE:
        add_capacitor(c, signal, stage->name, NULL, node, &stage->first);
        break;
    case TL_STAGE_FOLLOWER:
        add_follower(c, signal, stage, node, next, nodes);
        break;
    case TL_STAGE_SHIFTER:
        add_shifter(c, signal, stage, node, next, nodes);
        break;
    case TL_STAGE_CLAMP:
        add_clamp(c, signal, stage, node, nodes);
        break;
    }
    return next;
}
