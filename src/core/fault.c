#include "tinyladder/fault.h"
#include "tinyladder/rom.h"

tl_status tl_fault_init(tl_fault *fault, const tl_fault_config *config)
{
    tl_fault_config own;
    if (fault == NULL || config == NULL)
        return TL_ERR_ARG;
    tl_rom_copy(&own, config, sizeof own);
    if (own.open_side > TL_FAULT_BELOW || own.short_side > TL_FAULT_BELOW)
        return TL_ERR_ARG;
    if (own.hysteresis < 0)
        return TL_ERR_RANGE;
    *fault = (tl_fault){0};
    return TL_OK;
}

/* Differences in 64 bits: a level near the end of its range must not wrap. */
static bool is_in_window(uint8_t side, int32_t level, int32_t hysteresis, bool was_in, int32_t value)
{
    const int64_t beyond = side == TL_FAULT_ABOVE ? (int64_t)value - level : (int64_t)level - value;
    if (side == TL_FAULT_NONE)
        return false;
    return was_in ? beyond > -(int64_t)hysteresis : beyond > 0;
}

void tl_fault_feed(tl_fault *fault, const tl_fault_config *config, const tl_sample *sample, uint32_t now_us,
                   tl_sample *result)
{
    tl_fault_config own;
    tl_rom_copy(&own, config, sizeof own);
    const bool open = is_in_window(own.open_side, own.open_level, own.hysteresis,
                                   (fault->flags & TL_READING_OPEN) != 0, sample->value);
    const bool shorted = !open && is_in_window(own.short_side, own.short_level, own.hysteresis,
                                               (fault->flags & TL_READING_SHORT) != 0, sample->value);
    fault->flags = (uint8_t)(open ? TL_READING_OPEN : shorted ? TL_READING_SHORT : 0u);
    const bool fresh = (sample->flags & TL_READING_FRESH) != 0;
    if (fault->flags == 0 && fresh) {
        fault->last_good = sample->value;
        fault->good_us = now_us;
        fault->any = true;
        fault->old = false;
        *result = *sample;
        return;
    }
    fault->old = fault->old || now_us - fault->good_us > (uint32_t)INT32_MAX;
    const unsigned kept = sample->flags & ~(unsigned)TL_READING_FRESH;
    const unsigned stands_in =
        own.has_substitute && fault->flags != 0 ? TL_READING_SUBSTITUTED : TL_READING_STALE;
    result->value = stands_in == TL_READING_SUBSTITUTED ? own.substitute : fault->last_good;
    result->flags = (uint8_t)(kept | fault->flags | stands_in);
}

int32_t tl_fault_age_us(const tl_fault *fault, uint32_t now_us)
{
    const uint32_t age = now_us - fault->good_us;
    return !fault->any || fault->old || age > (uint32_t)INT32_MAX ? INT32_MAX : (int32_t)age;
}
