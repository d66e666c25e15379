/* SPDX-License-Identifier: MIT */
/* What the plan makes of one count. */
#include "reading/counts.h"
#include <math.h>

bool count_taken(tl_circuit *c, int signal, double count, taken *r)
{
    const tl_analog_path *path = tl_circuit_path(c, signal);
    if (path->fault == TL_NET_SOLVED &&
        !(count >= (double)path->first_code && count <= (double)path->last_code)) {
        *r = (taken){.is = {.analog = true, .count = lround(count), .status = TL_ERR_RANGE}, .closings = -1};
        return false;
    }
    *r = (taken){.is = {.analog = true,
                        .count = lround(count),
                        .flags = TL_READING_FRESH,
                        .is = {.percent = -1, .button = -1},
                        .truth = NAN},
                 .closings = -1};
    if (count <= (double)path->first_code)
        r->is.flags |= TL_READING_CLIPPED_LOW;
    else if (count >= (double)path->last_code)
        r->is.flags |= TL_READING_CLIPPED_HIGH;
    r->net = path->fault != TL_NET_SOLVED ? path->fault : tl_plan_value(c, signal, count, &r->is.is);
    if (r->is.is.open || r->is.is.shorted)
        r->is.flags &= ~(unsigned)TL_READING_FRESH;
    return true;
}
