/**
 * @file Sizing: which preferred values do a job, what they really give at worst, and why others fail.
 *
 * Plain functions from structs to structs; nothing is printed here. Host side, double precision, SI base
 * units.
 */
#ifndef TINYLADDER_SIZE_H
#define TINYLADDER_SIZE_H

#include <stdbool.h>
#include <stddef.h>

#ifdef __cplusplus
extern "C" {
#endif

/** The series of preferred values of IEC 60063. */
typedef enum tl_series { TL_E3, TL_E6, TL_E12, TL_E24, TL_E48, TL_E96, TL_E192 } tl_series;

/** How many values a series has in a decade. */
size_t tl_series_count(tl_series series);
/** The i-th value of the decade from 1 to 10, in hundredths: 100 .. 988. */
unsigned tl_series_value(tl_series series, size_t i);
/** The tolerance that parts of a series are usually sold with, as a fraction (E24: 0.05). */
double tl_series_tolerance(tl_series series);
/** Reads `E24` (or `e24`). */
bool tl_series_read(const char *text, tl_series *series);
const char *tl_series_name(tl_series series);

/**
 * Every value of a series from least to most ohms, rising.
 * @param[out] values  May be NULL to count only.
 * @return How many there are; at most room are written.
 */
size_t tl_series_over(tl_series series, double least, double most, double *values, size_t room);

/** A wish for a divider: upper leg from the source to the tap, lower leg from the tap to ground. */
typedef struct tl_divider_wish {
    double source_low, source_high; /**< volts, 0 <= low <= high */
    double limit;                   /**< the tap never goes above, volts > 0 */
    double source_ohms;             /**< of the source itself, >= 0 */
    double load_ohms;               /**< across the lower leg; INFINITY for none */
    double most_amperes;            /**< budget out of the source; INFINITY for none */
    double most_tap_ohms;           /**< budget for the resistance the pin sees; INFINITY for none */
    double upper, lower;            /**< a leg that is fixed, or 0 */
    double tolerance;               /**< of each leg, as a fraction, 0 .. < 1 */
    tl_series series;
    double least_ohms, most_ohms; /**< values to choose from */
} tl_divider_wish;

/** One pair of legs, with its guaranteed worst cases over source range and tolerances. */
typedef struct tl_divider_choice {
    double upper, lower;
    double ratio;             /**< tap volts per source volt, nominal */
    double tap_low, tap_high; /**< volts at the tap: at the lowest and the highest source */
    double amperes;           /**< most out of the source */
    double tap_ohms;          /**< most that the pin sees */
    double share;             /**< tap_high / limit */
    double upper_watts, lower_watts;
} tl_divider_choice;

/** Why pairs were turned down. */
typedef enum tl_divider_reason {
    TL_DIVIDER_OVER_LIMIT,
    TL_DIVIDER_OVER_CURRENT,
    TL_DIVIDER_OVER_OHMS,
    TL_DIVIDER_REASONS
} tl_divider_reason;

/** For each reason, the pair that comes nearest: alike in all else, and missing this one limit by the least.
 */
typedef struct tl_divider_miss {
    bool any;
    tl_divider_choice choice;
} tl_divider_miss;

typedef struct tl_divider_answer {
    size_t count;   /**< choices written */
    size_t fitting; /**< pairs that meet everything */
    size_t tried;   /**< pairs there are */
    tl_divider_miss miss[TL_DIVIDER_REASONS];
} tl_divider_answer;

typedef enum tl_size_status {
    TL_SIZE_DONE,
    TL_SIZE_NONSENSE,  /**< the wish contradicts itself or its stated ranges */
    TL_SIZE_IMPOSSIBLE /**< sensible, but nothing to choose from can do it; the misses say how near it comes
                        */
} tl_size_status;

/** A wish with everything at its default: E24, 1 %, 10 ohm .. 10 Mohm, no load, no budget. */
tl_divider_wish tl_divider_wish_default(void);

/**
 * The best pairs. All limits met, then the largest share of the range, then the least current: exactly the
 * first `room` of all pairs of the series in that order.
 *
 * tap = V * P / (Rsource + Ru + P), P = Rl || Rload; seen from the tap (Rsource + Ru) || P; current V /
 * (Rsource + Ru + P). Each is monotonic in each leg, so the worst cases are corners of the tolerance box.
 *
 * @param[out] choices  room of them.
 */
tl_size_status tl_size_divider(const tl_divider_wish *wish, tl_divider_choice *choices, size_t room,
                               tl_divider_answer *answer);

/** Works out one pair, whether it meets the wish or not. */
tl_divider_choice tl_divider_work_out(const tl_divider_wish *wish, double upper, double lower);

#ifdef __cplusplus
}
#endif
#endif
