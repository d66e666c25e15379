/* Time that has passed, whatever happens to the clock: one copy of it for all that wait, since it is large on
 * 8 bits. */
#include "elapsed.h"

uint32_t tl_elapsed_us(uint32_t *since_us, uint32_t *seen_us, uint32_t now_us)
{
    const uint32_t step_us = now_us - *seen_us;
    const uint32_t passed_us = now_us - *since_us;
    *seen_us = now_us;
    if (step_us > (uint32_t)INT32_MAX) { /* set back: as if the moment had been at that much less */
        *since_us += step_us;
        return passed_us - step_us;
    }
    if (passed_us <= (uint32_t)INT32_MAX)
        return passed_us;
    *since_us = now_us - (uint32_t)INT32_MAX; /* no age wraps */
    return (uint32_t)INT32_MAX;
}
