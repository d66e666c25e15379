/* SPDX-License-Identifier: MIT */
/**
 * @file What is due every so often, without drift: each time is reckoned from the one before, not from when
 * it was done.
 *
 * Stack: 32 bytes at most, in tl_due_now() (docs/targets.md).
 * Called anywhere, also in an interrupt, one caller at a time for each object; nothing waits.
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
 * Due for the first time `every_us` after `now_us`.
 * @param every_us  1 .. 2^30
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
