/* SPDX-License-Identifier: MIT */
/* What the two kinds of bus share. */
#ifndef TL_BUS_INTERNAL_H
#define TL_BUS_INTERNAL_H

#include "bench/bench_internal.h"

/* Starts a conversion of an input by its name; of nothing where it is NULL. */
void chip_convert(tl_bench *bench, int converter, const char *input);
/* The input that the words of its registers name; the first where they cannot. */
const char *chip_input(const tl_converter *part, const unsigned long *words);

#endif
