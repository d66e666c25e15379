/* SPDX-License-Identifier: MIT */
/* The keys of a scene, and the kinds of file. */
#include "model/keys.h"
#include <stddef.h>

/* One row is one key, and its texts stay whole: the formatter stays away. */
/* clang-format off */
static const known_key keys_scene_rows[] = {
    {"tinyladder", true, KEY_TEXT, 0, NULL, NULL, "kind and version of the file", "scene 1", NULL, BY_CODE},
    {"plan", false, KEY_FILE, 0, NULL, "any", "the plan that the scene is for; it is refused with another plan", "fernhill.plan.yaml", NULL, BY_CODE},
    {"seed", false, KEY_WHOLE, 0, "0..1000000000", "1", "seed for real values, bounce and noise", "7", NULL, BY_CODE},
    {"length", true, KEY_VALUE, TL_DIM_SECOND, NULL, NULL, "duration of the scene", "40 min", NULL, BY_CODE},
    {"values", false, KEY_FREE, 0, NULL, "half way between the ends",
     "analog signals: a value, or a list of `TIME: VALUE`, in volts, amperes or ohms of the source, percent of travel, or the unit of its law; or keys of a section below",
     "{house-battery: [0 s: 12.7 V, 30 min: 12.1 V]}", NULL, BY_CODE},
    {"presses", false, KEY_FREE, 0, NULL, "none",
     "digital signals, or a button such as `keypad.park`: list of `TIME for LENGTH`",
     "{open-button: [5 s for 200 ms]}", NULL, BY_CODE},
    {"faults", false, KEY_FAULT, 0, NULL, "none", "list of faults", "[{open: heater-3.source, from: 20 min}]", NULL, BY_CODE},
    {"meter", false, KEY_MAPS, 0, NULL, "none", "one meter, or a list", "{use: handheld, on: house-battery.divider}", &keys_scene_meter, BY_CODE},
    {.name = NULL},
};
const key_section keys_scene = {"scene", "a scene", keys_scene_rows};

/* What was seen of a real board. */
static const known_key keys_observed_rows[] = {
    {"tinyladder", true, KEY_TEXT, 0, NULL, NULL, "kind and version of the file", "observed 1", NULL, BY_CODE},
    {"every", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0.1 s", "time from one sample to the next", "0.5 s", NULL, BY_CODE},
    {"seen", true, KEY_MAPS, 0, NULL, NULL, "list of situations, in which the sources stood still", "[{sources: {house-battery: 12.7 V}, counts: {house-battery: 2610}}]", &keys_situation, BY_CODE},
    {.name = NULL},
};
const key_section keys_observed = {"observed", "observations", keys_observed_rows};

static const known_key keys_situation_rows[] = {
    {"sources", false, KEY_FREE, 0, NULL, "anywhere between their ends",
     "what you believe each source did: a value, best with a tolerance, a range, or a state: `closed`, `open`, `on`, `off`, `low`, `high`, a button, `no button`",
     "{house-battery: 12.7 V ±0.1 V, open-button: closed}", NULL, BY_CODE},
    {"counts", false, KEY_FREE, 0, NULL, "none", "analog signals: one count or a list, as the firmware prints them; `-` where none came", "{house-battery: [2610, 2611]}", NULL, BY_CODE},
    {"levels", false, KEY_FREE, 0, NULL, "none", "digital signals: 1 is high, 0 low; one or a list", "{open-button: [1, 0, 1]}", NULL, BY_CODE},
    {"shown", false, KEY_FREE, 0, NULL, "none", "values that the firmware shows with these counts", "{house-battery: 12.6 V}", NULL, BY_CODE},
    {"outputs", false, KEY_FREE, 0, NULL, "none", "what each output was told, and what its load did: `off` or `on`, then `dark`, `dim` or `bright`, or `stands`, `slow` or `runs`", "{dew-fan: 'on, stands'}", NULL, BY_CODE},
    {"meters", false, KEY_FREE, 0, NULL, "none", "points and the volts that a meter shows there", "{house-battery.divider: 2.1 V}", NULL, BY_CODE},
    {"ohms", false, KEY_FREE, 0, NULL, "none", "with the power off: two points, `ground` among them, and the resistance between them, or `open`", "{'house-battery.divider,ground': 9.6k}", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_situation = {"situation", "a situation", keys_situation_rows};

static const known_key keys_wave_rows[] = {
    {"middle", true, KEY_FREE, 0, NULL, NULL, "middle of the sine, which it passes upward at 0 s", "40 %", NULL, BY_CODE},
    {"swing", true, KEY_FREE, 0, NULL, NULL, "amplitude on both sides of the middle", "10 %", NULL, BY_CODE},
    {"period", true, KEY_VALUE, TL_DIM_SECOND, NULL, NULL, "period of the sine", "7 s", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_wave = {"wave", "a wave", keys_wave_rows};

static const known_key keys_steps_rows[] = {
    {"steps", true, KEY_LIST, 0, NULL, NULL, "list of `TIME: VALUE`; each value stays until the next", "[0 s: 10 %, 5 min: 90 %]", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_steps = {"steps", "steps", keys_steps_rows};

static const known_key keys_values_file_rows[] = {
    {"file", true, KEY_FILE, 0, NULL, NULL,
     "file beside the scene. Analog: CSV; its first line names the columns, and the first column is the time: `ms`, `s`, `min` or `h`. Digital: a value change dump (IEEE 1364) with the levels of the line, as a logic analyser records them; the bench adds no bounce",
     "dusk.csv", NULL, BY_CODE},
    {"column", false, KEY_NAME, 0, NULL, "the second; of a dump the only line", "column of the values; of a dump the variable, alone or behind its scopes: `D0`, `bench.D0`", "ohms", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_values_file = {"values-file", "values from a file", keys_values_file_rows};

static const known_key keys_repeat_rows[] = {
    {"repeat", true, KEY_LIST, 0, NULL, NULL,
     "digital signal: pulse pattern that repeats: `high` and `low` of a logic source, `closed` and `open` of a contact",
     "[high 300 ms, low 200 ms]", NULL, BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "time at which it begins", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "for ever", "time at which it ends", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_repeat = {"repeat", "a pattern", keys_repeat_rows};

static const known_key keys_scene_meter_rows[] = {
    {"use", true, KEY_NAME, 0, NULL, NULL, "name of a meter of the plan", "handheld", NULL, BY_CODE},
    {"on", true, KEY_NAME, 0, NULL, NULL,
     "point that the meter is connected to; its resistance loads the circuit",
     "house-battery.divider", NULL, BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "time at which it begins", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the end", "time at which it ends", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_scene_meter = {"scene-meter", "a meter", keys_scene_meter_rows};

static const known_key keys_fault_open_rows[] = {
    {"open", true, KEY_NAME, 0, NULL, NULL, "part that is disconnected", "heater-3.source", NULL, BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "time at which it begins", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the end", "time at which it ends", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
static const key_section keys_fault_open = {"fault-open", "a fault", keys_fault_open_rows};

static const known_key keys_fault_short_rows[] = {
    {"short", true, KEY_NAME, 0, NULL, NULL, "part that is bridged; with `to`, a point that touches another", "wind-vane.pin", NULL, BY_CODE},
    {"to", false, KEY_NAME, 0, NULL, NULL, "the other point", "ground", NULL, BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "time at which it begins", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the end", "time at which it ends", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
static const key_section keys_fault_short = {"fault-short", "a fault", keys_fault_short_rows};

static const known_key keys_fault_wrong_rows[] = {
    {"wrong", true, KEY_NAME, 0, NULL, NULL, "part with a wrong value, or a supply", "house-battery.divider.lower", NULL, BY_CODE},
    {"value", true, KEY_FREE, 0, NULL, NULL, "the value that is really fitted", "1k", NULL, BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "time at which it begins", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the end", "time at which it ends", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
static const key_section keys_fault_wrong = {"fault-wrong", "a fault", keys_fault_wrong_rows};

static const known_key keys_fault_swap_rows[] = {
    {"swap", true, KEY_LIST, 0, NULL, NULL,
     "two parts with exchanged values, or two lines or two pins of signals that are exchanged",
     "[heaters.select-0, heaters.select-2]", NULL, BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "time at which it begins", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the end", "time at which it ends", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
static const key_section keys_fault_swap = {"fault-swap", "a fault", keys_fault_swap_rows};

static const known_key keys_fault_stuck_rows[] = {
    {"stuck", true, KEY_NAME, 0, NULL, NULL, "line or contact that stays in one state", "stop-button.source", NULL, BY_CODE},
    {"at", true, KEY_WORD, 0, "low|high|open|closed", NULL, "the state", "closed", NULL, BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "time at which it begins", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the end", "time at which it ends", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
static const key_section keys_fault_stuck = {"fault-stuck", "a fault", keys_fault_stuck_rows};

static const known_key keys_fault_missing_rows[] = {
    {"missing", true, KEY_NAME, 0, NULL, NULL, "supply that is off", "sensor", NULL, BY_CODE},
    {"off", false, KEY_WORD, 0, "open|shorted", "open",
     "`open`: the supply is disconnected, and what it feeds gets current from other paths only; `shorted`: it is shorted to ground",
     "shorted", NULL, BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "time at which it begins", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the end", "time at which it ends", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
static const key_section keys_fault_missing = {"fault-missing", "a fault", keys_fault_missing_rows};

static const known_key keys_fault_loose_rows[] = {
    {"loose", true, KEY_NAME, 0, NULL, NULL,
     "part with a loose contact, disconnected for at most half of `every`",
     "mirror-temperature.source", NULL, BY_CODE},
    {"every", false, KEY_VALUE, TL_DIM_SECOND, NULL, "1 s", "mean time between interruptions", "200 ms", NULL, BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "time at which it begins", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the end", "time at which it ends", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
static const key_section keys_fault_loose = {"fault-loose", "a fault", keys_fault_loose_rows};

static const known_key keys_fault_leak_rows[] = {
    {"leak", true, KEY_NAME, 0, NULL, NULL, "point with a leakage path to a rail, from damp or dirt", "rain-plate.pin", NULL, BY_CODE},
    {"ohms", true, KEY_VALUE, TL_DIM_OHM, NULL, NULL, "resistance of the leakage path", "100k", NULL, BY_CODE},
    {"to", true, KEY_NAME, 0, NULL, NULL, "the rail", "ground", NULL, BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "time at which it begins", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the end", "time at which it ends", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
static const key_section keys_fault_leak = {"fault-leak", "a fault", keys_fault_leak_rows};

static const known_key keys_fault_noise_rows[] = {
    {"noise", true, KEY_NAME, 0, NULL, NULL, "point that picks up hum; a higher resistance at the point picks up more", "twilight.pin", NULL, BY_CODE},
    {"volts", true, KEY_VALUE, TL_DIM_VOLT, NULL, NULL, "peak voltage of the hum on an open wire", "10 V", NULL, BY_CODE},
    {"through", false, KEY_VALUE, TL_DIM_OHM, NULL, "1 Mohm", "resistance between the hum and the point", "10 Mohm", NULL, BY_CODE},
    {"frequency", true, KEY_VALUE, TL_DIM_HERTZ, NULL, NULL, "frequency of the hum", "50 Hz", NULL, BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "time at which it begins", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the end", "time at which it ends", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
static const key_section keys_fault_noise = {"fault-noise", "a fault", keys_fault_noise_rows};

static const known_key keys_setting_rows[] = {
    {"setting", true, KEY_NAME, 0, NULL, NULL, "ADC with settings other than those of the plan", "main", NULL, BY_CODE},
    {"reference", false, KEY_NAME, 0, NULL, "as planned", "its reference", "inner", NULL, BY_CODE},
    {"range", false, KEY_QUANTITY, TL_DIM_VOLT, NULL, "as planned", "its input range", "±1 V", NULL, BY_CODE},
    {"align", false, KEY_WORD, 0, "right|left|stretched", "as planned", "alignment of its result", "left", NULL, BY_CODE},
    {"acquisition", false, KEY_VALUE, TL_DIM_SECOND, NULL, "as planned", "its acquisition time", "0.3 us", NULL, BY_CODE},
    {"address", false, KEY_FREE, 0, NULL, "as planned", "its I2C address", "0x2b", NULL, BY_CODE},
    {"stretch", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0", "time for which it holds the I2C clock low at every acknowledge", "1 ms", NULL, BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "time at which it begins", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the end", "time at which it ends", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_setting = {"fault-setting", "a fault", keys_setting_rows};

static const known_key keys_fault_joint_rows[] = {
    {"joint", true, KEY_NAME, 0, NULL, NULL, "part with a bad joint: a resistance in series with it", "house-battery.source", NULL, BY_CODE},
    {"ohms", true, KEY_VALUE, TL_DIM_OHM, NULL, NULL, "resistance of the joint", "470 ohm", NULL, BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "time at which it begins", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the end", "time at which it ends", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
static const key_section keys_fault_joint = {"fault-joint", "a fault", keys_fault_joint_rows};

static const known_key keys_fault_moved_rows[] = {
    {"moved", true, KEY_NAME, 0, NULL, NULL, "part that is connected to another rail than planned", "stop-button.source", NULL, BY_CODE},
    {"to", true, KEY_NAME, 0, NULL, NULL, "the rail that it is connected to", "ground", NULL, BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "time at which it begins", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the end", "time at which it ends", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
static const key_section keys_fault_moved = {"fault-moved", "a fault", keys_fault_moved_rows};

static const known_key keys_fault_reversed_rows[] = {
    {"reversed", true, KEY_NAME, 0, NULL, NULL,
     "part that is connected the wrong way round: the ends of a potentiometer's track, the outputs of a bridge, a lamp, the transmitter of a loop",
     "roof-position.source", NULL, BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "time at which it begins", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the end", "time at which it ends", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
static const key_section keys_fault_reversed = {"fault-reversed", "a fault", keys_fault_reversed_rows};

static const known_key keys_fault_meter_rows[] = {
    {"meter", true, KEY_NAME, 0, NULL, NULL, "meter of the plan that has been left connected", "handheld", NULL, BY_CODE},
    {"on", true, KEY_NAME, 0, NULL, NULL, "point that it is connected to", "rain-plate.pin", NULL, BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "time at which it begins", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the end", "time at which it ends", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
static const key_section keys_fault_meter = {"fault-meter", "a fault", keys_fault_meter_rows};

static const known_key keys_fault_misread_rows[] = {
    {"misread", true, KEY_NAME, 0, NULL, NULL, "analog signal, or a converter with all its signals, whose counts the firmware takes for something else", "house-battery", NULL, BY_CODE},
    {"as", false, KEY_WORD, 0, "swapped-bytes|other-sign|low-byte|high-byte|inverted|bit-less|bit-more|other-steps|whole-division|whole-ratio", "with `factor`",
     "the mistake: bytes in the wrong order; signed for unsigned, or the other way round; only the lowest or the highest eight bits; counted from the other end; an ADC of a bit less or more; division by the last count instead of the number of steps; whole millivolts per count; the count divided by all counts in whole numbers, which is 0",
     "bit-less", NULL, BY_CODE},
    {"factor", false, KEY_VALUE, TL_DIM_PERCENT, NULL, "with `as`", "wrong constants: the value is this share of the right one, 0.1 % to 100000 %", "110 %", NULL, BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "time at which it begins", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the end", "time at which it ends", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
static const key_section keys_fault_misread = {"fault-misread", "a fault", keys_fault_misread_rows};

const key_section *const all_faults[] = {&keys_fault_open,
                                         &keys_fault_short,
                                         &keys_fault_wrong,
                                         &keys_fault_swap,
                                         &keys_fault_stuck,
                                         &keys_fault_missing,
                                         &keys_fault_loose,
                                         &keys_fault_leak,
                                         &keys_fault_noise,
                                         &keys_setting,
                                         &keys_fault_joint,
                                         &keys_fault_moved,
                                         &keys_fault_reversed,
                                         &keys_fault_meter,
                                         &keys_fault_misread,
                                         NULL};

const file_kind file_kinds[] = {{"plan", &keys_plan},
                                {"board", &keys_board},
                                {"converter", &keys_converter_file},
                                {"mux", &keys_mux_file},
                                {"drawer", &keys_drawer},
                                {"plug-in", &keys_plug_in},
                                {"scene", &keys_scene},
                                {"observed", &keys_observed},
                                {NULL, NULL}};
