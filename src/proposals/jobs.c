/* SPDX-License-Identifier: MIT */
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

/* Each row is one line, however long. */
/* clang-format off */

/* --- divider --- */

static const size_option divider_options[] = {
    RANGE(tl_divider_requirement, source, VOLT, "vin", "VOLTS", "source voltage range, such as 10.5V..14.8V", TL_FACT_SOURCE),
    VALUE(tl_divider_requirement, limit, VOLT, "vmax", "VOLTS", "maximum output voltage of the divider (default: from --board, pin and reference)", TL_FACT_LIMIT),
    VALUE(tl_divider_requirement, reference, VOLT, "reference", "VOLTS", "lowest reference voltage of the ADC; the output stays below it", TL_FACT_REFERENCE),
    VALUE(tl_divider_requirement, most_amperes, AMPERE, "max-current", "AMPERES", "maximum current from the source (default: none)", TL_FACT_BUDGET),
    VALUE(tl_divider_requirement, most_tap_ohms, OHM, "max-source-resistance", "OHMS", "maximum source resistance at the pin (default: from --board, else 10k)", TL_FACT_SEES),
    VALUE(tl_divider_requirement, source_ohms, OHM, "source-resistance", "OHMS", "resistance of the source (default: 0)", TL_FACT_SOURCE_OHMS),
    VALUE(tl_divider_requirement, load_ohms, OHM, "load-resistance", "OHMS", "load resistance across the lower resistor (default: none)", TL_FACT_LOAD),
    VALUE(tl_divider_requirement, leakage, AMPERE, "pin-leakage", "AMPERES", "leakage of the pin, either way (default: from --board, else 0)", TL_FACT_LEAKAGE),
    RANGE(tl_divider_requirement, upper, OHM, "upper", "OHMS", "fixed upper resistor, such as \"47k ±1 %\" (default: any)"),
    RANGE(tl_divider_requirement, lower, OHM, "lower", "OHMS", "fixed lower resistor, such as \"10k ±1 %\" (default: any)"),
    NUMBER(tl_divider_requirement, parts, "parts", "maximum number of parts per resistor, in series or parallel: 1 or 2 (default: 1)"),
    VALUE(tl_divider_requirement, meter_ohms, OHM, "meter-resistance", "OHMS", "input resistance of your voltmeter (default: 10Mohm)"),
    WORD(tl_divider_requirement, order, divider_orders, "order", "order of the choices: practice, parts, share or current (default: practice)"),
    VALUE(tl_divider_requirement, least_share, PERCENT, "share", "PERCENT", "minimum output voltage, in percent of the limit (default: any)"),
    VALUE(tl_divider_requirement, drift, DRIFT, "tempco", "PPM", "temperature coefficient of each resistor, such as \"100 ppm/K\" (default: 0)"),
    VALUE(tl_divider_requirement, away, KELVIN, "temp-change", "KELVINS", "largest temperature change since calibration (default: 0)"),
    {0},
};

/* --- ratio --- */

static const size_option ratio_options[] = {
    NUMBER(tl_ratio_requirement, ratio, "ratio", "lower resistor divided by both: 0.223 or 33/148"),
    RANGE(tl_ratio_requirement, sum, OHM, "sum", "OHMS", "range of both resistors together, such as 20k..200k (default: any)"),
    NUMBER(tl_ratio_requirement, parts, "parts", "maximum number of parts per resistor, in series or parallel: 1 or 2 (default: 1)"),
    VALUE(tl_ratio_requirement, drift, DRIFT, "tempco", "PPM", "temperature coefficient of each resistor, such as \"100 ppm/K\" (default: 0)"),
    VALUE(tl_ratio_requirement, away, KELVIN, "temp-change", "KELVINS", "largest temperature change since calibration (default: 0)"),
    {0},
};

/* --- partner --- */

static const size_option partner_options[] = {
    RANGE(tl_partner_requirement, sensor, OHM, "sensor", "OHMS", "sensor resistance, lowest to highest, such as \"400 ohm..900k\"", TL_FACT_SENSOR),
    RANGE(tl_partner_requirement, rail, VOLT, "supply", "VOLTS", "supply voltage of the sensor and the fixed resistor (default: from --board)", TL_FACT_RAIL),
    VALUE(tl_partner_requirement, limit, VOLT, "vmax", "VOLTS", "maximum voltage at the pin (default: from --board, lowest reference)", TL_FACT_OTHER_REFERENCE),
    VALUE(tl_partner_requirement, at, OHM, "at", "OHMS", "sensor resistance for the best resolution (default: widest voltage range)"),
    WORD(tl_partner_requirement, leg, partner_legs, "position", "position of the fixed resistor: lower or upper (default: lower)", TL_FACT_UPPER),
    VALUE(tl_partner_requirement, most_amperes, AMPERE, "max-current", "AMPERES", "maximum current, also with a shorted sensor (default: none)"),
    VALUE(tl_partner_requirement, most_tap_ohms, OHM, "max-source-resistance", "OHMS", "maximum source resistance at the pin (default: from --board)", TL_FACT_SEES),
    VALUE(tl_partner_requirement, most_heat, WATT, "max-power", "WATTS", "maximum power in the sensor (default: none)"),
    NUMBER(tl_partner_requirement, kelvins_per_watt, "thermal-resistance", "thermal resistance of the sensor in K/W; 2 mW/K are 500 (default: none)"),
    VALUE(tl_partner_requirement, most_kelvins, KELVIN, "max-self-heating", "KELVINS", "maximum self-heating of the sensor (default: none)"),
    NUMBER(tl_partner_requirement, bits, "bits", "resolution of the ADC in bits (default: from --board, else 12)", TL_FACT_BITS),
    {0},
};

/* --- feed --- */

static const size_option feed_options[] = {
    RANGE(tl_feed_requirement, track, OHM, "track", "OHMS", "resistance of the potentiometer, with tolerance", TL_FACT_TRACK),
    RANGE(tl_feed_requirement, rail, VOLT, "supply", "VOLTS", "supply voltage above the potentiometer", TL_FACT_TOP_RAIL),
    NUMBER(tl_feed_requirement, tracks, "tracks", "number of potentiometers in parallel below one resistor (default: 1)", TL_FACT_TRACKS),
    VALUE(tl_feed_requirement, limit, VOLT, "vmax", "VOLTS", "maximum voltage at the top of the potentiometer (default: from --board, pin and reference)", TL_FACT_LEAST_LIMIT),
    VALUE(tl_feed_requirement, most_amperes, AMPERE, "max-current", "AMPERES", "maximum current (default: none)"),
    VALUE(tl_feed_requirement, most_tap_ohms, OHM, "max-source-resistance", "OHMS", "maximum source resistance at the pin (default: from --board)", TL_FACT_SEES),
    {0},
};

/* --- follower --- */

static const size_option follower_options[] = {
    RANGE(tl_follower_requirement, source, VOLT, "vin", "VOLTS", "signal voltage range"),
    VALUE(tl_follower_requirement, source_ohms, OHM, "source-resistance", "OHMS", "largest resistance of the signal source"),
    RANGE(tl_follower_requirement, supply, VOLT, "supply", "VOLTS", "supply voltage of the amplifier"),
    VALUE(tl_follower_requirement, out_low, VOLT, "out-low", "VOLTS", "distance of the output from ground (default: 0)"),
    VALUE(tl_follower_requirement, out_high, VOLT, "out-high", "VOLTS", "distance of the output from the supply (default: 0)"),
    VALUE(tl_follower_requirement, in_low, VOLT, "in-low", "VOLTS", "distance of the input range from ground (default: 0)"),
    VALUE(tl_follower_requirement, in_high, VOLT, "in-high", "VOLTS", "distance of the input range from the supply (default: 0)"),
    VALUE(tl_follower_requirement, bias, AMPERE, "bias", "AMPERES", "input bias current of the amplifier (default: 0)"),
    VALUE(tl_follower_requirement, offset, VOLT, "offset", "VOLTS", "input offset voltage of the amplifier (default: 0)"),
    VALUE(tl_follower_requirement, limit, VOLT, "vmax", "VOLTS", "maximum voltage at the pin (default: from --board)", TL_FACT_LIMIT),
    VALUE(tl_follower_requirement, converter.reference, VOLT, "reference", "VOLTS", "lowest reference voltage of the ADC (default: from --board)", TL_FACT_REFERENCE),
    NUMBER(tl_follower_requirement, converter.bits, "bits", "resolution of the ADC in bits (default: from --board, else 12)", TL_FACT_BITS),
    VALUE(tl_follower_requirement, converter.sample_farads, FARAD, "adc-capacitance", "FARADS", "sampling capacitance of the ADC (default: from --board)", TL_FACT_SAMPLING),
    VALUE(tl_follower_requirement, converter.switch_ohms, OHM, "adc-resistance", "OHMS", "sampling switch resistance of the ADC (default: from --board)", TL_FACT_SWITCH),
    VALUE(tl_follower_requirement, converter.acquisition, SECOND, "acquisition", "TIME", "longest acquisition time of the ADC (default: from --board)", TL_FACT_ACQUISITION),
    VALUE(tl_follower_requirement, converter.pin_farads, FARAD, "pin-capacitance", "FARADS", "capacitance of the pin (default: from --board, else 0)", TL_FACT_FARADS),
    {0},
};

/* --- pull --- */

static const size_option pull_options[] = {
    RANGE(tl_pull_requirement, rail, VOLT, "vdd", "VOLTS", "supply voltage of pull and pin (default: from --board)", TL_FACT_RAIL),
    WORD(tl_pull_requirement, down, pull_ways, "direction", "direction of the pull: up or down (default: up)", TL_FACT_DOWN),
    VALUE(tl_pull_requirement, vil, VOLT, "vil", "VOLTS", "VIL of the pin (default: from --board, else 0.3 of the supply)", TL_FACT_VIL),
    VALUE(tl_pull_requirement, vih, VOLT, "vih", "VOLTS", "VIH of the pin (default: from --board, else 0.7 of the supply)", TL_FACT_VIH),
    NUMBER(tl_pull_requirement, vil_share, "vil-share", "VIL as a fraction of the supply (default: from --board, else 0.3)", TL_FACT_VIL_SHARE),
    NUMBER(tl_pull_requirement, vih_share, "vih-share", "VIH as a fraction of the supply (default: from --board, else 0.7)", TL_FACT_VIH_SHARE),
    VALUE(tl_pull_requirement, leakage, AMPERE, "leakage", "AMPERES", "total leakage current (default: 1uA)"),
    VALUE(tl_pull_requirement, margin, VOLT, "margin", "VOLTS", "minimum distance of the idle level from its threshold (default: 0)"),
    RANGE(tl_pull_requirement, closed, OHM, "contact-resistance", "OHMS", "resistance of the closed contact with cable and protection resistor (default: 0)"),
    VALUE(tl_pull_requirement, guard, OHM, "guard", "OHMS", "protection resistor between pull and pin (default: 0)"),
    RANGE(tl_pull_requirement, saturation, VOLT, "vce-sat", "VOLTS", "voltage across the transistor when it is on (default: 0)"),
    VALUE(tl_pull_requirement, drives, AMPERE, "sink-current", "AMPERES", "sink current of the transistor at that voltage (default: no limit)"),
    VALUE(tl_pull_requirement, wetting, AMPERE, "wetting", "AMPERES", "minimum current through the closed contact (default: 0)"),
    VALUE(tl_pull_requirement, most_amperes, AMPERE, "max-current", "AMPERES", "maximum current while closed (default: 1mA)"),
    VALUE(tl_pull_requirement, farads, FARAD, "line-capacitance", "FARADS", "capacitance of cable and pin (default: from --board, else 0)", TL_FACT_FARADS),
    VALUE(tl_pull_requirement, longest_edge, SECOND, "edge", "TIME", "maximum time back to the idle level (default: no limit)"),
    RANGE(tl_pull_requirement, internal, OHM, "internal", "OHMS", "internal pull of the pin to check, such as 30k..60k (default: from --board)", TL_FACT_INTERNAL),
    FLAG(tl_pull_requirement, normally_closed, "normally-closed", "the contact is closed at rest"),
    {0},
};

/* --- guard --- */

static const size_option guard_options[] = {
    RANGE(tl_guard_requirement, rail, VOLT, "vdd", "VOLTS", "maximum voltage across the resistor (default: from --board)", TL_FACT_RAIL),
    VALUE(tl_guard_requirement, pin_amperes, AMPERE, "pin-current", "AMPERES", "maximum pin current (default: from --board)", TL_FACT_MOST_AMPERES),
    VALUE(tl_guard_requirement, pull, OHM, "pull", "OHMS", "pull resistor on the pin side of the resistor (default: none)"),
    VALUE(tl_guard_requirement, vil, VOLT, "vil", "VOLTS", "VIL of the pin (default: 0.3 of the supply)"),
    VALUE(tl_guard_requirement, leakage, AMPERE, "pin-leakage", "AMPERES", "leakage of the pin (default: from --board, else 0)", TL_FACT_LEAKAGE),
    VALUE(tl_guard_requirement, farads, FARAD, "pin-capacitance", "FARADS", "capacitance of the pin (default: from --board, else 0)", TL_FACT_FARADS),
    {0},
};

/* --- lamp --- */

static const size_option lamp_options[] = {
    RANGE(tl_lamp_requirement, supply, VOLT, "supply", "VOLTS", "supply voltage of the LED (default: from --board)", TL_FACT_RAIL),
    RANGE(tl_lamp_requirement, forward, VOLT, "vf", "VOLTS", "forward voltage of the LED", TL_FACT_FORWARD),
    VALUE(tl_lamp_requirement, amperes, AMPERE, "led-current", "AMPERES", "maximum LED current (default: from --board, rated pin current)", TL_FACT_DRIVES),
    VALUE(tl_lamp_requirement, least_amperes, AMPERE, "min-led-current", "AMPERES", "minimum LED current for enough light (default: 0)"),
    VALUE(tl_lamp_requirement, drop, VOLT, "drop", "VOLTS", "minimum voltage across the driver (default: 0)"),
    VALUE(tl_lamp_requirement, most_drop, VOLT, "max-drop", "VOLTS", "maximum voltage across the driver (default: as --drop)"),
    VALUE(tl_lamp_requirement, pin_ohms, OHM, "pin-resistance", "OHMS", "largest output resistance of the pin (default: from --board, else 0)", TL_FACT_PIN_OHMS),
    NUMBER(tl_lamp_requirement, lamps, "lamps", "number of LEDs on at once (default: 1)"),
    VALUE(tl_lamp_requirement, total_amperes, AMPERE, "total-current", "AMPERES", "maximum current of all LEDs together (default: no limit)"),
    {0},
};

/* --- driver --- */

static const size_option driver_options[] = {
    RANGE(tl_driver_requirement, supply, VOLT, "supply", "VOLTS", "supply voltage of the load", TL_FACT_LOAD_SUPPLY),
    RANGE(tl_driver_requirement, load, OHM, "load-resistance", "OHMS", "resistance of the load", TL_FACT_LOAD_OHMS),
    VALUE(tl_driver_requirement, henries, HENRY, "coil", "HENRIES", "inductance of the load (default: 0)", TL_FACT_COIL),
    VALUE(tl_driver_requirement, leakage, AMPERE, "pin-leakage", "AMPERES", "leakage of the pin when it is an input (default: from --board, else 0)", TL_FACT_LEAKAGE),
    VALUE(tl_driver_requirement, off_volts, VOLT, "v-off", "VOLTS", "base or gate voltage at which the transistor is off (default: 0.4V)"),
    RANGE(tl_driver_requirement, high, VOLT, "voh", "VOLTS", "high level of the pin (default: from --board, supply - 0.4 V to supply)", TL_FACT_HIGH),
    VALUE(tl_driver_requirement, pin_amperes, AMPERE, "pin-current", "AMPERES", "pin current at that level (default: from --board)", TL_FACT_DRIVES),
    NUMBER(tl_driver_requirement, forced_gain, "forced-gain", "forced gain, collector current divided by base current (default: 20)", TL_FACT_GAIN),
    VALUE(tl_driver_requirement, base_volts, VOLT, "vbe", "VOLTS", "largest base-emitter voltage (default: 0.9V)"),
    VALUE(tl_driver_requirement, saturation, VOLT, "vce-sat", "VOLTS", "largest collector-emitter voltage when on (default: 0.3V)", TL_FACT_SATURATION),
    VALUE(tl_driver_requirement, on_ohms, OHM, "rds-on", "OHMS", "on-resistance of an N-channel transistor at that level (default: not tried)", TL_FACT_ON_OHMS),
    VALUE(tl_driver_requirement, most_watts, WATT, "max-power", "WATTS", "maximum power in the transistor (default: 0.3W)"),
    {0},
};

/* --- loop --- */

static const size_option loop_options[] = {
    VALUE(tl_loop_requirement, limit, VOLT, "vmax", "VOLTS", "maximum voltage at the pin (default: from --board, pin and reference)", TL_FACT_LIMIT),
    VALUE(tl_loop_requirement, most_amperes, AMPERE, "loop-max", "AMPERES", "maximum loop current (default: 25mA)"),
    RANGE(tl_loop_requirement, supply, VOLT, "supply", "VOLTS", "supply voltage of the loop (default: not checked)"),
    VALUE(tl_loop_requirement, compliance, VOLT, "compliance", "VOLTS", "voltage that the transmitter needs (default: 8V)"),
    VALUE(tl_loop_requirement, wire_ohms, OHM, "wire-resistance", "OHMS", "resistance of the wires (default: 0)"),
    VALUE(tl_loop_requirement, reference, VOLT, "reference", "VOLTS", "reference voltage of the ADC (default: from --board, else the limit)", TL_FACT_REFERENCE),
    NUMBER(tl_loop_requirement, bits, "bits", "resolution of the ADC in bits (default: 12)"),
    VALUE(tl_loop_requirement, meter_ohms, OHM, "meter-resistance", "OHMS", "burden resistance of a meter in the loop (default: 0)"),
    {0},
};

/* --- bus-pull --- */

static const size_option bus_options[] = {
    WORD(tl_bus_requirement, mode, bus_modes, "mode", "bus mode: standard, fast or fast-plus (default: standard)", TL_FACT_BUS_MODE),
    RANGE(tl_bus_requirement, rail, VOLT, "supply", "VOLTS", "supply voltage of the pull-ups (default: from --board)", TL_FACT_RAIL),
    VALUE(tl_bus_requirement, farads, FARAD, "line-capacitance", "FARADS", "capacitance of one line with pins and cable", TL_FACT_BUS_FARADS),
    {0},
};

/* --- shift --- */

static const size_option shift_options[] = {
    RANGE(tl_shift_requirement, from, VOLT, "driver-supply", "VOLTS", "supply voltage of the driver", TL_FACT_DRIVER),
    RANGE(tl_shift_requirement, to, VOLT, "receiver-supply", "VOLTS", "supply voltage of the receiver (default: from --board)", TL_FACT_RAIL),
    VALUE(tl_shift_requirement, vol, VOLT, "vol", "VOLTS", "VOL of the driver, maximum (default: 0.4V)", TL_FACT_VOL),
    VALUE(tl_shift_requirement, voh, VOLT, "voh", "VOLTS", "VOH of the driver, minimum (default: its supply - 0.4 V)", TL_FACT_VOH),
    VALUE(tl_shift_requirement, vil, VOLT, "vil", "VOLTS", "VIL of the receiver (default: from --board, else 0.3 of its supply)", TL_FACT_VIL),
    VALUE(tl_shift_requirement, vih, VOLT, "vih", "VOLTS", "VIH of the receiver (default: from --board, else 0.7 of its supply)", TL_FACT_VIH),
    NUMBER(tl_shift_requirement, vil_share, "vil-share", "VIL as a fraction of the supply (default: from --board, else 0.3)", TL_FACT_VIL_SHARE),
    NUMBER(tl_shift_requirement, vih_share, "vih-share", "VIH as a fraction of the supply (default: from --board, else 0.7)", TL_FACT_VIH_SHARE),
    VALUE(tl_shift_requirement, limit, VOLT, "vmax", "VOLTS", "maximum voltage at the receiver (default: its supply + 0.3 V)", TL_FACT_LIMIT),
    VALUE(tl_shift_requirement, vih_back, VOLT, "vih-back", "VOLTS", "VIH of the driver side, for the other direction (default: 0.7 of its supply)"),
    VALUE(tl_shift_requirement, vol_back, VOLT, "vol-back", "VOLTS", "VOL of the receiver side, for the other direction (default: 0.4V)"),
    VALUE(tl_shift_requirement, limit_back, VOLT, "vmax-back", "VOLTS", "maximum voltage at the driver side (default: its supply + 0.3 V)"),
    VALUE(tl_shift_requirement, injection, AMPERE, "injection", "AMPERES", "clamp current that the receiver allows (default: from --board, else none)", TL_FACT_INJECTION),
    VALUE(tl_shift_requirement, drives, AMPERE, "drive-current", "AMPERES", "output current of the driver, source and sink (default: 3mA)", TL_FACT_DRIVER_AMPERES),
    VALUE(tl_shift_requirement, bits_per_second, HERTZ, "bit-rate", "HERTZ", "bit rate, bits per second (default: 100kHz)", TL_FACT_BIT_RATE),
    VALUE(tl_shift_requirement, farads, FARAD, "line-capacitance", "FARADS", "capacitance at the receiver (default: 20pF)", TL_FACT_LINE_FARADS),
    VALUE(tl_shift_requirement, leakage, AMPERE, "pin-leakage", "AMPERES", "leakage of the receiver's pin, either way (default: from --board, else 0)", TL_FACT_LEAKAGE),
    VALUE(tl_shift_requirement, most_pull, OHM, "max-resistor", "OHMS", "largest resistor to use (default: 1M)"),
    FLAG(tl_shift_requirement, both_ways, "both-ways", "the line is bidirectional"),
    FLAG(tl_shift_requirement, open_drain, "open-drain", "the driver is open-drain and tolerates the other supply"),
    FLAG(tl_shift_requirement, may_invert, "may-invert", "an inverted level is allowed", TL_FACT_MAY_INVERT),
    VALUE(tl_shift_requirement, diode, VOLT, "vf", "VOLTS", "forward voltage of a small diode (default: 0.35V)", TL_FACT_DIODE),
    VALUE(tl_shift_requirement, clamp, VOLT, "clamp", "VOLTS", "forward voltage of a diode from the pin to its supply (default: none)"),
    FLAG(tl_shift_requirement, receiver_off, "receiver-off", "the receiver may be off while the driver is on"),
    FLAG(tl_shift_requirement, driver_off, "driver-off", "the driver may be off while the receiver is on"),
    VALUE(tl_shift_requirement, body_diode, VOLT, "body-diode-vf", "VOLTS", "body diode voltage of an N-channel transistor (default: 0.7V)"),
    VALUE(tl_shift_requirement, threshold, VOLT, "vgs-th", "VOLTS", "largest gate threshold of an N-channel transistor (default: 1.5V)", TL_FACT_THRESHOLD),
    {0},
};

/* --- mux --- */

static const size_option mux_options[] = {
    NUMBER(tl_mux_requirement, inputs, "inputs", "number of inputs of one part (default: 8)"),
    NUMBER(tl_mux_requirement, used, "used", "number of inputs in use; several parts make a tree (default: all)"),
    RANGE(tl_mux_requirement, on_ohms, OHM, "r-on", "OHMS", "on-resistance of the part"),
    LIST(tl_mux_requirement, source_ohms, OHM, "source-resistance", "OHMS", "largest source resistance, or one per input, such as 1k,10k,47k"),
    VALUE(tl_mux_requirement, off_leakage, AMPERE, "mux-leakage", "AMPERES", "leakage of each input that is off (default: 0)"),
    VALUE(tl_mux_requirement, common_farads, FARAD, "mux-capacitance", "FARADS", "capacitance of the common line of a part (default: 0)"),
    VALUE(tl_mux_requirement, converter.pin_farads, FARAD, "pin-capacitance", "FARADS", "capacitance of the pin (default: from --board, else 0)", TL_FACT_FARADS),
    VALUE(tl_mux_requirement, pin_leakage, AMPERE, "pin-leakage", "AMPERES", "leakage of the pin (default: from --board, else 0)", TL_FACT_LEAKAGE),
    VALUE(tl_mux_requirement, rate, HERTZ, "scan-rate", "HERTZ", "required scans per second (default: any)"),
    VALUE(tl_mux_requirement, conversion, SECOND, "conversion", "TIME", "conversion time after each acquisition (default: from --board, else 1us)", TL_FACT_CONVERSION),
    LIST(tl_mux_requirement, offered, SECOND, "offered", "TIMES", "acquisition times on offer, such as 1us,3us,10us (default: from --board, else any)", TL_FACT_ACQUISITION),
    VALUE(tl_mux_requirement, converter.reference, VOLT, "reference", "VOLTS", "lowest reference voltage of the ADC (default: from --board)", TL_FACT_REFERENCE),
    NUMBER(tl_mux_requirement, converter.bits, "bits", "resolution of the ADC in bits (default: from --board, else 12)", TL_FACT_BITS),
    VALUE(tl_mux_requirement, converter.sample_farads, FARAD, "adc-capacitance", "FARADS", "sampling capacitance of the ADC (default: from --board)", TL_FACT_SAMPLING),
    VALUE(tl_mux_requirement, converter.switch_ohms, OHM, "adc-resistance", "OHMS", "sampling switch resistance of the ADC (default: from --board)", TL_FACT_SWITCH),
    VALUE(tl_mux_requirement, converter.acquisition, SECOND, "acquisition", "TIME", "longest acquisition time of the ADC (default: from --board)", TL_FACT_ACQUISITION),
    {0},
};

/* --- ladder --- */

static const size_option ladder_options[] = {
    NUMBER(tl_ladder_requirement, buttons, "buttons", "number of buttons, 2 to 8"),
    VALUE(tl_ladder_requirement, pull, OHM, "pull", "OHMS", "approximate pull resistor (default: 10k)"),
    WORD(tl_ladder_requirement, star, ladder_ways, "circuit", "circuit: chain or star (default: chain)"),
    NUMBER(tl_ladder_requirement, bits, "bits", "resolution of the ADC in bits (default: from --board, else 12)", TL_FACT_BITS),
    VALUE(tl_ladder_requirement, apart, COUNT, "apart", "COUNTS", "minimum distance between two buttons in counts (default: 1 % of full scale)"),
    VALUE(tl_ladder_requirement, contact_ohms, OHM, "contact-resistance", "OHMS", "largest resistance of a closed button (default: 0)"),
    VALUE(tl_ladder_requirement, errors, COUNT, "errors", "COUNTS", "ADC error at full scale in counts, either way (default: from --board, else 4)", TL_FACT_ERRORS),
    VALUE(tl_ladder_requirement, leakage, AMPERE, "pin-leakage", "AMPERES", "leakage of the pin, either way (default: from --board, else 0)", TL_FACT_LEAKAGE),
    RANGE(tl_ladder_requirement, rail, VOLT, "vdd", "VOLTS", "supply voltage of the pull; needed to count leakage (default: from --board)", TL_FACT_RAIL),
    {0},
};

/* --- filter --- */

static const size_option filter_options[] = {
    VALUE(tl_filter_requirement, keep, HERTZ, "passband", "HERTZ", "frequency that passes with at most 1 dB loss"),
    VALUE(tl_filter_requirement, reject, HERTZ, "stopband", "HERTZ", "frequency that the filter attenuates"),
    NUMBER(tl_filter_requirement, by, "attenuation", "attenuation factor at that frequency (default: 10)"),
    VALUE(tl_filter_requirement, source_ohms, OHM, "source-resistance", "OHMS", "source resistance before the filter (default: 0)"),
    VALUE(tl_filter_requirement, most_ohms, OHM, "max-source-resistance", "OHMS", "maximum source resistance at the pin (default: 10k)"),
    VALUE(tl_filter_requirement, leakage, AMPERE, "pin-leakage", "AMPERES", "leakage of the pin (default: from --board, else 0)", TL_FACT_LEAKAGE),
    VALUE(tl_filter_requirement, most_error, VOLT, "max-error", "VOLTS", "maximum voltage error from leakage (default: no limit)"),
    VALUE(tl_filter_requirement, capacitor_tolerance, PERCENT, "capacitor-tolerance", "PERCENT", "tolerance of the capacitor (default: 10 %)"),
    NUMBER(tl_filter_requirement, converter.bits, "bits", "resolution of the ADC in bits (default: from --board, else 12)", TL_FACT_BITS),
    VALUE(tl_filter_requirement, converter.reference, VOLT, "reference", "VOLTS", "lowest reference voltage of the ADC (default: from --board)", TL_FACT_REFERENCE),
    VALUE(tl_filter_requirement, converter.sample_farads, FARAD, "adc-capacitance", "FARADS", "sampling capacitance of the ADC; the filter then lets it settle (default: from --board)", TL_FACT_SAMPLING),
    VALUE(tl_filter_requirement, converter.switch_ohms, OHM, "adc-resistance", "OHMS", "sampling switch resistance of the ADC (default: from --board)", TL_FACT_SWITCH),
    VALUE(tl_filter_requirement, converter.acquisition, SECOND, "acquisition", "TIME", "longest acquisition time of the ADC (default: from --board)", TL_FACT_ACQUISITION),
    {0},
};

/* --- reservoir --- */

static const size_option reservoir_options[] = {
    VALUE(tl_reservoir_requirement, source_ohms, OHM, "source-resistance", "OHMS", "source resistance at the pin"),
    VALUE(tl_reservoir_requirement, rate, HERTZ, "sample-rate", "HERTZ", "samples per second"),
    VALUE(tl_reservoir_requirement, capacitor_tolerance, PERCENT, "capacitor-tolerance", "PERCENT", "tolerance of the capacitor (default: 10 %)"),
    VALUE(tl_reservoir_requirement, converter.reference, VOLT, "reference", "VOLTS", "lowest reference voltage of the ADC (default: from --board)", TL_FACT_REFERENCE),
    NUMBER(tl_reservoir_requirement, converter.bits, "bits", "resolution of the ADC in bits (default: from --board, else 12)", TL_FACT_BITS),
    VALUE(tl_reservoir_requirement, converter.sample_farads, FARAD, "adc-capacitance", "FARADS", "sampling capacitance of the ADC (default: from --board)", TL_FACT_SAMPLING),
    VALUE(tl_reservoir_requirement, converter.switch_ohms, OHM, "adc-resistance", "OHMS", "sampling switch resistance of the ADC (default: from --board)", TL_FACT_SWITCH),
    VALUE(tl_reservoir_requirement, converter.acquisition, SECOND, "acquisition", "TIME", "longest acquisition time of the ADC (default: from --board)", TL_FACT_ACQUISITION),
    {0},
};

/* --- injection --- */

static const size_option injection_options[] = {
    RANGE(tl_injection_requirement, fault, VOLT, "vin", "VOLTS", "voltage range of the fault", TL_FACT_FAULT),
    RANGE(tl_injection_requirement, rail, VOLT, "vdd", "VOLTS", "supply voltage of the pin (default: from --board)", TL_FACT_RAIL),
    VALUE(tl_injection_requirement, clamp, VOLT, "clamp", "VOLTS", "voltage above the supply at which the clamp conducts (default: 0.3V)"),
    VALUE(tl_injection_requirement, amperes, AMPERE, "injection", "AMPERES", "maximum clamp current of one pin (default: from --board)", TL_FACT_INJECTION),
    NUMBER(tl_injection_requirement, pins, "pins", "number of pins with this fault at once (default: 1)"),
    VALUE(tl_injection_requirement, board_amperes, AMPERE, "board-draws", "AMPERES", "minimum current of the board from that supply"),
    FLAG(tl_injection_requirement, unpowered, "unpowered", "the board may be off while the signal is live"),
    {0},
};

/* clang-format on */

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
    JOB(divider, set_divider_for_a_pin, "divider", "Find two resistors that divide a voltage down for a pin.",
        "--vin 10.5V..14.8V --vmax 3.3V", "470/180,4k7/1k8", 2, 2, OHM, OHM),
    JOB(ratio, set_ratio, "ratio", "Find two resistors with a given ratio.", "--ratio 33/148 --sum 20k..200k",
        "10k/4k7,22k/10k", 2, 2, OHM, OHM),
    JOB(partner, set_partner, "partner", "Find the fixed resistor beside a resistive sensor.",
        "--sensor 400ohm..900k --supply 3.3V", "4k7,10k,22k", 1, 1, OHM, OHM),
    JOB(feed, set_feed, "feed", "Find the resistor above a potentiometer whose supply is too high.",
        "--track \"10k ±20 %\" --supply \"5V ±5 %\" --vmax 3.234V", "4k7,10k,22k", 1, 1, OHM, OHM),
    JOB(follower, set_follower, "follower",
        "Find a buffer for a source whose resistance is too high for the pin.",
        "--vin 0V..3.2V --source-resistance 250k --supply \"5V ±5 %\" --vmax 3.5V", "10nF,100nF", 1, 1, FARAD,
        FARAD),
    JOB(pull, set_pull, "pull", "Find a pull-up or pull-down for a contact or an open collector.",
        "--vdd \"3.3V ±2 %\" --leakage 1uA", "4k7,10k,47k", 1, 1, OHM, OHM),
    JOB(guard, set_guard, "guard",
        "Find a series resistor that protects a pin which drives against a supply.",
        "--vdd 3.366V --pin-current 12mA", "330,1k,2k2", 1, 1, OHM, OHM),
    JOB(lamp, set_lamp, "lamp", "Find the series resistor of an LED.",
        "--supply \"3.3V ±2 %\" --vf 1.9V..2.2V --led-current 4mA", "220,330,470", 1, 1, OHM, OHM),
    JOB(driver, set_driver, "driver", "Find a transistor stage for a relay, pump or fan.",
        "--supply 12V --load-resistance 270ohm..330ohm --coil 100mH --voh 2.8V..3.4V --pin-current 4mA",
        "470,1k,2k2", 1, 1, OHM, OHM),
    JOB(loop, set_loop, "loop", "Find the load resistor of a 4-20 mA loop.", "--vmax 3.2V --supply 24V",
        "100,120,150", 1, 1, OHM, OHM),
    JOB(bus, set_bus, "bus-pull", "Find the pull-ups of an I2C bus.",
        "--mode fast --supply 3.3V --line-capacitance 200pF", "2k2,3k3,4k7", 1, 1, OHM, OHM),
    JOB(shift, set_shift, "shift", "Find a level shifter between two logic levels.",
        "--driver-supply \"5V ±5 %\" --receiver-supply \"3.3V ±2 %\" --bit-rate 100kHz", "1k,6k8/10k", 1, 2,
        OHM, OHM),
    JOB(mux, set_mux, "mux", "Find the timing of an analog multiplexer before one channel.",
        "--r-on 70ohm..200ohm --source-resistance 10k --board BOARD", "1us,3us,10us", 1, 1, SECOND, SECOND),
    JOB(ladder, set_ladder, "ladder", "Find the resistors for several buttons on one analog pin.",
        "--buttons 5", "10k/1k/2k2/4k7/10k", 2, 9, OHM, OHM),
    JOB(filter, set_filter, "filter", "Find the resistor and capacitor of a low-pass filter.",
        "--passband 5Hz --stopband 150Hz", "10k/100nF,4k7/220nF", 2, 2, OHM, FARAD),
    JOB(reservoir, set_reservoir, "reservoir", "Find a capacitor at the pin that feeds the ADC.",
        "--source-resistance 100k --sample-rate 100Hz --board BOARD", "10nF,100nF,1uF", 1, 1, FARAD, FARAD),
    JOB(injection, set_injection, "injection", "Find a series resistor that limits the clamp current.",
        "--vin 0V..26V --vdd \"3.3V ±2 %\" --injection 1mA", "10k,22k,47k", 1, 1, OHM, OHM),
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
