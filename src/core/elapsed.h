/* Time since a moment, by a clock that wraps and that may be set back. */
#ifndef TL_ELAPSED_H
#define TL_ELAPSED_H

#include <stdint.h>

/*
 * Microseconds since a moment, which is kept together with the clock as it was seen last; both are moved on.
 *
 * Fed more often than every 2^31 us, a difference of 2^31 or more can only be a clock that was set back: the
 * moment is moved by as much, so that what has passed stays passed and nothing is made up. What lasts longer
 * than 2^31 us stays at 2^31 - 1.
 */
uint32_t tl_elapsed_us(uint32_t *since_us, uint32_t *seen_us, uint32_t now_us);

#endif
