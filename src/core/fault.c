/*
 * Fault windows: beyond a level a wire is broken or shorted, and what was good last, or a substitute, is
 * handed out instead, never as fresh. The way back is longer by the hysteresis.
 */
#include "tinyladder/fault.h"
#include "elapsed.h"

tl_status tl_fault_init(tl_fault *fault, const TL_IN_ROM tl_fault_config *config)
{
    if (fault == NULL || !config || config->open_side > TL_FAULT_BELOW || config->short_side > TL_FAULT_BELOW)
        return TL_ERR_ARG;
    if (config->hysteresis < 0)
        return TL_ERR_RANGE;
    *fault = (tl_fault){0};
    return TL_OK;
}

/* Levels are moved by the hysteresis without wrapping at the ends of their range. */
static bool is_in_window(uint8_t side, int32_t level, int32_t hysteresis, int32_t value)
{
    if (side == TL_FAULT_ABOVE)
        return value > (level < INT32_MIN + hysteresis ? INT32_MIN : level - hysteresis);
    return side == TL_FAULT_BELOW &&
           value < (level > INT32_MAX - hysteresis ? INT32_MAX : level + hysteresis);
}

void tl_fault_feed(tl_fault *fault, const TL_IN_ROM tl_fault_config *config, const tl_sample *sample,
                   uint32_t now_us, tl_sample *result)
{
    const int32_t was_open = fault->flags == TL_READING_OPEN ? config->hysteresis : 0,
                  was_short = fault->flags == TL_READING_SHORT ? config->hysteresis : 0;
    if (is_in_window(config->open_side, config->open_level, was_open, sample->value))
        fault->flags = TL_READING_OPEN;
    else if (is_in_window(config->short_side, config->short_level, was_short, sample->value))
        fault->flags = TL_READING_SHORT;
    else
        fault->flags = 0;
    const bool fresh = (sample->flags & TL_READING_FRESH) != 0;
    if (fault->flags == 0 && fresh) {
        fault->last_good = sample->value;
        fault->age_us = 0;
        fault->seen_us = now_us;
        fault->any = true;
        *result = *sample;
        return;
    }
    (void)tl_elapsed_us(&fault->age_us, &fault->seen_us, now_us);
    const unsigned kept = sample->flags & ~(unsigned)TL_READING_FRESH;
    const unsigned stands_in =
        config->has_substitute && fault->flags != 0 ? TL_READING_SUBSTITUTED : TL_READING_STALE;
    result->value = stands_in == TL_READING_SUBSTITUTED ? config->substitute : fault->last_good;
    result->reason = sample->reason;
    result->flags = (uint8_t)(kept | fault->flags | stands_in);
}

int32_t tl_fault_age_us(const tl_fault *fault, uint32_t now_us)
{
    uint32_t age_us = fault->age_us, seen_us = fault->seen_us;
    return fault->any ? (int32_t)tl_elapsed_us(&age_us, &seen_us, now_us) : INT32_MAX;
}
