/* SPDX-License-Identifier: MIT */
/*
 * Good practice: what a technician weighs among values that all do the job. A row is a quantity, where it is
 * comfortable, how heavy it weighs outside, and why; whoever disagrees changes a row.
 */
#ifndef TL_PRACTICE_H
#define TL_PRACTICE_H

#include "tinyladder/design/sizing.h"

typedef enum {
    /* shares of a hard limit that are used */
    PRACTICE_AMPERES,
    PRACTICE_VOLTS,
    PRACTICE_LOOP_VOLTS,
    PRACTICE_HIGH_LEVEL,
    PRACTICE_LOW_LEVEL,
    PRACTICE_CLOSED_LEVEL,
    PRACTICE_EDGE,
    PRACTICE_RISE,
    PRACTICE_BASE,
    PRACTICE_HEAT,
    PRACTICE_LEAKAGE,
    /* values */
    PRACTICE_DIGITS,
    PRACTICE_IN_PLAN,
    PRACTICE_LAST_ONE,
    PRACTICE_MORE_PARTS,
    PRACTICE_UNEQUAL,
    PRACTICE_PULL_SMALL,
    PRACTICE_PULL_LARGE,
    PRACTICE_PULL_MIDDLE,
    PRACTICE_GUARD_MIDDLE,
    PRACTICE_GUARD_LARGE,
    PRACTICE_LAMP_DIM,
    PRACTICE_LAMP_MIDDLE,
    PRACTICE_GATE_LARGE,
    PRACTICE_GATE_MIDDLE,
    PRACTICE_LOOP_LITTLE,
    PRACTICE_BUS_MIDDLE,
    PRACTICE_BUS_SMALL,
    PRACTICE_BUS_LARGE,
    PRACTICE_FEED_SHARE,
    PRACTICE_PARTNER_MIDDLE,
    PRACTICE_PARTNER_AMPERES,
    PRACTICE_SENSOR_HEAT,
    PRACTICE_PARTNER_OHMS,
    PRACTICE_PARTNER_HEAT,
    PRACTICE_INJECTION_MIDDLE,
    PRACTICE_INJECTION_LARGE,
    PRACTICE_SHARE_LITTLE,
    PRACTICE_SOURCE_LITTLE,
    PRACTICE_SOURCE_MUCH,
    PRACTICE_SOURCE_MIDDLE,
    PRACTICE_BUDGET_MIDDLE,
    PRACTICE_TAP_OHMS,
    PRACTICE_LOWER_OPEN,
    PRACTICE_SUM_SMALL,
    PRACTICE_SUM_LARGE,
    PRACTICE_SUM_MIDDLE,
    PRACTICE_RATIO_OFF,
    PRACTICE_RATIO_SUM,
    PRACTICE_FILTER_SMALL,
    PRACTICE_FILTER_LARGE,
    PRACTICE_FILTER_MIDDLE,
    PRACTICE_FILTER_FARADS_SMALL,
    PRACTICE_FILTER_FARADS_LARGE,
    PRACTICE_HALF_COUNT,
    PRACTICE_KEPT,
    PRACTICE_HELD_MIDDLE,
    PRACTICE_HELD_VALUE,
    PRACTICE_LINE_SMALL,
    PRACTICE_LINE_LARGE,
    PRACTICE_LINE_MIDDLE,
    PRACTICE_LADDER_PULL,
    PRACTICE_LADDER_APART,
    PRACTICE_NONE /* of figures: nothing is weighed */
} practice_id;

typedef enum { COST_OVER, COST_UNDER, COST_MIDDLE, COST_FLAT } cost_form;

typedef struct {
    const char *name;   /* of the quantity */
    const char *phrase; /* a figure in a sentence, # for its number; empty where a number says nothing */
    cost_form form;     /* weighed above `at`, below it, or both ways from it */
    double at;          /* a share, or SI base units; NAN: the job says where */
    double weight;      /* of ln^2 of how far it is off */
    tl_dimension dimension;
    const char *why;
} practice_row;

const practice_row *practice_rows(int *count);

/* What a row costs where its quantity is x, comfortable at `at`; 0 where either is not known. */
double practice_cost_near(practice_id id, double x, double at);
double practice_cost(practice_id id, double x);
/* Adds what a row costs a choice whose quantity is x. */
void practice_add(tl_choice *choice, practice_id id, double x);
/* The same where the job says where it is comfortable. */
void practice_near(tl_choice *choice, practice_id id, double x, double at);
/* Whether every drawer has such a value: 10, 12, 15 .. 82. */
bool practice_is_common(double value);
/* A capacitor that holds a level, where `least` is the smallest on offer that does. */
void practice_held(tl_choice *choice, double farads, double least);
/* What a leg costs less because the plan has its values already. */
double practice_discount(const tl_leg *leg, const tl_stock *stock);
/* What every choice has: shares of its limits, the digits of its values, further parts. */
void practice_common(tl_choice *choice, const tl_stock *stock);
/* The smallest and the largest value on offer that fit. */
typedef struct {
    double least, most;
} practice_window;
/* The geometric middle of a window and a habit, or of the window alone where they do not meet. */
double practice_centre(const practice_window *window, double from, double to);

#endif
