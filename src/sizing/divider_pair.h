/* SPDX-License-Identifier: MIT */
/* One pair of legs of a divider, as the search asks for it thousands of times. tl_divider_work_out() makes
 * the whole choice. */
#ifndef TL_DIVIDER_PAIR_H
#define TL_DIVIDER_PAIR_H

#include "sizing/legs.h"

/* Highest volts of the tap. */
double divider_tap_high(const tl_divider_requirement *w, double upper_low, double lower_high);
/* Highest amperes from the source. */
double divider_amperes(const tl_divider_requirement *w, const tl_leg *upper, const tl_leg *lower);

/* Whole figures of a score first; pairs that are equal to a billionth are ordered by the current, whose
 * part of the score lies within divider_current_part. */
static const double divider_current_part = 1e-10;
double divider_score_without_current(const tl_divider_requirement *w, double share, int parts);
double divider_score(const tl_divider_requirement *w, double share, double amperes, int parts);

/* The cost without what every choice has: quick to tell, and never more than the whole. */
double divider_least_cost(const tl_divider_requirement *w, const tl_leg *upper, const tl_leg *lower,
                          double share);

#endif
