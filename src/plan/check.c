/*
 * The rules, called in order, and what all of them need. Each asks the netlist for a guaranteed worst case
 * and speaks only when some corner breaks a limit. Severity follows docs/methods.md: an error damages a part
 * or leaves the signal without its use, a warning misreads.
 */
#include "check.h"
#include <math.h>
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

double tl_check_value_at(const tl_checker *k, int param, const tl_bounds *bounds, const double *values)
{
    for (int i = 0; i < bounds->params; i++) {
        if (bounds->param[i] == param)
            return values[i];
    }
    return tl_net_param_nominal(k->circuit->net, param);
}

static bool is_taken(const tl_checker *k, int pin)
{
    for (int i = 0; i < k->plan->signal_count; i++) {
        if (k->plan->signals[i].pin == pin)
            return true;
    }
    return false;
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

void tl_check_fault(const tl_checker *k, int signal, tl_net_fault fault)
{
    if (fault == TL_NET_FLOATING && k->plan->signals[signal].source.kind == TL_SOURCE_CURRENT) {
        tl_finding *f =
            tl_report_add(k->report, TL_ERROR, "floating-input", k->plan->signals[signal].pin_place,
                          "nothing turns the current of %s into volts", k->plan->signals[signal].name);
        tl_finding_text(&f->fix, "add the stage  - load: R; 'size loop' finds it");
        return;
    }
    const tl_signal *s = &k->plan->signals[signal];
    const char *pin = tl_check_pin(k, signal)->name;
    if (fault != TL_NET_FLOATING) {
        tl_report_add(k->report, TL_ERROR, fault == TL_NET_SHORTED ? "shorted" : "unsolved", s->source.place,
                      "%s: %s", s->name, tl_net_fault_text(fault));
        return;
    }
    tl_finding *f =
        tl_report_add(k->report, TL_ERROR, "floating-input", s->pin_place,
                      "nothing defines the level of %s while the contact of %s is open", pin, s->name);
    tl_finding_text(&f->figure,
                    "the pin reads whatever it picks up; a pull must hold it while the contact is open");
    if (s->source.supply == TL_TO_GROUND)
        tl_finding_text(&f->fix, "add the stage  - pull: {up: 10k, to: %s}",
                        k->plan->supplies[tl_check_pin_supply(k, s)].name);
    else
        tl_finding_text(&f->fix, "add the stage  - pull: {down: 10k, to: ground}");
}

const tl_stage *tl_check_stage(const tl_signal *signal, tl_stage_kind kind)
{
    for (int i = 0; i < signal->stage_count; i++) {
        if (signal->stages[i].kind == kind)
            return &signal->stages[i];
    }
    return NULL;
}

double tl_check_level_at(const tl_checker *k, int signal, tl_level level, const tl_bounds *bounds,
                         const double *values)
{
    const int rail = k->circuit->supply_param[tl_check_pin(k, signal)->limits.supply];
    return tl_level_volts(level, tl_check_value_at(k, rail, bounds, values));
}

/* Over and under the absolute limits; true where the pin is safe. */
bool tl_check_limits(const tl_checker *k, int signal, int state)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_pin *pin = tl_check_pin(k, signal);
    const tl_worst *worst = tl_circuit_worst(k->circuit, signal, state);
    const tl_bounds *over = &worst->over, *under = &worst->under;
    if (over->high > tl_slack_volts) {
        const double limit = tl_check_level_at(k, signal, pin->limits.highest, over, over->high_at);
        tl_finding *f = tl_report_add(k->report, TL_ERROR, "over-limit", s->pin_place,
                                      "%s can drive %s over its absolute limit", s->name, pin->name);
        tl_finding_text(&f->figure, "%s at the pin, limit %s",
                        tl_show(limit + over->high, TL_DIM_VOLT, TL_ROUND_UP).text,
                        tl_show(limit, TL_DIM_VOLT, TL_ROUND_DOWN).text);
        tl_check_corner(k, f, over, over->high_at);
        double least_rail = limit, most_rail = 0;
        if (k->circuit->signals[signal].reference != TL_NET_NONE)
            tl_net_param_span(k->circuit->net, k->circuit->signals[signal].reference, &least_rail, &most_rail);
        tl_fix_lower_volts(k, signal, fmin(limit, least_rail), f);
    }
    if (under->low < -tl_slack_volts) {
        const double limit = tl_check_level_at(k, signal, pin->limits.lowest, under, under->low_at);
        tl_finding *f = tl_report_add(k->report, TL_ERROR, "below-ground", s->pin_place,
                                      "%s can pull %s under its absolute limit", s->name, pin->name);
        tl_finding_text(&f->figure, "%s at the pin, limit %s",
                        tl_show(limit + under->low, TL_DIM_VOLT, TL_ROUND_DOWN).text,
                        tl_show(limit, TL_DIM_VOLT, TL_ROUND_UP).text);
        tl_check_corner(k, f, under, under->low_at);
        tl_fix_lift(k, s, under->low + limit, f);
    }
    return over->high <= tl_slack_volts && under->low >= -tl_slack_volts;
}

void tl_plan_check(const tl_circuit *circuit, tl_report *report)
{
    const tl_checker k = {circuit, circuit->plan, report};
    for (int i = 0; i < k.plan->line_count; i++) {
        tl_check_pin_taken(&k, i);
        if (k.plan->signals[i].analog)
            tl_check_analog(&k, i);
        else
            tl_check_contact(&k, i);
    }
    for (int i = 0; i < k.plan->supply_count; i++)
        tl_check_budget(&k, i);
    tl_check_tolerances(&k);
    tl_check_drawer(&k);
    tl_report_sort(report);
}
