/* SPDX-License-Identifier: MIT */
/* A part of a plan, every candidate for it put into the plan and asked of the circuit and of the rules. */
#ifndef TL_PART_IN_PLAN_H
#define TL_PART_IN_PLAN_H

#include "tinyladder/design/proposals.h"

enum { PART_REASONS_MOST = 10, PART_PASSED_MOST = 50 };

/* What is shown of a choice; NAN where it has none such. Two that stand behind each other under one head are
 * the ends of a range. */
typedef enum {
    PART_PIN_LOW, /* volts at the pin, over all states */
    PART_PIN_HIGH,
    PART_RANGE_SHARE, /* of the reference that is used */
    PART_SOURCE_OHMS,
    PART_SETTLING,
    PART_MARGIN,      /* two states: volts that the nearest threshold is cleared by */
    PART_RISE,        /* a bus: its rising edge */
    PART_PIN_AMPERES, /* an output: of each pin */
    PART_LOAD_LOW,
    PART_LOAD_HIGH,
    PART_SERIES_WATTS,
    PART_TRANSISTOR_WATTS,
    PART_FIGURES
} part_figure;

typedef struct {
    const char *head;
    tl_dimension dimension;
    tl_extreme extreme;
    double scale; /* from the value to what is shown */
} part_figure_row;
extern const part_figure_row part_figures[PART_FIGURES];

/* A candidate that passed, or one that is compared, with what its circuit says. */
typedef struct {
    char *why; /* of one that is compared: what it breaks; NULL where it breaks nothing */
    char value[2][64];
    int candidate; /* which of them */
    double figure[PART_FIGURES];
} passed_choice;

typedef struct {
    const tl_plan *plan;
    const tl_report *report; /* of the plan as it is: read and checked */
    const tl_part *part;
    passed_choice passed[PART_PASSED_MOST];
    int passed_count, tried;
    char *reason[PART_REASONS_MOST]; /* why others do not pass, a rule once */
    int reason_count;
    tl_report *lost; /* what it says where a file could not be read again; NULL */
    bool no_place;   /* the values do not stand where they could be replaced */
} part_sizing;

/* Asks a given value, and keeps it whether it passes or not; false where there is no going
 * on. */
bool part_sizing_compare(part_sizing *z, char value[2][64]);
/* Asks all of them. Its plan, report and part are set; to be dropped in any case. */
void part_sizing_try(part_sizing *z, const tl_size_result *candidates);
void part_sizing_drop(part_sizing *z);
/* The plan's file with this choice in it, to be freed; NULL where it has no place for it. */
char *part_sizing_text(const part_sizing *z, const passed_choice *c, int *file, size_t *size);

#endif
