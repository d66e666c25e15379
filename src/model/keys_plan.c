/* SPDX-License-Identifier: MIT */
/* The keys of a plan and of its sections. */
#include "model/keys.h"
#include "tinyladder/design/plan.h"

#define FITTED(type)                                                                                         \
    {                                                                                                        \
        "fitted", false, KEY_YES, 0, NULL, "no",                                                             \
            "`yes` if the part came with a module: nothing is taken from the drawer", "yes", NULL,           \
            INTO(YES, type, fitted)                                                                          \
    }

/* One row is one key, and its texts stay whole: the formatter stays away. */
/* clang-format off */
static const known_key plan_keys[] = {
    {"tinyladder", true, KEY_TEXT, 0, NULL, NULL, "kind and version of the file", "plan 1", NULL, BY_CODE},
    {"title", false, KEY_TEXT, 0, NULL, "the file's name", "title of the plan", "Fernhill observatory", NULL, BY_CODE},
    {"board", true, KEY_FILE, 0, NULL, NULL, "the board file", "own.board.yaml", NULL, BY_CODE},
    {"drawer", false, KEY_FILES, 0, NULL, "none",
     "drawer files; parts without a tolerance get the tolerance of their value in the drawer, and `check` counts the parts",
     "bench.drawer.yaml", NULL, BY_CODE},
    {"plug-in", false, KEY_FILE, 0, NULL, "none", "the plug-in board that it is wired on: the bench sheet says which hole each end goes into", "large.plug-in.yaml", NULL, BY_CODE},
    {"include", false, KEY_FILES, 0, NULL, "none",
     "plan files in or below the folder of this file; their sections are added, and a name in two files is an error",
     "[dome.plan.yaml]", NULL, BY_CODE},
    {"ambient", false, KEY_QUANTITY, TL_DIM_CELSIUS, NULL, "25 degC alone", "ambient temperature range, for drift", "-25 .. 45 degC", NULL, BY_CODE},
    {"supplies", false, KEY_NAMED, TL_DIM_VOLT, NULL, "the supplies of the board",
     "supplies by name: a voltage, or keys",
     "{sensor: 5 V ±5 %}", &keys_supply, BY_CODE},
    {"shared", false, KEY_NAMED, 0, NULL, "none",
     "shared nodes by name: a shared node connects several signals",
     "{feed: {from: logic, series: 1k}}", &keys_shared, BY_CODE},
    {"signals", false, KEY_NAMED, 0, NULL, "none, if there are outputs or buses",
     "signals by name",
     "{knob: {source: {potentiometer: 10k ±20 %, top: logic}, pin: A0, reading: {unit: '%'}}, bell: {source: {contact: ground, bounce: 5 ms}, stages: [pull: {up: 10k ±5 %, to: logic}], pin: D0}}", &keys_signal, BY_CODE},
    {"muxes", false, KEY_NAMED, 0, NULL, "none", "multiplexers by name", NULL, &keys_mux, BY_CODE},
    {"buses", false, KEY_NAMED, 0, NULL, "none", "buses by name", NULL, &keys_bus, BY_CODE},
    {"converters", false, KEY_NAMED, 0, NULL, "the ADC of the board",
     "ADCs by name: settings of the ADC of the board, or further ones",
     NULL, &keys_added_converter, BY_CODE},
    {"outputs", false, KEY_NAMED, 0, NULL, "none", "outputs by name", NULL, &keys_output, BY_CODE},
    {"sweeps", false, KEY_NAMED, 0, NULL, "none", "scans by name: signals that are read together", NULL, &keys_sweep, BY_CODE},
    {"meters", false, KEY_NAMED, 0, NULL, "none", "meters by name", "{handheld: {accuracy: 0.5 %}}", &keys_meter, BY_CODE},
    {"modules", false, KEY_NAMED, 0, NULL, "none",
     "modules by name: wired parts that are no signals, such as a display",
     "{display: {supply: logic, current: 20 mA, pins: {VDD: logic, VSS: ground}}}", &keys_module, BY_CODE},
    {.name = NULL},
};
const key_section keys_plan = {"plan", "a plan", plan_keys};

static const known_key include_keys[] = {
    {"tinyladder", true, KEY_TEXT, 0, NULL, NULL, "kind and version of the file", "plan 1", NULL, BY_CODE},
    {"title", false, KEY_TEXT, 0, NULL, "none", "title of the file", "The dome", NULL, FOR_PEOPLE},
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
    {"voltage", true, KEY_QUANTITY, TL_DIM_VOLT, NULL, NULL, "voltage range", "10.5 V .. 14.8 V", NULL, BY_CODE},
    {"current", false, KEY_VALUE, TL_DIM_AMPERE, NULL, "no limit",
     "largest current that the plan may draw",
     "500 uA", NULL, INTO(VALUE, tl_supply, most_amperes)},
    {"resistance", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "0",
     "source resistance; not for a supply that pins run on",
     "80 mohm", NULL, INTO(LOCATED, tl_supply, ohms)},
    {"ripple", false, KEY_VALUE, TL_DIM_VOLT, NULL, "none",
     "ripple, peak to peak, which widens the voltage range",
     "30 mV", NULL, INTO(VALUE, tl_supply, ripple)},
    {"frequency", false, KEY_VALUE, TL_DIM_HERTZ, NULL, "none", "frequency of the ripple", "100 Hz", NULL, INTO(VALUE, tl_supply, ripple_hertz)},
    {"live", false, KEY_WORD, 0, "with-board|always", "with-board",
     "`always` if the supply may be on while the board is off",
     "always", NULL, INTO(SECOND, tl_supply, live)},
    {.name = NULL},
};
const key_section keys_supply = {"supply", "a supply", supply_keys};

static const known_key pin_rail_keys[] = {
    {"pin", true, KEY_NAME, 0, NULL, NULL, "output pin that is used as a supply; it replaces the keys above", "L40", NULL, BY_CODE},
    {"level", true, KEY_WORD, 0, "low|high", NULL, "level that the firmware drives", "high", NULL, INTO(SECOND, tl_supply, high)},
    {.name = NULL},
};
const key_section keys_pin_rail = {"pin-rail", "a pin used as a rail", pin_rail_keys};

static const known_key shared_keys[] = {
    {"from", true, KEY_NAME, 0, NULL, NULL,
     "the rail at its other end: a supply, a shared node defined before it, or ground",
     "sensor", NULL, INTO(RAIL, tl_supply, from)},
    {"series", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "0",
     "resistor, or wire resistance, between that rail and the node",
     "4k7", NULL, INTO(LOCATED, tl_supply, ohms)},
    {"carries", false, KEY_QUANTITY, TL_DIM_AMPERE, NULL, "0",
     "current of other circuits that flows into the node and out through `from`; readings assume 0 A, or its `typical`",
     "0 A .. 0.6 A", NULL, INTO(QUANTITY, tl_supply, carries)},
    FITTED(tl_supply),
    {.name = NULL},
};
const key_section keys_shared = {"shared", "a shared node", shared_keys};

static const known_key signal_keys[] = {
    {"source", true, KEY_SOURCE, 0, NULL, NULL, "the source", "{rail: battery}", NULL, BY_CODE},
    {"stages", false, KEY_STAGES, 0, NULL, "none", "stages between source and pin, in wiring order", "[guard: 1k]", NULL, BY_CODE},
    {"pin", true, KEY_NAME, 0, NULL, NULL, "the pin: of the board, of a multiplexer, of an ADC, or a differential pair", "L4", NULL, BY_CODE},
    {"reading", false, KEY_READING, 0, NULL, "in the first unit that fits", "the reading: unit, filter, percent, faults", "{unit: V}", NULL, BY_CODE},
    {"acquisition", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the shortest one that is long enough",
     "acquisition time",
     "3 us", NULL, INTO(PART, tl_signal, acquisition)},
    {"reference", false, KEY_NAME, 0, NULL, "the reference of the ADC", "reference of the ADC for this signal", "inner", NULL, BY_CODE},
    {"range", false, KEY_QUANTITY, TL_DIM_VOLT, NULL, "the range of the ADC", "input range of the ADC for this signal", "±0.1 V", NULL, BY_CODE},
    {"driven", false, KEY_WORD, 0, "low|high|both", "never", "levels that the firmware also drives on this pin", "high", NULL, BY_CODE},
    {"channel", false, KEY_WHOLE, 0, "0..255", "not compared",
     "ADC channel in existing firmware; compared with the channel of the pin",
     "0", NULL, PLACED(WHOLE, tl_signal, channel, channel_place)},
    {.name = NULL},
};
const key_section keys_signal = {"signal", "a signal", signal_keys};

static const known_key mux_keys[] = {
    {"part", true, KEY_FILE, 0, NULL, NULL, "file of the part", "redshank.mux.yaml", NULL, BY_CODE},
    {"supply", true, KEY_NAME, 0, NULL, NULL, "the supply of the part", "logic", NULL, INTO(SUPPLY, tl_mux, supply)},
    {"select", true, KEY_NAMES, 0, NULL, NULL, "select lines, lowest bit first: pins, or rails that fix a bit", "[L20, L21, ground]", NULL, BY_CODE},
    {"enable", false, KEY_NAME, 0, NULL, "none", "enable line: a pin, or the rail that it is wired to", "L23", NULL, BY_CODE},
    {"common", true, KEY_NAME, 0, NULL, NULL,
     "where the common line goes: a pin, an input of an ADC, an input of another multiplexer",
     "L5", NULL, BY_CODE},
    {"dwell", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the shortest one that is long enough",
     "settling time after switching",
     "20 us", NULL, PLACED(VALUE, tl_mux, dwell, dwell_place)},
    {"tied", false, KEY_FREE, 0, NULL, "open", "rails that unused inputs are wired to", "{5 .. 7: ground}", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_mux = {"mux", "a multiplexer", mux_keys};

static const known_key bus_keys[] = {
    {"pins", true, KEY_FREE, 0, NULL, NULL,
     "pins of the lines: I2C `scl`, `sda`; SPI `clock`, `in`, `out`, as the microcontroller sees them",
     "{scl: L24, sda: L25}", NULL, BY_CODE},
    {"mode", false, KEY_WORD, 0, "standard|fast|fast-plus|spi", "standard", "I2C mode, or `spi`", "fast", NULL, BY_CODE},
    {"low", false, KEY_VALUE, TL_DIM_VOLT, NULL, "0.4 V", "VOL of the weakest device", "0.4 V", NULL, INTO(VALUE, tl_bus, low)},
    {"drives", false, KEY_VALUE, TL_DIM_AMPERE, NULL, "from the mode",
     "current that the weakest device sinks at VOL",
     "3 mA", NULL, INTO(VALUE, tl_bus, drives)},
    {"stages", false, KEY_STAGES, 0, NULL, "none",
     "stages of each line, from the farthest device to the pins",
     "[pull: {up: 4k7, to: logic}, cable: 120 pF]", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_bus = {"bus", "a bus", bus_keys};

static const known_key i2c_pin_keys[] = {
    {"scl", true, KEY_NAME, 0, NULL, NULL, "pin of the clock line", "L24", NULL, BY_CODE},
    {"sda", true, KEY_NAME, 0, NULL, NULL, "pin of the data line", "L25", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_i2c_pins = {"i2c-pins", "the bus", i2c_pin_keys};

static const known_key spi_pin_keys[] = {
    {"clock", true, KEY_NAME, 0, NULL, NULL, "pin of the clock line", "L24", NULL, BY_CODE},
    {"in", false, KEY_NAME, 0, NULL, "none", "pin of the line into the microcontroller", "L25", NULL, BY_CODE},
    {"out", false, KEY_NAME, 0, NULL, "none", "pin of the line out of the microcontroller", "L26", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_spi_pins = {"spi-pins", "the bus", spi_pin_keys};

#define CHOICES \
    {"reference", false, KEY_NAME, 0, NULL, "the first", "reference for all its signals", "inner", NULL, BY_CODE}, \
    {"range", false, KEY_QUANTITY, TL_DIM_VOLT, NULL, "the first", "input range for all its signals", "±0.1 V", NULL, BY_CODE}, \
    {"align", false, KEY_WORD, 0, "right|left|stretched", "the first", "alignment of the result", "left", NULL, BY_CODE}, \
    {"bits", false, KEY_WHOLE, 0, "4..24", "the first", "resolution in bits", "10", NULL, BY_CODE}, \
    {"top", false, KEY_WHOLE, 0, "4..23", "all", "number of upper bits that are used, right-aligned", "8", NULL, BY_CODE}

static const known_key own_keys[] = {CHOICES, {.name = NULL}};
const key_section keys_own_converter = {"own-converter", "the board's ADC", own_keys};

static const known_key added_keys[] = {
    {"part", true, KEY_FILE, 0, NULL, NULL, "file of the part", "dunlin.converter.yaml", NULL, BY_CODE},
    {"supply", true, KEY_NAME, 0, NULL, NULL, "the supply of the part", "logic", NULL, INTO(SUPPLY, tl_plan_converter, supply)},
    {"bus", true, KEY_NAME, 0, NULL, NULL, "the bus that the part is connected to", "inner-bus", NULL, BY_CODE},
    {"address", false, KEY_FREE, 0, NULL, NULL, "I2C address", "0x2a", NULL, BY_CODE},
    {"select", false, KEY_NAME, 0, NULL, NULL, "SPI: the pin that selects the part", "L26", NULL, BY_CODE},
    CHOICES,
    {.name = NULL},
};
const key_section keys_added_converter = {"added-converter", "an ADC on a bus", added_keys};

static const known_key output_keys[] = {
    {"pin", false, KEY_NAME, 0, NULL, NULL, "the pin", "L9", NULL, BY_CODE},
    {"pins", false, KEY_NAMES, 0, NULL, NULL, "the pins, in order", "[L30 .. L39]", NULL, BY_CODE},
    {"from", false, KEY_NAME, 0, NULL, NULL, "the rail that feeds an LED that is always on, instead of a pin", "logic", NULL, BY_CODE},
    {"lamp", false, KEY_QUANTITY, TL_DIM_VOLT, NULL, "none",
     "forward voltage of an LED, or of any lamp that has one; leave it out if the LED is `wired` on the board",
     "1.9 V .. 2.2 V", NULL, INTO(LOCATED, tl_plan_output, lamp)},
    {"series", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "none", "series resistor of the LED", "470 ohm", NULL, INTO(PART, tl_plan_output, series)},
    {"to", false, KEY_NAME, 0, NULL, "ground", "the rail at the other end of the LED", "logic", NULL, INTO(RAIL, tl_plan_output, to)},
    FITTED(tl_plan_output),
    {"driver", false, KEY_MAP, 0, NULL, "none", "transistor for a load that a pin cannot drive", NULL, &keys_driver, BY_CODE},
    {"stages", false, KEY_STAGES, 0, NULL, "none", "stages before the input of another board, instead of a lamp", "[series: 100 ohm]", NULL, BY_CODE},
    {"into", false, KEY_MAP, 0, NULL, "none", "input of the other board", "{vil: 0.8 V, vih: 2 V}", &keys_into, BY_CODE},
    {"rate", false, KEY_VALUE, TL_DIM_HERTZ, NULL, "none",
     "highest frequency of the line, in full cycles per second",
     "1 kHz", NULL, INTO(VALUE, tl_plan_output, rate)},
    {"frequency", false, KEY_VALUE, TL_DIM_HERTZ, NULL, "none", "PWM frequency", "1 kHz", NULL, INTO(VALUE, tl_plan_output, frequency)},
    {"shows", false, KEY_NAME, 0, NULL, "none: the firmware decides", "signal that controls the output", "wind-vane", NULL, BY_CODE},
    {"as", false, KEY_WORD, 0, "follow|inverted|levels|duty|threshold", "follow",
     "`follow`: on while the signal is closed or high; `inverted`: the opposite; `levels`: a bar of LEDs; `duty`: PWM; `threshold`: on and off at two limits. Levels and duty use the percent of the signal, points in %, else the counts",
     "levels", NULL, INTO(WORD, tl_plan_output, as)},
    {"hysteresis", false, KEY_VALUE, TL_DIM_PERCENT, NULL, "0", "levels: hysteresis, in percent", "2 %", NULL, INTO(VALUE, tl_plan_output, hysteresis)},
    {"start-below", false, KEY_FREE, 0, NULL, NULL,
     "threshold: turn on below this value, in the unit of the signal or in percent of its `percent`; or the name of another signal, plus or minus a value (needs `stop-above`)",
     "2 degC", NULL, BY_CODE},
    {"stop-above", false, KEY_FREE, 0, NULL, NULL,
     "threshold: turn off above this value, written like `start-below`",
     "set-point + 2 degC", NULL, BY_CODE},
    {"start-above", false, KEY_FREE, 0, NULL, NULL,
     "threshold: turn on above this value, written like `start-below` (needs `stop-below`)",
     "set-point", NULL, BY_CODE},
    {"stop-below", false, KEY_FREE, 0, NULL, NULL, "threshold: turn off below this value, written like `start-below`", "70 %", NULL, BY_CODE},
    {"safe", false, KEY_WORD, 0, "off|on|hold", "off", "state of the output while its signal reads a fault: in a range of its faults, or a bus that does not answer", "off", NULL, INTO(WORD, tl_plan_output, safe)},
    {.name = NULL},
};
const key_section keys_output = {"output", "an output", output_keys};

static const known_key driver_keys[] = {
    {"way", true, KEY_WORD, 0, "bipolar|n-channel", NULL, "kind of transistor", "n-channel", NULL, BY_CODE},
    {"gain", false, KEY_WHOLE, 0, "1..10000", NULL, "bipolar: forced gain in saturation", "20", NULL, INTO(COUNT, tl_driver, gain)},
    {"saturation", false, KEY_VALUE, TL_DIM_VOLT, NULL, "0.3 V", "bipolar: VCE(sat)", "0.2 V", NULL, OR_ELSE(VALUE, tl_driver, saturation)},
    {"on-resistance", false, KEY_VALUE, TL_DIM_OHM, NULL, NULL,
     "n-channel: RDS(on) at the lowest high level of the pin",
     "60 mohm", NULL, INTO(VALUE, tl_driver, on_ohms)},
    {"gate", false, KEY_VALUE, TL_DIM_FARAD, NULL, "not checked",
     "n-channel: gate charge divided by gate voltage, typical",
     "1.5 nF", NULL, INTO(VALUE, tl_driver, gate_farads)},
    {"series", true, KEY_QUANTITY, TL_DIM_OHM, NULL, NULL, "resistor to the base or gate", "470 ohm", NULL, INTO(PART, tl_driver, series)},
    {"pull", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "none",
     "resistor that keeps the transistor off while the pin is an input",
     "100k", NULL, INTO(PART, tl_driver, pull)},
    {"load", true, KEY_MAP, 0, NULL, NULL, "the load", "{lamp: 3 V ±5 %, series: 330 ohm ±5 %, supply: battery}", &keys_load, BY_CODE},
    {"flyback", false, KEY_YES, 0, NULL, "no", "`yes` if a flyback diode is fitted across the coil", "yes", NULL, INTO(YES, tl_driver, flyback)},
    {.name = NULL},
};
const key_section keys_driver = {"driver", "a driver", driver_keys};

static const known_key load_keys[] = {
    {"resistance", false, KEY_QUANTITY, TL_DIM_OHM, NULL, NULL, "resistance of the load", "80 ohm .. 100 ohm", NULL, INTO(PART, tl_driver, load)},
    {"lamp", false, KEY_QUANTITY, TL_DIM_VOLT, NULL, NULL,
     "forward voltage of an LED, instead of a resistance, with `series`",
     "2.8 V .. 3.4 V", NULL, INTO(LOCATED, tl_driver, lamp)},
    {"series", false, KEY_QUANTITY, TL_DIM_OHM, NULL, NULL, "series resistor of the LED", "470 ohm ±5 %", NULL, INTO(PART, tl_driver, load)},
    {"inductance", false, KEY_VALUE, TL_DIM_HENRY, NULL, "0", "inductance of a coil", "100 mH", NULL, INTO(VALUE, tl_driver, henries)},
    {"supply", true, KEY_NAME, 0, NULL, NULL, "the supply of the load", "battery", NULL, INTO(SUPPLY, tl_driver, supply)},
    {.name = NULL},
};
const key_section keys_load = {"load", "a load", load_keys};

static const known_key into_keys[] = {
    {"vil", true, KEY_LEVEL, 0, NULL, NULL, "VIL of that input", "0.8 V", NULL, INTO(LEVEL, tl_pin_limits, vil)},
    {"vih", true, KEY_LEVEL, 0, NULL, NULL, "VIH of that input", "2 V", NULL, INTO(LEVEL, tl_pin_limits, vih)},
    {"limits", false, KEY_LEVELS, 0, NULL, "none", "absolute maximum of its voltage", "-0.3 V .. 5.5 V", NULL, INTO(LEVELS, tl_pin_limits, lowest)},
    {"leakage", false, KEY_QUANTITY, TL_DIM_AMPERE, NULL, "0", "leakage current of that input", "±1 uA", NULL, INTO(QUANTITY, tl_pin_limits, leakage)},
    {.name = NULL},
};
const key_section keys_into = {"into", "an input of another board", into_keys};

static const known_key sweep_keys[] = {
    {"signals", true, KEY_NAMES, 0, NULL, NULL, "signals, in the order of the scan", "[heater-1 .. heater-8]", NULL, BY_CODE},
    {"every", false, KEY_VALUE, TL_DIM_SECOND, NULL, "as fast as possible",
     "interval between scans",
     "500 ms", NULL, PLACED(VALUE, tl_plan_sweep, every, every_place)},
    {"discard", false, KEY_WHOLE, 0, "0..16", "0", "dummy conversions after switching", "1", NULL, INTO(WHOLE, tl_plan_sweep, discard)},
    {"sleep", false, KEY_YES, 0, NULL, "no", "`yes` if the ADC is off between scans", "yes", NULL, INTO(YES, tl_plan_sweep, sleep)},
    {.name = NULL},
};
const key_section keys_sweep = {"sweep", "a sweep", sweep_keys};

static const known_key module_keys[] = {
    {"pins", true, KEY_NAMED, 0, NULL, NULL,
     "pins of the module by name: the rail, the shared node or the board pin that each is connected to; `open`; or keys",
     "{VDD: logic, VSS: ground, RW: ground, D4 .. D7: L30 .. L33, A: {to: logic, series: 220 ohm}}", &keys_module_pin, BY_CODE},
    {"supply", false, KEY_NAME, 0, NULL, "none", "the supply of the module", "logic", NULL, INTO(SUPPLY, tl_module, supply)},
    {"current", false, KEY_QUANTITY, TL_DIM_AMPERE, NULL, "0",
     "supply current of the module, with `supply`",
     "2 mA .. 20 mA", NULL, INTO(QUANTITY, tl_module, amperes)},
    {"return", false, KEY_NAME, 0, NULL, "ground",
     "the shared node in the ground wire that the current returns through",
     "back", NULL, INTO(RAIL, tl_module, back)},
    {.name = NULL},
};
const key_section keys_module = {"module", "a module", module_keys};

static const known_key module_pin_keys[] = {
    {"to", true, KEY_TEXT, 0, NULL, NULL, "the rail, the shared node or the board pin that it is connected to", "logic", NULL, BY_CODE},
    {"series", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "none", "series resistor", "220 ohm", NULL, INTO(PART, tl_module_pin, series)},
    {.name = NULL},
};
const key_section keys_module_pin = {"module-pin", "a pin of a module", module_pin_keys};

static const known_key meter_keys[] = {
    {"resistance", false, KEY_VALUE, TL_DIM_OHM, NULL, "10 Mohm", "input resistance", "10 Mohm", NULL, OR_ELSE(VALUE, tl_meter, ohms)},
    {"accuracy", false, KEY_VALUE, TL_DIM_PERCENT, NULL, "0", "accuracy, in percent of the reading", "0.5 %", NULL, INTO(VALUE, tl_meter, accuracy)},
    {"of-range", false, KEY_VALUE, TL_DIM_PERCENT, NULL, "0",
     "accuracy, in percent of the range, in addition",
     "0.1 %", NULL, INTO(VALUE, tl_meter, of_range)},
    {"range", false, KEY_VALUE, TL_DIM_VOLT, NULL, "0", "measuring range, for `of-range`", "20 V", NULL, INTO(VALUE, tl_meter, range)},
    {"digits", false, KEY_WHOLE, 0, "0..1000", "0", "accuracy, in digits, in addition", "3", NULL, INTO(WHOLE, tl_meter, digits)},
    {"digit", false, KEY_VALUE, TL_DIM_VOLT, NULL, "0", "value of one digit, for `digits`", "1 mV", NULL, INTO(VALUE, tl_meter, digit)},
    {.name = NULL},
};
const key_section keys_meter = {"meter", "a meter", meter_keys};
