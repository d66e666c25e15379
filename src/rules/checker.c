/* SPDX-License-Identifier: MIT */
/* What the rules need of one another: finding a part, adding a finding, saying a figure. It calls no rule. */
#include "base/memory.h"
#include "rules/check.h"
#include <math.h>
#include <stdarg.h>
#include <stdio.h>
#include <string.h>

tl_shown tl_show(double value, tl_dimension dimension, tl_rounding rounding)
{
    tl_shown s;
    tl_quantity_write(value, dimension, rounding, s.text);
    return s;
}

check_weight tl_check_counts(const tl_signal *s)
{
    return s->reading.as == TL_AS_COUNT || s->reading.as == TL_AS_TOGGLE || tl_reading_is_timed(&s->reading)
               ? TL_GRAVE
               : TL_USUAL;
}

const tl_pin *tl_check_pin(const tl_checker *k, int signal)
{
    return &k->plan->pins[k->plan->signals[signal].pin];
}

int tl_check_pin_supply(const tl_checker *k, const tl_signal *s)
{
    return k->plan->pins[s->pin].limits.supply;
}

void tl_check_drive_figures(tl_finding *finding, double needed, double at_hand)
{
    tl_finding_figures(finding, TL_DIM_AMPERE, needed, at_hand);
    tl_finding_text(&finding->figure, "%s needed; %s available",
                    tl_show(needed, TL_DIM_AMPERE, TL_ROUND_UP).text,
                    tl_show(at_hand, TL_DIM_AMPERE, TL_ROUND_DOWN).text);
}

/* The parts of the signal that a finding is about need no name before them. */
static void drop_name(char *text, const char *name)
{
    const size_t length = strlen(name);
    for (char *at = text; (at = strstr(at, name)) != NULL;) {
        const bool whole = (at == text || at[-1] == ' ') && at[length] == ' ' && at[length + 1] != '-' &&
                           (at[length + 1] < '0' || at[length + 1] > '9');
        if (whole)
            memmove(at, at + length + 1, strlen(at + length + 1) + 1);
        else
            at += length;
    }
}

void tl_check_corner(const tl_checker *k, tl_finding *finding, const tl_bounds *bounds, const double *values)
{
    char text[600];
    tl_circuit_corner(k->circuit, bounds, values, text, sizeof text);
    if (finding->subject >= 0)
        drop_name(text, k->plan->signals[finding->subject].name);
    if (text[0] != '\0')
        tl_finding_text(&finding->corner, "%s", text);
}

static bool is_taken(const tl_checker *k, int pin)
{
    return tl_plan_pin_use(k->plan, pin, 0).what != NULL;
}

/* `L5, L6 and 2 more`: free pins that the converter can read, or that can take a digital line. */
void tl_check_free_pins(const tl_checker *k, bool analog, char *text, size_t size)
{
    int found = 0;
    size_t length = 0;
    text[0] = '\0';
    for (int i = 0; i < k->plan->board->pin_count; i++) {
        const tl_pin *pin = &k->plan->pins[i];
        if ((analog ? pin->channel < 0 : !pin->digital) || pin->rail != TL_PIN_NO_RAIL || is_taken(k, i))
            continue;
        if (++found <= 6 && length < size)
            length +=
                (size_t)snprintf(text + length, size - length, "%s%s", found > 1 ? ", " : "", pin->name);
    }
    if (found > 6 && length < size)
        snprintf(text + length, size - length, " and %d more", found - 6);
    if (found == 0)
        snprintf(text, size, "none is free");
}

const tl_plan_part *tl_check_part(const tl_checker *k, int signal, tl_part_role role)
{
    return tl_parts_next(&k->circuit->parts, signal, role, NULL);
}

const tl_plan_part *tl_check_next(const tl_checker *k, int signal, tl_part_role role,
                                  const tl_plan_part *after)
{
    return tl_parts_next(&k->circuit->parts, signal, role, after);
}

bool tl_check_has(const tl_checker *k, int signal, unsigned traits)
{
    return tl_parts_with(&k->circuit->parts, signal, traits, NULL) != NULL;
}

double tl_check_most_volts(const tl_checker *k, const tl_signal *s)
{
    double most = s->source.kind == TL_SOURCE_VOLTAGE   ? s->source.value.value.high
                  : s->source.kind == TL_SOURCE_CURRENT ? INFINITY
                                                        : 0;
    if (s->source.supply >= 0)
        most = fmax(most, k->plan->supplies[s->source.supply].volts.high);
    for (int i = 0; i < s->stage_count; i++) {
        if (s->stages[i].to >= 0)
            most = fmax(most, k->plan->supplies[s->stages[i].to].volts.high);
    }
    return most;
}

tl_finding *tl_check_add(const tl_checker *k, check_weight weight, tl_rule_id id, tl_place place,
                         const char *cause, ...)
{
    char text[400];
    int count;
    va_list arguments;
    va_start(arguments, cause);
    vsnprintf(text, sizeof text, cause, arguments);
    va_end(arguments);
    const tl_rule *rule = &tl_plan_rules(&count)[id];
    tl_finding *f = tl_report_add(k->report, weight == TL_GRAVE ? rule->grave : rule->severity, rule->slug,
                                  place, "%s", text);
    f->rule = (int)id;
    f->subject = k->signal;
    return f;
}
