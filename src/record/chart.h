/* SPDX-License-Identifier: MIT */
/* A record as it is drawn: its series, which of them share a panel, where they failed. */
#ifndef TL_CHART_H
#define TL_CHART_H

#include "record/record_file.h"
#include <stdio.h>

/* A stretch of time in which a signal had no value, and what was said of it first. */
typedef struct {
    double from, until;
    char why[60];
} chart_failure;

typedef struct {
    char signal[64], name[80], unit[16]; /* name: as it is shown */
    stored_kind kind;
    int run;
    bool any;               /* there is a value */
    double least, most;     /* of values and intervals */
    double lowest, highest; /* of values alone */
    double closings;        /* at the end; NAN */
    chart_failure *failures;
    int failure_count;
    bool failing;
    FILE *to; /* into `data`, until it is closed: time, value or level, low, high */
    char *data;
    size_t size;
} chart_series;

typedef struct {
    char signal[64], unit[16], text[200];
    double value;
} chart_level;

/* Series of one unit that do not flatten each other. */
typedef struct {
    char unit[16];
    int *members; /* of the chart's list */
    int count;
    double least, most;
} chart_panel;

typedef struct {
    chart_series **list; /* each stays where it is: its stream writes into it */
    int count;
    chart_level *levels;
    int level_count;
    chart_panel *panels;
    int panel_count;
    int *digital, digital_count; /* of the list, too */
    char title[200];             /* of the last run that is drawn */
    double first, last;
    int runs; /* in the record */
} chart;

typedef struct {
    const char *record;
    const char *const *names; /* of signals; none: all */
    int name_count;
    int run; /* 0 the last, -1 all */
} chart_choice;

/* false with what is wrong said; chart_free() in any case. */
bool chart_load(chart *c, const chart_choice *choice);
void chart_free(chart *c);
/* Of a signal of this panel, and in its unit: a level in % is none of a curve in volts. */
bool chart_shows_level(const chart *c, const chart_panel *panel, const chart_level *level);

/* --- what is sent to gnuplot --- */

typedef struct {
    const char *out; /* NULL: the terminal */
    int columns, rows;
} chart_paper;

/* How many pages of it there are, and the script of one, its data with it; to be freed. */
int chart_pages(const chart *c, const chart_paper *paper);
char *chart_script(const chart *c, const chart_paper *paper, int page, size_t *size);

#endif
