/* SPDX-License-Identifier: MIT */
/*
 * Frequency, duty and period: pulses and gaps (pulse.c) are added up to whole periods, until they are long
 * enough together.
 */
#include "tinyladder/rhythm.h"
#include "ratio.h"
#include <stddef.h>

#ifndef TL_SMALL
tl_status tl_rhythm_init(tl_rhythm *rhythm, const TL_IN_ROM tl_rhythm_config *config)
{
    if (rhythm == NULL || !config || config->over_us > TL_RHYTHM_LONGEST_US || config->stopped_us == 0 ||
        config->stopped_us > TL_RHYTHM_LONGEST_US)
        return TL_ERR_ARG;
    *rhythm =
        (tl_rhythm){.over_us = config->over_us, .stopped_us = config->stopped_us, .of_open = config->of_open};
    return TL_OK;
}

static void begin_anew(tl_rhythm *rhythm)
{
    rhythm->begun = false;
    rhythm->sum_us = 0;
    rhythm->sum_on_us = 0;
    rhythm->periods = 0;
}

/* It stands still, or has stood until just now: that is part of no period. @return Whether that is new. */
static bool stop(tl_rhythm *rhythm)
{
    const bool was = rhythm->stopped;
    begin_anew(rhythm);
    rhythm->stopped = true;
    return !was;
}

bool tl_rhythm_feed(tl_rhythm *rhythm, bool on, uint32_t now_us)
{
    tl_length_us ended;
    if (!tl_pulse_feed(&rhythm->pulse, on, now_us, &ended))
        return rhythm->pulse.length_us >= rhythm->stopped_us && stop(rhythm);
    if (ended.length_us >= rhythm->stopped_us)
        return stop(rhythm);
    if (ended.high) {
        rhythm->on_us = ended.length_us;
        rhythm->begun = true;
        return false;
    }
    if (!rhythm->begun)
        return false;
    rhythm->begun = false;
    rhythm->sum_us += rhythm->on_us + ended.length_us;
    rhythm->sum_on_us += rhythm->on_us;
    rhythm->periods++;
    if (rhythm->sum_us == 0 || (rhythm->sum_us < rhythm->over_us && rhythm->periods < UINT16_MAX))
        return false;
    rhythm->last_us = rhythm->sum_us;
    rhythm->last_on_us = rhythm->sum_on_us;
    rhythm->last_periods = rhythm->periods;
    rhythm->stopped = false;
    begin_anew(rhythm);
    return true;
}

tl_status tl_rhythm_look(tl_rhythm *rhythm, tl_button *button, const tl_port *port, bool *measured)
{
    tl_button_event event;
    const tl_status status = tl_button_look(button, port, &event);
    *measured = status == TL_OK && tl_rhythm_feed(rhythm, button->closed != rhythm->of_open, button->seen_at);
    return status;
}

static uint32_t ten_to(uint8_t decimals)
{
    uint32_t power = 1;
    for (uint8_t i = 0; i < decimals; i++)
        power *= 10;
    return power;
}

/* a * b / whole where it runs; what stands still shows `still`. */
static tl_sample figure(const tl_rhythm *rhythm, uint32_t a, uint32_t b, uint32_t whole, int32_t still)
{
    if (rhythm->stopped)
        return (tl_sample){.value = still, .flags = TL_READING_FRESH};
    if (rhythm->last_us == 0 || rhythm->last_periods == 0)
        return (tl_sample){.reason = TL_ERR_LATE};
    const uint64_t value = tl_ratio_of(a, b, whole);
    return (tl_sample){.value = value > INT32_MAX ? INT32_MAX : (int32_t)value, .flags = TL_READING_FRESH};
}

tl_sample tl_rhythm_frequency(const tl_rhythm *rhythm, uint8_t decimals)
{
    return figure(rhythm, rhythm->last_periods, ten_to(decimals) * UINT32_C(1000000), rhythm->last_us, 0);
}

tl_sample tl_rhythm_duty(const tl_rhythm *rhythm, uint8_t decimals)
{
    const uint32_t whole = 100 * ten_to(decimals);
    return figure(rhythm, rhythm->last_on_us, whole, rhythm->last_us,
                  rhythm->pulse.high ? (int32_t)whole : 0);
}

tl_sample tl_rhythm_period(const tl_rhythm *rhythm, uint8_t decimals)
{
    if (rhythm->stopped)
        return (tl_sample){.reason = TL_ERR_RANGE};
    return figure(rhythm, rhythm->last_us, 1, rhythm->last_periods * ten_to((uint8_t)(3 - decimals)), 0);
}
#endif
