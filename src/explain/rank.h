/* SPDX-License-Identifier: MIT */
/* Causes in order: how well each agrees with what was seen, and how often it is met. */
#ifndef TL_RANK_H
#define TL_RANK_H

#include "explain/predict.h"

enum { ALSO_MOST = 12 };

typedef struct {
    int hypothesis;      /* the likeliest of its values */
    int also[ALSO_MOST]; /* the same at other places of one network, which look just like it */
    int also_count;
    double likelihood;  /* its logarithm, against the best: 0 or less */
    double probability; /* of all its values together */
    bool alike;         /* what was seen does not tell it from the best */
} ranked_cause;

typedef struct {
    const observed *seen; /* all of it; */
    observed compared;    /* what the causes were asked for: of very many signals those that tell most */
    int were_seen, are_compared; /* how many signals */
    bench_parts parts;
    question asked;
    hypotheses all;
    prediction *predictions; /* of each hypothesis */
    ranked_cause *causes;    /* likeliest first */
    int count;
    bool within;     /* all that was seen is within what sound parts may do */
    bool impossible; /* no single cause explains it; the nearest come first */
} diagnosis;

typedef struct {
    const char *priors; /* a file of weights, or NULL */
    bool two;           /* tries two faults at once, too */
} diagnose_options;

/* False: the report says why. */
bool diagnose(diagnosis *d, tl_circuit *circuit, const observed *seen, const diagnose_options *o,
              tl_report *report);
void diagnosis_free(diagnosis *d);

#endif
