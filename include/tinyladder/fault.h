/* SPDX-License-Identifier: MIT */
/**
 * @file
 * Fault windows: a value that a whole wire could not give is a broken wire or a short, not a value.
 *
 * While a fault lasts, a substitute or the last good value is handed out, and never as fresh. It ends once
 * the value is back beyond the window by the hysteresis. Levels are in whatever the values are: microvolts,
 * counts.
 *
 * Stack: 40 bytes at most, in tl_fault_feed() (docs/targets.md).
 * Called anywhere, also in an interrupt, one caller at a time for each object; nothing waits.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * bool good_value(const tl_sample *sample, tl_time now, tl_sample *result)
 * {
 *     static const tl_fault_config wire = {.open_level = 4000, .hysteresis = 10,
 *                                          .open_side = TL_FAULT_ABOVE};
 *     static tl_fault state;
 *     tl_fault_feed(&state, &wire, sample, now, result);
 *     return (result->flags & TL_READING_OPEN) == 0;
 * }
 * @endcode
 */
#ifndef TINYLADDER_FAULT_H
#define TINYLADDER_FAULT_H

#include <stdbool.h>
#include <stdint.h>

#include "tinyladder/filter.h"
#include "tinyladder/rom.h"
#include "tinyladder/status.h"

#ifdef __cplusplus
extern "C" {
#endif

/** Beside those in scale.h. */
enum {
    TL_READING_OPEN = 1u << 3,       /**< in the window of a broken wire */
    TL_READING_SHORT = 1u << 4,      /**< in the window of a short */
    TL_READING_STALE = 1u << 5,      /**< the last good value stands in; 0 before there was one */
    TL_READING_SUBSTITUTED = 1u << 6 /**< the substitute stands in */
};

/** Where a window lies; none where it is not looked for. */
typedef enum TL_PACKED tl_fault_side { TL_FAULT_NONE, TL_FAULT_ABOVE, TL_FAULT_BELOW } tl_fault_side;

/** A constant description; is TL_ROM. */
typedef struct tl_fault_config {
    tl_number open_level, short_level; /**< beyond, not at */
    tl_number hysteresis;              /**< 0 or more */
    tl_number substitute;
    uint8_t open_side, short_side; /**< a tl_fault_side each */
    bool has_substitute;
} tl_fault_config;

/** The caller's memory, 16 bytes. */
typedef struct tl_fault {
    tl_number last_good;
    tl_time age;     /**< of it, when it was fed last, */
    tl_time seen_at; /**< and the clock when it was fed last */
    uint8_t flags;   /**< TL_READING_OPEN or TL_READING_SHORT while it lasts */
    bool any;        /**< there was a good one */
} tl_fault;

/** @return TL_OK; TL_ERR_ARG; TL_ERR_RANGE for a negative hysteresis. */
tl_status tl_fault_init(tl_fault *fault, const TL_IN_ROM tl_fault_config *config);

/**
 * Judges one value. Call it at least every 2^31 us.
 * @param[out] result  The value to use, with its flags.
 */
void tl_fault_feed(tl_fault *fault, const TL_IN_ROM tl_fault_config *config, const tl_sample *sample,
                   tl_time now, tl_sample *result);

/** Time since the last good value; it stays at TL_TIME_MOST, which is also the answer where there was none.
 */
tl_time tl_fault_age(const tl_fault *fault, tl_time now);

#ifdef __cplusplus
}
#endif
#endif
