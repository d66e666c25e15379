/* What `tinyladder size` knows: one row a kind, with its options as a table over its requirement. */
#ifndef TL_SIZE_KINDS_H
#define TL_SIZE_KINDS_H

#include "cli/cli.h"
#include "tinyladder/design/proposals.h"

typedef enum { FORM_RANGE, FORM_VALUE, FORM_LIST, FORM_NUMBER, FORM_WORD, FORM_FLAG } option_form;

typedef struct {
    const char *help;
    tl_fact from; /* what stands for it where it is not typed: from the board, or from the plan */
    const char *name, *argument;
    option_form form;
    tl_dimension dimension; /* of a range or a value */
    size_t offset; /* of the member in the requirement: tl_quantity, double, tl_values, double, int, int */
    const char *const *words; /* of a word: what its numbers are called, ended by NULL */
} size_option;

typedef struct {
    const char *name, *summary, *needs; /* needs: an example of what must be said */
    const size_option *options;         /* ends with a NULL name */
    void (*set_defaults)(void *requirement);
    void (*size)(const void *requirement, tl_size_result *result);
} size_kind;

extern const size_kind size_kinds[];
extern const int size_kind_count;

enum { SIZE_OPTIONS_MOST = 40, SIZE_ALL = 50 };

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
    bool all, json, series_given, tolerance_given, write;
    bool of_plan; /* PLAN and PART, instead of options alone */
} size_call;

/* size_values.c: `size nearest` and `size marking`, which choose nothing. */
int size_nearest(int argc, char **argv);
int size_marking(int argc, char **argv);

/* size_compare.c: pairs of legs side by side; the exit status. */
int size_compare(const size_call *call, const tl_stock *stock);

/* size_print.c */
shown size_figure(const tl_size_figure *f);
void size_print_text(const size_call *call, const tl_size_result *result);
void size_print_window(const size_call *call, const tl_size_result *result);
void size_print_pick(const tl_size_result *result);
json_t *size_windows(const tl_size_result *result);
void size_print_json(const size_call *call, const tl_size_result *result);

/* size_plan.c: the candidates of a part, tried in its plan. Answers the exit status. */
int size_in_plan(const size_call *call, const tl_plan *plan, tl_report *report, tl_circuit *circuit,
                 const tl_part *part, const tl_size_result *candidates);

#endif
