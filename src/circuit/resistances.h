/* SPDX-License-Identifier: MIT */
/* What an ohmmeter finds between nodes while nothing feeds the net. */
#ifndef TL_RESISTANCES_H
#define TL_RESISTANCES_H

#include "tinyladder/design/bounds.h"

typedef struct tl_net tl_net;
typedef struct resistances resistances;

/* Of all resistors and joints that are there in this state, as soldered, with no rail fed. by_voltage: of
 * each contact, that only voltages close it: it is open. */
resistances *resistances_of(const tl_net *net, const tl_net_state *state, const bool *by_voltage);
/* One more, before the first question. */
void resistances_add(resistances *r, int a, int b, double ohms);
/* Of `count` pairs of nodes; INFINITY where nothing worth naming connects them. */
void resistances_between(const resistances *r, const int (*pairs)[2], int count, double *ohms);
void resistances_free(resistances *r);

#endif
