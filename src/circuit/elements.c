/* SPDX-License-Identifier: MIT */
/* Resistors, currents, capacitors, followers, channels, one-way drops and ties: nodal analysis stamps, and
 * how each counts in a bound.
 */
#include "circuit/elements.h"
#include <math.h>

/* --- resistor: Ohm's law; 0 ohms are no element but one node --- */

static void stamp_resistor(nodal *equations, int a, int b, double ohms)
{
    const double siemens = 1 / ohms;
    const int row[2] = {equations->row_of[a], equations->row_of[b]};
    const int cls[2] = {a, b};
    for (int e = 0; e < 2; e++) {
        if (row[e] == TL_NET_NONE)
            continue;
        equations->matrix[row[e] * equations->rows + row[e]] += siemens;
        if (row[1 - e] != TL_NET_NONE)
            equations->matrix[row[1 - e] * equations->rows + row[e]] -= siemens;
        else
            equations->injected[row[e]] += siemens * equations->volts[cls[1 - e]];
    }
}

static double resistor_amperes(double ohms, double volts)
{
    return isnan(volts) ? 0 : volts / ohms;
}

static void extend_ohms(island_extent *extent, double size, double gain)
{
    (void)gain;
    extent->ohms += size;
}

/* --- current --- */

static void stamp_current(nodal *equations, int a, int b, double amperes)
{
    if (equations->row_of[a] != TL_NET_NONE)
        equations->injected[equations->row_of[a]] -= amperes;
    if (equations->row_of[b] != TL_NET_NONE)
        equations->injected[equations->row_of[b]] += amperes;
}

static double current_amperes(double amperes, double volts)
{
    (void)volts;
    return amperes;
}

static void extend_amperes(island_extent *extent, double size, double gain)
{
    (void)gain;
    extent->amperes += size;
}

static double moved_by_current(const island_extent *extent, double change)
{
    return change * extent->ohms;
}

/* --- capacitor: to rails; between two unknown rows it is not part of the model yet --- */

static void store_farads(double *farads, const nodal *equations, int a, int b, double value, double lag)
{
    const int cls[2] = {a, b};
    (void)lag;
    for (int e = 0; e < 2; e++) {
        if (equations->row_of[cls[e]] != TL_NET_NONE && !equations->held[cls[e]])
            farads[equations->row_of[cls[e]]] += value;
    }
}

/* --- follower --- */

/* Its row says nothing of currents: its volts are those of the input and the offset, times its gain. */
static void hold_output(nodal *equations, int in, int out, double offset, double gain)
{
    const int row = equations->row_of[out], from = equations->row_of[in];
    if (row == TL_NET_NONE)
        return;
    for (int i = 0; i < equations->rows; i++)
        equations->matrix[i * equations->rows + row] = 0;
    equations->matrix[row * equations->rows + row] = 1;
    equations->injected[row] = gain * (offset + (from == TL_NET_NONE ? equations->volts[in] : 0));
    if (from != TL_NET_NONE)
        equations->matrix[from * equations->rows + row] -= gain;
    equations->held[out] = true;
}

/* One that lags counts as a capacitor behind its own conductance of 1. */
static void store_lag(double *farads, const nodal *equations, int a, int b, double value, double lag)
{
    (void)a;
    (void)value;
    if (equations->row_of[b] != TL_NET_NONE)
        farads[equations->row_of[b]] = lag;
}

static void extend_offset(island_extent *extent, double size, double gain)
{
    extent->offsets += size;
    extent->gain *= fmax(1, gain); /* one may stand behind the other */
}

static double moved_by_offset(const island_extent *extent, double change)
{
    (void)extent;
    return change;
}

/* --- channel: a current from a to b, by the volts of a alone --- */

static void stamp_channel(nodal *equations, int a, int b, double ohms)
{
    const double siemens = 1 / ohms;
    const int from = equations->row_of[a], to = equations->row_of[b];
    if (from != TL_NET_NONE)
        equations->matrix[from * equations->rows + from] += siemens;
    if (from != TL_NET_NONE && to != TL_NET_NONE)
        equations->matrix[from * equations->rows + to] -= siemens;
    if (from == TL_NET_NONE && to != TL_NET_NONE)
        equations->injected[to] += siemens * equations->volts[a];
}

/* --- one way: a drop of fixed volts from a to b while current flows that way; else it is not there --- */

const double one_way_ohms = 1e-5;

static void stamp_one_way(nodal *equations, int a, int b, double volts)
{
    stamp_resistor(equations, a, b, one_way_ohms);
    stamp_current(equations, a, b, -volts / one_way_ohms);
}

static double one_way_amperes(double volts, double across)
{
    return isnan(across) ? 0 : (across - volts) / one_way_ohms;
}

static const double nothing_volts = 1e-12;

static element_mode one_way_mode(double volts, double across, element_mode now)
{
    return across - volts > (now == MODE_DARK ? nothing_volts : -nothing_volts) ? MODE_LIT : MODE_DARK;
}

static void extend_one_way(island_extent *extent, double size, double gain)
{
    (void)size;
    (void)gain;
    extent->ohms += one_way_ohms;
}

/* --- leak: so much current from a to b as long as a is above b, none beyond; below 0 it is none. Within the
 * last microvolt it tapers off. --- */

static const double taper_volts = 1e-6;

static element_mode leak_mode(double amperes, double across, element_mode now)
{
    if (!(amperes > 0))
        return now; /* it adds nothing either way; its sign turns from corner to corner */
    switch (now) {  /* one step at a time, so that it never jumps over where it comes to rest */
    case MODE_DARK:
        return across > 0 ? MODE_TAPER : MODE_DARK;
    case MODE_LIT:
        return across < taper_volts ? MODE_TAPER : MODE_LIT;
    default:
        return across < -nothing_volts                ? MODE_DARK
               : across > taper_volts + nothing_volts ? MODE_LIT
                                                      : MODE_TAPER;
    }
}

static void stamp_leak(nodal *equations, int a, int b, double amperes)
{
    stamp_current(equations, a, b, fmax(0, amperes));
}

static void stamp_taper(nodal *equations, int a, int b, double amperes)
{
    if (amperes > 0) /* it may have turned since */
        stamp_resistor(equations, a, b, taper_volts / amperes);
}

static double leak_amperes(double amperes, double across)
{
    return isnan(across) ? fmax(0, amperes) : fmax(0, amperes) * fmin(fmax(across / taper_volts, 0), 1);
}

const element element_resistor = {.name = "resistor",
                                  .reach = REACH_BOTH,
                                  .at_rest = true,
                                  .joins = true,
                                  .is_ohms = true,
                                  .stamp = stamp_resistor,
                                  .amperes = resistor_amperes,
                                  .extend = extend_ohms};
const element element_current = {.name = "current",
                                 .at_rest = true,
                                 .pushes = true,
                                 .stamp = stamp_current,
                                 .amperes = current_amperes,
                                 .extend = extend_amperes,
                                 .moves = moved_by_current};
const element element_capacitor = {.name = "capacitor", .store = store_farads};
const element element_follower = {.name = "follower",
                                  .reach = REACH_FORWARD,
                                  .at_rest = true,
                                  .has_gain = true,
                                  .hold = hold_output,
                                  .store = store_lag,
                                  .extend = extend_offset,
                                  .moves = moved_by_offset};
const element element_channel = {
    .name = "channel", .reach = REACH_BOTH, .at_rest = true, .lopsided = true, .stamp = stamp_channel};
const element element_one_way = {.name = "one way",
                                 .reach = REACH_BOTH,
                                 .at_rest = true,
                                 .turns = true,
                                 .mode = one_way_mode,
                                 .stamp = stamp_one_way,
                                 .amperes = one_way_amperes,
                                 .extend = extend_one_way,
                                 .moves = moved_by_offset};
const element element_leak = {.name = "leak",
                              .at_rest = true,
                              .pushes = true,
                              .mode = leak_mode,
                              .stamp = stamp_leak,
                              .taper = stamp_taper,
                              .amperes = leak_amperes,
                              .extend = extend_amperes,
                              .moves = moved_by_current};
const element element_tie = {.name = "tie"}; /* puts two nodes in one island, and that is all */
