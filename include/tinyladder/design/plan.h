/* SPDX-License-Identifier: MIT */
/**
 * @file
 * Plans and scenes as they are read from files.
 *
 * A signal is a source, a chain of stages and a pin. docs/plan-reference.md is the language.
 * Host side, double precision, SI base units. Everything a reader returns belongs to what it returns.
 *
 * Stable: within one ABI number of libtinyladder-host (abi/host.map, abi/host.layout) no call, structure or
 * constant here changes.
 *
 * @code{.c}
 * int signals_of(const char *path)
 * {
 *     tl_plan *plan = tl_plan_load(path, NULL);
 *     const int count = plan != NULL ? plan->signal_count : -1;
 *     tl_plan_free(plan);
 *     return count;
 * }
 * @endcode
 */
#ifndef TINYLADDER_PLAN_H
#define TINYLADDER_PLAN_H

#include "tinyladder/design/board.h"
#include "tinyladder/design/preferred.h"
#include "tinyladder/design/standards.h"
#include "tinyladder/external.h"

#ifdef __cplusplus
extern "C" {
#endif

/* --- plan --- */

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

/* --- what several signals share --- */

enum { TL_SELECTS_MOST = 6 };

/** What holds a multiplexer's select or enable line: a pin, or a rail permanently. */
typedef struct tl_line_holder {
    int pin;  /**< the board's, or TL_NONE */
    int rail; /**< where pin is TL_NONE */
    bool given;
    tl_place place;
} tl_line_holder;

typedef struct tl_mux {
    char *name;
    tl_place place;
    tl_mux_part *part;
    int supply;
    tl_line_holder select[TL_SELECTS_MOST]; /**< lowest bit first */
    int select_count;
    tl_place select_place;
    tl_line_holder enable;
    int common; /**< the plan's pin that its common line goes to */
    tl_place common_place;
    double dwell; /**< seconds; NAN: enough */
    tl_place dwell_place;
    int tied[TL_INPUTS_MOST]; /**< rail of each unused input, or TL_OPEN */
    tl_place tied_place;
    int first_pin; /**< of the plan's: its input 0 */
} tl_mux;

enum { TL_OPEN = -3 };

/** A converter as this plan uses it; the first is the board's own. */
typedef struct tl_plan_converter {
    char *name;
    tl_place place;
    const tl_converter *part;
    tl_converter *own;    /**< the same, where a file of its own describes it */
    int reference, range; /**< for signals that do not say */
    int bits;
    int supply;     /**< TL_NONE for the board's own */
    int bus;        /**< TL_NONE for no bus */
    long address;   /**< on I2C; -1 where there is none */
    int select_pin; /**< on SPI; TL_NONE where there is none */
} tl_plan_converter;

enum { TL_BUS_LINES = 3, TL_ROUTE_MOST = 8 /**< multiplexers one behind the other */ };

typedef struct tl_bus {
    char *name;
    tl_place place;
    bool spi;
    tl_bus_mode mode;       /**< of an I2C bus */
    int pins[TL_BUS_LINES]; /**< scl, sda; or clock, in, out; TL_NONE where there is none */
    const char *line_name[TL_BUS_LINES];
    int line_count;
    double low, drives; /**< volts and amperes of the weakest driver; NAN: the mode's */
    int first_line;     /**< of the plan's lines */
    tl_stage *stages;   /**< of each line; taken over by the first */
    int stage_count;
} tl_bus;

typedef enum tl_driver_way { TL_DRIVER_NONE, TL_DRIVER_BIPOLAR, TL_DRIVER_N_CHANNEL } tl_driver_way;

/** A transistor for what a pin cannot drive. */
typedef struct tl_driver {
    tl_driver_way way;
    tl_place place;
    double gain, saturation; /**< bipolar: forced gain it needs, volts when on */
    double on_ohms;          /**< n-channel, at the pin's lowest high level */
    double gate_farads;      /**< n-channel, typical: charge over volts; 0 where not said */
    double on_drop;          /**< bipolar: base to emitter, 0.7 V */
    tl_located series, pull; /**< base or gate resistor; what holds it off */
    tl_located load;         /**< ohms; of a lamp those of its resistor */
    tl_located lamp;         /**< volts of a lamp as the load */
    double henries;
    int supply; /**< of the load */
    bool flyback;
} tl_driver;

typedef enum tl_plan_output_as {
    TL_OUT_FOLLOW,
    TL_OUT_INVERTED,
    TL_OUT_LEVELS,
    TL_OUT_DUTY,
    TL_OUT_THRESHOLD
} tl_plan_output_as;

/** Where an output starts or stops: a figure, or what another signal shows and so much more. */
typedef struct tl_output_level {
    int of;       /**< that signal, or TL_NONE */
    double value; /**< in the output's `unit` */
    tl_place place;
} tl_output_level;

typedef struct tl_plan_output {
    char *name;
    tl_place place;
    int pins[TL_INPUTS_MOST];
    int pin_count; /**< 0: none switches it, it is always on */
    int from;      /**< then the rail that it is connected to; else TL_NONE */
    tl_place pin_place;
    tl_located lamp, series; /**< volts; ohms */
    bool wired;              /**< what the board has on the pin */
    bool fitted;             /**< came with a module */
    int to;                  /**< rail at the lamp's other end */
    tl_driver driver;
    bool has_into;          /**< an input of another board behind each pin: as many lines of the plan, */
    int first_line;         /**< from this one on */
    double rate, frequency; /**< hertz; 0 where not said */
    tl_place frequency_place;
    int shows; /**< a signal; TL_NONE: the firmware decides */
    tl_place shows_place;
    tl_plan_output_as as;
    double hysteresis;           /**< percent, of levels */
    tl_output_level start, stop; /**< of a threshold; where they cross, stop wins */
    char unit[16];               /**< of these: the unit of what it shows, or % of its percent */
    bool by_percent;             /**< they are compared with the percent figure */
    bool start_below;
    int safe; /**< 0 off, 1 on, 2 hold */
} tl_plan_output;

typedef struct tl_plan_sweep {
    char *name;
    tl_place place;
    int *signals;
    int signal_count;
    double every; /**< seconds; 0: as fast as can be */
    tl_place every_place;
    int discard;
    bool sleep;
} tl_plan_sweep;

/** A pin of a module: where it goes. */
typedef struct tl_module_pin {
    char *name;
    int rail;          /**< a rail or a shared node; TL_TO_GROUND; TL_OPEN; TL_NONE where it goes to a pin: */
    int pin;           /**< of the board, or TL_NONE */
    tl_located series; /**< a resistor between, ohms */
} tl_module_pin;

/** Something wired that is no signal, such as a display. */
typedef struct tl_module {
    char *name;
    tl_place place;
    int supply, back;    /**< rails that its current comes from and goes back to; TL_NONE, TL_TO_GROUND */
    tl_quantity amperes; /**< that it takes; 0 where not said */
    tl_module_pin *pins;
    int pin_count;
} tl_module;

typedef struct tl_meter {
    char *name;
    tl_place place;
    double ohms;     /**< 10 Mohm where not said */
    double accuracy; /**< percent of reading */
    double of_range; /**< and percent of its range, */
    double range;    /**< volts; both 0 where not said */
    int digits;
    double digit; /**< volts */
} tl_meter;

/** A board whose holes take parts and wires: two halves of strips across a groove, and supply rails along
 * both sides. */
typedef struct tl_plug_in {
    int columns; /**< strips of a half */
    int rows;    /**< holes of a strip */
    int rails;   /**< at each side */
} tl_plug_in;

typedef struct tl_plan {
    char *title, *path;
    tl_board *board;
    double coldest, warmest; /**< ambient, degC */
    tl_supply *supplies;     /**< the board's, replaced or followed by the plan's own, and shared nodes */
    int supply_count;
    tl_pin *pins; /**< the board's, then the inputs of converters and multiplexers, then inputs of another
                     board */
    int pin_count;
    tl_plan_converter *converters; /**< the board's own first */
    int converter_count;
    tl_mux *muxes;
    int mux_count;
    tl_bus *buses;
    int bus_count;
    tl_signal *signals; /**< signal_count of them are read; behind them, up to line_count, are lines of buses
                           and outputs, which are checked like signals */
    int signal_count, line_count;
    tl_plan_output *outputs;
    int output_count;
    tl_plan_sweep *sweeps;
    int sweep_count;
    tl_meter *meters;
    int meter_count;
    tl_module *modules;
    int module_count;
    tl_plug_in *plug_in; /**< what it is wired on, or NULL */
    bool has_drawer;
    tl_stock resistors, capacitors; /**< of the drawers that the plan names */
} tl_plan;

/** The converter that reads a signal, as the plan uses it; NULL where none does. */
const tl_plan_converter *tl_plan_converter_of(const tl_plan *plan, const tl_signal *signal);

/** Reads a plan and its board, like tl_board_load(). */
tl_plan *tl_plan_load(const char *path, tl_report *report);
void tl_plan_free(tl_plan *plan);
const tl_signal *tl_plan_signal(const tl_plan *plan, const char *name, int *index);
/** Whether a rail is ground, but perhaps for a wire between, or a pin that is held low. */
bool tl_plan_rail_is_low(const tl_plan *plan, int rail);
/** 100 % of a reading whose points are in %, in its last digits but at most hundredths: levels and duty
 * follow it; 0 for any other reading, and where it has a `percent` of its own. */
long tl_reading_whole(const tl_plan_reading *reading, int decimals);
/** Whether a digital signal is read as a frequency, a duty or a period: it has a value then. */
bool tl_reading_is_timed(const tl_plan_reading *reading);
/** Steps that the board's timer makes of a period of an output's duty, at most: clock / frequency, and no
 * more than its bits hold. 0 where frequency or clock is not said. */
double tl_plan_duty_steps(const tl_plan *plan, const tl_plan_output *output);
/** One use of a pin. what is NULL where there is none. */
typedef struct tl_pin_use {
    const char *what;  /**< `signal`, `output`, `select line`, `enable line`, `bus`, `rail` ... */
    const char *owner; /**< by name */
    tl_place place;
    int index; /**< of a select or enable line its multiplexer; else TL_NONE */
} tl_pin_use;

/** The n-th use of a board's pin in a plan, signals first; several multiplexers may share select lines. */
tl_pin_use tl_plan_pin_use(const tl_plan *plan, int pin, int n);

/* --- what is sent to converters --- */

/**
 * The words of a converter's registers as the plan settles them, by the codes that its file prints: the
 * fields `range`, `reference`, `bits` and `align`, for a signal `input` or `channel` and `start` too. Values
 * are found by name, ranges and acquisitions by what their names say: `2.5V`, `10us`. Other fields
 * are as the frame's `also` says, else 0.
 *
 * @param signal       one that this converter reads; TL_NONE: nothing is started, and the converter's own
 *                     reference and range are set
 * @param acquisition  seconds; NAN leaves the field `acquisition` at 0
 * @param[out] why     Says what has no code; untouched on success.
 */
bool tl_plan_settings(const tl_plan *plan, int converter, int signal, double acquisition,
                      unsigned long words[TL_REGISTERS_MOST], char why[160]);

/** A converter on a bus, as the core gets it. False, with the reason, where the core cannot work it. */
bool tl_plan_external(const tl_plan *plan, int converter, tl_external *external, char why[160]);
/** What starts a conversion of a signal, which a converter on a bus reads, in the same form. */
bool tl_plan_external_input(const tl_plan *plan, int signal, uint32_t *settings, char why[160]);
/** The same from words of its converter's registers, however they were set. */
uint32_t tl_plan_sent(const tl_plan *plan, int signal, const unsigned long *words);
/** The number of a signal's input, or of its pair, among those of its converter. */
int tl_plan_channel(const tl_plan *plan, int signal);

/* --- drawer --- */

/** Reads a drawer: what there is to choose from. Either stock may be NULL. False if anything was an error. */
bool tl_drawer_load(const char *path, tl_stock *resistors, tl_stock *capacitors, tl_report *report);
/** All pulls of a line together, the chip's own included, ohms; a nominal of NAN where it has none. */
tl_quantity tl_plan_pulls(const tl_plan *plan, const tl_signal *line);
/** Takes the resistors that a plan uses, those that came fitted left out, from a stock. */
void tl_plan_take_parts(const tl_plan *plan, tl_stock *resistors);

#ifdef __cplusplus
}
#endif
#endif
