/* SPDX-License-Identifier: MIT */
/* Which node of the plan's circuit each end of a wire is. */
#ifndef TL_WIRING_NETS_H
#define TL_WIRING_NETS_H

#include "sheet/wiring.h"
#include "tinyladder/design/circuit.h"

/* Of each row both ends; TL_NET_NONE where the circuit has no such node, as of a line that selects a channel.
 * To be freed. */
typedef struct {
    int from, to;
    int like[2]; /* of each end the first end of the list that is one net with it: twice the row, plus 1 for
                    `to` */
} wire_nets;
wire_nets *wiring_nets(tl_circuit *circuit, const wiring *list);

#endif
