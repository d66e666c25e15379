/* SPDX-License-Identifier: MIT */
/* Levels that switches and pins compare with follow the values of their island. */
#include "bench/bench_internal.h"

void pin_levels_update(tl_bench *bench, int pin)
{
    const tl_pin_limits *limits = &bench->circuit->plan->pins[pin].limits;
    bench_pin *p = &bench->pins[pin];
    const int param = limits->supply != TL_NONE ? bench->circuit->supply_param[limits->supply] : TL_NET_NONE;
    p->rail = param == TL_NET_NONE ? 0
              : p->island != NULL  ? param_volts(bench, p->island, param)
                                   : bench->values[param];
    p->lowest = tl_level_volts(limits->lowest, p->rail);
    p->highest = tl_level_volts(limits->highest, p->rail);
    p->vil = tl_level_volts(limits->vil, p->rail);
    p->vih = tl_level_volts(limits->vih, p->rail);
}

bool signal_is_routed(const tl_bench *bench, int signal)
{
    const tl_signal_nodes *nodes = &bench->circuit->signals[signal];
    for (int i = 0; i < nodes->route_length; i++) {
        if (!bench->closed[nodes->route[i]])
            return false;
    }
    return true;
}

void levels_update(tl_bench *bench, bench_island *s)
{
    tl_island_rails(s->island, s->values, &s->lowest, &s->highest);
    s->lowest -= ROOM;
    s->highest += ROOM;
    for (int i = 0; i < s->switch_count; i++) {
        bench_switch *sw = &s->switches[i];
        sw->level = tl_net_value_at(sw->is->level, s->values);
        if (sw->node == TL_NET_NONE)
            sw->level -= tl_net_rail_volts(bench->net, sw->is->node, s->values);
        if (sw->against == TL_NET_NONE)
            sw->level += tl_net_rail_volts(bench->net, sw->is->against, s->values);
    }
    for (int i = 0; i < s->signal_count; i++)
        pin_levels_update(bench, bench->circuit->plan->signals[s->signals[i]].pin);
}
