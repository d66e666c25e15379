/* SPDX-License-Identifier: MIT */
/**
 * @file
 * Boards and converters as their files describe them: pins, limits, references, registers.
 *
 * Host side, double precision, SI base units.
 *
 * Stable: within one ABI number of libtinyladder-host (abi/host.map, abi/host.layout) no call, structure or
 * constant here changes.
 *
 * @code{.c}
 * int pins_of(const char *path)
 * {
 *     tl_board *board = tl_board_load(path, NULL);
 *     const int count = board != NULL ? board->pin_count : 0;
 *     tl_board_free(board);
 *     return count;
 * }
 * @endcode
 */
#ifndef TINYLADDER_BOARD_H
#define TINYLADDER_BOARD_H

#include "tinyladder/design/findings.h"
#include "tinyladder/design/quantity.h"
#include "tinyladder/input.h"

#ifdef __cplusplus
extern "C" {
#endif

/* --- board --- */

/** A value with where it was written. */
typedef struct tl_located {
    tl_quantity value;
    tl_place place;
    bool given;
    double parts[2]; /**< of two resistors in series or parallel both values; else the one and 0 */
    double drift;    /**< a fraction per kelvin, where a drawer says it; its share is in the value's span */
} tl_located;

/** How a rail comes about. */
typedef enum tl_rail_kind {
    TL_RAIL_SUPPLY, /**< a supply, with its own resistance or without */
    TL_RAIL_SHARED, /**< a node of the plan that several chains are connected to */
    TL_RAIL_PIN     /**< an output pin held high or low */
} tl_rail_kind;

enum { TL_TO_GROUND = -1 }; /**< in place of a rail's index */

/** A rail: what a part's other end can be connected to. */
typedef struct tl_supply {
    char *name;
    tl_place place;
    tl_rail_kind kind;
    tl_quantity volts;   /**< ripple included; of a shared node those of what it is connected to */
    tl_located ohms;     /**< own resistance; of a shared node the resistor or wire to it, which is a part */
    bool fitted;         /**< of a shared node: takes nothing from the drawer */
    double most_amperes; /**< what the plan may draw from it; INFINITY where nothing is said */
    double ripple;       /**< volts peak to peak, 0 for none */
    double ripple_hertz;
    bool live;           /**< may be there while the board is off */
    int from;            /**< shared node: what it is connected to, another rail or TL_TO_GROUND */
    tl_quantity carries; /**< shared node: foreign current into it, amperes */
    int pin;             /**< of an output pin: which of the board's */
    bool high;
} tl_supply;

/** What a pin allows; levels follow the supply that feeds it. */
typedef struct tl_pin_limits {
    int supply;                     /**< index into the plan's supplies, the board's first; -1 for none */
    tl_level lowest, highest;       /**< absolute limits */
    tl_level vil, vih;              /**< at or below is low, at or above is high */
    tl_level vol, voh;              /**< what it gives as an output, at `drives` */
    double hysteresis;              /**< volts, typical */
    double injection;               /**< amperes that its clamps stand; NAN where not said */
    tl_quantity leakage;            /**< amperes */
    double farads;                  /**< typical */
    tl_quantity pull_up, pull_down; /**< the chip's own, ohms; nominal NAN where it has none */
    double drives, most_amperes;    /**< at its output levels; never more. NAN where not said */
} tl_pin_limits;

enum { TL_PIN_NO_RAIL = -1, TL_PIN_IS_GROUND = -2, TL_NONE = -1 };

/** Where a chain can end: a pin of the board, or in a plan also an input of a multiplexer or a converter. */
typedef struct tl_pin {
    char *name;
    tl_place place;
    int position; /**< on the header or package; -1 where not said */
    int channel;  /**< of the converter; -1 for none */
    int duty;     /**< channel for a duty (PWM) output; -1 for none */
    int rail;     /**< the supply that this pin is, TL_PIN_IS_GROUND, or TL_PIN_NO_RAIL */
    bool digital, i2c;
    unsigned spi;                /**< bits: 1 its clock, 2 in, 4 out */
    bool wired;                  /**< the board itself connects something to it: */
    tl_quantity lamp, lamp_ohms; /**< a lamp of this many volts behind this many ohms */
    char *port;                  /**< what a port needs to find it, as its author likes; or NULL */
    tl_pin_limits limits;
    int converter;  /**< in a plan: which converter reads it, or TL_NONE */
    int second;     /**< of a pair: the plan's pin that is its negative input, or TL_NONE */
    int mux, input; /**< of a multiplexer's input: which, and where it stands there; or TL_NONE */
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
    char *means; /**< what it is for, where its name does not say that: `align`, `channel` ...; NULL */
    tl_place place;
    int low, high;
    tl_field_value *values;
    int value_count;
} tl_field;

/** A settings register as a data sheet prints it. */
typedef struct tl_register {
    char *name;
    tl_place place;
    int width;    /**< bits, 8 .. 32 */
    long address; /**< its number on I2C; -1 where the file gives none */
    tl_field *fields;
    int field_count;
} tl_register;

enum {
    TL_ACQUISITIONS_MOST = 32,
    TL_REGISTERS_MOST = 32,
    TL_RANGES_MOST = 8,
    TL_INPUTS_MOST = 32, /**< of a converter or a multiplexer */
    TL_SENDS_MOST = 32
};

typedef enum tl_bus_kind { TL_BUS_NONE, TL_BUS_I2C, TL_BUS_SPI } tl_bus_kind;

/** How the bytes of a word come over a bus. */
typedef enum tl_byte_delivery {
    TL_DELIVERED_HIGH_FIRST,
    TL_DELIVERED_LOW_FIRST,
    TL_DELIVERED_HIGH_ONLY
} tl_byte_delivery;

/** What goes over the bus for one conversion. */
typedef struct tl_frame {
    int settings, result;      /**< I2C: numbers of registers; TL_NONE where there is none */
    int settings_register;     /**< which of the file's registers the settings are, or TL_NONE */
    int ready, ready_register; /**< the same two of the ready bit */
    int ready_bit;             /**< TL_NONE for none */
    bool ready_when;           /**< its level once ready */
    double longest;            /**< seconds until it must be ready */
    unsigned long
        also[TL_REGISTERS_MOST]; /**< words of the file's registers with what every conversion sets */
    char *send[TL_SENDS_MOST];   /**< SPI: 0, 1, `single`, `channel`, and fields by name */
    int send_count, zeros, take; /**< SPI: then this many zeros are verified, then the result's bits */
} tl_frame;

/** A converter: the board's own, or one on a bus. */
typedef struct tl_converter {
    char *name; /**< of the board's own; of another its title */
    tl_place place;
    tl_steps steps;
    double begin; /**< how far below itself a code begins, in counts: half of the half kind, else 0; less
                     where the upper bits alone are read */
    tl_word word;
    int set_bits,
        set_align; /**< what its settings say: the word's, also where only its upper bits are read */
    int bytes;     /**< a tl_byte_delivery */
    long bits[TL_RANGES_MOST]; /**< offered; the first is the default */
    long errors_bits; /**< its errors were stated in counts of this many bits; 0: of whatever is chosen */
    int bits_count;
    int aligns[3], align_count; /**< offered: 0 right, 1 left, 2 stretched */
    tl_reference *references;
    int reference_count;
    tl_quantity
        ranges[TL_RANGES_MOST]; /**< around 0 V, or from 0 V; where there are any, they are the span */
    int range_count;
    double sample_farads, switch_ohms;        /**< 0 where the file does not say */
    bool starts_from_last;                    /**< the sampling capacitor keeps the channel before */
    double precharge;                         /**< volts that it starts from; NAN where not stated */
    double acquisition[TL_ACQUISITIONS_MOST]; /**< seconds, rising */
    int acquisition_count;
    double conversion;                 /**< seconds */
    double offset, gain, nonlinearity; /**< largest size of each error, in counts */
    double noise;                      /**< counts, rms */
    double drift;                      /**< of the reference, per kelvin */
    tl_register *registers;            /**< its settings, where the file lists them */
    int register_count;
    /* on a bus */
    tl_bus_kind bus;
    tl_quantity supply;   /**< volts it needs */
    tl_pin_limits limits; /**< of its inputs; they follow its supply */
    char *inputs[TL_INPUTS_MOST];
    int input_count;
    char *pairs[TL_INPUTS_MOST];    /**< names of differential pairs */
    int pair_of[TL_INPUTS_MOST][2]; /**< and the inputs they are made of */
    int pair_count;
    tl_frame frame;
} tl_converter;

/** A multiplexer as its file describes it. */
typedef struct tl_mux_part {
    char *title;
    int inputs;
    int enable; /**< 0 none, 1 active low, 2 active high */
    tl_quantity on_ohms;
    tl_quantity leakage;      /**< amperes of each input that is off */
    double farads;            /**< of the common line */
    tl_level lowest, highest; /**< signals it passes, following its supply */
} tl_mux_part;

typedef struct tl_board {
    char *title;
    tl_supply *supplies;
    int supply_count;
    double total_amperes; /**< that all pins together may drive; INFINITY where not said */
    double duty_clock;    /**< hertz that the timer of duty outputs counts at most; 0 where not said */
    int duty_bits;        /**< of that timer; 16 where not said */
    tl_pin *pins;
    int pin_count;
    bool has_converter; /**< else what follows stands in for it, and no pin has a channel */
    tl_converter converter;
    tl_pin_limits usual; /**< every-pin */
    char *from_template; /**< what of it still is a template's, as words with commas; NULL for nothing */
    tl_place template_place;
    char **header; /**< names of pins, row by row as seen from above; NULL where there is none */
    int header_rows, header_columns;
} tl_board;

/** What a file says it is, from its first line: `plan`, `board`, `scene`, `drawer`; empty where it says
 * nothing. */
void tl_file_kind(const char *path, char kind[16]);

enum { TL_REFERENCE_OWN_SUPPLY = -2 }; /**< of a converter on a bus: what it runs on, whatever a plan says */

/** Reads a board. Whatever is wrong is added to the report; NULL if anything was an error. */
tl_board *tl_board_load(const char *path, tl_report *report);
void tl_board_free(tl_board *board);
/** The limits that most pins of a board share: every-pin. */
const tl_pin_limits *tl_board_usual_limits(const tl_board *board);

/** Reads the file of a converter on a bus, or of a multiplexer, like tl_board_load(). */
tl_converter *tl_converter_load(const char *path, tl_report *report);
/** Whether it can be set to this many bits, or to deliver them so (a tl_word_align). */
bool tl_converter_offers_bits(const tl_converter *part, long bits);
bool tl_converter_offers_align(const tl_converter *part, int align);
void tl_converter_free(tl_converter *converter);
tl_mux_part *tl_mux_part_load(const char *path, tl_report *report);
void tl_mux_part_free(tl_mux_part *part);

/* --- words --- */

/**
 * The word that a converter of this format gives for a code: for ports that simulate one.
 * @param[out] word  Left untouched unless TL_OK is returned.
 * @return TL_OK; TL_ERR_ARG; TL_ERR_RANGE for a code that there is not.
 */
tl_status tl_word_make(const tl_word *format, int32_t code, uint32_t *word);

/* --- settings as register words --- */

/** Finds a field in any register: one that `means` this, else one of this name; register_index receives
 * where. NULL where there is none. */
const tl_field *tl_converter_field(const tl_converter *converter, const char *name, int *register_index);
/**
 * Puts a value, by its name or as a number (decimal or 0x..), into a field of a word.
 * @param[out] why  Says what is wrong; untouched on success.
 */
bool tl_field_set(const tl_field *field, const char *value, unsigned long *word, char why[160]);
unsigned long tl_field_get(const tl_field *field, unsigned long word);
/** The name of a field's value, or NULL where it has none. */
const char *tl_field_value_name(const tl_field *field, unsigned long number);
/** The range that words of its registers set: its field `range` says it in volts. TL_NONE where none does. */
int tl_converter_range_of(const tl_converter *converter, const unsigned long *words);
/** Bits of an entry of what is sent on SPI before the answer, and of all entries. */
int tl_converter_send_bits(const tl_converter *converter, int entry);
int tl_converter_head_bits(const tl_converter *converter);

#ifdef __cplusplus
}
#endif
#endif
