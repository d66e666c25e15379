/* SPDX-License-Identifier: MIT */
/*
 * Lengths of pulses and gaps, and a sequence of them: after every length bit i of a word says whether the
 * last i lengths fit the first i of the pattern, so that it may begin anywhere.
 */
#include "tinyladder/pulse.h"
#include "clear.h"
#include "elapsed.h"
#include "port_calls.h"
#include <stddef.h>

tl_status tl_pulse_init(tl_pulse *pulse)
{
    if (MISTAKEN(pulse == NULL))
        return TL_ERR_ARG;
    tl_clear(pulse, sizeof *pulse);
    return TL_OK;
}

bool tl_pulse_feed(tl_pulse *pulse, bool high, uint32_t now_us, tl_length_us *ended)
{
    if (!pulse->any) {
        tl_clear(pulse, sizeof *pulse);
        pulse->seen_us = now_us;
        pulse->high = high;
        pulse->any = true;
        return false;
    }
    const uint32_t length_us = tl_elapsed_us(&pulse->length_us, &pulse->seen_us, now_us);
    if (high == pulse->high)
        return false;
    const bool whole = pulse->whole;
    *ended = (tl_length_us){pulse->high, length_us};
    pulse->rising = (uint16_t)(pulse->rising + high);
    pulse->falling = (uint16_t)(pulse->falling + !high);
    pulse->length_us = 0;
    pulse->high = high;
    pulse->whole = true;
    return whole;
}

uint16_t tl_pulse_missed(const tl_pulse *pulse, uint16_t counted)
{
    return (uint16_t)(counted - pulse->rising - pulse->falling);
}

tl_status tl_pattern_init(tl_pattern *pattern, const TL_IN_ROM tl_length_us *lengths, uint8_t count,
                          uint8_t within_percent)
{
    if (pattern == NULL || !lengths || count == 0 || count > TL_PATTERN_MOST || within_percent > 100)
        return TL_ERR_ARG;
    tl_clear(pattern, sizeof *pattern);
    pattern->lengths = lengths;
    pattern->begun = 1;
    pattern->count = count;
    pattern->within_percent = within_percent;
    return TL_OK;
}

/* |found - wanted| <= wanted * percent / 100, exactly and without overflow. */
static bool fits(const TL_IN_ROM tl_length_us *wanted, const tl_length_us *found, uint8_t percent)
{
    const uint32_t off = found->length_us > wanted->length_us ? found->length_us - wanted->length_us
                                                              : wanted->length_us - found->length_us;
    const uint32_t most = wanted->length_us / 100 * percent + wanted->length_us % 100 * percent / 100;
    return wanted->high == found->high && off <= most;
}

tl_pattern_state tl_pattern_feed(tl_pattern *pattern, const tl_length_us *ended)
{
    uint32_t begun = 1; /* it may begin with the next one */
    if (pattern->state >= TL_PATTERN_PASSED)
        return (tl_pattern_state)pattern->state;
    for (uint8_t i = 0; i < pattern->count; i++) {
        if ((pattern->begun >> i & 1u) != 0 && fits(&pattern->lengths[i], ended, pattern->within_percent))
            begun |= UINT32_C(2) << i;
    }
    pattern->begun = begun;
    pattern->state = begun == 1 ? TL_PATTERN_WAITING : TL_PATTERN_RUNNING;
    if ((begun >> pattern->count & 1u) != 0)
        pattern->state = TL_PATTERN_PASSED;
    else if (++pattern->seen >= 2 * pattern->count)
        pattern->state = TL_PATTERN_FAILED;
    return (tl_pattern_state)pattern->state;
}
