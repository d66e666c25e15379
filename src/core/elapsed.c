/* SPDX-License-Identifier: MIT */
/* Time that has passed, whatever happens to the clock: one copy of it for all that wait, since it is large on
 * 8 bits. */
#include "elapsed.h"

uint32_t tl_elapsed_us(uint32_t *passed_us, uint32_t *seen_us, uint32_t now_us)
{
    uint32_t step_us = now_us - *seen_us;
    *seen_us = now_us;
    if (step_us > (uint32_t)INT32_MAX) /* set back */
        step_us = 0;
    step_us += *passed_us;
    if (step_us > (uint32_t)INT32_MAX) /* no age wraps */
        step_us = (uint32_t)INT32_MAX;
    *passed_us = step_us;
    return step_us;
}

#ifdef TL_SMALL
tl_time tl_elapsed(tl_time *passed, tl_time *seen, tl_time now)
{
    tl_time step = (tl_time)(now - *seen);
    *seen = now;
    if (step > TL_TIME_MOST) /* set back */
        step = 0;
    step = (tl_time)(step + *passed);
    if (step > TL_TIME_MOST) /* no age wraps */
        step = TL_TIME_MOST;
    *passed = step;
    return step;
}
#endif
