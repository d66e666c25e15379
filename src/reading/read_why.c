/* What takes how many counts, as a table and as JSON. */
#include "reading/read_why.h"
#include "printing/tables.h"
#include "tinyladder/design/measurement.h"
#include <math.h>
#include <string.h>

enum { EFFECTS_MOST = 64, SHOWN_MOST = 10 };

/* -1 for a signal that has no such figure. */
static int effects_of(tl_bench *bench, int signal, tl_effect *effects, double *ideal)
{
    const tl_signal *s = &tl_circuit_plan(tl_bench_circuit(bench))->signals[signal];
    if (!s->analog || s->source.button_count > 0)
        return -1;
    return tl_plan_why(tl_bench_circuit(bench), signal, tl_bench_truth(bench, signal), effects, EFFECTS_MOST,
                       ideal);
}

/* Both ways, one way, or no more than this. */
static void put_effect(table *t, const tl_effect *e)
{
    if (fabs(e->low + e->high) < 1e-9 * (fabs(e->low) + fabs(e->high)) ||
        (e->low < 0 && e->high > 0 && fabs(e->low + e->high) < 0.005))
        table_cell(t, "±%.2f", e->high);
    else if (e->high - e->low < 0.005)
        table_cell(t, "%+.2f", e->high);
    else
        table_cell(t, "%+.2f .. %+.2f", e->low, e->high);
    table_cell(t, "%s", e->what);
}

void why_print(tl_bench *bench, const int *signals, int count, const taken *readings)
{
    const tl_plan *plan = tl_circuit_plan(tl_bench_circuit(bench));
    for (int i = 0; i < count; i++) {
        tl_effect effects[EFFECTS_MOST];
        double ideal = 0;
        const int found = effects_of(bench, signals[i], effects, &ideal);
        if (found < 0 || !taken_is_good(&readings[i]))
            continue;
        printf("\n%s reads %ld counts; without losses and with nominal parts it would be %.1f. Each by "
               "itself makes:\n",
               plan->signals[signals[i]].name, readings[i].is.count, ideal);
        table t;
        table_begin(&t, 2, "><");
        table_cell(&t, "counts");
        table_cell(&t, "what");
        for (int k = 0; k < found && k < SHOWN_MOST; k++)
            put_effect(&t, &effects[k]);
        table_end(&t, stdout, "  ");
        if (found > SHOWN_MOST)
            printf("  %d more are smaller; --json has them.\n", found - SHOWN_MOST);
        const double off = (double)readings[i].is.count - ideal;
        if (!tl_effects_explain(effects, found, off))
            printf("Together that is far less than the %.1f counts that it is off: look for an open wire, a "
                   "short,\nor a wrong part.\n",
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
        puts(": at an end of the ADC; --why lists the errors there.");
}

json_t *why_array(tl_bench *bench, const int *signals, int count)
{
    const tl_plan *plan = tl_circuit_plan(tl_bench_circuit(bench));
    json_t *list = json_array();
    for (int i = 0; i < count; i++) {
        tl_effect effects[EFFECTS_MOST];
        double ideal = 0;
        const int found = effects_of(bench, signals[i], effects, &ideal);
        json_t *rows = json_array();
        for (int k = 0; k < found; k++)
            json_array_append_new(rows, json_pack("{s:s,s:o,s:o}", "what", effects[k].what, "low_counts",
                                                  json_number(effects[k].low), "high_counts",
                                                  json_number(effects[k].high)));
        if (found >= 0)
            json_array_append_new(list, json_pack("{s:s,s:o,s:O}", "signal", plan->signals[signals[i]].name,
                                                  "ideal_counts", json_number(ideal), "effects", rows));
        json_decref(rows);
    }
    return list;
}
