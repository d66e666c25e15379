/* SPDX-License-Identifier: MIT */
/* The dialogue of `explain`, and the bench that it can be practised on. */
#ifndef TL_EXPLAIN_ASK_H
#define TL_EXPLAIN_ASK_H

#include "cli/explain_gather.h"
#include "explain/next.h"

/* A fault that is hidden on a bench, to be found. */
typedef struct {
    hypotheses all;
    int is; /* -1: there is none */
    unsigned long seed;
} hidden_fault;

/* Hides one, and sees what the bench shows; false: the plan has none that shows. */
bool explain_hide(const explain_options *o, gathering *g, tl_report *report, hidden_fault *hidden);
/* Asks for the next measurement, which goes in beside what was seen; false: it is over. */
bool explain_ask(observed *seen, tl_circuit *circuit, const next_measurement *next,
                 const hidden_fault *hidden);

#endif
