/* SPDX-License-Identifier: MIT */
/*
 * Analog signals: their input, their values as a line or a curve, percent, fault windows, averages; and
 * buttons that share a pin, by their counts. What a count is worth is asked of the plan, count by count, and
 * so is how near the constants come.
 */
#include "base/memory.h"
#include "firmware/count_facts.h"
#include "firmware/fit.h"
#include "firmware/maker.h"
#include "tinyladder/design/measurement.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

/* The counts with a value of their own, and one at either end where a value stands. */
static bool find_ends(const count_facts *f, fit_target *t)
{
    t->first = 0;
    t->last = f->count - 1;
    while (t->first < t->last && !(fabs(f->value[t->first]) < 2e9))
        t->first++;
    long last = t->first;
    while (last < t->last && fabs(f->value[last + 1]) < 2e9)
        last++;
    t->last = last;
    /* What stands at an end, as a travel does beyond its track, is no part of the line. */
    while (t->first + 1 < t->last && f->value[t->first + 1] == f->value[t->first])
        t->first++;
    while (t->last - 1 > t->first && f->value[t->last - 1] == f->value[t->last])
        t->last--;
    return t->last > t->first;
}

/* A line that is nearest at every count; where none goes through both ends, between them. */
static bool find_line(const fit_target *t, fit_line *line, bool *between)
{
    *between = false;
    if (fit_a_line(t, 0.75, line) && line->quality.wrong == 0)
        return true;
    fit_target inner = *t;
    fit_line other;
    inner.first++;
    inner.last--;
    *between = inner.last > inner.first && fit_a_line(&inner, 0.75, &other) && other.quality.wrong == 0;
    if (*between)
        *line = other;
    return *between || line->quality.deviation <= 0.75;
}

/* --- one way from a count to a number --- */

static bool is_signed(const count_facts *f)
{
    return f->first_code < 0;
}

/* Counts of different signals are different types: none goes into another's function. Of more than 16 bits it
 * is the code as the converter has it. */
static void put_count_type(const maker *m, int signal, const count_facts *f)
{
    char known[MAKER_NAME];
    const bool wide = f->drop > 0;
    if (wide || (f->count > 32768 && !is_signed(f)))
        put_too_wide(m, m->plan->signals[signal].name, "its words have more than 15 bits");
    c_name(m->plan->signals[signal].name, known);
    fprintf(m->out,
            "TL_TYPED(%s, %s_count);\n/* Of a sample; false where that is not fresh. */\n"
            "static inline bool %s_of(const tl_sample *sample, %s_count *is)\n{\n    TL_NUMBER(*is) = ",
            wide ? "int32_t" : "uint16_t", known, known, known);
    if (wide)
        fprintf(m->out, "sample->value");
    else if (is_signed(f))
        fprintf(m->out, "(uint16_t)(sample->value + %ld)", -f->first_code);
    else
        fprintf(m->out, "(uint16_t)sample->value");
    fprintf(m->out, ";\n    return (sample->flags & TL_READING_FRESH) != 0;\n}\n");
}

static const char *value_type(double low, double high)
{
    return low >= -32768 && high <= 32767 ? "int16_t" : "int32_t";
}

/* A function of a signal: what it answers, and the counts that it tells apart. */
typedef struct {
    const char *type, *signal, *what;
    long first, last;
    bool between; /* it holds between them; at them and beyond: */
    long low, high;
} function_head;

/* The head of an inline function: from a code to a count within the ends, called `at`. */
static void put_function(const maker *m, const count_facts *f, const function_head *head)
{
    const long first = head->first, last = head->last;
    char known[MAKER_NAME];
    const char *taken = "TL_NUMBER(is)";
    c_name(head->signal, known);
    fprintf(m->out, "static inline %s %s_%s(%s_count is)\n{\n", head->type, known, head->what, known);
    if (f->drop > 0) {
        taken = "top";
        fprintf(m->out, "    const uint16_t top = (uint16_t)((uint32_t)(TL_NUMBER(is)");
        if (is_signed(f))
            fprintf(m->out, " + %ld", -f->first_code);
        fprintf(m->out, ") >> %d);\n", f->drop);
    }
    if (head->between) {
        fprintf(m->out,
                "    if (%s <= %ldu)\n        return %ld;\n    if (%s >= %ldu)\n        return %ld;\n", taken,
                first, head->low, taken, last, head->high);
        fprintf(m->out, "    const uint16_t at = %s;\n", taken);
        return;
    }
    fprintf(m->out, "    const uint16_t at = ");
    if (first > 0)
        fprintf(m->out, "%s < %ldu ? %ldu : ", taken, first, first);
    if (last < 65535)
        fprintf(m->out, "%s > %ldu ? %ldu : ", taken, last, last);
    fprintf(m->out, "%s;\n", taken);
}

/* `base + steps`, with what is taken off the count beforehand. In 16 bits a base below 0 is written as what
 * it is there: no compiler then asks about signs. */
static void put_steps(const maker *m, const fit_line *line, const char *type, long step)
{
    const bool wide = strcmp(type, "int32_t") == 0;
    fprintf(m->out, wide ? "    return " : "    return (%s)", type);
    if (step > 1)
        fprintf(m->out, "(%ld * ", step);
    fprintf(m->out, wide ? "(" : step > 1 ? "(int16_t)(uint16_t)(" : "(uint16_t)(");
    if (wide && (line->base != 0 || line->falls))
        fprintf(m->out, "%ld %c (int32_t)", (long)line->base, line->falls ? '-' : '+');
    else if (wide)
        fprintf(m->out, "(int32_t)");
    else if (line->base < 0)
        fprintf(m->out, "%uu /* %ld */ %c ", (unsigned)(uint16_t)line->base, (long)line->base,
                line->falls ? '-' : '+');
    else if (line->base > 0 || line->falls)
        fprintf(m->out, "%ldu %c ", (long)line->base, line->falls ? '-' : '+');
    fprintf(m->out, line->fine ? "tl_lean_fine(" : "tl_lean_steps(");
    if (line->first > 0)
        fprintf(m->out, "(uint16_t)(at - %uu)", line->first);
    else
        fprintf(m->out, "at");
    fprintf(m->out, ", %luu, ", (unsigned long)line->mul);
    if (line->fine)
        fprintf(m->out, "%luu, %uu, %d", (unsigned long)(line->add >> 16), (unsigned)(uint16_t)line->add,
                line->shift - 16);
    else
        fprintf(m->out, "%luu, %u", (unsigned long)line->add, line->shift);
    fprintf(m->out, "))%s;\n", step > 1 ? ")" : "");
}

static void put_curve(const maker *m, const char *name, const tl_curve_point *points, int count)
{
    char known[MAKER_NAME];
    c_name(name, known);
    fprintf(m->out, "static const TL_ROM tl_curve_point %s_points[] = {", known);
    for (int i = 0; i < count; i++)
        fprintf(m->out, "%s{%u, %d, %d, %u}",
                i == 0       ? "\n    "
                : i % 4 == 0 ? ",\n    "
                             : ", ",
                points[i].from, points[i].to, points[i].whole, points[i].part);
    fprintf(m->out, "};\nstatic const TL_ROM tl_curve %s_curve = {%s_points, %d};\n", known, known, count);
}

static void put_table(const maker *m, const char *name, const tl_table_point *points, int count)
{
    char known[MAKER_NAME];
    c_name(name, known);
    fprintf(m->out, "static const TL_ROM tl_table_point %s_points[] = {", known);
    for (int i = 0; i < count; i++)
        fprintf(m->out, "%s{%ld, %ld}",
                i == 0       ? "\n    "
                : i % 5 == 0 ? ",\n    "
                             : ", ",
                (long)points[i].from, (long)points[i].to);
    fprintf(m->out, "};\nstatic const TL_ROM tl_table %s_table = {%s_points, %d, false};\n", known, known,
            count);
}

/* --- values --- */

static void put_quality(const maker *m, const count_facts *f, const tl_firmware_row *row, const char *unit)
{
    fprintf(m->out, "   In %.*f ", row->decimals, pow(10, -row->decimals));
    put_comment(m, unit);
    if (f->step > 1)
        fprintf(m->out, ", in steps of %ld", f->step);
    if (f->drop > 0)
        fprintf(m->out, "; at most %.2f of the last digit off: the lowest %d bits of a code are left out.",
                row->deviation, f->drop);
    else if (row->wrong == 0)
        fprintf(m->out, "; all %ld counts are rounded right.", row->counts);
    else
        fprintf(m->out, "; at most %.2f of the last digit off%s, %ld of %ld counts not the nearest.",
                row->deviation,
                row->way == TL_FIRMWARE_TABLE ? ", or of half a count where that is coarser" : "", row->wrong,
                row->counts);
    if (row->points > 0)
        fprintf(m->out, " %d points.", row->points);
    fprintf(m->out, " */\n");
}

static void put_line_value(const maker *m, int signal, const count_facts *f, const fit_target *t,
                           const fit_line *line, bool between)
{
    char known[MAKER_NAME];
    const tl_signal *s = &m->plan->signals[signal];
    const double ends[] = {between ? nearbyint(f->value[t->first]) : fit_line_value(line, t->first),
                           between ? nearbyint(f->value[t->last]) : fit_line_value(line, t->last)};
    const char *type =
        value_type(fmin(ends[0], ends[1]) * (double)f->step, fmax(ends[0], ends[1]) * (double)f->step);
    if (f->drop == 0 && !is_signed(f) && f->step == 1 && t->first == 0 && !between && !line->fine) {
        fprintf(m->out,
                "static const TL_ROM tl_line %s_line = {TL_MEMBER(mul) %luu, TL_MEMBER(add) %luu, "
                "TL_MEMBER(base) %ld,\n"
                "    TL_MEMBER(last) %ldu, TL_MEMBER(shift) %u, TL_MEMBER(falls) %s};\n",
                c_name(s->name, known), (unsigned long)line->mul, (unsigned long)line->add, (long)line->base,
                t->last, line->shift, line->falls ? "true" : "false");
    }
    put_function(m, f,
                 &(function_head){type, s->name, "value", t->first, t->last, between,
                                  lround(ends[0] * (double)f->step), lround(ends[1] * (double)f->step)});
    put_steps(m, line, type, f->step);
    fprintf(m->out, "}\n");
}

/* The signal whose curve has these very points; itself where it is the first. */
static int curve_owner(maker *m, int signal, const tl_curve_point *points, int count)
{
    const size_t size = (size_t)count * sizeof *points;
    for (int i = 0; i < m->curve_count; i++) {
        if (m->curves[i].count == count && memcmp(m->curves[i].points, points, size) == 0)
            return m->curves[i].signal;
    }
    m->curves = tl_grow(m->curves, (size_t)m->curve_count, sizeof *m->curves);
    known_curve *own = &m->curves[m->curve_count++];
    *own = (known_curve){signal, count, tl_alloc((size_t)count, sizeof *points)};
    memcpy(own->points, points, size);
    return signal;
}

static void put_curve_value(maker *m, int signal, const count_facts *f, const fit_target *t,
                            const tl_curve_point *points, int count)
{
    char known[MAKER_NAME];
    const tl_signal *s = &m->plan->signals[signal];
    const int owner = curve_owner(m, signal, points, count);
    if (owner == signal)
        put_curve(m, s->name, points, count);
    put_function(m, f, &(function_head){"int16_t", s->name, "value", t->first, t->last, false, 0, 0});
    c_name(m->plan->signals[owner].name, known);
    if (f->step > 1)
        fprintf(m->out, "    return (int16_t)(%ld * tl_curve_value(&%s_curve, at));\n}\n", f->step, known);
    else
        fprintf(m->out, "    return tl_curve_value(&%s_curve, at);\n}\n", known);
}

/* What 16 bits cannot hold: the table of the exact tier, in codes. */
static bool put_table_value(const maker *m, int signal, const count_facts *f, tl_firmware_row *row)
{
    char known[MAKER_NAME];
    tl_table_point points[255];
    tl_table_points made = {points, 255, 0};
    const tl_signal *s = &m->plan->signals[signal];
    for (double tolerance = 1; tolerance < 1e9; tolerance *= 4) {
        if (tl_plan_segments(m->circuit, signal, f->decimals, tolerance, &made) == TL_NET_SOLVED) {
            const int count = made.count;
            row->points = count;
            row->way = TL_FIRMWARE_TABLE;
            const tl_table table = {points, (uint8_t)count, false};
            const long cell = 1l << f->drop, first = (points[0].from - f->first_code + cell - 1) / cell,
                       last = (points[count - 1].from - f->first_code) / cell;
            row->counts = last - first + 1;
            for (long i = first; i <= last; i++) {
                const int32_t code = (int32_t)(f->first_code + i * cell + (cell - 1) / 2);
                const double value = tl_table_value(&table, code, NULL),
                             wanted = f->value[i] * (double)f->step;
                /* In half counts where these are coarser than a digit. */
                const double step = fabs(f->value[i < last ? i + 1 : i] - f->value[i < last ? i : i - 1]);
                row->deviation =
                    fmax(row->deviation, fabs(value - wanted) / fmax(1, step * (double)f->step / 2));
                row->wrong += fabs(value - wanted) > 0.5 + 1e-7;
            }
            put_quality(m, f, row, s->reading.unit);
            put_count_type(m, signal, f);
            put_table(m, s->name, points, count);
            c_name(s->name, known);
            fprintf(m->out,
                    "static inline int32_t %s_value(%s_count is)\n{\n    return tl_table_value(&%s_table, ",
                    known, known, known);
            if (f->drop > 0)
                fprintf(m->out, "TL_NUMBER(is)");
            else
                fprintf(m->out, is_signed(f) ? "(int32_t)TL_NUMBER(is) - %ld" : "TL_NUMBER(is)",
                        -f->first_code);
            fprintf(m->out, ", 0);\n}\n");
            return true;
        }
    }
    return false;
}

static void put_value(maker *m, int signal, const count_facts *f, tl_firmware_row *row)
{
    fit_target t = {.wanted = f->value, .count = f->count};
    fit_line line;
    fit_quality quality;
    tl_curve_point points[FIT_POINTS_MOST];
    const tl_signal *s = &m->plan->signals[signal];
    row->decimals = f->decimals;
    if (!find_ends(f, &t)) {
        snprintf(row->why, sizeof row->why, "no count has a value");
        return;
    }
    bool between = false;
    const bool straight = find_line(&t, &line, &between);
    /* As near as a whole digit allows, or as a count does where that is coarser. */
    const double digits = fabs(f->value[t.last] - f->value[t.first]) / (double)(t.last - t.first);
    row->counts = t.last - t.first + 1;
    /* What the bits that are left out make at most: half of a count. */
    const double left_out = f->drop > 0 ? digits * (double)f->step / 2 : 0;
    if (straight) {
        row->way = TL_FIRMWARE_LINE;
        row->deviation = line.quality.deviation * (double)f->step + left_out;
        row->wrong = line.quality.wrong;
        put_quality(m, f, row, s->reading.unit);
        put_count_type(m, signal, f);
        put_line_value(m, signal, f, &t, &line, between);
    } else if (fit_a_curve(&t, fmax(1, digits / 2), points, &row->points, &quality)) {
        row->way = TL_FIRMWARE_CURVE;
        row->deviation = quality.deviation * (double)f->step + left_out;
        row->wrong = quality.wrong;
        put_quality(m, f, row, s->reading.unit);
        put_count_type(m, signal, f);
        put_curve_value(m, signal, f, &t, points, row->points);
    } else if (!put_table_value(m, signal, f, row)) {
        row->points = 0;
        snprintf(row->why, sizeof row->why, "its values make no curve of 255 points");
    }
}

/* --- percent --- */

/* From the last count of one end to the first of the other it is a line; where it is none, a curve. */
static void put_percent(const maker *m, int signal, const count_facts *f)
{
    const tl_signal *s = &m->plan->signals[signal];
    fit_target t = {.wanted = f->percent, .count = f->count, .whole = true, .first = 0, .last = f->count - 1};
    fit_line line;
    while (t.first < t.last && f->percent[t.first] < 0)
        t.first++;
    while (t.last > t.first && f->percent[t.last] < 0)
        t.last--;
    for (long i = t.first; i <= t.last; i++) {
        if (f->percent[i] < 0) /* a hole in it: fault windows are reported beside it */
            return;
    }
    if (t.first >= t.last)
        return;
    const double low = f->percent[t.first], high = f->percent[t.last];
    while (t.first + 1 < t.last && f->percent[t.first + 1] == low)
        t.first++;
    while (t.last - 1 > t.first && f->percent[t.last - 1] == high)
        t.last--;
    bool between;
    if (find_line(&t, &line, &between)) {
        put_function(
            m, f,
            &(function_head){"uint8_t", s->name, "percent", t.first, t.last, between, (long)low, (long)high});
        put_steps(m, &line, "uint8_t", 1);
        fprintf(m->out, "}\n");
        return;
    }
    char known[MAKER_NAME], name[MAKER_NAME];
    tl_curve_point points[FIT_POINTS_MOST];
    fit_quality quality;
    int count = 0;
    if (!fit_a_curve(&t, 1, points, &count, &quality))
        return;
    snprintf(name, sizeof name, "%.80s-percent", s->name);
    put_curve(m, name, points, count);
    put_function(m, f, &(function_head){"uint8_t", s->name, "percent", t.first, t.last, false, 0, 0});
    fprintf(m->out, "    return (uint8_t)tl_curve_value(&%s_percent_curve, at);\n}\n",
            c_name(s->name, known));
}

/* --- faults --- */

typedef struct {
    const char *side;
    long level;
} window;

/* Counts of one kind stand at one end: the level beyond which they begin. */
static window window_of(const count_facts *f, char kind)
{
    long first = -1, last = -1;
    for (long i = 0; i < f->count; i++) {
        if (f->fault[i] != kind)
            continue;
        first = first < 0 ? i : first;
        last = i;
    }
    if (first < 0)
        return (window){"TL_FAULT_NONE", 0};
    const long cell = 1l << f->drop;
    return first == 0 ? (window){"TL_FAULT_BELOW", (last + 1) * cell + f->first_code}
                      : (window){"TL_FAULT_ABOVE", first * cell - 1 + f->first_code};
}

static void put_faults(const maker *m, int signal, const count_facts *f)
{
    char known[MAKER_NAME], capitals[MAKER_NAME];
    const tl_signal *s = &m->plan->signals[signal];
    const window open = window_of(f, 'o'), shorted = window_of(f, 's');
    if (!s->reading.open.level.given && !s->reading.shorted.level.given)
        return;
    fprintf(m->out,
            "/* On counts, so that the last good count is used instead%s. */\nstatic const TL_ROM "
            "tl_fault_config "
            "%s_faults "
            "= {TL_MEMBER(open_level) %ld, TL_MEMBER(short_level) %ld,\n    TL_MEMBER(hysteresis) %ld, "
            "TL_MEMBER(substitute) 0, "
            "TL_MEMBER(open_side) %s, TL_MEMBER(short_side) %s, TL_MEMBER(has_substitute) false};\n",
            s->reading.substitute.given ? "; but what is shown is the substitute" : "",
            c_name(s->name, known), open.level, shorted.level,
            lround(s->reading.fault_hysteresis / 100 * ldexp((double)f->count, f->drop)), open.side,
            shorted.side);
    if (s->reading.substitute.given)
        fprintf(m->out, "#define %s_SUBSTITUTE %ld\n", c_capitals(s->name, capitals),
                lround(s->reading.substitute.value * pow(10, f->decimals)));
}

/* --- beyond a sensor's law --- */

static void put_beyond(const maker *m, int signal, const count_facts *f)
{
    long first = 0, last = f->count - 1;
    char known[MAKER_NAME];
    while (first < f->count && f->beyond[first])
        first++;
    while (last >= 0 && f->beyond[last])
        last--;
    if ((first == 0 && last == f->count - 1) || first > last)
        return;
    c_name(m->plan->signals[signal].name, known);
    fprintf(m->out,
            "/* Whether the value stands at the end of the sensor's law: the truth is there or beyond. */\n"
            "static inline bool %s_beyond(%s_count is)\n{\n    return ",
            known, known);
    if (first > 0)
        fprintf(m->out, "TL_NUMBER(is) < %ld", (first << f->drop) + (f->drop > 0 ? f->first_code : 0));
    if (first > 0 && last < f->count - 1)
        fprintf(m->out, " || ");
    if (last < f->count - 1)
        fprintf(m->out, "TL_NUMBER(is) > %ld",
                ((last + 1) << f->drop) - 1 + (f->drop > 0 ? f->first_code : 0));
    fprintf(m->out, ";\n}\n");
}

/* --- the whole --- */

static void put_counts(const maker *m, int signal, int decimals)
{
    static const char *const names[] = {"", "MEAN", "MEDIAN", "ROLLING", ""};
    char capitals[MAKER_NAME];
    const tl_plan_reading *reading = &m->plan->signals[signal].reading;
    c_capitals(m->plan->signals[signal].name, capitals);
    fprintf(m->out, "enum { %s_DECIMALS = %d", capitals, decimals);
    int depth = 0;
    while (1 << depth < reading->samples)
        depth++;
    if (reading->average == TL_AVERAGE_EXPONENTIAL)
        fprintf(m->out, ", %s_DEPTH = %d /* each sample weighs 1/%d */", capitals, depth, reading->samples);
    else if (reading->average != TL_AVERAGE_NONE)
        fprintf(m->out, ", %s_%s = %d", capitals, names[reading->average], reading->samples);
    fprintf(m->out, " };\n#define %s_UNIT ", capitals);
    put_string(m, reading->unit);
    fprintf(m->out, "\n");
}

void put_analog(maker *m, int signal, tl_firmware_row *row)
{
    count_facts f = count_facts_of(m->circuit, signal);
    put_value(m, signal, &f, row);
    if (row->way != TL_FIRMWARE_LEFT_OUT) {
        put_input(m, signal);
        put_counts(m, signal, f.decimals);
        put_percent(m, signal, &f);
        put_beyond(m, signal, &f);
        put_faults(m, signal, &f);
    }
    count_facts_free(&f);
}

void put_buttons(const maker *m, int signal)
{
    char known[MAKER_NAME], capitals[MAKER_NAME], other[MAKER_NAME];
    const tl_signal *s = &m->plan->signals[signal];
    c_capitals(s->name, capitals);
    const count_facts f = {.first_code = 0};
    fprintf(m->out, "   Counts of each state, over every tolerance; between them TL_LADDER_BETWEEN. */\n");
    put_count_type(m, signal, &f);
    put_input(m, signal);
    fprintf(m->out, "enum { %s_NONE", capitals);
    for (int i = 0; i < s->source.button_count; i++)
        fprintf(m->out, ", %s_%s", capitals, c_capitals(s->source.buttons[i].name, other));
    fprintf(m->out, ", %s_STATES };\n", capitals);
    fprintf(m->out, "static const TL_ROM tl_rung %s_rungs[] = {", c_name(s->name, known));
    for (int state = 0; state <= s->source.button_count; state++) {
        tl_interval codes = {1, 0};
        double middle;
        (void)tl_plan_state_codes(m->circuit, signal, state, &codes, &middle);
        fprintf(m->out, "%s{%.0f, %.0f}", state > 0 ? ", " : "", codes.low, codes.high);
    }
    fprintf(m->out,
            "};\nstatic inline uint8_t %s_state(%s_count is)\n{\n    return tl_ladder_level(%s_rungs, "
            "%s_STATES, TL_NUMBER(is));\n}\n",
            known, known, known, capitals);
}
