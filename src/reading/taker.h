/* SPDX-License-Identifier: MIT */
/*
 * Taking readings as firmware would: contacts watched from one look to the next and debounced beside each
 * other, each analog signal converted at its own place after the moment of the look. Which signals are asked
 * for changes neither their instants nor what stood in the converter before, so single looks, records and all
 * choices of signals agree.
 */
#ifndef TL_TAKER_H
#define TL_TAKER_H

#include "reading/readings.h"

typedef struct taker taker;

/* For these signals of a plan, each the mean of this many samples (0: what the plan says). Both stay the
 * caller's. */
taker *taker_new(tl_circuit *circuit, const int *signals, int count, int samples);
/* All of them at a time of the scene, or as soon after as the bench can. From the second look on contacts
 * have been watched without a break since the one before. */
void taker_look(taker *t, tl_bench *bench, double at, taken *readings);
/* The next look is the first one, on whatever bench. */
void taker_restart(taker *t);
/* Seconds by which the latest look began late, because the one before took so long; 0 where none did. */
double taker_late(const taker *t);
void taker_free(taker *t);
/* A single look, by a taker of its own. */
void take_once(tl_bench *bench, const int *signals, int count, double at, int samples, taken *readings);

#endif
