/* SPDX-License-Identifier: MIT */
/* Every candidate for a part is tried in its plan; what passes keeps the figures that `check` has, too. */
#include "proposals/part_in_plan.h"
#include "analysis/ask.h"
#include "elaborate/circuit_struct.h"
#include "proposals/resize.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

const part_figure_row part_figures[PART_FIGURES] = {
    [PART_PIN_LOW] = {"pin voltage min", TL_DIM_VOLT, TL_LOWEST, 1},
    [PART_PIN_HIGH] = {"pin voltage max", TL_DIM_VOLT, TL_HIGHEST, 1},
    [PART_RANGE_SHARE] = {"range used", TL_DIM_PERCENT, TL_LOWEST, 100},
    [PART_SOURCE_OHMS] = {"source resistance", TL_DIM_OHM, TL_HIGHEST, 1},
    [PART_SETTLING] = {"settling error", TL_DIM_COUNT, TL_HIGHEST, 1},
    [PART_MARGIN] = {"noise margin", TL_DIM_VOLT, TL_LOWEST, 1},
    [PART_RISE] = {"time to threshold", TL_DIM_SECOND, TL_HIGHEST, 1},
    [PART_PIN_AMPERES] = {"current per pin", TL_DIM_AMPERE, TL_HIGHEST, 1},
    [PART_LOAD_LOW] = {"load current min", TL_DIM_AMPERE, TL_LOWEST, 1},
    [PART_LOAD_HIGH] = {"load current max", TL_DIM_AMPERE, TL_HIGHEST, 1},
    [PART_SERIES_WATTS] = {"power in the resistor", TL_DIM_WATT, TL_HIGHEST, 1},
    [PART_TRANSISTOR_WATTS] = {"power in the transistor", TL_DIM_WATT, TL_HIGHEST, 1},
};

static void measure_output(tl_circuit *circuit, const tl_part *part, double *figure)
{
    const tl_output_figures *output = tl_circuit_output(circuit, part->output);
    if (!output->known)
        return;
    figure[PART_PIN_AMPERES] = output->pin;
    figure[PART_LOAD_LOW] = output->load.low;
    figure[PART_LOAD_HIGH] = output->load.high;
    if (tl_circuit_plan(circuit)->outputs[part->output].driver.way == TL_DRIVER_NONE)
        figure[PART_SERIES_WATTS] = output->series_watts;
    else
        figure[PART_TRANSISTOR_WATTS] = output->transistor_watts;
}

/* The same worst cases that `check` looks at. */
static void measure_signal(tl_circuit *circuit, const tl_part *part, double *figure)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    const tl_signal *s = &plan->signals[part->signal];
    const bool analog = s->analog && plan->pins[s->pin].channel >= 0;
    double low = INFINITY, high = -INFINITY, margin = INFINITY;
    for (int state = 0; state < tl_circuit_nodes(circuit, part->signal)->states; state++) {
        const tl_worst_case *worst = tl_circuit_worst_case(circuit, part->signal, state);
        if (worst->fault != TL_NET_SOLVED)
            continue;
        low = fmin(low, worst->volts.low);
        high = fmax(high, worst->volts.high);
        if (!s->analog)
            margin = fmin(margin, fmax(worst->above_vih.low, -worst->above_vil.high));
    }
    figure[PART_PIN_LOW] = low;
    figure[PART_PIN_HIGH] = high;
    if (!s->analog)
        figure[PART_MARGIN] = margin;
    if (part->bus != TL_NONE)
        figure[PART_RISE] = tl_circuit_edge(circuit, part->signal, 0);
    if (!analog)
        return;
    double least, most;
    const tl_analog_path *path = tl_circuit_path(circuit, part->signal);
    tl_net_param_span(tl_circuit_net(circuit), tl_circuit_nodes(circuit, part->signal)->reference, &least,
                      &most);
    figure[PART_RANGE_SHARE] = (high - low) / most;
    figure[PART_SOURCE_OHMS] = path->fault == TL_NET_SOLVED ? path->source_ohms : NAN;
    figure[PART_SETTLING] = path->fault == TL_NET_SOLVED ? path->settling_counts : NAN;
}

/* circuit NULL: the plan is none any more. */
static void measure(tl_circuit *circuit, const tl_part *part, passed_choice *c)
{
    for (int i = 0; i < PART_FIGURES; i++)
        c->figure[i] = NAN;
    if (circuit != NULL && part->output != TL_NONE)
        measure_output(circuit, part, c->figure);
    else if (circuit != NULL)
        measure_signal(circuit, part, c->figure);
}

/* The first finding that a part must not have: one that is new, or one of its own signal, bus or output. */
static const tl_finding *worse_after(const part_sizing *z, const tl_trial *trial, const tl_finding *last)
{
    const tl_finding *worse = tl_trial_worse_after(trial, z->report, z->part->signal, last);
    bool behind = last == NULL;
    for (int i = 0;
         i < tl_report_count(trial->report) && (z->part->output != TL_NONE || z->part->bus != TL_NONE); i++) {
        const tl_finding *f = tl_report_finding(trial->report, i);
        const bool told = !behind;
        behind = behind || f == last;
        if (f == worse)
            return f;
        if (!told && f->severity >= TL_WARNING && f->subject < 0 && strstr(f->cause, z->part->owner) != NULL)
            return f;
    }
    return worse;
}

/* Reasons are reported once, with the first candidate that they refuse. */
static void keep_reason(part_sizing *z, const passed_choice *c, const tl_finding *f)
{
    char *text = NULL;
    if (f == NULL)
        tl_finding_text(&text, "%s%s%s: the plan would be none any more", c->value[0],
                        c->value[1][0] != '\0' ? ", " : "", c->value[1]);
    else
        tl_finding_text(&text, "%s%s%s: %s%s%s [%s]", c->value[0], c->value[1][0] != '\0' ? ", " : "",
                        c->value[1], f->cause, f->figure != NULL ? ": " : "",
                        f->figure != NULL ? f->figure : "", f->slug);
    const char *slug = strrchr(text, '[');
    for (int i = 0; i < z->reason_count && slug != NULL; i++) {
        const char *known = strrchr(z->reason[i], '[');
        if (known != NULL && strcmp(known, slug) == 0) {
            free(text);
            return;
        }
    }
    if (z->reason_count < PART_REASONS_MOST)
        z->reason[z->reason_count++] = text;
    else
        free(text);
}

char *part_sizing_text(const part_sizing *z, const passed_choice *c, int *file, size_t *size)
{
    tl_edit edits[2];
    const char *const values[2] = {c->value[0], z->part->value[1] != NULL ? c->value[1] : NULL};
    const int count = tl_part_edits(z->report, z->part, values, edits);
    char *text = count > 0 ? tl_edit_apply(z->report, edits, count, size) : NULL;
    *file = count > 0 ? edits[0].file : -1;
    for (int i = 0; i < count; i++)
        tl_edit_free(&edits[i]);
    return text;
}

/* `figure of signal: 3.4 V at the pin [slug]`; of a plan that is none any more what the reader says. */
static char *say_why(const part_sizing *z, const tl_trial *trial)
{
    char *text = NULL;
    const bool read = trial->plan != NULL;
    const tl_finding *f = read                                 ? worse_after(z, trial, NULL)
                          : tl_report_count(trial->report) > 0 ? tl_report_finding(trial->report, 0)
                                                               : NULL;
    while (f != NULL) {
        tl_finding_text(&text, "%s%s%s%s%s [%s]", text != NULL ? text : "", text != NULL ? "; " : "",
                        f->cause, f->figure != NULL ? ": " : "", f->figure != NULL ? f->figure : "", f->slug);
        f = read ? worse_after(z, trial, f) : NULL;
    }
    return text;
}

/* false where there is no going on: no place for the values, or a file that is lost. */
static bool try_choice(part_sizing *z, const passed_choice *values, bool compare)
{
    tl_trial trial;
    int file;
    size_t size = 0;
    passed_choice c = *values;
    char *text = part_sizing_text(z, &c, &file, &size);
    z->no_place = text == NULL;
    if (text == NULL)
        return false;
    tl_trial_begin(&trial, z->plan, z->report, file, text, size);
    free(text);
    z->tried++;
    if (trial.lost != NULL) {
        z->lost = trial.report;
        trial.report = NULL;
        tl_trial_end(&trial);
        return false;
    }
    const tl_finding *worse = trial.plan != NULL ? worse_after(z, &trial, NULL) : NULL;
    const bool passes = trial.plan != NULL && worse == NULL;
    if (!passes && !compare) {
        keep_reason(z, &c, worse);
    } else {
        measure(trial.circuit, z->part, &c);
        c.why = passes ? NULL : say_why(z, &trial);
        if (z->passed_count < PART_PASSED_MOST)
            z->passed[z->passed_count++] = c;
    }
    tl_trial_end(&trial);
    return true;
}

void part_sizing_try(part_sizing *z, const tl_size_result *candidates)
{
    for (int i = 0; i < candidates->count; i++) {
        passed_choice c = {.candidate = i};
        if (part_values(z->part, candidates, &candidates->choices[i], c.value) && !try_choice(z, &c, false))
            return;
    }
}

bool part_sizing_compare(part_sizing *z, char value[2][64])
{
    passed_choice c = {.candidate = -1};
    for (int i = 0; i < 2; i++)
        snprintf(c.value[i], sizeof c.value[i], "%s", value[i]);
    return try_choice(z, &c, true);
}

void part_sizing_drop(part_sizing *z)
{
    for (int i = 0; i < z->passed_count; i++)
        free(z->passed[i].why);
    for (int i = 0; i < z->reason_count; i++)
        free(z->reason[i]);
    tl_report_free(z->lost);
}
