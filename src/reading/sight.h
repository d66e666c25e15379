/* SPDX-License-Identifier: MIT */
/* What a bench shows of itself in a few situations that are always the same: every reading, every output, the
 * volts at every point, and damage. Two of them differ where a reading or a meter can tell. */
#ifndef TL_SIGHT_H
#define TL_SIGHT_H

#include "reading/readings.h"

typedef struct sight sight;

/* Of a plan's bench with ideal parts and one fault, written as in a scene; fault: NULL for none. NULL where
 * the fault is refused: the reason is in the report. Free it. */
sight *sight_of(tl_circuit *circuit, const char *fault, tl_report *report);
/* What could not be solved there; NULL where all could. */
const char *sight_trouble(const sight *s);
/* What tells them apart, of one circuit: the name of a signal, an output or a point; NULL where nothing does.
 */
const char *sight_difference(const sight *a, const sight *b);
void sight_free(sight *s);

#endif
