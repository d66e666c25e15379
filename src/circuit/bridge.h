/* SPDX-License-Identifier: MIT */
/* What else is connected between two shared nodes, such as a feed and a return: one resistor between them. */
#ifndef TL_BRIDGE_H
#define TL_BRIDGE_H

#include "circuit/netlist_internal.h"

/* Chains of resistors between two nodes, with nothing on them but what leaks: side by side they are one
 * resistor, and a current into either node. Least, nominal and largest. */
typedef struct {
    int a, b;     /* nodes of the net */
    bool *beyond; /* of each part of the island: it is in one of those chains */
    int count;    /* of chains */
    double ohms[3], amperes[3];
    bool stores; /* something there has a capacitor */
} bridge;

/* Those that hold none of the nodes to keep, and no contact that is free to be either. Free it. */
bridge bridge_find(const tl_island *whole, int a, int b, const bool *keep, const bool *closed,
                   const bool *free_contacts);
void bridge_free(bridge *of);
/* The island without them, with these parameters in their place; TL_NET_NONE for no current. */
tl_island *bridge_make(tl_net *net, const tl_island *whole, const bridge *of, int ohms, const int amperes[2]);

#endif
