/* SPDX-License-Identifier: MIT */
/* A part whose end can be taken off what it is connected to, and led elsewhere. */
#include "circuit/elements.h"

/* The list of parts at a node goes on without this one. */
static void leave(tl_net *net, int part, int node)
{
    int *link = &net->nodes[node].first_part;
    while (*link != part)
        link = &net->parts[*link].next_at[net->parts[*link].a == node ? 0 : 1];
    *link = net->parts[part].next_at[net->parts[part].a == node ? 0 : 1];
}

static void join(tl_net *net, int part, int end, int node)
{
    *(end == 0 ? &net->parts[part].a : &net->parts[part].b) = node;
    net->parts[part].next_at[end] = net->nodes[node].first_part;
    net->nodes[node].first_part = part;
}

int tl_net_take_off(tl_net *net, int part, int node, int contact)
{
    const int point = tl_net_add_node(net, net->parts[part].name);
    const int end = net->parts[part].a == node ? 0 : 1;
    leave(net, part, node);
    join(net, part, end, point);
    tl_net_condition_part(net, tl_net_add_resistor(net, net->parts[part].name, node, point, tl_net_fixed(0)),
                          TL_WHEN_OPEN, contact);
    return point;
}

void tl_net_put_resistor(tl_net *net, int part, int node, double ohms)
{
    leave(net, part, net->parts[part].a);
    join(net, part, 0, node);
    net->parts[part].value = tl_net_fixed(ohms);
}
