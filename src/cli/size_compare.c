/* SPDX-License-Identifier: MIT */
/* `size JOB --compare 470/180,4k7/1k8`: values that one has in mind side by side, as tables or JSON. */
#include "cli/size_call.h"
#include "proposals/compare.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

static bool is_divider(const size_call *call)
{
    return strcmp(call->kind->name, "divider") == 0;
}

/* A figure that no row has a value for is left out. */
static int columns_of(const compared_row *const *rows, int count, int most, int column[TL_CHOICE_FIGURES])
{
    int columns = 0;
    for (int f = 0; f < rows[0]->choice.figures; f++) {
        bool any = false;
        for (int i = 0; i < count; i++)
            any = any || !isnan(rows[i]->choice.figure[f].value);
        if (any && columns < most)
            column[columns++] = f;
    }
    return columns;
}

static void print_table(const size_call *call, const compared_row *const *rows, int count)
{
    table t;
    char alignment[TABLE_COLUMNS + 1];
    int column[TL_CHOICE_FIGURES];
    const bool off = is_divider(call);
    const int columns = columns_of(rows, count, TABLE_COLUMNS - 3, column);
    column_form forms[TL_CHOICE_FIGURES];
    for (int f = 0; f < columns; f++) {
        const tl_size_figure *figures[TL_VALUES_MOST];
        int listed = 0;
        for (; listed < count && listed < TL_VALUES_MOST; listed++)
            figures[listed] = &rows[listed]->choice.figure[column[f]];
        forms[f] = size_column(figures, listed);
    }
    memset(alignment, '>', sizeof alignment);
    alignment[0] = '<';
    table_begin(&t, 2 + columns + off, alignment);
    table_cell(&t, "%s", call->kind->most > 1 ? "values" : "value");
    for (int f = 0; f < columns; f++)
        size_head(&t, &rows[0]->choice.figure[column[f]], &forms[f]);
    if (off)
        table_cell(&t, "off by");
    table_cell(&t, "does it");
    for (int i = 0; i < count; i++) {
        const tl_choice *c = &rows[i]->choice;
        table_cell(&t, "%s", rows[i]->name);
        for (int f = 0; f < columns; f++) {
            size_cell(&t, &c->figure[column[f]], &forms[f]);
        }
        if (off)
            table_cell(&t, "%s",
                       show_most(compare_off_by(&call->requirement.divider, c), TL_DIM_PERCENT).text);
        table_cell(&t, "%s", rows[i]->why[0] == '\0' ? "yes" : "no");
    }
    table_end_turned(&t, stdout, "  ");
}

/* A table for each way, in the order in which the ways come up. */
static void print_ways(const size_call *call, const compared_row *rows, int count)
{
    bool told[COMPARED_ROWS] = {false};
    for (int i = 0; i < count; i++) {
        const compared_row *alike[COMPARED_ROWS];
        int found = 0;
        for (int k = i; k < count && rows[i].known && !told[i]; k++) {
            if (rows[k].known && !told[k] && rows[k].choice.way == rows[i].choice.way &&
                rows[k].choice.figures == rows[i].choice.figures)
                alike[found++] = &rows[k];
        }
        if (found == 0)
            continue;
        putchar('\n');
        if (rows[i].choice.way != NULL)
            printf("%s%s%s\n", ink_on(stdout, INK_STRONG), rows[i].choice.way, ink_off(stdout));
        print_table(call, alike, found);
        for (int k = 0; k < found; k++)
            told[alike[k] - rows] = true;
    }
}

static void print_reasons(const compared_row *rows, int count)
{
    bool first = true;
    for (int i = 0; i < count; i++) {
        char line[COMPARED_REASONS + 200];
        const char *way = rows[i].known ? rows[i].choice.way : NULL;
        if (rows[i].why[0] == '\0')
            continue;
        snprintf(line, sizeof line, "%s%s%s: %s.", rows[i].name, way != NULL ? ", " : "",
                 way != NULL ? way : "", rows[i].why);
        if (first)
            printf("\nWhat fails:\n");
        first = false;
        put_note("  - ", "    ", line);
    }
}

static json_t *row_object(const size_call *call, const compared_row *row)
{
    json_t *figures = json_array();
    for (int f = 0; f < row->choice.figures && row->known; f++)
        json_array_append_new(figures, json_pack("{s:s,s:o,s:o}", "name", row->choice.figure[f].name, "value",
                                                 json_number(row->choice.figure[f].value), "limit",
                                                 json_number(row->choice.figure[f].limit)));
    json_t *o = json_pack("{s:s,s:s,s:b,s:o,s:o}", "values", row->name, "way",
                          row->known && row->choice.way != NULL ? row->choice.way : call->kind->name, "does",
                          row->why[0] == '\0', "why",
                          row->why[0] != '\0' ? json_string(row->why) : json_null(), "figures", figures);
    if (is_divider(call))
        json_object_set_new(o, "off_by_percent",
                            row->known ? json_number(compare_off_by(&call->requirement.divider, &row->choice))
                                       : json_null());
    return o;
}

static void print_answer(const size_call *call, const compared_row *rows, int count)
{
    if (call->json) {
        json_t *list = json_array();
        for (int i = 0; i < count; i++)
            json_array_append_new(list, row_object(call, &rows[i]));
        json_print(json_pack("{s:s,s:o}", "size", call->kind->name, "compared", list));
        return;
    }
    if (call->kind->of_value[0] == TL_DIM_OHM)
        printf("±%g %% where a value says nothing. ", 100 * call->tolerance);
    printf("Figures are guaranteed worst cases.\n");
    print_ways(call, rows, count);
    print_reasons(rows, count);
}

int size_compare(const size_call *call, const tl_facts *facts, const tl_stock *stock,
                 const tl_stock *capacitors)
{
    const bool drawer = call->drawer != NULL;
    const comparison c = {call->kind,     &call->requirement,    facts,
                          call->drawer,   drawer ? stock : NULL, drawer ? capacitors : NULL,
                          call->tolerance};
    compared_values values[COMPARED_MOST];
    compared_row *rows = must(calloc(COMPARED_ROWS, sizeof *rows));
    char wrong[240];
    int count = 0, does = 0;
    const int asked = compare_read(&c, call->compare, values, wrong);
    if (asked < 0)
        fprintf(stderr, "tinyladder: --compare: %s\n", wrong);
    for (int i = 0; i < asked; i++)
        count += compare_try(&c, &values[i], &rows[count], COMPARED_ROWS - count);
    for (int i = 0; i < count; i++)
        does += rows[i].why[0] == '\0';
    if (count > 0)
        print_answer(call, rows, count);
    free(rows);
    return count == 0 ? EXIT_USAGE : does > 0 ? EXIT_DONE : EXIT_FOUND;
}
