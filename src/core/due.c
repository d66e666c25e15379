/* SPDX-License-Identifier: MIT */
/* A beat: the rest until the next time, less what has passed since the last question. */
#include "tinyladder/due.h"
#include "port_calls.h"

tl_status tl_due_init(tl_due *due, tl_time every, tl_time now)
{
    if (MISTAKEN(due == NULL || every == 0 || every > TL_TIME_MOST / 2 + 1))
        return TL_ERR_ARG;
    due->every = due->left = every;
    due->seen_at = now;
    due->missed = 0;
    return TL_OK;
}

bool tl_due_now(tl_due *due, tl_time now)
{
    tl_time passed = (tl_time)(now - due->seen_at);
    due->seen_at = now;
    if (passed > TL_TIME_MOST) /* set back */
        return false;
    if (passed < due->left) {
        due->left = (tl_time)(due->left - passed);
        return false;
    }
    passed = (tl_time)(passed - due->left); /* since it was due */
    due->left = due->every;
    if (passed >= due->every) {
        const tl_time times = (tl_time)(passed / due->every), room = (tl_time)(UINT16_MAX - due->missed);
        due->missed = (uint16_t)(due->missed + (times < room ? times : room));
        passed = (tl_time)(passed % due->every);
    }
    due->left = (tl_time)(due->left - passed);
    return true;
}
