/* SPDX-License-Identifier: MIT */
/* The keys of boards, of converters and multiplexers beside them, and of drawers. */
#include "model/keys.h"
#include "tinyladder/design/plan.h"
#include "tinyladder/design/board.h"

/* One row is one key, and its texts stay whole: the formatter stays away. */
/* clang-format off */
static const known_key keys_board_rows[] = {
    {"tinyladder", true, KEY_TEXT, 0, NULL, NULL, "kind and version of the file", "board 1", NULL, BY_CODE},
    {"title", true, KEY_TEXT, 0, NULL, NULL, "name of the board", "Lapwing", NULL, BY_CODE},
    {"supplies", true, KEY_NAMED, TL_DIM_VOLT, NULL, NULL, "supplies of the board, written as in a plan", "{logic: 3.3 V ±2 %}", &keys_supply, BY_CODE},
    {"every-pin", true, KEY_MAP, 0, NULL, NULL,
     "limits and levels of every pin; the entry of a pin overrides them",
     "{supply: logic, limits: -0.3 V .. rail + 0.3 V, vil: 0.3 rail, vih: 0.7 rail}", &keys_limits, BY_CODE},
    {"pins", true, KEY_NAMED, 0, NULL, NULL,
     "pins by name, or by a range of names",
     "{A0 .. A3: {position: 1 .. 4, channel: 0 .. 3}, D0 .. D3: {position: 5 .. 8}}", &keys_pin, BY_CODE},
    {"converters", false, KEY_NAMED, 0, NULL, NULL,
     "the ADC of the board, by name; leave it out on a board without analog inputs",
     "{main: {bits: 12, steps: half, word: {align: right, in: 16}, references: {logic: logic}, sampling: {capacitor: 12 pF, switch: 1k5}, acquisition: [0.3 us, 1 us, 3 us], conversion: 1 us}}", &keys_converter, BY_CODE},
    {"header", false, KEY_LIST, 0, NULL, "none", "rows of pin names as seen from above, equally long", "[[3V3, L0], [GND, L1]]", NULL, BY_CODE},
    {"template", false, KEY_WORDS, 0, "supplies|pins|positions|limits|vil|vih|vol|voh|drives|current|injection|leakage|capacitance|internal|bits|steps|word|references|sampling|acquisition|conversion|errors", "none",
     "parts of the file that are still those of `tinyladder new board` and not checked with a data sheet",
     "[leakage, sampling]", NULL, BY_CODE},
    {"total-current", false, KEY_VALUE, TL_DIM_AMPERE, NULL, "no limit",
     "largest current of all pins together",
     "80 mA", NULL, INTO(VALUE, tl_board, total_amperes)},
    {"duty-clock", false, KEY_VALUE, TL_DIM_HERTZ, NULL, "not checked",
     "highest clock frequency of the PWM timer",
     "16 MHz", NULL, INTO(VALUE, tl_board, duty_clock)},
    {"duty-bits", false, KEY_WHOLE, 0, "4..32", "16", "width of the PWM timer in bits", "8", NULL, INTO(COUNT, tl_board, duty_bits)},
    {.name = NULL},
};
const key_section keys_board = {"board", "a board", keys_board_rows};

/* What all pins share under every-pin, and what a pin's own entry says instead. */
#define LIMIT_ROWS(type, in) \
    {"supply", false, KEY_NAME, 0, NULL, "the first", "the supply of the pin", "logic", NULL, BY_CODE}, \
    {"limits", false, KEY_LEVELS, 0, NULL, "none", "absolute maximum of the pin voltage", "-0.3 V .. rail + 0.3 V", NULL, INTO(LEVELS, type, in lowest)}, \
    {"leakage", false, KEY_QUANTITY, TL_DIM_AMPERE, NULL, "0", "input leakage current", "±50 nA", NULL, INTO(QUANTITY, type, in leakage)}, \
    {"capacitance", false, KEY_VALUE, TL_DIM_FARAD, NULL, "0", "pin capacitance", "7 pF", NULL, INTO(VALUE, type, in farads)}, \
    {"vil", false, KEY_LEVEL, 0, NULL, "not checked", "VIL, the highest voltage that is read as low", "0.3 rail", NULL, INTO(LEVEL, type, in vil)}, \
    {"vih", false, KEY_LEVEL, 0, NULL, "not checked", "VIH, the lowest voltage that is read as high", "0.7 rail", NULL, INTO(LEVEL, type, in vih)}, \
    {"hysteresis", false, KEY_VALUE, TL_DIM_VOLT, NULL, "0", "hysteresis of the input", "0.2 V", NULL, INTO(VALUE, type, in hysteresis)}, \
    {"internal", false, KEY_MAP, 0, NULL, "none", "internal pull-up and pull-down", "{up: 30k .. 60k}", &keys_internal, BY_CODE}, \
    {"drives", false, KEY_VALUE, TL_DIM_AMPERE, NULL, "not checked", \
     "output current at which VOL and VOH hold", \
     "4 mA", NULL, INTO(VALUE, type, in drives)}, \
    {"current", false, KEY_VALUE, TL_DIM_AMPERE, NULL, "not checked", \
     "absolute maximum of the output current", \
     "12 mA", NULL, INTO(VALUE, type, in most_amperes)}, \
    {"injection", false, KEY_VALUE, TL_DIM_AMPERE, NULL, "not checked", \
     "absolute maximum of the current into the clamp diodes", \
     "1 mA", NULL, INTO(VALUE, type, in injection)}, \
    {"vol", false, KEY_LEVEL, 0, NULL, "0 V", "VOL, the highest low level of the output", "0.4 V", NULL, INTO(LEVEL, type, in vol)}, \
    {"voh", false, KEY_LEVEL, 0, NULL, "rail", "VOH, the lowest high level of the output", "rail - 0.4 V", NULL, INTO(LEVEL, type, in voh)}

static const known_key keys_limits_rows[] = {
    LIMIT_ROWS(tl_pin_limits, ),
    {.name = NULL},
};
const key_section keys_limits = {"every-pin", "every-pin", keys_limits_rows};

static const known_key keys_pin_rows[] = {
    {"position", false, KEY_TEXT, 0, "0..9999", "none", "number of the pin on the header or package", "7", NULL, BY_CODE},
    {"channel", false, KEY_TEXT, 0, NULL, "none", "ADC channel", "0 .. 3", NULL, BY_CODE},
    {"can", false, KEY_WORDS, 0, "digital|i2c|spi|spi-clock|spi-in|spi-out", "digital",
     "functions of the pin; `spi` stands for all three lines",
     "[digital, i2c]", NULL, BY_CODE},
    {"rail", false, KEY_NAME, 0, NULL, "none", "the supply that this pin gives out, or `ground`", "logic", NULL, BY_CODE},
    LIMIT_ROWS(tl_pin, limits.),
    {"duty", false, KEY_TEXT, 0, NULL, "none", "PWM channel", "0", NULL, BY_CODE},
    {"wired", false, KEY_MAP, 0, NULL, "none", "LED that the board itself connects to the pin", "{lamp: 1.8 V, series: 1k5}", &keys_wired, BY_CODE},
    {"port", false, KEY_TEXT, 0, NULL, "none", "name of the pin for a port; passed on unchanged", "B4", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_pin = {"pin", "a pin", keys_pin_rows};

static const known_key keys_internal_rows[] = {
    {"up", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "none",
     "resistance of the internal pull-up",
     "30k .. 60k", NULL, INTO(QUANTITY, tl_pin_limits, pull_up)},
    {"down", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "none",
     "resistance of the internal pull-down",
     "30k .. 60k", NULL, INTO(QUANTITY, tl_pin_limits, pull_down)},
    {.name = NULL},
};
const key_section keys_internal = {"internal", "internal", keys_internal_rows};

static const known_key keys_wired_rows[] = {
    {"lamp", true, KEY_QUANTITY, TL_DIM_VOLT, NULL, NULL, "forward voltage of the LED", "1.8 V", NULL, INTO(QUANTITY, tl_pin, lamp)},
    {"series", true, KEY_QUANTITY, TL_DIM_OHM, NULL, NULL, "series resistor of the LED", "1k5", NULL, INTO(OHMS, tl_pin, lamp_ohms)},
    {.name = NULL},
};
const key_section keys_wired = {"wired", "wired", keys_wired_rows};

/* What every converter says; whole: one of the chip's own, which must say all of it. */
#define CONVERTER_KEYS(whole, references) \
    {"bits", true, KEY_WHOLES, 0, "4..24", NULL, "resolution: 4 to 16 bits, on a bus up to 24; the first of a list is the default", "12", NULL, BY_CODE}, \
    {"steps", true, KEY_WORD, 0, "half|full", NULL, "`half`: the first step is at half an LSB; `full`: at one LSB", "half", NULL, BY_CODE}, \
    {"word", true, KEY_MAP, 0, NULL, NULL, "format of the result", "{align: right, in: 16}", &keys_word, BY_CODE}, \
    {"references", whole, KEY_NAMED, 0, NULL, NULL, \
     "references by name: a supply of the board, or a voltage; on a bus `supply` is the supply of the part", \
     references, NULL, BY_CODE}, \
    {"sampling", whole, KEY_MAP, 0, NULL, "no settling error", \
     "sampling capacitor and its switch", \
     "{capacitor: 12 pF, switch: 1k5}", &keys_sampling, BY_CODE}, \
    {"acquisition", whole, KEY_VALUES, TL_DIM_SECOND, NULL, NULL, "acquisition times offered, shortest first", "[0.3 us, 1 us, 3 us]", NULL, BY_CODE}, \
    {"conversion", whole, KEY_VALUE, TL_DIM_SECOND, NULL, "0", \
     "conversion time after the acquisition, up to 100 s", \
     "1 us", NULL, INTO(VALUE, tl_converter, conversion)}, \
    {"errors", false, KEY_MAP, 0, NULL, "0", "largest conversion errors", "{offset: ±2 counts}", &keys_errors, BY_CODE}, \
    {"registers", false, KEY_NAMED, 0, NULL, "none", \
     "setting registers, for `tinyladder word`", \
     "{control: {width: 16, fields: {align: {bits: 7, right: 0, left: 1}}}}", &keys_register, BY_CODE}, \
    {"ranges", false, KEY_VALUES, TL_DIM_VOLT, NULL, "none", \
     "instead of references: input ranges around 0 V or from 0 V; the first is the default", \
     "[±0.1 V, ±1 V]", NULL, BY_CODE}

static const known_key keys_converter_rows[] = {
    CONVERTER_KEYS(true, "{logic: logic, inner: 2.5 V ±0.4 %}"),
    {.name = NULL},
};
const key_section keys_converter = {"converter", "an ADC", keys_converter_rows};

static const known_key keys_converter_file_rows[] = {
    {"tinyladder", true, KEY_TEXT, 0, NULL, NULL, "kind and version of the file", "converter 1", NULL, BY_CODE},
    {"title", false, KEY_TEXT, 0, NULL, NULL, "name of the part", "Dunlin", NULL, BY_CODE},
    {"bus", true, KEY_WORD, 0, "i2c|spi", NULL, "kind of bus", "i2c", NULL, BY_CODE},
    {"supply", true, KEY_QUANTITY, TL_DIM_VOLT, NULL, NULL, "supply voltage range", "2.7 V .. 5.5 V", NULL, INTO(QUANTITY, tl_converter, supply)},
    CONVERTER_KEYS(false, "{inner: 2.048 V ±0.2 %}"),
    {"inputs", true, KEY_NAMES, 0, NULL, NULL, "names of the inputs", "[in-0 .. in-3]", NULL, BY_CODE},
    {"pairs", false, KEY_FREE, 0, NULL, "none", "differential inputs by name, positive input first", "{pair-0: [in-0, in-1]}", NULL, BY_CODE},
    {"limits", false, KEY_LEVELS, 0, NULL, "rail",
     "absolute maximum of the input voltage",
     "-0.3 V .. rail + 0.3 V", NULL, INTO(LEVELS, tl_converter, limits.lowest)},
    {"leakage", false, KEY_QUANTITY, TL_DIM_AMPERE, NULL, "0", "input leakage current", "±50 nA", NULL, INTO(QUANTITY, tl_converter, limits.leakage)},
    {"injection", false, KEY_VALUE, TL_DIM_AMPERE, NULL, "not checked",
     "absolute maximum of the current into the input clamps",
     "1 mA", NULL, INTO(VALUE, tl_converter, limits.injection)},
    {"capacitance", false, KEY_VALUE, TL_DIM_FARAD, NULL, "0", "input capacitance", "7 pF", NULL, INTO(VALUE, tl_converter, limits.farads)},
    {"frame", true, KEY_MAP, 0, NULL, NULL, "bytes on the bus", "{settings: 0x01, result: 0x00, ready: bit 7, longest: 80 ms}", &keys_frame, BY_CODE},
    {.name = NULL},
};
const key_section keys_converter_file = {"converter-file", "an ADC", keys_converter_file_rows};

static const known_key keys_word_rows[] = {
    {"align", false, KEY_WORDS, 0, "right|left|stretched", "right", "alignment of the result; the first of a list is the default", "right", NULL, BY_CODE},
    {"in", false, KEY_WHOLE, 0, "6..32", "8, 16 or 32", "width of the word in bits", "16", NULL, BY_CODE},
    {"sign", false, KEY_WORD, 0, "none|twos-complement|offset-binary", "none", "sign convention", "none", NULL, BY_CODE},
    {"fill", false, KEY_WORD, 0, "zero|sign", "zero", "bits above a signed result", "zero", NULL, BY_CODE},
    {"bytes", false, KEY_WORD, 0, "high-first|low-first|high-only", "high-first", "byte order", "high-first", NULL, INTO(WORD, tl_converter, bytes)},
    {.name = NULL},
};
const key_section keys_word = {"word", "word", keys_word_rows};

static const known_key keys_sampling_rows[] = {
    {"capacitor", true, KEY_VALUE, TL_DIM_FARAD, NULL, NULL, "sampling capacitance", "12 pF", NULL, INTO(VALUE, tl_converter, sample_farads)},
    {"switch", true, KEY_VALUE, TL_DIM_OHM, NULL, NULL, "resistance of the sampling switch", "1k5", NULL, INTO(VALUE, tl_converter, switch_ohms)},
    {"starts-from", false, KEY_TEXT, 0, NULL, "unknown",
     "voltage of the capacitor before the acquisition: `last` (the previous channel), `unknown`, or a precharge voltage",
     "last", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_sampling = {"sampling", "sampling", keys_sampling_rows};

static const known_key keys_errors_rows[] = {
    {"offset", false, KEY_QUANTITY, TL_DIM_COUNT, NULL, "0", "offset error, in counts", "±2 counts", NULL, INTO(SIZE, tl_converter, offset)},
    {"gain", false, KEY_QUANTITY, TL_DIM_COUNT, NULL, "0", "gain error at full scale, in counts", "±4 counts", NULL, INTO(SIZE, tl_converter, gain)},
    {"nonlinearity", false, KEY_QUANTITY, TL_DIM_COUNT, NULL, "0",
     "integral nonlinearity, in counts",
     "±1 counts", NULL, INTO(SIZE, tl_converter, nonlinearity)},
    {"noise", false, KEY_VALUE, TL_DIM_COUNT, NULL, "0", "noise, in counts rms", "0.5 counts", NULL, INTO(SIZE, tl_converter, noise)},
    {"bits", false, KEY_WHOLE, 0, "4..24", "the chosen resolution",
     "resolution at which these errors are stated; they are scaled to the chosen one",
     "12", NULL, INTO(LONG, tl_converter, errors_bits)},
    {"drift", false, KEY_VALUE, TL_DIM_DRIFT, NULL, "0", "temperature drift of the reference", "20 ppm/K", NULL, INTO(VALUE, tl_converter, drift)},
    {.name = NULL},
};
const key_section keys_errors = {"errors", "errors", keys_errors_rows};

static const known_key keys_register_rows[] = {
    {"width", true, KEY_WHOLE, 0, "8..32", NULL, "width of the register in bits", "16", NULL, BY_CODE},
    {"address", false, KEY_FREE, 0, NULL, "none", "register number on I2C", "0x01", NULL, BY_CODE},
    {"fields", true, KEY_FREE, 0, NULL, NULL,
     "fields by name: `bits` (`7` or `0 .. 3`), names of values, and `means` if the name is none of align, bits, channel, input, reference, range, start, acquisition",
     "{align: {bits: 7, right: 0, left: 1}}", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_register = {"register", "a register", keys_register_rows};

static const known_key keys_frame_rows[] = {
    {"settings", false, KEY_FREE, 0, NULL, "none", "I2C: register, by name or number, that is written to start a conversion", "0x01", NULL, BY_CODE},
    {"result", false, KEY_FREE, 0, NULL, "none", "I2C: register of the result", "0x00", NULL, BY_CODE},
    {"ready", false, KEY_FREE, 0, NULL, "none",
     "I2C: bit of the settings register that is 1 when the result is ready; or `bit 15 of status`, `bit 3 of status is 0`",
     "bit 7", NULL, BY_CODE},
    {"also", false, KEY_FREE, 0, NULL, "none", "fields that every conversion sets, by name", "{rate: fast}", NULL, BY_CODE},
    {"longest", false, KEY_VALUE, TL_DIM_SECOND, NULL, NULL, "longest time until the result is ready", "20 ms", NULL, INTO(VALUE, tl_frame, longest)},
    {"send", false, KEY_LIST, 0, NULL, NULL,
     "SPI: bits sent before the result: `0` or `1`, `single`, `channel`, fields of registers",
     "[1, single, channel]", NULL, BY_CODE},
    {"zeros", false, KEY_WHOLE, 0, "0..31", "0", "SPI: number of zero bits before the result, which are checked", "1", NULL, INTO(WHOLE, tl_frame, zeros)},
    {"take", false, KEY_WHOLE, 0, "6..32", NULL, "SPI: number of result bits", "10", NULL, INTO(WHOLE, tl_frame, take)},
    {.name = NULL},
};
const key_section keys_frame = {"frame", "a frame", keys_frame_rows};

static const known_key keys_mux_file_rows[] = {
    {"tinyladder", true, KEY_TEXT, 0, NULL, NULL, "kind and version of the file", "mux 1", NULL, BY_CODE},
    {"title", true, KEY_TEXT, 0, NULL, NULL, "name of the part", "Redshank", NULL, BY_CODE},
    {"inputs", true, KEY_WHOLE, 0, "2..32", NULL, "number of inputs", "8", NULL, INTO(WHOLE, tl_mux_part, inputs)},
    {"enable", false, KEY_WORD, 0, "none|low|high", "none", "active level of the enable line", "low", NULL, INTO(WORD, tl_mux_part, enable)},
    {"on-resistance", true, KEY_QUANTITY, TL_DIM_OHM, NULL, NULL,
     "on-resistance of a switch",
     "70 ohm .. 200 ohm", NULL, INTO(OHMS, tl_mux_part, on_ohms)},
    {"leakage", false, KEY_QUANTITY, TL_DIM_AMPERE, NULL, "0",
     "leakage current of each input that is off",
     "±10 nA", NULL, INTO(QUANTITY, tl_mux_part, leakage)},
    {"capacitance", false, KEY_VALUE, TL_DIM_FARAD, NULL, "0", "capacitance of the common line", "25 pF", NULL, INTO(VALUE, tl_mux_part, farads)},
    {"signals", false, KEY_LEVELS, 0, NULL, "0 V .. rail", "voltage range of the signals", "0 V .. rail", NULL, INTO(LEVELS, tl_mux_part, lowest)},
    {.name = NULL},
};
const key_section keys_mux_file = {"mux-file", "a multiplexer", keys_mux_file_rows};

static const known_key keys_drawer_rows[] = {
    {"tinyladder", true, KEY_TEXT, 0, NULL, NULL, "kind and version of the file", "drawer 1", NULL, BY_CODE},
    {"title", false, KEY_TEXT, 0, NULL, "none", "name of the drawer", "By the bench", NULL, FOR_PEOPLE},
    {"resistors", false, KEY_MAPS, 0, NULL, NULL,
     "resistors in the drawer",
     "[{preferred: E12, over: 100 ohm .. 1M, tolerance: 1 %}]", &keys_entry, BY_CODE},
    {"capacitors", false, KEY_MAPS, 0, NULL, "none", "capacitors in the drawer", "[{values: [100 nF, 220 nF], tolerance: 10 %}]", &keys_entry, BY_CODE},
    {.name = NULL},
};
const key_section keys_drawer = {"drawer", "a drawer", keys_drawer_rows};

static const known_key keys_plug_in_rows[] = {
    {"tinyladder", true, KEY_TEXT, 0, NULL, NULL, "kind and version of the file", "plug-in 1", NULL, BY_CODE},
    {"title", false, KEY_TEXT, 0, NULL, "none", "name of the plug-in board", "Large plug-in board", NULL, FOR_PEOPLE},
    {"columns", true, KEY_WHOLE, 0, "10..200", NULL, "number of strips in each half", "63", NULL, INTO(WHOLE, tl_plug_in, columns)},
    {"rows", false, KEY_WHOLE, 0, "3..8", "5", "holes in a strip", "5", NULL, INTO(WHOLE, tl_plug_in, rows)},
    {"rails", false, KEY_WHOLE, 0, "0..2", "2", "supply rails at each side", "2", NULL, INTO(WHOLE, tl_plug_in, rails)},
    {.name = NULL},
};
const key_section keys_plug_in = {"plug-in", "a plug-in board", keys_plug_in_rows};

static const known_key keys_entry_rows[] = {
    {"preferred", false, KEY_WORD, 0, "E3|E6|E12|E24|E48|E96|E192", NULL, "series of preferred values, with `over`", "E12", NULL, BY_CODE},
    {"over", false, KEY_TEXT, 0, NULL, NULL, "range of the series", "100 ohm .. 1M", NULL, BY_CODE},
    {"values", false, KEY_LIST, 0, NULL, NULL, "list of values, instead of a series", "[6k8, 15k]", NULL, BY_CODE},
    {"tolerance", true, KEY_VALUE, TL_DIM_PERCENT, NULL, NULL, "tolerance of each part", "1 %", NULL, BY_CODE},
    {"power", false, KEY_VALUE, TL_DIM_WATT, NULL, "no limit", "rated power of each part", "0.25 W", NULL, BY_CODE},
    {"count", false, KEY_WHOLE, 0, "0..1000000", "no limit", "number of parts of each value", "10", NULL, BY_CODE},
    {"drift", false, KEY_VALUE, TL_DIM_DRIFT, NULL, "0", "temperature coefficient", "50 ppm/K", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_entry = {"entry", "an entry of a drawer", keys_entry_rows};

static const known_key keys_typical_rows[] = {
    {"range", true, KEY_TEXT, 0, NULL, NULL, "smallest and largest value", "10.5 V .. 14.8 V", NULL, BY_CODE},
    {"typical", true, KEY_TEXT, 0, NULL, NULL, "typical value", "12.6 V", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_typical = {"typical", "a quantity in braces", keys_typical_rows};
