/* SPDX-License-Identifier: MIT */
/**
 * @file
 * What a plan makes of a code, and how far it is to be trusted: the same whether it came from the
 * bench, a file or a person. */
#ifndef TINYLADDER_MEASUREMENT_H
#define TINYLADDER_MEASUREMENT_H

#include "tinyladder/design/circuit.h"
#include "tinyladder/rhythm.h"
#include "tinyladder/table.h"

#ifdef __cplusplus
extern "C" {
#endif

/* --- a signal's channel through its converter --- */

/** Of an analog signal; kept with the circuit. */
const tl_analog_path *tl_circuit_path(tl_circuit *circuit, int signal);

/**
 * The volts of a node with every parameter and contact as given, and with a meter of this many ohms from it
 * to ground.
 * @return false where nothing defines them.
 *
 * Stable: within one ABI number of libtinyladder-host (abi/host.map, abi/host.layout) no call, structure or
 * constant here changes.
 *
 * @code{.c}
 * double value_of(tl_circuit *circuit, int signal, long count)
 * {
 *     tl_value value;
 *     return tl_plan_value(circuit, signal, (double)count, &value) == TL_NET_SOLVED ? value.value : 0;
 * }
 * @endcode
 */
bool tl_circuit_metered(tl_circuit *circuit, const tl_net_state *state, int node, double ohms, double *off,
                        double *on);

/** Whether a signal's converter has a full scale of a tenth of a volt or less: its voltages are shown in mV.
 */
bool tl_circuit_is_fine(tl_circuit *circuit, int signal);

/** Infinite where the truth may lie beyond. */
typedef struct tl_interval {
    double low, high;
} tl_interval;

/**
 * All values of the signal's unknown (source volts; travel 0 .. 1) with which the hardware could have given
 * this count: over every tolerance, the reference, the converter's errors, the width of the code, and what
 * settling leaves. Noise is not in it. pin: the same for the volts at the pin. Of a signal without an unknown
 * (buttons on one pin) the first interval is NaN .. NaN.
 */
tl_net_status tl_plan_interval(tl_circuit *circuit, int signal, const tl_analog_path *path, long count,
                               tl_interval *unknown, tl_interval *pin);

/** The unknown behind the centre of a code, all else nominal: what a resistance sensor's ohms are read as.
 * NaN where the signal has none. */
tl_net_status tl_plan_unknown(tl_circuit *circuit, int signal, const tl_analog_path *path, double count,
                              double *unknown);

/** Of a chain or star: the first and the last whole code that a state can give, over every tolerance, and the
 * code of its nominal values. */
tl_net_status tl_plan_state_codes(tl_circuit *circuit, int signal, int state, tl_interval *codes,
                                  double *middle);

/** Noise that a reading's average leaves of a converter's, counts rms: a mean of n leaves 1 / sqrt n, an
 * exponential one of weight 1 / n leaves 1 / sqrt(2 n - 1); a median is taken as a mean of two thirds as
 * many. */
double tl_reading_noise(const tl_plan_reading *reading, double noise);
/** Samples after a step until no more than such a share of it is left in the reading: an exponential one of
 * weight w leaves (1 - w)^n. */
double tl_reading_samples(const tl_plan_reading *reading, double share);

/* --- from a code to a value --- */

/** The way back from the figure that a reading shows to what it is made of (volts, for a source of volts):
 * through its points or its unit. @return false where the points are level there. */
bool tl_plan_base_of(const tl_signal *signal, double shown, double *base);

/** The way there: what the reading makes of volts, through its points or its unit; neither trimmed nor
 * rounded. */
double tl_plan_shown_of(const tl_signal *signal, double base);

/** One code of an analog signal, as its reading says it. */
typedef struct tl_value {
    double pin_volts;       /**< centre of the code */
    tl_interval pin_within; /**< guaranteed, in volts */
    double value;           /**< in the reading's unit, trimmed and rounded as the plan says */
    tl_interval within;     /**< guaranteed, in the reading's unit */
    int decimals;           /**< that the value deserves, or that the plan asks for */
    int percent;            /**< -1 where the plan has none */
    int button;             /**< of a chain or star: which is pressed; -1 for none, -2 for between two */
    bool none;              /**< there is no such value: ohms that no temperature gives; the value is NAN */
    bool beyond;            /**< at or beyond the end of a sensor's law, where the value stays */
    bool open,
        shorted; /**< in one of the plan's fault windows: the value is then the substitute, or no value */
} tl_value;

/**
 * @param code  As the converter's word means it; need not be whole where it is a mean.
 * @return A fault where the network, or the path, cannot be solved.
 */
tl_net_status tl_plan_value(tl_circuit *circuit, int signal, double code, tl_value *value);

/** How a signal with a frequency, a duty or a period is described to the core. */
tl_rhythm_config tl_plan_rhythm(const tl_plan *plan, int signal);
/**
 * What the plan makes of what was measured; `none` before the first measurement, and of the period of what
 * stands still. The interval is that of the line at the pin; of a duty, of its source.
 * @param late   seconds by which an edge may have been seen late; INFINITY where that is not known
 * @param apart  of a duty: seconds by which one edge may take longer than the other
 */
void tl_plan_rhythm_value(const tl_plan *plan, int signal, const tl_rhythm *rhythm, double late, double apart,
                          tl_value *value);

/** The same without the intervals, which are NAN: much quicker. Where decimals follow from them, they mean
 * nothing. */
tl_net_status tl_plan_value_plain(tl_circuit *circuit, int signal, double code, tl_value *value);

enum { TL_EFFECT_LONGEST = 80 };
/** What one thing alone takes from a reading, or gives to it, in counts. */
typedef struct tl_effect {
    char what[TL_EFFECT_LONGEST]; /**< in plain words, or the path of a part within its signal */
    double low, high;             /**< at its ends; the same where it has no tolerance */
} tl_effect;

/**
 * What takes how many counts while a signal's unknown has this value (source volts, ohms, travel 0 .. 1),
 * largest first: ends of a track, leakage, wires, tolerances, the converter's errors, what acquisition
 * leaves. Each is tried alone, against a chain without losses whose parts are nominal.
 * @param[out] ideal  The count of that chain, not rounded.
 * @return How many effects there are, at most `most`; -1 for a signal without an unknown, or a net without a
 * solution.
 */
int tl_plan_why(tl_circuit *circuit, int signal, double unknown, tl_effect *effects, int most, double *ideal);

/**
 * Whether this many counts off may come from these effects together: half as much again for what each does to
 * the others, and 8 counts for noise. Where not, something is broken.
 */
bool tl_effects_explain(const tl_effect *effects, int count, double off);

/** The value alone, not rounded and without faults and interval: much quicker. */
tl_net_status tl_plan_shown(tl_circuit *circuit, int signal, double code, double *shown);

/** Points of a table, as they are made. */
typedef struct tl_table_points {
    tl_table_point *of; /**< room for `most` */
    int most;           /**< 2 .. 255 */
    int count;          /**< how many there are: set by whoever makes them */
} tl_table_points;

/**
 * The way from code to value as points for the core's tables: undo, sensor's curve, trim and all.
 *
 * At every code from the first point to the last, tl_table_value() is within the tolerance of
 * tl_plan_shown(), or of half a count where that is coarser than a digit. Codes for which there is no value
 * (a resistance behind a clipped code) are left out at both ends.
 *
 * @param decimals   The table's values are in 10^-decimals of the reading's unit, 0 .. 9.
 * @param tolerance  In the last digit; 1 where less is asked for.
 * @return TL_NET_TOO_WIDE where they are not enough; or a fault of the net.
 */
tl_net_status tl_plan_segments(tl_circuit *circuit, int signal, int decimals, double tolerance,
                               tl_table_points *to);

#ifdef __cplusplus
}
#endif
#endif
