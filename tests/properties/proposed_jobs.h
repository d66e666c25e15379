/* SPDX-License-Identifier: MIT */
/* What test_proposed.c asks about: a job is a sizing, what is required of it, and the plan that proves it. */
#ifndef TL_PROPOSED_JOBS_H
#define TL_PROPOSED_JOBS_H

#include "support.h"
#include "tinyladder/design/proposals.h"

enum { PROPOSED_TEXT = 4000 };

typedef struct {
    const char *path, *pin[2], *line[2], *bus[2];
    const char *select[2]; /* lines of either level of a tree of multiplexers */
    tl_facts facts;
} demo_board;

typedef tl_any_requirement wanted;

typedef struct {
    const char *kind;
    void (*want)(wanted *w, const demo_board *b);
    void (*size)(const wanted *w, tl_size_result *result);
    void (*plan)(const wanted *w, const demo_board *b, const tl_choice *c);
    const char *least, *most; /* figures that say the volts at the pin; NULL for none */
    const char *figure;       /* another, and what the plan's circuit says of it */
    double (*found)(tl_circuit *circuit);
    double least_share; /* of what is said, that the plan may find instead */
} proposed_job;

extern const proposed_job proposed_jobs[];
extern const size_t proposed_job_count;

/* The plan that is being written, and the file of the multiplexer that it may name. */
extern char proposed_plan[PROPOSED_TEXT];
extern const char proposed_mux[];
void proposed_append(const char *format, ...) __attribute__((format(printf, 1, 2)));

/* At random, evenly in decades. */
double proposed_between(double low, double high);

#endif
