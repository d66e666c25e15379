/* SPDX-License-Identifier: MIT */
/* Reading what a signal's reading shall be. */
#include "base/memory.h"
#include "reader/read_plan.h"
#include "tinyladder/rhythm.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

/* --- what is read, in which unit --- */

tl_dimension dimension_of_reading(const tl_signal *signal, tl_reading_of of)
{
    if (of == TL_OF_SOURCE && signal->source.kind == TL_SOURCE_CURRENT)
        return TL_DIM_AMPERE;
    return of == TL_OF_TRAVEL       ? TL_DIM_PERCENT
           : of == TL_OF_COUNTS     ? TL_DIM_COUNT
           : of == TL_OF_RESISTANCE ? TL_DIM_OHM
           : of == TL_OF_QUANTITY   ? TL_DIM_NUMBER
                                    : TL_DIM_VOLT;
}

/* What each reading can be called in; the first is the default. */
static const char *const *units_of(tl_dimension dimension)
{
    static const char *const volts[] = {"V", "mV", "uV", NULL}, *const amperes[] = {"A", "mA", "uA", "nA",
                                                                                    NULL};
    static const char *const ohms[] = {"ohm", "kohm", "Mohm", NULL}, *const travel[] = {"%", NULL},
                             *const counts[] = {"counts", NULL};
    switch (dimension) {
    case TL_DIM_AMPERE:
        return amperes;
    case TL_DIM_PERCENT:
        return travel;
    case TL_DIM_COUNT:
        return counts;
    case TL_DIM_OHM:
        return ohms;
    default:
        return volts;
    }
}

/* The farthest back that a source allows. */
static tl_reading_of farthest_of(const tl_source *source)
{
    return source->kind == TL_SOURCE_POTENTIOMETER ? TL_OF_TRAVEL
           : source->kind == TL_SOURCE_RESISTANCE
               ? source->curve.law != TL_LAW_NONE ? TL_OF_QUANTITY : TL_OF_RESISTANCE
           : source->kind == TL_SOURCE_CHAIN || source->kind == TL_SOURCE_STAR ? TL_OF_COUNTS
                                                                               : TL_OF_SOURCE;
}

static bool read_of(reader *r, const yaml_tree *node, const tl_signal *signal, tl_plan_reading *reading)
{
    static const char *const of[] = {"source", "pin", "counts", "travel", "resistance", "quantity", NULL};
    const tl_reading_of farthest = farthest_of(&signal->source);
    int choice = 0;
    if (!read_choice(r, node, "of", of, &choice))
        return false;
    if (choice != TL_OF_PIN && choice != TL_OF_COUNTS && choice != (int)farthest &&
        !(choice == TL_OF_RESISTANCE && farthest == TL_OF_QUANTITY)) {
        report_error(r, "unknown-word", node->place, "of this source can be read: %s, pin or counts",
                     of[farthest]);
        return false;
    }
    reading->of = (tl_reading_of)choice;
    return true;
}

static void set_unit(tl_plan_reading *reading, const char *unit)
{
    snprintf(reading->unit, sizeof reading->unit, "%s", unit);
    static const struct {
        const char *unit;
        double per_base;
    } prefixed[] = {{"mV", 1e3}, {"uV", 1e6},    {"mA", 1e3},   {"uA", 1e6},
                    {"nA", 1e9}, {"kohm", 1e-3}, {"Mohm", 1e-6}};
    reading->per_base = 1;
    for (size_t i = 0; i < sizeof prefixed / sizeof prefixed[0]; i++) {
        if (strcmp(unit, prefixed[i].unit) == 0)
            reading->per_base = prefixed[i].per_base;
    }
}

/* A unit that follows from points or from a sensor's law can only be said again. */
static bool read_unit(reader *r, const yaml_tree *node, const tl_signal *signal, tl_plan_reading *reading)
{
    const char *text = NULL;
    const char *const own[] = {reading->unit, NULL};
    const bool fixed = reading->point_count > 0 || reading->of == TL_OF_QUANTITY;
    const char *const *units = fixed ? own : units_of(dimension_of_reading(signal, reading->of));
    int unit = 0;
    if (node == NULL) {
        if (!fixed)
            set_unit(reading, units[0]);
        return true;
    }
    if (fixed && reading->unit[0] == '\0') /* nothing to say again: the points or the law were refused */
        return true;
    if (!read_text(r, node, "a unit", &text) ||
        !read_choice(r, node, "the unit of this reading", units, &unit))
        return false;
    if (!fixed)
        set_unit(reading, units[unit]);
    return true;
}

/* --- points: what source value means what --- */

/* One `FROM: TO` of a list. */
static const yaml_tree *pair_at(reader *r, const yaml_tree *node, int i, const char *example,
                                const yaml_tree **to)
{
    const yaml_tree *item = &node->items[i];
    if (item->kind != YAML_MAP || item->count != 1 || item->items[0].kind != YAML_TEXT) {
        report_error(r, "wrong-shape", item->place, "expected a list of pairs, such as %s", example);
        return NULL;
    }
    *to = &item->items[1];
    return &item->items[0];
}

static bool read_from(reader *r, const yaml_tree *node, tl_dimension dimension, double *from)
{
    tl_text_error error;
    tl_quantity value;
    if (tl_quantity_read(node->text, dimension, &value, &error)) {
        *from = value.nominal;
        return true;
    }
    report_error(r, "bad-quantity", node->place, "%s", error.text);
    return false;
}

static bool read_free(reader *r, const yaml_tree *node, tl_free_figure *figure)
{
    tl_text_error error;
    const char *text = NULL;
    if (!read_text(r, node, "a number with its unit", &text))
        return false;
    if (!tl_free_figure_read(text, &figure->value, figure->unit, &error)) {
        report_error(r, "bad-quantity", node->place, "%s", error.text);
        return false;
    }
    figure->place = node->place;
    figure->given = true;
    return true;
}

static bool read_points(reader *r, const yaml_tree *node, const tl_signal *signal, tl_plan_reading *reading)
{
    const tl_dimension dimension = dimension_of_reading(signal, reading->of);
    if (!check_list(r, node, "points"))
        return false;
    if (node->count < 2 || node->count > TL_PAIRS_MOST) {
        report_error(r, "wrong-shape", node->place, "points are 2 to %d pairs: [0.5 V: 0 m, 4.5 V: 3 m]",
                     TL_PAIRS_MOST);
        return false;
    }
    for (int i = 0; i < node->count; i++) {
        const yaml_tree *to, *from = pair_at(r, node, i, "[0.5 V: 0 m, 4.5 V: 3 m]", &to);
        tl_pair *pair = &reading->points[i];
        tl_free_figure wanted = {0};
        if (from == NULL || !read_from(r, from, dimension, &pair->from) || !read_free(r, to, &wanted))
            return false;
        if (i > 0 && (strcmp(wanted.unit, reading->unit) != 0 || !(pair->from > pair[-1].from))) {
            report_error(r, "table-order", from->place,
                         pair->from > pair[-1].from ? "all points are in one unit"
                                                    : "the left sides rise from point to point");
            return false;
        }
        memcpy(reading->unit, wanted.unit, sizeof reading->unit);
        pair->to = wanted.value;
        pair->place = from->place;
    }
    reading->point_count = node->count;
    const tl_pair *p = reading->points;
    for (int i = 2; i < node->count; i++) {
        if ((p[i].to - p[i - 1].to) * (p[1].to - p[0].to) <= 0) {
            report_error(r, "table-order", p[i].place, "the right sides keep rising or keep falling");
            return false;
        }
    }
    return true;
}

static bool read_percent(reader *r, const yaml_tree *node, const tl_signal *signal, tl_plan_reading *reading)
{
    const tl_dimension dimension = dimension_of_reading(signal, reading->of);
    if (!check_map(r, node, &keys_percent))
        return false;
    bool good = take_present(r, node, &keys_percent, reading);
    for (int end = 0; end < 2; end++) {
        const yaml_tree *at = yaml_get(node, end == 0 ? "empty" : "full");
        tl_located *written = end == 0 ? &reading->empty : &reading->full;
        tl_free_figure figure = {0};
        if (dimension != TL_DIM_NUMBER) {
            good = read_quantity(r, at, dimension, written) && good;
        } else if (read_free(r, at, &figure)) { /* of a sensor's quantity */
            *written = (tl_located){.value = {figure.value, figure.value, figure.value, false},
                                    .place = at->place,
                                    .given = true};
            if (strcmp(figure.unit, signal->source.curve.unit) != 0) {
                report_error(r, "bad-quantity", at->place, "expected a value in %s",
                             signal->source.curve.unit);
                good = false;
            }
        } else {
            good = false;
        }
    }
    if (good && strcmp(reading->unit, "%") == 0) {
        report_error(r, "percent-twice", node->place,
                     "this reading is in %% already: leave 'percent' out, or give it points, such as [2 %%: "
                     "0 %%, 98 %%: 100 %%]");
        return false;
    }
    if (good && (reading->margin < 0 || reading->margin >= 50)) {
        report_error(r, "bad-quantity", yaml_get(node, "margin")->place,
                     "a margin lies between 0 %% and 50 %%");
        return false;
    }
    if (good && reading->empty.value.nominal == reading->full.value.nominal) {
        report_error(r, "percent-ends", node->place, "empty and full are the same");
        return false;
    }
    return good;
}

/* --- averages, faults, trim --- */

static bool read_average(reader *r, const yaml_tree *node, tl_plan_reading *reading)
{
    static const char *const keys[] = {"mean", "median", "rolling", "exponential"};
    for (int i = 0; i < 4; i++) {
        const yaml_tree *at = yaml_get(node, keys[i]);
        long samples = 0;
        if (at == NULL)
            continue;
        if (reading->average != TL_AVERAGE_NONE) {
            report_error(r, "unknown-key", at->place, "only one of mean, median, rolling and exponential");
            return false;
        }
        if (!read_number(r, at, "how many samples", 2, 4096, &samples))
            return false;
        if (i == 1 && samples % 2 == 0) {
            report_error(r, "bad-number", at->place, "a median is of an odd number of samples");
            return false;
        }
        reading->average = (tl_average)(i + 1);
        if (i == 3 && (samples & (samples - 1)) != 0) {
            long below = 2;
            while (2 * below < samples)
                below *= 2;
            report_error(r, "bad-number", at->place,
                         "an exponential mean is of a power of two: %ld is the nearest",
                         samples - below < 2 * below - samples ? below : 2 * below);
            return false;
        }
        reading->samples = (int)samples;
    }
    return true;
}

/* `above 98.5 %`, `below 3.6 mA`, `above 4.9 V` */
static bool read_window(reader *r, const yaml_tree *node, const tl_signal *signal, tl_fault_window *window)
{
    const char *text = NULL;
    tl_text_error error, ignored;
    if (!read_text(r, node, "a fault window", &text))
        return false;
    window->above = strncmp(text, "above ", 6) == 0;
    if (!window->above && strncmp(text, "below ", 6) != 0) {
        report_error(r, "bad-quantity", node->place,
                     "a fault window is written 'above 98 %%' or 'below 0.2 V'");
        return false;
    }
    const tl_dimension own = dimension_of_reading(signal, TL_OF_SOURCE);
    const tl_dimension tried[] = {TL_DIM_PERCENT, TL_DIM_VOLT, own};
    for (int i = 0; i < 3; i++) {
        if (!tl_quantity_read(text + 6, tried[i], &window->level.value, i == 0 ? &error : &ignored))
            continue;
        window->dimension = tried[i];
        window->level.given = true;
        window->level.place = node->place;
        return true;
    }
    report_error(r, "bad-quantity", node->place, "expected a level in %% of the span, or volts at the pin%s",
                 own == TL_DIM_AMPERE ? ", or amperes" : "");
    return false;
}

static bool read_faults(reader *r, const yaml_tree *node, const tl_signal *signal, tl_plan_reading *reading)
{
    const yaml_tree *at;
    bool good = take_keys(r, node, &keys_windows, reading);
    if ((at = yaml_get(node, "open")) != NULL)
        good = read_window(r, at, signal, &reading->open) && good;
    if ((at = yaml_get(node, "short")) != NULL)
        good = read_window(r, at, signal, &reading->shorted) && good;
    if ((at = yaml_get(node, "value")) != NULL)
        good = read_free(r, at, &reading->substitute) && good;
    if (good && reading->substitute.given && strcmp(reading->substitute.unit, reading->unit) != 0) {
        report_error(r, "bad-quantity", reading->substitute.place,
                     "the value shown instead is in %s, like the reading", reading->unit);
        return false;
    }
    return good;
}

static const char *meter_name(const void *list, int i)
{
    return ((const tl_plan *)list)->meters[i].name;
}

static bool read_meter_name(reader *r, const yaml_tree *node, const tl_plan *plan, int *meter)
{
    const char *name = NULL;
    if (!read_text(r, node, "the name of a meter", &name))
        return false;
    for (int i = 0; i < plan->meter_count; i++) {
        if (strcmp(plan->meters[i].name, name) == 0) {
            *meter = i;
            return true;
        }
    }
    const char *meant = nearest_name(name, meter_name, plan, plan->meter_count);
    report_error(r, "unknown-word", node->place, "there is no meter '%.40s'%s%s%s", name,
                 meant != NULL ? ": did you mean '" : "", meant != NULL ? meant : "",
                 meant != NULL ? "'?" : "");
    return false;
}

static bool read_trim(reader *r, const yaml_tree *node, const tl_plan *plan, tl_plan_reading *reading)
{
    const yaml_tree *at, *points = yaml_get(node, "points");
    bool good = take_keys(r, node, &keys_trim, reading);
    if (!good || !check_list(r, points, "the points of a trim"))
        return false;
    if (points->count < 2 || points->count > TL_PAIRS_MOST) {
        report_error(r, "wrong-shape", points->place,
                     "a trim has 2 to %d points: [20 counts: 0.05 V, 900 counts: 2.25 V]", TL_PAIRS_MOST);
        return false;
    }
    for (int i = 0; i < points->count; i++) {
        const yaml_tree *to, *from = pair_at(r, points, i, "[20 counts: 0.05 V, 900 counts: 2.25 V]", &to);
        tl_pair *pair = &reading->trim[i];
        if (from == NULL || !read_from(r, from, TL_DIM_COUNT, &pair->from) ||
            !read_value(r, to, TL_DIM_VOLT, &pair->to))
            return false;
        pair->place = from->place;
        if (i > 0 && !(pair->from > pair[-1].from)) {
            report_error(r, "table-order", from->place, "the counts rise from point to point");
            return false;
        }
    }
    reading->trim_count = points->count;
    if ((at = yaml_get(node, "meter")) != NULL)
        good = read_meter_name(r, at, plan, &reading->meter) && good;
    return good;
}

/* --- restated facts --- */

static bool read_restated_word(reader *r, const yaml_tree *node, tl_plan_reading *reading)
{
    const yaml_tree *fill = yaml_get(node, "fill");
    int ignored = 0;
    const bool good = take_keys(r, node, &keys_restated_word, reading);
    reading->word_place = node->place;
    return (fill == NULL || take_word(r, fill, key_of(&keys_restated_word, "fill"), &ignored)) && good;
}

static bool read_restated(reader *r, const yaml_tree *node, tl_plan_reading *reading)
{
    const yaml_tree *at;
    bool good = true;
    if ((at = yaml_get(node, "scale")) != NULL) { /* a bare number: volts per volt */
        char *end = NULL;
        const char *text = NULL;
        good = read_text(r, at, "source volts per pin volt", &text);
        const double scale = good ? strtod(text, &end) : 0;
        if (good && (*end != '\0' || !(scale > 0 && scale < 1e6))) {
            report_error(r, "bad-number", at->place, "a scale is source volts per pin volt, such as 5.7");
            good = false;
        }
        reading->scale =
            (tl_located){.value = {scale, scale, scale, false}, .place = at->place, .given = good};
    }
    if ((at = yaml_get(node, "word")) != NULL)
        good = read_restated_word(r, at, reading) && good;
    return good;
}

/* --- the two kinds of reading --- */

static bool read_round(reader *r, const yaml_tree *node, tl_plan_reading *reading)
{
    tl_free_figure step = {0};
    if (!read_free(r, node, &step))
        return false;
    if (strcmp(step.unit, reading->unit) == 0 && step.value > 0) {
        reading->round = step.value;
        return true;
    }
    report_error(r, "bad-quantity", node->place, "a step is above 0 and in %s, like the reading",
                 reading->unit);
    return false;
}

static bool read_analog_reading(reader *r, const yaml_tree *node, const tl_plan *plan, tl_signal *signal)
{
    tl_plan_reading *reading = &signal->reading;
    const yaml_tree *at;
    if (!check_map(r, node, &keys_analog_reading) ||
        ((at = yaml_get(node, "of")) != NULL && !read_of(r, at, signal, reading)))
        return false;
    if (reading->of == TL_OF_QUANTITY)
        set_unit(reading, signal->source.curve.unit);
    if ((at = yaml_get(node, "points")) != NULL && !read_points(r, at, signal, reading))
        return false;
    bool good = read_unit(r, yaml_get(node, "unit"), signal, reading);
    good = take_present(r, node, &keys_analog_reading, reading) && good;
    if ((at = yaml_get(node, "round")) != NULL)
        good = read_round(r, at, reading) && good;
    if ((at = yaml_get(node, "percent")) != NULL)
        good = read_percent(r, at, signal, reading) && good;
    good = read_average(r, node, reading) && good;
    if ((at = yaml_get(node, "faults")) != NULL)
        good = read_faults(r, at, signal, reading) && good;
    if ((at = yaml_get(node, "trim")) != NULL)
        good = read_trim(r, at, plan, reading) && good;
    return read_restated(r, node, reading) && good;
}

/* Keys that only a frequency, a duty or a period has. */
static bool check_timed_keys(reader *r, const yaml_tree *node)
{
    static const char *const keys[] = {"over", "stopped-after", "decimals"};
    for (int i = 0; i < 3; i++) {
        const yaml_tree *at = yaml_get(node, keys[i]);
        if (at == NULL)
            continue;
        report_error(r, "unknown-key", at->place, "'%s' goes with 'as: frequency', 'duty' or 'period'",
                     keys[i]);
        return false;
    }
    return true;
}

static bool check_time(reader *r, const yaml_tree *node, const char *key, double time, double least)
{
    const double longest = 1e-6 * TL_RHYTHM_LONGEST_US;
    const yaml_tree *at = yaml_get(node, key);
    if (at == NULL || (time >= least && time <= longest))
        return true;
    report_error(r, "bad-quantity", at->place, "'%s' is %s .. %.0f s", key, least > 0 ? "1 us" : "0 s",
                 floor(longest));
    return false;
}

/* Its unit, its digits, and times that can come true. */
static bool read_timed(reader *r, const yaml_tree *node, tl_signal *signal)
{
    tl_plan_reading *reading = &signal->reading;
    const bool duty = reading->as == TL_AS_DUTY, period = reading->as == TL_AS_PERIOD;
    const double fastest =
        fmax(signal->source.rate, signal->source.shortest > 0 ? 0.5 / signal->source.shortest : 0);
    set_unit(reading, duty ? "%" : period ? "ms" : "Hz");
    if (reading->decimals < 0)
        reading->decimals = period ? 3 : 1;
    if (duty && reading->decimals > 2) {
        report_error(r, "bad-number", yaml_get(node, "decimals")->place, "a duty has 0 to 2 decimals");
        return false;
    }
    if (!check_time(r, node, "over", reading->over, 0) ||
        !check_time(r, node, "stopped-after", reading->stopped_after, 1e-6))
        return false;
    if (fastest > 0 && reading->stopped_after <= 1 / fastest) {
        const yaml_tree *at = yaml_get(node, "stopped-after");
        report_error(
            r, "bad-quantity", at != NULL ? at->place : node->place,
            "'stopped-after' is %g s, but a period takes %.4g s where it is fastest: none would be seen",
            reading->stopped_after, 1 / fastest);
        return false;
    }
    return true;
}

/* `[high 300 ms, low 200 ms]` */
static bool read_digital_reading(reader *r, const yaml_tree *node, tl_signal *signal)
{
    tl_plan_reading *reading = &signal->reading;
    static const char *const levels[2] = {"low", "high"};
    const yaml_tree *at;
    bool good = take_keys(r, node, &keys_digital_reading, reading);
    reading->steady_given = yaml_get(node, "steady") != NULL;
    if ((at = yaml_get(node, "turns-with")) != NULL) {
        const char *name = NULL;
        good = read_text(r, at, "the name of a signal", &name) && good;
        reading->turns_with = name != NULL ? tl_copy_text(name) : NULL;
        reading->turns_place = at->place;
    }
    if ((at = yaml_get(node, "expect")) != NULL)
        good = read_lengths(r, at, levels, reading->expect, TL_PATTERN_MOST, &reading->expect_count) && good;
    if (good && (reading->as == TL_AS_LENGTHS) != (reading->expect_count > 0)) {
        report_error(r, "missing-key", node->place,
                     "lengths and 'expect' go together: {as: lengths, expect: [high 300 ms, low 200 ms]}");
        return false;
    }
    if (!good)
        return false;
    return tl_reading_is_timed(reading) ? read_timed(r, node, signal) : check_timed_keys(r, node);
}

bool read_reading(reader *r, const yaml_tree *node, const tl_plan *plan, tl_signal *signal)
{
    tl_plan_reading *reading = &signal->reading;
    reading->decimals = reading->active = reading->steps = -1;
    reading->word_align = reading->word_sign = reading->word_bytes = -1;
    reading->meter = reading->second_line = TL_NONE;
    reading->per_base = 1;
    reading->of = farthest_of(&signal->source);
    reading->steady = 2 * signal->source.bounce;
    reading->fault_hysteresis = 1;
    reading->within = 5;
    reading->given = node != NULL;
    if (node != NULL)
        reading->place = node->place;
    if (node != NULL && signal->analog)
        return read_analog_reading(r, node, plan, signal);
    if (reading->of == TL_OF_QUANTITY)
        set_unit(reading, signal->source.curve.unit);
    if (signal->analog)
        return read_unit(r, NULL, signal, reading);
    return node == NULL || read_digital_reading(r, node, signal);
}
