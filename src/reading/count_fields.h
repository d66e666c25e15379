/* SPDX-License-Identifier: MIT */
/* The words of a line of counts: fields of a row, numbers, units of time. */
#ifndef TL_COUNT_FIELDS_H
#define TL_COUNT_FIELDS_H

#include <stdbool.h>
#include <stddef.h>

enum { COUNT_LINE_LONGEST = 4096, COUNT_COLUMNS_MOST = 256 };

typedef struct {
    char text[COUNT_LINE_LONGEST + 1];
    size_t used;
    const char *of[COUNT_COLUMNS_MOST + 1];
    int count;
} count_fields;

/* The fields of a row of CSV; false for quotes that do not match. */
bool count_fields_split(const char *text, count_fields *f);
/* A number, or low, high, false and true as 0 and 1; false for anything else. */
bool count_number(const char *text, double *number);
/* Of a name that is a time, s, ms or us: its seconds; else 0. */
double count_unit_of_time(const char *name);

#endif
