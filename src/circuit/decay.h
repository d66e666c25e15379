/* SPDX-License-Identifier: MIT */
/* How one node of an island comes to rest while nothing else has to. */
#ifndef TL_DECAY_H
#define TL_DECAY_H

#include "circuit/netlist.h"

typedef struct tl_decay tl_decay;

/* From 1 V at a node of the island (its index), all capacitors else and all sources at 0. NULL where it has
 * no capacitor, behind followers, or where there is no solution. Free it. */
tl_decay *tl_decay_new(tl_island *island, const tl_net_state *state, int node);
/* Volts that are left there after that many seconds. */
double tl_decay_left(const tl_decay *decay, double seconds);
void tl_decay_free(tl_decay *decay);

#endif
