/* SPDX-License-Identifier: MIT */
/* The plan's outputs beside the readings: what each shows, and what its load takes. */
#include "reading/outputs.h"
#include "printing/columns.h"
#include "printing/tables.h"
#include "tinyladder/design/rules.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

static const taken *reading_of(int signal, const int *signals, int count, const taken *readings)
{
    for (int k = 0; k < count; k++) {
        if (signals[k] == signal)
            return &readings[k];
    }
    return NULL;
}

void outputs_show(outputs *o, tl_bench *bench, const int *signals, int count, const taken *readings)
{
    const tl_plan *plan = tl_circuit_plan(tl_bench_circuit(bench));
    if (o->of == NULL)
        o->of = must(calloc((size_t)plan->output_count + 1, sizeof *o->of));
    o->shown = 0;
    for (int i = 0; i < plan->output_count; i++) {
        const tl_plan_output *output = &plan->outputs[i];
        const int asked[3] = {output->shows, output->start.of, output->stop.of};
        const tl_bench_reading *is[3] = {NULL, NULL, NULL};
        tl_bench_seen seen = {.fault = false};
        o->of[i].shown = output->shows != TL_NONE;
        for (int n = 0; n < 3; n++) {
            const taken *t = asked[n] == TL_NONE ? NULL : reading_of(asked[n], signals, count, readings);
            o->of[i].shown = o->of[i].shown && (t != NULL || asked[n] == TL_NONE);
            seen.fault = seen.fault || (t != NULL && t->net != TL_NET_SOLVED);
            is[n] = t != NULL ? &t->is : NULL;
        }
        if (!o->of[i].shown)
            continue;
        seen.shown = is[0];
        seen.start = is[1];
        seen.stop = is[2];
        o->of[i].status = tl_bench_show(bench, i, &seen, &o->of[i].now);
        o->of[i].at = tl_bench_time(bench);
        o->of[i].amperes = output->driver.way == TL_DRIVER_NONE && !output->lamp.given
                               ? (double)NAN
                               : tl_bench_load_amperes(bench, i);
        o->shown++;
    }
}

void outputs_free(outputs *o)
{
    free(o->of);
    *o = (outputs){NULL, 0};
}

void output_flags(const output_state *of, char text[80])
{
    if (of->status != TL_OK)
        tl_status_text(of->status, text, 80);
    else
        snprintf(text, 80, "%s", of->now.fault ? "safe state" : "fresh");
}

void output_state_text(const tl_plan_output *output, const output_state *of, char text[80])
{
    if (of->status != TL_OK)
        tl_status_text(of->status, text, 80);
    else if (output->as == TL_OUT_DUTY)
        snprintf(text, 80, "%.0f %% duty", 100 * of->now.duty);
    else if (output->pin_count > 1)
        snprintf(text, 80, "%d of %d on", of->now.lit, output->pin_count);
    else
        snprintf(text, 80, "%s", of->now.lit > 0 ? "on" : "off");
    if (of->status == TL_OK && of->now.fault)
        strncat(text, ", safe state", 79 - strlen(text));
}

static void pins_of(const tl_plan *plan, const tl_plan_output *output, char text[80])
{
    const char *first = plan->pins[output->pins[0]].name;
    if (output->pin_count > 1)
        snprintf(text, 80, "%s .. %s", first, plan->pins[output->pins[output->pin_count - 1]].name);
    else
        snprintf(text, 80, "%s", first);
}

void outputs_print(const outputs *o, tl_circuit *circuit)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    double *amperes = must(calloc((size_t)plan->output_count + 1, sizeof *amperes)), largest = 0;
    table t;
    if (o->shown == 0) {
        free(amperes);
        return;
    }
    for (int i = 0; i < plan->output_count; i++) {
        amperes[i] = o->of[i].shown ? o->of[i].amperes : NAN;
        largest = fmax(largest, isnan(amperes[i]) ? 0 : amperes[i]);
    }
    const column_form form = column_of(amperes, plan->output_count, TL_DIM_AMPERE, COLUMN_FIGURES, largest);
    putchar('\n');
    table_begin(&t, 5, "<<<<>");
    table_heads(&t, "output", "pin", "signal", "state");
    table_cell(&t, "load current, %s", form.unit);
    for (int i = 0; i < plan->output_count; i++) {
        char text[80], load[40];
        const tl_plan_output *output = &plan->outputs[i];
        if (!o->of[i].shown)
            continue;
        table_cell(&t, "%s", output->name);
        pins_of(plan, output, text);
        table_cell(&t, "%s", text);
        table_cell(&t, "%s", plan->signals[output->shows].name);
        output_state_text(output, &o->of[i], text);
        table_cell(&t, "%s", text);
        table_cell(&t, "%s", column_text(&form, amperes[i], TL_ROUND_NEAREST, load));
    }
    table_end(&t, stdout, "  ");
    free(amperes);
}

void outputs_print_csv(const outputs *o, tl_circuit *circuit)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    for (int i = 0; i < plan->output_count && o->shown > 0; i++) {
        char text[80], quoted[90];
        if (!o->of[i].shown)
            continue;
        output_flags(&o->of[i], text);
        printf("%.6f,%s,%d,,%.9g,%%,,,,,%s\n", o->of[i].at, plan->outputs[i].name, o->of[i].now.lit,
               100 * o->of[i].now.duty, csv_text(text, quoted, sizeof quoted));
    }
}

json_t *outputs_array(const outputs *o, tl_circuit *circuit)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    json_t *list = json_array();
    for (int i = 0; i < plan->output_count && o->shown > 0; i++) {
        char pins[80], state[80];
        const tl_plan_output *output = &plan->outputs[i];
        const output_state *of = &o->of[i];
        if (!of->shown)
            continue;
        pins_of(plan, output, pins);
        output_state_text(output, of, state);
        json_array_append_new(list,
                              json_pack("{s:s,s:s,s:s,s:s,s:b,s:i,s:i,s:o,s:o,s:b}", "output", output->name,
                                        "pins", pins, "shows", plan->signals[output->shows].name, "state",
                                        state, "driven", of->status == TL_OK, "on", of->now.lit, "of",
                                        output->pin_count, "duty_percent", json_number(100 * of->now.duty),
                                        "load_a", json_number(of->amperes), "safe_state", of->now.fault));
    }
    return list;
}
