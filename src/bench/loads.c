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

/* In a coil, of the time that it is on: the mean. */
static double amperes_in(tl_bench *bench, const bench_load *load)
{
    for (int k = 0; k < bench->island_count; k++) {
        bench_island *s = &bench->islands[k];
        const int b = tl_island_index(s->island, load->coil->b),
                  a = tl_island_index(s->island, load->coil->a);
        if (b == TL_NET_NONE)
            continue;
        island_advance(bench, s, bench->now_ns);
        const double from =
            a != TL_NET_NONE ? s->volts[a] : tl_net_rail_volts(bench->net, load->coil->a, s->values);
        return tl_net_part_amperes(bench->net, load->coil->net, s->values, from - s->volts[b]);
    }
    return 0;
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
    const bench_line *line = &bench->lines[pin];
    for (int i = 0; i < bench->load_count; i++) {
        bench_load *load = &bench->loads[i];
        if (load->pin != pin)
            continue;
        const double high = (double)line->duty / UINT16_MAX, share = line->use != TL_LINE_OUTPUT ? 0
                                                                     : load->active_high         ? high
                                                                                                 : 1 - high;
        if (line->use == TL_LINE_OUTPUT)
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
