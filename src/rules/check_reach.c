/* SPDX-License-Identifier: MIT */
/* Rules for what a reading and its outputs wait for and never get: percent ends, thresholds, fault windows.
 */
#include "analysis/ask.h"
#include "rules/check.h"
#include <math.h>
#include <string.h>

/* The shown figure, and the percentage, at both ends of what the converter can see of the source. */
static bool ends_of(const tl_checker *k, int signal, tl_value ends[2])
{
    const tl_signal_nodes *nodes = &k->circuit->signals[signal];
    const tl_analog_path *path = tl_circuit_path(k->circuit, signal);
    tl_interval shares;
    if (nodes->unknown == TL_NET_NONE || nodes->states > 1 || nodes->reference == TL_NET_NONE ||
        path->fault != TL_NET_SOLVED || tl_circuit_shares(k->circuit, signal, 0, &shares) != TL_NET_SOLVED)
        return false;
    const double share[2] = {shares.low, shares.high};
    for (int i = 0; i < 2; i++) {
        const double code =
            fmin(fmax(share[i] * path->reference_counts, (double)path->first_code), (double)path->last_code);
        if (tl_plan_value_plain(k->circuit, signal, code, &ends[i]) != TL_NET_SOLVED || isnan(ends[i].value))
            return false;
    }
    return true;
}

enum { MARGIN_MOST = 50 }; /* percent: what the plan's language has */

static void check_percent(const tl_checker *k, int signal, const tl_value ends[2])
{
    const tl_signal *s = &k->plan->signals[signal];
    const int least = ends[0].percent < ends[1].percent ? ends[0].percent : ends[1].percent,
              most = ends[0].percent < ends[1].percent ? ends[1].percent : ends[0].percent;
    if (!s->reading.empty.given || least < 0 || (least <= 1 && most >= 99))
        return;
    const bool full = most < 99;
    tl_finding *f = tl_check_add(
        k, TL_USUAL, TL_RULE_PERCENT_UNREACHABLE, full ? s->reading.full.place : s->reading.empty.place,
        "%s cannot reach %s %%: the range of its source ends before that", s->name, full ? "100" : "0");
    tl_finding_figures(f, TL_DIM_PERCENT, full ? most : least, full ? 100 : 0);
    tl_finding_text(&f->figure, "it can show %d to %d %%", least, most);
    const int margin = full ? 100 - most : least;
    if (margin < MARGIN_MOST)
        tl_finding_text(&f->fix, "set both ends within the source range, or margin: %d %%", margin);
}

/* A window for a broken wire or a short must begin where there are codes: at the end of the range they stick.
 */
static void check_window(const tl_checker *k, int signal, const tl_fault_window *window, bool open)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_analog_path *path = tl_circuit_path(k->circuit, signal);
    const bool percent = window->dimension == TL_DIM_PERCENT;
    if (!window->level.given || (!percent && window->dimension != TL_DIM_VOLT) ||
        path->fault != TL_NET_SOLVED)
        return;
    const double reference = k->circuit->nominal[k->circuit->signals[signal].reference],
                 full = percent ? 100 : reference, lsb = full / path->reference_counts;
    const double last = lsb * (double)path->last_code, first = lsb * (double)path->first_code;
    const double level = window->level.value.nominal;
    if (window->above ? level < last : level > first)
        return;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_FAULT_UNREACHABLE, window->level.place,
                                 "%s of %s cannot be detected: its window is outside the ADC range",
                                 open ? "a broken wire" : "a short", s->name);
    tl_finding_figures(f, window->dimension, window->above ? last : first, level);
    tl_finding_text(&f->figure, "the %s code is %s", window->above ? "last" : "first",
                    tl_show(window->above ? last : first, window->dimension, TL_ROUND_NEAREST).text);
    tl_finding_text(&f->fix, "set a level within the range of the ADC");
}

/* Points that all lie on one side of the source's range. */
static void check_points(const tl_checker *k, const tl_signal *s)
{
    const tl_plan_reading *reading = &s->reading;
    const tl_quantity *range = &s->source.value.value;
    if (reading->point_count < 2 || reading->of != TL_OF_SOURCE || !s->source.value.given ||
        (s->source.kind != TL_SOURCE_VOLTAGE && s->source.kind != TL_SOURCE_CURRENT &&
         s->source.kind != TL_SOURCE_BRIDGE))
        return;
    const double first = reading->points[0].from, last = reading->points[reading->point_count - 1].from;
    if (first < range->high && last > range->low)
        return;
    const tl_dimension is = s->source.kind == TL_SOURCE_CURRENT ? TL_DIM_AMPERE : TL_DIM_VOLT;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_POINTS_UNREACHABLE, reading->points[0].place,
                                 "%s: its source never reaches any of the points", s->name);
    tl_finding_figures(f, is, first < range->high ? last : first,
                       first < range->high ? range->low : range->high);
    tl_finding_text(&f->figure, "points %s to %s; source %s to %s", tl_show(first, is, TL_ROUND_NEAREST).text,
                    tl_show(last, is, TL_ROUND_NEAREST).text, tl_show(range->low, is, TL_ROUND_DOWN).text,
                    tl_show(range->high, is, TL_ROUND_UP).text);
    tl_finding_text(&f->fix, "set points within the source range");
}

/* What a signal gives in the unit of an output's levels, and how much of that a count is. */
typedef struct {
    double low, high, count;
} given_span;

static bool span_of(const tl_checker *k, int signal, const tl_plan_output *output, given_span *span)
{
    tl_value ends[2];
    tl_interval shares;
    const bool percent = strcmp(k->plan->signals[signal].reading.unit, output->unit) != 0;
    if (!k->plan->signals[signal].analog || !ends_of(k, signal, ends) ||
        tl_circuit_shares(k->circuit, signal, 0, &shares) != TL_NET_SOLVED)
        return false;
    const double a = percent ? ends[0].percent : ends[0].value, b = percent ? ends[1].percent : ends[1].value,
                 counts = (shares.high - shares.low) * tl_circuit_path(k->circuit, signal)->reference_counts;
    const double count = counts > 1 ? fabs(b - a) / counts : 0;
    *span = (given_span){fmin(a, b), fmax(a, b), percent ? fmax(1, count) : count};
    return true;
}

/* Where a level can stand. */
static bool level_span(const tl_checker *k, const tl_plan_output *output, const tl_output_level *level,
                       given_span *span)
{
    *span = (given_span){.low = 0, .high = 0};
    if (level->of != TL_NONE && !span_of(k, level->of, output, span))
        return false;
    span->low += level->value;
    span->high += level->value;
    return true;
}

/* Between start and stop at least a count must lie, or noise switches it on and off: of what it shows, and of
 * what sets the levels. */
static void check_hysteresis(const tl_checker *k, const tl_plan_output *output, const given_span *shown,
                             const given_span *start, const given_span *stop)
{
    const bool together = output->start.of == output->stop.of;
    const double apart = together              ? fabs(output->start.value - output->stop.value)
                         : output->start_below ? stop->low - start->high
                                               : start->low - stop->high,
                 count = shown->count + fmax(start->count, stop->count);
    if (!(apart < count))
        return;
    const char *name = k->plan->signals[output->shows].name;
    tl_finding *f = apart > 0 || together
                        ? tl_check_add(k, TL_USUAL, TL_RULE_THRESHOLD_CLOSE, output->start.place,
                                       "%s: start and stop are less than one count of %s apart; it chatters",
                                       output->name, name)
                        : tl_check_add(k, TL_USUAL, TL_RULE_THRESHOLD_CLOSE, output->start.place,
                                       "%s: start and stop can cross; it chatters there, or never turns on",
                                       output->name);
    tl_finding_figures(f, TL_DIM_NUMBER, apart, count);
    if (apart < 0)
        tl_finding_text(&f->figure, "start %.4g .. %.4g %s, stop %.4g .. %.4g %s", start->low, start->high,
                        output->unit, stop->low, stop->high, output->unit);
    else
        tl_finding_text(&f->figure, "%g %s between start and stop; one count is %.3g %s", apart, output->unit,
                        count, output->unit);
    if (together)
        tl_finding_text(&f->fix, "set start and stop at least %.2g %s apart", 4 * count, output->unit);
    else
        tl_finding_text(
            &f->fix, "use one signal for both: '%s: %s', with a figure added in the other",
            output->start_below ? "start-below" : "start-above",
            k->plan->signals[output->start.of != TL_NONE ? output->start.of : output->stop.of].name);
}

static void check_level(const tl_checker *k, const tl_plan_output *output, const given_span *shown, bool stop,
                        const given_span *level)
{
    const tl_output_level *of = stop ? &output->stop : &output->start;
    if (level->low <= shown->high && level->high >= shown->low)
        return;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_THRESHOLD_UNREACHABLE, of->place,
                                 "%s: %s never reaches this threshold, so it never turns %s", output->name,
                                 k->plan->signals[output->shows].name, stop ? "off again" : "on");
    tl_finding_figures(f, TL_DIM_NUMBER, level->low > shown->high ? level->low : level->high,
                       level->low > shown->high ? shown->high : shown->low);
    if (of->of == TL_NONE)
        tl_finding_text(&f->figure, "%g %s; the signal gives %.4g to %.4g %s", level->low, output->unit,
                        shown->low, shown->high, output->unit);
    else
        tl_finding_text(&f->figure, "%.4g to %.4g as %s sets it; the signal gives %.4g to %.4g %s",
                        level->low, level->high, k->plan->signals[of->of].name, shown->low, shown->high,
                        output->unit);
    tl_finding_text(&f->fix, "set a threshold within %.4g to %.4g %s", shown->low, shown->high, output->unit);
}

static void check_threshold(const tl_checker *k, const tl_plan_output *output)
{
    given_span shown, start, stop;
    if (!span_of(k, output->shows, output, &shown) || !level_span(k, output, &output->start, &start) ||
        !level_span(k, output, &output->stop, &stop))
        return;
    check_level(k, output, &shown, false, &start);
    check_level(k, output, &shown, true, &stop);
    if (shown.count > 0)
        check_hysteresis(k, output, &shown, &start, &stop);
}

void tl_check_reach(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    tl_value ends[2];
    if (!s->analog)
        return;
    check_points(k, s);
    check_window(k, signal, &s->reading.open, true);
    check_window(k, signal, &s->reading.shorted, false);
    if (!ends_of(k, signal, ends))
        return;
    check_percent(k, signal, ends);
    for (int i = 0; i < k->plan->output_count; i++) {
        const tl_plan_output *output = &k->plan->outputs[i];
        if (output->shows == signal && output->as == TL_OUT_THRESHOLD)
            check_threshold(k, output);
    }
}
