/* SPDX-License-Identifier: MIT */
/* tinyladder size PLAN SIGNAL.PART: which candidates pass in the plan, as a table or JSON. */
#include "cli/size_call.h"
#include "printing/changes.h"
#include "printing/columns.h"
#include "proposals/compare.h"
#include "proposals/part_in_plan.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

static void tell_no_place(const char *name, const tl_part *part)
{
    fprintf(stderr, "tinyladder: %s.%s: the plan has no value of it that could be replaced\n", name,
            part->called);
}

/* The figures that some choice has. */
static int columns_of(const part_sizing *z, part_figure column[PART_FIGURES])
{
    int columns = 0;
    for (int f = 0; f < PART_FIGURES; f++) {
        bool any = false;
        for (int i = 0; i < z->passed_count; i++)
            any = any || !isnan(z->passed[i].figure[f]);
        if (any)
            column[columns++] = (part_figure)f;
    }
    return columns;
}

/* One unit for all figures of a dimension, one number of decimals for a column. */
static column_form form_of(const part_sizing *z, part_figure figure, int listed)
{
    const part_figure_row *row = &part_figures[figure];
    double values[PART_PASSED_MOST], largest = 0;
    for (int i = 0; i < listed; i++)
        values[i] = row->scale * z->passed[i].figure[figure];
    for (int f = 0; f < PART_FIGURES; f++) {
        for (int i = 0; i < listed && part_figures[f].dimension == row->dimension; i++)
            largest = fmax(largest, fabs(part_figures[f].scale * z->passed[i].figure[f]));
    }
    return column_of(values, listed, row->dimension,
                     row->dimension == TL_DIM_VOLT ? COLUMN_VOLTS : COLUMN_FIGURES, largest);
}

static void print_table(const size_call *call, const part_sizing *z, int listed)
{
    table t;
    char text[40];
    part_figure column[PART_FIGURES];
    column_form form[PART_FIGURES];
    const bool two = z->part->value[1] != NULL;
    const int columns = columns_of(z, column);
    char alignment[TABLE_COLUMNS] = ">";
    memset(alignment, '>', sizeof alignment - 1);
    table_begin(&t, 2 + two + columns + (call->compare != NULL), alignment);
    table_cell(&t, " ");
    table_cell(&t, "%s", z->part->name[0]);
    if (two)
        table_cell(&t, "%s", z->part->name[1]);
    for (int f = 0; f < columns; f++) {
        form[f] = form_of(z, column[f], listed);
        table_cell(&t, "%s, %s", part_figures[column[f]].head, form[f].unit);
    }
    if (call->compare != NULL)
        table_cell(&t, "fits");
    for (int i = 0; i < listed; i++) {
        const passed_choice *c = &z->passed[i];
        table_cell(&t, "%d", i + 1);
        table_cell(&t, "%s", c->value[0]);
        if (two)
            table_cell(&t, "%s", c->value[1]);
        for (int f = 0; f < columns; f++) {
            const part_figure_row *row = &part_figures[column[f]];
            table_cell(&t, "%s",
                       column_text(&form[f], row->scale * c->figure[column[f]],
                                   row->extreme == TL_LOWEST ? TL_ROUND_DOWN : TL_ROUND_UP, text));
        }
        if (call->compare != NULL)
            table_cell(&t, "%s", c->why == NULL ? "yes" : "no");
    }
    table_end(&t, stdout, "  ");
}

static int listed_of(const size_call *call, const part_sizing *z, const tl_size_result *candidates)
{
    int count = 0;
    while (count < z->passed_count && count < call->top &&
           size_is_listed(call, &candidates->choices[z->passed[count].candidate], count))
        count++;
    return count;
}

/* The reason of the candidates' first holds where that is what passed first. */
static void print_pick(const part_sizing *z, const tl_size_result *candidates)
{
    if (z->passed_count == 0)
        return;
    if (z->passed[0].candidate == 0)
        size_print_pick(candidates);
    else
        printf("  Pick: %s%s%s, the first value that passes every check.\n", z->passed[0].value[0],
               z->passed[0].value[1][0] != '\0' ? " over " : "", z->passed[0].value[1]);
}

static void print_text(const size_call *call, const part_sizing *z, const char *path,
                       const tl_size_result *candidates)
{
    printf("%s of %s: %d value%s of 'size %s' tried in the plan, %d pass%s every check.\n"
           "Guaranteed worst cases, as in 'check'.\n",
           z->part->called, path, z->tried, z->tried == 1 ? "" : "s", call->kind->name, z->passed_count,
           z->passed_count == 1 ? "es" : "");
    size_print_window(call, candidates);
    print_pick(z, candidates);
    putchar('\n');
    if (z->passed_count > 0)
        print_table(call, z, listed_of(call, z, candidates));
    else
        printf("%sNo: %s.%s\n", ink_on(stdout, INK_ERROR),
               candidates->count == 0 ? candidates->refusal : "none of them passes", ink_off(stdout));
    if (z->reason_count > 0)
        printf("\nWhy others fail:\n");
    for (int i = 0; i < z->reason_count; i++)
        put_note("  - ", "    ", z->reason[i]);
}

static json_t *choice_json(const part_sizing *z, const passed_choice *c)
{
    json_t *o = json_object();
    for (int i = 0; i < 2 && z->part->name[i] != NULL; i++)
        json_object_set_new(o, z->part->name[i], json_string(c->value[i]));
    if (c->candidate < 0)
        json_object_update_new(o, json_pack("{s:b,s:s?}", "does", c->why == NULL, "why", c->why));
    json_object_update_new(
        o,
        json_pack(
            "{s:o,s:o,s:o,s:o,s:o,s:o,s:o,s:o,s:o,s:o,s:o,s:o}", "pin_low_v",
            json_number(c->figure[PART_PIN_LOW]), "pin_high_v", json_number(c->figure[PART_PIN_HIGH]),
            "range_share", json_number(c->figure[PART_RANGE_SHARE]), "source_ohms",
            json_number(c->figure[PART_SOURCE_OHMS]), "settling_counts",
            json_number(c->figure[PART_SETTLING]), "threshold_margin_v", json_number(c->figure[PART_MARGIN]),
            "rise_s", json_number(c->figure[PART_RISE]), "pin_a", json_number(c->figure[PART_PIN_AMPERES]),
            "load_low_a", json_number(c->figure[PART_LOAD_LOW]), "load_high_a",
            json_number(c->figure[PART_LOAD_HIGH]), "series_w", json_number(c->figure[PART_SERIES_WATTS]),
            "transistor_w", json_number(c->figure[PART_TRANSISTOR_WATTS])));
    return o;
}

static void print_json(const size_call *call, const part_sizing *z, const char *path,
                       const tl_size_result *candidates)
{
    json_t *choices = json_array(), *reasons = json_array();
    const int listed = listed_of(call, z, candidates);
    for (int i = 0; i < listed; i++)
        json_array_append_new(choices, choice_json(z, &z->passed[i]));
    for (int i = 0; i < z->reason_count; i++)
        json_array_append_new(reasons, json_string(z->reason[i]));
    json_print(json_pack("{s:s,s:s,s:s,s:s,s:i,s:i,s:o,s:o,s:o,s:o,s:s}", "plan", z->plan->path, "signal",
                         path, "part", z->part->called, "size", call->kind->name, "tried", z->tried,
                         "fitting", z->passed_count, "refusal",
                         candidates->count == 0 ? json_string(candidates->refusal) : json_null(), "choices",
                         choices, "rejected", reasons, "window", size_windows(candidates), "reason",
                         z->passed_count > 0 && z->passed[0].candidate == 0 ? candidates->reason : ""));
}

/* --- values that one has in mind --- */

static void print_compared(const size_call *call, const part_sizing *z, const char *name)
{
    printf("%s of %s: %d values tried in the plan. Guaranteed worst cases, as in 'check'.\n\n",
           z->part->called, name, z->passed_count);
    print_table(call, z, z->passed_count);
    bool first = true;
    for (int i = 0; i < z->passed_count; i++) {
        char *line = NULL;
        if (z->passed[i].why == NULL)
            continue;
        tl_finding_text(&line, "%s%s%s: %s.", z->passed[i].value[0],
                        z->passed[i].value[1][0] != '\0' ? " over " : "", z->passed[i].value[1],
                        z->passed[i].why);
        if (first)
            printf("\nWhat fails:\n");
        first = false;
        put_note("  - ", "    ", line);
        free(line);
    }
}

static void print_compared_json(const part_sizing *z, const char *name)
{
    json_t *list = json_array();
    for (int i = 0; i < z->passed_count; i++)
        json_array_append_new(list, choice_json(z, &z->passed[i]));
    json_print(json_pack("{s:s,s:s,s:s,s:o}", "plan", z->plan->path, "signal", name, "part", z->part->called,
                         "compared", list));
}

int size_compare_in_plan(const size_call *call, const tl_plan *plan, tl_report *report, const tl_part *part,
                         const tl_stock *resistors, const tl_stock *capacitors)
{
    static part_sizing z; /* too large for the stack of a small system */
    size_kind kind = *call->kind;
    kind.fewest = kind.most = part->value[1] != NULL ? 2 : 1;
    const comparison c = {&kind, NULL, NULL, NULL, resistors, capacitors, call->tolerance};
    compared_values values[COMPARED_MOST];
    char wrong[240];
    z = (part_sizing){.plan = plan, .report = report, .part = part};
    const int asked = compare_read(&c, call->compare, values, wrong);
    if (asked < 0) {
        fprintf(stderr, "tinyladder: --compare: %s\n", wrong);
        return EXIT_USAGE;
    }
    bool going = true;
    for (int i = 0; i < asked && going; i++) {
        char text[2][64] = {"", ""};
        for (int p = 0; p < values[i].parts; p++)
            compare_value_text(&values[i], p, kind.of_value[p > 0], text[p]);
        going = part_sizing_compare(&z, text);
    }
    int status = EXIT_FOUND;
    const char *name = part->owner;
    if (z.lost != NULL)
        status = print_unreadable(z.lost);
    else if (z.no_place)
        tell_no_place(name, part);
    else if (call->json)
        print_compared_json(&z, name);
    else
        print_compared(call, &z, name);
    for (int i = 0; i < z.passed_count && going; i++)
        status = z.passed[i].why == NULL ? EXIT_DONE : status;
    part_sizing_drop(&z);
    return status;
}

static int write_first(const size_call *call, const part_sizing *z)
{
    int file;
    size_t size = 0;
    char *text = part_sizing_text(z, &z->passed[0], &file, &size);
    FILE *const to = call->json ? stderr : stdout;
    changes first = {0};
    changes_put(&first, z->report, file, text, size);
    const int status = changes_make(&first, call->dry, "\nThe first choice is in the plan now:", to);
    changes_end(&first);
    free(text);
    return status;
}

int size_in_plan(const size_call *call, const tl_plan *plan, tl_report *report, const tl_part *part,
                 const tl_size_result *candidates)
{
    static part_sizing z; /* too large for the stack of a small system */
    z = (part_sizing){.plan = plan, .report = report, .part = part};
    const char *name = part->owner;
    int status = EXIT_FOUND;
    part_sizing_try(&z, candidates);
    if (z.lost != NULL) {
        status = print_unreadable(z.lost);
    } else if (z.no_place) {
        tell_no_place(name, part);
    } else {
        if (!call->dry || z.passed_count == 0)
            (call->json ? print_json : print_text)(call, &z, name, candidates);
        if (z.passed_count > 0)
            status = call->write || call->dry ? write_first(call, &z) : EXIT_DONE;
    }
    part_sizing_drop(&z);
    return status;
}
