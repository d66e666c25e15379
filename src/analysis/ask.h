/* What the rules ask of the circuit beyond the worst cases of a signal: heat of parts, edges of lines. */
#ifndef TL_ASK_H
#define TL_ASK_H

#include "elaborate/circuit_struct.h"
#include "tinyladder/design/measurement.h"

/* The most heat in a resistor of the plan, watts, over all states of what it belongs to, and over its own
 * tolerance too. part: its number in the circuit's list. 0 where it is surely no more than `enough`. */
double tl_circuit_part_watts(tl_circuit *circuit, int part, double enough);
/* With a sensor shorted: the most current through its partner, and its heat. False where the circuit has no
 * solution then. */
bool tl_circuit_shorted_sensor(tl_circuit *circuit, int signal, const tl_plan_part *partner, double *amperes,
                               double *watts);
/* Volts at the pin of an analog signal as shares of its reference, the worst of both at the same corner: what
 * follows the reference cancels. */
tl_net_status tl_circuit_shares(tl_circuit *circuit, int signal, int state, tl_interval *shares);
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
/* Farads of a line at most, cable and pin included, on one side of its shifters or on all. side: so many
 * shifters stand before it. */
double tl_circuit_line_farads(tl_circuit *circuit, int line, int side);
/* The longest rise of a released line from one share of its rail to another, seconds: ln of both shares,
 * times the resistance that the circuit shows at the slower end of that side, times all farads of the line.
 * @param[out] ohms  That resistance. */
double tl_circuit_rise(tl_circuit *circuit, int line, int side, double shares, double *ohms);

#endif
