/* SPDX-License-Identifier: MIT */
/*
 * Pins that the plan makes rails of. Such a rail stands at the share of the pin's own supply that the
 * firmware drives it to (all, nothing, or a duty: what is connected to it sees the mean), behind the pin's
 * resistance; while the pin is no output, nothing feeds it. From the start they are driven as the plan says.
 */
#include "base/memory.h"
#include "bench/bench_internal.h"

void feeds_wire(tl_bench *bench)
{
    const tl_plan *plan = bench->circuit->plan;
    for (int i = 0; i < plan->supply_count; i++) {
        const tl_supply *supply = &plan->supplies[i];
        if (supply->kind != TL_RAIL_PIN)
            continue;
        const int emf = bench->circuit->supply_rail[i], node = bench->circuit->supply_node[i],
                  of = bench->circuit->supply_param[plan->pins[supply->pin].limits.supply],
                  share = tl_net_add_param(bench->net, supply->name, supply->high, supply->high, supply->high,
                                           false),
                  cut = tl_net_add_contact(bench->net, supply->name);
        tl_net_set_rail(bench->net, emf, (tl_net_value){1, of, 0, 1, share, 0, TL_NET_NONE});
        int resistance = TL_NET_NONE;
        for (int part = 0; part < tl_net_part_count(bench->net); part++) {
            int a, b;
            tl_net_part_ends(bench->net, part, &a, &b);
            if ((a != emf || b != node) && (a != node || b != emf))
                continue;
            tl_net_condition_part(bench->net, part, TL_WHEN_OPEN, cut);
            resistance = part;
        }
        bench->feeds = tl_grow(bench->feeds, (size_t)bench->feed_count, sizeof *bench->feeds);
        bench->feeds[bench->feed_count++] =
            (bench_feed){.pin = supply->pin, .supply = i, .share = share, .cut = cut, .part = resistance};
    }
}

void feeds_begin(tl_bench *bench)
{
    for (int i = 0; i < bench->feed_count; i++) {
        const bool high = bench->circuit->plan->supplies[bench->feeds[i].supply].high;
        bench->lines[bench->feeds[i].pin] =
            (bench_line){.use = TL_LINE_OUTPUT, .high = high, .duty = high ? UINT16_MAX : 0};
    }
}

void feeds_find(tl_bench *bench)
{
    for (int i = 0; i < bench->feed_count; i++) {
        bench_feed *feed = &bench->feeds[i];
        for (int k = 0; k < bench->island_count && feed->island == NULL; k++) {
            feed->node = tl_island_index(bench->islands[k].island, bench->circuit->supply_node[feed->supply]);
            feed->island = feed->node != TL_NET_NONE ? &bench->islands[k] : NULL;
        }
    }
}

void bench_set_value(tl_bench *bench, int param, double value)
{
    bench->values[param] = value;
    for (int k = 0; k < bench->island_count; k++) {
        bench_island *s = &bench->islands[k];
        if (s->values[param] == value || !tl_island_has_param(s->island, param))
            continue;
        island_advance(bench, s, bench->now_ns);
        island_set_value(bench, s, param, value);
    }
}

void feeds_follow(tl_bench *bench, int pin)
{
    const bench_line line = line_state(bench, pin);
    for (int i = 0; i < bench->feed_count; i++) {
        if (bench->feeds[i].pin != pin)
            continue;
        island_set_contact(bench, bench->feeds[i].cut, line.use != TL_LINE_OUTPUT);
        if (line.use == TL_LINE_OUTPUT)
            bench_set_value(bench, bench->feeds[i].share, (double)line.duty / UINT16_MAX);
    }
}
