/* SPDX-License-Identifier: MIT */
/**
 * @file
 * The frequency, the duty and the period of a line that goes on and off: a fan's speed, a flow meter, a
 * sensor that says its value by its duty.
 *
 * Whole periods are measured, from one beginning to the next, as many of them together as a time says. What
 * shows no edge for long enough stands still: 0 Hz, and a duty of 0 or 100 % by the level at which it stands.
 * Each edge is known as exactly as the clock and as often as the line is looked at, so longer measurements
 * are finer ones.
 *
 * Stack: 96 bytes at most, in tl_rhythm_look(), and what the port's own functions need (docs/targets.md).
 * Called anywhere, also in an interrupt, one caller at a time for each object; nothing waits.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * tl_sample fan_speed(tl_rhythm *speed, tl_button *line, const tl_port *port)
 * {
 *     bool measured = false;
 *     (void)tl_rhythm_look(speed, line, port, &measured); // as often as the shortest half of a period
 *     return tl_rhythm_frequency(speed, 1);               // tenths of a hertz
 * }
 * @endcode
 */
#ifndef TINYLADDER_RHYTHM_H
#define TINYLADDER_RHYTHM_H

#include <stdbool.h>
#include <stdint.h>

#include "tinyladder/button.h"
#include "tinyladder/pulse.h"
#include "tinyladder/scale.h"

#ifdef __cplusplus
extern "C" {
#endif

#ifndef TL_SMALL /* its figures have more than 16 bits */
/** Of both times below, 2^30 - 1. */
#define TL_RHYTHM_LONGEST_US UINT32_C(1073741823)

/** How a rhythm is measured. A constant description; is TL_ROM. */
typedef struct tl_rhythm_config {
    uint32_t over_us;    /**< whole periods of at least so long together (65535 of them at most); 0: each */
    uint32_t stopped_us; /**< no edge for so long: it stands still; above 0 */
    bool of_open; /**< the duty is the share of the time in which it is open: a logic line's high level, where
                     closed is low */
} tl_rhythm_config;

/** The caller's memory, 52 bytes at most. Only the calls below write it. */
typedef struct tl_rhythm {
    tl_pulse pulse;
    uint32_t over_us, stopped_us;
    uint32_t on_us;               /**< the pulse of a period that has begun */
    uint32_t sum_us, sum_on_us;   /**< of the periods that are being measured */
    uint32_t last_us, last_on_us; /**< of those measured last */
    uint16_t periods, last_periods;
    bool of_open, begun, stopped;
} tl_rhythm;

/** @return TL_OK; TL_ERR_ARG for NULL, and for times that are too long. */
tl_status tl_rhythm_init(tl_rhythm *rhythm, const TL_IN_ROM tl_rhythm_config *config);

/**
 * Takes whether it is on now. Look more often than the shortest pulse lasts.
 * @return true where this has measured something: the figures below are new, or it has come to a stand.
 */
bool tl_rhythm_feed(tl_rhythm *rhythm, bool on, uint32_t now_us);

/**
 * Looks at the line of a button (with its debounce, which may be 0 us) and feeds it.
 * @param[out] measured  As tl_rhythm_feed() answers; false on failure.
 * @return TL_OK; or the port's status, and then nothing has changed.
 */
tl_status tl_rhythm_look(tl_rhythm *rhythm, tl_button *button, const tl_port *port, bool *measured);

/**
 * The figures measured last, in whole numbers of 10^-decimals. Not fresh before the first (TL_ERR_LATE).
 * @param decimals  0 .. 3; of a duty 0 .. 2.
 * @return Hertz; 0 where it stands still. More than 2^31-1 stays there.
 */
tl_sample tl_rhythm_frequency(const tl_rhythm *rhythm, uint8_t decimals);
/** @return Percent of the time that it is on. */
tl_sample tl_rhythm_duty(const tl_rhythm *rhythm, uint8_t decimals);
/** @return Milliseconds from one beginning to the next; what stands still has none (TL_ERR_RANGE). */
tl_sample tl_rhythm_period(const tl_rhythm *rhythm, uint8_t decimals);
#endif

#ifdef __cplusplus
}
#endif
#endif
