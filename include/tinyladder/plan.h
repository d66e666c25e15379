/**
 * @file Plans, boards and scenes as they are read from files, and what is computed from them.
 *
 * A signal is a source, a chain of stages and a pin. docs/plan-reference.md is the language.
 * Host side, double precision, SI base units. Everything a reader returns belongs to what it returns.
 */
#ifndef TINYLADDER_PLAN_H
#define TINYLADDER_PLAN_H

#include "tinyladder/input.h"
#include "tinyladder/net.h"
#include "tinyladder/quantity.h"
#include "tinyladder/report.h"
#include "tinyladder/size.h"

#ifdef __cplusplus
extern "C" {
#endif

/* --- board --- */

typedef struct tl_supply {
    char *name;
    tl_place place;
    tl_quantity volts;
    double most_amperes; /**< what the plan may draw from it; INFINITY where nothing is said */
} tl_supply;

/** What a pin allows; levels follow the board supply that feeds it. */
typedef struct tl_pin_limits {
    int supply;                     /**< index into the board's supplies */
    tl_level lowest, highest;       /**< absolute limits */
    tl_level vil, vih;              /**< at or below is low, at or above is high */
    double hysteresis;              /**< volts, typical */
    tl_quantity leakage;            /**< amperes */
    double farads;                  /**< typical */
    tl_quantity pull_up, pull_down; /**< the chip's own, ohms; nominal NAN where it has none */
    double drives, most_amperes;    /**< at its output levels; never more. NAN where not said */
} tl_pin_limits;

enum { TL_PIN_NO_RAIL = -1, TL_PIN_IS_GROUND = -2 };

typedef struct tl_pin {
    char *name;
    tl_place place;
    int position; /**< on the header or package; -1 where not said */
    int channel;  /**< of the converter; -1 for none */
    int duty;     /**< channel for a duty (PWM) output; -1 for none */
    int rail;     /**< the board supply that this pin is, TL_PIN_IS_GROUND, or TL_PIN_NO_RAIL */
    bool digital, i2c, spi;
    bool wired; /**< the board itself hangs something on it */
    tl_pin_limits limits;
} tl_pin;

typedef struct tl_reference {
    char *name;
    int supply;        /**< index into the board's supplies, or -1 for a voltage of its own */
    tl_quantity volts; /**< where it is one of its own */
} tl_reference;

/** A named value of a register field. */
typedef struct tl_field_value {
    char *name;
    unsigned long number;
} tl_field_value;

/** A field: bits low .. high of its register. */
typedef struct tl_field {
    char *name;
    tl_place place;
    int low, high;
    tl_field_value *values;
    int value_count;
} tl_field;

/** A settings register as a data sheet prints it. */
typedef struct tl_register {
    char *name;
    tl_place place;
    int width; /**< bits, 8 .. 32 */
    tl_field *fields;
    int field_count;
} tl_register;

enum { TL_ACQUISITIONS_MOST = 32, TL_REGISTERS_MOST = 32 };

typedef struct tl_converter {
    char *name;
    tl_place place;
    tl_steps steps;
    tl_word word;
    tl_reference *references;
    int reference_count;
    double sample_farads, switch_ohms;
    bool starts_from_last;                    /**< the sampling capacitor keeps the channel before */
    double acquisition[TL_ACQUISITIONS_MOST]; /**< seconds, rising */
    int acquisition_count;
    double conversion;                 /**< seconds */
    double offset, gain, nonlinearity; /**< largest size of each error, in counts */
    double noise;                      /**< counts, rms */
    tl_register *registers;            /**< its settings, where the board file lists them */
    int register_count;
} tl_converter;

typedef struct tl_board {
    char *title;
    tl_supply *supplies;
    int supply_count;
    tl_pin *pins;
    int pin_count;
    tl_converter converter;
    tl_pin_limits usual; /**< every-pin */
    char **header;       /**< names of pins, row by row as seen from above; NULL where there is none */
    int header_rows, header_columns;
} tl_board;

/* --- plan --- */

typedef enum tl_source_kind {
    TL_SOURCE_RAIL,
    TL_SOURCE_VOLTAGE,
    TL_SOURCE_CURRENT,
    TL_SOURCE_RESISTANCE,
    TL_SOURCE_POTENTIOMETER,
    TL_SOURCE_CONTACT,
    TL_SOURCE_OPEN_COLLECTOR,
    TL_SOURCE_LOGIC
} tl_source_kind;

/** A value with where it was written. */
typedef struct tl_written {
    tl_quantity value;
    tl_place place;
    bool given;
    double parts[2]; /**< of two resistors in series or parallel both values; else the one and 0 */
} tl_written;

enum { TL_TO_GROUND = -1 }; /**< in place of a supply's index */

typedef struct tl_source {
    tl_source_kind kind;
    tl_place place;
    int supply; /**< rail: which; potentiometer: its top; resistance: its far end; contact and open collector:
                   where it closes to; logic: what it runs on; current: what drives the loop, TL_TO_GROUND if
                   not said */
    int bottom; /**< potentiometer */
    tl_written value; /**< voltage: volts; current: amperes; resistance: ohms; potentiometer: track ohms; open
                         collector: volts across it when it is on, at most */
    tl_written ohms;  /**< voltage, logic: own resistance; contact: when closed; potentiometer: at each end;
                         resistance:  of its leads */
    tl_written over;  /**< potentiometer: travel in percent */
    tl_level high, low; /**< logic: at least, at most */
    double drives;      /**< open collector, logic: amperes at those levels; NAN where not said */
    double compliance;  /**< current: volts that the loop needs; NAN where not said */
    double leakage;     /**< contact, open collector: amperes when open, at most */
    double bounce;      /**< contact, open collector: seconds */
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
    TL_STAGE_FILTER
} tl_stage_kind;

typedef struct tl_stage {
    tl_stage_kind kind;
    char *name; /**< its path within the signal: `divider`, `pull-2` */
    tl_place place;
    tl_written first;  /**< the ohms in the way; a pull's, a load's; of a capacitor or cable the farads */
    tl_written second; /**< a divider's lower leg; a filter's capacitor */
    int to;            /**< the rail at the other end, or TL_TO_GROUND */
    bool up;           /**< of a pull or a partner: away from ground */
    bool internal;     /**< the chip's own pull */
    bool fitted;       /**< came with a module: takes nothing from the drawer */
} tl_stage;

typedef enum tl_reading_of {
    TL_OF_SOURCE,
    TL_OF_PIN,
    TL_OF_COUNTS,
    TL_OF_TRAVEL,
    TL_OF_RESISTANCE
} tl_reading_of;

typedef struct tl_plan_reading {
    tl_place place;
    tl_reading_of of;
    const char *unit; /**< `V`, `mV`, `A`, `mA`, `ohm`, `kohm`, `%` or `counts`; NULL for digital signals */
    int decimals;     /**< -1: as many as the LSB allows */
    tl_written empty, full; /**< ends of the percent figure, where given */
    double steady;          /**< debounce, seconds */
    bool steady_given;
} tl_plan_reading;

typedef struct tl_signal {
    char *name;
    tl_place place;
    tl_source source;
    tl_stage *stages;
    int stage_count;
    int pin; /**< index into the board's pins */
    tl_place pin_place;
    tl_written acquisition; /**< seconds, where given */
    bool analog;            /**< read by the converter */
    tl_plan_reading reading;
} tl_signal;

typedef struct tl_plan {
    char *title, *path;
    tl_board *board;
    tl_supply *supplies; /**< the board's, replaced or followed by the plan's own */
    int supply_count;
    tl_signal *signals;
    int signal_count;
    int reference; /**< which of the converter's references the plan uses */
    bool has_drawer;
    tl_stock resistors, capacitors; /**< of the drawers that the plan names */
} tl_plan;

/** What a file says it is, from its first line: `plan`, `board`, `scene`, `drawer`; empty where it says
 * nothing. */
void tl_file_kind(const char *path, char kind[16]);

/** Reads a board. Whatever is wrong is added to the report; NULL if anything was an error. */
tl_board *tl_board_load(const char *path, tl_report *report);
void tl_board_free(tl_board *board);
/** The limits that most pins of a board share: every-pin. */
const tl_pin_limits *tl_board_usual_limits(const tl_board *board);

/** Reads a plan and its board. Likewise. */
tl_plan *tl_plan_load(const char *path, tl_report *report);
void tl_plan_free(tl_plan *plan);
const tl_signal *tl_plan_signal(const tl_plan *plan, const char *name, int *index);

/* --- settings as register words --- */

/** Finds a field by name in any register; register_index receives where. NULL where there is none. */
const tl_field *tl_converter_field(const tl_converter *converter, const char *name, int *register_index);
/**
 * Puts a value, by its name or as a number (decimal or 0x..), into a field of a word.
 * @param[out] why  Says what is wrong; untouched on success.
 */
bool tl_field_set(const tl_field *field, const char *value, unsigned long *word, char why[160]);
unsigned long tl_field_get(const tl_field *field, unsigned long word);
/** The name of a field's value, or NULL where it has none. */
const char *tl_field_value_name(const tl_field *field, unsigned long number);

/* --- drawer --- */

/** Reads a drawer: what there is to choose from. Either stock may be NULL. False if anything was an error. */
bool tl_drawer_load(const char *path, tl_stock *resistors, tl_stock *capacitors, tl_report *report);
/** Takes the resistors that a plan uses, those that came fitted left out, from a stock. */
void tl_plan_take_parts(const tl_plan *plan, tl_stock *resistors);

/* --- scene --- */

typedef struct tl_moment {
    double at, value; /**< seconds; in the source's unit: volts or percent of travel */
} tl_moment;

typedef struct tl_course {
    int signal;
    tl_moment *moments; /**< rising in time; straight lines between, end values outside */
    int count;
} tl_course;

typedef struct tl_press {
    int signal;
    double at, length; /**< seconds */
} tl_press;

typedef struct tl_scene {
    unsigned long seed;
    double length;
    tl_course *courses;
    int course_count;
    tl_press *presses; /**< rising in time within a signal */
    int press_count;
} tl_scene;

/** Reads a scene for a plan. NULL if anything was an error. */
tl_scene *tl_scene_load(const char *path, const tl_plan *plan, tl_report *report);
void tl_scene_free(tl_scene *scene);

/* --- the netlist of a plan --- */

/** Where a signal is found in the net. Entries that do not apply are TL_NET_NONE. */
typedef struct tl_signal_nodes {
    int source, pin;
    int sampled;  /**< the converter's sampling capacitor, joined to the pin while `sampling` is closed */
    int sampling; /**< contact */
    int unknown;  /**< what the reading is after: source volts, amperes, ohms, or travel from 0 to 1 */
    int on_rail;  /**< of an open collector or a logic output: the node it drives while closed, */
    int off_rail; /**< and while open */
    int contact;  /**< of a contact source */
    tl_island *island; /**< around the pin */
} tl_signal_nodes;

/** Worst cases of one signal in one state of its contact. Those that do not apply to its kind are
 * meaningless. */
typedef struct tl_worst {
    bool known;         /**< worked out already */
    tl_net_fault fault; /**< the rest holds for TL_NET_SOLVED only */
    tl_bounds volts;    /**< at the pin */
    tl_bounds over,
        under; /**< volts less the pin's highest and lowest limit, at the same corner of its rail */
    tl_bounds over_range;           /**< analog: volts less the reference */
    tl_bounds source_ohms;          /**< analog: seen by the pin */
    tl_bounds above_vih, above_vil; /**< a contact: volts less the thresholds */
    double *amperes;                /**< of each supply that has a budget: most that this signal draws */
} tl_worst;

typedef struct tl_analog_path tl_analog_path;

typedef struct tl_circuit {
    const tl_plan *plan;
    tl_net *net;
    tl_dimension *dimension; /**< of each parameter of the net; travel counts as percent, held as 0 .. 1 */
    bool
        *is_source; /**< whether a parameter is a source of volts or amperes, so that it can be put to rest */
    int *supply_node; /**< of each supply */
    int *supply_param;
    int reference_param; /**< the converter's reference in volts: a supply's own parameter where it is one */
    tl_signal_nodes *signals;
    bool *at_rest;         /**< every contact open; for tl_island_bounds() */
    double *nominal;       /**< every parameter's value in the middle */
    double *rest[2];       /**< likewise with all sources at 0, capacitors at either end of their tolerance */
    tl_worst *worst;       /**< two of each signal, filled as they are asked for */
    tl_analog_path *paths; /**< likewise, one of each signal */
} tl_circuit;

tl_circuit *tl_circuit_new(const tl_plan *plan);
void tl_circuit_free(tl_circuit *circuit);
/** A parameter by its path, such as `house-battery.divider.lower`, or TL_NET_NONE. */
int tl_circuit_param(const tl_circuit *circuit, const char *path);
/** The worst cases of a signal, its contact open or closed. They are kept with the circuit: do not change the
 * net any more. */
const tl_worst *tl_circuit_worst(const tl_circuit *circuit, int signal, bool closed);
/** Says a corner: `battery 14.8 V, divider.upper 46.53 kΩ`. values: low_at or high_at of the bounds. */
void tl_circuit_corner(const tl_circuit *circuit, const tl_bounds *bounds, const double *values, char *text,
                       size_t size);

/* --- what follows from a plan --- */

/** The analog path of a signal, as the core is told it. */
struct tl_analog_path {
    bool known;         /**< worked out already */
    tl_net_fault fault; /**< the rest holds for TL_NET_SOLVED only */
    tl_input input;
    tl_scale_config pin_scale;    /**< volts at the pin */
    tl_scale_config source_scale; /**< volts at the source; for a potentiometer the pin's again */
    double acquisition;           /**< seconds, of those offered */
    double settling_counts;       /**< error that is left after it, at worst */
    double longest_source_ohms;   /**< with so much, half an LSB is just reached in that time (no capacitor at
                                     the pin) */
    double source_ohms;           /**< most that the pin sees */
    double range_counts;          /**< codes of the whole span: 2^bits */
    int32_t travel_low_uv;        /**< of a potentiometer: the pin's volts at either end of the whole track */
    int32_t travel_high_uv;
};

/** Of an analog signal; kept with the circuit. */
const tl_analog_path *tl_circuit_path(const tl_circuit *circuit, int signal);

/** Infinite where the truth may lie beyond. */
typedef struct tl_interval {
    double low, high;
} tl_interval;

/**
 * All values of the signal's unknown (source volts; travel 0 .. 1) with which the hardware could have given
 * this count: over every tolerance, the reference, the converter's errors, the width of the code, and what
 * settling leaves. Noise is not in it. pin: the same for the volts at the pin.
 */
tl_net_fault tl_plan_interval(const tl_circuit *circuit, int signal, const tl_analog_path *path,
                              unsigned count, tl_interval *unknown, tl_interval *pin);

/** What a rule of the checker means. formula may be NULL. */
typedef struct tl_rule {
    const char *slug, *meaning, *formula, *fix;
} tl_rule;
const tl_rule *tl_plan_rules(int *count);
/** NULL for a slug that is none. */
const tl_rule *tl_plan_rule(const char *slug);

/** The unknown behind the centre of a code, all else nominal: what a resistance sensor's ohms are read as. */
tl_net_fault tl_plan_unknown(const tl_circuit *circuit, int signal, const tl_analog_path *path,
                             unsigned count, double *unknown);

/** Adds every finding about a plan to the report, worst first. Every slug is one of tl_plan_rules(). */
void tl_plan_check(const tl_circuit *circuit, tl_report *report);

#ifdef __cplusplus
}
#endif
#endif
