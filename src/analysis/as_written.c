/* SPDX-License-Identifier: MIT */
/* Volts with everything as it is written, or as it is said: no tolerances. */
#include "analysis/ask.h"
#include <math.h>

double tl_circuit_volts_of(tl_circuit *c, int signal, const double *values)
{
    const tl_signal_nodes *nodes = &c->signals[signal];
    const tl_net_state state = {values, tl_circuit_state(c, signal, 0)};
    const tl_figure figure = {
        .kind = TL_FIGURE_VOLTS, .of = nodes->pin, .less = tl_net_fixed(0), .against = nodes->negative};
    double volts = NAN;
    const tl_net_status fault =
        tl_island_figure(tl_island_view(nodes->island, false), &state, figure, &volts);
    return fault == TL_NET_SOLVED ? volts : (double)NAN;
}

double tl_circuit_pin_volts(tl_circuit *c, int signal, double unknown)
{
    const int param = c->signals[signal].unknown;
    const double kept = c->nominal[param];
    c->nominal[param] = unknown;
    const double volts = tl_circuit_volts_of(c, signal, c->nominal);
    c->nominal[param] = kept;
    return volts;
}

bool tl_circuit_metered(tl_circuit *circuit, const tl_net_state *state, int node, double ohms, double *off,
                        double *on)
{
    double source_ohms = 0;
    tl_island *island = tl_island_new(circuit->net, TL_VIEW_BELIEVED, node);
    const tl_figure volts = {.kind = TL_FIGURE_VOLTS, .of = node, .less = tl_net_fixed(0)},
                    source = {.kind = TL_FIGURE_SOURCE_OHMS, .of = node, .less = tl_net_fixed(0)};
    const bool good = tl_island_figure(island, state, volts, off) == TL_NET_SOLVED &&
                      tl_island_figure(island, state, source, &source_ohms) == TL_NET_SOLVED;
    *on = *off * ohms / (ohms + source_ohms);
    tl_island_free(island);
    return good;
}
