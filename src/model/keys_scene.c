/* The keys of a scene, and the kinds of file. */
#include "model/keys.h"
#include <stddef.h>

static const known_key keys_scene_rows[] = {
    {"tinyladder", true, KEY_TEXT, 0, NULL, NULL, "kind and version", "scene 1", NULL, BY_CODE},
    {"plan", false, KEY_FILE, 0, NULL, "any", "the plan it is for; with another it is refused",
     "fernhill.plan.yaml", NULL, BY_CODE},
    {"seed", false, KEY_WHOLE, 0, "0..1000000000", "1", "real values, bounce and noise are drawn from it",
     "7", NULL, BY_CODE},
    {"length", true, KEY_VALUE, TL_DIM_SECOND, NULL, NULL, "how long it plays", "40 min", NULL, BY_CODE},
    {"values", false, KEY_FREE, 0, NULL, "in the middle",
     "analog signal: a value, or a list of `TIME: VALUE`, in volts, amperes or ohms of the source, percent "
     "of travel, or "
     "the unit of its law; or a section below",
     "{house-battery: [0 s: 12.7 V, 30 min: 12.1 V]}", NULL, BY_CODE},
    {"presses", false, KEY_FREE, 0, NULL, "none",
     "digital signal, or a button as `keypad.park`: list of `TIME for LENGTH`",
     "{open-button: [5 s for 200 ms]}", NULL, BY_CODE},
    {"faults", false, KEY_FAULT, 0, NULL, "none", "list of what goes wrong",
     "[{open: heater-3.source, from: 20 min}]", NULL, BY_CODE},
    {"meter", false, KEY_MAPS, 0, NULL, "none", "one meter, or a list",
     "{use: handheld, on: house-battery.divider}", &keys_scene_meter, BY_CODE},
    {.name = NULL},
};
const key_section keys_scene = {"scene", "a scene", keys_scene_rows};

static const known_key keys_wave_rows[] = {
    {"middle", true, KEY_FREE, 0, NULL, NULL, "of a sine, through which it rises at 0 s", "40 %", NULL,
     BY_CODE},
    {"swing", true, KEY_FREE, 0, NULL, NULL, "so far to both sides", "10 %", NULL, BY_CODE},
    {"period", true, KEY_VALUE, TL_DIM_SECOND, NULL, NULL, "of it", "7 s", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_wave = {"wave", "a wave", keys_wave_rows};

static const known_key keys_steps_rows[] = {
    {"steps", true, KEY_LIST, 0, NULL, NULL, "each value stays until the next", "[0 s: 10 %, 5 min: 90 %]",
     NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_steps = {"steps", "steps", keys_steps_rows};

static const known_key keys_values_file_rows[] = {
    {"file", true, KEY_FILE, 0, NULL, NULL,
     "a CSV file beside the scene: its head line names the columns, time first as `ms`, `s`, `min` or `h`",
     "dusk.csv", NULL, BY_CODE},
    {"column", false, KEY_NAME, 0, NULL, "the second", "which column", "ohms", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_values_file = {"values-file", "values from a file", keys_values_file_rows};

static const known_key keys_repeat_rows[] = {
    {"repeat", true, KEY_LIST, 0, NULL, NULL,
     "digital signal: lengths that take turns, again and again: `high` and `low` of a logic source, `closed` "
     "and `open` of a contact",
     "[high 300 ms, low 200 ms]", NULL, BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "since when", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "for ever", "until when", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_repeat = {"repeat", "a pattern", keys_repeat_rows};

static const known_key keys_scene_meter_rows[] = {
    {"use", true, KEY_NAME, 0, NULL, NULL, "one of the plan's meters", "handheld", NULL, BY_CODE},
    {"on", true, KEY_NAME, 0, NULL, NULL, "a point: its resistance loads it", "house-battery.divider", NULL,
     BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "since when", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the end", "until when", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_scene_meter = {"scene-meter", "a meter", keys_scene_meter_rows};

static const known_key keys_fault_open_rows[] = {
    {"open", true, KEY_NAME, 0, NULL, NULL, "the part comes off", "heater-3.source", NULL, BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "since when", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the end", "until when", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
static const key_section keys_fault_open = {"fault-open", "a fault", keys_fault_open_rows};

static const known_key keys_fault_short_rows[] = {
    {"short", true, KEY_NAME, 0, NULL, NULL, "the part is bridged; with `to`, two points touch",
     "wind-vane.pin", NULL, BY_CODE},
    {"to", false, KEY_NAME, 0, NULL, NULL, "the other point", "ground", NULL, BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "since when", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the end", "until when", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
static const key_section keys_fault_short = {"fault-short", "a fault", keys_fault_short_rows};

static const known_key keys_fault_wrong_rows[] = {
    {"wrong", true, KEY_NAME, 0, NULL, NULL, "the part has another value", "house-battery.divider.lower",
     NULL, BY_CODE},
    {"value", true, KEY_FREE, 0, NULL, NULL, "which", "1k", NULL, BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "since when", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the end", "until when", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
static const key_section keys_fault_wrong = {"fault-wrong", "a fault", keys_fault_wrong_rows};

static const known_key keys_fault_swap_rows[] = {
    {"swap", true, KEY_LIST, 0, NULL, NULL,
     "two parts have each other's values, two lines or two signals' pins have changed places",
     "[heaters.select-0, heaters.select-2]", NULL, BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "since when", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the end", "until when", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
static const key_section keys_fault_swap = {"fault-swap", "a fault", keys_fault_swap_rows};

static const known_key keys_fault_stuck_rows[] = {
    {"stuck", true, KEY_NAME, 0, NULL, NULL, "a line or a contact stays so", "stop-button.source", NULL,
     BY_CODE},
    {"at", true, KEY_WORD, 0, "low|high|open|closed", NULL, "how", "closed", NULL, BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "since when", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the end", "until when", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
static const key_section keys_fault_stuck = {"fault-stuck", "a fault", keys_fault_stuck_rows};

static const known_key keys_fault_missing_rows[] = {
    {"missing", true, KEY_NAME, 0, NULL, NULL, "a supply is off", "sensor", NULL, BY_CODE},
    {"off", false, KEY_WORD, 0, "open|shorted", "open",
     "the supply is open, and what it feeds gets current from other paths only; or it is shorted to ground",
     "shorted", NULL, BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "since when", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the end", "until when", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
static const key_section keys_fault_missing = {"fault-missing", "a fault", keys_fault_missing_rows};

static const known_key keys_fault_loose_rows[] = {
    {"loose", true, KEY_NAME, 0, NULL, NULL, "it comes off and on again, off for at most half of `every`",
     "mirror-temperature.source", NULL, BY_CODE},
    {"every", false, KEY_VALUE, TL_DIM_SECOND, NULL, "1 s", "mean time between breaks", "200 ms", NULL,
     BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "since when", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the end", "until when", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
static const key_section keys_fault_loose = {"fault-loose", "a fault", keys_fault_loose_rows};

static const known_key keys_fault_leak_rows[] = {
    {"leak", true, KEY_NAME, 0, NULL, NULL, "from a point to a rail: damp, dirt", "rain-plate.pin", NULL,
     BY_CODE},
    {"ohms", true, KEY_VALUE, TL_DIM_OHM, NULL, NULL, "so many", "100k", NULL, BY_CODE},
    {"to", true, KEY_NAME, 0, NULL, NULL, "the rail", "ground", NULL, BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "since when", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the end", "until when", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
static const key_section keys_fault_leak = {"fault-leak", "a fault", keys_fault_leak_rows};

static const known_key keys_fault_noise_rows[] = {
    {"noise", true, KEY_NAME, 0, NULL, NULL,
     "a point picks up a hum: the more, the more ohms it has there itself", "twilight.pin", NULL, BY_CODE},
    {"volts", true, KEY_VALUE, TL_DIM_VOLT, NULL, NULL, "peak, of a wire that leads nowhere", "10 V", NULL,
     BY_CODE},
    {"through", false, KEY_VALUE, TL_DIM_OHM, NULL, "1 Mohm", "what lies between the hum and the point",
     "10 Mohm", NULL, BY_CODE},
    {"frequency", true, KEY_VALUE, TL_DIM_HERTZ, NULL, NULL, "of it", "50 Hz", NULL, BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "since when", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the end", "until when", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
static const key_section keys_fault_noise = {"fault-noise", "a fault", keys_fault_noise_rows};

static const known_key keys_setting_rows[] = {
    {"setting", true, KEY_NAME, 0, NULL, NULL, "a converter is really set otherwise than the plan says",
     "main", NULL, BY_CODE},
    {"reference", false, KEY_NAME, 0, NULL, "as planned", "its reference", "inner", NULL, BY_CODE},
    {"range", false, KEY_QUANTITY, TL_DIM_VOLT, NULL, "as planned", "its range", "±1 V", NULL, BY_CODE},
    {"align", false, KEY_WORD, 0, "right|left|stretched", "as planned", "of its word", "left", NULL, BY_CODE},
    {"acquisition", false, KEY_VALUE, TL_DIM_SECOND, NULL, "as planned", "its time", "0.3 us", NULL, BY_CODE},
    {"address", false, KEY_FREE, 0, NULL, "as planned", "on I2C", "0x2b", NULL, BY_CODE},
    {"stretch", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0",
     "it holds the I2C clock so long at every acknowledge", "1 ms", NULL, BY_CODE},
    {"from", false, KEY_VALUE, TL_DIM_SECOND, NULL, "0 s", "since when", "10 min", NULL, BY_CODE},
    {"until", false, KEY_VALUE, TL_DIM_SECOND, NULL, "the end", "until when", "20 min", NULL, BY_CODE},
    {.name = NULL},
};
const key_section keys_setting = {"fault-setting", "a fault", keys_setting_rows};

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
                                         NULL};

const file_kind file_kinds[] = {{"plan", &keys_plan},
                                {"board", &keys_board},
                                {"converter", &keys_converter_file},
                                {"mux", &keys_mux_file},
                                {"drawer", &keys_drawer},
                                {"scene", &keys_scene},
                                {NULL, NULL}};
