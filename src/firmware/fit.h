/* SPDX-License-Identifier: MIT */
/* Constants of the core's lean arithmetic, found by trying every count. */
#ifndef TL_FIT_H
#define TL_FIT_H

#include <stdbool.h>
#include <stdint.h>

#include "tinyladder/lean.h"

/* What every count should give, in last digits: exact, or a whole number that must come out. Counts before
 * `first` and beyond `last` have no value of their own: those at the ends stand. */
typedef struct {
    const double *wanted;
    long count; /* of counts, from 0, up to 65536 */
    long first, last;
    bool whole; /* the wanted ones are what must come out, not to be rounded */
} fit_target;

/* How near it comes, over the counts from first to last. */
typedef struct {
    double deviation; /* largest distance from what is exact, last digits */
    long wrong;       /* counts whose value is not the nearest whole one */
} fit_quality;

typedef struct {
    uint32_t mul;
    uint64_t add;
    int32_t base;
    uint8_t shift; /* up to 16, or up to 48 where it is fine: tl_lean_fine() */
    bool falls, fine;
    uint16_t first; /* what is taken off a count beforehand */
    fit_quality quality;
} fit_line;

/* A straight line through the target; false where none comes within `tolerance` of it everywhere. */
bool fit_a_line(const fit_target *target, double tolerance, fit_line *line);
/* What it gives for a count within first .. last, by the core's arithmetic. */
int32_t fit_line_value(const fit_line *line, long count);

enum { FIT_POINTS_MOST = 255 };

/* Pieces, as few as come within `tolerance`; false where FIT_POINTS_MOST are not enough, or a value has more
 * than 16 bits. */
bool fit_a_curve(const fit_target *target, double tolerance, tl_curve_point *points, int *count,
                 fit_quality *quality);

#endif
