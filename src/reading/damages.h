/* SPDX-License-Identifier: MIT */
/* What went wrong on a bench on the way: pins outside their limits, coils without a diode. */
#ifndef TL_DAMAGES_H
#define TL_DAMAGES_H

#include "tinyladder/bench.h"
#include <jansson.h>
#include <stdbool.h>
#include <stdio.h>

/* Pins beyond their limits, coils without a diode, and what the bench cannot do; whether anything was hurt.
 */
bool damages_print(FILE *to, tl_bench *bench);
json_t *damages_array(tl_bench *bench);

#endif
