/* SPDX-License-Identifier: MIT */
/* What to ask `tinyladder explain`, where a reading is not what it should be: a line to paste. */
#ifndef TL_EXPLAIN_HINT_H
#define TL_EXPLAIN_HINT_H

#include "reading/readings.h"

typedef struct {
    const char *point;
    double volts;
} hint_meter;

/* Of all readings that are flagged; nothing where none is. meter: what one shows beside, or NULL.
 */
void explain_hint(FILE *to, const tl_plan *plan, const int *signals, const taken *readings, int count,
                  const hint_meter *meter);

#endif
