/* SPDX-License-Identifier: MIT */
/* a * b / whole, rounded to the nearest, halves upwards: the core's one division. */
#ifndef TL_RATIO_H
#define TL_RATIO_H

#include <stdbool.h>
#include <stdint.h>

/* The product and half of whole must fit into 64 bits. whole: not 0. */
uint64_t tl_ratio_of(uint64_t a, uint32_t b, uint32_t whole);

/* sum / count, rounded to the nearest, halves away from 0. */
int32_t tl_mean_of(int64_t sum, uint32_t count);

/* start, and so far up or down from there; kept within int32. */
int32_t tl_moved_by(int32_t start, uint64_t by, bool down);

#endif
