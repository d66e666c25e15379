/* SPDX-License-Identifier: MIT */
/* What is asked of every cause: the figures that follow from what was seen. */
#ifndef TL_SEEN_FIGURES_H
#define TL_SEEN_FIGURES_H

#include "explain/near.h"
#include "explain/observed.h"
#include "tinyladder/bench.h"

/* One figure that was seen, or that follows from what was. */
typedef enum {
    FIGURE_MEAN,   /* of the samples of a signal */
    FIGURE_SPREAD, /* ln(1 + their standard deviation): hum, loose joints, wandering */
    FIGURE_SHOWN,  /* what is shown less what that count should show */
    FIGURE_OUTPUT, /* what a load does, of its usual current: 0 nothing, 1 too little, 2 all */
    FIGURE_METER,
    FIGURE_OHMS /* as ohms_figure() has it */
} figure_kind;

typedef struct {
    figure_kind kind;
    int situation, index; /* of the signal in its situation, or of the meter */
    double seen;
    double least_spread; /* no prediction is finer than this */
    double range;        /* of all that it can be */
    double unstated;     /* spread that a source gives which nothing is said of; else 0 */
} figure;

typedef struct {
    tl_circuit *circuit;
    const observed *seen;
    figure *figures;
    int count;
    double *usual; /* amperes of each output's load */
    double *sound; /* all figures of each draw of sound parts */
    const bench_parts *parts;
    bool *metered; /* of each signal of the plan: it is always on the bench */
    bool *touched; /* and of those that were seen: the cause that is played may change it */
    bool *here;    /* what a bench of this cause needs; NULL: all of the plan */
} question;

/* The figures alone. */
void question_begin(question *q, tl_circuit *circuit, const observed *seen);
void question_free(question *q);

const tl_signal *question_signal(const question *q, int signal);
/* What the firmware should show of this count, in the reading's unit; NAN where there is no value. */
double question_shown(const question *q, int signal, double count);
/* What stands for a sample that did not come: far from every count. */
double question_missing(const question *q, int signal);
/* By which factor a signal's shown values are off, as far as all agree; NAN where there are none. */
double question_factor(const question *q, int signal);

/* Resistances in decades, the lowest alike. */
double ohms_figure(double ohms);
double figure_ohms(double decade); /* and back; INFINITY: open */

/* How far a meter may be off beside what it says of itself: of a resistance, in decades; of a supply that
 * nothing feeds, in volts. */
double ohms_spread(double ohms);
double supply_spread(const question *q, const seen_meter *meter);

double samples_mean(const double *samples, int count);
double samples_spread(const double *samples, int count);
/* The count that was seen with a shown value: the last that came. */
double samples_last(const seen_signal *s);

#endif
