/* SPDX-License-Identifier: MIT */
/**
 * @file
 * Plans as they are read from files: signals (signal.h) on a board, and what they share.
 *
 * docs/plan-reference.md is the language.
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

#include "tinyladder/design/signal.h"
#include "tinyladder/external.h"

#ifdef __cplusplus
extern "C" {
#endif

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
/** The first signal that has the same source as this one: itself, but where several measure one rail. */
int tl_plan_same_source(const tl_plan *plan, int signal);
/** 100 % of a reading whose points are in %, in its last digits but at most hundredths: levels and duty
 * follow it; 0 for any other reading, and where it has a `percent` of its own. */
long tl_reading_whole(const tl_plan_reading *reading, int decimals);
/** Whether a digital signal is read as a frequency, a duty or a period: it has a value then. */
bool tl_reading_is_timed(const tl_plan_reading *reading);
/** Steps that the board's timer makes of a period of an output's duty, at most: clock / frequency, and no
 * more than its bits hold; 0 where the frequency is above the clock. NAN where frequency or clock is not
 * said. */
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
