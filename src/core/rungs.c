/* SPDX-License-Identifier: MIT */
/* Which of several buttons on one pin is down: the first interval of counts that the count lies in; between
 * two it is none. */
#include "tinyladder/rungs.h"

uint8_t tl_ladder_level(const TL_IN_ROM tl_rung *rungs, uint8_t levels, uint16_t count)
{
    for (uint8_t i = 0; i < levels; i++) {
        if (count >= rungs[i].low && count <= rungs[i].high)
            return i;
    }
    return TL_LADDER_BETWEEN;
}
