/* SPDX-License-Identifier: MIT */
/**
 * @file
 * A plan's circuit: its netlist, where its signals are in it, and their worst cases.
 *
 * Host side, double precision, SI base units.
 *
 * Stable: within one ABI number of libtinyladder-host (abi/host.map, abi/host.layout) no call, structure or
 * constant here changes.
 *
 * @code{.c}
 * double highest_volts(const tl_plan *plan, int signal)
 * {
 *     tl_circuit *circuit = tl_circuit_new(plan);
 *     const tl_worst_case *worst = circuit != NULL ? tl_circuit_worst_case(circuit, signal, 0) : NULL;
 *     const double volts = worst != NULL && worst->fault == TL_NET_SOLVED ? worst->volts.high : 0;
 *     tl_circuit_free(circuit);
 *     return volts;
 * }
 * @endcode
 */
#ifndef TINYLADDER_CIRCUIT_H
#define TINYLADDER_CIRCUIT_H

#include "tinyladder/button.h"
#include "tinyladder/design/bounds.h"
#include "tinyladder/design/plan.h"

#ifdef __cplusplus
extern "C" {
#endif

/**
 * A plan put together as a circuit. It keeps what it has been asked already, so one circuit is asked by one
 * thread at a time; a plan itself may lie behind many circuits in many threads.
 */
typedef struct tl_circuit tl_circuit;

/* --- the netlist of a plan --- */

/** Where a chain goes no further up, or down: a clamp that the plan counts on conducts, a follower stands at
 * its end. */
typedef struct tl_chain_end {
    int contact; /**< closed while it is so */
    bool high;
} tl_chain_end;

enum { TL_CHAIN_ENDS_MOST = 16 };

/** Where a signal is found in the net. Entries that do not apply are TL_NET_NONE. */
typedef struct tl_signal_nodes {
    int source;
    int end;      /**< where its own chain ends: the pin, or an input of a multiplexer */
    int common;   /**< behind all multiplexers; else the same as `end` */
    int pin;      /**< of the converter or the line */
    int negative; /**< of a pair: its other input; else TL_NET_GROUND */
    int sampled;  /**< the converter's sampling capacitor, joined to the pin while `sampling` is closed */
    int sampling; /**< contact */
    int unknown;  /**< what the reading is after: source volts, amperes, ohms, or travel from 0 to 1 */
    int track;    /**< of a potentiometer: its ohms; else TL_NET_NONE */
    int on_rail;  /**< of an open collector or a logic output: the node it drives while closed, */
    int off_rail; /**< and while open */
    int contact;  /**< of a source of two states */
    int buttons[TL_BUTTONS_MOST]; /**< contacts of a chain or star */
    int states; /**< 1 for analog ones, 2 for a contact, one more than the buttons of a chain or star */
    int route[TL_ROUTE_MOST]; /**< contacts of multiplexers that must be closed for it */
    int route_length;
    bool passes_high, passes_low; /**< whether it could leave the pin's limits at all */
    int clamp_high, clamp_low;    /**< contacts: the pin's or the plan's clamp conducts; */
    int high_rail, low_rail;      /**< and what it conducts to */
    int clamp_part[2];            /**< parts: the pin's own below and above, or TL_NET_NONE */
    tl_chain_end ends[TL_CHAIN_ENDS_MOST];
    int end_count;
    int lower_open;     /**< contact: the lower leg of its divider has come off */
    int shorted;        /**< contact: the transmitter of its loop is shorted */
    int lamp;           /**< contact: the lamp that the board has on its pin is there */
    int driven[2];      /**< contacts: the firmware drives its pin low, or high; where the plan says so */
    int driven_part[2]; /**< and the way that takes, without resistance */
    int reference;      /**< parameter: the volts that its full scale is */
    int first_worst;    /**< of the circuit's worst cases */
    tl_island *island;  /**< around the pin, along its route */
} tl_signal_nodes;

/** Worst cases of one signal in one of its states. Those that do not apply to its kind are meaningless. */
typedef struct tl_worst_case {
    bool known;          /**< worked out already */
    tl_net_status fault; /**< the rest holds for TL_NET_SOLVED only */
    bool volts_only;     /**< too many parameters are connected: only bounds of volts are proven; and the
                              source resistance, or that is NAN */
    tl_bounds volts; /**< at the pin, as far as the ends of the chain let it go; of a pair the difference of
                        its inputs */
    tl_bounds over, under; /**< volts less the pin's highest and lowest limit, at the same corner of its rail,
                              as if the ends of the chain let everything through */
    tl_bounds over_range;  /**< analog: volts less the reference */
    tl_bounds source_ohms; /**< analog: seen by the pin */
    tl_bounds above_vih, above_vil; /**< a contact: volts less the thresholds */
    double *amperes;                /**< of each supply that has a budget: most that this signal draws */
    double share_low, share_high;   /**< of a chain or star: of the reference, over every tolerance, */
    bool shares_known;              /**< once they were asked for */
} tl_worst_case;

/** The analog path of a signal, as the core gets it. */
typedef struct tl_analog_path {
    bool known;          /**< worked out already */
    tl_net_status fault; /**< the rest holds for TL_NET_SOLVED only */
    tl_input input;
    tl_scale_config pin_scale; /**< volts at the pin */
    double centre;             /**< how far above itself the middle of a code lies, in counts */
    double slope, shift;       /**< volts at the pin = slope * unknown + shift, all else nominal; not of a
                                  resistance, nor where the way bends */
    double acquisition;        /**< seconds, of those offered */
    double dwell;            /**< behind a multiplexer: seconds to wait after switching, as given or enough */
    double dwell_needed;     /**< until half a count is left after the acquisition that follows */
    double settling_counts;  /**< error that is left after it, at worst */
    int conversions;         /**< of one read: the last one counts, sweeps throw the others away */
    int before;              /**< the signal that its sweep reads before it, whose volts the capacitor still
                                holds; TL_NONE where no sweep gives an order, or it does not hold them */
    double source_ohms;      /**< most that the pin sees */
    double range_counts;     /**< codes of the whole span: 2^bits */
    double reference_counts; /**< codes from 0 to the reference: half as many where the span is signed */
    long first_code, last_code;
    double held_low, held_high; /**< shares of the reference from which on the chain may stand at an end: at
                                   or below the one, at or above the other the source may be anywhere beyond;
                                   infinite where it has no ends */
    int32_t travel_low_uv;      /**< of a potentiometer: the pin's volts at either end of the whole track */
    int32_t travel_high_uv;
    bool bends; /**< of a potentiometer: what is connected to the wiper bends the way between them */
} tl_analog_path;

/** Both views of it, put together once: guaranteed figures are asked of what is believed, the bench steps
 * what is soldered. */
tl_circuit *tl_circuit_new(const tl_plan *plan);
void tl_circuit_free(tl_circuit *circuit);
const tl_plan *tl_circuit_plan(const tl_circuit *circuit);
/** Where a signal, or a line behind them, is in the net. */
const tl_signal_nodes *tl_circuit_nodes(const tl_circuit *circuit, int signal);
/** Every parameter's value in the middle of its span. */
const double *tl_circuit_nominal(const tl_circuit *circuit);
/** The parameter that is the volts of a supply, by its index in the plan. */
int tl_circuit_supply_param(const tl_circuit *circuit, int supply);
/** A parameter by its path, such as `house-battery.divider.lower`, or TL_NET_NONE. */
int tl_circuit_param(tl_circuit *circuit, const char *path);
/** The node of a point by its path: `NAME.pin`, `NAME.source`, `NAME.STAGE`, a rail; or TL_NET_NONE. */
int tl_circuit_point(tl_circuit *circuit, const char *path);
/** All contacts as they are for one signal in one of its states: its route closed, and its contact (state 1)
 * or one of its buttons (from 1). Good until the next call. */
bool *tl_circuit_state(tl_circuit *circuit, int signal, int state);
/** The worst cases of a signal in a state. They are kept with the circuit: do not change the net any more. */
const tl_worst_case *tl_circuit_worst_case(tl_circuit *circuit, int signal, int state);
/** Whether the closed state of a signal gives its pin a low level: inverting stages counted. */
bool tl_signal_closes_low(const tl_signal *signal);
/** How a contact of the plan is described to the core; its line is the pin's place in the board file. */
tl_button_config tl_plan_button(const tl_plan *plan, int signal);
/** Says a corner: `battery 14.8 V, divider.upper 46.53 kΩ`. values: low_at or high_at of the bounds. */
void tl_circuit_corner(tl_circuit *circuit, const tl_bounds *bounds, const double *values, char *text,
                       size_t size);

/** A parameter's value, or a level of a signal's pin, at a corner. values: low_at or high_at of the bounds.
 */
double tl_circuit_value_at(tl_circuit *circuit, int param, const tl_bounds *bounds, const double *values);
double tl_circuit_level_at(tl_circuit *circuit, int signal, tl_level level, const tl_bounds *bounds,
                           const double *values);
/** The acquisition after which half a count is left, by the same network as the path's `settling_counts`,
 * seconds; INFINITY where none is long enough, 0 for a converter whose file says nothing of its sampling. */
double tl_circuit_acquisition_needed(tl_circuit *circuit, int signal);
/** The longest that the edge into a state takes at the pin of a signal of two states, seconds: from the level
 * of the other state to the threshold; 0 where that is crossed already, INFINITY where it never is. */
double tl_circuit_edge(tl_circuit *circuit, int signal, int state);
/** The current through a part of a signal in one of its states, such as its stage's `pull`, or
 * `divider.upper`; NAN where there is no such part. */
tl_bounds tl_circuit_part_amperes(tl_circuit *circuit, int signal, int state, const char *part);
/** The most heat in a resistor of a signal, watts, over all states and over its own tolerance too. */
double tl_circuit_resistor_watts(tl_circuit *circuit, int signal, int part, const tl_quantity *ohms);
/** What one load of an output takes while it is on, amperes: a driver's load, or a lamp, with the resistance
 * of its pin or transistor in the way. 0 for an input of another board. */
tl_quantity tl_circuit_load_amperes(tl_circuit *circuit, const tl_plan_output *output);
/** The most that each pin of an output gives or takes, amperes; 0 for one that leads into an input of another
 * board. */
double tl_circuit_pin_amperes(tl_circuit *circuit, const tl_plan_output *output);
/** What a transistor that drives a load gets and must carry, amperes. */
typedef struct tl_driver_amperes {
    double load;       /**< of the load, most */
    double pin;        /**< that the pin gives, most */
    double base_least; /**< into the base, at the lowest high level and with its pull counted; 0 for a gate */
} tl_driver_amperes;
tl_driver_amperes tl_circuit_driver(tl_circuit *circuit, const tl_plan_output *output);

#ifdef __cplusplus
}
#endif
#endif
