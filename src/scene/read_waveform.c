/* SPDX-License-Identifier: MIT */
/* How sources go on over time: lines, steps, waves, files; and patterns of what is only on or off. */
#include "base/memory.h"
#include "model/csv_file.h"
#include "scene/read_scene.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

enum { MOMENTS_MOST = 100000 };

static const char *signal_name(const void *list, int i)
{
    return ((const tl_plan *)list)->signals[i].name;
}

const tl_signal *scene_signal(reader *r, const yaml_tree *key, const tl_plan *plan, int *index)
{
    const tl_signal *signal = key->kind == YAML_TEXT ? tl_plan_signal(plan, key->text, index) : NULL;
    if (signal == NULL) {
        const char *text = key->kind == YAML_TEXT ? key->text : "";
        const char *meant = nearest_name(text, signal_name, plan, plan->signal_count);
        report_error(r, "unknown-signal", key->place, "the plan has no signal '%.60s'%s%s%s", text,
                     meant != NULL ? ": did you mean '" : "", meant != NULL ? meant : "",
                     meant != NULL ? "'?" : "");
    }
    return signal;
}

/* A sensor with a law gets its quantity: `12 degC`. */
static bool read_quantity_of(reader *r, const yaml_tree *node, const tl_response *curve, double *value)
{
    tl_text_error error;
    char unit[16] = "";
    const char *text = NULL;
    if (!read_text(r, node, "a value", &text))
        return false;
    if (tl_free_figure_read(text, value, unit, &error) && strcmp(unit, curve->unit) == 0)
        return true;
    report_error(r, "bad-quantity", node->place, "expected a value in %s", curve->unit);
    return false;
}

/* `TIME: VALUE` */
static bool read_moment(reader *r, const yaml_tree *node, tl_dimension dimension, const tl_response *curve,
                        tl_waveform *waveform)
{
    tl_text_error error;
    tl_quantity at;
    tl_moment moment = {0};
    if (node->kind != YAML_MAP || node->count != 1 || node->items[0].kind != YAML_TEXT) {
        report_error(r, "wrong-shape", node->place,
                     "a moment is written 'TIME: VALUE', such as '30 min: 12.1 V'");
        return false;
    }
    if (!tl_quantity_read(node->items[0].text, TL_DIM_SECOND, &at, &error)) {
        report_error(r, "bad-quantity", node->items[0].place, "%s", error.text);
        return false;
    }
    moment.at = at.nominal;
    if (!(waveform->of_quantity ? read_quantity_of(r, &node->items[1], curve, &moment.value)
                                : read_value(r, &node->items[1], dimension, &moment.value)))
        return false;
    if (waveform->count > 0 && moment.at <= waveform->moments[waveform->count - 1].at) {
        report_error(r, "time-order", node->items[0].place, "times rise from one moment to the next");
        return false;
    }
    waveform->moments = tl_grow(waveform->moments, (size_t)waveform->count, sizeof moment);
    waveform->moments[waveform->count++] = moment;
    return true;
}

static tl_dimension dimension_of(const tl_signal *signal)
{
    switch (signal->source.kind) {
    case TL_SOURCE_POTENTIOMETER:
        return TL_DIM_PERCENT;
    case TL_SOURCE_CURRENT:
        return TL_DIM_AMPERE;
    case TL_SOURCE_RESISTANCE:
        return signal->source.curve.law != TL_LAW_NONE ? TL_DIM_NUMBER : TL_DIM_OHM;
    default:
        return TL_DIM_VOLT;
    }
}

/* A value alone: it stands there all the time. */
static bool read_still(reader *r, const yaml_tree *node, const tl_signal *signal, tl_waveform *waveform)
{
    tl_moment moment = {0};
    if (!(waveform->of_quantity ? read_quantity_of(r, node, &signal->source.curve, &moment.value)
                                : read_value(r, node, dimension_of(signal), &moment.value)))
        return false;
    waveform->moments = tl_grow(waveform->moments, 0, sizeof moment);
    waveform->moments[waveform->count++] = moment;
    return true;
}

static bool read_moments(reader *r, const yaml_tree *node, const tl_signal *signal, tl_waveform *waveform)
{
    if (!check_list(r, node, "the values over time"))
        return false;
    if (node->count == 0) {
        report_error(r, "wrong-shape", node->place, "expected at least one time");
        return false;
    }
    bool good = true;
    for (int i = 0; i < node->count; i++)
        good = read_moment(r, &node->items[i], dimension_of(signal), &signal->source.curve, waveform) && good;
    return good;
}

/* --- waves --- */

static bool read_wave(reader *r, const yaml_tree *node, const tl_signal *signal, tl_waveform *waveform)
{
    if (!check_map(r, node, &keys_wave))
        return false;
    const yaml_tree *middle = yaml_get(node, "middle"), *swing = yaml_get(node, "swing");
    const tl_dimension dimension = dimension_of(signal);
    bool good = waveform->of_quantity
                    ? read_quantity_of(r, middle, &signal->source.curve, &waveform->middle) &&
                          read_quantity_of(r, swing, &signal->source.curve, &waveform->swing)
                    : read_value(r, middle, dimension, &waveform->middle) &&
                          read_value(r, swing, dimension, &waveform->swing);
    good = read_value(r, yaml_get(node, "period"), TL_DIM_SECOND, &waveform->period) && good;
    if (good && !(waveform->period >= 1e-3)) {
        report_error(r, "bad-quantity", yaml_get(node, "period")->place, "a period is 1 ms or longer");
        return false;
    }
    waveform->shape = TL_WAVEFORM_WAVE;
    return good;
}

/* --- files --- */

typedef struct {
    const char *column; /* its head; NULL for the second */
    tl_waveform *waveform;
    double per_second; /* what the first column's numbers are worth */
    int at;            /* which column; 0 before the head line */
} file_reading;

/* The first column is time, its unit in the head: `s,ohms` or `min,day,night`. */
static bool read_file_head(reader *r, file_reading *f, const csv_line *line, tl_place place)
{
    static const struct {
        const char *unit;
        double seconds;
    } units[] = {{"ms", 1e-3}, {"s", 1}, {"min", 60}, {"h", 3600}};
    for (size_t i = 0; i < sizeof units / sizeof units[0]; i++)
        f->per_second = strcmp(line->field[0], units[i].unit) == 0 ? units[i].seconds : f->per_second;
    for (int i = 1; i < line->count && i < CSV_FIELDS_MOST && f->at == 0; i++)
        f->at = f->column == NULL || strcmp(line->field[i], f->column) == 0 ? i : 0;
    if (f->per_second == 0)
        report_error(r, "bad-table", place,
                     "the first line names the columns, the unit of time first: ms, s, min or h");
    else if (f->at == 0)
        report_error(r, "bad-table", place, "there is no column '%.39s'", f->column != NULL ? f->column : "");
    return f->per_second > 0 && f->at > 0;
}

static bool read_file_line(reader *r, void *context, const csv_line *line, tl_place place)
{
    file_reading *f = context;
    tl_waveform *waveform = f->waveform;
    tl_moment moment;
    if (f->at == 0)
        return read_file_head(r, f, line, place);
    if (line->count <= f->at || !csv_figure(line->field[0], &moment.at) ||
        !csv_figure(line->field[f->at], &moment.value)) {
        report_error(r, "bad-table", place, "expected a number in the first column and one in column %d",
                     f->at + 1);
        return false;
    }
    moment.at *= f->per_second;
    if (waveform->count == MOMENTS_MOST ||
        (waveform->count > 0 && moment.at <= waveform->moments[waveform->count - 1].at)) {
        report_error(r, "time-order", place, "times rise from line to line, %d at most", MOMENTS_MOST);
        return false;
    }
    waveform->moments = tl_grow(waveform->moments, (size_t)waveform->count, sizeof moment);
    waveform->moments[waveform->count++] = moment;
    return true;
}

static bool read_file(reader *r, const yaml_tree *node, tl_waveform *waveform)
{
    file_reading f = {.waveform = waveform};
    const char *name = NULL;
    int file;
    if (!check_map(r, node, &keys_values_file) ||
        !read_text(r, yaml_get(node, "file"), "a file's name", &name) ||
        (yaml_get(node, "column") != NULL &&
         !read_text(r, yaml_get(node, "column"), "a column's head", &f.column)) ||
        !csv_visit(r, yaml_get(node, "file"), read_file_line, &f, &file))
        return false;
    if (waveform->count == 0)
        report_error(r, "bad-table", node->place, "no line with a value in '%.100s'", name);
    return waveform->count > 0;
}

/* --- patterns of what is on or off --- */

bool tl_repeat_press(const tl_repeat *pattern, unsigned long n, tl_press *press)
{
    const int skipped = pattern->begins_pressed ? 0 : 1,
              place = 2 * (int)(n % (unsigned)(pattern->count / 2)) + skipped;
    double period = 0, at = pattern->from;
    for (int i = 0; i < pattern->count; i++) {
        period += pattern->lengths[i];
        at += i < place ? pattern->lengths[i] : 0;
    }
    at += (double)(n / (unsigned)(pattern->count / 2)) * period;
    *press = (tl_press){pattern->signal, -1, at, fmin(pattern->lengths[place], pattern->until - at), false};
    return at < pattern->until;
}

static bool read_repeat(reader *r, const yaml_tree *node, const tl_plan *plan, int index, tl_scene *scene)
{
    static const char *const levels[2] = {"low", "high"}, *const states[2] = {"open", "closed"};
    const bool logic = plan->signals[index].source.kind == TL_SOURCE_LOGIC;
    tl_length lengths[TL_REPEAT_MOST];
    tl_repeat pattern = {.signal = index, .until = INFINITY};
    if (!check_map(r, node, &keys_repeat))
        return false;
    bool good = read_lengths(r, yaml_get(node, "repeat"), logic ? levels : states, lengths, TL_REPEAT_MOST,
                             &pattern.count);
    if (yaml_get(node, "from") != NULL)
        good = read_value(r, yaml_get(node, "from"), TL_DIM_SECOND, &pattern.from) && good;
    if (yaml_get(node, "until") != NULL)
        good = read_value(r, yaml_get(node, "until"), TL_DIM_SECOND, &pattern.until) && good;
    if (good && (pattern.count < 2 || pattern.count % 2 != 0 || pattern.from < 0)) {
        report_error(r, "wrong-shape", node->place,
                     "a pattern is lengths that take turns, an even number of them");
        return false;
    }
    if (!good)
        return false;
    for (int i = 0; i < pattern.count; i++) {
        pattern.lengths[i] = lengths[i].seconds;
        if (lengths[i].seconds < 10e-6) {
            report_error(r, "bad-quantity", yaml_get(node, "repeat")->items[i].place,
                         "a length is 10 us or more");
            return false;
        }
    }
    pattern.begins_pressed = lengths[0].high == !logic; /* a logic source is pressed while it is low */
    scene->repeats = tl_grow(scene->repeats, (size_t)scene->repeat_count, sizeof pattern);
    scene->repeats[scene->repeat_count++] = pattern;
    return true;
}

/* --- one entry --- */

static bool check_travel(reader *r, const yaml_tree *node, const tl_waveform *waveform)
{
    double least = waveform->middle - fabs(waveform->swing), most = waveform->middle + fabs(waveform->swing);
    for (int i = 0; i < waveform->count; i++) {
        least = fmin(least, waveform->moments[i].value);
        most = fmax(most, waveform->moments[i].value);
    }
    if (least < 0 || most > 100)
        report_error(r, "bad-quantity", node->place, "travel lies within 0 %% .. 100 %%");
    return least >= 0 && most <= 100;
}

static bool read_waveform(reader *r, const yaml_tree *node, const tl_signal *signal, tl_waveform *waveform)
{
    bool good;
    if (node->kind == YAML_MAP && yaml_get(node, "steps") != NULL) {
        waveform->shape = TL_WAVEFORM_STEPS;
        good = check_map(r, node, &keys_steps) && read_moments(r, yaml_get(node, "steps"), signal, waveform);
    } else if (node->kind == YAML_MAP && yaml_get(node, "file") != NULL) {
        good = read_file(r, node, waveform);
    } else if (node->kind == YAML_MAP) {
        good = read_wave(r, node, signal, waveform);
    } else if (node->kind == YAML_TEXT) {
        good = read_still(r, node, signal, waveform);
    } else {
        good = read_moments(r, node, signal, waveform);
    }
    return good && (signal->source.kind != TL_SOURCE_POTENTIOMETER || check_travel(r, node, waveform));
}

bool read_scene_value(reader *r, const yaml_tree *key, const yaml_tree *node, const tl_plan *plan,
                      tl_scene *scene)
{
    tl_waveform waveform = {0};
    const tl_signal *signal = scene_signal(r, key, plan, &waveform.signal);
    if (signal == NULL)
        return false;
    if (!signal->analog && node->kind == YAML_MAP && yaml_get(node, "repeat") != NULL)
        return read_repeat(r, node, plan, waveform.signal, scene);
    if (!signal->analog && node->kind == YAML_MAP && yaml_get(node, "file") != NULL)
        return read_scene_levels(r, node, plan, waveform.signal, scene);
    if (!signal->analog || signal->source.button_count > 0) {
        report_error(r, "wrong-shape", key->place,
                     "a contact is pressed: list it under 'presses', or give it a pattern {repeat: [...]} or "
                     "recorded levels {file: line.vcd}");
        return false;
    }
    for (int i = 0; i < scene->waveform_count; i++) {
        const int other = scene->waveforms[i].signal;
        if (other != waveform.signal &&
            tl_plan_same_source(plan, other) == tl_plan_same_source(plan, waveform.signal)) {
            report_error(r, "key-twice", key->place,
                         "'%.60s' and '%.60s' measure the same rail: give it one value",
                         plan->signals[other].name, signal->name);
            return false;
        }
    }
    waveform.of_quantity = signal->source.curve.law != TL_LAW_NONE;
    const bool good = read_waveform(r, node, signal, &waveform);
    scene->waveforms = tl_grow(scene->waveforms, (size_t)scene->waveform_count, sizeof waveform);
    scene->waveforms[scene->waveform_count++] = waveform;
    return good;
}

double tl_waveform_at(const tl_waveform *waveform, double seconds)
{
    const tl_moment *m = waveform->moments;
    int low = 0, high = waveform->count - 1;
    if (waveform->shape == TL_WAVEFORM_WAVE)
        return waveform->middle +
               waveform->swing * sin(6.283185307179586 * fmod(seconds / waveform->period, 1));
    if (seconds <= m[0].at)
        return m[0].value;
    if (seconds >= m[high].at)
        return m[high].value;
    while (high - low > 1) {
        const int middle = (low + high) / 2;
        if (m[middle].at <= seconds)
            low = middle;
        else
            high = middle;
    }
    if (waveform->shape == TL_WAVEFORM_STEPS)
        return m[low].value;
    return m[low].value + (m[high].value - m[low].value) * (seconds - m[low].at) / (m[high].at - m[low].at);
}
