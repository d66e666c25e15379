/* SPDX-License-Identifier: MIT */
/* What the plan says of every count of a signal. */
#ifndef TL_COUNT_FACTS_H
#define TL_COUNT_FACTS_H

#include "tinyladder/design/measurement.h"

typedef struct {
    double *value, *percent; /* last digits; -1 without percent */
    char *fault;             /* 'o', 's' or 0 */
    bool *beyond;            /* at or beyond the end of the sensor's law */
    long count;              /* up to 65536: of more bits the highest 16 count */
    long first_code;
    int drop; /* bits below them */
    int decimals;
    long step; /* last digits of a coarser step, 1 for none */
} count_facts;

count_facts count_facts_of(tl_circuit *circuit, int signal);
void count_facts_free(count_facts *f);

#endif
