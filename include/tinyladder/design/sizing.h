/* SPDX-License-Identifier: MIT */
/**
 * @file
 * Sizing: which parts do a job. A requirement and a call for each job;
 * the answers are those of sizing_answer.h.
 *
 * Plain functions from structs to structs; nothing is printed here. Host side, double precision, SI base
 * units. A requirement is filled in from tl_..._requirement_default(): a member that is NAN (a quantity whose
 * nominal is NAN) has not been said. An answer is begun with tl_size_result_new(), filled by one sizing call,
 * and freed with tl_size_result_free().
 *
 * Formulas and their sources: docs/methods.md; every figure of a choice says which extreme it is.
 *
 * Stable: within one ABI number of libtinyladder-host (abi/host.map, abi/host.layout) no call, structure or
 * constant here changes.
 *
 * @code{.c}
 * int pulls_that_fit(void)
 * {
 *     tl_pull_requirement want = tl_pull_requirement_default();
 *     want.rail = (tl_quantity){.low = 3.234, .nominal = 3.3, .high = 3.366};
 *     tl_stock stock = tl_stock_series(TL_E24, 10, 10e6, 0.01);
 *     tl_size_result *answer = tl_size_result_new(&stock, 3);
 *     tl_size_pull(&want, answer);
 *     const int count = answer->count;
 *     tl_size_result_free(answer);
 *     tl_stock_free(&stock);
 *     return count;
 * }
 * @endcode
 */
#ifndef TINYLADDER_SIZING_H
#define TINYLADDER_SIZING_H

#include <stdbool.h>
#include <stddef.h>

#include "tinyladder/design/preferred.h"
#include "tinyladder/design/quantity.h"
#include "tinyladder/design/sizing_answer.h"
#include "tinyladder/design/standards.h"

#ifdef __cplusplus
extern "C" {
#endif

/* --- the sizings: one requirement each --- */

/** A list of values, such as ohms of several sources. */
enum { TL_VALUES_MOST = 64 };
typedef struct tl_values {
    double of[TL_VALUES_MOST];
    int count;
} tl_values;

/** What a converter asks of its source; NAN members have not been said. */
typedef struct tl_size_converter {
    double reference; /**< volts, lowest */
    double bits;
    double sample_farads, switch_ohms;
    double acquisition; /**< longest on offer, seconds */
    double pin_farads;  /**< of the pin (0) */
} tl_size_converter;

/** The most source resistance that settles to half an LSB: (t / ln 2^(N+1) - Rs Cs) / (Cs + Cpin), safe with
 * a capacitance at the pin and exact without; NAN where too little is said. */
double tl_converter_longest_ohms(const tl_size_converter *converter);

/** In which order dividers are ranked; all limits met comes before everything. */
typedef enum tl_divider_order {
    TL_ORDER_PRACTICE, /**< what a good technician would take */
    TL_ORDER_PARTS,    /**< fewest parts, then the largest share of the limit */
    TL_ORDER_SHARE,
    TL_ORDER_CURRENT /**< least current */
} tl_divider_order;

/**
 * Two legs that bring a source under a limit. tap = (V + I X) P / (X + P), X = Rs + Ru, P = Rl || Rload, I
 * the pin's leakage of either sign.
 */
typedef struct tl_divider_requirement {
    tl_quantity source;       /**< volts, 0 <= low */
    double limit;             /**< the tap never goes above; one of limit and reference must be said */
    double reference;         /**< of the converter, lowest: above it the reading saturates (NAN) */
    double source_ohms;       /**< of the source itself (0) */
    double load_ohms;         /**< across the lower leg (INFINITY) */
    double most_amperes;      /**< out of the source (INFINITY) */
    double most_tap_ohms;     /**< seen by the pin (INFINITY) */
    double leakage;           /**< of the pin, either sign (0) */
    tl_quantity upper, lower; /**< ohms of a leg that is fixed, with its tolerance (none) */
    double meter_ohms;        /**< resistance of a meter that will be held to the tap (10 Mohm) */
    double parts;             /**< most in one leg: 1 or 2 (1) */
    int order;                /**< a tl_divider_order: fewest parts, then share, then current (parts) */
    double least_share; /**< of the limit that the tap must use, 0 .. 1 (NAN: any; half the best where the
                           least current comes first) */
    double drift, away; /**< as of a ratio: then the error is reported, now and after a calibration (0, 0) */
    bool line;          /**< it is a logic line: then the sum of its legs weighs, not the current */
    double tap_said;    /**< ohms of source resistance that were asked for, and not the board's; NAN */
} tl_divider_requirement;
/** Where the figures of a divider stand in its choices. */
enum {
    TL_DIVIDER_TAP_LOWEST,
    TL_DIVIDER_TAP_HIGHEST,
    TL_DIVIDER_SHARE,
    TL_DIVIDER_CURRENT,
    TL_DIVIDER_OHMS,
    TL_DIVIDER_POWER,
    TL_DIVIDER_METER
};
tl_divider_requirement tl_divider_requirement_default(void);
void tl_size_divider(const tl_divider_requirement *requirement, tl_size_result *answer);
/** Works out one pair of legs, whether it meets the requirement or not. */
tl_choice tl_divider_work_out(const tl_divider_requirement *requirement, const tl_leg *upper,
                              const tl_leg *lower);

/** Two legs of a wanted ratio: lower / (upper + lower). */
typedef struct tl_ratio_requirement {
    double ratio;    /**< 0 .. 1 */
    tl_quantity sum; /**< ohms of both legs together (any) */
    double parts;    /**< most in one leg: 1 or 2 (1) */
    double drift;    /**< of each leg, a fraction per kelvin (0) */
    double away;     /**< kelvins, at most, from the temperature of a calibration (0) */
} tl_ratio_requirement;
tl_ratio_requirement tl_ratio_requirement_default(void);
void tl_size_ratio(const tl_ratio_requirement *requirement, tl_size_result *answer);

/** The fixed resistor of a resistance sensor. Widest swing near sqrt(Rmin Rmax), best resolution at R0 near
 * R0. */
typedef struct tl_partner_requirement {
    tl_quantity sensor;      /**< ohms */
    tl_quantity rail;        /**< volts */
    double at;               /**< best resolution here instead of the widest swing (NAN) */
    int leg;                 /**< of the partner: 0 lower, 1 upper (lower) */
    double most_amperes;     /**< also with the sensor at 0 ohm (INFINITY) */
    double most_tap_ohms;    /**< (INFINITY) */
    double limit;            /**< volts of a converter's reference that is not the rail (NAN: it is) */
    double most_heat;        /**< watts in the sensor (INFINITY) */
    double kelvins_per_watt; /**< that its own heat warms it by: 500 where a data sheet says 2 mW/K (NAN) */
    double most_kelvins;     /**< (INFINITY) */
    double bits;             /**< of a ratiometric converter (12) */
} tl_partner_requirement;
tl_partner_requirement tl_partner_requirement_default(void);
void tl_size_partner(const tl_partner_requirement *requirement, tl_size_result *answer);

/** The resistor above one or more tracks on a rail over the range. Vtop = V (R/n) / (R/n + Rf). */
typedef struct tl_feed_requirement {
    tl_quantity track, rail; /**< ohms, volts */
    double tracks;           /**< in parallel on the feed (1) */
    double limit;
    double most_amperes, most_tap_ohms; /**< (INFINITY) */
} tl_feed_requirement;
tl_feed_requirement tl_feed_requirement_default(void);
void tl_size_feed(const tl_feed_requirement *requirement, tl_size_result *answer);
/** The smallest resistor above a track of this many ohms with which its top comes no higher than the limit.
 */
double tl_feed_at_least(double track, double rail, double limit);
/** The partner with which a resistance's tap stands at such a share of the rail; above: between rail and tap.
 */
double tl_partner_for(double ohms, double share, bool above);

/** A source too weak for the pin: direct, with a capacitor, or behind a follower, with a divider behind that.
 */
typedef struct tl_follower_requirement {
    tl_quantity source; /**< volts */
    double source_ohms;
    tl_quantity supply;       /**< of the amplifier */
    double out_low, out_high; /**< its output stays so far from ground and from its supply (0, 0) */
    double in_low, in_high;   /**< the same of its input (0, 0) */
    double bias, offset;      /**< amperes, volts (0) */
    double limit;             /**< of the pin */
    tl_size_converter converter;
} tl_follower_requirement;
tl_follower_requirement tl_follower_requirement_default(void);
void tl_size_follower(const tl_follower_requirement *requirement, tl_size_result *answer);

/** A pull for a contact, an open collector or a phototransistor. */
typedef struct tl_pull_requirement {
    int down;                    /**< 0 up, 1 down (up) */
    tl_quantity rail;            /**< of the pull and of the pin */
    double vil, vih;             /**< volts; NAN: shares of the rail, at the same corner: */
    double vil_share, vih_share; /**< (0.3, 0.7) */
    double leakage;              /**< amperes, all together (1 uA) */
    double margin;               /**< volts that the idle level clears its threshold by (0) */
    tl_quantity closed;          /**< ohms of a closed contact, cable and guard on the way included (0) */
    double guard;                /**< ohms between the pull and the pin, where only leakage flows (0) */
    tl_quantity saturation;      /**< volts across a transistor that is on (0) */
    double drives;               /**< amperes that it can take at that (INFINITY) */
    double wetting;              /**< amperes that the contact wants at least (0) */
    double most_amperes;         /**< budget while closed (1 mA) */
    double farads;               /**< cable and pin (0) */
    double longest_edge;         /**< seconds back to the idle level (INFINITY) */
    tl_quantity internal;        /**< ohms of the board's own pull (none) */
    int normally_closed;         /**< a contact that rests closed: its current flows all the time */
} tl_pull_requirement;
tl_pull_requirement tl_pull_requirement_default(void);
void tl_size_pull(const tl_pull_requirement *requirement, tl_size_result *answer);

/** A series resistor that saves a pin which drives against a rail by mistake. R >= V / I. */
typedef struct tl_guard_requirement {
    tl_quantity rail;       /**< the highest difference that can stand across it */
    double pin_amperes;     /**< never more through the pin */
    double pull;            /**< ohms of a pull on the pin's side of the guard (NAN) */
    double vil;             /**< volts; NAN: 0.3 of the rail */
    double leakage, farads; /**< of the pin (0) */
} tl_guard_requirement;
tl_guard_requirement tl_guard_requirement_default(void);
void tl_size_guard(const tl_guard_requirement *requirement, tl_size_result *answer);

/** The series resistor of a lamp. R = (V - Vf - Vdriver) / I, less the resistance of the pin for the least.
 */
typedef struct tl_lamp_requirement {
    tl_quantity supply, forward; /**< volts */
    double amperes;              /**< never more */
    double least_amperes;        /**< still bright enough (0) */
    double drop;                 /**< across the driver, at least (0) */
    double most_drop;            /**< and at most (the same) */
    double pin_ohms; /**< of the pin that drives it, at most: what it drops over what it drives (0) */
    double lamps, total_amperes; /**< how many at once, and what they may take together (1, INFINITY) */
} tl_lamp_requirement;
tl_lamp_requirement tl_lamp_requirement_default(void);
void tl_size_lamp(const tl_lamp_requirement *requirement, tl_size_result *answer);

/** A load too big for a pin: direct, bipolar transistor, N-channel transistor. */
typedef struct tl_driver_requirement {
    tl_quantity supply; /**< of the load */
    tl_quantity load;   /**< ohms */
    double henries;     /**< (0: no coil) */
    tl_quantity high;   /**< the pin's high level */
    double pin_amperes; /**< at that level */
    double forced_gain; /**< collector over base current to count on (20) */
    double base_volts;  /**< base to emitter (0.65 .. 0.9 V) */
    double saturation;  /**< collector to emitter (0.3 V) */
    double on_ohms; /**< of an N-channel transistor, guaranteed at the lowest high level (NAN: not tried) */
    double most_watts; /**< in the transistor (0.3 W) */
    double leakage;    /**< of the pin while it is released (0) */
    double off_volts;  /**< at base or gate that certainly keep it off (0.4 V) */
} tl_driver_requirement;
tl_driver_requirement tl_driver_requirement_default(void);
void tl_size_driver(const tl_driver_requirement *requirement, tl_size_result *answer);

/** The load resistor of a 4-20 mA loop. */
typedef struct tl_loop_requirement {
    double limit;           /**< of the pin, also at the loop's highest current */
    double most_amperes;    /**< that the loop can be driven to (25 mA) */
    tl_quantity supply;     /**< of the loop (NAN: not looked at) */
    double compliance;      /**< volts that the transmitter needs (8 V) */
    double meter_ohms;      /**< burden of a meter in the loop (0) */
    double wire_ohms;       /**< (0) */
    double reference, bits; /**< of the converter (the limit, 12) */
} tl_loop_requirement;
tl_loop_requirement tl_loop_requirement_default(void);
void tl_size_loop(const tl_loop_requirement *requirement, tl_size_result *answer);

/** The pull of an I2C line: see standards.h for its modes. */
typedef struct tl_bus_requirement {
    tl_bus_mode mode;
    tl_quantity rail;
    double farads; /**< of a line */
} tl_bus_requirement;
tl_bus_requirement tl_bus_requirement_default(void);
/**
 * The limits of the pull: Rmin = (VDD - VOL) / IOL, worst over the rail's range, the step at 2 V included;
 * Rmax = tr / (0.8473 Cb).
 * @return false where the specification has none (standard mode at or below 2 V, too much capacitance): see
 * why.
 */
bool tl_bus_limits(const tl_bus_requirement *requirement, double *least, double *most, char why[240]);
void tl_size_bus_pull(const tl_bus_requirement *requirement, tl_size_result *answer);

/** From one voltage world into another, cheapest way first. */
typedef struct tl_shift_requirement {
    tl_quantity from, to;        /**< the supplies of driver and receiver */
    double vol, voh;             /**< driver: low at most, high at least (0.4 V, from - 0.4 V) */
    double vil, vih;             /**< receiver: volts; NAN: shares of its supply: */
    double vil_share, vih_share; /**< (0.3, 0.7) */
    double limit;                /**< receiver's absolute limit (to + 0.3 V) */
    double vih_back,
        vol_back;           /**< of the way back: the first side's VIH (0.7 from), the second's VOL (0.4 V) */
    double limit_back;      /**< what the first side's pin stands (from + 0.3 V) */
    double injection;       /**< amperes into its clamp (0: not allowed) */
    double drives;          /**< amperes the driver takes at its low level (3 mA) */
    double bits_per_second; /**< (100 kHz) */
    double farads;          /**< at the receiver (20 pF) */
    double leakage;         /**< amperes of the receiver's pin, either way (0) */
    double most_pull;       /**< ohms: no larger part, a line must not be upset by damp and noise (1M) */
    double edge_share;      /**< of a bit that an edge may take (0.3) */
    int both_ways;          /**< (no) */
    int open_drain;         /**< the driver only pulls low, and stands the other rail (no) */
    int may_invert;         /**< (no) */
    double body_diode;      /**< volts of an N-channel transistor's own diode (0.7 V) */
    double diode, threshold; /**< volts: of a small diode; gate threshold of an N-channel transistor, highest
                                (0.35, 1.5) */
    double clamp;            /**< volts of a diode of its own to the receiver's supply (NAN: there is none) */
    int receiver_off, driver_off; /**< that side may be off while the other runs (no) */
} tl_shift_requirement;
tl_shift_requirement tl_shift_requirement_default(void);
void tl_size_shift(const tl_shift_requirement *requirement, tl_size_result *answer);

/** Analog multiplexers in front of one converter channel: one part, or a tree of equal ones. */
enum { TL_MUX_INPUTS_MOST = 1024 };
typedef struct tl_mux_requirement {
    double inputs;       /**< of one part, 1 .. 64 (8) */
    double used;         /**< wired in all; more than one part has make a tree (as many as sources, or all) */
    tl_quantity on_ohms; /**< of each switch */
    double off_leakage;  /**< of each input that is off (0) */
    double common_farads;  /**< of each part's common line (0) */
    double pin_leakage;    /**< (0) */
    tl_values source_ohms; /**< of the worst input, or of each; inputs that are not told are as the worst */
    double rate;           /**< scans a second that are required (0: as it comes) */
    double conversion;     /**< seconds (1 us) */
    tl_values offered;     /**< acquisitions, seconds (none: any up to the converter's longest) */
    int enable_low;        /**< (yes) */
    tl_size_converter converter;
} tl_mux_requirement;
tl_mux_requirement tl_mux_requirement_default(void);
void tl_size_mux(const tl_mux_requirement *requirement, tl_size_result *answer);

/** k buttons on one converter pin. */
enum { TL_LADDER_BUTTONS = 8 };
typedef struct tl_ladder_requirement {
    double buttons;      /**< 2 .. 8 */
    double pull;         /**< ohms (10k) */
    int star;            /**< 0 chain, 1 star (chain) */
    double bits;         /**< (12) */
    double apart;        /**< counts between two intervals, at least (1 % of the span) */
    double contact_ohms; /**< of a closed button, at most (0) */
    double errors;       /**< of the converter at full scale, counts either way (4) */
    double leakage;      /**< of the pin, either way (0) */
    tl_quantity rail;    /**< volts that it counts against (NAN: leakage is not looked at) */
} tl_ladder_requirement;
tl_ladder_requirement tl_ladder_requirement_default(void);
void tl_size_ladder(const tl_ladder_requirement *requirement, tl_size_result *answer);

/** Resistor and capacitor against noise. fc = 1 / (2 pi R C). */
typedef struct tl_filter_requirement {
    double keep, reject;         /**< hertz: loses at most 1 dB at keep; falls by at least `by` at reject */
    double by;                   /**< as a factor: 10 is 20 dB (10) */
    double source_ohms;          /**< in front of it (0) */
    double most_ohms;            /**< seen by the pin (10k) */
    double leakage, most_error;  /**< of the pin; volts it may cost (0, INFINITY) */
    double capacitor_tolerance;  /**< (0.1) */
    tl_size_converter converter; /**< bits to tell the settling time (12); the rest, where it is known, so
                                    that the filter's capacitor feeds it, or lets it settle */
} tl_filter_requirement;
tl_filter_requirement tl_filter_requirement_default(void);
void tl_size_filter(const tl_filter_requirement *requirement, tl_size_result *answer);

/** A capacitor at the pin that feeds the sampling capacitor. Ce >= Cs (2^(N+1) - 1), and its charge must come
 * back. */
typedef struct tl_reservoir_requirement {
    double source_ohms;
    double rate;                /**< samples a second */
    double capacitor_tolerance; /**< (0.1) */
    tl_size_converter converter;
} tl_reservoir_requirement;
tl_reservoir_requirement tl_reservoir_requirement_default(void);
void tl_size_reservoir(const tl_reservoir_requirement *requirement, tl_size_result *answer);

/** A series resistor that keeps a clamp's current down. R >= (Vfault - (VDDmin + b)) / I, and the same below
 * ground. */
typedef struct tl_injection_requirement {
    tl_quantity fault;          /**< volts that can stand there */
    tl_quantity rail;           /**< the pin's supply */
    double clamp;               /**< volts beyond the rail at which it conducts (0.3 V) */
    double amperes;             /**< the pin's injection limit */
    double pins, board_amperes; /**< this many at once; the least that the board draws (1, NAN) */
    int unpowered;              /**< the board may be off meanwhile (no) */
} tl_injection_requirement;
tl_injection_requirement tl_injection_requirement_default(void);
void tl_size_injection(const tl_injection_requirement *requirement, tl_size_result *answer);

/** Room for any of them, for whoever does not know beforehand which sizing will be asked. */
typedef union tl_any_requirement {
    tl_divider_requirement divider;
    tl_ratio_requirement ratio;
    tl_partner_requirement partner;
    tl_feed_requirement feed;
    tl_follower_requirement follower;
    tl_pull_requirement pull;
    tl_guard_requirement guard;
    tl_lamp_requirement lamp;
    tl_driver_requirement driver;
    tl_loop_requirement loop;
    tl_bus_requirement bus;
    tl_shift_requirement shift;
    tl_mux_requirement mux;
    tl_ladder_requirement ladder;
    tl_filter_requirement filter;
    tl_reservoir_requirement reservoir;
    tl_injection_requirement injection;
} tl_any_requirement;

#ifdef __cplusplus
}
#endif
#endif
