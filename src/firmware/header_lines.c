/* Contacts and patterns: their lines, how long they must be steady, and what lengths are expected. */
#include "firmware/maker.h"
#include "tinyladder/design/measurement.h"
#include <math.h>

static bool has_internal_pull(const tl_signal *s)
{
    for (int i = 0; i < s->stage_count; i++) {
        if (s->stages[i].kind == TL_STAGE_PULL && s->stages[i].internal)
            return true;
    }
    return false;
}

static void put_lengths(const maker *m, const tl_signal *s)
{
    char known[MAKER_NAME], capitals[MAKER_NAME];
    c_capitals(s->name, capitals);
    fprintf(m->out, "enum { %s_LENGTHS = %d, %s_WITHIN_PERCENT = %.0f };\n", capitals,
            s->reading.expect_count, capitals, s->reading.within);
    fprintf(m->out, "static const tl_length_us %s_lengths[] = {", c_name(s->name, known));
    for (int i = 0; i < s->reading.expect_count; i++)
        fprintf(m->out, "%s{%s, %.0fu}", i > 0 ? ", " : "", s->reading.expect[i].high ? "true" : "false",
                1e6 * s->reading.expect[i].seconds);
    fprintf(m->out, "};\n");
}

void put_contact(const maker *m, int signal)
{
    char known[MAKER_NAME], capitals[MAKER_NAME];
    const tl_signal *s = &m->plan->signals[signal];
    const bool low = tl_signal_closes_low(s);
    fprintf(m->out, "   Closed is %s. */\nenum { %s_LINE = ", low ? "low" : "high",
            c_capitals(s->name, capitals));
    put_pin(m, s->pin);
    fprintf(m->out, " };\nstatic const tl_button_config %s_contact TL_ROM = {%.0fu, %s_LINE, %s, %s};\n",
            c_name(s->name, known), 1e6 * s->reading.steady, capitals, low ? "true" : "false",
            has_internal_pull(s) ? "true" : "false");
    if (s->reading.expect_count > 0)
        put_lengths(m, s);
}
