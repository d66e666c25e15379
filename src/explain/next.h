/* The one measurement that parts the causes best. */
#ifndef TL_NEXT_H
#define TL_NEXT_H

#include "explain/rank.h"

enum { NEXT_CAUSES = 16 };

typedef struct {
    int situation, node;
    char point[100];
    double gain; /* bits that it tells on the mean */
    int causes;  /* how many of the diagnosis it weighs, from the first on, with the volts that each predicts
                  */
    double mean[NEXT_CAUSES], spread[NEXT_CAUSES];
} next_measurement;

/* False: no single measurement of volts parts them. */
bool next_of(diagnosis *d, next_measurement *next);

#endif
