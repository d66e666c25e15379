/*
 * Worst cases of single parts: where a part of a plan is in the net, and the heat in a resistor over every
 * state of its signal.
 *
 * A resistor's own ohms enter its heat twice: V^2 R / (R + S)^2 peaks where R equals what drives it, which
 * may lie inside its tolerance. From R = S a way by the factor t to either end loses (1 + t)^2 / 4t, most
 * where both ends are equally far: t = sqrt(high / low).
 */
#include "elaborate/circuit_struct.h"
#include "tinyladder/design/circuit.h"
#include <math.h>
#include <stdio.h>

tl_bounds tl_circuit_part_amperes(tl_circuit *circuit, int signal, int state, const char *part)
{
    char path[160];
    tl_bounds amperes = {.low = NAN, .nominal = NAN, .high = NAN};
    snprintf(path, sizeof path, "%s.%s", circuit->plan->signals[signal].name, part);
    const int at = tl_net_find_part(circuit->net, TL_VIEW_BELIEVED, path);
    const tl_figure figure = {.kind = TL_FIGURE_PART_AMPERES, .of = at, .less = tl_net_fixed(0)};
    if (at == TL_NET_NONE ||
        tl_island_bounds(circuit->signals[signal].island, tl_circuit_state(circuit, signal, state), figure,
                         &amperes) != TL_NET_SOLVED)
        return (tl_bounds){.low = NAN, .nominal = NAN, .high = NAN};
    return amperes;
}

double tl_circuit_part_watts(tl_circuit *circuit, int signal, int part, const tl_quantity *ohms)
{
    const tl_signal_nodes *nodes = &circuit->signals[signal];
    const tl_figure figure = {.kind = TL_FIGURE_PART_WATTS, .of = part, .less = tl_net_fixed(0)};
    const double t = ohms->low > 0 ? sqrt(ohms->high / ohms->low) : 1;
    double most = 0;
    for (int state = 0; state < nodes->states && part != TL_NET_NONE; state++) {
        tl_bounds watts;
        if (tl_island_bounds(nodes->island, tl_circuit_state(circuit, signal, state), figure, &watts) ==
            TL_NET_SOLVED)
            most = fmax(most, watts.high);
    }
    return most * (1 + t) * (1 + t) / (4 * t);
}
