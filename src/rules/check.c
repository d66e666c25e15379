/*
 * The rules, called in order, and what all of them need. Each asks the netlist for a guaranteed worst case
 * and speaks only when some corner breaks a limit. Severity follows docs/methods.md: an error damages a part
 * or leaves the signal without its use, a warning misreads.
 */
#include "rules/check.h"
#include <math.h>
#include <stdarg.h>
#include <stdio.h>

tl_shown tl_show(double value, tl_dimension dimension, tl_rounding rounding)
{
    tl_shown s;
    tl_quantity_write(value, dimension, rounding, s.text);
    return s;
}

const tl_pin *tl_check_pin(const tl_checker *k, int signal)
{
    return &k->plan->pins[k->plan->signals[signal].pin];
}

int tl_check_pin_supply(const tl_checker *k, const tl_signal *s)
{
    return k->plan->pins[s->pin].limits.supply;
}

void tl_check_corner(const tl_checker *k, tl_finding *finding, const tl_bounds *bounds, const double *values)
{
    char text[600];
    tl_circuit_corner(k->circuit, bounds, values, text, sizeof text);
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

/* Away from the rail that the source closes to. */
static void propose_pull(const tl_checker *k, const tl_signal *s, tl_finding *f)
{
    char ohms[40];
    const bool up = s->source.supply == TL_TO_GROUND;
    const char *value = tl_fix_pull(k, ohms),
               *rail = up ? k->plan->supplies[tl_check_pin_supply(k, s)].name : "ground";
    if (value == NULL)
        return;
    tl_finding_text(&f->fix, "add the stage  - pull: {%s: %s, to: %s}", up ? "up" : "down", value, rail);
    tl_finding_change(f, TL_CHANGE_STAGE, s->place, "pull", "{%s: %s, to: %s}", up ? "up" : "down", value,
                      rail);
}

void tl_check_fault(const tl_checker *k, int signal, tl_net_status fault)
{
    if (fault == TL_NET_FLOATING && k->plan->signals[signal].source.kind == TL_SOURCE_CURRENT) {
        tl_finding *f =
            tl_check_add(k, TL_USUAL, "floating-input", k->plan->signals[signal].pin_place,
                         "nothing turns the current of %s into volts", k->plan->signals[signal].name);
        tl_finding_text(&f->fix, "add the stage  - load: R; 'size loop' finds it");
        return;
    }
    const tl_signal *s = &k->plan->signals[signal];
    const char *pin = tl_check_pin(k, signal)->name;
    if (fault == TL_NET_FLOATING && s->source.kind == TL_SOURCE_OPEN_COLLECTOR) {
        tl_finding *f = tl_check_add(k, TL_USUAL, "no-pull", s->pin_place,
                                     "%s only pulls one way, and nothing pulls %s back", s->name, pin);
        propose_pull(k, s, f);
        return;
    }
    if (fault != TL_NET_FLOATING) {
        tl_check_add(k, TL_USUAL, fault == TL_NET_SHORTED ? "shorted" : "unsolved", s->source.place, "%s: %s",
                     s->name, tl_net_status_text(fault));
        return;
    }
    tl_finding *f =
        tl_check_add(k, TL_USUAL, "floating-input", s->pin_place,
                     "nothing defines the level of %s while the contact of %s is open", pin, s->name);
    tl_finding_text(&f->figure,
                    "the pin reads whatever it picks up; a pull must hold it while the contact is open");
    propose_pull(k, s, f);
}

const tl_stage *tl_check_stage_after(const tl_signal *signal, tl_stage_kind kind, const tl_stage *after)
{
    for (int i = after == NULL ? 0 : (int)(after - signal->stages) + 1; i < signal->stage_count; i++) {
        if (signal->stages[i].kind == kind)
            return &signal->stages[i];
    }
    return NULL;
}

const tl_stage *tl_check_stage(const tl_signal *signal, tl_stage_kind kind)
{
    return tl_check_stage_after(signal, kind, NULL);
}

double tl_check_way_ohms(const tl_signal *signal)
{
    double ohms = 0;
    for (int i = 0; i < signal->stage_count; i++) {
        const tl_stage *stage = &signal->stages[i];
        if (stage->kind == TL_STAGE_SERIES || stage->kind == TL_STAGE_GUARD ||
            stage->kind == TL_STAGE_DIVIDER || stage->kind == TL_STAGE_FILTER)
            ohms += stage->first.value.low;
    }
    return ohms;
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

tl_finding *tl_check_add(const tl_checker *k, check_weight weight, const char *slug, tl_place place,
                         const char *cause, ...)
{
    char text[400];
    va_list arguments;
    va_start(arguments, cause);
    vsnprintf(text, sizeof text, cause, arguments);
    va_end(arguments);
    const tl_rule *rule = tl_plan_rule(slug);
    tl_finding *f =
        tl_report_add(k->report, weight == TL_GRAVE ? rule->grave : rule->severity, slug, place, "%s", text);
    f->subject = k->signal;
    return f;
}

/* --- all of them --- */

static void by_kind(const tl_checker *k, int signal)
{
    (k->plan->signals[signal].analog ? tl_check_analog : tl_check_contact)(k, signal);
}

/* What is asked of every signal, and of the lines of buses and outputs behind them; `read` of signals alone.
 */
static const struct {
    void (*ask)(const tl_checker *k, int signal);
    bool read;
} of_signals[] = {
    {by_kind, false},         {tl_check_unpowered, false}, {tl_check_lower_leg, false},
    {tl_check_driven, false}, {tl_check_power, false},     {tl_check_reading, true},
    {tl_check_reach, true},
};

/* And of the plan as a whole. */
static void (*const of_plan[])(const tl_checker *k) = {
    tl_check_pins,    tl_check_buses,    tl_check_muxes,  tl_check_outputs,    tl_check_sweeps,
    tl_check_budgets, tl_check_unproven, tl_check_unused, tl_check_tolerances, tl_check_drawer,
};

void tl_plan_check(tl_circuit *circuit, tl_report *report)
{
    tl_checker k = {circuit, circuit->plan, report, TL_NONE};
    for (int i = 0; i < k.plan->line_count; i++) {
        k.signal = i;
        for (size_t rule = 0; rule < sizeof of_signals / sizeof of_signals[0]; rule++) {
            if (!of_signals[rule].read || i < k.plan->signal_count)
                of_signals[rule].ask(&k, i);
        }
    }
    k.signal = TL_NONE;
    for (size_t rule = 0; rule < sizeof of_plan / sizeof of_plan[0]; rule++)
        of_plan[rule](&k);
    tl_report_sort(report);
}
