/* SPDX-License-Identifier: MIT */
/* Time that passes, by a clock that wraps and that may be set back. */
#ifndef TL_ELAPSED_H
#define TL_ELAPSED_H

#include "tinyladder/small.h"

/*
 * Adds what has passed since the clock was seen last, and answers the sum; both are kept by the caller, and
 * begin with 0 and the clock.
 *
 * Fed more often than every 2^31 us, a difference of 2^31 or more can only be a clock that was set back: what
 * has passed stays passed and nothing is made up. What lasts longer than 2^31 us stays at 2^31 - 1.
 */
uint32_t tl_elapsed_us(uint32_t *passed_us, uint32_t *seen_us, uint32_t now_us);
/* The same in the time of contacts and beats; half of what its bits hold instead of 2^31. */
#ifdef TL_SMALL
tl_time tl_elapsed(tl_time *passed, tl_time *seen, tl_time now);
#else
#define tl_elapsed tl_elapsed_us
#endif

#endif
