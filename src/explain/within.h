/* SPDX-License-Identifier: MIT */
/* What sound parts may do. */
#ifndef TL_WITHIN_H
#define TL_WITHIN_H

#include "explain/predict.h"

/* Whether figure i is within it. */
bool is_within(const question *q, const prediction *sound, int i);
/* Whether figure i is beyond all that the source can do by the plan, where nothing more is said of it. */
bool is_beyond_source(const question *q, const prediction *sound, int i);

#endif
