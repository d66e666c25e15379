/* SPDX-License-Identifier: MIT */
/**
 * @file
 * What is due every so often, without drift: each time is reckoned from the one before, not from when
 * it was done.
 *
 * Stack: 32 bytes at most, in tl_due_now() (docs/targets.md).
 * Called anywhere, also in an interrupt, one caller at a time for each object; nothing waits.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * bool time_to_show(tl_time now)
 * {
 *     static tl_due second; // all zero until it is made ready
 *     if (second.every == 0 && tl_due_init(&second, TL_TIME_US(1000000), now) != TL_OK)
 *         return false;
 *     return tl_due_now(&second, now);
 * }
 * @endcode
 */
#ifndef TINYLADDER_DUE_H
#define TINYLADDER_DUE_H

#include <stdbool.h>
#include <stdint.h>

#include "tinyladder/small.h"
#include "tinyladder/status.h"

#ifdef __cplusplus
extern "C" {
#endif

/** The caller's memory, 16 bytes. */
typedef struct tl_due {
    tl_time every;
    tl_time left;    /**< until it is due */
    tl_time seen_at; /**< the clock when it was asked last */
    uint16_t missed; /**< times that went by between two questions; stays at its most */
} tl_due;

/**
 * Due for the first time `every` after `now`.
 * @param every  1 .. TL_TIME_MOST / 2 + 1
 * @return TL_OK; TL_ERR_ARG.
 */
tl_status tl_due_init(tl_due *due, tl_time every, tl_time now);

/**
 * Whether it is due: true once for each time. Times that went by meanwhile are counted as missed and not made
 * up for; the beat stays. A clock that is set back, by whatever, delays nothing but the time that is coming.
 * Ask at least every 2^31 us.
 */
bool tl_due_now(tl_due *due, tl_time now);

#ifdef __cplusplus
}
#endif
#endif
