/* SPDX-License-Identifier: MIT */
/* A situation that was seen as a scene for the bench, with a fault. */
#ifndef TL_SITUATION_SCENE_H
#define TL_SITUATION_SCENE_H

#include "explain/hypotheses.h"
#include "explain/seen_figures.h"

/* Seconds before the first sample; a period of the mains. */
extern const double rest_seconds, hum_seconds;

tl_scene *scene_of(const question *q, const hypothesis *h, int k, unsigned long seed);
/* Seconds from one sample to the next: only what comes and goes by itself takes as long as it did. */
double spacing_of(const question *q, const hypothesis *h);
/* When a meter has settled. */
double meter_moment(const question *q, const hypothesis *h, int k, int meter);
/* 0 to 1; the same draw for every cause: what differs between them is the fault alone. */
double drawn(unsigned long seed, unsigned which);

#endif
