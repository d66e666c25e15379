/* SPDX-License-Identifier: MIT */
/* What a meter shows at a node of the plan's network, with the meter in it. */
#include "analysis/ask.h"

tl_net_status tl_circuit_with_meter(tl_circuit *circuit, const tl_metered *at, tl_bounds *bounds)
{
    const bool *closed = tl_circuit_state(circuit, at->signal, at->state);
    tl_net *net = tl_net_copy(circuit->net);
    tl_net_add_resistor(net, "meter", at->node, TL_NET_GROUND, tl_net_fixed(at->ohms));
    if (at->param != TL_NET_NONE)
        tl_net_set_param(net, at->param, at->low, (at->low + at->high) / 2, at->high);
    tl_island *island = tl_island_new_along(net, at->node, closed);
    const tl_figure volts = {TL_FIGURE_VOLTS, at->node, tl_net_fixed(0), TL_NET_GROUND};
    const tl_net_status status = tl_island_bounds(island, closed, volts, bounds);
    tl_island_free(island);
    tl_net_free(net);
    return status;
}
