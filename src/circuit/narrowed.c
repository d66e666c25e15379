/* SPDX-License-Identifier: MIT */
/* The bounds of an island that was cut: volts and source resistances of the rest, all else of the whole.
 */
#include "circuit/cut.h"
#include "circuit/netlist_internal.h"

void island_narrow(tl_island *whole, tl_island *narrow, const cut *by)
{
    const bool first = whole->narrow == NULL;
    tl_island_free(whole->narrow);
    whole->narrow = narrow;
    whole->narrow_at_rest = by->is_at_rest && (first || whole->narrow_at_rest);
    whole->narrow_in_time = by->is_in_time && (first || whole->narrow_in_time);
}

tl_island *tl_island_view(tl_island *island, bool in_time)
{
    const bool narrow =
        island->narrow != NULL && island->narrow_at_rest && (island->narrow_in_time || !in_time);
    return narrow ? island->narrow : island;
}

/* Whether what is left of an island has what a figure speaks of. */
static bool has_figure(const tl_island *narrow, tl_figure figure)
{
    const bool volts = figure.kind == TL_FIGURE_VOLTS || figure.kind == TL_FIGURE_SHARE;
    const int against = volts ? figure.against : TL_NET_GROUND;
    return (volts || figure.kind == TL_FIGURE_SOURCE_OHMS) && narrow->local[figure.of] != TL_NET_NONE &&
           (against == TL_NET_GROUND || narrow->local[against] != TL_NET_NONE);
}

/* The figures of one kind, from one island: `narrow` or not. */
static tl_net_status bounds_of_some(tl_island *island, bool narrow, const bool *closed,
                                    const tl_figure *figures, int count, tl_bounds *bounds)
{
    tl_figure some[TL_FIGURES_MOST];
    tl_bounds found[TL_FIGURES_MOST];
    int of[TL_FIGURES_MOST], listed = 0;
    for (int f = 0; f < count; f++) {
        if (has_figure(island->narrow, figures[f]) != narrow)
            continue;
        of[listed] = f;
        some[listed++] = figures[f];
    }
    if (listed == 0)
        return TL_NET_SOLVED;
    const tl_net_status fault = island_bounds(narrow ? island->narrow : island, closed, some, listed, found);
    for (int i = 0; i < listed && fault == TL_NET_SOLVED; i++) {
        bounds[of[i]] = found[i];
        bounds[of[i]].outer = found[i].outer || narrow; /* what others do may not come together so */
    }
    return fault;
}

tl_net_status tl_island_bounds_all(tl_island *island, const bool *closed, const tl_figure *figures, int count,
                                   tl_bounds *bounds)
{
    if (island->narrow == NULL)
        return island_bounds(island, closed, figures, count, bounds);
    const tl_net_status fault = bounds_of_some(island, false, closed, figures, count, bounds);
    return fault != TL_NET_SOLVED ? fault : bounds_of_some(island, true, closed, figures, count, bounds);
}

tl_net_status tl_island_bounds(tl_island *island, const bool *closed, tl_figure figure, tl_bounds *bounds)
{
    tl_bounds found;
    const tl_net_status fault = tl_island_bounds_all(island, closed, &figure, 1, &found);
    if (fault == TL_NET_SOLVED)
        *bounds = found;
    return fault;
}
