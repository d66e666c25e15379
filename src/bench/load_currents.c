/* SPDX-License-Identifier: MIT */
/* What flows in outputs, as their islands were looked at last. */
#include "bench/bench_internal.h"

double part_amperes(const tl_bench *bench, const bench_island *s, int part)
{
    int end[2];
    double volts[2];
    tl_net_part_ends(bench->net, part, &end[0], &end[1]);
    for (int i = 0; i < 2; i++) {
        const int index = tl_island_index(s->island, end[i]);
        volts[i] = index != TL_NET_NONE ? s->volts[index] : tl_net_rail_volts(bench->net, end[i], s->values);
    }
    return tl_net_part_amperes(bench->net, part, s->values, volts[0] - volts[1]);
}

int load_pin_node(const tl_bench *bench, const bench_load *load)
{
    int node, rail;
    const int part = bench->circuit->pins[load->pin].drive_part[0];
    if (bench->circuit->pins[load->pin].drive_low == TL_NET_NONE)
        return TL_NET_NONE;
    tl_net_part_ends(bench->net, part, &node, &rail);
    return node;
}

double load_pin_amperes(const tl_bench *bench, const bench_island *s, const bench_load *load)
{
    const tl_pin_contacts *own = &bench->circuit->pins[load->pin];
    const int contact[2] = {own->drive_low, own->drive_high};
    for (int high = 0; high < 2; high++) {
        if (contact[high] != TL_NET_NONE && bench->closed[contact[high]])
            return part_amperes(bench, s, own->drive_part[high]);
    }
    return 0;
}
