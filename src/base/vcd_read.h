/* SPDX-License-Identifier: MIT */
/* The levels of one line out of a value change dump (IEEE 1364), as a logic analyser or a simulator writes
 * it. */
#ifndef TL_VCD_READ_H
#define TL_VCD_READ_H

#include "tinyladder/design/findings.h"
#include <stdbool.h>
#include <stddef.h>

enum { VCD_LEVELS_MOST = 100000 };

/* From `at` on the line has this level. */
typedef struct {
    double at; /* seconds */
    bool high;
} vcd_level;

typedef struct {
    vcd_level *levels; /* the first is that of the beginning, then each is another than the one before */
    int count;
    double end; /* the last time of the file */
} vcd_levels;

/*
 * `name` is a variable of one bit, alone or behind its scopes (`bench.D0`); NULL where the file has only one.
 * What is undefined or floating keeps the level before; the first that is known was there before, too.
 * @return false: `why` says so, and `line` where.
 */
bool vcd_read(const char *text, size_t size, const char *name, vcd_levels *levels, int *line, char why[200]);
/* Whether a text is `FILE.vcd` or `FILE.vcd:NAME`. */
bool names_vcd(const char *text);
/* The levels of the line that such a text names; false: the report says why. */
bool vcd_load(const char *text, tl_report *report, vcd_levels *levels);
void vcd_free(vcd_levels *levels);

#endif
