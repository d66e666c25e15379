/* SPDX-License-Identifier: MIT */
/* One row of a record, of a signal or of an output, and as a line of CSV. */
#ifndef TL_RECORD_ROW_H
#define TL_RECORD_ROW_H

#include "record/record_file.h"

/* What is NAN, or an empty text, is left out. */
typedef struct {
    const char *name, *kind, *unit;
    double at, count, pin_v, value, percent, low, high, closings;
    char text[80];   /* instead of the value: a button */
    char flags[200]; /* of a run and a level: what it is */
    char clock[CLOCK_ROOM];
} record_row;

record_row row_of_reading(const tl_plan *plan, int signal, const taken *t);
/* What a run is of: its plan's title, what was recorded. */
record_row row_of_run(const recorded_run *of);
/* Where an output starts, or stops, on the signal that it shows. */
record_row row_of_level(const tl_plan *plan, int output, bool stop);
record_row row_of_output(const tl_plan *plan, int output, const output_state *of);
/* A line, its end included, with the wall clock or without; answers where the next one begins. There is room
 * for the name and 1000 bytes beside it. */
char *write_row(const record_row *row, bool clocked, char *to);

#endif
