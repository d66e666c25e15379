/* SPDX-License-Identifier: MIT */
/* The keys of a chain: its source, its stages, its reading. */
#include "model/keys.h"
#include "tinyladder/design/plan.h"

#define FITTED(type) \
    {"fitted", false, KEY_YES, 0, NULL, "no", \
     "`yes` if the part came with a module: nothing is taken from the drawer", \
     "yes", NULL, INTO(YES, type, fitted)}

/* --- sources --- */

/* One row is one key, and its texts stay whole: the formatter stays away. */
/* clang-format off */
static const known_key keys_rail_rows[] = {
    {"rail", true, KEY_NAME, 0, NULL, NULL, "the supply whose voltage is measured", "battery", NULL, INTO(SUPPLY, tl_source, supply)},
    {.name = NULL},
};
const key_section keys_rail = {"rail", "a rail as source", keys_rail_rows};

static const known_key keys_voltage_rows[] = {
    {"voltage", true, KEY_QUANTITY, TL_DIM_VOLT, NULL, NULL,
     "voltage range of a sensor or module output",
     "0 V .. 3 V", NULL, INTO(LOCATED, tl_source, value)},
    {"resistance", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "0", "output resistance of the sensor", "1k", NULL, INTO(LOCATED, tl_source, ohms)},
    {"ratiometric", false, KEY_NAME, 0, NULL, "none",
     "the supply that the voltage is proportional to; `voltage` holds at its nominal value",
     "sensor", NULL, INTO(SUPPLY, tl_source, follows)},
    {"return", false, KEY_NAME, 0, NULL, "ground",
     "the shared node in the ground wire that the sensor's ground is connected to",
     "heavy-ground", NULL, INTO(RAIL, tl_source, bottom)},
    {.name = NULL},
};
const key_section keys_voltage = {"voltage", "a voltage source", keys_voltage_rows};

static const known_key keys_current_rows[] = {
    {"current", true, KEY_QUANTITY, TL_DIM_AMPERE, NULL, NULL,
     "output current of a 4-20 mA transmitter or a photodiode, measured across a load",
     "4 mA .. 20 mA", NULL, INTO(LOCATED, tl_source, value)},
    {"supply", false, KEY_NAME, 0, NULL, "not checked", "the supply of the loop", "loop", NULL, INTO(SUPPLY, tl_source, supply)},
    {"compliance", false, KEY_VALUE, TL_DIM_VOLT, NULL, "not checked",
     "smallest voltage at which the transmitter still regulates its current",
     "9 V", NULL, INTO(VALUE, tl_source, compliance)},
    {.name = NULL},
};
const key_section keys_current = {"current", "a current source", keys_current_rows};

static const known_key keys_resistance_rows[] = {
    {"resistance", true, KEY_TEXT, 0, NULL, NULL,
     "resistance of a sensor: a value, a range, or the file of its table; a partner makes a divider with it",
     "10k", NULL, BY_CODE},
    {"to", false, KEY_NAME, 0, NULL, "ground", "the rail at the other end of the sensor", "logic", NULL, INTO(RAIL, tl_source, supply)},
    {"lead", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "0", "resistance of both leads together", "2 ohm", NULL, INTO(LOCATED, tl_source, ohms)},
    {"at", false, KEY_VALUE, TL_DIM_CELSIUS, NULL, NULL,
     "temperature at which `resistance` holds, with `beta`",
     "25 degC", NULL, INTO(VALUE, tl_source, curve.at)},
    {"beta", false, KEY_QUANTITY, TL_DIM_KELVIN, NULL, NULL, "beta constant of a thermistor", "3950 K ±1 %", NULL, BY_CODE},
    {"steinhart", false, KEY_LIST, 0, NULL, NULL, "the three Steinhart-Hart coefficients of a thermistor", "[1.1e-3, 2.4e-4, 7e-8]", NULL, BY_CODE},
    {"law", false, KEY_WORD, 0, "ln|linear|log-log|platinum", NULL,
     "interpolation between the points of a table (required with a table); or `platinum`, with the resistance at 0 degC",
     "ln", NULL, BY_CODE},
    {"over", false, KEY_TEXT, 0, NULL, NULL, "range of the measured quantity", "-25 .. 60 degC", NULL, BY_CODE},
    {"full", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "the larger resistance",
     "resistance that stands for 100 %",
     "180 ohm", NULL, INTO(LOCATED, tl_source, full)},
    {.name = NULL},
};
const key_section keys_resistance = {"resistance", "a resistance", keys_resistance_rows};

static const known_key keys_potentiometer_rows[] = {
    {"potentiometer", true, KEY_QUANTITY, TL_DIM_OHM, NULL, NULL,
     "track resistance of a knob, slider or joystick",
     "10k ±20 %", NULL, INTO(PART, tl_source, value)},
    {"top", true, KEY_NAME, 0, NULL, NULL, "the rail at the upper end of the track", "logic", NULL, INTO(RAIL, tl_source, supply)},
    {"bottom", false, KEY_NAME, 0, NULL, "ground", "the rail at the lower end of the track", "ground", NULL, INTO(RAIL, tl_source, bottom)},
    {"end", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "0",
     "residual resistance at each end of the track",
     "0 ohm .. 50 ohm", NULL, INTO(LOCATED, tl_source, ohms)},
    {"over", false, KEY_QUANTITY, TL_DIM_PERCENT, NULL, "0 % .. 100 %",
     "part of the travel that is used",
     "5 % .. 95 %", NULL, OR_ELSE(LOCATED, tl_source, over)},
    {.name = NULL},
};
const key_section keys_potentiometer = {"potentiometer", "a potentiometer", keys_potentiometer_rows};

static const known_key keys_bridge_rows[] = {
    {"bridge", true, KEY_QUANTITY, TL_DIM_OHM, NULL, NULL,
     "resistance of one arm, for a differential pair of inputs",
     "350 ohm", NULL, INTO(PART, tl_source, ohms)},
    {"voltage", true, KEY_QUANTITY, TL_DIM_VOLT, NULL, NULL,
     "range of the differential voltage",
     "-10 mV .. 10 mV", NULL, INTO(LOCATED, tl_source, value)},
    {"supply", false, KEY_NAME, 0, NULL, "floating, which is a finding", "the supply of the bridge", "logic", NULL, INTO(SUPPLY, tl_source, supply)},
    {.name = NULL},
};
const key_section keys_bridge = {"bridge", "a bridge", keys_bridge_rows};

static const known_key keys_chain_rows[] = {
    {"chain", true, KEY_LIST, 0, NULL, NULL,
     "buttons on one ADC pin along a series ladder: `name: R`, nearest first; R is the resistor before the button",
     "[left: 1k, right: 2k2]", NULL, BY_CODE},
    {"to", false, KEY_NAME, 0, NULL, "ground", "the rail that the buttons connect to", "ground", NULL, INTO(RAIL, tl_source, supply)},
    {"bounce", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0", "bounce time of a button", "5 ms", NULL, INTO(VALUE, tl_source, bounce)},
    {.name = NULL},
};
const key_section keys_chain = {"chain", "a chain", keys_chain_rows};

static const known_key keys_star_rows[] = {
    {"star", true, KEY_LIST, 0, NULL, NULL, "buttons on one ADC pin, each with its own resistor: `name: R`", "[left: 1k, right: 2k2]", NULL, BY_CODE},
    {"to", false, KEY_NAME, 0, NULL, "ground", "the rail that the buttons connect to", "ground", NULL, INTO(RAIL, tl_source, supply)},
    {"bounce", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0", "bounce time of a button", "5 ms", NULL, INTO(VALUE, tl_source, bounce)},
    {.name = NULL},
};
const key_section keys_star = {"star", "a star", keys_star_rows};

static const known_key keys_contact_rows[] = {
    {"contact", true, KEY_NAME, 0, NULL, NULL,
     "the rail that a button, a reed switch or a limit switch connects to when it is closed",
     "ground", NULL, INTO(RAIL, tl_source, supply)},
    {"closed", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "0", "contact resistance when it is closed", "0 ohm .. 1 ohm", NULL, INTO(LOCATED, tl_source, ohms)},
    {"leakage", false, KEY_VALUE, TL_DIM_AMPERE, NULL, "0", "leakage current when it is open", "1 uA", NULL, INTO(SIZE, tl_source, leakage)},
    {"bounce", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0", "bounce time", "5 ms", NULL, INTO(VALUE, tl_source, bounce)},
    {"shortest", false, KEY_VALUE, TL_DIM_SECOND, NULL, "none", "shortest time in either state", "100 ms", NULL, INTO(VALUE, tl_source, shortest)},
    {"rate", false, KEY_VALUE, TL_DIM_HERTZ, NULL, "none",
     "highest frequency, in full cycles per second; the shortest state lasts half a cycle",
     "10 Hz", NULL, INTO(VALUE, tl_source, rate)},
    {"wetting", false, KEY_VALUE, TL_DIM_AMPERE, NULL, "0",
     "smallest current that keeps the contact clean",
     "1 mA", NULL, INTO(VALUE, tl_source, wetting)},
    {.name = NULL},
};
const key_section keys_contact = {"contact", "a contact", keys_contact_rows};

static const known_key keys_collector_rows[] = {
    {"open-collector", true, KEY_NAME, 0, NULL, NULL,
     "the rail that a transistor or phototransistor pulls the line to",
     "ground", NULL, INTO(RAIL, tl_source, supply)},
    {"on", false, KEY_VALUE, TL_DIM_AMPERE, NULL, "not checked",
     "smallest collector current when it is on",
     "500 uA", NULL, INTO(VALUE, tl_source, drives)},
    {"saturation", false, KEY_QUANTITY, TL_DIM_VOLT, NULL, "0.4 V",
     "saturation voltage when it is on: the largest, or a range",
     "0.4 V", NULL, OR_ELSE(LOCATED, tl_source, value)},
    {"leakage", false, KEY_VALUE, TL_DIM_AMPERE, NULL, "0", "leakage (dark) current when it is off", "100 nA", NULL, INTO(SIZE, tl_source, leakage)},
    {"bounce", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0", "bounce time", "5 ms", NULL, INTO(VALUE, tl_source, bounce)},
    {"shortest", false, KEY_VALUE, TL_DIM_SECOND, NULL, "none", "shortest time in either state", "100 ms", NULL, INTO(VALUE, tl_source, shortest)},
    {"rate", false, KEY_VALUE, TL_DIM_HERTZ, NULL, "none", "highest frequency, in full cycles per second", "10 Hz", NULL, INTO(VALUE, tl_source, rate)},
    {.name = NULL},
};
const key_section keys_collector = {"open-collector", "an open collector", keys_collector_rows};

static const known_key keys_logic_rows[] = {
    {"logic", true, KEY_NAME, 0, NULL, NULL, "the supply of a push-pull output", "raw", NULL, INTO(SUPPLY, tl_source, supply)},
    {"high", false, KEY_LEVEL, 0, NULL, "rail", "VOH, the lowest high level", "rail - 0.5 V", NULL, OR_ELSE(LEVEL, tl_source, high)},
    {"low", false, KEY_LEVEL, 0, NULL, "0 V", "VOL, the highest low level", "0.4 V", NULL, OR_ELSE(LEVEL, tl_source, low)},
    {"rate", false, KEY_VALUE, TL_DIM_HERTZ, NULL, "none", "highest frequency, in full cycles per second", "1 kHz", NULL, INTO(VALUE, tl_source, rate)},
    {"drives", false, KEY_VALUE, TL_DIM_AMPERE, NULL, "not checked",
     "output current at which VOL and VOH hold",
     "4 mA", NULL, INTO(VALUE, tl_source, drives)},
    {"resistance", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "0", "output resistance", "50 ohm", NULL, INTO(LOCATED, tl_source, ohms)},
    {.name = NULL},
};
const key_section keys_logic = {"logic", "a logic output", keys_logic_rows};

/* In the order in which they are looked for: a bridge has volts as well. */
const key_section *const all_sources[] = {&keys_rail,       &keys_bridge,        &keys_voltage, &keys_current,
                                          &keys_resistance, &keys_potentiometer, &keys_chain,   &keys_star,
                                          &keys_contact,    &keys_collector,     &keys_logic,   NULL};

/* --- stages --- */

static const known_key keys_divider_rows[] = {
    {"upper", true, KEY_QUANTITY, TL_DIM_OHM, NULL, NULL, "the upper resistor", "47k", NULL, INTO(PART, tl_stage, first)},
    {"lower", true, KEY_QUANTITY, TL_DIM_OHM, NULL, NULL, "the lower resistor", "10k", NULL, INTO(PART, tl_stage, second)},
    {"to", false, KEY_NAME, 0, NULL, "ground", "the rail below the lower resistor", "logic", NULL, INTO(RAIL, tl_stage, to)},
    FITTED(tl_stage),
    {.name = NULL},
};
const key_section keys_divider = {"divider", "a divider", keys_divider_rows};

static const known_key keys_pull_rows[] = {
    {"up", false, KEY_TEXT, 0, NULL, NULL, "pull-up resistance; `internal` is the pull-up of the chip, which needs no `to`", "10k", NULL, BY_CODE},
    {"down", false, KEY_TEXT, 0, NULL, NULL, "pull-down resistance; `internal` is the pull-down of the chip", "10k", NULL, BY_CODE},
    {"to", false, KEY_NAME, 0, NULL, "ground, for a pull-down", "the rail at the other end of the pull", "logic", NULL, INTO(RAIL, tl_stage, to)},
    FITTED(tl_stage),
    {.name = NULL},
};
const key_section keys_pull = {"pull", "a pull", keys_pull_rows};

static const known_key keys_partner_rows[] = {
    {"upper", false, KEY_QUANTITY, TL_DIM_OHM, NULL, NULL, "the fixed resistor, if it is above the sensor", "4k7", NULL, BY_CODE},
    {"lower", false, KEY_QUANTITY, TL_DIM_OHM, NULL, NULL, "the fixed resistor, if it is below the sensor", "4k7", NULL, BY_CODE},
    {"to", false, KEY_NAME, 0, NULL, "ground, for `lower`", "the rail at the other end of the fixed resistor", "logic", NULL, INTO(RAIL, tl_stage, to)},
    FITTED(tl_stage),
    {.name = NULL},
};
const key_section keys_partner = {"partner", "a partner", keys_partner_rows};

static const known_key keys_filter_rows[] = {
    {"series", true, KEY_QUANTITY, TL_DIM_OHM, NULL, NULL, "series resistor of the filter", "1k", NULL, INTO(PART, tl_stage, first)},
    {"capacitor", true, KEY_QUANTITY, TL_DIM_FARAD, NULL, NULL,
     "capacitor to ground behind the series resistor",
     "220 nF ±10 %", NULL, INTO(PART, tl_stage, second)},
    FITTED(tl_stage),
    {.name = NULL},
};
const key_section keys_filter = {"filter", "a filter", keys_filter_rows};

static const known_key keys_capacitor_rows[] = {
    {"capacitance", true, KEY_QUANTITY, TL_DIM_FARAD, NULL, NULL, "capacitor between this node and ground", "100 nF", NULL, INTO(PART, tl_stage, first)},
    {"resistance", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "0", "series resistance of the capacitor (ESR)", "1 ohm", NULL, INTO(LOCATED, tl_stage, second)},
    FITTED(tl_stage),
    {.name = NULL},
};
const key_section keys_capacitor = {"capacitor", "a capacitor", keys_capacitor_rows};

static const known_key keys_follower_rows[] = {
    {"supply", true, KEY_NAME, 0, NULL, NULL, "the supply of the amplifier", "sensor", NULL, INTO(SUPPLY, tl_stage, to)},
    {"output", false, KEY_LEVELS, 0, NULL, "0 V .. rail", "output voltage range", "0.05 V .. rail - 0.05 V", NULL, OR_ELSE(LEVELS, tl_stage, out_low)},
    {"input", false, KEY_LEVELS, 0, NULL, "0 V .. rail", "input common-mode range", "0 V .. rail - 1 V", NULL, OR_ELSE(LEVELS, tl_stage, in_low)},
    {"bias", false, KEY_VALUE, TL_DIM_AMPERE, NULL, "0", "input bias current", "1 nA", NULL, INTO(SIZE, tl_stage, bias)},
    {"offset", false, KEY_QUANTITY, TL_DIM_VOLT, NULL, "0", "largest input offset voltage", "3 mV", NULL, INTO(SIZE, tl_stage, offset)},
    {"bandwidth", false, KEY_VALUE, TL_DIM_HERTZ, NULL, "no limit", "bandwidth of the amplifier", "100 kHz", NULL, INTO(VALUE, tl_stage, bandwidth)},
    {"gain", false, KEY_WHOLE, 0, "10..1000000000", "no error", "smallest open-loop gain", "10000", NULL, INTO(COUNT, tl_stage, gain)},
    FITTED(tl_stage),
    {.name = NULL},
};
const key_section keys_follower = {"follower", "a follower", keys_follower_rows};

static const known_key keys_shifter_rows[] = {
    {"way", true, KEY_WORD, 0, "diode|inverter|n-channel|buffer", NULL, "circuit of the level shifter", "n-channel", NULL, INTO(WORD, tl_stage, way)},
    {"drop", false, KEY_VALUE, TL_DIM_VOLT, NULL, NULL, "diode: forward voltage", "0.35 V", NULL, INTO(VALUE, tl_stage, drop)},
    {"base", false, KEY_QUANTITY, TL_DIM_OHM, NULL, NULL, "inverter: base resistor", "10k", NULL, INTO(PART, tl_stage, first)},
    {"gate", false, KEY_NAME, 0, NULL, NULL,
     "n-channel: the rail of the gate, which is the supply of the lower side",
     "logic", NULL, INTO(SUPPLY, tl_stage, to)},
    {"threshold", false, KEY_VALUE, TL_DIM_VOLT, NULL, NULL, "n-channel: largest VGS(th)", "1.5 V", NULL, INTO(VALUE, tl_stage, threshold)},
    {"diode", false, KEY_VALUE, TL_DIM_VOLT, NULL, NULL, "n-channel: forward voltage of the body diode", "0.7 V", NULL, INTO(VALUE, tl_stage, drop)},
    {"supply", false, KEY_NAME, 0, NULL, NULL, "buffer: its supply", "logic", NULL, INTO(SUPPLY, tl_stage, to)},
    {"vil", false, KEY_LEVEL, 0, NULL, NULL, "buffer: VIL", "0.3 rail", NULL, INTO(LEVEL, tl_stage, vil)},
    {"vih", false, KEY_LEVEL, 0, NULL, NULL, "buffer: VIH", "0.7 rail", NULL, INTO(LEVEL, tl_stage, vih)},
    {"limits", false, KEY_LEVELS, 0, NULL, NULL, "buffer: absolute maximum of the input voltage", "-0.3 V .. 5.5 V", NULL, INTO(LEVELS, tl_stage, lowest)},
    FITTED(tl_stage),
    {.name = NULL},
};
const key_section keys_shifter = {"shifter", "a shifter", keys_shifter_rows};

static const known_key keys_clamp_rows[] = {
    {"to", true, KEY_NAME, 0, NULL, NULL, "the rail that a clamp diode of your own conducts to", "logic", NULL, INTO(RAIL, tl_stage, to)},
    {"drop", true, KEY_VALUE, TL_DIM_VOLT, NULL, NULL, "forward voltage of the clamp diode", "0.35 V", NULL, INTO(VALUE, tl_stage, drop)},
    {"current", false, KEY_VALUE, TL_DIM_AMPERE, NULL, "not checked",
     "rated current of the clamp diode",
     "200 mA", NULL, INTO(VALUE, tl_stage, most_amperes)},
    FITTED(tl_stage),
    {.name = NULL},
};
const key_section keys_clamp = {"clamp", "a clamp", keys_clamp_rows};

const known_stage all_stages[] = {
    {"series", true, NULL, "a series resistor in the signal path", "1k"},
    {"guard", true, NULL, "a series resistor that protects the pin", "1k"},
    {"divider", false, &keys_divider, "two resistors that divide the voltage", "{upper: 47k, lower: 10k}"},
    {"pull", false, &keys_pull, "a pull-up or pull-down resistor", "{up: 10k, to: logic}"},
    {"partner", false, &keys_partner, "a fixed resistor that makes a divider with a resistive sensor", "{upper: 4k7, to: logic}"},
    {"load", true, NULL, "a resistor between this node and ground", "165 ohm"},
    {"capacitor", true, &keys_capacitor, "a capacitor between this node and ground", "100 nF"},
    {"cable", true, NULL, "cable capacitance between this node and ground", "300 pF"},
    {"filter", false, &keys_filter, "an RC low-pass filter", "{series: 1k, capacitor: 220 nF}"},
    {"follower", false, &keys_follower, "an amplifier as a voltage follower", "{supply: sensor}"},
    {"shifter", false, &keys_shifter, "a level shifter between two logic levels", "{way: diode, drop: 0.35 V}"},
    {"clamp", true, &keys_clamp, "`pin`: the clamp diodes of the pin may conduct, within its `injection`; or a clamp diode of your own", "pin"},
    {NULL, false, NULL, NULL, NULL},
};

/* --- readings --- */

static const known_key keys_analog_reading_rows[] = {
    {"of", false, KEY_WORD, 0, "counts|pin|source|resistance|quantity|travel", "the farthest that the source allows",
     "what the reading reports: counts, pin voltage, source voltage, resistance, measured quantity or travel",
     "source", NULL, BY_CODE},
    {"unit", false, KEY_TEXT, 0, NULL, "the first that fits",
     "`V` `mV`, `A` `mA`, `ohm` `kohm`, `%`, `counts`; with points or a law the unit of these",
     "V", NULL, BY_CODE},
    {"decimals", false, KEY_WHOLE, 0, "0..6", "as many as one LSB resolves", "number of decimals", "2", NULL, INTO(WHOLE, tl_plan_reading, decimals)},
    {"round", false, KEY_FREE, 0, NULL, "none", "coarser step that the reading is rounded to", "0.5 degC", NULL, BY_CODE},
    {"points", false, KEY_LIST, 0, NULL, "none",
     "two or more pairs `SOURCE: READING`, joined by straight lines",
     "[0.5 V: 0 m, 4.5 V: 3 m]", NULL, BY_CODE},
    {"percent", false, KEY_MAP, 0, NULL, "none",
     "the same reading as a percentage between two ends, clamped to 0 .. 100",
     "{empty: 10.8 V, full: 12.9 V}", &keys_percent, BY_CODE},
    {"mean", false, KEY_WHOLE, 0, "2..4096", "none", "number of samples for a mean", "16", NULL, BY_CODE},
    {"median", false, KEY_WHOLE, 0, "2..4096", "none", "number of samples for a median (odd)", "5", NULL, BY_CODE},
    {"rolling", false, KEY_WHOLE, 0, "2..4096", "none", "number of samples for a rolling mean; each reading adds one", "8", NULL, BY_CODE},
    {"exponential", false, KEY_WHOLE, 0, "2..4096", "none", "N of an exponential mean, a power of two: each reading adds a sample with a weight of 1 / N", "16", NULL, BY_CODE},
    {"faults", false, KEY_MAP, 0, NULL, "none",
     "ranges that show a broken or a shorted wire",
     "{open: above 98 %, short: below 3 %}", &keys_windows, BY_CODE},
    {"trim", false, KEY_MAP, 0, NULL, "none", "correction by a meter", "{points: [20 counts: 0.05 V, 3000 counts: 2.4 V]}", &keys_trim, BY_CODE},
    {"scale", false, KEY_FREE, 0, NULL, "not compared", "the scale factor in existing firmware, in source volts per pin volt", "5.7", NULL, BY_CODE},
    {"steps", false, KEY_WORD, 0, "half|full|end-to-end", "not compared",
     "the step convention in existing firmware",
     "half", NULL, PLACED(WORD, tl_plan_reading, steps, steps_place)},
    {"word", false, KEY_MAP, 0, NULL, "not compared", "the word format in existing firmware", "{bits: 12, in: 16}", &keys_restated_word, BY_CODE},
    {"apart", false, KEY_VALUE, TL_DIM_COUNT, NULL, "1 % of the span",
     "chain or star: smallest distance between two buttons, in counts",
     "50 counts", NULL, INTO(VALUE, tl_plan_reading, apart)},
    {.name = NULL},
};
const key_section keys_analog_reading = {"analog-reading", "the reading of an analog signal",
                                         keys_analog_reading_rows};

static const known_key keys_digital_reading_rows[] = {
    {"steady", false, KEY_VALUE, TL_DIM_SECOND, NULL, "twice the bounce", "debounce time", "20 ms", NULL, INTO(VALUE, tl_plan_reading, steady)},
    {"active", false, KEY_WORD, 0, "low|high", "not compared",
     "the level in existing firmware that means closed",
     "low", NULL, PLACED(WORD, tl_plan_reading, active, active_place)},
    {"as", false, KEY_WORD, 0, "level|count|toggle|lengths|frequency|duty|period", "level",
     "`level`: the state; `count`: number of closures; `toggle`: a switch that every closure turns over; `lengths`: compared with an expected pulse pattern; `frequency`, `duty`, `period`: of the closures (of a logic line: of the high level)",
     "frequency", NULL, INTO(WORD, tl_plan_reading, as)},
    {"turns-with", false, KEY_NAME, 0, NULL, "none", "this line and that of the named signal are a rotary encoder, a quarter turn apart; what names itself is the second line", "encoder-2", NULL, BY_CODE},
    {"expect", false, KEY_LIST, 0, NULL, "none", "lengths: the expected pulse pattern", "[high 300 ms, low 200 ms]", NULL, BY_CODE},
    {"within", false, KEY_VALUE, TL_DIM_PERCENT, NULL, "5 %",
     "lengths: tolerance of each pulse length",
     "5 %", NULL, OR_ELSE(VALUE, tl_plan_reading, within)},
    {"over", false, KEY_VALUE, TL_DIM_SECOND, NULL, "100 ms",
     "frequency, duty, period: shortest measuring time; whole periods are measured together",
     "1 s", NULL, OR_ELSE(VALUE, tl_plan_reading, over)},
    {"stopped-after", false, KEY_VALUE, TL_DIM_SECOND, NULL, "1 s",
     "frequency, duty, period: time without an edge after which the reading is 0",
     "5 s", NULL, OR_ELSE(VALUE, tl_plan_reading, stopped_after)},
    {"decimals", false, KEY_WHOLE, 0, "0..3", "1; of a period in ms 3",
     "frequency, duty, period: number of decimals",
     "0", NULL, INTO(WHOLE, tl_plan_reading, decimals)},
    {.name = NULL},
};
const key_section keys_digital_reading = {"digital-reading", "the reading of a digital signal",
                                          keys_digital_reading_rows};

static const known_key keys_percent_rows[] = {
    {"empty", true, KEY_FREE, 0, NULL, NULL, "the end that is 0 %", "10.8 V", NULL, BY_CODE},
    {"full", true, KEY_FREE, 0, NULL, NULL, "the end that is 100 %", "12.9 V", NULL, BY_CODE},
    {"margin", false, KEY_VALUE, TL_DIM_PERCENT, NULL, "0",
     "part of the span by which both ends move inward",
     "2 %", NULL, INTO(VALUE, tl_plan_reading, margin)},
    {.name = NULL},
};
const key_section keys_percent = {"percent", "percent", keys_percent_rows};

static const known_key keys_windows_rows[] = {
    {"open", false, KEY_TEXT, 0, NULL, "none",
     "range that means a broken wire: `above` or `below` a percentage of the span, a pin voltage, or a loop current",
     "above 98 %", NULL, BY_CODE},
    {"short", false, KEY_TEXT, 0, NULL, "none", "range that means a shorted wire, written like `open`", "below 3 %", NULL, BY_CODE},
    {"hysteresis", false, KEY_VALUE, TL_DIM_PERCENT, NULL, "1 %",
     "hysteresis of both ranges",
     "1 %", NULL, OR_ELSE(VALUE, tl_plan_reading, fault_hysteresis)},
    {"value", false, KEY_FREE, 0, NULL, "the last good reading", "reading that is reported while there is a fault", "-99 degC", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_windows = {"faults", "faults", keys_windows_rows};

static const known_key keys_trim_rows[] = {
    {"points", true, KEY_LIST, 0, NULL, NULL, "list of `COUNT: METER READING`", "[20 counts: 0.05 V, 3000 counts: 2.4 V]", NULL, BY_CODE},
    {"of", false, KEY_WORD, 0, "source|pin", "source", "where the meter was connected", "pin", NULL, INTO(SECOND, tl_plan_reading, trim_at_pin)},
    {"meter", false, KEY_NAME, 0, NULL, "none", "name of the meter that was used", "handheld", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_trim = {"trim", "a trim", keys_trim_rows};

static const known_key keys_restated_word_rows[] = {
    {"bits", false, KEY_WHOLE, 0, "4..24", "not compared", "resolution in bits", "12", NULL, INTO(LONG, tl_plan_reading, word_bits)},
    {"align", false, KEY_WORD, 0, "right|left|stretched", "not compared",
     "alignment of the result in its word",
     "right", NULL, INTO(WORD, tl_plan_reading, word_align)},
    {"in", false, KEY_WHOLE, 0, "6..32", "not compared", "width of the word in bits", "16", NULL, INTO(LONG, tl_plan_reading, word_in)},
    {"sign", false, KEY_WORD, 0, "none|twos-complement|offset-binary", "not compared",
     "sign convention",
     "none", NULL, INTO(WORD, tl_plan_reading, word_sign)},
    {"fill", false, KEY_WORD, 0, "zero|sign", "not compared", "bits above a signed result", "zero", NULL, BY_CODE},
    {"bytes", false, KEY_WORD, 0, "high-first|low-first|high-only", "not compared",
     "byte order",
     "high-first", NULL, INTO(WORD, tl_plan_reading, word_bytes)},
    {.name = NULL},
};
const key_section keys_restated_word = {"restated-word", "a word", keys_restated_word_rows};
