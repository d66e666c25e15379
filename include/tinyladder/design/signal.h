/* SPDX-License-Identifier: MIT */
/**
 * @file
 * Signals of a plan: a source, a chain of stages, a pin, and how it is read.
 *
 * docs/plan-reference.md is the language. Host side, double precision, SI base units. Filled in by
 * tl_plan_load() (plan.h), which owns what stands in them.
 *
 * Stable: within one ABI number of libtinyladder-host (abi/host.map, abi/host.layout) no call, structure or
 * constant here changes.
 *
 * @code{.c}
 * double ohms_at(const tl_response *thermistor, double celsius)
 * {
 *     return thermistor->law != TL_LAW_NONE ? tl_response_ohms(thermistor, celsius) : 0;
 * }
 * @endcode
 */
#ifndef TINYLADDER_SIGNAL_H
#define TINYLADDER_SIGNAL_H

#include "tinyladder/design/board.h"
#include "tinyladder/design/preferred.h"
#include "tinyladder/design/standards.h"

#ifdef __cplusplus
extern "C" {
#endif

/** A figure in a unit of the plan's own choice: `3 m`, `-99 degC`. */
typedef struct tl_free_figure {
    double value;
    char unit[16];
    tl_place place;
    bool given;
} tl_free_figure;

/* --- sensors' laws (src/model/sensor_law.c) --- */

typedef enum tl_law {
    TL_LAW_NONE,      /**< nothing but ohms */
    TL_LAW_BETA,      /**< R = R0 exp(beta (1/T - 1/T0)) */
    TL_LAW_STEINHART, /**< 1/T = a + b ln R + c (ln R)^3 */
    TL_LAW_PLATINUM,  /**< IEC 60751 (Callendar-Van Dusen) */
    TL_LAW_LINEAR,    /**< a table, straight between its points */
    TL_LAW_LN,        /**< a table, straight in ln R */
    TL_LAW_LOG_LOG    /**< a table, straight in the logarithms of both */
} tl_law;

typedef struct tl_response_point {
    double quantity, ohms;
} tl_response_point;

/** How ohms and the quantity that makes them belong together. */
typedef struct tl_response {
    tl_law law;
    char unit[16];         /**< of the quantity */
    double ohms, at, beta; /**< R0, T0 in degC, beta in kelvin; platinum: ohms at 0 degC */
    double beta_off;       /**< most that beta is off, kelvin */
    double steinhart[3];
    tl_response_point *points; /**< rising in the quantity */
    int count;
    double share_low, share_high; /**< the sensor's own tolerance, at worst over its range: 0.99 .. 1.01 */
} tl_response;

/** Ohms of the law itself, without tolerance. */
double tl_response_ohms(const tl_response *curve, double quantity);
/** The other way round; beyond a table its ends. Infinite for ohms that no temperature gives. */
double tl_response_quantity(const tl_response *curve, double ohms);
/** Widens what the sensor's ohms may be by what its beta may be off, over a span of the quantity. */
void tl_response_spread(tl_response *curve, const tl_quantity *span);

/* --- signals --- */

typedef enum tl_source_kind {
    TL_SOURCE_RAIL,
    TL_SOURCE_VOLTAGE,
    TL_SOURCE_CURRENT,
    TL_SOURCE_RESISTANCE,
    TL_SOURCE_POTENTIOMETER,
    TL_SOURCE_BRIDGE,
    TL_SOURCE_CHAIN, /**< buttons along a chain of resistors */
    TL_SOURCE_STAR,  /**< buttons, each with a resistor of its own */
    TL_SOURCE_CONTACT,
    TL_SOURCE_OPEN_COLLECTOR,
    TL_SOURCE_LOGIC
} tl_source_kind;

/** One button of a chain or star. */
typedef struct tl_source_button {
    char *name;
    tl_located ohms;
} tl_source_button;

enum { TL_BUTTONS_MOST = 12 };

typedef struct tl_source {
    tl_source_kind kind;
    tl_place place;
    int supply; /**< rail: which; potentiometer: its top; resistance, chain, star: other end; contact and open
                   collector: where it closes to; logic: what it runs on; bridge: what feeds it, TL_TO_GROUND
                   for floating; current: what drives the loop, TL_TO_GROUND if not said */
    bool ground_side; /**< `supply` is at ground but for a wire: a shared node from it, a pin that is held low
                       */
    int bottom;       /**< potentiometer; voltage: the ground it returns to */
    int follows;      /**< voltage: the rail it is ratiometric to, TL_TO_GROUND for none */
    tl_located value; /**< voltage, bridge: volts; current: amperes; resistance: ohms; potentiometer: track
                         ohms;   open collector: volts across it when it is on, at most */
    tl_located ohms;  /**< voltage, logic: own resistance; contact: when closed; potentiometer: at each end;
                         resistance: of its leads; bridge: of each arm */
    tl_located over;  /**< potentiometer: travel in percent; resistance: of the quantity */
    tl_located full;  /**< resistance: the end that is 100 % */
    tl_response curve;  /**< resistance */
    tl_level high, low; /**< logic: at least, at most */
    double drives;      /**< open collector, logic: amperes at those levels; NAN where not said */
    double compliance;  /**< current: volts that the loop needs; NAN where not said */
    double leakage;     /**< contact, open collector: amperes when open, at most */
    double bounce;      /**< contact, open collector, chain, star: seconds */
    double shortest;    /**< contact, open collector: seconds that it stays in a state; 0 where not said */
    double rate;        /**< contact, open collector, logic: highest, hertz; 0 where not said */
    double wetting;     /**< contact: amperes that keep it clean; 0 where not said */
    tl_source_button buttons[TL_BUTTONS_MOST]; /**< chain, star */
    int button_count;
} tl_source;

/** Whether the closed state of a digital source is the low one. A logic output counts as closed while it is
 * low. */
bool tl_source_closes_low(const tl_source *source);

typedef enum tl_stage_kind {
    TL_STAGE_SERIES,
    TL_STAGE_GUARD,
    TL_STAGE_DIVIDER,
    TL_STAGE_PULL,
    TL_STAGE_PARTNER,
    TL_STAGE_LOAD,
    TL_STAGE_CAPACITOR,
    TL_STAGE_CABLE,
    TL_STAGE_FILTER,
    TL_STAGE_FOLLOWER,
    TL_STAGE_SHIFTER,
    TL_STAGE_CLAMP,
    TL_STAGE_KINDS /**< how many there are */
} tl_stage_kind;

typedef enum tl_shift_way {
    TL_SHIFT_DIODE,
    TL_SHIFT_INVERTER,
    TL_SHIFT_N_CHANNEL,
    TL_SHIFT_BUFFER
} tl_shift_way;

typedef struct tl_stage {
    tl_stage_kind kind;
    char *name; /**< its path within the signal: `divider`, `pull-2` */
    tl_place place;
    tl_located
        first; /**< the ohms in the way; a pull's, a load's, a base's; of a capacitor or cable the farads */
    tl_located second; /**< a divider's lower leg; a filter's capacitor; a capacitor's own ohms */
    int to;  /**< the rail at the other end; of a follower or buffer its supply, of a shifter its gate */
    bool up; /**< of a pull or a partner: away from ground */
    bool internal; /**< the chip's own pull */
    bool fitted;   /**< came with a module: takes nothing from the drawer */
    /* follower */
    tl_level out_low, out_high, in_low, in_high; /**< what its output reaches and its input takes */
    double bias;                                 /**< amperes into its input, at most */
    double offset;                               /**< volts, at most */
    double bandwidth;                            /**< hertz; INFINITY for enough */
    double gain;                                 /**< least before feedback; INFINITY for enough */
    /* shifter, clamp */
    tl_shift_way way;
    double drop;                        /**< volts of a diode; of an n-channel's body diode */
    double threshold;                   /**< volts, highest */
    tl_level vil, vih, lowest, highest; /**< of a buffer's input */
    bool to_pin;                        /**< a clamp: the pin's own diodes */
    double most_amperes;                /**< a clamp of its own: that it stands; 0 where not said */
} tl_stage;

typedef enum tl_reading_of {
    TL_OF_SOURCE,
    TL_OF_PIN,
    TL_OF_COUNTS,
    TL_OF_TRAVEL,
    TL_OF_RESISTANCE,
    TL_OF_QUANTITY
} tl_reading_of;

typedef enum tl_average {
    TL_AVERAGE_NONE,
    TL_AVERAGE_MEAN,
    TL_AVERAGE_MEDIAN,
    TL_AVERAGE_ROLLING,
    TL_AVERAGE_EXPONENTIAL
} tl_average;

/** What a digital signal is read as. */
typedef enum tl_read_as {
    TL_AS_LEVEL,
    TL_AS_COUNT,
    TL_AS_TOGGLE,
    TL_AS_LENGTHS,
    TL_AS_FREQUENCY,
    TL_AS_DUTY,
    TL_AS_PERIOD
} tl_read_as;

/** A level above or below which a wire must be broken. */
typedef struct tl_fault_window {
    tl_located
        level; /**< in what `dimension` says: volts at the pin, percent of span, or the source's unit */
    tl_dimension dimension;
    bool above;
} tl_fault_window;

/** A pair of points of a straight line, or of a trim. */
typedef struct tl_pair {
    double from, to;
    tl_place place;
} tl_pair;

/** One length that a pattern must show. */
typedef struct tl_length {
    bool high;
    double seconds;
} tl_length;

enum { TL_PAIRS_MOST = 32 };

typedef struct tl_plan_reading {
    tl_place place;
    bool given; /**< there is one */
    tl_reading_of of;
    char unit[16];   /**< of the figure that is shown; empty for digital signals */
    double per_base; /**< how many of that unit a volt, ampere, ohm, percent makes, where `points` do not */
    int decimals;    /**< -1: as many as the LSB allows */
    double round;    /**< coarser step, in the unit; 0 for none */
    tl_pair points[TL_PAIRS_MOST]; /**< source: wanted; rising in the source */
    int point_count;
    tl_located empty, full; /**< ends of the percent figure, where given */
    double margin;          /**< percent */
    tl_average average;
    int samples;
    tl_fault_window open, shorted;
    double fault_hysteresis; /**< percent of span */
    tl_free_figure substitute;
    tl_pair trim[TL_PAIRS_MOST]; /**< count: volts */
    int trim_count;
    bool trim_at_pin; /**< the meter was at the pin, not at the source */
    int meter;        /**< TL_NONE where not said */
    /* digital */
    double steady; /**< debounce, seconds */
    bool steady_given;
    tl_read_as as;
    tl_length expect[TL_PAIRS_MOST];
    int expect_count;
    double within;        /**< percent */
    double over;          /**< seconds: whole periods of at least so long are measured together */
    double stopped_after; /**< seconds without an edge: it stands still */
    char *turns_with;     /**< the second line of a rotary encoder, by name; NULL: none */
    tl_place turns_place;
    int second_line; /**< the same, as a signal; TL_NONE */
    /* chain, star */
    double apart; /**< counts between buttons; 0 for 1 % of the span */
    /* restated: what firmware that is already there believes; compared, not used */
    int active; /**< -1 not said, 0 low, 1 high */
    tl_place active_place;
    tl_located scale; /**< source volts per pin volt */
    int steps;        /**< a tl_steps, or -1 */
    tl_place steps_place;
    long word_bits, word_in;               /**< 0 where not said */
    int word_align, word_sign, word_bytes; /**< -1 where not said */
    tl_place word_place;
} tl_plan_reading;

typedef struct tl_signal {
    char *name;
    tl_place place;
    tl_source source;
    tl_stage *stages;
    int stage_count;
    int pin; /**< index into the plan's pins */
    tl_place pin_place;
    tl_located acquisition; /**< seconds, where given */
    int reference, range;   /**< of its converter: which of those offered */
    int channel;            /**< restated; -1 where not said */
    tl_place channel_place;
    bool drives_low, drives_high; /**< the firmware also drives this pin */
    tl_place driven_place;
    bool analog; /**< read by a converter */
    tl_plan_reading reading;
} tl_signal;

#ifdef __cplusplus
}
#endif
#endif
