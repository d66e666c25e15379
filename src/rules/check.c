/*
 * The rules, called in order, and what all of them need. Each asks the netlist for a guaranteed worst case
 * and speaks only when some corner breaks a limit. Severity follows docs/methods.md: an error damages a part
 * or leaves the signal without its use, a warning misreads.
 */
#include "rules/check.h"
#include "base/memory.h"
#include "base/report_struct.h"
#include <math.h>
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

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
            tl_check_add(k, TL_USUAL, TL_RULE_FLOATING_INPUT, k->plan->signals[signal].pin_place,
                         "nothing turns the current of %s into volts", k->plan->signals[signal].name);
        tl_finding_text(&f->fix, "add the stage  - load: R; 'size loop' finds it");
        return;
    }
    const tl_signal *s = &k->plan->signals[signal];
    const char *pin = tl_check_pin(k, signal)->name;
    if (fault == TL_NET_FLOATING && s->source.kind == TL_SOURCE_OPEN_COLLECTOR) {
        tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_NO_PULL, s->pin_place,
                                     "%s only pulls one way, and nothing pulls %s back", s->name, pin);
        propose_pull(k, s, f);
        return;
    }
    if (fault != TL_NET_FLOATING) {
        tl_check_add(k, TL_USUAL, fault == TL_NET_SHORTED ? TL_RULE_SHORTED : TL_RULE_UNSOLVED,
                     s->source.place, "%s: %s", s->name, tl_net_status_text(fault));
        return;
    }
    tl_finding *f =
        tl_check_add(k, TL_USUAL, TL_RULE_FLOATING_INPUT, s->pin_place,
                     "nothing defines the level of %s while the contact of %s is open", pin, s->name);
    tl_finding_text(&f->figure,
                    "the pin reads whatever it picks up; a pull must hold it while the contact is open");
    propose_pull(k, s, f);
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
    tl_check_pins,     tl_check_buses,        tl_check_converters, tl_check_muxes,
    tl_check_outputs,  tl_check_shared_power, tl_check_sweeps,     tl_check_budgets,
    tl_check_unproven, tl_check_unused,       tl_check_tolerances, tl_check_drawer,
};

/* --- one finding, one cause --- */

/* What follows from another finding of the same signal is not said once more. */
static const struct {
    tl_rule_id cause, follows;
} root_causes[] = {
    {TL_RULE_SAME_RAIL, TL_RULE_RESTATED},
    {TL_RULE_SAME_RAIL, TL_RULE_LEVEL_NOT_REACHED},
    {TL_RULE_INJECTION, TL_RULE_BACK_FEED},
    {TL_RULE_INJECTION, TL_RULE_LOWER_LEG_OPEN},
    {TL_RULE_WIRED_LAMP, TL_RULE_LEVEL_NOT_REACHED},
    {TL_RULE_DIGITS_EMPTY, TL_RULE_NOT_RATIOMETRIC},
    {TL_RULE_DEAD_SIGNAL, TL_RULE_PERCENT_UNREACHABLE},
    {TL_RULE_DEAD_SIGNAL, TL_RULE_THRESHOLD_UNREACHABLE},
    {TL_RULE_DEAD_SIGNAL, TL_RULE_FAULT_WINDOW},
};

static bool follows_from(const tl_finding *f, const tl_finding *other)
{
    for (size_t i = 0; f->subject == other->subject && i < sizeof root_causes / sizeof root_causes[0]; i++) {
        if (f->rule == (int)root_causes[i].follows && other->rule == (int)root_causes[i].cause)
            return true;
    }
    return false;
}

static bool may_follow(const tl_finding *f)
{
    bool may = false;
    for (size_t i = 0; i < sizeof root_causes / sizeof root_causes[0]; i++)
        may = may || f->rule == (int)root_causes[i].follows;
    return may;
}

static void drop_what_follows(tl_report *report)
{
    for (int i = report->count - 1; i >= 0; i--) {
        const int others = may_follow(&report->findings[i]) ? report->count : 0;
        for (int other = 0; other < others; other++) {
            if (other == i || !follows_from(&report->findings[i], &report->findings[other]))
                continue;
            tl_report_drop(report, i);
            break;
        }
    }
}

/* `bed-2` and 2 from `bed-2`: how much of a name stands before its number. */
static size_t stem_of(const char *name, long *number)
{
    size_t stem = strlen(name);
    while (stem > 0 && name[stem - 1] >= '0' && name[stem - 1] <= '9')
        stem--;
    *number = strtol(name + stem, NULL, 10);
    return stem;
}

static bool is_next(const char *name, const char *after)
{
    long number, before;
    const size_t stem = stem_of(name, &number), length = stem_of(after, &before);
    return name[stem] != '\0' && after[length] != '\0' && stem == length && strncmp(name, after, stem) == 0 &&
           number == before + 1;
}

/* Names as the plan language writes them: `bed-2 .. bed-8, shed`. */
static char *list_names(const tl_plan *plan, const int *signals, int count)
{
    char *text = NULL;
    size_t size = 0;
    FILE *to = tl_text_begin(&text, &size);
    for (int i = 0; i < count;) {
        int last = i;
        while (last + 1 < count &&
               is_next(plan->signals[signals[last + 1]].name, plan->signals[signals[last]].name))
            last++;
        fprintf(to, "%s%s", i > 0 ? ", " : "", plan->signals[signals[i]].name);
        if (last > i)
            fprintf(to, "%s%s", last > i + 1 ? " .. " : ", ", plan->signals[signals[last]].name);
        i = last + 1;
    }
    tl_text_end(to, &text);
    return text;
}

static bool is_same(const tl_finding *a, const tl_finding *b)
{
    return a->subject >= 0 && b->subject >= 0 && a->subject != b->subject && a->severity == b->severity &&
           a->place.line > 0 && a->place.file == b->place.file && a->place.line == b->place.line &&
           a->place.column == b->place.column && strcmp(a->slug, b->slug) == 0;
}

/* A repeated entry, or both lines of a bus, give one finding that lists them. */
static void join_repeated(const tl_plan *plan, tl_report *report)
{
    int *signals = tl_alloc((size_t)plan->line_count + 1, sizeof *signals);
    for (int i = 0; i < report->count; i++) {
        int count = 0;
        for (int j = i + 1; j < report->count;) {
            if (!is_same(&report->findings[i], &report->findings[j])) {
                j++;
                continue;
            }
            signals[count++] = report->findings[j].subject;
            tl_report_drop(report, j);
        }
        if (count > 0)
            report->findings[i].also = list_names(plan, signals, count);
    }
    free(signals);
}

void tl_plan_check_readable(tl_circuit *circuit, tl_report *report)
{
    tl_checker k = {circuit, circuit->plan, report, TL_NONE};
    tl_check_pins(&k);
    for (int i = 0; i < k.plan->signal_count; i++) {
        k.signal = i;
        if (k.plan->signals[i].analog)
            (void)tl_check_channel(&k, i);
    }
    tl_report_sort(report);
}

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
    drop_what_follows(report);
    join_repeated(circuit->plan, report);
    tl_report_sort(report);
}
