/* SPDX-License-Identifier: MIT */
/**
 * @file
 * Tables: a value between points, straight from one to the next; sensors' curves, trims, linear
 * sensors.
 *
 * Curves are made into points beforehand; two points are a straight line. One division a value.
 *
 * Stack: 112 bytes at most, in tl_table_value() (docs/targets.md).
 * Called anywhere, also in an interrupt, one caller at a time for each object; nothing waits.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * int32_t degrees_of(int32_t ohms, bool *beyond)
 * {
 *     static const tl_table_point points[] = {{1000, 80}, {3000, 50}, {10000, 20}};
 *     static const tl_table table = {points, 3, false};
 *     return tl_table_value(&table, ohms, beyond);
 * }
 * @endcode
 */
#ifndef TINYLADDER_TABLE_H
#define TINYLADDER_TABLE_H

#include <stdbool.h>
#include <stdint.h>

#include "tinyladder/rom.h"
#include "tinyladder/status.h"

#ifdef __cplusplus
extern "C" {
#endif

/** Is TL_ROM. */
typedef struct tl_table_point {
    int32_t from; /**< rising from point to point */
    int32_t to;
} tl_table_point;

/** A constant description; is TL_ROM. */
typedef struct tl_table {
    const TL_IN_ROM tl_table_point *points; /**< is TL_ROM itself */
    uint8_t count;                          /**< 2 or more */
    bool goes_on; /**< beyond its ends the outer pieces go on; else the end values stand */
} tl_table;

/** Checks that a table is one. @return TL_OK; TL_ERR_ARG; TL_ERR_RANGE where `from` does not rise. */
tl_status tl_table_check(const TL_IN_ROM tl_table *table);

/**
 * The value behind `from`, rounded to the nearest, halves away from 0; kept within int32.
 * @param[out] beyond  Whether `from` lies outside the points; may be NULL.
 */
int32_t tl_table_value(const TL_IN_ROM tl_table *table, int32_t from, bool *beyond);

#ifdef __cplusplus
}
#endif
#endif
