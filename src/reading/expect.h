/* SPDX-License-Identifier: MIT */
/* Watching a digital line for a pattern of lengths. */
#ifndef TL_EXPECT_H
#define TL_EXPECT_H

#include "printing/printing.h"
#include "tinyladder/bench.h"

/* `300ms high, 200ms low`, or `plan` for what the plan expects; within_percent NAN: the plan's, or 5. Whether
 * the signal shows it, from a time on, with the lengths seen. Answers the exit status: found is a verdict of
 * "no". */
int expect_lengths(tl_bench *bench, int signal, const char *text, double within_percent, double at,
                   bool json);

#endif
