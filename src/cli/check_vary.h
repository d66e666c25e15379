/* SPDX-License-Identifier: MIT */
/* `check PLAN --vary PATH=VALUES`. */
#ifndef TL_CHECK_VARY_H
#define TL_CHECK_VARY_H

#include "tinyladder/design/proposals.h"

/* The plan with every value of the wish in turn: figures that move, findings that come or go. The plan's own
 * report has its findings. Answers the exit status: EXIT_DONE where some value leaves no error. */
int check_vary(const tl_plan *plan, tl_circuit *circuit, const tl_report *report, const char *wish,
               bool json);

#endif
