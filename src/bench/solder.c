/* SPDX-License-Identifier: MIT */
/* The circuit as it really is: every part with its real value, the scene's faults and meters soldered in. */
#include "base/memory.h"
#include "bench/bench_internal.h"
#include <math.h>

static int join(tl_net *net, int a, int b, double ohms)
{
    const int contact = tl_net_add_contact(net, "fault");
    const int part = tl_net_add_resistor(net, "fault", a, b, tl_net_fixed(ohms));
    tl_net_condition_part(net, part, TL_WHEN_CLOSED, contact);
    return contact;
}

/* What a point picks up comes from a rail of its own, whose volts a stimulus moves. */
static int wire_hum(tl_net *net, const tl_scene_fault *fault, int *param)
{
    const int rail = tl_net_add_node(net, "hum");
    *param = tl_net_add_param(net, "hum", 0, 0, 0, false);
    tl_net_set_rail(net, rail, tl_net_of(*param));
    return join(net, fault->node[0], rail, fault->ohms);
}

/* Ends that come off what they are connected to, and go elsewhere. */
static int wire_elsewhere(tl_net *net, const tl_scene_fault *fault)
{
    const int contact = tl_net_add_contact(net, "fault");
    for (int i = 0; i < fault->part_count; i++) {
        const int point = tl_net_take_off(net, fault->parts[i], fault->from_node[i], contact);
        const int wire =
            tl_net_add_resistor(net, "fault", point, fault->to_node[i], tl_net_fixed(fault->ohms));
        tl_net_condition_part(net, wire, TL_WHEN_CLOSED, contact);
    }
    return contact;
}

static int wire_fault(tl_net *net, const tl_scene_fault *fault, int *hum)
{
    if (fault->kind == TL_SCENE_NOISE)
        return wire_hum(net, fault, hum);
    if (fault->kind == TL_SCENE_JOINT || fault->kind == TL_SCENE_MOVED || fault->kind == TL_SCENE_REVERSED ||
        (fault->kind == TL_SCENE_SWAP && fault->part_count > 0))
        return wire_elsewhere(net, fault);
    for (int i = 0; i < fault->part_count; i++)
        (void)tl_net_open_fault(net, fault->parts[i]);
    if (fault->node[0] == TL_NET_NONE)
        return TL_NET_NONE;
    return join(net, fault->node[0], fault->node[1], fault->ohms);
}

/* The contact that cuts a supply off; it is made when the first fault asks for it. */
static int wire_missing(tl_bench *bench, const tl_scene_fault *fault)
{
    for (int i = 0; i < bench->circuit->plan->signal_count; i++) {
        const unpowered of = unpowered_signal(bench, i, fault->supply);
        for (int k = 0; k < of.count; k++)
            (void)tl_net_open_fault(bench->net, of.parts[k]);
    }
    const int node = bench->circuit->supply_rail[fault->supply],
              param = bench->circuit->supply_param[fault->supply];
    if (fault->shorted || node == TL_NET_GROUND)
        return TL_NET_NONE;
    for (int i = 0; i < bench->lift_count; i++) {
        if (bench->lifts[i].node == node)
            return bench->lifts[i].cut;
    }
    bench->lifts = tl_grow(bench->lifts, (size_t)bench->lift_count, sizeof *bench->lifts);
    bench->lifts[bench->lift_count] = (bench_lift){param, node, tl_net_lift_rail(bench->net, node, param)};
    return bench->lifts[bench->lift_count++].cut;
}

/* Switches whose level is on a supply that can be cut off go by its node. */
static void take_switches(tl_bench *bench)
{
    const int count = bench->circuit->switch_count;
    for (int i = 0; i < count; i++) {
        bench->switches = tl_grow(bench->switches, (size_t)bench->switch_count, sizeof *bench->switches);
        tl_switch *sw = &bench->switches[bench->switch_count++];
        double beside;
        *sw = bench->circuit->switches[i];
        for (int k = 0; k < bench->lift_count && sw->against == TL_NET_GROUND && !sw->by_supply; k++) {
            if (!tl_net_stands_on(bench->net, sw->level, bench->lifts[k].param, &beside))
                continue;
            sw->against = bench->lifts[k].node;
            sw->level = tl_net_fixed(beside);
        }
    }
}

static void wire_scene(tl_bench *bench)
{
    const tl_scene *scene = bench->scene;
    const int faults = scene != NULL ? scene->fault_count : 0,
              meters = scene != NULL ? scene->meter_count : 0;
    bench->fault_contact = tl_alloc((size_t)(faults + meters), sizeof *bench->fault_contact);
    bench->hum = tl_alloc((size_t)faults, sizeof *bench->hum);
    for (int i = 0; i < faults; i++) {
        bench->hum[i] = TL_NET_NONE;
        bench->fault_contact[i] = scene->faults[i].kind == TL_SCENE_MISSING
                                      ? wire_missing(bench, &scene->faults[i])
                                      : wire_fault(bench->net, &scene->faults[i], &bench->hum[i]);
    }
    for (int i = 0; i < meters; i++)
        bench->fault_contact[faults + i] =
            join(bench->net, scene->meters[i].node, TL_NET_GROUND, scene->meters[i].ohms);
}

/* Each output by itself, so that one more changes no other part. */
static void draw_outputs(tl_bench *bench)
{
    const tl_circuit *c = bench->circuit;
    random_source own = {0};
    for (int i = c->parts.first[c->plan->line_count], of = TL_NONE; i < c->parts.count; i++) {
        const tl_plan_part *part = &c->parts.part[i];
        if (part->owner != TL_OWNED_BY_OUTPUT || part->param == TL_NONE || bench->seed == TL_BENCH_IDEAL)
            continue;
        double low, high;
        if (part->index != of)
            own = random_stream(bench->seed, RANDOM_LOADS + (unsigned)part->index);
        of = part->index;
        tl_net_param_span(bench->net, part->param, &low, &high);
        bench->values[part->param] = low + (high - low) * random_even(&own);
    }
}

/* Every part gets a real value from its tolerance; what a scene or the plan's nominal decides stays nominal.
 */
static void draw_values(tl_bench *bench)
{
    const tl_net *net = bench->net;
    bench->values = tl_alloc((size_t)tl_net_param_count(net), sizeof *bench->values);
    for (int i = 0; i < tl_net_param_count(net); i++) {
        double low, high;
        tl_net_param_span(net, i, &low, &high);
        /* Outputs have streams of their own; what stands for others, and what the bench adds, is no part. */
        const double even = i >= bench->circuit->part_params ? 0.5 : random_even(&bench->parts);
        bench->values[i] =
            bench->seed == TL_BENCH_IDEAL ? tl_net_param_nominal(net, i) : low + (high - low) * even;
    }
    draw_outputs(bench);
    for (int i = 0; i < bench->circuit->plan->signal_count; i++) {
        const int unknown = bench->circuit->signals[i].unknown;
        if (unknown != TL_NET_NONE)
            bench->values[unknown] =
                tl_net_param_nominal(bench->circuit->net, unknown) * sensor_share(bench, i);
    }
    for (int i = 0; i < bench->circuit->plan->supply_count;
         i++) { /* the ripple goes on top of what is drawn */
        const tl_supply *supply = &bench->circuit->plan->supplies[i];
        double *volts = &bench->values[bench->circuit->supply_param[i]];
        if (supply->ripple > 0 && supply->kind == TL_RAIL_SUPPLY)
            *volts = fmin(fmax(*volts, supply->volts.low + supply->ripple / 2),
                          supply->volts.high - supply->ripple / 2);
    }
}

void wiring_init(tl_bench *bench)
{
    bench->net = tl_net_copy(bench->circuit->net);
    feeds_wire(bench);
    loads_wire(bench);
    wire_scene(bench);
    take_switches(bench);
    draw_values(bench);
    leaks_wire(bench);
    const size_t contacts = (size_t)tl_net_contact_count(bench->net);
    bench->closed = tl_alloc(contacts, sizeof *bench->closed);
    leaks_begin(bench);
    bench->pressed = tl_alloc(contacts, sizeof *bench->pressed);
    bench->by_hand = tl_alloc(contacts, sizeof *bench->by_hand);
    bench->held = tl_alloc(contacts, sizeof *bench->held);
    bench->island_of_contact = tl_alloc(contacts, sizeof *bench->island_of_contact);
}
