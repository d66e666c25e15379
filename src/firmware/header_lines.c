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

void put_contact(const maker *m, int signal)
{
    char known[MAKER_NAME], capitals[MAKER_NAME];
    const tl_signal *s = &m->plan->signals[signal];
    const tl_button_config config = tl_plan_button(m->plan, signal);
    fprintf(m->out, "   Closed is %s. */\nenum { %s_LINE = ", config.closed_is_low ? "low" : "high",
            c_capitals(s->name, capitals));
    put_pin(m, s->pin);
    fprintf(m->out, " };\nstatic const TL_ROM tl_button_config %s_contact = {%luu, %s_LINE, %s, %s};\n",
            c_name(s->name, known), (unsigned long)config.steady_us, capitals,
            config.closed_is_low ? "true" : "false", config.internal_pull ? "true" : "false");
    if (s->reading.as == TL_AS_COUNT)
        fprintf(m->out,
                "/* How often it has closed, bounce apart; wraps behind 65535. */\n"
                "static inline uint16_t %s_closings(const tl_button *button)\n{\n    return "
                "button->closings;\n}\n",
                known);
    if (s->reading.as == TL_AS_TOGGLE)
        fprintf(m->out,
                "/* Every closing turns it over, off to begin with: what shows it is given this. */\n"
                "static inline bool %s_toggled(const tl_button *button)\n{\n    return "
                "tl_button_toggled(button);\n}\n",
                known);
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
