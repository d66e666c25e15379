/* SPDX-License-Identifier: MIT */
/* What takes how many counts, as a table and as JSON. */
#include "reading/read_why.h"
#include "printing/tables.h"
#include "tinyladder/design/measurement.h"
#include <math.h>
#include <string.h>

enum { EFFECTS_MOST = 64, SHOWN_MOST = 10 };

/* What the source has: on the bench it is known; of a board's counts it is what nominal parts would make of
 * them. */
static double unknown_of(tl_circuit *c, int signal, const taken *t)
{
    tl_interval unknown = {NAN, NAN}, pin;
    const tl_analog_path *path = tl_circuit_path(c, signal);
    if (!isnan(t->is.truth) || !taken_is_good(t))
        return t->is.truth;
    if (tl_plan_interval(c, signal, path, t->is.count, &unknown, &pin) != TL_NET_SOLVED)
        return NAN;
    return isfinite(unknown.low) && isfinite(unknown.high) ? (unknown.low + unknown.high) / 2
           : isfinite(unknown.low)                         ? unknown.low
                                                           : unknown.high;
}

/* -1 for a signal that has no such figure. */
static int effects_of(tl_bench *bench, int signal, const taken *t, tl_effect *effects, double *ideal)
{
    tl_circuit *c = tl_bench_circuit(bench);
    const tl_signal *s = &tl_circuit_plan(c)->signals[signal];
    if (!s->analog || s->source.button_count > 0 || !taken_is_good(t))
        return -1;
    const double unknown = unknown_of(c, signal, t);
    return isfinite(unknown) ? tl_plan_why(c, signal, unknown, effects, EFFECTS_MOST, ideal) : -1;
}

static void put_effect(table *t, const tl_effect *e)
{
    table_cell(t, "%s", e->what);
    table_cell(t, "%+.2f", e->low);
    table_cell(t, "%+.2f", e->high);
}

void why_print(tl_bench *bench, const int *signals, int count, const taken *readings)
{
    const tl_plan *plan = tl_circuit_plan(tl_bench_circuit(bench));
    for (int i = 0; i < count; i++) {
        tl_effect effects[EFFECTS_MOST];
        double ideal = 0;
        const int found = effects_of(bench, signals[i], &readings[i], effects, &ideal);
        const bool known = !isnan(readings[i].is.truth);
        if (found < 0)
            continue;
        printf("\n%s reads %ld counts.", plan->signals[signals[i]].name, readings[i].is.count);
        if (known)
            printf(" Nominal parts without errors give %.1f.", ideal);
        puts(" Each source of error alone, in counts:\n");
        table t;
        table_begin(&t, 3, "<>>");
        table_heads(&t, "source of error", "min", "max");
        for (int k = 0; k < found && k < SHOWN_MOST; k++)
            put_effect(&t, &effects[k]);
        table_end(&t, stdout, "  ");
        if (found > SHOWN_MOST)
            printf("  %d smaller ones are in the answer with --json.\n", found - SHOWN_MOST);
        const double off = (double)readings[i].is.count - ideal;
        if (known && !tl_effects_explain(effects, found, off))
            printf("All of them do not explain an error of %.1f counts: look for an open wire, a short, or a "
                   "wrong "
                   "part.\n",
                   fabs(off));
    }
}

void why_hint(const tl_plan *plan, const int *signals, int count, const taken *readings)
{
    const char *comma = "\n";
    for (int i = 0; i < count; i++) {
        if (!taken_is_good(&readings[i]) || !readings[i].is.analog ||
            plan->signals[signals[i]].source.button_count > 0 || readings[i].is.is.open ||
            readings[i].is.is.shorted ||
            (readings[i].is.flags & (TL_READING_CLIPPED_LOW | TL_READING_CLIPPED_HIGH)) == 0)
            continue;
        printf("%s%s", comma, plan->signals[signals[i]].name);
        comma = ", ";
    }
    if (comma[0] == ',')
        puts(": at the end of the ADC range; --why lists the sources of error.");
}

json_t *why_array(tl_bench *bench, const int *signals, int count, const taken *readings)
{
    const tl_plan *plan = tl_circuit_plan(tl_bench_circuit(bench));
    json_t *list = json_array();
    for (int i = 0; i < count; i++) {
        tl_effect effects[EFFECTS_MOST];
        double ideal = 0;
        const int found = effects_of(bench, signals[i], &readings[i], effects, &ideal);
        json_t *rows = json_array();
        for (int k = 0; k < found; k++)
            json_array_append_new(rows, json_pack("{s:s,s:o,s:o}", "what", effects[k].what, "low_counts",
                                                  json_number(effects[k].low), "high_counts",
                                                  json_number(effects[k].high)));
        if (found >= 0)
            json_array_append_new(
                list,
                json_pack("{s:s,s:o,s:O}", "signal", plan->signals[signals[i]].name, "ideal_counts",
                          json_number(isnan(readings[i].is.truth) ? (double)NAN : ideal), "effects", rows));
        json_decref(rows);
    }
    return list;
}
