/* SPDX-License-Identifier: MIT */
/* Legs of one part, or of two in series or parallel, sorted by their least ohms: for the sizings that choose
 * two resistors at once. */
#ifndef TL_LEGS_H
#define TL_LEGS_H

#include "sizing/sizing.h"

/* One leg in 16 bytes; the rest follows from the stock. A third of a million of them are sorted for two E96
 * parts a leg. */
typedef struct {
    double low;
    short first, second;
    char join;
} leg_key;

typedef struct {
    leg_key *keys; /* by their least ohms */
    int count;
    tl_leg fixed; /* the one leg there is; its nominal is NAN where there are all */
    const tl_stock *stock;
} leg_list;

tl_leg leg_at(const leg_list *list, int i);
/* fixed: the one leg there is, or a nominal of NAN. The keys are the caller's to free. */
leg_list single_legs(const tl_stock *stock, const tl_quantity *fixed);
leg_list double_legs(const tl_stock *stock, const tl_quantity *fixed);
/* A leg that is given, with its tolerance. */
/* Errors of a ratio, in percent: of the legs' tolerances; and the rest after a calibration at two points,
 * at the nominal legs, both drifting apart. ohms: of the source. */
void ratio_errors(const tl_leg *upper, const tl_leg *lower, double ohms, double load, double now[2]);
void ratio_drift(const tl_leg *upper, const tl_leg *lower, double ohms, double load, double share,
                 double left[2]);

tl_leg leg_given(const tl_quantity *ohms);
static inline int part_count(const tl_leg *leg)
{
    return leg->second >= 0 ? 2 : 1;
}

/* A drawer may hold too few of a value for both legs. */
bool enough_parts(const tl_stock *stock, const tl_leg *upper, const tl_leg *lower);
/* The first leg of at least this many ohms; from a place near it, since neighbours ask for nearly the same.
 */
int first_from(const leg_list *list, double least, int near);

#endif
