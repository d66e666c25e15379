/* SPDX-License-Identifier: MIT */
/* What of a sine at the source comes to the pin: least where the pin sees most ohms and farads, most where it
 * sees least of both. */
#include "analysis/ask.h"
#include "base/memory.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

/* Everything where the pin's source resistance is at one end, capacitors at the same. */
static double *values_at(tl_circuit *c, const tl_bounds *ohms, bool most)
{
    const size_t size = (size_t)tl_net_param_count(c->net) * sizeof(double);
    double *values = memcpy(tl_alloc(size, 1), c->nominal, size);
    for (int i = 0; i < c->real_params; i++) {
        if (c->param[i].dimension == TL_DIM_FARAD)
            values[i] = c->rest[most][i];
    }
    for (int i = 0; i < ohms->params; i++)
        values[ohms->param[i]] = most ? ohms->high_at[i] : ohms->low_at[i];
    return values;
}

/* Volts at the pin that a unit of the unknown makes at rest. */
static double at_rest(tl_circuit *c, int signal, double *values)
{
    const int unknown = c->signals[signal].unknown;
    const double with = tl_circuit_volts_of(c, signal, values);
    values[unknown] -= 1;
    const double without = tl_circuit_volts_of(c, signal, values);
    values[unknown] += 1;
    return fabs(with - without);
}

/* As a share of what comes at rest. */
static double kept_at(tl_circuit *c, int signal, bool most, double hertz)
{
    const tl_signal_nodes *nodes = &c->signals[signal];
    const tl_worst_case *worst = tl_circuit_worst_case(c, signal, 0);
    double now = NAN;
    if (worst->fault != TL_NET_SOLVED || nodes->unknown == TL_NET_NONE)
        return NAN;
    double *values = values_at(c, &worst->source_ohms, most);
    const double rest = at_rest(c, signal, values);
    const tl_net_state state = {values, tl_circuit_state(c, signal, 0)};
    tl_island *island = tl_island_view(nodes->island, true);
    const bool solved = tl_island_response(island, &state, nodes->unknown,
                                           tl_island_index(island, nodes->pin), hertz, &now) == TL_NET_SOLVED;
    free(values);
    return solved && rest > 0 ? now / rest : (double)NAN;
}

void tl_circuit_kept(tl_circuit *circuit, int signal, double hertz, double *least, double *most)
{
    *least = kept_at(circuit, signal, true, hertz);
    *most = kept_at(circuit, signal, false, hertz);
}

/* What is kept falls with the frequency: halved towards it on a logarithmic scale. */
static double corner_at(tl_circuit *c, int signal, bool most)
{
    double low = 1e-9, high = 1e15;
    if (!(kept_at(c, signal, most, high) < sqrt(0.5)))
        return INFINITY;
    while (high / low > 1 + 1e-13) {
        const double middle = sqrt(low * high);
        if (middle <= low || middle >= high)
            break;
        *(kept_at(c, signal, most, middle) > sqrt(0.5) ? &low : &high) = middle;
    }
    return sqrt(low * high);
}

void tl_circuit_corner_hertz(tl_circuit *circuit, int signal, double *lowest, double *highest)
{
    *lowest = corner_at(circuit, signal, true);
    *highest = corner_at(circuit, signal, false);
}
