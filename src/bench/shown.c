/* SPDX-License-Identifier: MIT */
/* What the plan's outputs show of the signals that they follow, as firmware would: by the core, through the
 * port. */
#include "bench/bench_internal.h"
#include "tinyladder/output.h"
#include "tinyladder/share.h"
#include <math.h>
#include <string.h>

/* A count as 16 bits of its span. */
static uint16_t of_span(const tl_analog_path *path, long count)
{
    const long at = count - path->first_code, last = path->last_code - path->first_code;
    return last > UINT16_MAX ? (uint16_t)llround((double)at * UINT16_MAX / (double)last) : (uint16_t)at;
}

static uint16_t last_of_span(const tl_analog_path *path)
{
    const long last = path->last_code - path->first_code;
    return last > UINT16_MAX ? UINT16_MAX : (uint16_t)last;
}

/* What levels and duty follow, as a whole number of 0 .. last: the percent where the reading has one; points
 * in %, in their last digits; else the count in its span. */
typedef struct {
    uint16_t at, last;
    bool by_count;
} followed;

static followed followed_of(const tl_bench *bench, const tl_plan_output *output, const tl_bench_reading *r)
{
    const double whole =
        (double)tl_reading_whole(&bench->circuit->plan->signals[output->shows].reading, r->is.decimals);
    if (r->is.percent >= 0)
        return (followed){(uint16_t)r->is.percent, 100, false};
    if (whole > 0)
        return (followed){(uint16_t)fmin(fmax(0, nearbyint(r->is.value / 100 * whole)), whole),
                          (uint16_t)whole, false};
    const tl_analog_path *path = tl_circuit_path(bench->circuit, output->shows);
    return (followed){of_span(path, r->count), last_of_span(path), true};
}

/* The figure of a signal in the unit of an output's levels. */
static double figure_of(const tl_bench *bench, const tl_plan_output *output, int signal,
                        const tl_bench_reading *r)
{
    const bool same = strcmp(bench->circuit->plan->signals[signal].reading.unit, output->unit) == 0;
    return same ? r->is.value : r->is.percent;
}

static double level_of(const tl_bench *bench, const tl_plan_output *output, const tl_output_level *level,
                       const tl_bench_reading *other)
{
    return level->of == TL_NONE ? level->value : level->value + figure_of(bench, output, level->of, other);
}

/* Signs turn what starts below into what starts above. */
static bool beyond(const tl_bench *bench, const tl_plan_output *output, const tl_bench_seen *seen, bool on)
{
    const double sign = output->start_below ? -1 : 1;
    const double value = sign * figure_of(bench, output, output->shows, seen->shown),
                 start = sign * level_of(bench, output, &output->start, seen->start),
                 stop = sign * level_of(bench, output, &output->stop, seen->stop);
    return value >= stop && (value > start || on);
}

static void show_levels(const tl_plan_output *output, const followed *f, tl_bench_shown *now)
{
    uint8_t lit = (uint8_t)now->lit;
    (void)tl_level_of(f->at, 0, f->last, (uint16_t)lround(output->hysteresis / 100 * f->last),
                      (uint8_t)output->pin_count, &lit);
    now->lit = lit;
}

static double duty_of(const followed *f)
{
    return (f->by_count ? tl_duty_of(f->at, f->last, UINT16_MAX)
                        : (double)lround((double)f->at * UINT16_MAX / f->last)) /
           UINT16_MAX;
}

/* What it shows now, by what it has shown. */
static void decide(tl_bench *bench, const tl_plan_output *output, const tl_bench_seen *seen, bool fault,
                   tl_bench_shown *now)
{
    const tl_bench_reading *r = seen->shown;
    const tl_plan_reading *reading = &bench->circuit->plan->signals[output->shows].reading;
    const bool was = now->lit > 0, figure = r->analog || tl_reading_is_timed(reading);
    if (fault && output->safe == TL_SAFE_HOLD)
        return;
    if (fault) {
        now->lit = output->safe == TL_SAFE_ON ? output->pin_count : 0;
    } else if (output->as == TL_OUT_LEVELS && figure) {
        const followed f = followed_of(bench, output, r);
        show_levels(output, &f, now);
    } else if (output->as == TL_OUT_DUTY && figure) {
        const followed f = followed_of(bench, output, r);
        now->duty = duty_of(&f);
        now->lit = now->duty > 0 ? output->pin_count : 0;
        return;
    } else {
        const bool toggle = reading->as == TL_AS_TOGGLE;
        const bool value = figure ? r->is.value != 0 : toggle ? r->toggled : r->closed;
        const bool on = output->as == TL_OUT_THRESHOLD  ? beyond(bench, output, seen, was)
                        : output->as == TL_OUT_INVERTED ? !value
                                                        : value;
        now->lit = on ? output->pin_count : 0;
    }
    now->duty = output->pin_count > 0 ? (double)now->lit / output->pin_count : 0;
}

static tl_status drive(tl_bench *bench, const tl_plan_output *output, const tl_bench_shown *now)
{
    const tl_plan *plan = bench->circuit->plan;
    tl_status status = TL_OK;
    for (int i = 0; i < output->pin_count && status == TL_OK; i++) {
        const int pin = output->pins[i];
        const bool lit_is_low = output->lamp.given && !tl_plan_rail_is_low(plan, output->to),
                   on = i < now->lit;
        if (pin >= plan->board->pin_count || !plan->pins[pin].digital)
            return TL_ERR_UNSUPPORTED;
        if (bench->lines[pin].use != TL_LINE_OUTPUT)
            status = tl_port_line_use(&bench->port, (uint8_t)pin, TL_LINE_OUTPUT);
        if (status == TL_OK && output->as == TL_OUT_DUTY)
            status = tl_port_line_duty(&bench->port, (uint8_t)pin, (uint16_t)lround(now->duty * UINT16_MAX));
        else if (status == TL_OK)
            status = tl_port_line_drive(&bench->port, (uint8_t)pin, on != lit_is_low);
    }
    return status;
}

/* What firmware can tell from counts: that a wire is off shows only where the reading has a fault window. */
static bool has_failed(const tl_bench_reading *r)
{
    return r != NULL && (r->status != TL_OK || r->is.open || r->is.shorted || r->is.none);
}

tl_status tl_bench_show(tl_bench *bench, int output, const tl_bench_seen *seen, tl_bench_shown *now)
{
    const tl_plan_output *of = &bench->circuit->plan->outputs[output];
    const bool failed =
        seen->fault || has_failed(seen->shown) || has_failed(seen->start) || has_failed(seen->stop);
    decide(bench, of, seen, failed, now);
    now->fault = failed;
    return drive(bench, of, now);
}
