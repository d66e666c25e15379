/* SPDX-License-Identifier: MIT */
/*
 * What leaks. Each part's leakage is drawn, so it is known which way it flows: from the pin's supply into its
 * node, or out of it to ground, and never further than that. A current into a point of its own, a diode from
 * there to the node, and one back to where the current comes from: once the node stands as high as that, it
 * flows back there. It does so over the last few microvolts, not at once: between two diodes that are both
 * ideal a node that stands at its rail would turn them for ever.
 */
#include "base/memory.h"
#include "bench/bench_internal.h"
#include <math.h>

/* Ideal but for these, which make no difference to anything: ohms towards the node, and volts beyond the rail
 * at which all of a leakage flows back. */
static const double diode_ohms = 1e-3, volts_back = 1e-5;

/* Answers its contact. */
static int add_diode(tl_bench *bench, int anode, int cathode, double ohms)
{
    const int contact = tl_net_add_contact(bench->net, "leak");
    tl_net_condition_part(bench->net,
                          tl_net_add_resistor(bench->net, "leak", anode, cathode, tl_net_fixed(ohms)),
                          TL_WHEN_CLOSED, contact);
    bench->switches = tl_grow(bench->switches, (size_t)bench->switch_count, sizeof *bench->switches);
    bench->switches[bench->switch_count++] =
        (tl_switch){contact, anode, cathode, tl_net_fixed(0), false, false, false};
    return contact;
}

static void wire(tl_bench *bench, const tl_leak *leak)
{
    const double amperes = tl_net_value_at(leak->out, bench->values);
    const bool out = amperes > 0;
    const int rail = out ? leak->low : leak->high;
    if (amperes == 0 || rail == TL_NET_NONE)
        return;
    const int point = tl_net_add_node(bench->net, "leak");
    const int part = tl_net_add_current(bench->net, "leak", point, rail, leak->out);
    if (leak->gate != TL_WHEN_ALWAYS)
        tl_net_condition_part(bench->net, part, leak->gate, leak->contact);
    const double back_ohms = fmax(volts_back / fabs(amperes), diode_ohms);
    const int to_node = out ? add_diode(bench, leak->node, point, diode_ohms)
                            : add_diode(bench, point, leak->node, diode_ohms);
    (void)(out ? add_diode(bench, rail, point, back_ohms) : add_diode(bench, point, rail, back_ohms));
    bench->leaking = tl_grow(bench->leaking, (size_t)bench->leaking_count, sizeof *bench->leaking);
    bench->leaking[bench->leaking_count++] = to_node;
}

void leaks_wire(tl_bench *bench)
{
    tl_net_set_view(bench->net, TL_VIEW_SOLDERED);
    for (int i = 0; i < bench->circuit->leak_count; i++) {
        if (is_point_on_bench(bench, bench->circuit->leaks[i].node))
            wire(bench, &bench->circuit->leaks[i]);
    }
    tl_net_set_view(bench->net, TL_VIEW_BOTH);
}

void leaks_begin(tl_bench *bench)
{
    for (int i = 0; i < bench->leaking_count; i++)
        bench->closed[bench->leaking[i]] = true;
}
