/* SPDX-License-Identifier: MIT */
/* Points of a circuit as one types them. */
#include "elaborate/circuit_struct.h"
#include <stdio.h>

/* A signal's own name is its pin, so a supply of that name goes by the signal's source. */
void circuit_point_name(const tl_circuit *c, int node, char text[TL_POINT_NAME])
{
    int signal;
    const char *name = node == TL_NET_GROUND ? "ground" : tl_net_node_name(c->net, node);
    const bool hidden = tl_plan_signal(c->plan, name, &signal) != NULL;
    snprintf(text, TL_POINT_NAME, "%.*s", TL_POINT_NAME - 1, name);
    for (int i = 0; hidden && i < c->plan->signal_count; i++) {
        if (c->signals[i].source == node) {
            snprintf(text, TL_POINT_NAME, "%.90s.source", c->plan->signals[i].name);
            return;
        }
    }
}
