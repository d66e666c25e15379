/* SPDX-License-Identifier: MIT */
/**
 * @file
 * Values that can be bought (IEC 60063), how they are marked (IEC 60062), and what a drawer holds of
 * them.
 *
 * Plain functions, host side, SI base units. Nothing here knows what a part is for.
 *
 * Stable: within one ABI number of libtinyladder-host (abi/host.map, abi/host.layout) no call, structure or
 * constant here changes.
 *
 * @code{.c}
 * size_t values_in_a_decade(void)
 * {
 *     double values[32];
 *     return tl_series_over(TL_E24, 1000, 9100, values, 32); // 24 of them
 * }
 * @endcode
 */
#ifndef TINYLADDER_PREFERRED_H
#define TINYLADDER_PREFERRED_H

#include <stdbool.h>
#include <stddef.h>

#include "tinyladder/design/quantity.h"

#ifdef __cplusplus
extern "C" {
#endif

/* --- preferred values and marking --- */

/** The series of preferred values of IEC 60063. */
typedef enum tl_series { TL_E3, TL_E6, TL_E12, TL_E24, TL_E48, TL_E96, TL_E192 } tl_series;

/** How many values a series has in a decade. */
size_t tl_series_count(tl_series series);
/** The i-th value of the decade from 1 to 10, in hundredths: 100 .. 988. */
unsigned tl_series_value(tl_series series, size_t i);
/** Reads `E24` (or `e24`). */
bool tl_series_read(const char *text, tl_series *series);
const char *tl_series_name(tl_series series);

/**
 * Every value of a series from least to most, rising.
 * @param[out] values  May be NULL to count only.
 * @return How many there are; at most room are written.
 */
size_t tl_series_over(tl_series series, double least, double most, double *values, size_t room);

enum { TL_BANDS_MOST = 6 };
/**
 * The colour bands of a resistor (IEC 60062:2016): two digits where they are enough and the tolerance is 5 %
 * or wider, else three; multiplier; tolerance.
 * @param tolerance  A fraction; one that has no colour is taken as the next wider that has.
 * @param[out] bands  Names of colours, in order.
 * @return How many bands: 3 to 5; 0 where the value cannot be marked with three digits.
 */
int tl_colour_bands(double ohms, double tolerance, const char *bands[TL_BANDS_MOST]);

/** What is on a part; NAN where nothing does. */
typedef struct tl_marking {
    double value;     /**< ohms or farads */
    double tolerance; /**< a fraction */
    double drift;     /**< per kelvin */
} tl_marking;
/**
 * The same with 3 to 6 bands, or 0 for as many as it takes.
 * @return How many, or 0 where this many do not hold it.
 */
int tl_marking_bands(const tl_marking *marking, int count, const char *bands[TL_BANDS_MOST]);
/** Reads `yellow violet red gold`; three bands are 20 %. @param[out] why  What is wrong, where it is false.
 */
bool tl_marking_read_bands(const char *text, tl_marking *marking, char why[160]);
/** Reads `4k7`, `4K7K`, `R47`, `4p7`: ohms or farads, and the letter of a tolerance behind a whole code. */
bool tl_marking_read_code(const char *text, tl_dimension dimension, tl_marking *marking, char why[160]);
/** The letter of a tolerance, of one that has none that of the next wider; '\0' beyond 20 %. */
char tl_marking_letter(double tolerance);

/* --- what there is to choose from --- */

/** One value on offer. */
typedef struct tl_stock_part {
    double value;
    double tolerance; /**< a fraction */
    double watts;     /**< rating; INFINITY where not said */
    int count;        /**< how many there are; -1 for plenty */
    double drift;     /**< a fraction per kelvin; 0 where not said */
    bool used;        /**< the plan that is sized for has this value already */
} tl_stock_part;

/** Values on offer, rising. Made by tl_stock_series() or by reading a drawer; freed with tl_stock_free(). */
typedef struct tl_stock {
    tl_stock_part *parts;
    int count;
} tl_stock;

tl_stock tl_stock_series(tl_series series, double least, double most, double tolerance);
/** Adds one; equal values with equal tolerance are merged. */
void tl_stock_add(tl_stock *stock, tl_stock_part part);
/** Takes one of this value out of the stock; whether there was one. */
bool tl_stock_take(tl_stock *stock, double value);
void tl_stock_free(tl_stock *stock);

/** One part, or two in series or parallel. */
typedef struct tl_leg {
    double low, nominal, high; /**< over the tolerances */
    double watts; /**< what it can take: for two parts the rating of the smaller share, cautiously */
    int first,
        second; /**< indices into the stock; second is -1 for a single part, both -1 for a given value */
    char join;  /**< 0, '+' in series, '|' in parallel */
} tl_leg;

/** Writes a leg as a plan has it: `47k ±1 %` or `22k ±1 % + 4k7 ±1 %`; without tolerance where it is given.
 * stock is needed for two parts only. */
char *tl_leg_plan_text(const tl_leg *leg, const tl_stock *stock, char text[64]);
/** Writes a part's value as it is said: `4.7 kΩ`, `100 nF`; up to five digits, and no zeros behind. */
char *tl_part_write(double value, tl_dimension dimension, char text[32]);
/** Writes `47k` or `22k + 4k7` or `10k || 10k`. */
char *tl_leg_write(const tl_leg *leg, const tl_stock *stock, tl_dimension dimension, char text[40]);

/** How far two values are apart, as a ratio that is 0 where they are equal: 10 k and 20 k as 20 k and 40 k.
 */
double tl_times_apart(double one, double other);

#ifdef __cplusplus
}
#endif
#endif
