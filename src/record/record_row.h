/* SPDX-License-Identifier: MIT */
/* One row of a record, of a signal or of an output, and as a line of CSV. */
#ifndef TL_RECORD_ROW_H
#define TL_RECORD_ROW_H

#include "record/record_file.h"
#include <sqlite3.h>

/* The first line of CSV; with the wall clock where a file begins with what happens now. */
#define RECORD_HEAD "s,signal,kind,count,pin_v,value,unit,percent,low,high,closings,flags\n"
#define CLOCKED_RECORD_HEAD "s,signal,kind,count,pin_v,value,unit,percent,low,high,closings,flags,clock\n"

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

/* Says what is wrong with a file. @return false. */
bool record_failed(const char *path, const char *what);
bool path_ends_with(const char *path, const char *end);
/* The one number that a statement answers. */
sqlite3_int64 database_number(sqlite3 *database, const char *sql, sqlite3_int64 otherwise);

#endif
