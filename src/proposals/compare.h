/* SPDX-License-Identifier: MIT */
/* Values that one has in mind, side by side, whether they do or not. */
#ifndef TL_COMPARE_H
#define TL_COMPARE_H

#include "proposals/jobs.h"

enum { COMPARED_MOST = 12, COMPARED_ROWS = 40, COMPARED_REASONS = 900 };

/* One of them as it was typed: its values in the order of the job's parts. */
typedef struct {
    char name[80];
    tl_stock_part part[TL_CHOICE_PARTS];
    int parts;
} compared_values;

/* What they do in one way of the job. */
typedef struct {
    const char *name;
    tl_choice choice; /* figures, of the circuit where it answers; none where `known` is false */
    bool known;
    char why[COMPARED_REASONS]; /* why it does not do; "" where it does */
} compared_row;

typedef struct {
    const size_kind *kind;
    const void *requirement;
    const tl_facts *facts;
    const char *drawer;                     /* its path, or NULL */
    const tl_stock *resistors, *capacitors; /* whose tolerances hold where a value says none; or NULL */
    double tolerance;                       /* of a resistor that says none and is not among them */
} comparison;

/* The values of a text such as `470/180,4k7 ±1 %/1k8`; how many, or -1 with what is wrong in `why`. */
int compare_read(const comparison *c, const char *text, compared_values values[COMPARED_MOST], char why[240]);
/* A value as a plan has it, such as `4k7 ±1 %`. */
const char *compare_value_text(const compared_values *values, int part, tl_dimension dimension,
                               char text[64]);
/* A row for every way that takes this many values; how many rows. */
int compare_try(const comparison *c, const compared_values *values, compared_row *rows, int room);
/* Percent that a divider's tap is off from what nominal legs would give: tolerance, leakage and load. */
double compare_off_by(const tl_divider_requirement *with, const tl_choice *choice);

#endif
