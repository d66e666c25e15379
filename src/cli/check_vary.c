/* SPDX-License-Identifier: MIT */
/* One value of a plan at several settings, side by side: the figures that move, the findings that differ. */
#include "cli/check_vary.h"
#include "cli/cli.h"
#include "printing/columns.h"
#include "proposals/vary.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

/* The plan as it is, or with one of the values. */
typedef struct {
    const char *value; /* NULL: as it is */
    tl_circuit *circuit;
    const tl_report *report;
    tl_trial trial; /* empty for the plan as it is */
    vary_figure *figures;
    int count;
} variant;

typedef struct {
    const char *path;
    variant variants[VARY_MOST + 1];
    int count;
} variation;

/* --- what is the same in all of them --- */

static const vary_figure *figure_called(const variant *v, const char *name)
{
    for (int i = 0; i < v->count; i++) {
        if (strcmp(v->figures[i].name, name) == 0)
            return &v->figures[i];
    }
    return NULL;
}

static double value_of(const variant *v, const char *name)
{
    const vary_figure *f = figure_called(v, name);
    return f != NULL ? f->value : (double)NAN;
}

static bool moves(const variation *all, const char *name)
{
    const double first = value_of(&all->variants[0], name);
    for (int i = 1; i < all->count; i++) {
        const double value = value_of(&all->variants[i], name);
        if (isnan(first) != isnan(value) || fabs(value - first) > 1e-9 * fabs(first) + 1e-15)
            return true;
    }
    return false;
}

static const tl_finding *finding_like(const variant *v, const tl_finding *wanted)
{
    for (int i = 0; i < tl_report_count(v->report); i++) {
        const tl_finding *f = tl_report_finding(v->report, i);
        if (strcmp(f->slug, wanted->slug) == 0 && f->subject == wanted->subject &&
            (f->subject >= 0 || strcmp(f->cause, wanted->cause) == 0))
            return f;
    }
    return NULL;
}

static bool comes_or_goes(const variation *all, const tl_finding *f)
{
    const tl_finding *first = finding_like(&all->variants[0], f);
    for (int i = 1; i < all->count; i++) {
        const tl_finding *other = finding_like(&all->variants[i], f);
        if ((first == NULL) != (other == NULL) || (first != NULL && first->severity != other->severity))
            return true;
    }
    return false;
}

/* Whether an earlier variant has told of it. */
static bool is_told(const variation *all, int before, const tl_finding *f)
{
    for (int i = 0; i < before; i++) {
        if (finding_like(&all->variants[i], f) != NULL)
            return true;
    }
    return false;
}

/* --- as tables --- */

static void put_heads(table *t, const variation *all, const char *first, int columns, char side)
{
    char alignment[VARY_MOST + 3];
    memset(alignment, side, sizeof alignment);
    alignment[0] = '<';
    alignment[columns] = '\0';
    table_begin(t, columns, alignment);
    table_cell(t, "%s", first);
    for (int i = 0; i < all->count; i++)
        table_cell(t, "%s", all->variants[i].value != NULL ? all->variants[i].value : "as it is");
}

static void figure_text(const vary_figure *f, char text[60])
{
    if (f == NULL || isnan(f->value))
        snprintf(text, 60, "-");
    else if (isinf(f->value))
        snprintf(text, 60, "%s", f->dimension == TL_DIM_SECOND ? "never" : "no bound");
    else if (f->unit != NULL)
        snprintf(text, 60, "%.*f%s%.20s", f->decimals, f->value, f->unit[0] != '\0' ? " " : "", f->unit);
    else
        snprintf(text, 60, "%s",
                 f->extreme == TL_LOWEST    ? show_least(f->value, f->dimension).text
                 : f->extreme == TL_HIGHEST ? show_most(f->value, f->dimension).text
                                            : show(f->value, f->dimension).text);
}

/* Not one that moves in a digit that is not shown. */
static bool is_seen_to_move(const variation *all, const char *name)
{
    char first[60], text[60];
    bool differs = false;
    figure_text(figure_called(&all->variants[0], name), first);
    for (int i = 1; i < all->count; i++) {
        figure_text(figure_called(&all->variants[i], name), text);
        differs = differs || strcmp(first, text) != 0;
    }
    return differs;
}

/* One figure at all settings: in one unit, with as many decimals. */
static void put_figure(table *t, const variation *all, const vary_figure *figure)
{
    double values[VARY_MOST + 1], largest = 0;
    char text[60];
    for (int k = 0; k < all->count; k++) {
        const double value = value_of(&all->variants[k], figure->name);
        values[k] = isfinite(value) ? value : NAN;
        largest = fmax(largest, isfinite(value) ? fabs(value) : 0);
    }
    const column_form form =
        column_of(values, all->count, figure->dimension,
                  figure->dimension == TL_DIM_VOLT ? COLUMN_VOLTS : COLUMN_FIGURES, largest);
    const char *unit = figure->unit != NULL ? figure->unit : form.unit;
    table_cell(t, "%s%s%s", figure->name, unit[0] != '\0' ? ", " : "", unit);
    for (int k = 0; k < all->count; k++) {
        const vary_figure *f = figure_called(&all->variants[k], figure->name);
        if (f != NULL && f->unit != NULL && isfinite(f->value))
            snprintf(text, sizeof text, "%.*f", f->decimals, f->value);
        else if (f != NULL && isfinite(f->value))
            column_text(&form, f->value,
                        f->extreme == TL_LOWEST    ? TL_ROUND_DOWN
                        : f->extreme == TL_HIGHEST ? TL_ROUND_UP
                                                   : TL_ROUND_NEAREST,
                        text);
        else
            figure_text(f, text);
        table_cell(t, "%s", text);
    }
}

static void print_figures(const variation *all)
{
    const variant *first = &all->variants[0];
    table t;
    int moving = 0;
    for (int i = 0; i < first->count; i++) {
        if (!is_seen_to_move(all, first->figures[i].name))
            continue;
        if (moving++ == 0)
            put_heads(&t, all, "figure", all->count + 1, '>');
        put_figure(&t, all, &first->figures[i]);
    }
    if (moving > 0)
        table_end(&t, stdout, "  ");
    else
        printf("  No figure of 'check' changes.\n");
}

static void print_differences(const variation *all)
{
    static const char *const names[] = {[TL_NOTE] = "note", [TL_WARNING] = "warning", [TL_ERROR] = "error"};
    table t;
    int rows = 0;
    for (int i = 0; i < all->count; i++) {
        const tl_report *report = all->variants[i].report;
        for (int n = 0; n < tl_report_count(report); n++) {
            const tl_finding *f = tl_report_finding(report, n);
            if (!comes_or_goes(all, f) || is_told(all, i, f))
                continue;
            if (rows++ == 0)
                put_heads(&t, all, "finding", all->count + 1, '<');
            table_cell(&t, "%s%s%s", f->slug, f->subject >= 0 ? ", " : "",
                       f->subject >= 0 ? tl_circuit_plan(all->variants[0].circuit)->signals[f->subject].name
                                       : "");
            for (int k = 0; k < all->count; k++) {
                const tl_finding *there = finding_like(&all->variants[k], f);
                table_cell(&t, "%s", there != NULL ? names[there->severity] : "-");
            }
        }
    }
    printf("\n");
    if (rows > 0)
        table_end(&t, stdout, "  ");
    else
        printf("  No finding appears or disappears.\n");
}

/* --- as JSON --- */

static json_t *figures_array(const variation *all)
{
    static const char *const units[] = {
        [TL_DIM_OHM] = "ohm",  [TL_DIM_VOLT] = "V",       [TL_DIM_AMPERE] = "A",
        [TL_DIM_SECOND] = "s", [TL_DIM_COUNT] = "counts", [TL_DIM_NUMBER] = ""};
    const variant *first = &all->variants[0];
    json_t *list = json_array();
    for (int i = 0; i < first->count; i++) {
        const vary_figure *f = &first->figures[i];
        if (!moves(all, f->name))
            continue;
        json_t *values = json_array();
        for (int k = 0; k < all->count; k++)
            json_array_append_new(values, json_number(value_of(&all->variants[k], f->name)));
        json_array_append_new(list,
                              json_pack("{s:s,s:s,s:o}", "name", f->name, "unit",
                                        f->unit != NULL ? f->unit : units[f->dimension], "values", values));
    }
    return list;
}

static json_t *differences_array(const variation *all)
{
    json_t *list = json_array();
    for (int i = 0; i < all->count; i++) {
        const tl_report *report = all->variants[i].report;
        for (int n = 0; n < tl_report_count(report); n++) {
            const tl_finding *f = tl_report_finding(report, n);
            if (!comes_or_goes(all, f) || is_told(all, i, f))
                continue;
            json_t *severities = json_array();
            for (int k = 0; k < all->count; k++) {
                const tl_finding *there = finding_like(&all->variants[k], f);
                json_array_append_new(
                    severities, there != NULL ? json_string(tl_severity_name(there->severity)) : json_null());
            }
            json_array_append_new(list, json_pack("{s:s,s:s,s:o}", "slug", f->slug, "cause", f->cause,
                                                  "severities", severities));
        }
    }
    return list;
}

static void print_json(const variation *all, const char *plan)
{
    json_t *values = json_array();
    for (int i = 0; i < all->count; i++)
        json_array_append_new(values, all->variants[i].value != NULL ? json_string(all->variants[i].value)
                                                                     : json_null());
    json_print(json_pack("{s:s,s:s,s:o,s:o,s:o}", "plan", plan, "vary", all->path, "values", values,
                         "figures", figures_array(all), "findings", differences_array(all)));
}

/* --- the whole --- */

static int try_value(variation *all, const tl_plan *plan, const tl_report *report, char value[VARY_VALUE])
{
    char why[VARY_WHY];
    tl_edit edit;
    size_t size = 0;
    variant *v = &all->variants[all->count];
    if (!vary_edit(report, all->path, value, &edit, why)) {
        fprintf(stderr, "tinyladder: --vary: %s\n", why);
        return EXIT_USAGE;
    }
    *v = (variant){.value = value};
    char *text = tl_edit_apply(report, &edit, 1, &size);
    tl_trial_begin(&v->trial, plan, report, edit.file, text, size);
    free(text);
    tl_edit_free(&edit);
    all->count++;
    v->report = v->trial.report;
    v->circuit = v->trial.circuit;
    if (v->trial.plan == NULL) {
        fprintf(stderr, "tinyladder: --vary: with %s = %s the plan cannot be read:\n", all->path, value);
        return print_unreadable(v->trial.report);
    }
    v->figures = vary_figures(v->circuit, &v->count);
    return EXIT_DONE;
}

int check_vary(const tl_plan *plan, tl_circuit *circuit, const tl_report *report, const char *wish, bool json)
{
    static vary_wish w; /* large */
    static variation all;
    char why[VARY_WHY];
    if (!vary_read(wish, &w, why)) {
        fprintf(stderr, "tinyladder: --vary: %s\n", why);
        return EXIT_USAGE;
    }
    all = (variation){.path = w.path, .count = 1};
    all.variants[0] = (variant){.circuit = circuit, .report = report};
    all.variants[0].figures = vary_figures(circuit, &all.variants[0].count);
    int status = EXIT_DONE;
    for (int i = 0; i < w.count && status == EXIT_DONE; i++)
        status = try_value(&all, plan, report, w.value[i]);
    if (status == EXIT_DONE && json) {
        print_json(&all, plan->path);
    } else if (status == EXIT_DONE) {
        printf("%s: %s. Guaranteed worst cases that change.\n\n", plan->title, w.path);
        print_figures(&all);
        print_differences(&all);
    }
    if (status == EXIT_DONE)
        status = EXIT_FOUND;
    for (int i = 0; i < all.count; i++) {
        if (status == EXIT_FOUND && i > 0 && tl_report_at_least(all.variants[i].report, TL_ERROR) == 0)
            status = EXIT_DONE;
        free(all.variants[i].figures);
        if (i > 0)
            tl_trial_end(&all.variants[i].trial);
    }
    return status;
}
