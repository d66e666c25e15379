/*
 * Time since a moment, by a clock that wraps and that may be set back.
 *
 * A moment is kept together with the clock as it was seen last. Fed more often than every 2^31 us, a
 * difference of 2^31 or more can only be a clock that was set back: the moment is moved by as much, so that
 * what has passed stays passed and nothing is made up. What lasts longer than 2^31 us stays at 2^31 - 1.
 */
#ifndef TL_ELAPSED_H
#define TL_ELAPSED_H

#include <stdint.h>

static inline uint32_t elapsed_us(uint32_t *since_us, uint32_t *seen_us, uint32_t now_us)
{
    const uint32_t step_us = now_us - *seen_us;
    const uint32_t before_us = *seen_us - *since_us;
    if (step_us > (uint32_t)INT32_MAX)
        *since_us += step_us; /* set back: as if the moment had been at that much less */
    else if (before_us + step_us > (uint32_t)INT32_MAX)
        *since_us = now_us - (uint32_t)INT32_MAX; /* no age wraps */
    *seen_us = now_us;
    return now_us - *since_us;
}

#endif
