/* SPDX-License-Identifier: MIT */
/* What the search for bounds keeps: corners in bounds.c, the inside of spans in bounds_inside.c. */
#ifndef TL_BOUNDS_INTERNAL_H
#define TL_BOUNDS_INTERNAL_H

#include "circuit/netlist_internal.h"

enum { PARAMS_MOST = 256 };

typedef struct {
    tl_island *island;
    const tl_figure *figures;
    tl_bounds *bounds; /* of each figure */
    int count;
    const bool *closed;
    double *values; /* of every parameter of the net */
    int params[TL_NET_CORNER_PARAMS], param_count;
    int pushed[TL_NET_PUSHED], push[TL_NET_PUSHED], pushed_count; /* they stand at one end together */
    int searched[TL_NET_SEARCHED]; /* parameters to search inside; the last of a bound's params */
    int searched_count;
    bool concave; /* the figure is, in what is searched: one look at the middle is scan enough */
    int listed[PARAMS_MOST], listed_count; /* all that vary, before the corners' are chosen */
    int left[PARAMS_MOST], left_count;     /* those that are not tried but widen the bound */
    bool *ever_lit,
        *ever_dark; /* of each part that leads one way: in some corner; NULL where there are none */
} search;

/* The least and the most of each figure, over everything searched inside what is held. */
typedef struct {
    double low[TL_FIGURES_MOST], high[TL_FIGURES_MOST];
} reach;

tl_net_status search_figures(search *s, double *results);

/* Ways in which a parameter moves what is made of it. */
enum { WAY_UP = 1, WAY_DOWN = 2, WAY_BOTH = WAY_UP | WAY_DOWN };
/* Whether the listed parameters' ends are known for a source resistance, and its bounds then. */
bool ohms_need_no_corners(const search *s);
tl_net_status bounds_of_ohms(search *s);
/* Everything from `depth` of the searched parameters on: the ends of their spans, and what lies inside where
 * a figure turns. What is found widens the bounds. */
tl_net_status search_inside(search *s, int depth, reach *found);

#endif
