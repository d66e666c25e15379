/* SPDX-License-Identifier: MIT */
/*
 * A rail that can be cut off: it becomes a node behind a contact, and what had rails of its own that stand a
 * fixed voltage from it (clamps, diodes) is connected to the node itself, so that a supply which is off is
 * fed by whatever leads to it, as on a dead board. What stands at a share of it stays a rail.
 */
#include "circuit/elements.h"
#include <math.h>

static const double least_ohms = 0.05; /* of a way that had none: typical of a wire */
static const double bleed_ohms =
    1e6; /* what else is connected to a supply takes it down when it is off: typical */

/* Whether a value is the parameter and a constant beside it, whatever the parameter is. */
bool tl_net_stands_on(const tl_net *net, tl_net_value value, int param, double *beside)
{
    double at[2];
    const int of[3] = {value.first, value.second, value.extra != 0 ? value.third : TL_NET_NONE};
    for (int i = 0; i < 2; i++) {
        double known[3];
        for (int k = 0; k < 3; k++)
            known[k] = of[k] == TL_NET_NONE ? 1 : of[k] == param ? i : net->params[of[k]].nominal;
        const double extra = value.extra == 0 ? 0 : value.extra * known[2];
        at[i] = value.factor * known[0] * (value.constant + value.slope * known[1]) + extra;
    }
    *beside = at[0];
    return fabs(at[1] - at[0] - 1) < 1e-9;
}

static double nominal_ohms(const tl_net *net, tl_net_value value)
{
    const double first = value.first == TL_NET_NONE ? 1 : net->params[value.first].nominal,
                 second = value.second == TL_NET_NONE ? 1 : net->params[value.second].nominal;
    return fmax(value.factor * first * (value.constant + value.slope * second), least_ohms);
}

/* The same conditions as another part has. */
static void take_conditions(tl_net *net, int part, int from)
{
    net->parts[part].gate = net->parts[from].gate;
    net->parts[part].gate_view = net->parts[from].gate_view;
    net->parts[part].contact = net->parts[from].contact;
    net->parts[part].open_fault = net->parts[from].open_fault;
}

/* A resistor to a rail beside the node now leads to the node, with its volts in series; the old one is never
 * there. */
static void hang_on(tl_net *net, int part, int rail, int node, double beside, int never)
{
    const net_part old = net->parts[part];
    const int other = old.a == rail ? old.b : old.a;
    const double ohms = nominal_ohms(net, old.value);
    net->view = old.view;
    take_conditions(net, tl_net_add_resistor(net, old.name, other, node, tl_net_fixed(ohms)), part);
    take_conditions(net, tl_net_add_current(net, old.name, node, other, tl_net_fixed(beside / ohms)), part);
    net->parts[part].gate = TL_WHEN_CLOSED;
    net->parts[part].gate_view = TL_VIEW_BOTH;
    net->parts[part].contact = never;
}

int tl_net_lift_rail(tl_net *net, int node, int param)
{
    const int cut = tl_net_add_contact(net, net->nodes[node].name), never = tl_net_add_contact(net, "never"),
              source = tl_net_add_node(net, net->nodes[node].name), nodes = net->node_count,
              parts = net->part_count;
    const tl_net_view view = net->view;
    tl_net_set_rail(net, source, net->nodes[node].volts);
    net->nodes[node].is_rail = false;
    for (int rail = 0; rail < nodes; rail++) {
        double beside;
        if (!net->nodes[rail].is_rail || rail == source ||
            !tl_net_stands_on(net, net->nodes[rail].volts, param, &beside))
            continue;
        for (int part = 0; part < parts; part++) {
            if (net->parts[part].is == &element_resistor &&
                (net->parts[part].a == rail || net->parts[part].b == rail))
                hang_on(net, part, rail, node, beside, never);
        }
    }
    net->view = view;
    tl_net_condition_part(net, tl_net_add_resistor(net, "supply", source, node, tl_net_fixed(0)),
                          TL_WHEN_OPEN, cut);
    tl_net_condition_part(net,
                          tl_net_add_resistor(net, "bleed", node, TL_NET_GROUND, tl_net_fixed(bleed_ohms)),
                          TL_WHEN_CLOSED, cut);
    return cut;
}
