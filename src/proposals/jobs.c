/*
 * The kinds of sizing and their options. A kind is a row at the end of this file, an option a row of its
 * table: adding one is adding a row. The requirements themselves, and all that is electrical, are in
 * tinyladder/design/sizing.h.
 */
#include "proposals/jobs.h"
#include <math.h>
#include <string.h>

/*
 * Rows of an option table: the requirement, its member, what is measured, the option, its argument; then its
 * help, and which fact of a board or a plan stands for it where it is not typed.
 */
#define ROW(requirement, member, dim, kind, word_list, option, arg, ...)                                     \
    {                                                                                                        \
        __VA_ARGS__, .name = option, .argument = arg, .form = kind, .dimension = dim,                        \
                     .offset = offsetof(requirement, member), .words = word_list                             \
    }
#define RANGE(requirement, member, dim, option, arg, ...)                                                    \
    ROW(requirement, member, TL_DIM_##dim, FORM_RANGE, NULL, option, arg, __VA_ARGS__)
#define VALUE(requirement, member, dim, option, arg, ...)                                                    \
    ROW(requirement, member, TL_DIM_##dim, FORM_VALUE, NULL, option, arg, __VA_ARGS__)
#define LIST(requirement, member, dim, option, arg, ...)                                                     \
    ROW(requirement, member, TL_DIM_##dim, FORM_LIST, NULL, option, arg, __VA_ARGS__)
#define NUMBER(requirement, member, option, ...)                                                             \
    ROW(requirement, member, TL_DIM_NUMBER, FORM_NUMBER, NULL, option, "N", __VA_ARGS__)
#define WORD(requirement, member, word_list, option, ...)                                                    \
    ROW(requirement, member, TL_DIM_NUMBER, FORM_WORD, word_list, option, "WORD", __VA_ARGS__)
#define FLAG(requirement, member, option, ...)                                                               \
    ROW(requirement, member, TL_DIM_NUMBER, FORM_FLAG, NULL, option, NULL, __VA_ARGS__)

static const char *const divider_orders[] = {"practice", "parts", "share", "current", NULL};
static const char *const partner_legs[] = {"lower", "upper", NULL}, *const pull_ways[] = {"up", "down", NULL};
static const char *const bus_modes[] = {"standard", "fast", "fast-plus", NULL};
static const char *const ladder_ways[] = {"chain", "star", NULL};

/* --- divider --- */

static const size_option divider_options[] = {
    RANGE(tl_divider_requirement, source, VOLT, "from", "VOLTS", "range of the source, such as 10.5V..14.8V",
          TL_FACT_SOURCE),
    VALUE(tl_divider_requirement, limit, VOLT, "limit", "VOLTS",
          "the tap must never be above this (with a board: what pin and reference take)", TL_FACT_LIMIT),
    VALUE(tl_divider_requirement, reference, VOLT, "reference", "VOLTS",
          "of the converter, lowest: the tap stays below this too", TL_FACT_REFERENCE),
    VALUE(tl_divider_requirement, most_amperes, AMPERE, "current", "AMPERES",
          "budget: the most to draw from the source (no budget)", TL_FACT_BUDGET),
    VALUE(tl_divider_requirement, most_tap_ohms, OHM, "source-resistance-limit", "OHMS",
          "budget: the most source resistance at the pin (10k; with a board: what its converter takes)",
          TL_FACT_SEES),
    VALUE(tl_divider_requirement, source_ohms, OHM, "source", "OHMS", "resistance of the source itself (0)",
          TL_FACT_SOURCE_OHMS),
    VALUE(tl_divider_requirement, load_ohms, OHM, "load", "OHMS", "what hangs across the lower leg (nothing)",
          TL_FACT_LOAD),
    VALUE(tl_divider_requirement, leakage, AMPERE, "leakage", "AMPERES",
          "of the pin, either way (0; with a board: its own)", TL_FACT_LEAKAGE),
    RANGE(tl_divider_requirement, upper, OHM, "upper", "OHMS",
          "the upper leg is this, such as \"47k ±1 %\" (exact; with --tolerance that)"),
    RANGE(tl_divider_requirement, lower, OHM, "lower", "OHMS", "the lower leg is this, likewise"),
    NUMBER(tl_divider_requirement, parts, "parts",
           "most parts in one leg, in series or parallel: 1 or 2 (1)"),
    VALUE(tl_divider_requirement, meter_ohms, OHM, "meter", "OHMS",
          "resistance of the meter that will be held to the tap (10 Mohm)"),
    WORD(tl_divider_requirement, order, divider_orders, "order",
         "what comes first: practice, parts (fewest, then share), share or current (practice)"),
    VALUE(tl_divider_requirement, least_share, PERCENT, "share", "PERCENT",
          "of the limit that the tap must use at least (any; with --order=current half of the best)"),
    VALUE(
        tl_divider_requirement, drift, DRIFT, "drift", "PPM",
        "of each leg, such as \"100 ppm/K\": with --away the error is told, now and after a calibration (0)"),
    VALUE(tl_divider_requirement, away, KELVIN, "away", "KELVINS",
          "at most, from the temperature of a calibration at two points (0)"),
    {0},
};

/* --- ratio --- */

static const size_option ratio_options[] = {
    NUMBER(tl_ratio_requirement, ratio, "ratio", "lower leg by both: 0.223 or 33/148"),
    RANGE(tl_ratio_requirement, sum, OHM, "sum", "OHMS", "of both legs, such as 20k..200k (any)"),
    NUMBER(tl_ratio_requirement, parts, "parts", "most parts in one leg, in series or parallel: 1 or 2 (1)"),
    VALUE(tl_ratio_requirement, drift, DRIFT, "drift", "PPM", "of each leg, such as \"100 ppm/K\" (0)"),
    VALUE(tl_ratio_requirement, away, KELVIN, "away", "KELVINS",
          "at most, from the temperature of a calibration at two points (0)"),
    {0},
};

/* --- partner --- */

static const size_option partner_options[] = {
    RANGE(tl_partner_requirement, sensor, OHM, "sensor", "OHMS",
          "lowest to highest ohms of the sensor, such as \"400 ohm..900k\"", TL_FACT_SENSOR),
    RANGE(tl_partner_requirement, rail, VOLT, "rail", "VOLTS",
          "what the pair hangs on (with a board: its rail)", TL_FACT_RAIL),
    VALUE(tl_partner_requirement, limit, VOLT, "limit", "VOLTS",
          "the tap must never be above this, such as a reference that is not the rail (with a board or a "
          "plan: then "
          "its lowest)",
          TL_FACT_OTHER_REFERENCE),
    VALUE(tl_partner_requirement, at, OHM, "at", "OHMS",
          "best resolution at this point instead of the widest swing"),
    WORD(tl_partner_requirement, leg, partner_legs, "leg", "where the partner stands: lower or upper (lower)",
         TL_FACT_UPPER),
    VALUE(tl_partner_requirement, most_amperes, AMPERE, "current", "AMPERES",
          "budget, also with the sensor at 0 ohm (no budget)"),
    VALUE(tl_partner_requirement, most_tap_ohms, OHM, "source-resistance-limit", "OHMS",
          "the most source resistance at the pin (with a board: what its converter takes)", TL_FACT_SEES),
    VALUE(tl_partner_requirement, most_heat, WATT, "heat", "WATTS", "the most that may heat the sensor"),
    NUMBER(tl_partner_requirement, kelvins_per_watt, "kelvins-per-watt",
           "that its own heat warms it by: 500 where a data sheet says 2 mW/K"),
    VALUE(tl_partner_requirement, most_kelvins, KELVIN, "warms", "KELVINS",
          "the most that it may warm itself by"),
    NUMBER(tl_partner_requirement, bits, "bits", "of the converter (12)", TL_FACT_BITS),
    {0},
};

/* --- feed --- */

static const size_option feed_options[] = {
    RANGE(tl_feed_requirement, track, OHM, "track", "OHMS", "of the potentiometer, with its tolerance",
          TL_FACT_TRACK),
    RANGE(tl_feed_requirement, rail, VOLT, "rail", "VOLTS", "what the top hangs on", TL_FACT_TOP_RAIL),
    NUMBER(tl_feed_requirement, tracks, "tracks", "so many in parallel on one feed (1)", TL_FACT_TRACKS),
    VALUE(tl_feed_requirement, limit, VOLT, "limit", "VOLTS",
          "the top must never be above this (with a board: what pin and reference take)",
          TL_FACT_LEAST_LIMIT),
    VALUE(tl_feed_requirement, most_amperes, AMPERE, "current", "AMPERES", "budget (no budget)"),
    VALUE(tl_feed_requirement, most_tap_ohms, OHM, "source-resistance-limit", "OHMS",
          "the most source resistance at the pin (with a board: what its converter takes)", TL_FACT_SEES),
    {0},
};

/* --- follower --- */

static const size_option follower_options[] = {
    RANGE(tl_follower_requirement, source, VOLT, "from", "VOLTS", "range of the signal"),
    VALUE(tl_follower_requirement, source_ohms, OHM, "source", "OHMS", "its resistance, at most"),
    RANGE(tl_follower_requirement, supply, VOLT, "supply", "VOLTS", "of the amplifier"),
    VALUE(tl_follower_requirement, out_low, VOLT, "out-low", "VOLTS",
          "its output stays so far above ground (0)"),
    VALUE(tl_follower_requirement, out_high, VOLT, "out-high", "VOLTS",
          "its output stays so far below its supply (0)"),
    VALUE(tl_follower_requirement, in_low, VOLT, "in-low", "VOLTS", "likewise its input (0)"),
    VALUE(tl_follower_requirement, in_high, VOLT, "in-high", "VOLTS", "likewise its input (0)"),
    VALUE(tl_follower_requirement, bias, AMPERE, "bias", "AMPERES", "its input current (0)"),
    VALUE(tl_follower_requirement, offset, VOLT, "offset", "VOLTS", "its input offset (0)"),
    VALUE(tl_follower_requirement, limit, VOLT, "limit", "VOLTS", "of the pin (with a board: its own)",
          TL_FACT_LIMIT),
    VALUE(tl_follower_requirement, converter.reference, VOLT, "reference", "VOLTS",
          "of the converter, lowest (with a board: its own)", TL_FACT_REFERENCE),
    NUMBER(tl_follower_requirement, converter.bits, "bits", "of the converter (12)", TL_FACT_BITS),
    VALUE(tl_follower_requirement, converter.sample_farads, FARAD, "sampling", "FARADS",
          "its sampling capacitor (with a board: its own)", TL_FACT_SAMPLING),
    VALUE(tl_follower_requirement, converter.switch_ohms, OHM, "switch", "OHMS",
          "its sampling switch (with a board: its own)", TL_FACT_SWITCH),
    VALUE(tl_follower_requirement, converter.acquisition, SECOND, "acquisition", "TIME",
          "its longest acquisition (with a board: its own)", TL_FACT_ACQUISITION),
    VALUE(tl_follower_requirement, converter.pin_farads, FARAD, "pin-capacitance", "FARADS",
          "of the pin (0; with a board: its own)", TL_FACT_FARADS),
    {0},
};

/* --- pull --- */

static const size_option pull_options[] = {
    RANGE(tl_pull_requirement, rail, VOLT, "rail", "VOLTS",
          "of the pull and of the pin (with a board: its rail)", TL_FACT_RAIL),
    WORD(tl_pull_requirement, down, pull_ways, "to", "which way it pulls: up or down (up)", TL_FACT_DOWN),
    VALUE(tl_pull_requirement, vil, VOLT, "vil", "VOLTS",
          "low threshold of the pin (a share of its rail; with a board: its own)", TL_FACT_VIL),
    VALUE(tl_pull_requirement, vih, VOLT, "vih", "VOLTS",
          "high threshold of the pin (a share of its rail; with a board: its own)", TL_FACT_VIH),
    NUMBER(tl_pull_requirement, vil_share, "vil-share",
           "low threshold as a share of the rail (0.3; with a board: its own)", TL_FACT_VIL_SHARE),
    NUMBER(tl_pull_requirement, vih_share, "vih-share",
           "high threshold as a share of the rail (0.7; with a board: its own)", TL_FACT_VIH_SHARE),
    VALUE(tl_pull_requirement, leakage, AMPERE, "leakage", "AMPERES", "all leakages together (1 uA)"),
    VALUE(tl_pull_requirement, margin, VOLT, "margin", "VOLTS",
          "the idle level clears its threshold by this (0)"),
    RANGE(tl_pull_requirement, closed, OHM, "closed", "OHMS",
          "of the closed contact, cable and guard on the way included (0)"),
    VALUE(tl_pull_requirement, guard, OHM, "guard", "OHMS",
          "between the pull and the pin: only leakage flows there (0)"),
    RANGE(tl_pull_requirement, saturation, VOLT, "saturation", "VOLTS", "across a transistor that is on (0)"),
    VALUE(tl_pull_requirement, drives, AMPERE, "drives", "AMPERES",
          "that the transistor takes at that; of a phototransistor its least on-current (no limit)"),
    VALUE(tl_pull_requirement, wetting, AMPERE, "wetting", "AMPERES", "that the contact wants at least (0)"),
    VALUE(tl_pull_requirement, most_amperes, AMPERE, "current", "AMPERES", "budget while closed (1 mA)"),
    VALUE(tl_pull_requirement, farads, FARAD, "capacitance", "FARADS", "of cable and pin (0)",
          TL_FACT_FARADS),
    VALUE(tl_pull_requirement, longest_edge, SECOND, "edge", "TIME",
          "back to the idle level within (no limit)"),
    RANGE(tl_pull_requirement, internal, OHM, "internal", "OHMS",
          "the board has its own pull: is it enough? such as 30k..60k (with a board: its own)",
          TL_FACT_INTERNAL),
    FLAG(tl_pull_requirement, normally_closed, "normally-closed", "the contact rests closed"),
    {0},
};

/* --- guard --- */

static const size_option guard_options[] = {
    RANGE(tl_guard_requirement, rail, VOLT, "rail", "VOLTS",
          "highest difference across it (with a board: its rail)", TL_FACT_RAIL),
    VALUE(tl_guard_requirement, pin_amperes, AMPERE, "pin-current", "AMPERES",
          "never more through the pin (with a board: its own)", TL_FACT_MOST_AMPERES),
    VALUE(tl_guard_requirement, pull, OHM, "pull", "OHMS", "a pull stands on the pin side of the guard"),
    VALUE(tl_guard_requirement, vil, VOLT, "vil", "VOLTS", "low threshold of the pin (0.3 rail)"),
    VALUE(tl_guard_requirement, leakage, AMPERE, "leakage", "AMPERES",
          "of the pin (0; with a board: its own)", TL_FACT_LEAKAGE),
    VALUE(tl_guard_requirement, farads, FARAD, "capacitance", "FARADS",
          "of the pin (0; with a board: its own)", TL_FACT_FARADS),
    {0},
};

/* --- lamp --- */

static const size_option lamp_options[] = {
    RANGE(tl_lamp_requirement, supply, VOLT, "supply", "VOLTS", "of the lamp (with a board: its rail)",
          TL_FACT_RAIL),
    RANGE(tl_lamp_requirement, forward, VOLT, "forward", "VOLTS", "forward voltage of the lamp",
          TL_FACT_FORWARD),
    VALUE(tl_lamp_requirement, amperes, AMPERE, "current", "AMPERES",
          "never more (with a board: what a pin drives)", TL_FACT_DRIVES),
    VALUE(tl_lamp_requirement, least_amperes, AMPERE, "least", "AMPERES", "still bright enough (0)"),
    VALUE(tl_lamp_requirement, drop, VOLT, "drop", "VOLTS", "across the driver, at least (0)"),
    VALUE(tl_lamp_requirement, most_drop, VOLT, "most-drop", "VOLTS",
          "across the driver, at most (the same)"),
    VALUE(tl_lamp_requirement, pin_ohms, OHM, "pin-resistance", "OHMS",
          "of the pin as an output, at most (0; with a board: its own)", TL_FACT_PIN_OHMS),
    NUMBER(tl_lamp_requirement, lamps, "lamps", "so many at once (1)"),
    VALUE(tl_lamp_requirement, total_amperes, AMPERE, "total", "AMPERES",
          "that all may take together (no limit)"),
    {0},
};

/* --- driver --- */

static const size_option driver_options[] = {
    RANGE(tl_driver_requirement, supply, VOLT, "supply", "VOLTS", "of the load", TL_FACT_LOAD_SUPPLY),
    RANGE(tl_driver_requirement, load, OHM, "load", "OHMS", "its resistance", TL_FACT_LOAD_OHMS),
    VALUE(tl_driver_requirement, henries, HENRY, "coil", "HENRIES", "its inductance (0)", TL_FACT_COIL),
    VALUE(tl_driver_requirement, leakage, AMPERE, "leakage", "AMPERES",
          "of the released pin (0; with a board: its own)", TL_FACT_LEAKAGE),
    VALUE(tl_driver_requirement, off_volts, VOLT, "off", "VOLTS",
          "at base or gate that surely keep it off (0.4 V)"),
    RANGE(tl_driver_requirement, high, VOLT, "high", "VOLTS",
          "high level of the pin, lowest to highest (with a board: rail - 0.4 V .. rail)", TL_FACT_HIGH),
    VALUE(tl_driver_requirement, pin_amperes, AMPERE, "pin-current", "AMPERES",
          "that the pin gives at that level (with a board: its own)", TL_FACT_DRIVES),
    NUMBER(tl_driver_requirement, forced_gain, "gain", "collector over base current to count on (20)",
           TL_FACT_GAIN),
    VALUE(tl_driver_requirement, base_volts, VOLT, "base", "VOLTS", "base to emitter, at most (0.9 V)"),
    VALUE(tl_driver_requirement, saturation, VOLT, "saturation", "VOLTS",
          "collector to emitter, at most (0.3 V)", TL_FACT_SATURATION),
    VALUE(tl_driver_requirement, on_ohms, OHM, "on", "OHMS",
          "of an N-channel transistor at the lowest high level (not tried)", TL_FACT_ON_OHMS),
    VALUE(tl_driver_requirement, most_watts, WATT, "heat", "WATTS", "in the transistor (0.3 W)"),
    {0},
};

/* --- loop --- */

static const size_option loop_options[] = {
    VALUE(tl_loop_requirement, limit, VOLT, "limit", "VOLTS",
          "of the pin (with a board: what pin and reference take)", TL_FACT_LIMIT),
    VALUE(tl_loop_requirement, most_amperes, AMPERE, "most", "AMPERES",
          "that the loop can be driven to (25 mA)"),
    RANGE(tl_loop_requirement, supply, VOLT, "supply", "VOLTS", "of the loop (not looked at)"),
    VALUE(tl_loop_requirement, compliance, VOLT, "compliance", "VOLTS", "that the transmitter needs (8 V)"),
    VALUE(tl_loop_requirement, wire_ohms, OHM, "wire", "OHMS", "of the loop (0)"),
    VALUE(tl_loop_requirement, reference, VOLT, "reference", "VOLTS",
          "of the converter (the limit; with a board: its own)", TL_FACT_REFERENCE),
    NUMBER(tl_loop_requirement, bits, "bits", "of the converter (12)"),
    VALUE(tl_loop_requirement, meter_ohms, OHM, "meter", "OHMS", "burden of a meter in the loop (0)"),
    {0},
};

/* --- bus-pull --- */

static const size_option bus_options[] = {
    WORD(tl_bus_requirement, mode, bus_modes, "mode", "standard, fast or fast-plus (standard)",
         TL_FACT_BUS_MODE),
    RANGE(tl_bus_requirement, rail, VOLT, "rail", "VOLTS", "of the pulls (with a board: its rail)",
          TL_FACT_RAIL),
    VALUE(tl_bus_requirement, farads, FARAD, "capacitance", "FARADS", "of one line, pins and cable",
          TL_FACT_BUS_FARADS),
    {0},
};

/* --- shift --- */

static const size_option shift_options[] = {
    RANGE(tl_shift_requirement, from, VOLT, "from", "VOLTS", "supply of the driver", TL_FACT_DRIVER),
    RANGE(tl_shift_requirement, to, VOLT, "to", "VOLTS", "supply of the receiver (with a board: its rail)",
          TL_FACT_RAIL),
    VALUE(tl_shift_requirement, vol, VOLT, "vol", "VOLTS", "driver: low at most (0.4 V)", TL_FACT_VOL),
    VALUE(tl_shift_requirement, voh, VOLT, "voh", "VOLTS", "driver: high at least (its supply - 0.4 V)",
          TL_FACT_VOH),
    VALUE(tl_shift_requirement, vil, VOLT, "vil", "VOLTS",
          "receiver: low at most (a share of its supply; with a board: its own)", TL_FACT_VIL),
    VALUE(tl_shift_requirement, vih, VOLT, "vih", "VOLTS",
          "receiver: high at least (a share of its supply; with a board: its own)", TL_FACT_VIH),
    NUMBER(tl_shift_requirement, vil_share, "vil-share",
           "receiver: low as a share of its supply (0.3; with a board: its own)", TL_FACT_VIL_SHARE),
    NUMBER(tl_shift_requirement, vih_share, "vih-share",
           "receiver: high as a share of its supply (0.7; with a board: its own)", TL_FACT_VIH_SHARE),
    VALUE(tl_shift_requirement, limit, VOLT, "limit", "VOLTS", "receiver: never above (its supply + 0.3 V)",
          TL_FACT_LIMIT),
    VALUE(tl_shift_requirement, vih_back, VOLT, "vih-back", "VOLTS",
          "way back: high at least of the first side (0.7 of its supply)"),
    VALUE(tl_shift_requirement, vol_back, VOLT, "vol-back", "VOLTS",
          "way back: low at most of the second side (0.4 V)"),
    VALUE(tl_shift_requirement, limit_back, VOLT, "limit-back", "VOLTS",
          "way back: what the first side's pin stands (its supply + 0.3 V)"),
    VALUE(tl_shift_requirement, injection, AMPERE, "injection", "AMPERES",
          "that its clamp may carry (not allowed; with a board: its own)", TL_FACT_INJECTION),
    VALUE(tl_shift_requirement, drives, AMPERE, "drives", "AMPERES", "that the driver gives and takes (3 mA)",
          TL_FACT_DRIVER_AMPERES),
    VALUE(tl_shift_requirement, bits_per_second, HERTZ, "rate", "HERTZ", "bits a second (100 kHz)",
          TL_FACT_BIT_RATE),
    VALUE(tl_shift_requirement, farads, FARAD, "capacitance", "FARADS", "at the receiver (20 pF)",
          TL_FACT_LINE_FARADS),
    VALUE(tl_shift_requirement, leakage, AMPERE, "leakage", "AMPERES",
          "of the receiver's pin, either way (0; with a board: its own)", TL_FACT_LEAKAGE),
    VALUE(tl_shift_requirement, most_pull, OHM, "most-pull", "OHMS", "no larger resistor than this (1M)"),
    FLAG(tl_shift_requirement, both_ways, "both-ways", "the line goes both ways"),
    FLAG(tl_shift_requirement, open_drain, "open-drain",
         "the driver only pulls low, and stands the other rail"),
    FLAG(tl_shift_requirement, may_invert, "may-invert", "an inverted level will do", TL_FACT_MAY_INVERT),
    VALUE(tl_shift_requirement, diode, VOLT, "diode", "VOLTS", "of a small diode (0.35 V)", TL_FACT_DIODE),
    VALUE(tl_shift_requirement, clamp, VOLT, "clamp", "VOLTS",
          "of a diode from the pin to the receiver's supply (none)"),
    FLAG(tl_shift_requirement, receiver_off, "receiver-off", "the receiver may be off while the driver runs"),
    FLAG(tl_shift_requirement, driver_off, "driver-off", "the driver may be off while the receiver runs"),
    VALUE(tl_shift_requirement, body_diode, VOLT, "body-diode", "VOLTS",
          "of an N-channel transistor's own (0.7 V)"),
    VALUE(tl_shift_requirement, threshold, VOLT, "threshold", "VOLTS",
          "gate threshold of an N-channel transistor, highest (1.5 V)", TL_FACT_THRESHOLD),
    {0},
};

/* --- mux --- */

static const size_option mux_options[] = {
    NUMBER(tl_mux_requirement, inputs, "inputs", "of one part (8)"),
    NUMBER(tl_mux_requirement, used, "used", "wired in all: more than one part has make a tree (all)"),
    RANGE(tl_mux_requirement, on_ohms, OHM, "on", "OHMS", "on-resistance"),
    LIST(tl_mux_requirement, source_ohms, OHM, "source", "OHMS",
         "of the worst input, or of each, such as 1k,10k,47k"),
    VALUE(tl_mux_requirement, off_leakage, AMPERE, "off-leakage", "AMPERES", "of each input that is off (0)"),
    VALUE(tl_mux_requirement, common_farads, FARAD, "capacitance", "FARADS", "of a part's common line (0)"),
    VALUE(tl_mux_requirement, converter.pin_farads, FARAD, "pin-capacitance", "FARADS",
          "of the pin (0; with a board: its own)", TL_FACT_FARADS),
    VALUE(tl_mux_requirement, pin_leakage, AMPERE, "pin-leakage", "AMPERES",
          "of the pin (0; with a board: its own)", TL_FACT_LEAKAGE),
    VALUE(tl_mux_requirement, rate, HERTZ, "rate", "HERTZ", "scans a second that are wanted (as it comes)"),
    VALUE(tl_mux_requirement, conversion, SECOND, "conversion", "TIME",
          "after each acquisition (1 us; with a board: its own)", TL_FACT_CONVERSION),
    LIST(tl_mux_requirement, offered, SECOND, "offered", "TIMES",
         "the acquisitions on offer, such as 1us,3us,10us (any up to the longest; with a board: its own)",
         TL_FACT_ACQUISITION),
    VALUE(tl_mux_requirement, converter.reference, VOLT, "reference", "VOLTS",
          "of the converter, lowest (with a board: its own)", TL_FACT_REFERENCE),
    NUMBER(tl_mux_requirement, converter.bits, "bits", "of the converter (12)", TL_FACT_BITS),
    VALUE(tl_mux_requirement, converter.sample_farads, FARAD, "sampling", "FARADS",
          "its sampling capacitor (with a board: its own)", TL_FACT_SAMPLING),
    VALUE(tl_mux_requirement, converter.switch_ohms, OHM, "switch", "OHMS",
          "its sampling switch (with a board: its own)", TL_FACT_SWITCH),
    VALUE(tl_mux_requirement, converter.acquisition, SECOND, "acquisition", "TIME",
          "its longest acquisition (with a board: its own)", TL_FACT_ACQUISITION),
    {0},
};

/* --- ladder --- */

static const size_option ladder_options[] = {
    NUMBER(tl_ladder_requirement, buttons, "buttons", "2 to 8"),
    VALUE(tl_ladder_requirement, pull, OHM, "pull", "OHMS", "about this much (10k)"),
    WORD(tl_ladder_requirement, star, ladder_ways, "way", "chain or star (chain)"),
    NUMBER(tl_ladder_requirement, bits, "bits", "of the converter (12)", TL_FACT_BITS),
    VALUE(tl_ladder_requirement, apart, COUNT, "apart", "COUNTS",
          "between two intervals, at least (1 % of the span)"),
    VALUE(tl_ladder_requirement, contact_ohms, OHM, "contact", "OHMS", "of a closed button, at most (0)"),
    VALUE(tl_ladder_requirement, errors, COUNT, "errors", "COUNTS",
          "of the converter at full scale, either way (4; with a board: its own)", TL_FACT_ERRORS),
    VALUE(tl_ladder_requirement, leakage, AMPERE, "leakage", "AMPERES",
          "of the pin, either way (0; with a board: its own)", TL_FACT_LEAKAGE),
    RANGE(tl_ladder_requirement, rail, VOLT, "rail", "VOLTS",
          "above the pull; without it leakage is not looked at (with a board: the pin's supply)",
          TL_FACT_RAIL),
    {0},
};

/* --- filter --- */

static const size_option filter_options[] = {
    VALUE(tl_filter_requirement, keep, HERTZ, "keep", "HERTZ", "loses at most 1 dB here"),
    VALUE(tl_filter_requirement, reject, HERTZ, "reject", "HERTZ", "falls here"),
    NUMBER(tl_filter_requirement, by, "by", "by this factor (10)"),
    VALUE(tl_filter_requirement, source_ohms, OHM, "source", "OHMS", "in front of it (0)"),
    VALUE(tl_filter_requirement, most_ohms, OHM, "source-resistance-limit", "OHMS",
          "the most source resistance at the pin (10k)"),
    VALUE(tl_filter_requirement, leakage, AMPERE, "leakage", "AMPERES",
          "of the pin (0; with a board: its own)", TL_FACT_LEAKAGE),
    VALUE(tl_filter_requirement, most_error, VOLT, "error", "VOLTS", "that leakage may cost (no limit)"),
    VALUE(tl_filter_requirement, capacitor_tolerance, PERCENT, "capacitor-tolerance", "PERCENT", "(10 %)"),
    NUMBER(tl_filter_requirement, converter.bits, "bits", "of the converter (12)", TL_FACT_BITS),
    VALUE(tl_filter_requirement, converter.reference, VOLT, "reference", "VOLTS",
          "of the converter, lowest (with a board: its own)", TL_FACT_REFERENCE),
    VALUE(tl_filter_requirement, converter.sample_farads, FARAD, "sampling", "FARADS",
          "its sampling capacitor: with it, the filter feeds it or lets it settle (with a board: its own)",
          TL_FACT_SAMPLING),
    VALUE(tl_filter_requirement, converter.switch_ohms, OHM, "switch", "OHMS",
          "its sampling switch (with a board: its own)", TL_FACT_SWITCH),
    VALUE(tl_filter_requirement, converter.acquisition, SECOND, "acquisition", "TIME",
          "its longest acquisition (with a board: its own)", TL_FACT_ACQUISITION),
    {0},
};

/* --- reservoir --- */

static const size_option reservoir_options[] = {
    VALUE(tl_reservoir_requirement, source_ohms, OHM, "source", "OHMS", "source resistance at the pin"),
    VALUE(tl_reservoir_requirement, rate, HERTZ, "rate", "HERTZ", "samples a second"),
    VALUE(tl_reservoir_requirement, capacitor_tolerance, PERCENT, "capacitor-tolerance", "PERCENT", "(10 %)"),
    VALUE(tl_reservoir_requirement, converter.reference, VOLT, "reference", "VOLTS",
          "of the converter, lowest (with a board: its own)", TL_FACT_REFERENCE),
    NUMBER(tl_reservoir_requirement, converter.bits, "bits", "of the converter (12)", TL_FACT_BITS),
    VALUE(tl_reservoir_requirement, converter.sample_farads, FARAD, "sampling", "FARADS",
          "its sampling capacitor (with a board: its own)", TL_FACT_SAMPLING),
    VALUE(tl_reservoir_requirement, converter.switch_ohms, OHM, "switch", "OHMS",
          "its sampling switch (with a board: its own)", TL_FACT_SWITCH),
    VALUE(tl_reservoir_requirement, converter.acquisition, SECOND, "acquisition", "TIME",
          "its longest acquisition (with a board: its own)", TL_FACT_ACQUISITION),
    {0},
};

/* --- injection --- */

static const size_option injection_options[] = {
    RANGE(tl_injection_requirement, fault, VOLT, "fault", "VOLTS", "that can stand there", TL_FACT_FAULT),
    RANGE(tl_injection_requirement, rail, VOLT, "rail", "VOLTS", "supply of the pin (with a board: its rail)",
          TL_FACT_RAIL),
    VALUE(tl_injection_requirement, clamp, VOLT, "clamp", "VOLTS",
          "beyond the rail at which it conducts (0.3 V)"),
    VALUE(tl_injection_requirement, amperes, AMPERE, "limit", "AMPERES", "the most into one pin",
          TL_FACT_INJECTION),
    NUMBER(tl_injection_requirement, pins, "pins", "so many at once (1)"),
    VALUE(tl_injection_requirement, board_amperes, AMPERE, "board-draws", "AMPERES",
          "at least, from that rail"),
    FLAG(tl_injection_requirement, unpowered, "unpowered", "the board may be off while the signal is live"),
    {0},
};

/* --- the kinds --- */

/* Every requirement has its default, and its sizing. */
#define SIZING(kind, call)                                                                                   \
    static void set_##kind(void *requirement)                                                                \
    {                                                                                                        \
        *(tl_##kind##_requirement *)requirement = tl_##kind##_requirement_default();                         \
    }                                                                                                        \
    static void size_##kind(const void *requirement, tl_size_result *result)                                 \
    {                                                                                                        \
        call(requirement, result);                                                                           \
    }
SIZING(divider, tl_size_divider)
SIZING(ratio, tl_size_ratio)
SIZING(partner, tl_size_partner)
SIZING(feed, tl_size_feed)
SIZING(follower, tl_size_follower)
SIZING(pull, tl_size_pull)
SIZING(guard, tl_size_guard)
SIZING(lamp, tl_size_lamp)
SIZING(driver, tl_size_driver)
SIZING(loop, tl_size_loop)
SIZING(bus, tl_size_bus_pull)
SIZING(shift, tl_size_shift)
SIZING(mux, tl_size_mux)
SIZING(ladder, tl_size_ladder)
SIZING(filter, tl_size_filter)
SIZING(reservoir, tl_size_reservoir)
SIZING(injection, tl_size_injection)

/* Ten kilohms are what a bare converter input takes without asking. */
static void set_divider_for_a_pin(void *requirement)
{
    set_divider(requirement);
    ((tl_divider_requirement *)requirement)->most_tap_ohms = 10e3;
}

/* A row: what it finds, an example of what must be said, its functions; what --compare takes by example, how
 * many values at least and at most, and what the first and the others are. */
#define JOB(id, setter, called, summary, needs, compared, fewest, most, first, others)                       \
    {                                                                                                        \
        called, summary, needs, id##_options, setter, size_##id, compared, fewest, most,                     \
        {                                                                                                    \
            TL_DIM_##first, TL_DIM_##others                                                                  \
        }                                                                                                    \
    }

const size_kind size_kinds[] = {
    JOB(divider, set_divider_for_a_pin, "divider", "two legs that bring a voltage down to a pin",
        "--from 10.5V..14.8V --limit 3.3V", "470/180,4k7/1k8", 2, 2, OHM, OHM),
    JOB(ratio, set_ratio, "ratio", "two legs of a wanted ratio", "--ratio 33/148 --sum 20k..200k",
        "10k/4k7,22k/10k", 2, 2, OHM, OHM),
    JOB(partner, set_partner, "partner", "the fixed resistor of a resistance sensor",
        "--sensor 400ohm..900k --rail 3.3V", "4k7,10k,22k", 1, 1, OHM, OHM),
    JOB(feed, set_feed, "feed", "the resistor above a potentiometer on a rail that is too high",
        "--track \"10k ±20 %\" --rail \"5V ±5 %\" --limit 3.234V", "4k7,10k,22k", 1, 1, OHM, OHM),
    JOB(follower, set_follower, "follower", "a source too weak for the pin",
        "--from 0V..3.2V --source 250k --supply \"5V ±5 %\" --limit 3.5V", "10nF,100nF", 1, 1, FARAD, FARAD),
    JOB(pull, set_pull, "pull", "a pull-up or pull-down for a contact or an open collector",
        "--rail \"3.3V ±2 %\" --leakage 1uA", "4k7,10k,47k", 1, 1, OHM, OHM),
    JOB(guard, set_guard, "guard", "a series resistor that saves a pin which drives against a rail",
        "--rail 3.366V --pin-current 12mA", "330,1k,2k2", 1, 1, OHM, OHM),
    JOB(lamp, set_lamp, "lamp", "the series resistor of a lamp",
        "--supply \"3.3V ±2 %\" --forward 1.9V..2.2V --current 4mA", "220,330,470", 1, 1, OHM, OHM),
    JOB(driver, set_driver, "driver", "a transistor for a relay, pump or fan",
        "--supply 12V --load 270ohm..330ohm --coil 100mH --high 2.8V..3.4V --pin-current 4mA", "470,1k,2k2",
        1, 1, OHM, OHM),
    JOB(loop, set_loop, "loop", "the load resistor of a 4-20 mA loop", "--limit 3.2V --supply 24V",
        "100,120,150", 1, 1, OHM, OHM),
    JOB(bus, set_bus, "bus-pull", "the pull-ups of an I2C bus", "--mode fast --rail 3.3V --capacitance 200pF",
        "2k2,3k3,4k7", 1, 1, OHM, OHM),
    JOB(shift, set_shift, "shift", "from one voltage world into another",
        "--from \"5V ±5 %\" --to \"3.3V ±2 %\" --rate 100kHz", "1k,6k8/10k", 1, 2, OHM, OHM),
    JOB(mux, set_mux, "mux", "an analog multiplexer in front of one channel",
        "--on 70ohm..200ohm --source 10k --board BOARD", "1us,3us,10us", 1, 1, SECOND, SECOND),
    JOB(ladder, set_ladder, "ladder", "several buttons on one converter pin", "--buttons 5",
        "10k/1k/2k2/4k7/10k", 2, 9, OHM, OHM),
    JOB(filter, set_filter, "filter", "resistor and capacitor against noise", "--keep 5Hz --reject 150Hz",
        "10k/100nF,4k7/220nF", 2, 2, OHM, FARAD),
    JOB(reservoir, set_reservoir, "reservoir", "a capacitor at the pin that feeds the converter",
        "--source 100k --rate 100Hz --board BOARD", "10nF,100nF,1uF", 1, 1, FARAD, FARAD),
    JOB(injection, set_injection, "injection", "a series resistor that keeps a clamp's current down",
        "--fault 0V..26V --rail \"3.3V ±2 %\" --limit 1mA", "10k,22k,47k", 1, 1, OHM, OHM),
};

const int size_kind_count = (int)(sizeof size_kinds / sizeof size_kinds[0]);

const size_kind *size_kind_of(const char *name)
{
    for (int i = 0; i < size_kind_count; i++) {
        if (strcmp(name, size_kinds[i].name) == 0)
            return &size_kinds[i];
    }
    return NULL;
}
