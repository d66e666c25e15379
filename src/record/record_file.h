/* SPDX-License-Identifier: MIT */
/* Where records go: a CSV file, an SQLite database or a value change dump. docs/records.md has the formats.
 */
#ifndef TL_RECORD_FILE_H
#define TL_RECORD_FILE_H

#include "reading/outputs.h"
#include "reading/readings.h"

typedef struct store store;

/* What one run records. */
typedef struct {
    const tl_plan *plan;
    const char *scene, *counts; /* NULL where there is none */
    unsigned long seed;
    const int *signals;
    int count;
    bool live; /* it happens now: its rows have the wall clock */
} recorded_run;

/* Opens a file by its ending, .csv, .db or .vcd, or - for CSV to standard output; one that is there is
 * appended to, unless it is something else, or a dump. NULL with what is wrong said; *status is then the exit
 * status. */
store *store_open(const char *path, const recorded_run *of, int *status);
/* One time's readings: all of them, or none. false with what is wrong said. */
bool store_put(store *s, const int *signals, const taken *readings, int count, const outputs *beside);
/* false where something could not be written, now or before; *times (may be NULL): how many times are there
 * permanently. */
bool store_close(store *s, unsigned long *times);

/* --- reading one back --- */

typedef enum {
    STORED_ANALOG,
    STORED_DIGITAL,
    STORED_OUTPUT,
    STORED_LEVEL,
    STORED_RUN,
    STORED_TIMED, /* a digital signal that has a figure: a frequency, a duty, a period */
    STORED_KINDS
} stored_kind;
typedef struct {
    stored_kind kind;
    int run;                                      /* from 1 on */
    double at, count, value, low, high, closings; /* NAN where there is none */
    char signal[64], unit[16], flags[200];
} stored_row;
typedef bool stored_visitor(void *context, const stored_row *row);
/* Every row of a record, run by run, each in the order of time; false with what is wrong said. */
bool store_visit(const char *path, stored_visitor *visit, void *context);

#endif
