/* SPDX-License-Identifier: MIT */
/* Practice without hardware: situations that show most of a plan, and what a bench with a fault shows in
 * them. */
#ifndef TL_REHEARSAL_H
#define TL_REHEARSAL_H

#include "explain/predict.h"

/* Three situations with every source low, in the middle and high, contacts pressed or not, and `samples` of
 * every signal, still empty. To be freed with observed_free(). */
observed rehearsal_situations(tl_circuit *circuit, int samples);
/* A bench with this fault and the parts of this seed. Sources are where they are stated, off by `wider` times
 * what is stated. */
typedef struct {
    tl_circuit *circuit;
    const hypothesis *fault;
    unsigned long seed;
    double wider;
} rehearsal;

/* Fills in all samples, shown values and meters. */
void rehearsal_observe(const rehearsal *r, observed *seen);
/* What a meter shows in situation k of these. */
double rehearsal_measure(const rehearsal *r, const observed *seen, const seen_meter *meter, int k);

#endif
