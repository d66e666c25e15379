/* How a channel settles: see settling.c. */
#ifndef TL_SETTLING_H
#define TL_SETTLING_H

#include "tinyladder/design/measurement.h"

/* Chooses acquisition and dwell of a signal's path, or takes what the plan says, and the error that is left.
 */
tl_net_status settle_path(tl_circuit *c, int signal, const tl_worst_case *worst, tl_analog_path *path);

#endif
