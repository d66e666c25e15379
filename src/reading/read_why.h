/* SPDX-License-Identifier: MIT */
/* What takes how many counts: `read --why`. */
#ifndef TL_READ_WHY_H
#define TL_READ_WHY_H

#include "reading/readings.h"

/* Under the table: each analog signal, the count of a chain without losses, and what comes in between. */
void why_print(tl_bench *bench, const int *signals, int count, const taken *readings);
/* One line, where some stand at an end of the converter: what would tell why. */
void why_hint(const tl_plan *plan, const int *signals, int count, const taken *readings);
json_t *why_array(tl_bench *bench, const int *signals, int count, const taken *readings);

#endif
