/* SPDX-License-Identifier: MIT */
/**
 * @file
 * What standards fix and what is usual, once: bus modes, shares of a rail, typical drops. Whoever needs
 * one of these figures takes it from here, so that no two answers rest on different ones.
 *
 * Stable: within one ABI number of libtinyladder-host (abi/host.map, abi/host.layout) no call, structure or
 * constant here changes.
 *
 * @code{.c}
 * double energy_of_a_relay(void)
 * {
 *     return tl_coil_joules(0.3, 0.07); // 0.3 H at 70 mA
 * }
 * @endcode
 */
#ifndef TINYLADDER_STANDARDS_H
#define TINYLADDER_STANDARDS_H

#include <stdbool.h>

#include "tinyladder/design/quantity.h"

#ifdef __cplusplus
extern "C" {
#endif

/* --- levels and drops that are usual where a data sheet says nothing --- */

static const double tl_vil_share = 0.3, tl_vih_share = 0.7; /**< of the rail: thresholds of a CMOS input */
static const double tl_edge_share = 0.3;                    /**< of a bit: what an edge may take at most */
static const double tl_base_off = 0.5;       /**< volts at which a base carries nothing that counts */
static const double tl_base_on_least = 0.65; /**< volts of a base that conducts: least, */
static const double tl_base_on = 0.7;        /**< typical, */
static const double tl_base_on_most = 0.9;   /**< and most, over temperature and current */
static const double tl_saturated = 0.3;      /**< volts across a transistor that is on */
static const double tl_buffer_loss = 0.1; /**< volts between a buffer's output and its rail, lightly loaded */
static const double tl_forced_gain = 20;  /**< collector by base current, to be sure that it is */
static const double tl_body_diode = 0.7;  /**< volts of a transistor's own diode */
static const double tl_clamp_drop = 0.3;  /**< volts beyond the rail that a pin stands */

/* --- I2C-bus: the open specification UM10204, table 10 and section 7.1 --- */

typedef enum tl_bus_mode { TL_BUS_STANDARD, TL_BUS_FAST, TL_BUS_FAST_PLUS } tl_bus_mode;

typedef struct tl_bus_rule {
    const char *name;
    double rise;        /**< seconds from VIL to VIH, at most */
    double most_farads; /**< of a line */
    double low_volts;   /**< the highest low, above 2 V, */
    double low_amperes; /**< and what every device sinks at it */
    double half_clock;  /**< seconds */
} tl_bus_rule;
const tl_bus_rule *tl_bus_rule_of(tl_bus_mode mode);

/** From VIL to VIH of an edge through R and C: ln(0.7 / 0.3). */
static const double tl_bus_rise_share = 0.8473;

/**
 * The low level that every device of a mode gives, and the current that it sinks at it: above 2 V as tabled,
 * at or below 2 V 0.2 VDD at 2 mA.
 * @return false where the specification has none (standard mode at or below 2 V).
 */
bool tl_bus_low(tl_bus_mode mode, double rail, double *volts, double *amperes);

/** One pull of a line, on whichever side of it. */
typedef struct tl_bus_pull {
    double rail; /**< the highest that it has */
    double ohms; /**< the lowest that it has */
} tl_bus_pull;

/** A line of a bus that a device holds low. */
typedef struct tl_bus_held {
    tl_bus_mode mode;
    double low, drives; /**< VOL and IOL of a device that is known; NAN for what the mode says */
    tl_quantity rail;   /**< the highest of the rails that the line is pulled to, over its range */
    const tl_bus_pull *pulls;
    int count;
} tl_bus_held;

/** What a device sinks at the worst point of the rail's range. */
typedef struct tl_bus_sunk {
    double share;   /**< of what it is sure to sink; INFINITY where neither the mode nor the device has a low
                       level   at some point of the range */
    double amperes; /**< the current */
    double volts;   /**< the low level */
    double allowed; /**< amperes that are sure */
} tl_bus_sunk;

/**
 * What a device that holds the line low must sink, as a share of what it is sure to sink: the sum of (V -
 * VOL) / R over all pulls by IOL, worst over the rail's range, the step at 2 V included.
 */
tl_bus_sunk tl_bus_sinks(const tl_bus_held *line);

/** Adds a resistor to a sum of conductances, each end for itself: siemens from ohms. */
void tl_beside(tl_quantity *siemens, const tl_quantity *ohms);
/** What all of them are together; NAN for none. */
tl_quantity tl_ohms_of(const tl_quantity *siemens);
/** What a coil holds that carries so much. */
double tl_coil_joules(double henries, double amperes);
/** The lag of one pole at a bandwidth in hertz: seconds; 0 for an infinite one. */
double tl_lag_of(double bandwidth);

#ifdef __cplusplus
}
#endif
#endif
