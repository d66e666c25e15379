/* SPDX-License-Identifier: MIT */
/* The worst cases of a signal, each of its states solved once, and kept with the circuit. */
#include "analysis/ask.h"
#include "base/memory.h"
#include "elaborate/elaborate.h"
#include <math.h>

/* Figures in the order in which work_out() takes them apart. A pair is read as the difference of its inputs,
 * and its limits hold for the positive one, which is the further from ground where the bridge's middle is. */
static int list_figures(tl_circuit *c, int signal, tl_figure *figures)
{
    const tl_signal *s = &c->plan->signals[signal];
    const tl_signal_nodes *nodes = &c->signals[signal];
    const tl_pin_limits *limits = &c->plan->pins[s->pin].limits;
    const int pin = nodes->pin;
    int count = 0;
    figures[count++] =
        (tl_figure){.kind = TL_FIGURE_VOLTS, .of = pin, .less = tl_net_fixed(0), .against = nodes->negative};
    figures[count++] = (tl_figure){
        .kind = TL_FIGURE_VOLTS, .of = pin, .less = tl_level_value(c, limits->highest, limits->supply)};
    figures[count++] = (tl_figure){
        .kind = TL_FIGURE_VOLTS, .of = pin, .less = tl_level_value(c, limits->lowest, limits->supply)};
    if (nodes->reference != TL_NET_NONE) {
        figures[count++] = (tl_figure){.kind = TL_FIGURE_VOLTS,
                                       .of = pin,
                                       .less = tl_net_of(nodes->reference),
                                       .against = nodes->negative};
        figures[count++] = (tl_figure){.kind = TL_FIGURE_SOURCE_OHMS, .of = pin, .less = tl_net_fixed(0)};
        figures[count++] = (tl_figure){.kind = TL_FIGURE_SHARE,
                                       .of = pin,
                                       .less = tl_net_of(nodes->reference),
                                       .against = nodes->negative};
    } else {
        figures[count++] = (tl_figure){
            .kind = TL_FIGURE_VOLTS, .of = pin, .less = tl_level_value(c, limits->vih, limits->supply)};
        figures[count++] = (tl_figure){
            .kind = TL_FIGURE_VOLTS, .of = pin, .less = tl_level_value(c, limits->vil, limits->supply)};
    }
    return count;
}

/* Behind them, what is drawn from the supplies that have a budget and touch this island, from *next on; as
 * many as there is room for. */
static int list_budgets(tl_circuit *c, int signal, int *next, tl_figure *figures, int *supply_of, int count)
{
    for (; *next < c->plan->supply_count && count < TL_FIGURES_MOST; ++*next) {
        const int i = *next;
        if (!isfinite(c->plan->supplies[i].most_amperes) ||
            !tl_island_has_param(c->signals[signal].island, c->supply_param[i]))
            continue;
        supply_of[count] = i;
        figures[count++] =
            (tl_figure){.kind = TL_FIGURE_RAIL_AMPERES, .of = c->supply_rail[i], .less = tl_net_fixed(0)};
    }
    return count;
}

/* The levels of a signal, and behind them what its rails give. */
typedef struct {
    const tl_figure *of;
    int levels, count;
} asked_figures;

/*
 * Where too many parameters are connected, volts still have an outer bound; the rest has none. The rules then
 * look at the corners that were tried: what lies between them and the outer bound is unproven, not wrong.
 */
static tl_net_status find_bounds(tl_circuit *c, int signal, int state, const asked_figures *asked,
                                 tl_bounds *bounds, bool *volts_only)
{
    const tl_figure *figures = asked->of;
    tl_island *island = c->signals[signal].island;
    tl_figure volts[TL_FIGURES_MOST];
    tl_bounds found[TL_FIGURES_MOST];
    int listed = 0;
    const bool *closed = tl_circuit_state(c, signal, state);
    tl_net_status fault = tl_island_bounds_all(island, closed, figures, asked->count, bounds);
    *volts_only = fault == TL_NET_TOO_WIDE;
    if (!*volts_only)
        return fault;
    for (int f = 0; f < asked->levels; f++) {
        if (figures[f].kind == TL_FIGURE_VOLTS)
            volts[listed++] = figures[f];
    }
    fault = tl_island_bounds_all(island, closed, volts, listed, found);
    listed = 0;
    for (int f = 0; f < asked->levels && fault == TL_NET_SOLVED; f++) {
        if (figures[f].kind == TL_FIGURE_SOURCE_OHMS &&
            tl_island_bounds(island, closed, figures[f], &bounds[f]) != TL_NET_SOLVED)
            bounds[f].high = NAN;
        if (figures[f].kind != TL_FIGURE_VOLTS)
            continue;
        bounds[f] = found[listed++];
        if (f > 0) {
            bounds[f].low = bounds[f].attained_low;
            bounds[f].high = bounds[f].attained_high;
        }
    }
    return fault;
}

/* An output pin that is held low takes current instead of giving it. */
static bool is_sink(const tl_supply *rail)
{
    return rail->kind == TL_RAIL_PIN && !rail->high;
}

static void take_budgets(tl_circuit *c, tl_worst_case *worst, const tl_bounds *bounds, const int *supply_of,
                         int from, int to)
{
    for (int f = from; f < to; f++)
        worst->amperes[supply_of[f]] =
            fmax(0, is_sink(&c->plan->supplies[supply_of[f]]) ? -bounds[f].low : bounds[f].high);
}

/*
 * A chain that stands at an end is held there: of both, free and held, the one that lies further inside
 * counts, since an end is only reached from within. What is free is figure 0 and from 3 on, source resistance
 * left out.
 */
static void hold_at_ends(tl_circuit *c, int signal, int state, const tl_figure *figures, int levels,
                         tl_bounds *bounds)
{
    const tl_signal_nodes *nodes = &c->signals[signal];
    for (int e = 0; e < nodes->end_count; e++) {
        tl_figure asked[TL_FIGURES_MOST];
        tl_bounds found[TL_FIGURES_MOST];
        int of[TL_FIGURES_MOST], listed = 0;
        bool *closed = tl_circuit_state(c, signal, state);
        closed[nodes->ends[e].contact] = true;
        for (int f = 0; f < levels; f = f == 0 ? 3 : f + 1) {
            of[listed] = f;
            asked[listed] = figures[f];
            listed += figures[f].kind == TL_FIGURE_VOLTS;
        }
        if (tl_island_bounds_all(nodes->island, closed, asked, listed, found) != TL_NET_SOLVED)
            continue;
        for (int i = 0; i < listed; i++) {
            tl_bounds held = found[i], *free = &bounds[of[i]];
            if (nodes->ends[e].high ? held.high >= free->high : held.low <= free->low)
                continue;
            const double other = nodes->ends[e].high ? free->low : free->high;
            const double nominal =
                nodes->ends[e].high ? fmin(free->nominal, held.nominal) : fmax(free->nominal, held.nominal);
            *(nodes->ends[e].high ? &held.low : &held.high) =
                nodes->ends[e].high ? fmin(held.low, other) : fmax(held.high, other);
            held.nominal = nominal;
            *free = held;
        }
    }
}

static void work_out(tl_circuit *c, int signal, int state, tl_worst_case *worst)
{
    tl_figure figures[TL_FIGURES_MOST];
    tl_bounds bounds[TL_FIGURES_MOST] = {0};
    int supply_of[TL_FIGURES_MOST];
    int next = 0;
    const int levels = list_figures(c, signal, figures);
    /* What outputs take counts with the outputs: then budgets are asked apart. */
    int count = c->has_loads ? levels : list_budgets(c, signal, &next, figures, supply_of, levels);
    worst->known = true;
    worst->amperes = tl_alloc((size_t)c->plan->supply_count, sizeof *worst->amperes);
    worst->fault =
        find_bounds(c, signal, state, &(asked_figures){figures, levels, count}, bounds, &worst->volts_only);
    if (worst->fault != TL_NET_SOLVED)
        return;
    hold_at_ends(c, signal, state, figures, levels, bounds);
    worst->volts = bounds[0];
    worst->over = bounds[1];
    worst->under = bounds[2];
    worst->over_range = worst->above_vih = bounds[3];
    worst->source_ohms = worst->above_vil = bounds[4];
    if (worst->volts_only)
        return;
    if (c->signals[signal].reference != TL_NET_NONE) {
        worst->share_low = bounds[5].low;
        worst->share_high = bounds[5].high;
        worst->shares_known = true;
    }
    take_budgets(c, worst, bounds, supply_of, levels, count);
    count = list_budgets(c, signal, &next, figures, supply_of, 0);
    double *loads = count > 0 ? tl_loads_aside(c) : NULL;
    for (; count > 0 && tl_island_bounds_all(c->signals[signal].island, tl_circuit_state(c, signal, state),
                                             figures, count, bounds) == TL_NET_SOLVED;
         count = list_budgets(c, signal, &next, figures, supply_of, 0))
        take_budgets(c, worst, bounds, supply_of, 0, count);
    tl_loads_back(c, loads);
}

const tl_worst_case *tl_circuit_worst_case(tl_circuit *circuit, int signal, int state)
{
    tl_worst_case *worst = &circuit->worst[circuit->signals[signal].first_worst + state];
    if (!worst->known)
        work_out(circuit, signal, state, worst);
    return worst;
}
