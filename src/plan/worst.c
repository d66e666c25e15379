/* The worst cases of a signal, each state of its contact solved once, and kept with the circuit. */
#include "../net/memory.h"
#include "tinyladder/plan.h"
#include <math.h>

static tl_net_value level_of(const tl_circuit *c, const tl_pin_limits *limits, tl_level level)
{
    return (tl_net_value){1, TL_NET_NONE, level.volts, level.share, c->supply_param[limits->supply]};
}

/* Figures in the order in which work_out() takes them apart. */
static int list_figures(const tl_circuit *c, int signal, tl_figure *figures)
{
    const tl_signal *s = &c->plan->signals[signal];
    const tl_pin_limits *limits = &c->plan->board->pins[s->pin].limits;
    const int pin = c->signals[signal].pin;
    int count = 0;
    figures[count++] = (tl_figure){TL_FIGURE_VOLTS, pin, tl_net_fixed(0)};
    figures[count++] = (tl_figure){TL_FIGURE_VOLTS, pin, level_of(c, limits, limits->highest)};
    figures[count++] = (tl_figure){TL_FIGURE_VOLTS, pin, level_of(c, limits, limits->lowest)};
    if (s->analog) {
        figures[count++] = (tl_figure){TL_FIGURE_VOLTS, pin, tl_net_of(c->reference_param)};
        figures[count++] = (tl_figure){TL_FIGURE_SOURCE_OHMS, pin, tl_net_fixed(0)};
    } else {
        figures[count++] = (tl_figure){TL_FIGURE_VOLTS, pin, level_of(c, limits, limits->vih)};
        figures[count++] = (tl_figure){TL_FIGURE_VOLTS, pin, level_of(c, limits, limits->vil)};
    }
    return count;
}

/* Behind them, what is drawn from the supplies that have a budget and touch this island; as many as there is
 * room for. */
static int list_budgets(const tl_circuit *c, int signal, tl_figure *figures, int *supply_of, int count)
{
    for (int i = 0; i < c->plan->supply_count && count < TL_FIGURES_MOST; i++) {
        if (!isfinite(c->plan->supplies[i].most_amperes) ||
            !tl_island_has_param(c->signals[signal].island, c->supply_param[i]))
            continue;
        supply_of[count] = i;
        figures[count++] = (tl_figure){TL_FIGURE_RAIL_AMPERES, c->supply_node[i], tl_net_fixed(0)};
    }
    return count;
}

static void work_out(const tl_circuit *c, int signal, bool closed, tl_worst *worst)
{
    tl_figure figures[TL_FIGURES_MOST];
    tl_bounds bounds[TL_FIGURES_MOST];
    const tl_signal_nodes *nodes = &c->signals[signal];
    int supply_of[TL_FIGURES_MOST];
    const int levels = list_figures(c, signal, figures);
    const int count = list_budgets(c, signal, figures, supply_of, levels);
    worst->known = true;
    worst->amperes = tl_alloc((size_t)c->plan->supply_count, sizeof *worst->amperes);
    if (nodes->contact != TL_NET_NONE)
        c->at_rest[nodes->contact] = closed; /* lent: open again before this returns */
    worst->fault = tl_island_bounds_all(nodes->island, c->at_rest, figures, count, bounds);
    if (worst->fault == TL_NET_SOLVED) {
        worst->volts = bounds[0];
        worst->over = bounds[1];
        worst->under = bounds[2];
        worst->over_range = worst->above_vih = bounds[3];
        worst->source_ohms = worst->above_vil = bounds[4];
        for (int f = levels; f < count; f++)
            worst->amperes[supply_of[f]] = fmax(0, bounds[f].high);
    }
    if (nodes->contact != TL_NET_NONE)
        c->at_rest[nodes->contact] = false;
}

const tl_worst *tl_circuit_worst(const tl_circuit *circuit, int signal, bool closed)
{
    tl_worst *worst = &circuit->worst[2 * signal + closed];
    if (!worst->known)
        work_out(circuit, signal, closed, worst);
    return worst;
}
