/* SPDX-License-Identifier: MIT */
/* One value of a plan at several settings: what moves, and which findings come or go. */
#ifndef TL_VARY_H
#define TL_VARY_H

#include "tinyladder/design/proposals.h"

enum { VARY_MOST = 8, VARY_VALUE = 120, VARY_WHY = 400, VARY_FIGURE_NAME = 120 };

/* `house-battery.divider.lower=8k2,10k,12k` */
typedef struct {
    char path[200];
    char value[VARY_MOST][VARY_VALUE];
    int count;
} vary_wish;

/* false, with what is wrong, where it is none. */
bool vary_read(const char *text, vary_wish *wish, char why[VARY_WHY]);

/*
 * The edit that sets the value of a path in one of the plan's files, those of its board and parts included.
 * The path begins with a name that stands in one of them (a signal, a supply, an output, a converter) or with
 * one of its first keys; a key that a map could have is added. To be freed. A value that states no tolerance
 * takes that of the value that it stands for, in `value` too.
 */
bool vary_edit(const tl_report *report, const char *path, char value[VARY_VALUE], tl_edit *edit,
               char why[VARY_WHY]);

/* One figure of a plan. */
typedef struct {
    char name[VARY_FIGURE_NAME]; /* `house-battery, at the pin, highest` */
    double value;
    tl_dimension dimension; /* TL_DIM_NUMBER: of a reading, in its `unit` */
    tl_extreme extreme;
    const char *unit; /* of the plan; NULL but for readings */
    int decimals;
} vary_figure;

/* What `check` shows of every signal and output, and how far each reading may be off; to be freed. */
vary_figure *vary_figures(tl_circuit *circuit, int *count);

#endif
