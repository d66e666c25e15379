/* SPDX-License-Identifier: MIT */
/* One reading in words: shared by the verbs that take readings. */
#ifndef TL_READINGS_H
#define TL_READINGS_H

#include "printing/printing.h"
#include "tinyladder/bench.h"

/* A reading with what came of taking it. */
typedef struct {
    tl_bench_reading is;
    tl_net_status net;
    long closings; /* of a contact, since it is watched; -1: it is not */
} taken;

bool taken_is_good(const taken *t);
/* `fresh`, `open wire`, `no acknowledge` and so on. */
const char *taken_flags(const tl_signal *signal, const taken *t, char text[40]);
/* What to do about the flags of all these, each once; nothing where there is nothing to do. real: counts of a
 * board. */
void print_advice(const tl_plan *plan, const int *signals, const taken *readings, int count, bool real);
/* `12.39 V (82 %)`, `closed`, `park`, or `-` where there is no value; without: a dash for it. */
void taken_value(const tl_signal *signal, const taken *t, char text[80]);
/* The n-th word that a signal of states can read as, such as `closed` or a button; NULL beyond the last, and
 * for a signal that has values instead. */
const char *taken_state(const tl_signal *signal, int n);
/* `12.39 .. 12.82 V`, its ends rounded away from the middle; one-sided where the truth may lie beyond. */
void show_interval(const tl_interval *within, int decimals, const char *unit, char text[80]);
/* Whether it is a figure in a unit (it may be none just now), no state. */
bool taken_is_figure(const tl_signal *signal, const taken *t);
/* The bounds of the true value, as show_interval() says it; `-` where that is not known. */
void taken_interval(const tl_signal *signal, const taken *t, char text[80]);
/* Whether there is a figure that means something. */
bool taken_has_value(const tl_signal *signal, const taken *t);
json_t *taken_object(const tl_plan *plan, int signal, const taken *t);

/* Which of a plan's signals: those named, each once, or all. Unknown names are wrong usage: reported, answers
 * NULL. */
int *choose_signals(const tl_plan *plan, const char *const *names, int count, int *chosen);

#endif
