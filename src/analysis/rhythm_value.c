/* SPDX-License-Identifier: MIT */
/* What a plan makes of a line's frequency, duty or period, and how far that is to be trusted. */
#include "tinyladder/design/measurement.h"
#include <math.h>

tl_rhythm_config tl_plan_rhythm(const tl_plan *plan, int signal)
{
    const tl_signal *s = &plan->signals[signal];
    return (tl_rhythm_config){.over_us = (uint32_t)llround(1e6 * s->reading.over),
                              .stopped_us = (uint32_t)llround(1e6 * s->reading.stopped_after),
                              .of_open = s->source.kind == TL_SOURCE_LOGIC};
}

static tl_sample sample_of(const tl_plan_reading *reading, const tl_rhythm *rhythm)
{
    const uint8_t decimals = (uint8_t)reading->decimals;
    return reading->as == TL_AS_FREQUENCY ? tl_rhythm_frequency(rhythm, decimals)
           : reading->as == TL_AS_DUTY    ? tl_rhythm_duty(rhythm, decimals)
                                          : tl_rhythm_period(rhythm, decimals);
}

/* Of what stands still: no edge for so long. */
static tl_interval still_within(const tl_plan_reading *reading, double value)
{
    return reading->as == TL_AS_FREQUENCY ? (tl_interval){0, 1 / reading->stopped_after}
                                          : (tl_interval){value, value};
}

static tl_interval runs_within(const tl_plan_reading *reading, const tl_rhythm *rhythm, double late,
                               double apart)
{
    const double all = 1e-6 * rhythm->last_us, on = 1e-6 * rhythm->last_on_us, periods = rhythm->last_periods;
    const double shortest = fmax(0, all - late), longest = all + late;
    switch (reading->as) {
    case TL_AS_FREQUENCY:
        return (tl_interval){periods / longest, shortest > 0 ? periods / shortest : INFINITY};
    case TL_AS_DUTY:
        /* Every pulse may be so much shorter or longer by its two edges. */
        return (tl_interval){fmax(0, 100 * (on - periods * (late + apart)) / longest),
                             shortest > 0 ? fmin(100, 100 * (on + periods * (late + apart)) / shortest)
                                          : 100};
    default:
        return (tl_interval){1e3 * shortest / periods, 1e3 * longest / periods};
    }
}

void tl_plan_rhythm_value(const tl_plan *plan, int signal, const tl_rhythm *rhythm, double late, double apart,
                          tl_value *value)
{
    const tl_signal *s = &plan->signals[signal];
    const tl_sample is = sample_of(&s->reading, rhythm);
    *value = (tl_value){.pin_volts = NAN,
                        .pin_within = {NAN, NAN},
                        .value = NAN,
                        .within = {NAN, NAN},
                        .decimals = s->reading.decimals,
                        .percent = -1,
                        .button = -1,
                        .none = (is.flags & TL_READING_FRESH) == 0};
    if (value->none)
        return;
    value->value = is.value * pow(10, -s->reading.decimals);
    /* A contact's edge is its last bounce. */
    value->within = rhythm->stopped ? still_within(&s->reading, value->value)
                                    : runs_within(&s->reading, rhythm, late + s->source.bounce, apart);
}
