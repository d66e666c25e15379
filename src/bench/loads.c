/*
 * What hangs on outputs, as far as anybody notices: a driver's load on a supply with resistance of its own, a
 * lamp at such a rail or at a shared return wire. It draws its current while the pin drives it, of a duty the
 * mean; so supplies sag and wires lift their ends. A coil without a flyback diode kills its transistor when
 * it is let go.
 */
#include "base/memory.h"
#include "bench/bench_internal.h"
#include <math.h>

/* Its own value, whatever else is drawn. */
static double drawn(const tl_bench *bench, int output, const tl_located *value)
{
    random_source own = random_stream(bench->seed, RANDOM_LOADS + (unsigned)output);
    return bench->seed == TL_BENCH_IDEAL
               ? value->value.nominal
               : value->value.low + (value->value.high - value->value.low) * random_even(&own);
}

/* A way from a node to volts, of so many ohms divided by the share of the time that it is on. */
static void add_way(tl_bench *bench, bench_load *load, int node, tl_net_value volts, double ohms)
{
    tl_net *net = bench->net;
    const int rail = tl_net_add_node(net, "load");
    tl_net_set_rail(net, rail, volts);
    load->seldom = tl_net_add_param(net, "load", 1, 1, 1, false);
    load->on = tl_net_add_contact(net, "load");
    tl_net_condition_part(net,
                          tl_net_add_resistor(net, "load", node, rail,
                                              (tl_net_value){ohms, load->seldom, 1, 0, TL_NET_NONE, 0, 0}),
                          TL_WHEN_CLOSED, load->on);
}

static void wire_driver(tl_bench *bench, int output)
{
    const tl_plan_output *of = &bench->circuit->plan->outputs[output];
    const tl_driver *driver = &of->driver;
    const int node = bench->circuit->supply_node[driver->supply];
    const bool soft = node != bench->circuit->supply_rail[driver->supply];
    bench_load load = {.output = output,
                       .pin = of->pins[0],
                       .active_high = true,
                       .node = soft ? node : TL_NET_NONE,
                       .supply = bench->circuit->supply_param[driver->supply],
                       .ohms = drawn(bench, output, &driver->load),
                       .drop = (driver->way == TL_DRIVER_BIPOLAR ? driver->saturation : 0) +
                               driver->lamp.value.nominal,
                       .on = TL_NET_NONE,
                       .seldom = TL_NET_NONE};
    load.ohms += driver->way == TL_DRIVER_BIPOLAR ? 0 : driver->on_ohms;
    if (!soft && (!(driver->henries > 0) || driver->flyback))
        return; /* nobody notices */
    load.henries = driver->flyback ? 0 : driver->henries;
    if (soft)
        add_way(bench, &load, node, tl_net_fixed(load.drop), load.ohms);
    bench->loads = tl_grow(bench->loads, (size_t)bench->load_count, sizeof *bench->loads);
    bench->loads[bench->load_count++] = load;
}

/* A lamp that no pin switches: out of the rail it hangs on, into the wire that it returns to. */
static void wire_always_on(tl_bench *bench, int output)
{
    const tl_circuit *c = bench->circuit;
    const tl_plan_output *of = &c->plan->outputs[output];
    const int ends[2] = {of->from, of->to};
    for (int end = 0; end < 2; end++) {
        if (ends[end] == TL_TO_GROUND || c->supply_node[ends[end]] == c->supply_rail[ends[end]])
            continue; /* nobody notices */
        tl_net_value volts = tl_net_fixed(of->lamp.value.nominal);
        if (end == 1) {
            volts = tl_net_of(c->supply_param[of->from]);
            volts.extra = -of->lamp.value.nominal;
            volts.third = TL_NET_NONE;
        }
        const int rail = tl_net_add_node(bench->net, "load");
        tl_net_set_rail(bench->net, rail, volts);
        tl_net_add_resistor(bench->net, "load", c->supply_node[ends[end]], rail,
                            tl_net_fixed(drawn(bench, output, &of->series)));
    }
}

/* From its rail through the lamp into the pin, or from the pin through the lamp into its return wire. */
static void wire_lamps(tl_bench *bench, int output)
{
    const tl_plan *plan = bench->circuit->plan;
    const tl_plan_output *of = &plan->outputs[output];
    if (of->to == TL_TO_GROUND || bench->circuit->supply_node[of->to] == bench->circuit->supply_rail[of->to])
        return;
    const bool returns = tl_plan_rail_is_low(plan, of->to);
    for (int i = 0; i < of->pin_count; i++) {
        const tl_pin_limits *limits = &plan->pins[of->pins[i]].limits;
        const double pin_ohms = limits->drives > 0 ? 0.4 / limits->drives : 50;
        bench_load load = {.output = output,
                           .pin = of->pins[i],
                           .active_high = returns,
                           .node = TL_NET_NONE,
                           .supply = TL_NET_NONE};
        tl_net_value volts = tl_net_fixed(of->lamp.value.nominal);
        if (returns) {
            volts = tl_net_of(bench->circuit->supply_param[limits->supply]);
            volts.extra = -of->lamp.value.nominal;
            volts.third = TL_NET_NONE;
        }
        add_way(bench, &load, bench->circuit->supply_node[of->to], volts,
                of->series.value.nominal + pin_ohms);
        bench->loads = tl_grow(bench->loads, (size_t)bench->load_count, sizeof *bench->loads);
        bench->loads[bench->load_count++] = load;
    }
}

void loads_wire(tl_bench *bench)
{
    for (int i = 0; i < bench->circuit->plan->output_count; i++) {
        const tl_plan_output *of = &bench->circuit->plan->outputs[i];
        if (of->pin_count == 0)
            wire_always_on(bench, i);
        else if (of->driver.way != TL_DRIVER_NONE)
            wire_driver(bench, i);
        else if (of->lamp.given)
            wire_lamps(bench, i);
    }
}

/* In a driver's load, of the time that it is on: the mean, which a coil keeps up. */
static double amperes_in(tl_bench *bench, const bench_load *load)
{
    double volts = bench->values[load->supply];
    for (int k = 0; k < bench->island_count && load->node != TL_NET_NONE; k++) {
        bench_island *s = &bench->islands[k];
        const int index = tl_island_index(s->island, load->node);
        if (index == TL_NET_NONE)
            continue;
        island_advance(bench, s, bench->now_ns);
        volts = s->volts[index];
    }
    return load->share * (volts - load->drop) / load->ohms;
}

/* The current of a coil goes on when its transistor lets go, and lifts that until it breaks down: all its
 * energy. */
static void break_down(tl_bench *bench, const bench_load *load, double amperes)
{
    bench->damages = tl_grow(bench->damages, (size_t)bench->damage_count, sizeof *bench->damages);
    bench->damages[bench->damage_count++] = (tl_bench_damage){.pin = load->pin,
                                                              .output = load->output,
                                                              .at = seconds_of(bench->now_ns),
                                                              .volts = INFINITY,
                                                              .amperes = amperes,
                                                              .joules = load->henries * amperes * amperes / 2,
                                                              .events = 1};
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
        if (share == load->share)
            continue;
        if (load->henries > 0 && share < load->share && ++load->events <= LOAD_EVENTS_MOST)
            break_down(bench, load, amperes_in(bench, load));
        load->share = share;
        if (load->on == TL_NET_NONE)
            continue;
        if (share > 0)
            bench_set_value(bench, load->seldom, 1 / share);
        island_set_contact(bench, load->on, share > 0);
    }
}
