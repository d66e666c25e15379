/* SPDX-License-Identifier: MIT */
/**
 * @file
 * Lengths of pulses and gaps, edges counted, and a sequence of lengths that is expected.
 *
 * Feed it levels that are debounced where they come from contacts. Lengths are microseconds up to 2^31-1 and
 * stay there; a clock that is set back lengthens nothing.
 *
 * Stack: 64 bytes at most, in tl_pattern_feed() (docs/targets.md).
 * Called anywhere, also in an interrupt, one caller at a time for each object; nothing waits.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * uint32_t last_high_us(bool high, uint32_t now_us)
 * {
 *     static tl_pulse pulse; // all zero is ready, as by tl_pulse_init()
 *     static uint32_t last_us;
 *     tl_length_us ended;
 *     if (tl_pulse_feed(&pulse, high, now_us, &ended) && ended.high)
 *         last_us = ended.length_us;
 *     return last_us;
 * }
 * @endcode
 */
#ifndef TINYLADDER_PULSE_H
#define TINYLADDER_PULSE_H

#include <stdbool.h>
#include <stdint.h>

#include "tinyladder/rom.h"
#include "tinyladder/status.h"

#ifdef __cplusplus
extern "C" {
#endif

/** The caller's memory, 16 bytes. */
typedef struct tl_pulse {
    uint32_t length_us;       /**< of the level that lasts */
    uint32_t seen_us;         /**< the clock when it was fed last */
    uint16_t rising, falling; /**< edges seen; they wrap */
    bool high;
    bool any;   /**< a level was seen */
    bool whole; /**< the present level began with an edge that was seen */
} tl_pulse;

/** A pulse (high) or a gap (low) that has ended. */
typedef struct tl_length_us {
    bool high;
    uint32_t length_us;
} tl_length_us;

/** @return TL_OK; TL_ERR_ARG for NULL. */
tl_status tl_pulse_init(tl_pulse *pulse);

/**
 * Takes the level seen now. Look more often than the shortest pulse lasts: what falls between two looks is
 * missed.
 * @return true where a pulse or gap has ended whose beginning was seen as well: ended then holds it.
 */
bool tl_pulse_feed(tl_pulse *pulse, bool high, uint32_t now_us, tl_length_us *ended);

/**
 * Tells where edges were missed: a counter beside the line (its own interrupt, a timer) has counted this many
 * edges in all. Odd differences mean that the level is known wrongly.
 * @return Edges that were not seen.
 */
uint16_t tl_pulse_missed(const tl_pulse *pulse, uint16_t counted);

typedef enum TL_PACKED tl_pattern_state {
    TL_PATTERN_WAITING,
    TL_PATTERN_RUNNING,
    TL_PATTERN_PASSED,
    TL_PATTERN_FAILED
} tl_pattern_state;

enum { TL_PATTERN_MOST = 31 };

/** Lengths that must come one after the other, again and again; looking may begin anywhere among them. */
typedef struct tl_pattern {
    const TL_IN_ROM tl_length_us *lengths;
    uint32_t begun; /**< bit i: the last i lengths seen fit the first i of the pattern */
    uint8_t count;
    uint8_t within_percent; /**< 0 .. 100 */
    uint8_t seen;
    uint8_t state; /**< a tl_pattern_state */
} tl_pattern;

/** @param lengths  `count` of them, 1 .. TL_PATTERN_MOST. @return TL_OK; TL_ERR_ARG. */
tl_status tl_pattern_init(tl_pattern *pattern, const TL_IN_ROM tl_length_us *lengths, uint8_t count,
                          uint8_t within_percent);

/**
 * Takes a length that has ended. Passes as soon as the whole pattern has been seen; fails when after twice
 * its lengths it has not, since a signal that shows it again and again would have by then. After that it
 * stays as it is until tl_pattern_init().
 */
tl_pattern_state tl_pattern_feed(tl_pattern *pattern, const tl_length_us *ended);

#ifdef __cplusplus
}
#endif
#endif
