/* SPDX-License-Identifier: MIT */
/* What was seen, out of the options of `explain`. */
#ifndef TL_EXPLAIN_GATHER_H
#define TL_EXPLAIN_GATHER_H

#include "explain/rank.h"

enum { GIVEN_MOST = 64 };

typedef struct {
    const char *text[GIVEN_MOST];
    int count;
} given;

typedef struct {
    const char *plan, *observed, *priors, *counts, *record;
    given names, saw, sources, shown, meters, ohms, outputs;
    long most, mystery;
    bool json, ask, reveal, two;
} explain_options;

typedef struct {
    tl_circuit *circuit;
    const tl_plan *plan;
    observed *seen;
    int signals[GIVEN_MOST]; /* named on the command line */
    int signal_count;
    bool good;
} gathering;

/* All of it but counts; false with what is wrong said. */
bool explain_gather(const explain_options *o, gathering *g);
/* What the board says: the last count of each signal of a file, some of what is live. Answers a status. */
int explain_gather_counts(const explain_options *o, gathering *g);
/* The last samples of each signal in the last run of a record. Answers a status. */
int explain_gather_record(const explain_options *o, gathering *g);

#endif
