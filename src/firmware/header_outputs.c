/* SPDX-License-Identifier: MIT */
/* Outputs: their lines, thresholds in the values of the signal that they show, levels of lamps, duty; and
 * what is shown while that signal has a fault. */
#include "base/memory.h"
#include "firmware/count_facts.h"
#include "firmware/fit.h"
#include "firmware/maker.h"
#include "tinyladder/design/measurement.h"
#include "tinyladder/output.h"
#include "tinyladder/share.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

static const char *const safes[] = {"TL_SAFE_OFF", "TL_SAFE_ON", "TL_SAFE_HOLD"};

static bool lit_is_low(const maker *m, const tl_plan_output *o)
{
    return o->lamp.given && !tl_plan_rail_is_low(m->plan, o->to);
}

/* What a signal is compared by with the levels of an output: its value, or its percent. */
typedef struct {
    const char *name; /* value, percent */
    int decimals;
} compared;

static compared compared_by(const maker *m, const tl_plan_output *o, int signal, const tl_firmware_row *rows)
{
    const bool value = strcmp(m->plan->signals[signal].reading.unit, o->unit) == 0;
    return value ? (compared){"value", rows[signal].decimals} : (compared){"percent", 0};
}

/* Whether the header has a figure of a signal. */
static bool has_figure(int signal, const tl_firmware_row *rows)
{
    return rows[signal].way >= TL_FIRMWARE_RHYTHM;
}

static bool is_set(const tl_plan_output *o)
{
    return o->start.of != TL_NONE || o->stop.of != TL_NONE;
}

/* A signal, or a level, in digits that are fine enough for all of them. */
static void put_scaled(const maker *m, const char *name, double factor, double add)
{
    if (factor > 1)
        fprintf(m->out, "%.0f * (int64_t)%s->value", factor, name);
    else
        fprintf(m->out, "%s->value", name);
    if (add != 0)
        fprintf(m->out, " %c %.0f", add < 0 ? '-' : '+', fabs(add));
}

static void put_level(const maker *m, const tl_plan_output *o, bool stop, const compared by[3], int decimals)
{
    const tl_output_level *level = stop ? &o->stop : &o->start;
    const char *name = stop && o->stop.of != o->start.of ? "stop" : "start";
    const double add = nearbyint(level->value * pow(10, decimals));
    if (level->of == TL_NONE)
        fprintf(m->out, "%.0f", add);
    else
        put_scaled(m, name, pow(10, decimals - by[stop ? 2 : 1].decimals), add);
}

/* What other signals set is compared by a function of its own; its answer is what the output follows. */
static bool put_wanted(const maker *m, const tl_plan_output *o, const tl_firmware_row *rows)
{
    static const char *const names[3] = {"shown", "start", "stop"};
    const int of[3] = {o->shows, o->start.of, o->stop.of == o->start.of ? TL_NONE : o->stop.of};
    const char stops = o->start_below ? '>' : '<', starts = o->start_below ? '<' : '>';
    compared by[3] = {{"", 0}};
    char known[MAKER_NAME];
    int decimals = 0;
    for (int i = 0; i < 3; i++) {
        const int signal = i == 2 ? o->stop.of : of[i];
        if (signal != TL_NONE && !has_figure(signal, rows))
            return false;
        if (signal != TL_NONE)
            by[i] = compared_by(m, o, signal, rows);
        decimals = by[i].decimals > decimals ? by[i].decimals : decimals;
    }
    fprintf(m->out,
            "/* Whether it should be on: the value that tl_output_show() takes. was: whether it is on.");
    for (int i = 0; i < 3; i++) {
        if (of[i] != TL_NONE)
            fprintf(m->out, "\n   %s: %s_%s()%s", names[i], c_name(m->plan->signals[of[i]].name, known),
                    by[i].name,
                    i == 1 && o->stop.of == o->start.of ? ", of the signal that sets both levels" : "");
    }
    fprintf(m->out, " */\nstatic inline tl_sample %s_wanted(const tl_sample *shown, ",
            c_name(o->name, known));
    for (int i = 1; i < 3; i++) {
        if (of[i] != TL_NONE)
            fprintf(m->out, "const tl_sample *%s, ", names[i]);
    }
    fprintf(m->out, "bool was)\n{\n    tl_sample wanted = *shown;\n");
    for (int i = 1; i < 3; i++) {
        if (of[i] != TL_NONE)
            fprintf(m->out, "    if ((%s->flags & TL_READING_FRESH) == 0)\n        wanted = *%s;\n", names[i],
                    names[i]);
    }
    fprintf(m->out, "    if (");
    put_scaled(m, "shown", pow(10, decimals - by[0].decimals), 0);
    fprintf(m->out, " %c ", stops);
    put_level(m, o, true, by, decimals);
    fprintf(m->out, ")\n        wanted.value = 0;\n    else if (");
    put_scaled(m, "shown", pow(10, decimals - by[0].decimals), 0);
    fprintf(m->out, " %c ", starts);
    put_level(m, o, false, by, decimals);
    fprintf(m->out,
            ")\n        wanted.value = 1;\n    else\n        wanted.value = was;\n    return wanted;\n}\n");
    return true;
}

static void put_switched(const maker *m, const tl_plan_output *o, const tl_firmware_row *rows)
{
    static const char *const ways[] = {[TL_OUT_FOLLOW] = "TL_OUTPUT_FOLLOW",
                                       [TL_OUT_INVERTED] = "TL_OUTPUT_INVERTED",
                                       [TL_OUT_THRESHOLD] = "TL_OUTPUT_THRESHOLD"};
    char known[MAKER_NAME], capitals[MAKER_NAME];
    double start = 0, stop = 0;
    const bool set = o->as == TL_OUT_THRESHOLD && is_set(o);
    if (set && !put_wanted(m, o, rows))
        return;
    if (o->as == TL_OUT_THRESHOLD && !set) {
        const compared by = compared_by(m, o, o->shows, rows);
        fprintf(m->out, "/* Show it %s_%s(). */\n", c_name(m->plan->signals[o->shows].name, known), by.name);
        start = nearbyint(o->start.value * pow(10, by.decimals));
        stop = nearbyint(o->stop.value * pow(10, by.decimals));
    }
    fprintf(m->out,
            "static const TL_ROM tl_output %s_output = {TL_MEMBER(line) %s_LINE, TL_MEMBER(as) %s,\n"
            "    TL_MEMBER(safe) %s, TL_MEMBER(on_is_low) %s,\n    TL_MEMBER(threshold) {TL_MEMBER(start) "
            "%.0f, TL_MEMBER(stop) %.0f}};\n",
            c_name(o->name, known), c_capitals(o->name, capitals), ways[set ? TL_OUT_FOLLOW : o->as],
            safes[o->safe], lit_is_low(m, o) ? "true" : "false", start, stop);
}

/* What levels and duty follow, as a whole number of 0 .. last. */
typedef struct {
    const char *what; /* percent or value, by the signal's own function; NULL: its count */
    char at[80];      /* from what that function answers */
    long last;
} followed;

static followed followed_of(const maker *m, const tl_plan_output *o, const tl_firmware_row *row)
{
    const tl_signal *s = &m->plan->signals[o->shows];
    const long whole = tl_reading_whole(&s->reading, row->decimals);
    followed f = {"percent", "percent", 100};
    if (!s->reading.empty.given && whole > 0) {
        f = (followed){.what = "value", .last = whole};
        if (row->decimals > 2)
            snprintf(f.at, sizeof f.at, "value < 0 ? 0u : (uint16_t)(value / %.0f)",
                     pow(10, row->decimals - 2));
        else
            snprintf(f.at, sizeof f.at, "value < 0 ? 0u : (uint16_t)value");
    } else if (!s->reading.empty.given) {
        const tl_analog_path *path = tl_circuit_path(m->circuit, o->shows);
        const long last = path->last_code - path->first_code;
        f = (followed){NULL, "count", last > UINT16_MAX ? UINT16_MAX : last};
    }
    return f;
}

static void put_lamps(const maker *m, const tl_plan_output *o)
{
    char known[MAKER_NAME];
    fprintf(m->out, "static const TL_ROM uint8_t %s_lines[] = {", c_name(o->name, known));
    for (int i = 0; i < o->pin_count; i++) {
        fprintf(m->out, "%s", i == 0 ? "\n    " : i % 5 == 0 ? ",\n    " : ", ");
        put_pin(m, o->pins[i]);
    }
    fprintf(m->out,
            "};\nstatic const TL_ROM tl_bar %s_lamps = {TL_MEMBER(lines) %s_lines, TL_MEMBER(count) %d, "
            "TL_MEMBER(lit_is_low) %s};\n",
            known, known, o->pin_count, lit_is_low(m, o) ? "true" : "false");
}

/* What is followed at a count, as the plan has it; where a wire is off, as at the count beside it. */
static long *followed_counts(const followed *f, const count_facts *facts)
{
    long *at = tl_alloc((size_t)facts->count, sizeof *at), before = TL_NONE;
    const bool percent = f->what != NULL && strcmp(f->what, "percent") == 0;
    for (long i = 0; i < facts->count; i++) {
        const double figure = f->what == NULL ? (double)i
                              : percent       ? facts->percent[i]
                                              : facts->value[i] * (double)facts->step;
        if (isnan(figure) || (percent && figure < 0)) {
            at[i] = before;
            continue;
        }
        at[i] = lround(fmin(fmax(0, nearbyint(figure)), (double)f->last));
        for (long k = i - 1; k >= 0 && at[k] == TL_NONE; k--)
            at[k] = at[i];
        before = at[i];
    }
    return at;
}

static bool runs_one_way(const long *at, long count, bool falls)
{
    for (long i = 1; i < count; i++) {
        if (falls ? at[i] > at[i - 1] : at[i] < at[i - 1])
            return false;
    }
    return true;
}

/* How many lamps light at the n-th count from the end where none does; was: how many were lit. */
static uint8_t level_at(const tl_plan_output *o, const followed *f, long at, uint8_t was)
{
    (void)tl_level_of((uint16_t)at, 0, (uint16_t)f->last,
                      (uint16_t)lround(o->hysteresis / 100 * (double)f->last), (uint8_t)o->pin_count, &was);
    return was;
}

/* Its lamps by the counts where each begins and ends. */
static void put_level_steps(const maker *m, const tl_plan_output *o, const followed *f,
                            const count_facts *facts)
{
    char known[MAKER_NAME], shown[MAKER_NAME];
    const char *name = c_name(o->name, known);
    long *at = followed_counts(f, facts);
    const long count = facts->count;
    const bool falls = at[count - 1] < at[0];
    if (!runs_one_way(at, count, falls)) {
        fprintf(m->out, "/* No level: its counts run both ways. */\n");
        free(at);
        return;
    }
    fprintf(m->out, "static const TL_ROM tl_level_step %s_steps[] = {", name);
    for (int lamp = 0; lamp < o->pin_count; lamp++) {
        long on = 0, off = 0;
        while (on < count - 1 && level_at(o, f, at[falls ? count - 1 - on : on], 0) <= lamp)
            on++;
        while (off < count - 1 &&
               level_at(o, f, at[falls ? count - 1 - off : off], (uint8_t)o->pin_count) <= lamp)
            off++;
        fprintf(m->out, "%s{%ld, %ld}", lamp == 0 ? "" : lamp % 6 == 0 ? ",\n    " : ", ", on, off);
    }
    fprintf(
        m->out,
        "};\n/* How many to light; was: how many are lit. */\nstatic inline uint8_t %s_level(%s_count is, "
        "uint8_t was)\n{\n    return tl_level_by(%s_steps, %d, ",
        name, c_name(m->plan->signals[o->shows].name, shown), name, o->pin_count);
    if (falls)
        fprintf(m->out, "(uint16_t)(%ldu - ", count - 1);
    if (facts->drop > 0)
        fprintf(m->out, "(uint16_t)((uint32_t)(TL_NUMBER(is) + %ld) >> %d)", -facts->first_code, facts->drop);
    else
        fprintf(m->out, "TL_NUMBER(is)");
    fprintf(m->out, "%s, was);\n}\n", falls ? ")" : "");
    free(at);
}

/* Of a pattern's figure: by its value. */
static void put_levels_of_value(const maker *m, const tl_plan_output *o, const followed *f)
{
    char known[MAKER_NAME];
    fprintf(m->out,
            "/* How many to light at a value of %s; was: how many are lit. */\n"
            "static inline uint8_t %s_level(int32_t value, uint8_t was)\n{\n"
            "    (void)tl_level_of(%s, 0, %ldu, %ldu, %d, &was);\n    return was;\n}\n",
            m->plan->signals[o->shows].name, c_name(o->name, known), f->at, f->last,
            lround(o->hysteresis / 100 * (double)f->last), o->pin_count);
}

static void put_levels(const maker *m, const tl_plan_output *o, const tl_firmware_row *row)
{
    const bool analog = m->plan->signals[o->shows].analog;
    const followed f = followed_of(m, o, row);
    put_lamps(m, o);
    if (!analog) {
        put_levels_of_value(m, o, &f);
        return;
    }
    count_facts facts = count_facts_of(m->circuit, o->shows);
    put_level_steps(m, o, &f, &facts);
    count_facts_free(&facts);
}

/* The lowest bits of a code of more than 16. */
static int dropped_bits(const tl_analog_path *path)
{
    int drop = 0;
    while ((path->last_code - path->first_code) >> drop > UINT16_MAX)
        drop++;
    return drop;
}

/* What the duty is taken from: of the signal's own count, so that no other's goes there. */
static void put_duty_head(const maker *m, const tl_plan_output *o, const followed *f)
{
    char known[MAKER_NAME], shown[MAKER_NAME];
    const tl_signal *s = &m->plan->signals[o->shows];
    c_name(s->name, shown);
    fprintf(m->out, "/* Of 65535. */\nstatic inline uint16_t %s_duty(", c_name(o->name, known));
    if (!s->analog) {
        fprintf(m->out, "int32_t value)\n{\n");
    } else if (f->what != NULL) {
        fprintf(m->out, "%s_count is)\n{\n    const int32_t %s = %s_%s(is);\n", shown, f->what, shown,
                f->what);
    } else {
        const tl_analog_path *path = tl_circuit_path(m->circuit, o->shows);
        fprintf(m->out, "%s_count is)\n{\n    const uint16_t count = ", shown);
        if (path->last_code - path->first_code > UINT16_MAX)
            fprintf(m->out, "(uint16_t)((uint32_t)(TL_NUMBER(is) + %ld) >> %d);\n", -path->first_code,
                    dropped_bits(path));
        else
            fprintf(m->out, "TL_NUMBER(is);\n");
    }
}

/* Of 65535, from the percent where there is one, from points in %, else from the count. */
static void put_duty(const maker *m, const tl_plan_output *o, const tl_firmware_row *row)
{
    const followed f = followed_of(m, o, row);
    double *wanted = tl_alloc((size_t)f.last + 1, sizeof *wanted);
    for (long i = 0; i <= f.last; i++)
        wanted[i] = f.what == NULL ? tl_duty_of((uint16_t)i, (uint16_t)f.last, UINT16_MAX)
                                   : (double)lround((double)i * 65535 / (double)f.last);
    const fit_target t = {.wanted = wanted, .count = f.last + 1, .first = 0, .last = f.last, .whole = true};
    fit_line line;
    if (f.last <= UINT16_MAX && fit_a_line(&t, 1, &line) && !line.fine) {
        put_duty_head(m, o, &f);
        fprintf(m->out,
                "    const uint16_t at = (uint16_t)(%s);\n"
                "    return at >= %ldu ? 65535u : (uint16_t)tl_lean_steps(at, %luu, %luu, %u);\n}\n",
                f.at, f.last, (unsigned long)line.mul, (unsigned long)line.add, line.shift);
    }
    free(wanted);
}

/* How often it is switched, and into how many steps its timer divides that where it counts its clock itself.
 */
static void put_frequency(const maker *m, const tl_plan_output *o, const char *capitals)
{
    const double steps = tl_plan_duty_steps(m->plan, o);
    fprintf(m->out, "#define %s_HERTZ %.0fu\n", capitals, o->frequency);
    if (steps > 0 && steps < ldexp(1, m->plan->board->duty_bits))
        fprintf(m->out, "#define %s_STEPS %.0fu /* in a period: 1 is %.3g %% */\n", capitals, steps,
                100 / steps);
}

/* Several that the firmware drives as it likes: a display, say. */
static void put_lines(const maker *m, const tl_plan_output *o)
{
    char known[MAKER_NAME], capitals[MAKER_NAME];
    c_capitals(o->name, capitals);
    fprintf(m->out, "enum { %s_LINES = %d };\nstatic const TL_ROM uint8_t %s_lines[%s_LINES] = {", capitals,
            o->pin_count, c_name(o->name, known), capitals);
    for (int i = 0; i < o->pin_count; i++) {
        fprintf(m->out, "%s", i == 0 ? "" : i % 6 == 0 ? ",\n    " : ", ");
        put_pin(m, o->pins[i]);
    }
    fprintf(m->out, "};\n");
}

void put_output(const maker *m, const tl_plan_output *o, const tl_firmware_row *rows)
{
    char capitals[MAKER_NAME];
    if (o->pin_count == 0)
        return; /* the firmware has nothing to do with it */
    c_capitals(o->name, capitals);
    fprintf(m->out, "\n/* --- output %s", o->name);
    if (o->shows != TL_NONE)
        fprintf(m->out, ", shows %s; while that has a fault: %s", m->plan->signals[o->shows].name,
                o->safe == 1   ? "on"
                : o->safe == 2 ? "as it was"
                               : "off");
    fprintf(m->out, " --- */\n");
    if (o->pin_count == 1) {
        fprintf(m->out, "enum { %s_LINE = ", capitals);
        put_pin(m, o->pins[0]);
        fprintf(m->out, " };\n");
    }
    if (o->pin_count > 1 && o->as != TL_OUT_LEVELS)
        put_lines(m, o);
    if (o->frequency > 0)
        put_frequency(m, o, capitals);
    if (o->shows == TL_NONE)
        return;
    const bool figure = has_figure(o->shows, rows);
    if (m->plan->signals[o->shows].analog && !figure)
        return;
    if (o->as == TL_OUT_LEVELS && figure && o->pin_count <= TL_BAR_LINES_MOST)
        put_levels(m, o, &rows[o->shows]);
    else if (o->as == TL_OUT_DUTY && figure)
        put_duty(m, o, &rows[o->shows]);
    else if (o->pin_count == 1 && o->as != TL_OUT_LEVELS && o->as != TL_OUT_DUTY)
        put_switched(m, o, rows);
}
