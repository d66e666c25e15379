/* SPDX-License-Identifier: MIT */
/*
 * What outputs drive: lamps, loads behind transistors, and the pins in front of them, in both views.
 *
 * As believed, each is behind a contact that is closed while its output is on, and no island goes through it
 * unless it is asked with that contact closed. What outputs may take from a supply with resistance, or send
 * into a wire that others use, stands there as well, all of them together as one resistor and one drop:
 * signals on the same node feel it. As soldered, they are there, and the bench drives their pins and
 * transistors.
 */
#include "base/memory.h"
#include "elaborate/elaborate.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>

/* One pin of an output, or one that is always on. */
typedef struct {
    int output, leg;
    tl_output_nodes *nodes;
} branch;

static tl_plan_part *part_of(tl_circuit *c, const branch *b, tl_part_role role)
{
    for (int i = c->parts.first[c->plan->line_count]; i < c->parts.count; i++) {
        tl_plan_part *part = &c->parts.part[i];
        if (part->owner == TL_OWNED_BY_OUTPUT && part->index == b->output && part->leg == b->leg &&
            part->role == role)
            return part;
    }
    return NULL;
}

static char *name_of(const tl_circuit *c, const branch *b, const char *what, char text[TL_PATH_LONGEST])
{
    const tl_plan_output *o = &c->plan->outputs[b->output];
    if (o->pin_count > 1)
        snprintf(text, TL_PATH_LONGEST, "%.100s.%s-%d", o->name, what, b->leg + 1);
    else
        snprintf(text, TL_PATH_LONGEST, "%.100s.%s", o->name, what);
    return text;
}

/* Believed only while the output is on; soldered always. */
static void believe_when_on(tl_circuit *c, const branch *b, int part)
{
    tl_net_set_view(c->net, TL_VIEW_BELIEVED);
    tl_net_condition_part(c->net, part, TL_WHEN_CLOSED, b->nodes->on);
    tl_net_set_view(c->net, TL_VIEW_BOTH);
}

/* This many times its ohms, where it is on for a share of the time alone: what passes then is the mean. */
static tl_net_value while_on(const branch *b, int param)
{
    return (tl_net_value){.factor = 1, .first = param, .slope = 1, .second = b->nodes->seldom};
}

static void add_ohms(tl_circuit *c, const branch *b, tl_plan_part *part, int from, int to)
{
    part->param = add_param(c, part->path, part->value->value, TL_DIM_OHM, false, TL_CAUSE_PART);
    c->param[part->param].drift = part->value->drift;
    part->net = tl_net_add_resistor(c->net, part->path, from, to, while_on(b, part->param));
    part->a = from;
    part->b = to;
    part->contact = b->nodes->on;
    c->param[part->param].output = b->nodes;
    believe_when_on(c, b, part->net);
}

/* A drop that conducts from a to b alone; answers the part that is believed. */
static int add_drop(tl_circuit *c, const branch *b, const char *path, int from, int to, tl_net_value volts)
{
    tl_net_set_view(c->net, TL_VIEW_BELIEVED);
    const int part = tl_net_add_one_way(c->net, path, from, to, volts);
    tl_net_condition_part(c->net, part, TL_WHEN_CLOSED, b->nodes->on);
    tl_net_set_view(c->net, TL_VIEW_SOLDERED);
    add_diode(c, path, from, to, volts, TL_DROP_OHMS);
    tl_net_set_view(c->net, TL_VIEW_BOTH);
    return part;
}

static void add_lamp(tl_circuit *c, const branch *b, tl_plan_part *part, int from, int to)
{
    part->param = add_param(c, part->path, part->value->value, TL_DIM_VOLT, true, TL_CAUSE_PART);
    c->param[part->param].output = b->nodes;
    part->net = add_drop(c, b, part->path, from, to, tl_net_of(part->param));
    part->a = from;
    part->b = to;
    part->contact = b->nodes->on;
}

/* What is in the way from one node to another: its resistor, and a lamp behind it. */
static void add_load(tl_circuit *c, const branch *b, int from, int to)
{
    tl_plan_part *lamp = part_of(c, b, TL_PART_LAMP), *ohms = part_of(c, b, TL_PART_LAMP_SERIES);
    if (ohms == NULL)
        ohms = part_of(c, b, TL_PART_DRIVEN);
    if (ohms == NULL)
        return;
    const int between = lamp != NULL ? tl_net_add_node(c->net, ohms->path) : to;
    add_ohms(c, b, ohms, from, between);
    if (lamp != NULL)
        add_lamp(c, b, lamp, between, to);
}

/* A pin that drives: its rail or ground, behind at most what it drops at the current that it drives. */
static int add_pin(tl_circuit *c, const branch *b, bool high)
{
    char path[TL_PATH_LONGEST];
    const int pin = c->plan->outputs[b->output].pins[b->leg];
    const tl_pin_limits *limits = &c->plan->pins[pin].limits;
    const int node = tl_net_add_node(c->net, name_of(c, b, "pin", path));
    const double most = driver_most_ohms(c, limits, high);
    const tl_quantity ohms = {0, most / 2, most, true};
    const int param = add_param(c, path, ohms, TL_DIM_OHM, false, TL_CAUSE_SOURCE_OHMS);
    c->param[param].output = b->nodes;
    tl_net_set_view(c->net, TL_VIEW_BELIEVED);
    const int part = tl_net_add_resistor(
        c->net, path, node, high ? c->supply_node[limits->supply] : TL_NET_GROUND, tl_net_of(param));
    tl_net_condition_part(c->net, part, TL_WHEN_CLOSED, b->nodes->on);
    tl_net_set_view(c->net, TL_VIEW_SOLDERED);
    if (c->pins[pin].drive_low == TL_NET_NONE)
        add_pin_driver(c, pin, node, false, b->nodes->seldom);
    tl_net_set_view(c->net, TL_VIEW_BOTH);
    return node;
}

/* --- transistors --- */

/* From the load to ground. Soldered it is the bench that switches it, as the pin says. */
static void add_transistor(tl_circuit *c, const branch *b, int drain)
{
    char path[TL_PATH_LONGEST], drop_path[TL_PATH_LONGEST];
    const tl_driver *d = &c->plan->outputs[b->output].driver;
    const bool bipolar = d->way == TL_DRIVER_BIPOLAR;
    const double ohms = bipolar ? TL_DROP_OHMS : fmax(d->on_ohms, TL_DROP_OHMS);
    const int below = bipolar ? tl_net_add_node(c->net, name_of(c, b, "saturation", path)) : TL_NET_GROUND;
    name_of(c, b, "transistor", path);
    b->nodes->channel = tl_net_add_contact(c->net, path);
    const int part = tl_net_add_resistor(
        c->net, path, drain, below,
        (tl_net_value){.factor = ohms, .first = b->nodes->seldom, .constant = 1, .second = TL_NET_NONE});
    b->nodes->transistor = part;
    tl_net_set_view(c->net, TL_VIEW_SOLDERED);
    tl_net_condition_part(c->net, part, TL_WHEN_CLOSED, b->nodes->channel);
    tl_net_set_view(c->net, TL_VIEW_BOTH);
    if (!bipolar)
        return;
    const tl_quantity saturation = {0, d->saturation / 2, d->saturation, true};
    const int param =
        add_param(c, name_of(c, b, "saturation", drop_path), saturation, TL_DIM_VOLT, true, TL_CAUSE_DROP);
    c->param[param].output = b->nodes;
    add_drop(c, b, drop_path, below, TL_NET_GROUND, tl_net_of(param));
}

/* From the pin through its resistor to the base or gate, and what holds that off. */
static void add_control(tl_circuit *c, const branch *b)
{
    char path[TL_PATH_LONGEST];
    tl_plan_part *series = part_of(c, b, TL_PART_CONTROL), *pull = part_of(c, b, TL_PART_CONTROL_PULL);
    const bool bipolar = c->plan->outputs[b->output].driver.way == TL_DRIVER_BIPOLAR;
    const int pin = add_pin(c, b, true);
    b->nodes->control =
        series != NULL ? tl_net_add_node(c->net, name_of(c, b, bipolar ? "base" : "gate", path)) : pin;
    if (series != NULL)
        add_ohms(c, b, series, pin, b->nodes->control);
    if (pull != NULL)
        add_ohms(c, b, pull, b->nodes->control, TL_NET_GROUND);
    if (!bipolar)
        return;
    const tl_quantity volts = {tl_base_on_least, tl_base_on, tl_base_on_most, true};
    const int param =
        add_param(c, name_of(c, b, "base-emitter", path), volts, TL_DIM_VOLT, true, TL_CAUSE_DROP);
    c->param[param].output = b->nodes;
    b->nodes->base = add_drop(c, b, path, b->nodes->control, TL_NET_GROUND, tl_net_of(param));
}

/* --- each output --- */

static void add_output(tl_circuit *c, const branch *b)
{
    char path[TL_PATH_LONGEST];
    const tl_plan_output *o = &c->plan->outputs[b->output];
    const bool driven = o->driver.way != TL_DRIVER_NONE, high = tl_plan_rail_is_low(c->plan, o->to);
    *b->nodes = (tl_output_nodes){.on = TL_NET_NONE,
                                  .seldom = TL_NET_NONE,
                                  .channel = TL_NET_NONE,
                                  .transistor = TL_NET_NONE,
                                  .control = TL_NET_NONE,
                                  .base = TL_NET_NONE};
    if (!driven && !o->lamp.given)
        return;
    b->nodes->on = tl_net_add_contact(c->net, name_of(c, b, "on", path));
    tl_net_set_route(c->net, b->nodes->on);
    b->nodes->seldom = add_param(c, name_of(c, b, "seldom", path), (tl_quantity){1, 1, 1, false},
                                 TL_DIM_NUMBER, false, TL_CAUSE_SWITCH);
    if (driven) {
        const int drain = tl_net_add_node(c->net, name_of(c, b, "load-end", path));
        add_load(c, b, c->supply_node[o->driver.supply], drain);
        add_transistor(c, b, drain);
        add_control(c, b);
    } else if (o->pin_count == 0) {
        add_load(c, b, rail_node(c, o->from), rail_node(c, o->to));
    } else {
        const int pin = add_pin(c, b, high);
        add_load(c, b, high ? pin : rail_node(c, o->to), high ? rail_node(c, o->to) : pin);
    }
}

/* --- what signals on the same nodes feel of them --- */

/* Outputs between the same two nodes, with lamps of the same volts: side by side they are one. */
typedef struct {
    int from, to;
    tl_quantity volts, siemens; /* of the lamp, 0 where there is none; of all together */
    bool always;
} lump;

static bool is_soft(const tl_circuit *c, int node)
{
    return !tl_net_is_rail(c->net, node);
}

static bool is_like(const lump *l, const lump *other)
{
    return l->from == other->from && l->to == other->to && l->always == other->always &&
           l->volts.low == other->volts.low && l->volts.high == other->volts.high;
}

/* One load by its ends, its drop, and what its ohms may be with the pin's and the transistor's. */
static bool load_of(const tl_circuit *c, const tl_plan_output *o, int leg, lump *l, tl_quantity *ohms)
{
    const tl_driver *d = &o->driver;
    const bool driven = d->way != TL_DRIVER_NONE, high = tl_plan_rail_is_low(c->plan, o->to);
    *l = (lump){.always = o->pin_count == 0};
    if (driven) {
        *ohms = d->load.value;
        l->volts = d->lamp.value;
        l->from = c->supply_node[d->supply];
        l->to = TL_NET_GROUND;
        if (d->way == TL_DRIVER_BIPOLAR) {
            l->volts.high += d->saturation;
            l->volts.nominal += d->saturation / 2;
        } else {
            ohms->low += d->on_ohms;
            ohms->nominal += d->on_ohms;
            ohms->high += d->on_ohms;
        }
        return true;
    }
    if (!o->lamp.given)
        return false;
    *ohms = o->series.value;
    l->volts = o->lamp.value;
    l->from = l->always ? c->supply_node[o->from] : high ? TL_NET_GROUND : c->supply_node[o->to];
    l->to =
        l->always || high ? (o->to == TL_TO_GROUND ? TL_NET_GROUND : c->supply_node[o->to]) : TL_NET_GROUND;
    if (!l->always) {
        const tl_pin_limits *limits = &c->plan->pins[o->pins[leg]].limits;
        const double most = driver_most_ohms(c, limits, high);
        l->from = high ? c->supply_node[limits->supply] : l->from;
        ohms->nominal += most / 2;
        ohms->high += most;
    }
    return true;
}

static void add_lump(tl_circuit *c, const lump *l, int number)
{
    char path[TL_PATH_LONGEST], what[24];
    const char *owner = tl_net_node_name(c->net, is_soft(c, l->from) ? l->from : l->to);
    snprintf(what, sizeof what, number > 0 ? "loads-%d" : "loads", number + 1);
    const tl_quantity on = tl_ohms_of(&l->siemens);
    const tl_quantity ohms = l->always ? on : (tl_quantity){on.low, loads_off_ohms, loads_off_ohms, true};
    const int param = add_param(c, path_of(path, owner, what, NULL), ohms, TL_DIM_OHM, false, TL_CAUSE_LOADS);
    c->has_loads = true;
    c->param[param].node = is_soft(c, l->from) ? l->from : l->to;
    tl_net_set_view(c->net, TL_VIEW_BELIEVED);
    const bool lamp = l->volts.high > 0;
    const int between = lamp ? tl_net_add_node(c->net, path) : l->to;
    tl_net_add_resistor(c->net, path, l->from, between, tl_net_of(param));
    if (lamp) {
        const int volts =
            add_param(c, path_of(path, owner, what, "volts"), l->volts, TL_DIM_VOLT, true, TL_CAUSE_LOADS);
        c->param[volts].node = c->param[param].node;
        tl_net_add_one_way(c->net, path, between, l->to, tl_net_of(volts));
    }
    tl_net_set_view(c->net, TL_VIEW_BOTH);
}

static void add_lumps(tl_circuit *c)
{
    lump *lumps = NULL;
    int count = 0;
    for (int i = 0; i < c->plan->output_count; i++) {
        const tl_plan_output *o = &c->plan->outputs[i];
        for (int leg = 0; leg < (o->pin_count > 0 ? o->pin_count : 1); leg++) {
            lump l;
            tl_quantity ohms;
            int at = 0;
            if (!load_of(c, o, leg, &l, &ohms) || (!is_soft(c, l.from) && !is_soft(c, l.to)))
                continue;
            while (at < count && !is_like(&lumps[at], &l))
                at++;
            if (at == count) {
                lumps = tl_grow(lumps, (size_t)count, sizeof *lumps);
                lumps[count++] = l;
            }
            tl_beside(&lumps[at].siemens, &ohms);
        }
    }
    for (int i = 0; i < count; i++) {
        int number = 0; /* of those that are called after the same node */
        for (int k = 0; k < i; k++) {
            const int one = is_soft(c, lumps[k].from) ? lumps[k].from : lumps[k].to,
                      other = is_soft(c, lumps[i].from) ? lumps[i].from : lumps[i].to;
            number += one == other;
        }
        add_lump(c, &lumps[i], number);
    }
    free(lumps);
}

void add_outputs(tl_circuit *c)
{
    int count = 0;
    c->first_leg = tl_alloc((size_t)c->plan->output_count + 1, sizeof *c->first_leg);
    for (int i = 0; i < c->plan->output_count; i++) {
        c->first_leg[i] = count;
        count += c->plan->outputs[i].pin_count > 0 ? c->plan->outputs[i].pin_count : 1;
    }
    c->first_leg[c->plan->output_count] = count;
    c->outputs = tl_alloc((size_t)count, sizeof *c->outputs);
    c->output_figures = tl_alloc((size_t)c->plan->output_count, sizeof *c->output_figures);
    for (int i = 0; i < c->plan->output_count; i++) {
        for (int leg = 0; leg < c->first_leg[i + 1] - c->first_leg[i]; leg++) {
            const branch b = {i, leg, &c->outputs[c->first_leg[i] + leg]};
            add_output(c, &b);
        }
    }
    add_lumps(c);
}
