/* SPDX-License-Identifier: MIT */
/* A bench of a few signals of a large plan. */
#ifndef TL_PART_OF_PLAN_H
#define TL_PART_OF_PLAN_H

#include "tinyladder/bench.h"

/* wired: of each signal of the plan whether it is on the bench; NULL: all are. The others are not there at
 * all, but for an ohmmeter, and none of them may be looked at. */
tl_bench *bench_new_of(tl_circuit *circuit, const tl_scene *scene, unsigned long seed, const bool *wired);

#endif
