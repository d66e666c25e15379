/* SPDX-License-Identifier: MIT */
/* The figures of sizings: what each is called, in which unit, which of its extremes counts, and what the
 * circuit is asked to prove it. */
#ifndef TL_FIGURES_H
#define TL_FIGURES_H

#include "circuit/netlist.h"
#include "sizing/practice.h"
#include "tinyladder/design/sizing.h"

typedef struct {
    const char *name;
    tl_dimension dimension;
    tl_extreme extreme;
    tl_ask_kind ask; /* TL_ASK_NOTHING: no question to a circuit, such as a ratio of two resistors alone */
    practice_id practice; /* what the share of its limit costs */
    const char *label;    /* for people */
} tl_figure_row;

const tl_figure_row *tl_figure_row_of(tl_figure_id id);

#endif
