/* Outputs: their lines, thresholds in the values of the signal that they show, levels of lamps, duty; and
 * what is shown while that signal has a fault. */
#include "base/memory.h"
#include "firmware/fit.h"
#include "firmware/maker.h"
#include "tinyladder/design/measurement.h"
#include "tinyladder/output.h"
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
    fprintf(m->out, "static const TL_ROM tl_output %s_output = {%s_LINE, %s, %s, %s, {%.0f, %.0f}};\n",
            c_name(o->name, known), c_capitals(o->name, capitals), ways[set ? TL_OUT_FOLLOW : o->as],
            safes[o->safe], lit_is_low(m, o) ? "true" : "false", start, stop);
}

/* What levels and duty follow, as their functions take it, and its end. */
typedef struct {
    const char *name, *type;
    char at[80]; /* as a whole number of 0 .. last */
    long last;
    bool by_count;
} followed;

static followed followed_of(const maker *m, const tl_plan_output *o, const tl_firmware_row *row)
{
    const tl_signal *s = &m->plan->signals[o->shows];
    const long whole = tl_reading_whole(&s->reading, row->decimals);
    followed f = {"percent", "uint16_t", "percent", 100, false};
    if (!s->reading.empty.given && whole > 0) {
        f = (followed){.name = "value", .type = "int32_t", .last = whole};
        if (row->decimals > 2)
            snprintf(f.at, sizeof f.at, "value < 0 ? 0u : (uint16_t)(value / %.0f)",
                     pow(10, row->decimals - 2));
        else
            snprintf(f.at, sizeof f.at, "value < 0 ? 0u : (uint16_t)value");
    } else if (!s->reading.empty.given) {
        const tl_analog_path *path = tl_circuit_path(m->circuit, o->shows);
        f = (followed){"count", "uint16_t", "count", path->last_code - path->first_code, true};
    }
    return f;
}

static void put_levels(const maker *m, const tl_plan_output *o, const tl_firmware_row *row)
{
    char known[MAKER_NAME], capitals[MAKER_NAME];
    const followed f = followed_of(m, o, row);
    c_capitals(o->name, capitals);
    fprintf(m->out, "static const TL_ROM tl_bar %s_lamps = {{", c_name(o->name, known));
    for (int i = 0; i < o->pin_count; i++) {
        fprintf(m->out, "%s", i == 0 ? "\n    " : i % 5 == 0 ? ",\n    " : ", ");
        put_pin(m, o->pins[i]);
    }
    fprintf(m->out, "}, %d, %s};\n", o->pin_count, lit_is_low(m, o) ? "true" : "false");
    fprintf(m->out,
            "/* How many to light at a %s of %s; was: how many are lit. */\n"
            "static inline uint8_t %s_level(%s %s, uint8_t was)\n{\n"
            "    (void)tl_level_of(%s, 0, %ldu, %ldu, %d, &was);\n    return was;\n}\n",
            f.name, m->plan->signals[o->shows].name, known, f.type, f.name, f.at, f.last,
            lround(o->hysteresis / 100 * (double)f.last), o->pin_count);
}

/* Of 65535, from the percent where there is one, from points in %, else from the count. */
static void put_duty(const maker *m, const tl_plan_output *o, const tl_firmware_row *row)
{
    char known[MAKER_NAME];
    const followed f = followed_of(m, o, row);
    double *wanted = tl_alloc((size_t)f.last + 1, sizeof *wanted);
    for (long i = 0; i <= f.last; i++)
        wanted[i] = f.by_count ? tl_duty_of((uint16_t)i, (uint16_t)f.last, UINT16_MAX)
                               : (double)lround((double)i * 65535 / (double)f.last);
    const fit_target t = {.wanted = wanted, .count = f.last + 1, .first = 0, .last = f.last, .whole = true};
    fit_line line;
    if (f.last <= UINT16_MAX && fit_a_line(&t, 1, &line)) {
        fprintf(m->out,
                "/* Of 65535, at a %s of %s. */\n"
                "static inline uint16_t %s_duty(%s %s)\n{\n    const uint16_t at = %s;\n"
                "    return at >= %ldu ? 65535u : (uint16_t)tl_lean_steps(at, %luu, %luu, %u);\n}\n",
                f.name, m->plan->signals[o->shows].name, c_name(o->name, known), f.type, f.name, f.at, f.last,
                (unsigned long)line.mul, (unsigned long)line.add, line.shift);
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
