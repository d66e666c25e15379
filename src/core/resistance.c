/* SPDX-License-Identifier: MIT */
/*
 * A resistance from a count: R = Rp c / (2^N - c) with the sensor below its partner, Rp (2^N - c) / c above,
 * c the code's centre; independent of the supply, which is the reference too.
 */
#include "tinyladder/resistance.h"
#include "ratio.h"

tl_status tl_resistance_of(const TL_IN_ROM tl_partner *partner, uint16_t count, uint32_t *mohm)
{
    if (partner->partner_mohm == 0 || partner->bits < 4 || partner->bits > 16 ||
        partner->steps > TL_STEPS_FULL)
        return TL_ERR_ARG;
    /* In half LSB, so that both kinds are whole numbers. */
    const uint32_t all = UINT32_C(2) << partner->bits, last = (all >> 1) - 1u;
    if (count > last)
        return TL_ERR_ARG;
    if (count == 0 || count == last)
        return TL_ERR_RANGE;
    const uint32_t below = 2u * count + (partner->steps == TL_STEPS_FULL ? 1u : 0u), above = all - below;
    const uint64_t found = partner->sensor_above ? tl_ratio_of(partner->partner_mohm, above, below)
                                                 : tl_ratio_of(partner->partner_mohm, below, above);
    if (found > UINT32_MAX)
        return TL_ERR_RANGE;
    *mohm = (uint32_t)found;
    return TL_OK;
}
