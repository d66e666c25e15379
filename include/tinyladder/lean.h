/* SPDX-License-Identifier: MIT */
/**
 * @file
 * From counts to values with constants that `tinyladder header` has worked out: no division, no 64
 * bits, nothing to set up at run time. Values are whole numbers of a signal's last digit: 1270 with two
 * decimals is 12.70.
 *
 * Stack: 8 bytes at most, in tl_curve_value() (docs/targets.md).
 * Called anywhere, also in an interrupt, one caller at a time for each object; nothing waits.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * int16_t tenths_of_a_degree(uint16_t count)
 * {
 *     static const tl_curve_point points[] = {{1000, 500, 0, 52429}, {1500, 100, 0, 26214},
 *                                             {4000, -900, 0, 0}};
 *     static const tl_curve curve = {points, 3};
 *     return tl_curve_value(&curve, count);
 * }
 * @endcode
 */
#ifndef TINYLADDER_LEAN_H
#define TINYLADDER_LEAN_H

#include <stdbool.h>
#include <stdint.h>

#include "tinyladder/rom.h"

#ifdef __cplusplus
extern "C" {
#endif

/*
 * Counts of different signals are different types, where the compiler passes a structure of one number as
 * that number (gcc, clang): none then goes into another's function. Elsewhere they are plain numbers.
 */
#ifdef __GNUC__
#define TL_TYPED(type, name)                                                                                 \
    typedef struct name {                                                                                    \
        type number;                                                                                         \
    } name
/** The number in one, and one of a number. */
#define TL_NUMBER(of) ((of).number)
#ifdef __cplusplus
#define TL_TYPE_OF(name, number) (name{number})
#else
#define TL_TYPE_OF(name, number) ((name){number})
#endif
#else
#define TL_TYPED(type, name) typedef type name
#define TL_NUMBER(of) (of)
#define TL_TYPE_OF(name, number) ((name)(number))
#endif

/** Generated headers say which of these they were made for; it changes when their meaning does. */
#define TL_LEAN_FORMAT 3

/**
 * steps = (count * mul + add) >> shift. With constants the compiler folds it: on an 8-bit chip a `mul` of 16
 * bits and a `shift` of 8, 16 or 24 are quickest.
 * @param count  so that count * mul + add stays below 2^32
 */
static inline uint32_t tl_lean_steps(uint16_t count, uint32_t mul, uint32_t add, uint8_t shift)
{
    return ((uint32_t)count * mul + add) >> shift;
}

/**
 * The same with a `mul` of 32 bits for any count: steps = (count * mul + add * 2^16 + low) >> (16 + shift).
 * @param count  so that count * mul / 2^16 + add stays below 2^32
 */
static inline uint32_t tl_lean_fine(uint16_t count, uint32_t mul, uint32_t add, uint16_t low, uint8_t shift)
{
    const uint32_t below = (uint32_t)count * (mul & 0xffffu) + low;
    return ((uint32_t)count * (mul >> 16) + (below >> 16) + add) >> shift;
}

/** A straight line as data, for loops over many that are alike. Is TL_ROM. */
typedef struct tl_line {
    uint32_t mul, add;
    int32_t base;  /**< value = base + steps; */
    uint16_t last; /**< counts above it are taken as it */
    uint8_t shift;
    bool falls; /**< or base - steps */
} tl_line;

/** The value of a count. */
int32_t tl_line_value(const TL_IN_ROM tl_line *line, uint16_t count);

/** Where a piece of a curve begins, and how it goes on: value = to + (count - from) * (whole + part / 65536),
 * rounded to the nearest. Is TL_ROM. */
typedef struct tl_curve_point {
    uint16_t from; /**< rising from point to point */
    int16_t to;
    int16_t whole;
    uint16_t part;
} tl_curve_point;

/** Pieces one after the other; before the first and beyond the last point their values stand. Is TL_ROM. */
typedef struct tl_curve {
    const TL_IN_ROM tl_curve_point *points; /**< is TL_ROM itself */
    uint8_t count;                          /**< 1 or more */
} tl_curve;

/** The value of a count. */
int16_t tl_curve_value(const TL_IN_ROM tl_curve *curve, uint16_t count);

#ifdef __cplusplus
}
#endif
#endif
