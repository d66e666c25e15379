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
        const int found = effects_of(bench, signals[i], effects, &ideal);
        if (found < 0 || !taken_is_good(&readings[i]))
            continue;
        printf(
            "\n%s reads %ld counts. Nominal parts without errors give %.1f. Each source of error alone, in "
            "counts:\n\n",
            plan->signals[signals[i]].name, readings[i].is.count, ideal);
        table t;
        table_begin(&t, 3, "<>>");
        table_heads(&t, "source of error", "min", "max");
        for (int k = 0; k < found && k < SHOWN_MOST; k++)
            put_effect(&t, &effects[k]);
        table_end(&t, stdout, "  ");
        if (found > SHOWN_MOST)
            printf("  %d smaller ones are in the answer with --json.\n", found - SHOWN_MOST);
        const double off = (double)readings[i].is.count - ideal;
        if (!tl_effects_explain(effects, found, off))
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
