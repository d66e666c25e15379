/* SPDX-License-Identifier: MIT */
/*
 * Fault windows: beyond a level a wire is broken or shorted, and what was good last, or a substitute, is
 * handed out instead, never as fresh. The way back is longer by the hysteresis.
 */
#include "tinyladder/fault.h"
#include "clear.h"
#include "elapsed.h"
#include "port_calls.h"

tl_status tl_fault_init(tl_fault *fault, const TL_IN_ROM tl_fault_config *config)
{
    if (MISTAKEN(fault == NULL || !config || config->open_side > TL_FAULT_BELOW ||
                 config->short_side > TL_FAULT_BELOW))
        return TL_ERR_ARG;
    if (MISTAKEN(config->hysteresis < 0))
        return TL_ERR_RANGE;
    (void)config;
    tl_clear(fault, sizeof *fault);
    return TL_OK;
}

/* Levels are moved by the hysteresis without wrapping at the ends of their range. */
static bool is_in_window(uint8_t side, tl_number level, tl_number hysteresis, tl_number value)
{
    if (side == TL_FAULT_ABOVE)
        return value > (level < TL_NUMBER_LEAST + hysteresis ? TL_NUMBER_LEAST : level - hysteresis);
    return side == TL_FAULT_BELOW &&
           value < (level > TL_NUMBER_MOST - hysteresis ? TL_NUMBER_MOST : level + hysteresis);
}

void tl_fault_feed(tl_fault *fault, const TL_IN_ROM tl_fault_config *config, const tl_sample *sample,
                   tl_time now, tl_sample *result)
{
    const tl_number was_open = fault->flags == TL_READING_OPEN ? config->hysteresis : 0,
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
        fault->age = 0;
        fault->seen_at = now;
        fault->any = true;
        tl_copy(result, sample);
        return;
    }
    (void)tl_elapsed(&fault->age, &fault->seen_at, now);
    const unsigned kept = sample->flags & ~(unsigned)TL_READING_FRESH;
    const unsigned stands_in =
        config->has_substitute && fault->flags != 0 ? TL_READING_SUBSTITUTED : TL_READING_STALE;
    result->value = stands_in == TL_READING_SUBSTITUTED ? config->substitute : fault->last_good;
    result->reason = sample->reason;
    result->flags = (uint8_t)(kept | fault->flags | stands_in);
}

tl_time tl_fault_age(const tl_fault *fault, tl_time now)
{
    tl_time age = fault->age, seen_at = fault->seen_at;
    return fault->any ? tl_elapsed(&age, &seen_at, now) : TL_TIME_MOST;
}
