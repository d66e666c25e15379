/*
 * A resistance from a count: R = Rp c / (2^N - c) with the sensor below its partner, Rp (2^N - c) / c above,
 * c the code's centre; independent of the supply, which is the reference too.
 */
#include "tinyladder/resistance.h"
#include "ratio.h"
#include "tinyladder/rom.h"

tl_status tl_resistance_of(const tl_partner *partner, uint16_t count, uint32_t *mohm)
{
    tl_partner own;
    tl_rom_copy(&own, partner, sizeof own);
    if (own.partner_mohm == 0 || own.bits < 4 || own.bits > 16 || own.steps > TL_STEPS_FULL)
        return TL_ERR_ARG;
    /* In half LSB, so that both kinds are whole numbers. */
    const uint32_t all = UINT32_C(2) << own.bits, last = (all >> 1) - 1u;
    const uint32_t below = 2u * count + (own.steps == TL_STEPS_FULL ? 1u : 0u), above = all - below;
    if (count > last)
        return TL_ERR_ARG;
    if (count == 0 || count == last)
        return TL_ERR_RANGE;
    const uint64_t found = own.sensor_above ? tl_ratio_of(own.partner_mohm, above, below)
                                            : tl_ratio_of(own.partner_mohm, below, above);
    if (found > UINT32_MAX)
        return TL_ERR_RANGE;
    *mohm = (uint32_t)found;
    return TL_OK;
}
