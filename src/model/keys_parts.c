/* The keys of boards, of converters and multiplexers beside them, and of drawers. */
#include "model/keys.h"
#include "tinyladder/design/board.h"

static const known_key keys_board_rows[] = {
    {"tinyladder", true, KEY_TEXT, 0, NULL, NULL, "kind and version", "board 1", NULL, BY_CODE},
    {"title", true, KEY_TEXT, 0, NULL, NULL, "its name", "Lapwing", NULL, BY_CODE},
    {"supplies", true, KEY_NAMED, TL_DIM_VOLT, NULL, NULL, "as in a plan", "{logic: 3.3 V ±2 %}",
     &keys_supply, BY_CODE},
    {"every-pin", true, KEY_MAP, 0, NULL, NULL, "what all pins share; a pin's own entry overrides",
     "{supply: logic, limits: -0.3 V .. rail + 0.3 V, vil: 0.3 rail, vih: 0.7 rail}", &keys_limits, BY_CODE},
    {"pins", true, KEY_NAMED, 0, NULL, NULL, "pins by name, or by a range of names",
     "{A0 .. A3: {position: 1 .. 4, channel: 0 .. 3}, D0 .. D3: {position: 5 .. 8}}", &keys_pin, BY_CODE},
    {"converters", false, KEY_NAMED, 0, NULL, NULL,
     "its own converter, by name; a board without analog inputs has none",
     "{main: {bits: 12, steps: half, word: {align: right, in: 16}, references: {logic: logic}, sampling: "
     "{capacitor: 12 pF, switch: 1k5}, acquisition: [0.3 us, 1 us, 3 us], conversion: 1 us}}",
     &keys_converter, BY_CODE},
    {"header", false, KEY_LIST, 0, NULL, "none", "rows of pin names as seen from above, equally long",
     "[[3V3, L0], [GND, L1]]", NULL, BY_CODE},
    {"template", false, KEY_WORDS, 0,
     "supplies|pins|positions|limits|vil|vih|vol|voh|drives|current|injection|leakage|capacitance|internal|"
     "bits|steps|word|references|"
     "sampling|acquisition|conversion|errors",
     "none", "what of it still is `new board`'s template, and not the board's own", "[leakage, sampling]",
     NULL, BY_CODE},
    {"total-current", false, KEY_VALUE, TL_DIM_AMPERE, NULL, "no limit",
     "that all its pins together may give", "80 mA", NULL, INTO(VALUE, tl_board, total_amperes)},
    {"duty-clock", false, KEY_VALUE, TL_DIM_HERTZ, NULL, "not said",
     "what the timer of its duty outputs counts at most", "16 MHz", NULL, INTO(VALUE, tl_board, duty_clock)},
    {"duty-bits", false, KEY_WHOLE, 0, "4..32", "16", "bits of that timer", "8", NULL,
     INTO(COUNT, tl_board, duty_bits)},
    {.name = NULL},
};
const key_section keys_board = {"board", "a board", keys_board_rows};

/* What all pins share under every-pin, and what a pin's own entry says instead. */
#define LIMIT_ROWS(type, in)                                                                                 \
    {"supply", false, KEY_NAME, 0, NULL, "the first", "which supply feeds it", "logic", NULL, BY_CODE},      \
        {"limits",   false,                                                                                  \
         KEY_LEVELS, 0,                                                                                      \
         NULL,       "none",                                                                                 \
         "absolute", "-0.3 V .. rail + 0.3 V",                                                               \
         NULL,       INTO(LEVELS, type, in lowest)},                                                         \
        {"leakage", false,          KEY_QUANTITY, TL_DIM_AMPERE, NULL,                                       \
         "0",       "of its input", "±50 nA",     NULL,          INTO(QUANTITY, type, in leakage)},          \
        {"capacitance", false,          KEY_VALUE, TL_DIM_FARAD, NULL,                                       \
         "0",           "of its input", "7 pF",    NULL,         INTO(VALUE, type, in farads)},              \
        {"vil",                                                                                              \
         false,                                                                                              \
         KEY_LEVEL,                                                                                          \
         0,                                                                                                  \
         NULL,                                                                                               \
         "not said",                                                                                         \
         "low threshold of its input",                                                                       \
         "0.3 rail",                                                                                         \
         NULL,                                                                                               \
         INTO(LEVEL, type, in vil)},                                                                         \
        {"vih",                                                                                              \
         false,                                                                                              \
         KEY_LEVEL,                                                                                          \
         0,                                                                                                  \
         NULL,                                                                                               \
         "not said",                                                                                         \
         "high threshold",                                                                                   \
         "0.7 rail",                                                                                         \
         NULL,                                                                                               \
         INTO(LEVEL, type, in vih)},                                                                         \
        {"hysteresis", false,          KEY_VALUE, TL_DIM_VOLT, NULL,                                         \
         "0",          "between them", "0.2 V",   NULL,        INTO(VALUE, type, in hysteresis)},            \
        {"internal",         false,          KEY_MAP, 0, NULL, "none", "its own pulls",                      \
         "{up: 30k .. 60k}", &keys_internal, BY_CODE},                                                       \
        {"drives",                                                                                           \
         false,                                                                                              \
         KEY_VALUE,                                                                                          \
         TL_DIM_AMPERE,                                                                                      \
         NULL,                                                                                               \
         "not said",                                                                                         \
         "current that the levels of its output hold for",                                                   \
         "4 mA",                                                                                             \
         NULL,                                                                                               \
         INTO(VALUE, type, in drives)},                                                                      \
        {"current",                                                                                          \
         false,                                                                                              \
         KEY_VALUE,                                                                                          \
         TL_DIM_AMPERE,                                                                                      \
         NULL,                                                                                               \
         "not said",                                                                                         \
         "that it may never give more than",                                                                 \
         "12 mA",                                                                                            \
         NULL,                                                                                               \
         INTO(VALUE, type, in most_amperes)},                                                                \
        {"injection",                                                                                        \
         false,                                                                                              \
         KEY_VALUE,                                                                                          \
         TL_DIM_AMPERE,                                                                                      \
         NULL,                                                                                               \
         "not said",                                                                                         \
         "current that its clamps stand",                                                                    \
         "1 mA",                                                                                             \
         NULL,                                                                                               \
         INTO(VALUE, type, in injection)},                                                                   \
        {"vol",                                                                                              \
         false,                                                                                              \
         KEY_LEVEL,                                                                                          \
         0,                                                                                                  \
         NULL,                                                                                               \
         "0 V",                                                                                              \
         "low level of its output",                                                                          \
         "0.4 V",                                                                                            \
         NULL,                                                                                               \
         INTO(LEVEL, type, in vol)},                                                                         \
    {                                                                                                        \
        "voh", false, KEY_LEVEL, 0, NULL, "rail", "high level", "rail - 0.4 V", NULL,                        \
            INTO(LEVEL, type, in voh)                                                                        \
    }

static const known_key keys_limits_rows[] = {
    LIMIT_ROWS(tl_pin_limits, ),
    {.name = NULL},
};
const key_section keys_limits = {"every-pin", "every-pin", keys_limits_rows};

static const known_key keys_pin_rows[] = {
    {"position", false, KEY_TEXT, 0, "0..9999", "none", "on the header or package", "7", NULL, BY_CODE},
    {"channel", false, KEY_TEXT, 0, NULL, "none", "of the converter", "0 .. 3", NULL, BY_CODE},
    {"can", false, KEY_WORDS, 0, "digital|i2c|spi|spi-clock|spi-in|spi-out", "digital",
     "what else it can; `spi` is all three of its lines", "[digital, i2c]", NULL, BY_CODE},
    {"rail", false, KEY_NAME, 0, NULL, "none", "the pin is a supply or ground", "logic", NULL, BY_CODE},
    LIMIT_ROWS(tl_pin, limits.),
    {"duty", false, KEY_TEXT, 0, NULL, "none", "channel of the duty outputs", "0", NULL, BY_CODE},
    {"wired", false, KEY_MAP, 0, NULL, "none", "what the board itself connects to the pin",
     "{lamp: 1.8 V, series: 1k5}", &keys_wired, BY_CODE},
    {"port", false, KEY_TEXT, 0, NULL, "none", "what a port needs to find it; handed on as it is", "B4", NULL,
     BY_CODE},
    {.name = NULL},
};
const key_section keys_pin = {"pin", "a pin", keys_pin_rows};

static const known_key keys_internal_rows[] = {
    {"up", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "none", "pull-up", "30k .. 60k", NULL,
     INTO(QUANTITY, tl_pin_limits, pull_up)},
    {"down", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "none", "pull-down", "30k .. 60k", NULL,
     INTO(QUANTITY, tl_pin_limits, pull_down)},
    {.name = NULL},
};
const key_section keys_internal = {"internal", "internal", keys_internal_rows};

static const known_key keys_wired_rows[] = {
    {"lamp", true, KEY_QUANTITY, TL_DIM_VOLT, NULL, NULL, "volts of a lamp", "1.8 V", NULL,
     INTO(QUANTITY, tl_pin, lamp)},
    {"series", true, KEY_QUANTITY, TL_DIM_OHM, NULL, NULL, "behind this resistor", "1k5", NULL,
     INTO(OHMS, tl_pin, lamp_ohms)},
    {.name = NULL},
};
const key_section keys_wired = {"wired", "wired", keys_wired_rows};

/* What every converter says; whole: one of the chip's own, which must say all of it. */
#define CONVERTER_KEYS(whole, references)                                                                    \
    {"bits",                                                                                                 \
     true,                                                                                                   \
     KEY_WHOLES,                                                                                             \
     0,                                                                                                      \
     "4..24",                                                                                                \
     NULL,                                                                                                   \
     "4 to 16, on a bus to 24; of a list the first is the default",                                          \
     "12",                                                                                                   \
     NULL,                                                                                                   \
     BY_CODE},                                                                                               \
        {"steps", true, KEY_WORD, 0, "half|full", NULL, "`half`: first step at half an LSB",                 \
         "half",  NULL, BY_CODE},                                                                            \
        {"word",     true,   KEY_MAP, 0, NULL, NULL, "how its result comes", "{align: right, in: 16}",       \
         &keys_word, BY_CODE},                                                                               \
        {"references",                                                                                       \
         whole,                                                                                              \
         KEY_NAMED,                                                                                          \
         0,                                                                                                  \
         NULL,                                                                                               \
         NULL,                                                                                               \
         "name: a supply of the board, volts, or on a bus `supply`, what the part runs on",                  \
         references,                                                                                         \
         NULL,                                                                                               \
         BY_CODE},                                                                                           \
        {"sampling",                                                                                         \
         whole,                                                                                              \
         KEY_MAP,                                                                                            \
         0,                                                                                                  \
         NULL,                                                                                               \
         "it settles by itself",                                                                             \
         "its capacitor",                                                                                    \
         "{capacitor: 12 pF, switch: 1k5}",                                                                  \
         &keys_sampling,                                                                                     \
         BY_CODE},                                                                                           \
        {"acquisition",          whole, KEY_VALUES, TL_DIM_SECOND, NULL, NULL, "times offered, rising",      \
         "[0.3 us, 1 us, 3 us]", NULL,  BY_CODE},                                                            \
        {"conversion",                                                                                       \
         whole,                                                                                              \
         KEY_VALUE,                                                                                          \
         TL_DIM_SECOND,                                                                                      \
         NULL,                                                                                               \
         "0",                                                                                                \
         "time after the acquisition",                                                                       \
         "1 us",                                                                                             \
         NULL,                                                                                               \
         INTO(VALUE, tl_converter, conversion)},                                                             \
        {"errors",     false,  KEY_MAP, 0, NULL, "0", "largest sizes", "{offset: ±2 counts}",                \
         &keys_errors, BY_CODE},                                                                             \
        {"registers",                                                                                        \
         false,                                                                                              \
         KEY_NAMED,                                                                                          \
         0,                                                                                                  \
         NULL,                                                                                               \
         "none",                                                                                             \
         "of its settings, for `word`",                                                                      \
         "{control: {width: 16, fields: {align: {bits: 7, right: 0, left: 1}}}}",                            \
         &keys_register,                                                                                     \
         BY_CODE},                                                                                           \
    {                                                                                                        \
        "ranges", false, KEY_VALUES, TL_DIM_VOLT, NULL, "none",                                              \
            "instead of references: spans around 0 V, or from it; the first is the default",                 \
            "[±0.1 V, ±1 V]", NULL, BY_CODE                                                                  \
    }

static const known_key keys_converter_rows[] = {
    CONVERTER_KEYS(true, "{logic: logic, inner: 2.5 V ±0.4 %}"),
    {.name = NULL},
};
const key_section keys_converter = {"converter", "a converter", keys_converter_rows};

static const known_key keys_converter_file_rows[] = {
    {"tinyladder", true, KEY_TEXT, 0, NULL, NULL, "kind and version", "converter 1", NULL, BY_CODE},
    {"title", false, KEY_TEXT, 0, NULL, NULL, "its name", "Dunlin", NULL, BY_CODE},
    {"bus", true, KEY_WORD, 0, "i2c|spi", NULL, "its supply", "i2c", NULL, BY_CODE},
    {"supply", true, KEY_QUANTITY, TL_DIM_VOLT, NULL, NULL, "volts it needs", "2.7 V .. 5.5 V", NULL,
     INTO(QUANTITY, tl_converter, supply)},
    CONVERTER_KEYS(false, "{inner: 2.048 V ±0.2 %}"),
    {"inputs", true, KEY_NAMES, 0, NULL, NULL, "their names", "[in-0 .. in-3]", NULL, BY_CODE},
    {"pairs", false, KEY_FREE, 0, NULL, "none", "differential ones, the positive input first",
     "{pair-0: [in-0, in-1]}", NULL, BY_CODE},
    {"limits", false, KEY_LEVELS, 0, NULL, "rail", "of its inputs, as of a pin", "-0.3 V .. rail + 0.3 V",
     NULL, INTO(LEVELS, tl_converter, limits.lowest)},
    {"leakage", false, KEY_QUANTITY, TL_DIM_AMPERE, NULL, "0", "leakage of its inputs", "±50 nA", NULL,
     INTO(QUANTITY, tl_converter, limits.leakage)},
    {"injection", false, KEY_VALUE, TL_DIM_AMPERE, NULL, "not said", "clamp current that its inputs allow",
     "1 mA", NULL, INTO(VALUE, tl_converter, limits.injection)},
    {"capacitance", false, KEY_VALUE, TL_DIM_FARAD, NULL, "0", "capacitance of its inputs", "7 pF", NULL,
     INTO(VALUE, tl_converter, limits.farads)},
    {"frame", true, KEY_MAP, 0, NULL, NULL, "what goes over the bus",
     "{settings: 0x01, result: 0x00, ready: bit 7, longest: 80 ms}", &keys_frame, BY_CODE},
    {.name = NULL},
};
const key_section keys_converter_file = {"converter-file", "a converter", keys_converter_file_rows};

static const known_key keys_word_rows[] = {
    {"align", false, KEY_WORDS, 0, "right|left|stretched", "right", "of a list the first", "right", NULL,
     BY_CODE},
    {"in", false, KEY_WHOLE, 0, "6..32", "8, 16 or 32", "bits of the word", "16", NULL, BY_CODE},
    {"sign", false, KEY_WORD, 0, "none|twos-complement|offset-binary", "none", "sign convention", "none",
     NULL, BY_CODE},
    {"fill", false, KEY_WORD, 0, "zero|sign", "zero", "above a signed code", "zero", NULL, BY_CODE},
    {"bytes", false, KEY_WORD, 0, "high-first|low-first|high-only", "high-first", "how they come",
     "high-first", NULL, INTO(WORD, tl_converter, bytes)},
    {.name = NULL},
};
const key_section keys_word = {"word", "word", keys_word_rows};

static const known_key keys_sampling_rows[] = {
    {"capacitor", true, KEY_VALUE, TL_DIM_FARAD, NULL, NULL, "its farads", "12 pF", NULL,
     INTO(VALUE, tl_converter, sample_farads)},
    {"switch", true, KEY_VALUE, TL_DIM_OHM, NULL, NULL, "ohms of its switch", "1k5", NULL,
     INTO(VALUE, tl_converter, switch_ohms)},
    {"starts-from", false, KEY_TEXT, 0, NULL, "unknown",
     "`last` (the previous channel), `unknown`, or the voltage of a precharge", "last", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_sampling = {"sampling", "sampling", keys_sampling_rows};

static const known_key keys_errors_rows[] = {
    {"offset", false, KEY_QUANTITY, TL_DIM_COUNT, NULL, "0", "in counts", "±2 counts", NULL,
     INTO(SIZE, tl_converter, offset)},
    {"gain", false, KEY_QUANTITY, TL_DIM_COUNT, NULL, "0", "at full scale", "±4 counts", NULL,
     INTO(SIZE, tl_converter, gain)},
    {"nonlinearity", false, KEY_QUANTITY, TL_DIM_COUNT, NULL, "0", "in counts", "±1 counts", NULL,
     INTO(SIZE, tl_converter, nonlinearity)},
    {"noise", false, KEY_VALUE, TL_DIM_COUNT, NULL, "0", "rms", "0.5 counts", NULL,
     INTO(SIZE, tl_converter, noise)},
    {"bits", false, KEY_WHOLE, 0, "4..24", "of whatever is chosen",
     "resolution that these counts are stated for; with fewer bits they are fewer", "12", NULL,
     INTO(LONG, tl_converter, errors_bits)},
    {"drift", false, KEY_VALUE, TL_DIM_DRIFT, NULL, "0", "of the reference", "20 ppm/K", NULL,
     INTO(VALUE, tl_converter, drift)},
    {.name = NULL},
};
const key_section keys_errors = {"errors", "errors", keys_errors_rows};

static const known_key keys_register_rows[] = {
    {"width", true, KEY_WHOLE, 0, "8..32", NULL, "bits", "16", NULL, BY_CODE},
    {"address", false, KEY_FREE, 0, NULL, "none", "its number on I2C", "0x01", NULL, BY_CODE},
    {"fields", true, KEY_FREE, 0, NULL, NULL,
     "name: `bits` (`7` or `0 .. 3`), `means` (align, bits, channel, input, reference, range, start or "
     "acquisition, where its "
     "name says something else) and names of values",
     "{align: {bits: 7, right: 0, left: 1}}", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_register = {"register", "a register", keys_register_rows};

static const known_key keys_frame_rows[] = {
    {"settings", false, KEY_FREE, 0, NULL, "none",
     "I2C: register, by name or number, that is written to start a conversion", "0x01", NULL, BY_CODE},
    {"result", false, KEY_FREE, 0, NULL, "none", "I2C: the register of the result", "0x00", NULL, BY_CODE},
    {"ready", false, KEY_FREE, 0, NULL, "none",
     "I2C: bit that is 1 once ready, of the settings; or `bit 15 of status`, `bit 3 of status is 0`", "bit 7",
     NULL, BY_CODE},
    {"also", false, KEY_FREE, 0, NULL, "none", "fields that every conversion sets, by name", "{rate: fast}",
     NULL, BY_CODE},
    {"longest", false, KEY_VALUE, TL_DIM_SECOND, NULL, NULL, "wait until it must be ready", "20 ms", NULL,
     INTO(VALUE, tl_frame, longest)},
    {"send", false, KEY_LIST, 0, NULL, NULL,
     "SPI: what is sent first: bits, `single`, `channel`, fields of registers", "[1, single, channel]", NULL,
     BY_CODE},
    {"zeros", false, KEY_WHOLE, 0, "0..31", "0", "SPI: to verify", "1", NULL, INTO(WHOLE, tl_frame, zeros)},
    {"take", false, KEY_WHOLE, 0, "6..32", NULL, "SPI: bits of the result", "10", NULL,
     INTO(WHOLE, tl_frame, take)},
    {.name = NULL},
};
const key_section keys_frame = {"frame", "a frame", keys_frame_rows};

static const known_key keys_mux_file_rows[] = {
    {"tinyladder", true, KEY_TEXT, 0, NULL, NULL, "kind and version", "mux 1", NULL, BY_CODE},
    {"title", true, KEY_TEXT, 0, NULL, NULL, "its name", "Redshank", NULL, BY_CODE},
    {"inputs", true, KEY_WHOLE, 0, "2..32", NULL, "how many", "8", NULL, INTO(WHOLE, tl_mux_part, inputs)},
    {"enable", false, KEY_WORD, 0, "none|low|high", "none", "its active level", "low", NULL,
     INTO(WORD, tl_mux_part, enable)},
    {"on-resistance", true, KEY_QUANTITY, TL_DIM_OHM, NULL, NULL, "of a closed switch", "70 ohm .. 200 ohm",
     NULL, INTO(OHMS, tl_mux_part, on_ohms)},
    {"leakage", false, KEY_QUANTITY, TL_DIM_AMPERE, NULL, "0", "of each input that is off", "±10 nA", NULL,
     INTO(QUANTITY, tl_mux_part, leakage)},
    {"capacitance", false, KEY_VALUE, TL_DIM_FARAD, NULL, "0", "of the common line", "25 pF", NULL,
     INTO(VALUE, tl_mux_part, farads)},
    {"signals", false, KEY_LEVELS, 0, NULL, "0 V .. rail", "what it passes", "0 V .. rail", NULL,
     INTO(LEVELS, tl_mux_part, lowest)},
    {.name = NULL},
};
const key_section keys_mux_file = {"mux-file", "a multiplexer", keys_mux_file_rows};

static const known_key keys_drawer_rows[] = {
    {"tinyladder", true, KEY_TEXT, 0, NULL, NULL, "kind and version", "drawer 1", NULL, BY_CODE},
    {"title", false, KEY_TEXT, 0, NULL, "none", "its name", "By the bench", NULL, FOR_PEOPLE},
    {"resistors", false, KEY_MAPS, 0, NULL, NULL, "entries",
     "[{preferred: E12, over: 100 ohm .. 1M, tolerance: 1 %}]", &keys_entry, BY_CODE},
    {"capacitors", false, KEY_MAPS, 0, NULL, "none", "entries",
     "[{values: [100 nF, 220 nF], tolerance: 10 %}]", &keys_entry, BY_CODE},
    {.name = NULL},
};
const key_section keys_drawer = {"drawer", "a drawer", keys_drawer_rows};

static const known_key keys_entry_rows[] = {
    {"preferred", false, KEY_WORD, 0, "E3|E6|E12|E24|E48|E96|E192", NULL, "either a series", "E12", NULL,
     BY_CODE},
    {"over", false, KEY_TEXT, 0, NULL, NULL, "and its range", "100 ohm .. 1M", NULL, BY_CODE},
    {"values", false, KEY_LIST, 0, NULL, NULL, "or values", "[6k8, 15k]", NULL, BY_CODE},
    {"tolerance", true, KEY_VALUE, TL_DIM_PERCENT, NULL, NULL, "of each", "1 %", NULL, BY_CODE},
    {"power", false, KEY_VALUE, TL_DIM_WATT, NULL, "no limit", "that each stands", "0.25 W", NULL, BY_CODE},
    {"count", false, KEY_WHOLE, 0, "0..1000000", "plenty", "of each value", "10", NULL, BY_CODE},
    {"drift", false, KEY_VALUE, TL_DIM_DRIFT, NULL, "0", "per kelvin", "50 ppm/K", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_entry = {"entry", "an entry of a drawer", keys_entry_rows};

static const known_key keys_typical_rows[] = {
    {"range", true, KEY_TEXT, 0, NULL, NULL, "its ends", "10.5 V .. 14.8 V", NULL, BY_CODE},
    {"typical", true, KEY_TEXT, 0, NULL, NULL, "what is usual", "12.6 V", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_typical = {"typical", "a quantity in braces", keys_typical_rows};
