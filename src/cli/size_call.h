/* SPDX-License-Identifier: MIT */
/* One call of `tinyladder size`: what was typed, and what prints its answer. */
#ifndef TL_SIZE_CALL_H
#define TL_SIZE_CALL_H

#include "cli/cli.h"
#include "printing/columns.h"
#include "proposals/jobs.h"
#include "tinyladder/design/proposals.h"

enum { SIZE_ALL = 50 };

/* One call of `size`: what was typed, and what it is asked with. */
typedef struct {
    const size_kind *kind;
    tl_any_requirement requirement;
    bool typed[SIZE_OPTIONS_MOST]; /* of the kind's options */
    const char
        *exact[SIZE_OPTIONS_MOST]; /* the text of a voltage that was typed as one exact value; or NULL */
    tl_series series;
    tl_size_order order;
    double tolerance;
    const char *drawer, *plan, *board, *compare;
    long top;      /* 0: as many as suit */
    char rail[64]; /* of the board's pins; "" where there is no board */
    bool all, json, series_given, tolerance_given, write,
        dry;      /* dry: what `write` would change is shown, alone */
    bool of_plan; /* PLAN and PART, instead of options alone */
} size_call;

/* size_values.c: `size nearest` and `size marking`, which choose nothing. */
int size_nearest(int argc, char **argv);
int size_marking(int argc, char **argv);

/* size_compare.c: the values of --compare side by side; the exit status. */
int size_compare(const size_call *call, const tl_facts *facts, const tl_stock *stock,
                 const tl_stock *capacitors);

/* size_print.c */
shown size_figure(const tl_size_figure *f);
/* A figure's column in a table, over all choices that stand in it: its head, and its cells. */
column_form size_column(const tl_size_figure *const *figures, int count);
void size_head(table *t, const tl_size_figure *figure, const column_form *form);
void size_cell(table *t, const tl_size_figure *figure, const column_form *form);
/* Whether a choice of practice is listed at this place: behind the third, none that is far beyond it. */
bool size_is_listed(const size_call *call, const tl_choice *choice, int place);
void size_print_text(const size_call *call, const tl_size_result *result);
void size_print_window(const size_call *call, const tl_size_result *result);
void size_print_pick(const tl_size_result *result);
json_t *size_windows(const tl_size_result *result);
void size_print_json(const size_call *call, const tl_size_result *result);

/* size_plan.c: the candidates of a part, tried in its plan. Answers the exit status. */
int size_in_plan(const size_call *call, const tl_plan *plan, tl_report *report, const tl_part *part,
                 const tl_size_result *candidates);
/* The values of --compare, put into the plan. */
int size_compare_in_plan(const size_call *call, const tl_plan *plan, tl_report *report, const tl_part *part,
                         const tl_stock *resistors, const tl_stock *capacitors);

#endif
