/* SPDX-License-Identifier: MIT */
/*
 * What is connected to outputs: their lamps, loads and transistors are in the circuit; here their pins switch
 * them. Of a duty they see the mean: what is on for a share of the time has so much larger ohms. A coil
 * without a flyback diode kills its transistor when it is released.
 */
#include "base/memory.h"
#include "bench/bench_internal.h"
#include <math.h>

/* Of a driver's coil: the part that its current flows through. */
static const tl_plan_part *load_of(const tl_circuit *c, int output)
{
    for (int i = c->parts.first[c->plan->line_count]; i < c->parts.count; i++) {
        const tl_plan_part *part = &c->parts.part[i];
        if (part->owner == TL_OWNED_BY_OUTPUT && part->index == output && part->role == TL_PART_DRIVEN)
            return part;
    }
    return NULL;
}

void loads_wire(tl_bench *bench)
{
    const tl_circuit *c = bench->circuit;
    for (int i = 0; i < c->plan->output_count; i++) {
        const tl_plan_output *of = &c->plan->outputs[i];
        const bool driven = of->driver.way != TL_DRIVER_NONE;
        for (int leg = 0; leg < of->pin_count; leg++) {
            if (c->outputs[c->first_leg[i] + leg].on == TL_NET_NONE)
                continue;
            bench->loads = tl_grow(bench->loads, (size_t)bench->load_count, sizeof *bench->loads);
            bench->loads[bench->load_count++] = (bench_load){
                .output = i,
                .pin = of->pins[leg],
                .active_high = driven || tl_plan_rail_is_low(c->plan, of->to),
                .nodes = &c->outputs[c->first_leg[i] + leg],
                .coil = driven && !of->driver.flyback && of->driver.henries > 0 ? load_of(c, i) : NULL};
        }
    }
}

static const double least_amperes = 1e-6; /* what only leaks lights no lamp */

static bench_island *island_of(tl_bench *bench, int node)
{
    for (int k = 0; k < bench->island_count; k++) {
        if (tl_island_index(bench->islands[k].island, node) != TL_NET_NONE)
            return &bench->islands[k];
    }
    return NULL;
}

/* In a coil, of the time that it is on: the mean. */
static double amperes_in(tl_bench *bench, const bench_load *load)
{
    bench_island *s = island_of(bench, load->coil->b);
    if (s == NULL)
        return 0;
    island_advance(bench, s, bench->now_ns);
    return part_amperes(bench, s, load->coil->net);
}

/* Through the transistor while it is on; else what something shorted in its place lets through the load. */
static double driven_amperes(tl_bench *bench, const bench_load *load)
{
    const tl_plan_part *of = load_of(bench->circuit, load->output);
    const bool on = bench->closed[load->nodes->channel];
    const int part = on ? load->nodes->transistor : of != NULL ? of->net : TL_NET_NONE;
    int drain, below;
    if (part == TL_NET_NONE)
        return 0;
    tl_net_part_ends(bench->net, load->nodes->transistor, &drain, &below);
    bench_island *s = island_of(bench, drain);
    if (s == NULL)
        return 0;
    island_advance(bench, s, bench->now_ns);
    return part_amperes(bench, s, part);
}

void loads_find(tl_bench *bench)
{
    for (int i = 0; i < bench->load_count; i++) {
        const int node = load_pin_node(bench, &bench->loads[i]);
        bench->loads[i].island = node != TL_NET_NONE ? island_of(bench, node) : NULL;
    }
}

double tl_bench_load_amperes(tl_bench *bench, int output)
{
    double sum = 0;
    for (int i = 0; i < bench->load_count; i++) {
        const bench_load *load = &bench->loads[i];
        if (load->output != output)
            continue;
        if (load->nodes->channel == TL_NET_NONE && load->island != NULL) {
            island_advance(bench, load->island, bench->now_ns);
            sum += fabs(load_pin_amperes(bench, load->island, load));
        } else if (load->nodes->channel != TL_NET_NONE) {
            sum += fabs(driven_amperes(bench, load));
        }
    }
    return sum > least_amperes ? sum : 0;
}

/* The current of a coil goes on when its transistor releases, and lifts that until it breaks down: all its
 * energy. */
static void break_down(tl_bench *bench, const bench_load *load, double amperes)
{
    const double henries = bench->circuit->plan->outputs[load->output].driver.henries;
    bench->damages = tl_grow(bench->damages, (size_t)bench->damage_count, sizeof *bench->damages);
    bench->damages[bench->damage_count++] = (tl_bench_damage){.pin = load->pin,
                                                              .output = load->output,
                                                              .at = seconds_of(bench->now_ns),
                                                              .volts = INFINITY,
                                                              .amperes = amperes,
                                                              .joules = tl_coil_joules(henries, amperes),
                                                              .events = 1};
}

/* The pin stands at its active level for as much as its load sees of it. */
static void drive_for(tl_bench *bench, const bench_load *load, bool on)
{
    const tl_pin_contacts *own = &bench->circuit->pins[load->pin];
    const bool high = on == load->active_high;
    for (int opens = 1; opens >= 0; opens--) { /* break before make */
        if (own->drive_low != TL_NET_NONE && high == (opens == 1))
            island_set_contact(bench, own->drive_low, !high);
        if (own->drive_high != TL_NET_NONE && high != (opens == 1))
            island_set_contact(bench, own->drive_high, high);
    }
}

void loads_follow(tl_bench *bench, int pin)
{
    const bench_line line = line_state(bench, pin);
    for (int i = 0; i < bench->load_count; i++) {
        bench_load *load = &bench->loads[i];
        if (load->pin != pin)
            continue;
        const double high = (double)line.duty / UINT16_MAX, share = line.use != TL_LINE_OUTPUT ? 0
                                                                    : load->active_high        ? high
                                                                                               : 1 - high;
        if (line.use == TL_LINE_OUTPUT)
            drive_for(bench, load, share > 0);
        if (share == load->share)
            continue;
        if (load->coil != NULL && share < load->share && ++load->events <= LOAD_EVENTS_MOST)
            break_down(bench, load, amperes_in(bench, load));
        load->share = share;
        if (share > 0)
            bench_set_value(bench, load->nodes->seldom, 1 / share);
        if (load->nodes->channel != TL_NET_NONE)
            island_set_contact(bench, load->nodes->channel, share > 0);
    }
}
