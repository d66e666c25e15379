/* SPDX-License-Identifier: MIT */
/* The stages of a netlist: each answers the node that the next one is connected to. */
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

static void add_own_pull(tl_circuit *c, const tl_signal *signal, const tl_stage *stage, int node,
                         tl_plan_part *listed)
{
    const tl_pin_limits *limits = &c->plan->pins[signal->pin].limits;
    const tl_located own = {.value = stage->up ? limits->pull_up : limits->pull_down};
    char path[TL_PATH_LONGEST];
    const int part =
        add_resistor(c, path_of(path, signal->name, stage->name, NULL), node,
                     stage->up ? c->supply_node[limits->supply] : TL_NET_GROUND, &own, TL_CAUSE_PART);
    listed->net = part;
    listed->a = node;
    tl_net_set_view(c->net, TL_VIEW_SOLDERED); /* the firmware has yet to switch it on */
    tl_net_condition_part(c->net, part, TL_WHEN_CLOSED, pull_contact(c, signal->pin, stage->up));
    tl_net_set_view(c->net, TL_VIEW_BOTH);
}

static void add_follower(tl_circuit *c, const tl_signal *signal, const tl_stage *stage, int node, int next,
                         tl_signal_nodes *nodes)
{
    char path[TL_PATH_LONGEST];
    const tl_quantity bias = {-stage->bias, 0, stage->bias, true},
                      offset = {-stage->offset, 0, stage->offset, true};
    path_of(path, signal->name, stage->name, "offset");
    const tl_net_value volts = stage->offset > 0
                                   ? tl_net_of(add_param(c, path, offset, TL_DIM_VOLT, true, TL_CAUSE_OFFSET))
                                   : tl_net_fixed(0);
    const double least = isfinite(stage->gain) ? stage->gain / (1 + stage->gain) : 1;
    const tl_quantity gain = {least, (1 + least) / 2, 1, true};
    char gain_path[TL_PATH_LONGEST];
    const tl_net_value followed =
        least < 1 ? tl_net_of(add_param(c, path_of(gain_path, signal->name, stage->name, "gain"), gain,
                                        TL_DIM_NUMBER, false, TL_CAUSE_GAIN))
                  : tl_net_fixed(1);
    const int part = tl_net_add_follower(c->net, path, node, next,
                                         &(tl_net_follower){volts, followed, tl_lag_of(stage->bandwidth)});
    add_follower_limits(c, signal, stage, &(tl_placed_follower){node, next, part, volts}, nodes);
    if (stage->bias > 0)
        tl_net_add_current(c->net, path, node, TL_NET_GROUND,
                           tl_net_of(add_param(c, path_of(path, signal->name, stage->name, "bias"), bias,
                                               TL_DIM_AMPERE, true, TL_CAUSE_BIAS)));
}

/* What a source's low is. */
static tl_net_value low_of_source(tl_circuit *c, const tl_signal *signal)
{
    char path[TL_PATH_LONGEST];
    const tl_source_kind kind = signal->source.kind;
    const char *name = kind == TL_SOURCE_LOGIC ? "low" : "saturation";
    return kind == TL_SOURCE_CONTACT
               ? tl_net_fixed(0)
               : tl_net_of(tl_circuit_param(c, path_of(path, signal->name, "source", name)));
}

/* A diode lets the source's low pull the line down, a diode's volts above itself, and nothing back. */
static void pull_through(tl_circuit *c, const tl_signal *signal, const tl_stage *stage, int next, tl_when low)
{
    char path[TL_PATH_LONGEST];
    const int cathode = tl_net_add_node(c->net, path_of(path, signal->name, stage->name, "cathode"));
    const tl_net_value level = low_of_source(c, signal);
    add_driven_rail(c, path_of(path, signal->name, stage->name, "on"), cathode, low, level,
                    &signal->source.ohms);
    tl_net_condition_part(c->net, tl_net_add_one_way(c->net, path, next, cathode, tl_net_fixed(stage->drop)),
                          low.gate, low.contact);
}

/* What the part of a shifter keeps for itself while it conducts: at most the usual, and any less. */
static int drop_of(tl_circuit *c, const tl_signal *signal, const tl_stage *stage, const char *name,
                   double most)
{
    char path[TL_PATH_LONGEST];
    const tl_quantity volts = {0, most / 2, most, true};
    return add_param(c, path_of(path, signal->name, stage->name, name), volts, TL_DIM_VOLT, false,
                     TL_CAUSE_DROP);
}

/* A base that conducts stands between these volts. */
static tl_net_value base_of(tl_circuit *c, const tl_signal *signal, const tl_stage *stage)
{
    char path[TL_PATH_LONGEST];
    const tl_quantity volts = {tl_base_on_least, tl_base_on, tl_base_on_most, true};
    return tl_net_of(add_param(c, path_of(path, signal->name, stage->name, "base-on"), volts, TL_DIM_VOLT,
                               false, TL_CAUSE_DROP));
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
        add_driven_rail(c, path, next, (tl_when){TL_WHEN_CLOSED, contact}, held, &signal->source.ohms);
        add_chain_end(nodes, contact, true);
        return;
    }
}

/* The source's side and the pin's side of a shifter are islands of their own: what passes is the level. */
static void add_shifter(tl_circuit *c, const tl_signal *signal, const tl_stage *stage, int node, int next,
                        tl_signal_nodes *nodes)
{
    const bool closes_low = tl_source_closes_low(&signal->source);
    const tl_when low = {closes_low ? TL_WHEN_CLOSED : TL_WHEN_OPEN, nodes->contact},
                  high = {closes_low ? TL_WHEN_OPEN : TL_WHEN_CLOSED, nodes->contact};
    char path[TL_PATH_LONGEST];
    const tl_located base = {.value = stage->first.value, .given = true};
    tl_net_value top;
    int loss;
    tl_net_set_view(c->net, TL_VIEW_BELIEVED);
    switch (stage->way) {
    case TL_SHIFT_DIODE:
        pull_through(c, signal, stage, next, low);
        hold_down(c, signal, stage, next, nodes);
        break;
    case TL_SHIFT_INVERTER: /* typical drops, standards.h */
        add_driven_rail(c, path_of(path, signal->name, stage->name, "on"), next, high,
                        tl_net_of(drop_of(c, signal, stage, "saturation", tl_saturated)), &no_ohms);
        add_driven_rail(c, path_of(path, signal->name, stage->name, "base"), node, high,
                        base_of(c, signal, stage), &base);
        break;
    case TL_SHIFT_N_CHANNEL:
        /* Its channel, or its body diode, takes the pin's side down to the source's low: never the other way.
         */
        tl_net_condition_part(c->net, tl_net_add_one_way(c->net, stage->name, next, node, tl_net_fixed(0)),
                              low.gate, low.contact);
        break;
    case TL_SHIFT_BUFFER:
        loss = drop_of(c, signal, stage, "loss", tl_buffer_loss);
        top = tl_net_of(c->supply_param[stage->to]);
        top.extra = -1;
        top.third = loss;
        add_driven_rail(c, path_of(path, signal->name, stage->name, "low"), next, low, tl_net_of(loss),
                        &no_ohms);
        add_driven_rail(c, path_of(path, signal->name, stage->name, "high"), next, high, top, &no_ohms);
        break;
    }
    tl_net_set_view(c->net, TL_VIEW_SOLDERED);
    add_soldered_shifter(c, signal, stage, node, next);
    tl_net_set_view(c->net, TL_VIEW_BOTH);
}

/* A part that holds its node conducts beyond these volts: away from ground, or below them. */
static void add_holding(tl_circuit *c, const tl_signal *signal, tl_plan_part *part, int node,
                        tl_net_value volts, tl_signal_nodes *nodes)
{
    char path[TL_PATH_LONGEST];
    const bool high = part->up;
    const int contact = tl_net_add_contact(c->net, part->path);
    tl_net_set_view(c->net, TL_VIEW_BELIEVED);
    const int rail = add_driven_rail(c, path_of(path, signal->name, part->of->name, "on"), node,
                                     (tl_when){TL_WHEN_CLOSED, contact}, volts, &no_ohms);
    tl_net_set_view(c->net, TL_VIEW_BOTH);
    add_conducting_clamp(
        c, path_of(path, part->path, "on", NULL), rail, counted_on_ohms,
        (tl_switch){
            .contact = contact, .node = node, .against = TL_NET_GROUND, .level = volts, .below = !high});
    add_chain_end(nodes, contact, high);
    part->a = node;
    part->b = rail;
    *(high ? &nodes->passes_high : &nodes->passes_low) = true;
    *(high ? &nodes->clamp_high : &nodes->clamp_low) = contact;
    *(high ? &nodes->high_rail : &nodes->low_rail) = rail;
}

/* To its rail, and a drop beyond it. */
static void add_clamp(tl_circuit *c, const tl_signal *signal, const tl_stage *stage, tl_plan_part *part,
                      int node, tl_signal_nodes *nodes)
{
    if (stage->to_pin)
        return;
    tl_net_value volts = part->up ? tl_net_of(c->supply_param[stage->to]) : tl_net_fixed(0);
    volts.extra = part->up ? stage->drop : -stage->drop;
    volts.third = TL_NET_NONE;
    add_holding(c, signal, part, node, volts, nodes);
}

/* What a part of a stage adds, between its ends. */
typedef struct {
    int node, next, inside;
} stage_ends;

static void add_part(tl_circuit *c, const tl_signal *signal, const tl_stage *stage, tl_plan_part *part,
                     stage_ends *at, tl_signal_nodes *nodes)
{
    char path[TL_PATH_LONGEST];
    const tl_part_shape *shape = &tl_stage_shape_of(stage->kind)->part[part->leg];
    if (stage->internal) {
        add_own_pull(c, signal, stage, at->node, part);
        return;
    }
    if (shape->to == TL_END_INSIDE)
        at->inside = tl_net_add_node(c->net, path_of(path, signal->name, stage->name, "plate"));
    const int ends[] = {[TL_END_AT] = at->node,
                        [TL_END_NEXT] = at->next,
                        [TL_END_INSIDE] = at->inside,
                        [TL_END_RAIL] = rail_node(c, stage->to),
                        [TL_END_GROUND] = TL_NET_GROUND};
    const int net = place_part(c, part, part->path, ends[shape->from], ends[shape->to]);
    if (shape->role == TL_PART_LOWER)
        let_lower_off(c, signal, stage, net, nodes);
}

int add_stage(tl_circuit *c, const tl_signal *signal, int index, bool twin, int node, tl_signal_nodes *nodes)
{
    char path[TL_PATH_LONGEST], name[TL_PATH_LONGEST];
    tl_stage other_leg = signal->stages[index];
    snprintf(name, sizeof name, "%.100s-negative", other_leg.name);
    other_leg.name = name;
    const tl_stage *stage = twin ? &other_leg : &signal->stages[index];
    const tl_stage_shape *shape = tl_stage_shape_of(stage->kind);
    const int next =
        shape->goes_on ? tl_net_add_node(c->net, path_of(path, signal->name, stage->name, NULL)) : node;
    stage_ends at = {node, next, node};
    if (stage->kind == TL_STAGE_FOLLOWER)
        add_follower(c, signal, stage, node, next, nodes);
    if (stage->kind == TL_STAGE_SHIFTER)
        add_shifter(c, signal, stage, node, next, nodes);
    for (int leg = 0; leg < shape->parts; leg++) {
        tl_plan_part *part = part_at(c, (int)(signal - c->plan->signals), index, leg, twin);
        if (part != NULL && (tl_role_of(part->role)->traits & TL_HOLDS) != 0)
            add_clamp(c, signal, stage, part, node, nodes);
        else if (part != NULL && part->value != NULL && stage->kind != TL_STAGE_SHIFTER)
            add_part(c, signal, stage, part, &at, nodes);
    }
    return next;
}
