/*
 * What a cause would look like: the plan's bench with that fault, several times with parts drawn from their
 * tolerances and sources from what was believed, asked for just what was seen.
 */
#ifndef TL_PREDICT_H
#define TL_PREDICT_H

#include "explain/hypotheses.h"
#include "explain/observed.h"
#include "tinyladder/bench.h"

enum { DRAWS = 8 };

/* One figure that was seen, or that follows from what was. */
typedef enum {
    FIGURE_MEAN,   /* of the samples of a signal */
    FIGURE_SPREAD, /* ln(1 + their standard deviation): hum, loose joints, wandering */
    FIGURE_SHOWN,  /* what is shown less what that count should show */
    FIGURE_OUTPUT, /* what a load does, of its usual current: 0 nothing, 1 too little, 2 all */
    FIGURE_METER
} figure_kind;

typedef struct {
    figure_kind kind;
    int situation, index; /* of the signal in its situation, or of the meter */
    double seen;
    double least_spread; /* no prediction is finer than this */
} figure;

typedef struct {
    tl_circuit *circuit;
    const observed *seen;
    figure *figures;
    int count;
    double *usual; /* amperes of each output's load */
    double *sound; /* all figures of each draw of sound parts */
    bool *touched; /* of each signal of the plan: the cause that is played may change it */
} question;

/* For observations that outlive it; question_free() at its end. */
void question_of(question *q, tl_circuit *circuit, const observed *seen);
void question_free(question *q);

typedef struct {
    int draws;
    double *all;             /* each figure of each draw */
    double *mean, *variance; /* of each figure; NULL: this fault cannot be in this plan */
} prediction;

/* By which factor a signal's shown values are off, as far as all agree; NAN where there are none. */
double question_factor(const question *q, int signal);

/* One situation on one bench: samples, shown values and meters of `in` as they are there. */
void question_play(const question *q, const hypothesis *h, int k, unsigned long seed, situation *in);

/* By this number of draws. */
void predict(question *q, const hypothesis *h, int draws, prediction *p);
void prediction_free(prediction *p);
/* Mean and variance of a figure over those draws that are in; NULL: over all. */
void moments(const prediction *p, int figures, int which, const bool *in, double *mean, double *variance);
/* Means and variances of all draws, once these are there. */
void prediction_sum(const question *q, prediction *p);

#endif
