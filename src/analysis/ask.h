/* SPDX-License-Identifier: MIT */
/* What is asked of the circuit: by rules, proposals and sizings, beyond the worst cases of a signal. */
#ifndef TL_ASK_H
#define TL_ASK_H

#include "elaborate/circuit_struct.h"
#include "tinyladder/design/measurement.h"

/* A question to the guaranteed view. */
typedef struct tl_ask {
    tl_ask_kind kind;
    int line, state;   /* a signal, or a line of a bus, and which of its states */
    int of;            /* a node of the net, a part or a rail, as the kind has it */
    tl_net_value less; /* of volts: taken off, corner by corner; of a share: the reference */
    int against;       /* of volts and shares: another node, or ground */
    int closes[2];     /* contacts that are also closed, or TL_NET_NONE */
    const bool *also;  /* further ones: of every contact of the net; NULL for none */
    double at;         /* TL_ASK_SETTLE: until such a share of a step is left; TL_ASK_KEPT: hertz */
} tl_ask;

/* With nothing taken off, and no further contact closed. */
tl_ask tl_ask_of(tl_ask_kind kind, int line, int state, int of);
/* Volts of a node less a level that may follow a supply. */
tl_ask tl_ask_against(int line, int state, int node, tl_net_value level);

/*
 * The extremes of a figure over all that the plan allows. Edges and settling have the most alone (low is 0),
 * what is kept both ends; the rest is as tl_island_bounds() has it.
 */
tl_net_status tl_circuit_ask(tl_circuit *circuit, const tl_ask *ask, tl_bounds *bounds);
/* Several figures at rest, in the state and with the contacts of the first, all from the same corners. */
tl_net_status tl_circuit_ask_all(tl_circuit *circuit, const tl_ask *asks, int count, tl_bounds *bounds);
/* The largest magnitude of a figure; NAN where there is none. */
double tl_circuit_most(tl_circuit *circuit, const tl_ask *ask);

/* with_meter.c: a meter at a node other than ground, in a state of a signal, while a parameter has no other span than this;
 * TL_NET_NONE: all have theirs. */
typedef struct tl_metered {
    int signal, state, node;
    double ohms; /* of the meter */
    int param;
    double low, high;
} tl_metered;
/* The volts there, over all that the plan allows. */
tl_net_status tl_circuit_with_meter(tl_circuit *circuit, const tl_metered *at, tl_bounds *bounds);

/* settling.c: seconds after a step of the source until so small a share of it is left at the pin, at most;
 * INFINITY where it never is. */
double tl_circuit_settles_in(tl_circuit *circuit, int signal, double share);
/* settling.c: what a converter's sampling takes of the volts at the pin, as shares of them: at once, by the
 * charge that its capacitor gets from the pin's; and steadily, by the current that this many samples a second
 * draw. */
void tl_circuit_charge_taken(tl_circuit *circuit, int signal, double rate, double *at_once, double *steadily);
/* kept.c: the share of a sine at the source, of what its own volts make of it at rest, that comes to the pin:
 * at least and at most. NAN where nothing answers. */
void tl_circuit_kept(tl_circuit *circuit, int signal, double hertz, double *least, double *most);
/* The frequency at which 1 / sqrt 2 of it does: the lowest and the highest. */
void tl_circuit_corner_hertz(tl_circuit *circuit, int signal, double *lowest, double *highest);

/* The most heat in a resistor of the plan, watts, over all states of what it belongs to, and over its own
 * tolerance too. part: its number in the circuit's list. 0 where it is certainly no more than `enough`. */
double tl_circuit_part_watts(tl_circuit *circuit, int part, double enough);
/* With a sensor shorted: the most current through its partner, and its heat. False where the circuit has no
 * solution then. */
bool tl_circuit_shorted_sensor(tl_circuit *circuit, int signal, const tl_plan_part *partner, double *amperes,
                               double *watts);
/* With the transmitter of a current loop shorted, its whole supply across the loop: the most current, volts
 * at the pin and heat in a part of it. */
double tl_circuit_shorted_loop(tl_circuit *circuit, int signal, int part, tl_bounds *volts, tl_bounds *watts);
/* Volts at the pin of an analog signal as shares of its reference, the worst of both at the same corner: what
 * follows the reference cancels. */
tl_net_status tl_circuit_shares(tl_circuit *circuit, int signal, int state, tl_interval *shares);
/* Volts at the pin of an analog signal, its inputs' difference of a pair, with these values of every
 * parameter; NAN where there are none. */
double tl_circuit_volts_of(tl_circuit *circuit, int signal, const double *values);
/* Volts at the pin of an analog signal with its unknown at a value, all else as written; NAN where there are
 * none. */
double tl_circuit_pin_volts(tl_circuit *circuit, int signal, double unknown);
/* What all outputs together take from soft rails is put aside, for what is asked of one alone; and put back.
 */
double *tl_loads_aside(tl_circuit *circuit);
void tl_loads_back(tl_circuit *circuit, double *kept);
/* Worst cases of an output, kept with the circuit. */
const tl_output_figures *tl_circuit_output(tl_circuit *circuit, int output);
enum { TL_ALL_SIDES = -1 };
/* Farads of a line at most, cable and pin included, on one side of its shifters or on all. side: this many
 * shifters stand before it. */
double tl_circuit_line_farads(tl_circuit *circuit, int line, int side);
/* Farads at the pin's side of a line, at least. */
double tl_circuit_pin_farads(tl_circuit *circuit, int line);
/* Whether the edge into a state certainly takes no longer; quick where it is far from that. */
bool tl_circuit_edge_within(tl_circuit *circuit, int signal, int state, double seconds);
/* Ohms that the pin sees at most, times all farads on its side of the line. */
double tl_circuit_time_constant(tl_circuit *circuit, int line, int state);
/* What a device on a bus sinks while it holds a line low, as tl_bus_sinks() has it, all pulls on either side
 * acting. */
tl_bus_sunk tl_circuit_bus_sink(tl_circuit *circuit, const tl_bus *bus);
/* The longest rise of a released line from one share of its rail to another, seconds: ln of both shares,
 * times the resistance that the circuit shows at the slower end of that side, times all farads of the line.
 * @param[out] ohms  That resistance. */
double tl_circuit_rise(tl_circuit *circuit, int line, int side, double shares, double *ohms);

#endif
