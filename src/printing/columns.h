/* SPDX-License-Identifier: MIT */
/*
 * Columns of figures. A column has one unit, one prefix and one number of decimals, chosen by all its
 * entries: three digits that count in the largest, up to two decimals more for the smallest.
 */
#ifndef TL_COLUMNS_H
#define TL_COLUMNS_H

#include "tinyladder/design/quantity.h"

typedef enum {
    COLUMN_FIGURES, /* worked out */
    COLUMN_TYPED,   /* as they were typed: as many decimals as they need */
    COLUMN_VOLTS    /* as a meter shows them: V with three decimals, mV where all are below 0.1 V */
} column_kind;

typedef struct {
    double scale; /* of the prefix */
    int decimals;
    double negligible; /* what is below it prints as `< 0.01`; 0: nothing is */
    char unit[16];     /* with the prefix */
} column_form;

/* NAN: no entry. beside: the largest figure of this dimension in the whole table, so that all its columns
 * have one prefix. */
column_form column_of(const double *values, int count, tl_dimension dimension, column_kind kind,
                      double beside);
/* Nothing for NAN. Bounds are rounded outward: what is the least down, what is the most up. */
const char *column_text(const column_form *form, double value, tl_rounding rounding, char text[40]);

#endif
