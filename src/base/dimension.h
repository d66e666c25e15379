/* SPDX-License-Identifier: MIT */
/* Dimensions: the unit that each is written in, and the range that makes sense of it. */
#ifndef TL_DIMENSION_H
#define TL_DIMENSION_H

typedef struct {
    const char *unit;
    double least, most; /* in that unit */
} dimension_info;

extern const dimension_info dimensions[]; /* by tl_dimension */

#endif
