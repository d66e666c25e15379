/* SPDX-License-Identifier: MIT */
/* What the files of a signal's channel share. */
#ifndef TL_CHANNEL_H
#define TL_CHANNEL_H

#include "tinyladder/design/measurement.h"

/* settling.c: chooses acquisition and dwell of a signal's path, or takes what the plan says, and the error
 * that is left. */
tl_net_status settle_path(tl_circuit *c, int signal, const tl_worst_case *worst, tl_analog_path *path);

/* settling.c: the acquisition that a path would need. */
double settle_needed(tl_circuit *c, int signal, const tl_analog_path *path);

/* channel.c: the unknown with which, all else nominal, the pin has this share of the reference. */
tl_net_status unknown_at(tl_circuit *c, int signal, double share, double *unknown);

/* trimmed.c: how far the truth may be from what a trimmed reading says of a code, volts where the meter was.
 */
double tl_trimmed_limit(tl_circuit *c, int signal, double code);

/* channel.c: every unknown behind volts at the pin, over all tolerances. */
tl_net_status tl_unknowns_behind(tl_circuit *c, int signal, const tl_interval *pin_volts,
                                 tl_interval *unknown);

#endif
