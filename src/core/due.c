/* A beat: the rest until the next time, less what has passed since the last question. */
#include "tinyladder/due.h"
#include <stddef.h>

enum { LONGEST_BITS = 30 };

tl_status tl_due_init(tl_due *due, uint32_t every_us, uint32_t now_us)
{
    if (due == NULL || every_us == 0 || every_us > UINT32_C(1) << LONGEST_BITS)
        return TL_ERR_ARG;
    *due = (tl_due){.every_us = every_us, .left_us = every_us, .seen_us = now_us};
    return TL_OK;
}

bool tl_due_now(tl_due *due, uint32_t now_us)
{
    uint32_t passed_us = now_us - due->seen_us;
    due->seen_us = now_us;
    if (passed_us > (uint32_t)INT32_MAX) /* set back */
        return false;
    if (passed_us < due->left_us) {
        due->left_us -= passed_us;
        return false;
    }
    passed_us -= due->left_us; /* since it was due */
    due->left_us = due->every_us;
    if (passed_us >= due->every_us) {
        const uint32_t times = passed_us / due->every_us, room = UINT16_MAX - (uint32_t)due->missed;
        due->missed = (uint16_t)(due->missed + (times < room ? times : room));
        passed_us %= due->every_us;
    }
    due->left_us -= passed_us;
    return true;
}
