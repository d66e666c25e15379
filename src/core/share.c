/* SPDX-License-Identifier: MIT */
/*
 * Shares and levels: parts (value - empty) / (full - empty), clamped; n + 1 equal bands for n lamps, with
 * half of the hysteresis on either side of a boundary, all compared as whole multiples of 1 / (2 bands).
 */
#include "tinyladder/share.h"
#include "ratio.h"
#include <stdbool.h>
#include <stddef.h>

tl_status tl_share_of(int32_t value, int32_t empty, int32_t full, uint16_t parts, uint16_t *share)
{
    if (empty == full || parts == 0)
        return TL_ERR_ARG;
    /* Both differences become non-negative; each then fits in 32 bits, and their product with parts in 48. */
    const bool rising = full > empty;
    const uint32_t span = rising ? (uint32_t)full - (uint32_t)empty : (uint32_t)empty - (uint32_t)full;
    if (rising ? value <= empty : value >= empty) {
        *share = 0;
        return TL_OK;
    }
    const uint32_t above = rising ? (uint32_t)value - (uint32_t)empty : (uint32_t)empty - (uint32_t)value;
    *share = above >= span ? parts : (uint16_t)tl_ratio_of(above, parts, span);
    return TL_OK;
}

void tl_share_inward(int32_t *empty, int32_t *full, uint8_t percent)
{
    const int64_t inward = ((int64_t)*full - *empty) * (percent < 49 ? percent : 49) / 100;
    *empty = (int32_t)(*empty + inward);
    *full = (int32_t)(*full - inward);
}

tl_status tl_level_of(uint16_t value, uint16_t first, uint16_t last, uint16_t hysteresis, uint8_t levels,
                      uint8_t *level)
{
    if (first >= last || levels == 0 || *level > levels)
        return TL_ERR_ARG;
    const uint32_t bands = (uint32_t)levels + 1u;
    const uint32_t span =
        (uint32_t)last - first + 1u; /* this many values; a lamp begins with a value of its own */
    if (hysteresis * bands >= span)
        return TL_ERR_ARG;

    /* Everything is compared in units of 1/(2 bands): boundary i lies at 2 * i * span. Below 2^26. */
    const uint32_t above = value <= first ? 0u : value >= last ? span - 1u : (uint32_t)value - first;
    const uint32_t at = 2u * bands * above;
    const uint32_t half = bands * hysteresis;
    uint8_t now = *level;
    while (now < levels && at >= 2u * (now + 1u) * span + half)
        now++;
    while (now > 0 && at + half < 2u * now * span)
        now--;
    *level = now;
    return TL_OK;
}

uint8_t tl_level_by(const TL_IN_ROM tl_level_step *steps, uint8_t levels, uint16_t count, uint8_t was)
{
    while (was < levels && count >= steps[was].on)
        was++;
    while (was > 0 && count < steps[was - 1].off)
        was--;
    return was;
}
