/* SPDX-License-Identifier: MIT */
/**
 * @file
 * Quantities as people write them: `4k7`, `4.7 kohm`, `10.5 V .. 14.8 V`, `5 V ±5 %`; read and written.
 *
 * Host side, double precision. A key or an option fixes the dimension, so `47k` needs no unit there; a bare
 * number is refused with the question what it is a count of.
 *
 * Stable: within one ABI number of libtinyladder-host (abi/host.map, abi/host.layout) no call, structure or
 * constant here changes.
 *
 * @code{.c}
 * double ohms_of(const char *text)
 * {
 *     tl_quantity ohms;
 *     tl_text_error error;
 *     // "4k7 ±5 %" is 4700
 *     return tl_quantity_read(text, TL_DIM_OHM, &ohms, &error) ? ohms.nominal : -1;
 * }
 * @endcode
 */
#ifndef TINYLADDER_QUANTITY_H
#define TINYLADDER_QUANTITY_H

#include <stdbool.h>
#include <stddef.h>

#ifdef __cplusplus
extern "C" {
#endif

/** The dimension that a key fixes. Values are held in the base unit named here. */
typedef enum tl_dimension {
    TL_DIM_OHM,     /**< 0 .. 1e12 */
    TL_DIM_VOLT,    /**< -2000 .. 2000 */
    TL_DIM_AMPERE,  /**< -1000 .. 1000 */
    TL_DIM_FARAD,   /**< 0 .. 1 */
    TL_DIM_SECOND,  /**< 0 .. 1e7 */
    TL_DIM_PERCENT, /**< -1e6 .. 1e6, held in percent */
    TL_DIM_COUNT,   /**< converter counts, -1e9 .. 1e9 */
    TL_DIM_WATT,    /**< 0 .. 1e6 */
    TL_DIM_HERTZ,   /**< 0 .. 1e9 */
    TL_DIM_HENRY,   /**< 0 .. 1e3 */
    TL_DIM_CELSIUS, /**< -273.15 .. 5000 degC */
    TL_DIM_KELVIN,  /**< a difference or an absolute one, 0 .. 1e6 */
    TL_DIM_DRIFT,   /**< written in ppm/K, held per kelvin, 0 .. 1 */
    TL_DIM_NUMBER   /**< no unit; written only */
} tl_dimension;

/** A value with its span; low == nominal == high where nothing else was said. */
typedef struct tl_quantity {
    double low, nominal, high;
    bool toleranced; /**< a tolerance was written */
} tl_quantity;

/** A level that may follow a rail: volts + share * rail. */
typedef struct tl_level {
    double volts, share;
} tl_level;

/** The level in volts while its rail has this many volts. */
static inline double tl_level_volts(tl_level level, double rail)
{
    return level.volts + level.share * rail;
}

/** What is wrong with a text, and at which byte of it. */
typedef struct tl_text_error {
    size_t offset;
    char text[160];
} tl_text_error;

enum { TL_QUANTITY_LONGEST = 64 };

/**
 * Reads one quantity: a value, a value with tolerance, a range, or `±` and a value; of ohms also several in
 * series
 * (`22k + 4k7`) or in parallel (`10k || 10k`).
 *
 * @param[out] quantity  Left untouched on failure.
 * @param[out] error  Filled on failure.
 * @return Whether it was one.
 */
bool tl_quantity_read(const char *text, tl_dimension dimension, tl_quantity *quantity, tl_text_error *error);

/**
 * The same, and what it is made of: of `22k + 4k7` or `10k || 10k` both values, of any other the one and 0.
 * @param[out] parts  Left untouched on failure, and for `±` and a value.
 */
bool tl_quantity_parts_read(const char *text, tl_dimension dimension, tl_quantity *quantity, double parts[2],
                            tl_text_error *error);

/** Reads a figure in any unit: `3 m`, `-99 degC`, `360 deg`. Nothing is converted. */
bool tl_free_figure_read(const char *text, double *value, char unit[16], tl_text_error *error);

/** Reads a level: `0.8 V`, `rail`, `0.3 rail`, `rail + 0.3 V`, `rail - 0.4 V`. */
bool tl_level_read(const char *text, tl_level *level, tl_text_error *error);

/** Reads `LEVEL .. LEVEL`. */
bool tl_level_span_read(const char *text, tl_level *low, tl_level *high, tl_text_error *error);

/** How the last printed digit is found. The ends of a guaranteed span are rounded away from its middle. */
typedef enum tl_rounding { TL_ROUND_NEAREST, TL_ROUND_DOWN, TL_ROUND_UP } tl_rounding;

/**
 * Writes a value with prefix and unit, in 4 significant digits: `46.53 kΩ`.
 * @param[out] text  At least 32 bytes; returned, so that it can be used in place.
 */
char *tl_quantity_write(double value, tl_dimension dimension, tl_rounding rounding, char text[32]);

/** Writes a resistance as its letter code (IEC 60062) where 4 digits are enough for it: `4k7`, `2R2`, `1M`.
 */
char *tl_letter_code_write(double ohms, char text[32]);

#ifdef __cplusplus
}
#endif
#endif
