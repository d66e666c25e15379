/* SPDX-License-Identifier: MIT */
/* What a meter shows at a node of the plan's network, with the meter in it. */
#include "analysis/ask.h"
#include <math.h>

/* A copy of the plan's network, taken once, in which the meter goes from point to point. */
static tl_net *metered_net(tl_circuit *circuit)
{
    if (circuit->metered == NULL) {
        circuit->metered = tl_net_copy(circuit->net);
        const int nowhere = tl_net_add_node(circuit->metered, "nowhere");
        circuit->meter =
            tl_net_add_resistor(circuit->metered, "meter", nowhere, TL_NET_GROUND, tl_net_fixed(INFINITY));
    }
    return circuit->metered;
}

tl_net_status tl_circuit_with_meter(tl_circuit *circuit, const tl_metered *at, tl_bounds *bounds)
{
    const bool *closed = tl_circuit_state(circuit, at->signal, at->state);
    tl_net *net = metered_net(circuit);
    double low = 0, nominal = 0, high = 0;
    tl_net_put_resistor(net, circuit->meter, at->node, at->ohms);
    if (at->param != TL_NET_NONE) {
        tl_net_param_span(net, at->param, &low, &high);
        nominal = tl_net_param_nominal(net, at->param);
        tl_net_set_param(net, at->param, at->low, (at->low + at->high) / 2, at->high);
    }
    tl_island *island = tl_island_new_along(net, at->node, closed);
    const tl_figure volts = {TL_FIGURE_VOLTS, at->node, tl_net_fixed(0), TL_NET_GROUND};
    const tl_net_status status = tl_island_bounds(island, closed, volts, bounds);
    tl_island_free(island);
    if (at->param != TL_NET_NONE)
        tl_net_set_param(net, at->param, low, nominal, high);
    return status;
}
