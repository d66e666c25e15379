/* The keys of a chain: its source, its stages, its reading. */
#include "model/keys.h"
#include "tinyladder/design/plan.h"

#define FITTED(type)                                                                                         \
    {                                                                                                        \
        "fitted", false, KEY_YES, 0, NULL, "no", "came with a module: takes nothing from the drawer", "yes", \
            NULL, INTO(YES, type, fitted)                                                                    \
    }

/* --- sources --- */

static const known_key keys_rail_rows[] = {
    {"rail", true, KEY_NAME, 0, NULL, NULL, "a supply that is measured itself", "battery", NULL,
     INTO(SUPPLY, tl_source, supply)},
    {.name = NULL},
};
const key_section keys_rail = {"rail", "a rail as source", keys_rail_rows};

static const known_key keys_voltage_rows[] = {
    {"voltage", true, KEY_QUANTITY, TL_DIM_VOLT, NULL, NULL, "a module's output: its range", "0 V .. 3 V",
     NULL, INTO(LOCATED, tl_source, value)},
    {"resistance", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "0", "its own", "1k", NULL,
     INTO(LOCATED, tl_source, ohms)},
    {"ratiometric", false, KEY_NAME, 0, NULL, "none", "the rail that the volts follow, stated at its nominal",
     "sensor", NULL, INTO(SUPPLY, tl_source, follows)},
    {"return", false, KEY_NAME, 0, NULL, "ground", "a shared node from ground that it returns to",
     "heavy-ground", NULL, INTO(RAIL, tl_source, bottom)},
    {.name = NULL},
};
const key_section keys_voltage = {"voltage", "a voltage source", keys_voltage_rows};

static const known_key keys_current_rows[] = {
    {"current", true, KEY_QUANTITY, TL_DIM_AMPERE, NULL, NULL, "a loop or a photodiode, read over a load",
     "4 mA .. 20 mA", NULL, INTO(LOCATED, tl_source, value)},
    {"supply", false, KEY_NAME, 0, NULL, "not looked at", "of the loop", "loop", NULL,
     INTO(SUPPLY, tl_source, supply)},
    {"compliance", false, KEY_VALUE, TL_DIM_VOLT, NULL, "not looked at", "volts that the loop needs", "9 V",
     NULL, INTO(VALUE, tl_source, compliance)},
    {.name = NULL},
};
const key_section keys_current = {"current", "a current source", keys_current_rows};

static const known_key keys_resistance_rows[] = {
    {"resistance", true, KEY_TEXT, 0, NULL, NULL,
     "sensor, sender: its ohms, their range, or a file with its table; a partner makes it a divider", "10k",
     NULL, BY_CODE},
    {"to", false, KEY_NAME, 0, NULL, "ground", "the other end of the sensor", "logic", NULL,
     INTO(RAIL, tl_source, supply)},
    {"lead", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "0", "of its leads", "2 ohm", NULL,
     INTO(LOCATED, tl_source, ohms)},
    {"at", false, KEY_VALUE, TL_DIM_CELSIUS, NULL, NULL, "with `beta`: where the ohms hold", "25 degC", NULL,
     INTO(VALUE, tl_source, curve.at)},
    {"beta", false, KEY_QUANTITY, TL_DIM_KELVIN, NULL, NULL, "law of a thermistor", "3950 K ±1 %", NULL,
     BY_CODE},
    {"steinhart", false, KEY_LIST, 0, NULL, NULL, "law: three coefficients", "[1.1e-3, 2.4e-4, 7e-8]", NULL,
     BY_CODE},
    {"law", false, KEY_WORD, 0, "ln|linear|log-log|platinum", NULL,
     "how a table runs between its points, always stated; or platinum, the ohms being those at 0 degC", "ln",
     NULL, BY_CODE},
    {"over", false, KEY_TEXT, 0, NULL, NULL, "range of the quantity", "-25 .. 60 degC", NULL, BY_CODE},
    {"full", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "the larger ohms", "the end that is 100 %", "180 ohm",
     NULL, INTO(LOCATED, tl_source, full)},
    {.name = NULL},
};
const key_section keys_resistance = {"resistance", "a resistance", keys_resistance_rows};

static const known_key keys_potentiometer_rows[] = {
    {"potentiometer", true, KEY_QUANTITY, TL_DIM_OHM, NULL, NULL, "knob, slider, stick: track ohms",
     "10k ±20 %", NULL, INTO(PART, tl_source, value)},
    {"top", true, KEY_NAME, 0, NULL, NULL, "the rail at its top", "logic", NULL,
     INTO(RAIL, tl_source, supply)},
    {"bottom", false, KEY_NAME, 0, NULL, "ground", "and at its bottom", "ground", NULL,
     INTO(RAIL, tl_source, bottom)},
    {"end", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "0", "resistance at each end", "0 ohm .. 50 ohm", NULL,
     INTO(LOCATED, tl_source, ohms)},
    {"over", false, KEY_QUANTITY, TL_DIM_PERCENT, NULL, "0 % .. 100 %", "travel that is used", "5 % .. 95 %",
     NULL, OR_ELSE(LOCATED, tl_source, over)},
    {.name = NULL},
};
const key_section keys_potentiometer = {"potentiometer", "a potentiometer", keys_potentiometer_rows};

static const known_key keys_bridge_rows[] = {
    {"bridge", true, KEY_QUANTITY, TL_DIM_OHM, NULL, NULL, "ohms of an arm; for a pair of inputs", "350 ohm",
     NULL, INTO(PART, tl_source, ohms)},
    {"voltage", true, KEY_QUANTITY, TL_DIM_VOLT, NULL, NULL, "the difference", "-10 mV .. 10 mV", NULL,
     INTO(LOCATED, tl_source, value)},
    {"supply", false, KEY_NAME, 0, NULL, "floating, which is a finding", "what feeds it", "logic", NULL,
     INTO(SUPPLY, tl_source, supply)},
    {.name = NULL},
};
const key_section keys_bridge = {"bridge", "a bridge", keys_bridge_rows};

static const known_key keys_chain_rows[] = {
    {"chain", true, KEY_LIST, 0, NULL, NULL,
     "buttons on one converter pin: `name: R`, nearest first, along a chain of resistors",
     "[left: 1k, right: 2k2]", NULL, BY_CODE},
    {"to", false, KEY_NAME, 0, NULL, "ground", "what they tie to", "ground", NULL,
     INTO(RAIL, tl_source, supply)},
    {"bounce", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0", "of a button", "5 ms", NULL,
     INTO(VALUE, tl_source, bounce)},
    {.name = NULL},
};
const key_section keys_chain = {"chain", "a chain", keys_chain_rows};

static const known_key keys_star_rows[] = {
    {"star", true, KEY_LIST, 0, NULL, NULL,
     "buttons on one converter pin: `name: R`, each with a resistor of its own", "[left: 1k, right: 2k2]",
     NULL, BY_CODE},
    {"to", false, KEY_NAME, 0, NULL, "ground", "what they tie to", "ground", NULL,
     INTO(RAIL, tl_source, supply)},
    {"bounce", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0", "of a button", "5 ms", NULL,
     INTO(VALUE, tl_source, bounce)},
    {.name = NULL},
};
const key_section keys_star = {"star", "a star", keys_star_rows};

static const known_key keys_contact_rows[] = {
    {"contact", true, KEY_NAME, 0, NULL, NULL, "button, reed, limit switch: the rail it closes to", "ground",
     NULL, INTO(RAIL, tl_source, supply)},
    {"closed", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "0", "when closed", "0 ohm .. 1 ohm", NULL,
     INTO(LOCATED, tl_source, ohms)},
    {"leakage", false, KEY_VALUE, TL_DIM_AMPERE, NULL, "0", "when open", "1 uA", NULL,
     INTO(SIZE, tl_source, leakage)},
    {"bounce", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0", "how long it bounces", "5 ms", NULL,
     INTO(VALUE, tl_source, bounce)},
    {"shortest", false, KEY_VALUE, TL_DIM_SECOND, NULL, "none", "time in either state", "100 ms", NULL,
     INTO(VALUE, tl_source, shortest)},
    {"rate", false, KEY_VALUE, TL_DIM_HERTZ, NULL, "none", "highest", "10 Hz", NULL,
     INTO(VALUE, tl_source, rate)},
    {"wetting", false, KEY_VALUE, TL_DIM_AMPERE, NULL, "0", "current that keeps it clean", "1 mA", NULL,
     INTO(VALUE, tl_source, wetting)},
    {.name = NULL},
};
const key_section keys_contact = {"contact", "a contact", keys_contact_rows};

static const known_key keys_collector_rows[] = {
    {"open-collector", true, KEY_NAME, 0, NULL, NULL, "transistor, phototransistor: the rail it pulls to",
     "ground", NULL, INTO(RAIL, tl_source, supply)},
    {"on", false, KEY_VALUE, TL_DIM_AMPERE, NULL, "not looked at", "least current", "500 uA", NULL,
     INTO(VALUE, tl_source, drives)},
    {"saturation", false, KEY_QUANTITY, TL_DIM_VOLT, NULL, "0.4 V",
     "volts across it when it is on: at most, or a range", "0.4 V", NULL, OR_ELSE(LOCATED, tl_source, value)},
    {"leakage", false, KEY_VALUE, TL_DIM_AMPERE, NULL, "0", "dark", "100 nA", NULL,
     INTO(SIZE, tl_source, leakage)},
    {"bounce", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0", "how long it bounces", "5 ms", NULL,
     INTO(VALUE, tl_source, bounce)},
    {"shortest", false, KEY_VALUE, TL_DIM_SECOND, NULL, "none", "time in either state", "100 ms", NULL,
     INTO(VALUE, tl_source, shortest)},
    {"rate", false, KEY_VALUE, TL_DIM_HERTZ, NULL, "none", "highest", "10 Hz", NULL,
     INTO(VALUE, tl_source, rate)},
    {.name = NULL},
};
const key_section keys_collector = {"open-collector", "an open collector", keys_collector_rows};

static const known_key keys_logic_rows[] = {
    {"logic", true, KEY_NAME, 0, NULL, NULL, "push-pull output: its supply", "raw", NULL,
     INTO(SUPPLY, tl_source, supply)},
    {"high", false, KEY_LEVEL, 0, NULL, "rail", "at least", "rail - 0.5 V", NULL,
     OR_ELSE(LEVEL, tl_source, high)},
    {"low", false, KEY_LEVEL, 0, NULL, "0 V", "at most", "0.4 V", NULL, OR_ELSE(LEVEL, tl_source, low)},
    {"rate", false, KEY_VALUE, TL_DIM_HERTZ, NULL, "none", "highest", "1 kHz", NULL,
     INTO(VALUE, tl_source, rate)},
    {"drives", false, KEY_VALUE, TL_DIM_AMPERE, NULL, "not looked at", "at those levels", "4 mA", NULL,
     INTO(VALUE, tl_source, drives)},
    {"resistance", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "0", "its own", "50 ohm", NULL,
     INTO(LOCATED, tl_source, ohms)},
    {.name = NULL},
};
const key_section keys_logic = {"logic", "a logic output", keys_logic_rows};

/* In the order in which they are looked for: a bridge has volts as well. */
const key_section *const all_sources[] = {&keys_rail,       &keys_bridge,        &keys_voltage, &keys_current,
                                          &keys_resistance, &keys_potentiometer, &keys_chain,   &keys_star,
                                          &keys_contact,    &keys_collector,     &keys_logic,   NULL};

/* --- stages --- */

static const known_key keys_divider_rows[] = {
    {"upper", true, KEY_QUANTITY, TL_DIM_OHM, NULL, NULL, "its upper leg", "47k", NULL,
     INTO(PART, tl_stage, first)},
    {"lower", true, KEY_QUANTITY, TL_DIM_OHM, NULL, NULL, "its lower leg", "10k", NULL,
     INTO(PART, tl_stage, second)},
    {"to", false, KEY_NAME, 0, NULL, "ground", "the rail of the lower leg", "logic", NULL,
     INTO(RAIL, tl_stage, to)},
    FITTED(tl_stage),
    {.name = NULL},
};
const key_section keys_divider = {"divider", "a divider", keys_divider_rows};

static const known_key keys_pull_rows[] = {
    {"up", false, KEY_TEXT, 0, NULL, NULL, "a pull-up: ohms, or `internal` for the chip's own, without `to`",
     "10k", NULL, BY_CODE},
    {"down", false, KEY_TEXT, 0, NULL, NULL, "or a pull-down", "10k", NULL, BY_CODE},
    {"to", false, KEY_NAME, 0, NULL, "ground, for a pull-down", "its rail", "logic", NULL,
     INTO(RAIL, tl_stage, to)},
    FITTED(tl_stage),
    {.name = NULL},
};
const key_section keys_pull = {"pull", "a pull", keys_pull_rows};

static const known_key keys_partner_rows[] = {
    {"upper", false, KEY_QUANTITY, TL_DIM_OHM, NULL, NULL, "the fixed resistor above the sensor", "4k7", NULL,
     BY_CODE},
    {"lower", false, KEY_QUANTITY, TL_DIM_OHM, NULL, NULL, "or below it", "4k7", NULL, BY_CODE},
    {"to", false, KEY_NAME, 0, NULL, "ground, for a lower one", "its rail", "logic", NULL,
     INTO(RAIL, tl_stage, to)},
    FITTED(tl_stage),
    {.name = NULL},
};
const key_section keys_partner = {"partner", "a partner", keys_partner_rows};

static const known_key keys_filter_rows[] = {
    {"series", true, KEY_QUANTITY, TL_DIM_OHM, NULL, NULL, "in the way", "1k", NULL,
     INTO(PART, tl_stage, first)},
    {"capacitor", true, KEY_QUANTITY, TL_DIM_FARAD, NULL, NULL, "from behind it to ground", "220 nF ±10 %",
     NULL, INTO(PART, tl_stage, second)},
    FITTED(tl_stage),
    {.name = NULL},
};
const key_section keys_filter = {"filter", "a filter", keys_filter_rows};

static const known_key keys_capacitor_rows[] = {
    {"capacitance", true, KEY_QUANTITY, TL_DIM_FARAD, NULL, NULL, "from this node to ground", "100 nF", NULL,
     INTO(PART, tl_stage, first)},
    {"resistance", false, KEY_QUANTITY, TL_DIM_OHM, NULL, "0", "its own, in series", "1 ohm", NULL,
     INTO(LOCATED, tl_stage, second)},
    FITTED(tl_stage),
    {.name = NULL},
};
const key_section keys_capacitor = {"capacitor", "a capacitor", keys_capacitor_rows};

static const known_key keys_follower_rows[] = {
    {"supply", true, KEY_NAME, 0, NULL, NULL, "what it runs on", "sensor", NULL, INTO(SUPPLY, tl_stage, to)},
    {"output", false, KEY_LEVELS, 0, NULL, "0 V .. rail", "what it reaches", "0.05 V .. rail - 0.05 V", NULL,
     OR_ELSE(LEVELS, tl_stage, out_low)},
    {"input", false, KEY_LEVELS, 0, NULL, "0 V .. rail", "what it takes", "0 V .. rail - 1 V", NULL,
     OR_ELSE(LEVELS, tl_stage, in_low)},
    {"bias", false, KEY_VALUE, TL_DIM_AMPERE, NULL, "0", "into its input", "1 nA", NULL,
     INTO(SIZE, tl_stage, bias)},
    {"offset", false, KEY_QUANTITY, TL_DIM_VOLT, NULL, "0", "at most", "3 mV", NULL,
     INTO(SIZE, tl_stage, offset)},
    {"bandwidth", false, KEY_VALUE, TL_DIM_HERTZ, NULL, "enough", "of itself", "100 kHz", NULL,
     INTO(VALUE, tl_stage, bandwidth)},
    {"gain", false, KEY_WHOLE, 0, "10..1000000000", "enough", "before feedback, at least", "10000", NULL,
     INTO(COUNT, tl_stage, gain)},
    FITTED(tl_stage),
    {.name = NULL},
};
const key_section keys_follower = {"follower", "a follower", keys_follower_rows};

static const known_key keys_shifter_rows[] = {
    {"way", true, KEY_WORD, 0, "diode|inverter|n-channel|buffer", NULL, "how", "n-channel", NULL,
     INTO(WORD, tl_stage, way)},
    {"drop", false, KEY_VALUE, TL_DIM_VOLT, NULL, NULL, "of a diode", "0.35 V", NULL,
     INTO(VALUE, tl_stage, drop)},
    {"base", false, KEY_QUANTITY, TL_DIM_OHM, NULL, NULL, "of an inverter", "10k", NULL,
     INTO(PART, tl_stage, first)},
    {"gate", false, KEY_NAME, 0, NULL, NULL, "of an n-channel: the lower side's rail", "logic", NULL,
     INTO(SUPPLY, tl_stage, to)},
    {"threshold", false, KEY_VALUE, TL_DIM_VOLT, NULL, NULL, "of an n-channel: highest", "1.5 V", NULL,
     INTO(VALUE, tl_stage, threshold)},
    {"diode", false, KEY_VALUE, TL_DIM_VOLT, NULL, NULL, "of an n-channel: its body diode", "0.7 V", NULL,
     INTO(VALUE, tl_stage, drop)},
    {"supply", false, KEY_NAME, 0, NULL, NULL, "of a buffer", "logic", NULL, INTO(SUPPLY, tl_stage, to)},
    {"vil", false, KEY_LEVEL, 0, NULL, NULL, "of a buffer", "0.3 rail", NULL, INTO(LEVEL, tl_stage, vil)},
    {"vih", false, KEY_LEVEL, 0, NULL, NULL, "of a buffer", "0.7 rail", NULL, INTO(LEVEL, tl_stage, vih)},
    {"limits", false, KEY_LEVELS, 0, NULL, NULL, "of a buffer", "-0.3 V .. 5.5 V", NULL,
     INTO(LEVELS, tl_stage, lowest)},
    FITTED(tl_stage),
    {.name = NULL},
};
const key_section keys_shifter = {"shifter", "a shifter", keys_shifter_rows};

static const known_key keys_clamp_rows[] = {
    {"to", true, KEY_NAME, 0, NULL, NULL, "a part that conducts to this rail", "logic", NULL,
     INTO(RAIL, tl_stage, to)},
    {"drop", true, KEY_VALUE, TL_DIM_VOLT, NULL, NULL, "volts across it", "0.35 V", NULL,
     INTO(VALUE, tl_stage, drop)},
    {"current", false, KEY_VALUE, TL_DIM_AMPERE, NULL, "not looked at", "that it stands", "200 mA", NULL,
     INTO(VALUE, tl_stage, most_amperes)},
    FITTED(tl_stage),
    {.name = NULL},
};
const key_section keys_clamp = {"clamp", "a clamp", keys_clamp_rows};

const known_stage all_stages[] = {
    {"series", true, NULL, "a resistor in the way", "1k"},
    {"guard", true, NULL, "a resistor that must save the pin", "1k"},
    {"divider", false, &keys_divider, "two legs that bring a voltage down", "{upper: 47k, lower: 10k}"},
    {"pull", false, &keys_pull, "defines the level of a line", "{up: 10k, to: logic}"},
    {"partner", false, &keys_partner, "makes a divider of a resistance", "{upper: 4k7, to: logic}"},
    {"load", true, NULL, "from this node to ground", "165 ohm"},
    {"capacitor", true, &keys_capacitor, "from this node to ground", "100 nF"},
    {"cable", true, NULL, "capacitance from this node to ground", "300 pF"},
    {"filter", false, &keys_filter, "resistor and capacitor", "{series: 1k, capacitor: 220 nF}"},
    {"follower", false, &keys_follower, "an amplifier that follows", "{supply: sensor}"},
    {"shifter", false, &keys_shifter, "from one voltage world into another", "{way: diode, drop: 0.35 V}"},
    {"clamp", true, &keys_clamp, "`pin`: its own diodes may conduct, within its `injection`; or a part",
     "pin"},
    {NULL, false, NULL, NULL, NULL},
};

/* --- readings --- */

static const known_key keys_analog_reading_rows[] = {
    {"of", false, KEY_WORD, 0, "counts|pin|source|resistance|quantity|travel", "the farthest",
     "how far back, not farther than the source allows", "source", NULL, BY_CODE},
    {"unit", false, KEY_TEXT, 0, NULL, "the first of what is read",
     "`V` `mV`, `A` `mA`, `ohm` `kohm`, `%`, `counts`; of points and laws theirs", "V", NULL, BY_CODE},
    {"decimals", false, KEY_WHOLE, 0, "0..6", "what the LSB allows", "how many", "2", NULL,
     INTO(WHOLE, tl_plan_reading, decimals)},
    {"round", false, KEY_FREE, 0, NULL, "none", "to a coarser step", "0.5 degC", NULL, BY_CODE},
    {"points", false, KEY_LIST, 0, NULL, "none", "two or more pairs, source: wanted, straight between",
     "[0.5 V: 0 m, 4.5 V: 3 m]", NULL, BY_CODE},
    {"percent", false, KEY_MAP, 0, NULL, "none", "a second figure of the same reading, clamped to 0 .. 100",
     "{empty: 10.8 V, full: 12.9 V}", &keys_percent, BY_CODE},
    {"mean", false, KEY_WHOLE, 0, "2..4096", "none", "number of samples for a mean", "16", NULL, BY_CODE},
    {"median", false, KEY_WHOLE, 0, "2..4096", "none", "number of samples for a median, odd", "5", NULL,
     BY_CODE},
    {"rolling", false, KEY_WHOLE, 0, "2..4096", "none", "number of samples for a rolling mean", "8", NULL,
     BY_CODE},
    {"exponential", false, KEY_WHOLE, 0, "2..4096", "none",
     "exponential mean: each sample has a weight of 1 / N", "16", NULL, BY_CODE},
    {"faults", false, KEY_MAP, 0, NULL, "none", "windows in which a wire must be broken or shorted",
     "{open: above 98 %, short: below 3 %}", &keys_windows, BY_CODE},
    {"trim", false, KEY_MAP, 0, NULL, "none", "a meter against the converter",
     "{points: [20 counts: 0.05 V, 3000 counts: 2.4 V]}", &keys_trim, BY_CODE},
    {"scale", false, KEY_FREE, 0, NULL, "not compared",
     "what existing firmware believes: source volts per pin volt", "5.7", NULL, BY_CODE},
    {"steps", false, KEY_WORD, 0, "half|full|end-to-end", "not compared",
     "what existing firmware believes: the step convention", "half", NULL,
     PLACED(WORD, tl_plan_reading, steps, steps_place)},
    {"word", false, KEY_MAP, 0, NULL, "not compared",
     "what existing firmware believes: the word of the result", "{bits: 12, in: 16}", &keys_restated_word,
     BY_CODE},
    {"apart", false, KEY_VALUE, TL_DIM_COUNT, NULL, "1 % of the span",
     "of a chain or star: counts between buttons", "50 counts", NULL, INTO(VALUE, tl_plan_reading, apart)},
    {.name = NULL},
};
const key_section keys_analog_reading = {"analog-reading", "the reading of an analog signal",
                                         keys_analog_reading_rows};

static const known_key keys_digital_reading_rows[] = {
    {"steady", false, KEY_VALUE, TL_DIM_SECOND, NULL, "twice the bounce", "debounce time", "20 ms", NULL,
     INTO(VALUE, tl_plan_reading, steady)},
    {"active", false, KEY_WORD, 0, "low|high", "not compared",
     "what existing firmware believes that closing gives", "low", NULL,
     PLACED(WORD, tl_plan_reading, active, active_place)},
    {"as", false, KEY_WORD, 0, "level|count|toggle|lengths|frequency|duty|period", "level",
     "what it is read as: its state, its closings, a switch that every closing turns over, lengths that are "
     "expected, or how often, for which share of the time and in what period it closes (a logic line: is "
     "high)",
     "frequency", NULL, INTO(WORD, tl_plan_reading, as)},
    {"expect", false, KEY_LIST, 0, NULL, "none", "of lengths", "[high 300 ms, low 200 ms]", NULL, BY_CODE},
    {"within", false, KEY_VALUE, TL_DIM_PERCENT, NULL, "5 %", "and how near", "5 %", NULL,
     OR_ELSE(VALUE, tl_plan_reading, within)},
    {"over", false, KEY_VALUE, TL_DIM_SECOND, NULL, "100 ms",
     "of frequency, duty and period: whole periods of at least so long are measured together", "1 s", NULL,
     OR_ELSE(VALUE, tl_plan_reading, over)},
    {"stopped-after", false, KEY_VALUE, TL_DIM_SECOND, NULL, "1 s",
     "of these: without an edge for so long it stands still", "5 s", NULL,
     OR_ELSE(VALUE, tl_plan_reading, stopped_after)},
    {"decimals", false, KEY_WHOLE, 0, "0..3", "1; of a period in ms 3", "of these: digits behind the point",
     "0", NULL, INTO(WHOLE, tl_plan_reading, decimals)},
    {.name = NULL},
};
const key_section keys_digital_reading = {"digital-reading", "the reading of a digital signal",
                                          keys_digital_reading_rows};

static const known_key keys_percent_rows[] = {
    {"empty", true, KEY_FREE, 0, NULL, NULL, "the end that is 0 %", "10.8 V", NULL, BY_CODE},
    {"full", true, KEY_FREE, 0, NULL, NULL, "the end that is 100 %", "12.9 V", NULL, BY_CODE},
    {"margin", false, KEY_VALUE, TL_DIM_PERCENT, NULL, "0", "both ends move inward by so much of the span",
     "2 %", NULL, INTO(VALUE, tl_plan_reading, margin)},
    {.name = NULL},
};
const key_section keys_percent = {"percent", "percent", keys_percent_rows};

static const known_key keys_windows_rows[] = {
    {"open", false, KEY_TEXT, 0, NULL, "none",
     "`above` or `below` percent of span, volts at the pin, or amperes of a loop", "above 98 %", NULL,
     BY_CODE},
    {"short", false, KEY_TEXT, 0, NULL, "none", "window of a short, written like `open`", "below 3 %", NULL,
     BY_CODE},
    {"hysteresis", false, KEY_VALUE, TL_DIM_PERCENT, NULL, "1 %", "on the way back", "1 %", NULL,
     OR_ELSE(VALUE, tl_plan_reading, fault_hysteresis)},
    {"value", false, KEY_FREE, 0, NULL, "the last good one", "shown instead", "-99 degC", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_windows = {"faults", "faults", keys_windows_rows};

static const known_key keys_trim_rows[] = {
    {"points", true, KEY_LIST, 0, NULL, NULL, "count: volts", "[20 counts: 0.05 V, 3000 counts: 2.4 V]", NULL,
     BY_CODE},
    {"of", false, KEY_WORD, 0, "source|pin", "source", "where the meter was", "pin", NULL,
     INTO(SECOND, tl_plan_reading, trim_at_pin)},
    {"meter", false, KEY_NAME, 0, NULL, "none", "which meter", "handheld", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_trim = {"trim", "a trim", keys_trim_rows};

static const known_key keys_restated_word_rows[] = {
    {"bits", false, KEY_WHOLE, 0, "4..24", "not compared", "of the result", "12", NULL,
     INTO(LONG, tl_plan_reading, word_bits)},
    {"align", false, KEY_WORD, 0, "right|left|stretched", "not compared", "in its word", "right", NULL,
     INTO(WORD, tl_plan_reading, word_align)},
    {"in", false, KEY_WHOLE, 0, "6..32", "not compared", "bits of the word", "16", NULL,
     INTO(LONG, tl_plan_reading, word_in)},
    {"sign", false, KEY_WORD, 0, "none|twos-complement|offset-binary", "not compared", "sign convention",
     "none", NULL, INTO(WORD, tl_plan_reading, word_sign)},
    {"fill", false, KEY_WORD, 0, "zero|sign", "not compared", "above a signed code", "zero", NULL, BY_CODE},
    {"bytes", false, KEY_WORD, 0, "high-first|low-first|high-only", "not compared", "how they come",
     "high-first", NULL, INTO(WORD, tl_plan_reading, word_bytes)},
    {.name = NULL},
};
const key_section keys_restated_word = {"restated-word", "a word", keys_restated_word_rows};
