/* SPDX-License-Identifier: MIT */
/* Contacts, patterns and pins that are rails: their lines, how long to be steady, expected lengths. */
#include "firmware/maker.h"
#include "tinyladder/design/measurement.h"
#include <math.h>

static void put_lengths(const maker *m, const tl_signal *s)
{
    char known[MAKER_NAME], capitals[MAKER_NAME];
    c_capitals(s->name, capitals);
    fprintf(m->out, "enum { %s_LENGTHS = %d, %s_WITHIN_PERCENT = %.0f };\n", capitals,
            s->reading.expect_count, capitals, s->reading.within);
    fprintf(m->out, "static const TL_ROM tl_length_us %s_lengths[] = {", c_name(s->name, known));
    for (int i = 0; i < s->reading.expect_count; i++)
        fprintf(m->out, "%s{%s, %.0fu}", i > 0 ? ", " : "", s->reading.expect[i].high ? "true" : "false",
                1e6 * s->reading.expect[i].seconds);
    fprintf(m->out, "};\n");
}

/* How often it closes, for which share of the time, in what period. */
static void put_rhythm(const maker *m, int signal)
{
    static const char *const digits[] = {"1", "0.1", "0.01", "0.001"};
    char known[MAKER_NAME], capitals[MAKER_NAME];
    const tl_signal *s = &m->plan->signals[signal];
    const tl_rhythm_config how = tl_plan_rhythm(m->plan, signal);
    const char *figure = s->reading.as == TL_AS_FREQUENCY ? "frequency"
                         : s->reading.as == TL_AS_DUTY    ? "duty"
                                                          : "period";
    c_capitals(s->name, capitals);
    put_too_wide(m, s->name, "frequency, duty and period have more than 16 bits");
    fprintf(m->out,
            "static const TL_ROM tl_rhythm_config %s_rhythm = {TL_MEMBER(over_us) %luu,\n"
            "    TL_MEMBER(stopped_us) %luu, TL_MEMBER(of_open) %s};\n"
            "/* Its %s, in %s %s. Feed it by tl_rhythm_look(), or from an interrupt. */\n"
            "static inline tl_sample %s_value(const tl_rhythm *rhythm)\n{\n"
            "    return tl_rhythm_%s(rhythm, %d);\n}\n"
            "enum { %s_DECIMALS = %d };\n#define %s_UNIT \"%s\"\n",
            c_name(s->name, known), (unsigned long)how.over_us, (unsigned long)how.stopped_us,
            how.of_open ? "true" : "false", figure, digits[s->reading.decimals], s->reading.unit, known,
            figure, s->reading.decimals, capitals, s->reading.decimals, capitals, s->reading.unit);
}

void put_contact(const maker *m, int signal)
{
    char known[MAKER_NAME], capitals[MAKER_NAME], other[MAKER_NAME];
    const tl_signal *s = &m->plan->signals[signal];
    const tl_button_config config = tl_plan_button(m->plan, signal);
    fprintf(m->out, "   Closed is %s. */\nenum { %s_LINE = ", config.closed_is_low ? "low" : "high",
            c_capitals(s->name, capitals));
    put_pin(m, s->pin);
    fprintf(m->out,
            " };\nstatic const TL_ROM tl_button_config %s_contact = {TL_MEMBER(steady) TL_TIME_US(%luu),\n"
            "    TL_MEMBER(line) %s_LINE, TL_MEMBER(closed_is_low) %s, TL_MEMBER(internal_pull) %s};\n",
            c_name(s->name, known), (unsigned long)config.steady, capitals,
            config.closed_is_low ? "true" : "false", config.internal_pull ? "true" : "false");
    if (s->reading.as == TL_AS_COUNT)
        fprintf(m->out,
                "/* How often it has closed, bounce apart; wraps behind 65535. */\n"
                "static inline uint16_t %s_closings(const tl_button *button)\n{\n    return "
                "button->closings;\n}\n",
                known);
    if (s->reading.second_line != TL_NONE)
        fprintf(m->out, "/* With %s a rotary encoder: feed both to tl_quadrature_feed(). */\n",
                c_name(m->plan->signals[s->reading.second_line].name, other));
    if (s->reading.as == TL_AS_TOGGLE)
        fprintf(m->out,
                "/* Every closing turns it over, off to begin with: what shows it is given this. */\n"
                "static inline bool %s_toggled(const tl_button *button)\n{\n    return "
                "tl_button_toggled(button);\n}\n",
                known);
    if (tl_reading_is_timed(&s->reading))
        put_rhythm(m, signal);
    if (s->reading.expect_count > 0)
        put_lengths(m, s);
}

void put_pin_rails(const maker *m)
{
    char capitals[MAKER_NAME];
    for (int i = 0; i < m->plan->supply_count; i++) {
        const tl_supply *rail = &m->plan->supplies[i];
        if (rail->kind != TL_RAIL_PIN)
            continue;
        fprintf(m->out,
                "\n/* --- %s, a rail: its pin is an output, %s from before the first reading on --- */\n"
                "enum { %s_RAIL_LINE = ",
                rail->name, rail->high ? "high" : "low", c_capitals(rail->name, capitals));
        put_pin(m, rail->pin);
        fprintf(m->out, ", %s_RAIL_HIGH = %d };\n", capitals, rail->high);
    }
}
