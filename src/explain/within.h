/* SPDX-License-Identifier: MIT */
/* What sound parts may do. */
#ifndef TL_WITHIN_H
#define TL_WITHIN_H

#include "explain/predict.h"

/* Whether figure i is within it. */
bool is_within(const question *q, const prediction *sound, int i);

#endif
