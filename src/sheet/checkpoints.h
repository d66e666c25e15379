/* SPDX-License-Identifier: MIT */
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
    char measures; /* a supply that is measured first goes by this letter; '\0' */
    char of;       /* it is a factor of that one; '\0' */
    double factor_least, factor_most;
    double fixed;    /* volts that both readings may be off beside that */
    int node;        /* of the net, where the meter goes */
    char source[48]; /* the source as explain takes it, such as `closed` or `20 degC`; empty */
} checkpoint;

typedef struct {
    checkpoint *list;
    int count;
    int *at_pin;     /* of each signal of the plan, the number of its checkpoint at the pin; 0: none */
    int *at_source;  /* and at a supply that it reads */
    char meter[180]; /* whose readings these are */
} checkpoints;

/* Of these signals, power off first. Free it. */
checkpoints checkpoints_of(tl_circuit *circuit, const int *signals, int count);
void checkpoints_free(checkpoints *of);
/* The plan's first meter, or a usual one. */
tl_meter checkpoint_meter(const tl_plan *plan);

#endif
