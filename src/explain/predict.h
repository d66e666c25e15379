/* SPDX-License-Identifier: MIT */
/*
 * What a cause would look like: the plan's bench with that fault, several times with parts drawn from their
 * tolerances and sources from what was believed, asked for just what was seen.
 */
#ifndef TL_PREDICT_H
#define TL_PREDICT_H

#include "explain/hypotheses.h"
#include "explain/seen_figures.h"

enum { DRAWS = 8 };

/* For observations and signals that outlive it, with what sound parts do; question_free() at its end. */
void question_of(question *q, tl_circuit *circuit, const observed *seen, const bench_parts *parts);

typedef struct {
    int draws;
    double *all;             /* each figure of each draw */
    double *mean, *variance; /* of each figure; NULL: this fault cannot be in this plan */
    bool *floats;            /* of each figure: an open input decides it, on some bench */
} prediction;

/* Where an open input goes is one of three on each bench. */
typedef enum { GOES_LOW, GOES_HIGH, WANDERS, OPEN_WAYS } open_way;
open_way draw_way(int draw);

/* One situation on one bench: samples, shown values and meters of `in` as they are there. */
void question_play(const question *q, const hypothesis *h, int k, unsigned long seed, situation *in);

/* By this number of draws. */
void predict(question *q, const hypothesis *h, int draws, prediction *p);
/* Whether it may change anything that was seen. */
bool shows_anywhere(question *q, const hypothesis *h);
void prediction_copy(const question *q, const prediction *from, prediction *to);
void prediction_free(prediction *p);
/* Mean and variance of a figure over those draws that are in; NULL: over all. */
void moments(const prediction *p, int figures, int which, const bool *in, double *mean, double *variance);
/* Means and variances of all draws, once these are there. */
void prediction_sum(const question *q, prediction *p);

#endif
