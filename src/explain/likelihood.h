/* SPDX-License-Identifier: MIT */
/* How well a cause agrees with what was seen. All are natural logarithms. */
#ifndef TL_LIKELIHOOD_H
#define TL_LIKELIHOOD_H

#include "explain/predict.h"

double likelihood_of(const question *q, const prediction *sound, const prediction *p);
/* Each draw is a way of its own, with the spread that sound parts have. */
double likelihood_of_draws(const question *q, const prediction *sound, const prediction *p);
/* By the first draws alone. False where the fault does nothing to what was seen. */
bool glance(const question *q, const prediction *sound, const prediction *p, double *likelihood);
/* Whether a figure is nowhere near what was predicted. */
bool is_wild(const question *q, const prediction *sound, const prediction *p);

#endif
