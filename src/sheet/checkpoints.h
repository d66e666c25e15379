/* Where to put the meter, and what it shows there on every bench whose parts are within their tolerances. */
#ifndef TL_CHECKPOINTS_H
#define TL_CHECKPOINTS_H

#include "tinyladder/design/circuit.h"

typedef struct {
    int number, signal;
    bool power_off; /* ohms; else volts */
    char where[80]; /* `behind filter to GND` */
    char when[80];  /* `released`, `at 20 °C` */
    double least, typical, most;
} checkpoint;

typedef struct {
    checkpoint *list;
    int count;
    int *at_pin;     /* of each signal of the plan, the number of its checkpoint at the pin; 0: none */
    int *at_source;  /* and at a supply that it reads */
    char meter[120]; /* whose readings these are */
} checkpoints;

/* Of these signals, power off first. Free it. */
checkpoints checkpoints_of(tl_circuit *circuit, const int *signals, int count);
void checkpoints_free(checkpoints *of);

#endif
