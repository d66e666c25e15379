/* SPDX-License-Identifier: MIT */
/*
 * The rules, called in order; what all of them need stands in checker.c. Each asks the netlist for a
 * guaranteed worst case and speaks only when some corner breaks a limit. Severity follows docs/methods.md: an
 * error damages a part or leaves the signal without its use, a warning misreads.
 */
#include "rules/check.h"
#include "base/memory.h"
#include "base/report_struct.h"
#include <math.h>
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

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
    tl_check_unproven, tl_check_unused,       tl_check_tolerances, tl_check_template, tl_check_drawer,
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
