/* SPDX-License-Identifier: MIT */
/* What was measured at the checkpoints: which readings agree, and what to ask about those that do not. */
#ifndef TL_CHECKED_H
#define TL_CHECKED_H

#include "tinyladder/design/circuit.h"

/* path: of a CSV with the columns checkpoint, signal, power, when and measured, as the page of HTML saves it.
 * plan: the plan's, for the lines to paste. The status to end with. */
int sheet_check(tl_circuit *circuit, const int *signals, int count, const char *plan, const char *path);

#endif
