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

static bool is_percent(const tl_free_figure *level, const tl_signal *s)
{
    return strcmp(level->unit, "%") == 0 && s->reading.empty.given;
}

/* A level in the last digits of what it is compared with: the signal's value, or its percent. */
static double level_of(const tl_free_figure *level, const tl_signal *s, const tl_firmware_row *row)
{
    return is_percent(level, s) ? nearbyint(level->value) : nearbyint(level->value * pow(10, row->decimals));
}

static void put_switched(const maker *m, const tl_plan_output *o, const tl_firmware_row *rows)
{
    static const char *const ways[] = {[TL_OUT_FOLLOW] = "TL_OUTPUT_FOLLOW",
                                       [TL_OUT_INVERTED] = "TL_OUTPUT_INVERTED",
                                       [TL_OUT_THRESHOLD] = "TL_OUTPUT_THRESHOLD"};
    char known[MAKER_NAME], capitals[MAKER_NAME];
    double start = 0, stop = 0;
    if (o->as == TL_OUT_THRESHOLD) {
        const tl_signal *shown = &m->plan->signals[o->shows];
        fprintf(m->out, "/* Show it %s_%s(). */\n", c_name(shown->name, known),
                is_percent(&o->start, shown) ? "percent" : "value");
        start = level_of(&o->start, &m->plan->signals[o->shows], &rows[o->shows]);
        stop = level_of(&o->stop, &m->plan->signals[o->shows], &rows[o->shows]);
    }
    fprintf(m->out, "static const TL_ROM tl_output %s_output = {%s_LINE, %s, %s, %s, {%.0f, %.0f}};\n",
            c_name(o->name, known), c_capitals(o->name, capitals), ways[o->as], safes[o->safe],
            lit_is_low(m, o) ? "true" : "false", start, stop);
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
    const tl_analog_path *path = tl_circuit_path(m->circuit, o->shows);
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
    const bool analog = m->plan->signals[o->shows].analog;
    if (analog && rows[o->shows].way <= TL_FIRMWARE_CONTACT)
        return;
    if (o->as == TL_OUT_LEVELS && analog && o->pin_count <= TL_BAR_LINES_MOST)
        put_levels(m, o, &rows[o->shows]);
    else if (o->as == TL_OUT_DUTY && analog)
        put_duty(m, o, &rows[o->shows]);
    else if (o->pin_count == 1 && o->as != TL_OUT_LEVELS && o->as != TL_OUT_DUTY)
        put_switched(m, o, rows);
}
