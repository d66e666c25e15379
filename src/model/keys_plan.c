/* The keys of a plan and of its sections. */
#include "model/keys.h"
#include "tinyladder/design/plan.h"

#define FITTED(type)                                                                                         \
    {                                                                                                        \
        "fitted", false, KEY_YES, 0, NULL, "no", "came with a module: takes nothing from the drawer", "yes", \
            NULL, INTO(YES, type, fitted)                                                                    \
    }

static const known_key plan_keys[] = {
    {"tinyladder", true, KEY_TEXT, 0, NULL, NULL, "the file's kind and version", "plan 1", NULL, BY_CODE},
    {"title", false, KEY_TEXT, 0, NULL, "the file's name", "what people call it", "Fernhill observatory",
     NULL, BY_CODE},
    {"board", true, KEY_FILE, 0, NULL, NULL, "the board file", "own.board.yaml", NULL, BY_CODE},
    {"drawer", false, KEY_FILES, 0, NULL, "none",
     "drawer files: parts without a tolerance of their own take that of their value there, and `check` "
     "counts them",
     "bench.drawer.yaml", NULL, BY_CODE},
    {"include", false, KEY_FILES, 0, NULL, "none",
     "plan files, below this one's folder, whose sections join these; one name in both is an error",
     "[dome.plan.yaml]", NULL, BY_CODE},
    {"ambient", false, KEY_QUANTITY, TL_DIM_CELSIUS, NULL, "25 degC alone",
     "the temperatures that drift is counted over", "-25 .. 45 degC", NULL, BY_CODE},
    {"supplies", false, KEY_NAMED, TL_DIM_VOLT, NULL, "the board's alone",
     "supplies by name: volts, or in full", "{sensor: 5 V ±5 %}", &keys_supply, BY_CODE},
    {"shared", false, KEY_NAMED, 0, NULL, "none", "nodes that several chains hang on",
     "{feed: {from: logic, series: 1k}}", &keys_shared, BY_CODE},
    {"signals", false, KEY_NAMED, 0, NULL, "none, where there are outputs or buses", "signals by name",
     "{knob: {source: {potentiometer: 10k ±20 %, top: logic}, pin: A0, reading: {unit: '%'}}, bell: {source: "
     "{contact: ground, bounce: 5 ms}, stages: [pull: {up: 10k ±5 %, to: logic}], pin: D0}}",
     &keys_signal, BY_CODE},
    {"muxes", false, KEY_NAMED, 0, NULL, "none", "multiplexers by name", NULL, &keys_mux, BY_CODE},
    {"buses", false, KEY_NAMED, 0, NULL, "none", "buses by name", NULL, &keys_bus, BY_CODE},
    {"converters", false, KEY_NAMED, 0, NULL, "the board's as it is",
     "the board's own converter by its name, or further ones", NULL, &keys_added_converter, BY_CODE},
    {"outputs", false, KEY_NAMED, 0, NULL, "none", "outputs by name", NULL, &keys_output, BY_CODE},
    {"sweeps", false, KEY_NAMED, 0, NULL, "none", "what is read in one go, by name", NULL, &keys_sweep,
     BY_CODE},
    {"meters", false, KEY_NAMED, 0, NULL, "none", "meters by name", "{handheld: {accuracy: 0.5 %}}",
     &keys_meter, BY_CODE},
    {"modules", false, KEY_NAMED, 0, NULL, "none", "what is wired and is no signal, by name",
     "{display: {supply: logic, current: 20 mA, pins: {VDD: logic, VSS: ground}}}", &keys_module, BY_CODE},
    {.name = NULL},
};
const key_section keys_plan = {"plan", "a plan", plan_keys};

static const known_key include_keys[] = {
    {"tinyladder", true, KEY_TEXT, 0, NULL, NULL, "the file's kind and version", "plan 1", NULL, BY_CODE},
    {"title", false, KEY_TEXT, 0, NULL, "none", "what people call it", "The dome", NULL, FOR_PEOPLE},
    {"supplies", false, KEY_NAMED, TL_DIM_VOLT, NULL, "none", "as in a plan", NULL, &keys_supply, BY_CODE},
    {"shared", false, KEY_NAMED, 0, NULL, "none", "as in a plan", NULL, &keys_shared, BY_CODE},
    {"signals", false, KEY_NAMED, 0, NULL, "none", "as in a plan", NULL, &keys_signal, BY_CODE},
    {"muxes", false, KEY_NAMED, 0, NULL, "none", "as in a plan", NULL, &keys_mux, BY_CODE},
    {"buses", false, KEY_NAMED, 0, NULL, "none", "as in a plan", NULL, &keys_bus, BY_CODE},
    {"converters", false, KEY_NAMED, 0, NULL, "none", "as in a plan", NULL, &keys_added_converter, BY_CODE},
    {"outputs", false, KEY_NAMED, 0, NULL, "none", "as in a plan", NULL, &keys_output, BY_CODE},
    {"sweeps", false, KEY_NAMED, 0, NULL, "none", "as in a plan", NULL, &keys_sweep, BY_CODE},
    {"meters", false, KEY_NAMED, 0, NULL, "none", "as in a plan", NULL, &keys_meter, BY_CODE},
    {"modules", false, KEY_NAMED, 0, NULL, "none", "as in a plan", NULL, &keys_module, BY_CODE},
    {.name = NULL},
};
const key_section keys_include = {"include", "an included plan", include_keys};

static const known_key supply_keys[] = {
    {"voltage", true, KEY_QUANTITY, TL_DIM_VOLT, NULL, NULL, "its range", "10.5 V .. 14.8 V", NULL, BY_CODE},
    {"current", false, KEY_VALUE, TL_DIM_AMPERE, NULL, "no limit", "the most that the plan may draw from it",
     "500 uA", NULL, INTO(VALUE, tl_supply, most_amperes)},
    {"resistance", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "0", "its own; not for one that pins run on",
     "80 mohm", NULL, INTO(LOCATED, tl_supply, ohms)},
    {"ripple", false, KEY_VALUE, TL_DIM_VOLT, NULL, "none", "volts peak to peak, which widen its range",
     "30 mV", NULL, INTO(VALUE, tl_supply, ripple)},
    {"frequency", false, KEY_VALUE, TL_DIM_HERTZ, NULL, "none", "of the ripple", "100 Hz", NULL,
     INTO(VALUE, tl_supply, ripple_hertz)},
    {"live", false, KEY_WORD, 0, "with-board|always", "with-board",
     "`always`: may be there while the board is off", "always", NULL, INTO(SECOND, tl_supply, live)},
    {.name = NULL},
};
const key_section keys_supply = {"supply", "a supply", supply_keys};

static const known_key pin_rail_keys[] = {
    {"pin", true, KEY_NAME, 0, NULL, NULL, "instead of all these: an output pin used as a rail", "L40", NULL,
     BY_CODE},
    {"level", true, KEY_WORD, 0, "low|high", NULL, "what it is held at", "high", NULL,
     INTO(SECOND, tl_supply, high)},
    {.name = NULL},
};
const key_section keys_pin_rail = {"pin-rail", "a pin used as a rail", pin_rail_keys};

static const known_key shared_keys[] = {
    {"from", true, KEY_NAME, 0, NULL, NULL,
     "the rail at its other end: a supply, a shared node that stands before it, or ground", "sensor", NULL,
     INTO(RAIL, tl_supply, from)},
    {"series", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "0", "the resistor, or the wire, to it", "4k7", NULL,
     INTO(LOCATED, tl_supply, ohms)},
    {"carries", false, KEY_QUANTITY, TL_DIM_AMPERE, NULL, "0",
     "foreign current that flows in here and out over `from`; readings assume 0 A of it, or its `typical`",
     "0 A .. 0.6 A", NULL, INTO(QUANTITY, tl_supply, carries)},
    FITTED(tl_supply),
    {.name = NULL},
};
const key_section keys_shared = {"shared", "a shared node", shared_keys};

static const known_key signal_keys[] = {
    {"source", true, KEY_SOURCE, 0, NULL, NULL, "where it comes from", "{rail: battery}", NULL, BY_CODE},
    {"stages", false, KEY_STAGES, 0, NULL, "none", "what stands between, in wiring order", "[guard: 1k]",
     NULL, BY_CODE},
    {"pin", true, KEY_NAME, 0, NULL, NULL,
     "where it ends: a pin, a multiplexer's or a converter's input, a pair", "L4", NULL, BY_CODE},
    {"reading", false, KEY_READING, 0, NULL, "the first unit of what is read", "what it means", "{unit: V}",
     NULL, BY_CODE},
    {"acquisition", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the shortest offered that is enough",
     "time that the sampling capacitor is connected", "3 us", NULL, INTO(PART, tl_signal, acquisition)},
    {"reference", false, KEY_NAME, 0, NULL, "the converter's", "of its converter, for this signal", "inner",
     NULL, BY_CODE},
    {"range", false, KEY_QUANTITY, TL_DIM_VOLT, NULL, "the converter's",
     "range of its converter, for this signal", "±0.1 V", NULL, BY_CODE},
    {"driven", false, KEY_WORD, 0, "low|high|both", "never", "the firmware also drives this pin", "high",
     NULL, BY_CODE},
    {"channel", false, KEY_WHOLE, 0, "0..255", "not compared",
     "what existing firmware converts; compared with the pin's, not used", "0", NULL,
     PLACED(WHOLE, tl_signal, channel, channel_place)},
    {.name = NULL},
};
const key_section keys_signal = {"signal", "a signal", signal_keys};

static const known_key mux_keys[] = {
    {"part", true, KEY_FILE, 0, NULL, NULL, "the part's file", "redshank.mux.yaml", NULL, BY_CODE},
    {"supply", true, KEY_NAME, 0, NULL, NULL, "what it runs on", "logic", NULL, INTO(SUPPLY, tl_mux, supply)},
    {"select", true, KEY_NAMES, 0, NULL, NULL, "its lines, lowest bit first: pins, or rails that hold one",
     "[L20, L21, ground]", NULL, BY_CODE},
    {"enable", false, KEY_NAME, 0, NULL, "none", "its enable line: a pin, or a rail that holds it", "L23",
     NULL, BY_CODE},
    {"common", true, KEY_NAME, 0, NULL, NULL, "a pin, a converter's input, another multiplexer's input", "L5",
     NULL, BY_CODE},
    {"dwell", false, KEY_VALUE, TL_DIM_SECOND, NULL, "enough", "wait after switching", "20 us", NULL,
     PLACED(VALUE, tl_mux, dwell, dwell_place)},
    {"tied", false, KEY_FREE, 0, NULL, "open", "unused inputs and their rail", "{5 .. 7: ground}", NULL,
     BY_CODE},
    {.name = NULL},
};
const key_section keys_mux = {"mux", "a multiplexer", mux_keys};

static const known_key bus_keys[] = {
    {"pins", true, KEY_FREE, 0, NULL, NULL,
     "of I2C `scl`, `sda`; of SPI `clock`, `in`, `out` as the microcontroller sees them",
     "{scl: L24, sda: L25}", NULL, BY_CODE},
    {"mode", false, KEY_WORD, 0, "standard|fast|fast-plus|spi", "standard", "how fast, and which kind",
     "fast", NULL, BY_CODE},
    {"low", false, KEY_VALUE, TL_DIM_VOLT, NULL, "0.4 V", "low level of the weakest driver", "0.4 V", NULL,
     INTO(VALUE, tl_bus, low)},
    {"drives", false, KEY_VALUE, TL_DIM_AMPERE, NULL, "the mode's", "what it sinks at that", "3 mA", NULL,
     INTO(VALUE, tl_bus, drives)},
    {"stages", false, KEY_STAGES, 0, NULL, "none", "of each line, from the far device to the pins",
     "[pull: {up: 4k7, to: logic}, cable: 120 pF]", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_bus = {"bus", "a bus", bus_keys};

static const known_key i2c_pin_keys[] = {
    {"scl", true, KEY_NAME, 0, NULL, NULL, "the clock's pin", "L24", NULL, BY_CODE},
    {"sda", true, KEY_NAME, 0, NULL, NULL, "the data's pin", "L25", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_i2c_pins = {"i2c-pins", "the bus", i2c_pin_keys};

static const known_key spi_pin_keys[] = {
    {"clock", true, KEY_NAME, 0, NULL, NULL, "the clock's pin", "L24", NULL, BY_CODE},
    {"in", false, KEY_NAME, 0, NULL, "none", "into the microcontroller", "L25", NULL, BY_CODE},
    {"out", false, KEY_NAME, 0, NULL, "none", "out of it", "L26", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_spi_pins = {"spi-pins", "the bus", spi_pin_keys};

#define CHOICES                                                                                              \
    {"reference", false, KEY_NAME, 0, NULL, "the first", "for all its signals, of what the part offers",     \
     "inner",     NULL,  BY_CODE},                                                                           \
        {"range",  false, KEY_QUANTITY, TL_DIM_VOLT, NULL, "the first", "range of the converter",            \
         "±0.1 V", NULL,  BY_CODE},                                                                          \
        {"align", false, KEY_WORD, 0, "right|left|stretched", "the first", "alignment of the result",        \
         "left",  NULL,  BY_CODE},                                                                           \
        {"bits", false, KEY_WHOLE, 0, "4..24", "the first", "resolution in bits", "10", NULL, BY_CODE},      \
    {                                                                                                        \
        "top", false, KEY_WHOLE, 0, "4..23", "all",                                                          \
            "upper bits of a result that are read, handed over aligned right", "8", NULL, BY_CODE            \
    }

static const known_key own_keys[] = {CHOICES, {.name = NULL}};
const key_section keys_own_converter = {"own-converter", "the board's converter", own_keys};

static const known_key added_keys[] = {
    {"part", true, KEY_FILE, 0, NULL, NULL, "of a further one: its file", "dunlin.converter.yaml", NULL,
     BY_CODE},
    {"supply", true, KEY_NAME, 0, NULL, NULL, "what it runs on", "logic", NULL,
     INTO(SUPPLY, tl_plan_converter, supply)},
    {"bus", true, KEY_NAME, 0, NULL, NULL, "where it hangs", "inner-bus", NULL, BY_CODE},
    {"address", false, KEY_FREE, 0, NULL, NULL, "on I2C its address", "0x2a", NULL, BY_CODE},
    {"select", false, KEY_NAME, 0, NULL, NULL, "on SPI the pin that selects it", "L26", NULL, BY_CODE},
    CHOICES,
    {.name = NULL},
};
const key_section keys_added_converter = {"added-converter", "a converter on a bus", added_keys};

static const known_key output_keys[] = {
    {"pin", false, KEY_NAME, 0, NULL, NULL, "which", "L9", NULL, BY_CODE},
    {"pins", false, KEY_NAMES, 0, NULL, NULL, "or which ones", "[L30 .. L39]", NULL, BY_CODE},
    {"from", false, KEY_NAME, 0, NULL, NULL,
     "instead of a pin: the rail that feeds an LED which is always on", "logic", NULL, BY_CODE},
    {"lamp", false, KEY_QUANTITY, TL_DIM_VOLT, NULL, "none",
     "forward volts of a lamp; a pin whose lamp is `wired` on the board needs none", "1.9 V .. 2.2 V", NULL,
     INTO(LOCATED, tl_plan_output, lamp)},
    {"series", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "none", "its resistor", "470 ohm", NULL,
     INTO(PART, tl_plan_output, series)},
    {"to", false, KEY_NAME, 0, NULL, "ground", "the rail at the lamp's other end", "logic", NULL,
     INTO(RAIL, tl_plan_output, to)},
    FITTED(tl_plan_output),
    {"driver", false, KEY_MAP, 0, NULL, "none", "a transistor for what a pin cannot drive", NULL,
     &keys_driver, BY_CODE},
    {"stages", false, KEY_STAGES, 0, NULL, "none", "instead: the stages before an input of another board",
     "[series: 100 ohm]", NULL, BY_CODE},
    {"into", false, KEY_MAP, 0, NULL, "none", "the input of another board", "{vil: 0.8 V, vih: 2 V}",
     &keys_into, BY_CODE},
    {"rate", false, KEY_VALUE, TL_DIM_HERTZ, NULL, "none", "highest rate of a line", "1 kHz", NULL,
     INTO(VALUE, tl_plan_output, rate)},
    {"frequency", false, KEY_VALUE, TL_DIM_HERTZ, NULL, "none", "of a duty output", "1 kHz", NULL,
     INTO(VALUE, tl_plan_output, frequency)},
    {"shows", false, KEY_NAME, 0, NULL, "the firmware decides", "a signal", "wind-vane", NULL, BY_CODE},
    {"as", false, KEY_WORD, 0, "follow|inverted|levels|duty|threshold", "follow",
     "what it does with that signal; levels and duty follow its percent, points in %, else its "
     "count",
     "levels", NULL, INTO(WORD, tl_plan_output, as)},
    {"hysteresis", false, KEY_VALUE, TL_DIM_PERCENT, NULL, "0", "of levels, in percent", "2 %", NULL,
     INTO(VALUE, tl_plan_output, hysteresis)},
    {"start-below", false, KEY_FREE, 0, NULL, NULL,
     "of a threshold, in the unit of what it shows, or of its percent; or what another signal shows and so "
     "much more or less; with `stop-above`",
     "2 degC", NULL, BY_CODE},
    {"stop-above", false, KEY_FREE, 0, NULL, NULL, "see `start-below`", "set-point + 2 degC", NULL, BY_CODE},
    {"start-above", false, KEY_FREE, 0, NULL, NULL,
     "of a threshold, written like `start-below`; with `stop-below`", "set-point", NULL, BY_CODE},
    {"stop-below", false, KEY_FREE, 0, NULL, NULL, "see `start-above`", "70 %", NULL, BY_CODE},
    {"safe", false, KEY_WORD, 0, "off|on|hold", "off", "what it shows on a fault", "off", NULL,
     INTO(WORD, tl_plan_output, safe)},
    {.name = NULL},
};
const key_section keys_output = {"output", "an output", output_keys};

static const known_key driver_keys[] = {
    {"way", true, KEY_WORD, 0, "bipolar|n-channel", NULL, "which transistor", "n-channel", NULL, BY_CODE},
    {"gain", false, KEY_WHOLE, 0, "1..10000", NULL, "bipolar: the forced gain it needs", "20", NULL,
     INTO(COUNT, tl_driver, gain)},
    {"saturation", false, KEY_VALUE, TL_DIM_VOLT, NULL, "0.3 V", "bipolar: volts across it when it is on",
     "0.2 V", NULL, OR_ELSE(VALUE, tl_driver, saturation)},
    {"on-resistance", false, KEY_VALUE, TL_DIM_OHM, NULL, NULL, "n-channel: at the pin's lowest high level",
     "60 mohm", NULL, INTO(VALUE, tl_driver, on_ohms)},
    {"gate", false, KEY_VALUE, TL_DIM_FARAD, NULL, "not said",
     "n-channel: its gate's charge over the volts it is given for, typical", "1.5 nF", NULL,
     INTO(VALUE, tl_driver, gate_farads)},
    {"series", true, KEY_QUANTITY, TL_DIM_OHM, NULL, NULL, "to base or gate", "470 ohm", NULL,
     INTO(PART, tl_driver, series)},
    {"pull", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "none",
     "resistor that keeps it off while the pin is an input", "100k", NULL, INTO(PART, tl_driver, pull)},
    {"load", true, KEY_MAP, 0, NULL, NULL, "what it switches",
     "{lamp: 3 V ±5 %, series: 330 ohm ±5 %, supply: battery}", &keys_load, BY_CODE},
    {"flyback", false, KEY_YES, 0, NULL, "no", "a diode takes over the current of a coil", "yes", NULL,
     INTO(YES, tl_driver, flyback)},
    {.name = NULL},
};
const key_section keys_driver = {"driver", "a driver", driver_keys};

static const known_key load_keys[] = {
    {"resistance", false, KEY_QUANTITY, TL_DIM_OHM, NULL, NULL, "its ohms", "80 ohm .. 100 ohm", NULL,
     INTO(PART, tl_driver, load)},
    {"lamp", false, KEY_QUANTITY, TL_DIM_VOLT, NULL, NULL, "or a lamp: its forward volts, with `series`",
     "2.8 V .. 3.4 V", NULL, INTO(LOCATED, tl_driver, lamp)},
    {"series", false, KEY_QUANTITY, TL_DIM_OHM, NULL, NULL, "and its resistor", "470 ohm ±5 %", NULL,
     INTO(PART, tl_driver, load)},
    {"inductance", false, KEY_VALUE, TL_DIM_HENRY, NULL, "0", "of a coil", "100 mH", NULL,
     INTO(VALUE, tl_driver, henries)},
    {"supply", true, KEY_NAME, 0, NULL, NULL, "the rail that supplies it", "battery", NULL,
     INTO(SUPPLY, tl_driver, supply)},
    {.name = NULL},
};
const key_section keys_load = {"load", "a load", load_keys};

static const known_key into_keys[] = {
    {"vil", true, KEY_LEVEL, 0, NULL, NULL, "its low threshold", "0.8 V", NULL,
     INTO(LEVEL, tl_pin_limits, vil)},
    {"vih", true, KEY_LEVEL, 0, NULL, NULL, "its high threshold", "2 V", NULL,
     INTO(LEVEL, tl_pin_limits, vih)},
    {"limits", false, KEY_LEVELS, 0, NULL, "none", "its absolute limits", "-0.3 V .. 5.5 V", NULL,
     INTO(LEVELS, tl_pin_limits, lowest)},
    {"leakage", false, KEY_QUANTITY, TL_DIM_AMPERE, NULL, "0", "of its input", "±1 uA", NULL,
     INTO(QUANTITY, tl_pin_limits, leakage)},
    {.name = NULL},
};
const key_section keys_into = {"into", "an input of another board", into_keys};

static const known_key sweep_keys[] = {
    {"signals", true, KEY_NAMES, 0, NULL, NULL, "which, in order", "[heater-1 .. heater-8]", NULL, BY_CODE},
    {"every", false, KEY_VALUE, TL_DIM_SECOND, NULL, "as fast as can be", "wanted interval", "500 ms", NULL,
     PLACED(VALUE, tl_plan_sweep, every, every_place)},
    {"discard", false, KEY_WHOLE, 0, "0..16", "0", "dummy conversions after switching", "1", NULL,
     INTO(WHOLE, tl_plan_sweep, discard)},
    {"sleep", false, KEY_YES, 0, NULL, "no", "the converter is off between sweeps", "yes", NULL,
     INTO(YES, tl_plan_sweep, sleep)},
    {.name = NULL},
};
const key_section keys_sweep = {"sweep", "a sweep", sweep_keys};

static const known_key module_keys[] = {
    {"pins", true, KEY_NAMED, 0, NULL, NULL,
     "each with the rail, the shared node or the board's pin that it goes to; `open`; or in full",
     "{VDD: logic, VSS: ground, RW: ground, D4 .. D7: L30 .. L33, A: {to: logic, series: 220 ohm}}",
     &keys_module_pin, BY_CODE},
    {"supply", false, KEY_NAME, 0, NULL, "none", "the rail that its current comes from", "logic", NULL,
     INTO(SUPPLY, tl_module, supply)},
    {"current", false, KEY_QUANTITY, TL_DIM_AMPERE, NULL, "0", "that it takes; with `supply`",
     "2 mA .. 20 mA", NULL, INTO(QUANTITY, tl_module, amperes)},
    {"return", false, KEY_NAME, 0, NULL, "ground", "the shared ground wire that it goes back through", "back",
     NULL, INTO(RAIL, tl_module, back)},
    {.name = NULL},
};
const key_section keys_module = {"module", "a module", module_keys};

static const known_key module_pin_keys[] = {
    {"to", true, KEY_TEXT, 0, NULL, NULL, "the rail, the shared node or the board's pin", "logic", NULL,
     BY_CODE},
    {"series", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "none", "a resistor between", "220 ohm", NULL,
     INTO(PART, tl_module_pin, series)},
    {.name = NULL},
};
const key_section keys_module_pin = {"module-pin", "a pin of a module", module_pin_keys};

static const known_key meter_keys[] = {
    {"resistance", false, KEY_VALUE, TL_DIM_OHM, NULL, "10 Mohm", "of its input", "10 Mohm", NULL,
     OR_ELSE(VALUE, tl_meter, ohms)},
    {"accuracy", false, KEY_VALUE, TL_DIM_PERCENT, NULL, "0", "of reading", "0.5 %", NULL,
     INTO(VALUE, tl_meter, accuracy)},
    {"of-range", false, KEY_VALUE, TL_DIM_PERCENT, NULL, "0", "and of its range", "0.1 %", NULL,
     INTO(VALUE, tl_meter, of_range)},
    {"range", false, KEY_VALUE, TL_DIM_VOLT, NULL, "0", "which is so large", "20 V", NULL,
     INTO(VALUE, tl_meter, range)},
    {"digits", false, KEY_WHOLE, 0, "0..1000", "0", "number of digits", "3", NULL,
     INTO(WHOLE, tl_meter, digits)},
    {"digit", false, KEY_VALUE, TL_DIM_VOLT, NULL, "0", "of one digit", "1 mV", NULL,
     INTO(VALUE, tl_meter, digit)},
    {.name = NULL},
};
const key_section keys_meter = {"meter", "a meter", meter_keys};
