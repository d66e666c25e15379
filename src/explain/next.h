/* SPDX-License-Identifier: MIT */
/* The one measurement that parts the causes best: volts, or with the power off ohms. */
#ifndef TL_NEXT_H
#define TL_NEXT_H

#include "explain/rank.h"

enum { NEXT_CAUSES = 16 };

/* Volts, or ohms as ohms_figure() has them. */
typedef struct {
    double mean, spread;
    double least, most; /* of the benches that were tried */
} predicted_reading;

typedef struct {
    int situation;
    seen_meter meter; /* where; what it shows is not known yet */
    int selected;     /* signal whose channel its multiplexer stays on; TL_NONE where that is all the same */
    double gain;      /* bits that it tells on the mean */
    int causes;       /* how many of the diagnosis it weighs, from the first on, with what each predicts */
    predicted_reading of[NEXT_CAUSES];
} next_measurement;

/* False: no single measurement parts them. */
bool next_of(diagnosis *d, next_measurement *next);

#endif
