/*
 * The kinds of sizing and their options. A kind is a row at the end of this file, an option a row of its
 * table: adding one is adding a row. The wishes themselves, and all that is electrical, are in
 * tinyladder/size.h.
 */
#include "size_kinds.h"
#include <math.h>

static const char *const divider_orders[] = {"parts", "share", "current", NULL};
static const char *const partner_legs[] = {"lower", "upper", NULL};
static const char *const pull_ways[] = {"up", "down", NULL};
static const char *const bus_modes[] = {"standard", "fast", "fast-plus", NULL};
static const char *const ladder_ways[] = {"chain", "star", NULL};

static bool is_given(double value)
{
    return !isnan(value);
}

static void take_rail(tl_quantity *rail, const board_facts *board)
{
    if (board->given && !is_given(rail->nominal))
        *rail = board->rail;
}

static void take_converter(tl_size_converter *converter, const board_facts *board)
{
    const double bits = converter->bits;
    if (!board->given)
        return;
    if (!is_given(converter->reference))
        converter->reference = board->converter.reference;
    if (!is_given(converter->sample_farads))
        converter->sample_farads = board->converter.sample_farads;
    if (!is_given(converter->switch_ohms))
        converter->switch_ohms = board->converter.switch_ohms;
    if (!is_given(converter->acquisition))
        converter->acquisition = board->converter.acquisition;
    converter->bits = bits == 12 ? board->converter.bits : bits;
}

/* --- divider --- */

static const size_option divider_options[] = {
    {"from", "VOLTS", "range of the source, such as 10.5V..14.8V", FORM_RANGE, TL_DIM_VOLT,
     offsetof(tl_divider_wish, source), NULL},
    {"limit", "VOLTS", "the tap must never be above this (with a board: what pin and reference take)",
     FORM_VALUE, TL_DIM_VOLT, offsetof(tl_divider_wish, limit), NULL},
    {"current", "AMPERES", "budget: the most to draw from the source (no budget)", FORM_VALUE, TL_DIM_AMPERE,
     offsetof(tl_divider_wish, most_amperes), NULL},
    {"pin-sees", "OHMS",
     "budget: the most source resistance for the pin (10k; with a board: what its converter takes)",
     FORM_VALUE, TL_DIM_OHM, offsetof(tl_divider_wish, most_tap_ohms), NULL},
    {"source", "OHMS", "resistance of the source itself (0)", FORM_VALUE, TL_DIM_OHM,
     offsetof(tl_divider_wish, source_ohms), NULL},
    {"load", "OHMS", "what hangs across the lower leg (nothing)", FORM_VALUE, TL_DIM_OHM,
     offsetof(tl_divider_wish, load_ohms), NULL},
    {"leakage", "AMPERES", "of the pin, either way (0; with a board: its own)", FORM_VALUE, TL_DIM_AMPERE,
     offsetof(tl_divider_wish, leakage), NULL},
    {"upper", "OHMS", "the upper leg is this", FORM_VALUE, TL_DIM_OHM, offsetof(tl_divider_wish, upper),
     NULL},
    {"lower", "OHMS", "the lower leg is this", FORM_VALUE, TL_DIM_OHM, offsetof(tl_divider_wish, lower),
     NULL},
    {"parts", "N", "most parts in one leg, in series or parallel: 1 or 2 (1)", FORM_NUMBER, TL_DIM_NUMBER,
     offsetof(tl_divider_wish, parts), NULL},
    {"meter", "OHMS", "resistance of the meter that will be held to the tap (10 Mohm)", FORM_VALUE,
     TL_DIM_OHM, offsetof(tl_divider_wish, meter_ohms), NULL},
    {"order", "WORD",
     "what comes first: parts, share or current (parts: fewest parts, then share, then current)", FORM_WORD,
     TL_DIM_NUMBER, offsetof(tl_divider_wish, order), divider_orders},
    {0},
};

static void set_divider(void *wish)
{
    *(tl_divider_wish *)wish = tl_divider_wish_default();
}

static void take_divider_board(void *wish, const board_facts *board)
{
    tl_divider_wish *w = wish;
    if (!is_given(w->limit) && board->given)
        w->limit = fmin(board->limit, board->converter.reference);
    if (board->given && w->leakage == 0)
        w->leakage = board->leakage;
    if (isinf(w->most_tap_ohms))
        w->most_tap_ohms = board->given ? fmax(1, tl_converter_longest_ohms(&board->converter)) : 10e3;
}

static void size_divider(const void *wish, tl_answer *answer)
{
    tl_size_divider(wish, answer);
}

/* --- partner --- */

static const size_option partner_options[] = {
    {"sensor", "OHMS", "lowest to highest ohms of the sensor, such as \"400 ohm..900k\"", FORM_RANGE,
     TL_DIM_OHM, offsetof(tl_partner_wish, sensor), NULL},
    {"rail", "VOLTS", "what the pair hangs on (with a board: its rail)", FORM_RANGE, TL_DIM_VOLT,
     offsetof(tl_partner_wish, rail), NULL},
    {"at", "OHMS", "best resolution at this point instead of the widest swing", FORM_VALUE, TL_DIM_OHM,
     offsetof(tl_partner_wish, at), NULL},
    {"leg", "WORD", "where the partner stands: lower or upper (lower)", FORM_WORD, TL_DIM_NUMBER,
     offsetof(tl_partner_wish, leg), partner_legs},
    {"current", "AMPERES", "budget, also with the sensor at 0 ohm (no budget)", FORM_VALUE, TL_DIM_AMPERE,
     offsetof(tl_partner_wish, most_amperes), NULL},
    {"pin-sees", "OHMS", "the most source resistance for the pin (with a board: what its converter takes)",
     FORM_VALUE, TL_DIM_OHM, offsetof(tl_partner_wish, most_tap_ohms), NULL},
    {"heat", "WATTS", "the most that may heat the sensor", FORM_VALUE, TL_DIM_WATT,
     offsetof(tl_partner_wish, most_heat), NULL},
    {"bits", "N", "of the converter (12)", FORM_NUMBER, TL_DIM_NUMBER, offsetof(tl_partner_wish, bits), NULL},
    {0},
};

static void set_partner(void *wish)
{
    *(tl_partner_wish *)wish = tl_partner_wish_default();
}

static void take_partner_board(void *wish, const board_facts *board)
{
    tl_partner_wish *w = wish;
    take_rail(&w->rail, board);
    if (board->given && isinf(w->most_tap_ohms))
        w->most_tap_ohms = fmax(1, tl_converter_longest_ohms(&board->converter));
}

static void size_partner(const void *wish, tl_answer *answer)
{
    tl_size_partner(wish, answer);
}

/* --- feed --- */

static const size_option feed_options[] = {
    {"track", "OHMS", "of the potentiometer, with its tolerance", FORM_RANGE, TL_DIM_OHM,
     offsetof(tl_feed_wish, track), NULL},
    {"rail", "VOLTS", "what the top hangs on", FORM_RANGE, TL_DIM_VOLT, offsetof(tl_feed_wish, rail), NULL},
    {"tracks", "N", "so many in parallel on one feed (1)", FORM_NUMBER, TL_DIM_NUMBER,
     offsetof(tl_feed_wish, tracks), NULL},
    {"limit", "VOLTS", "the top must never be above this (with a board: what pin and reference take)",
     FORM_VALUE, TL_DIM_VOLT, offsetof(tl_feed_wish, limit), NULL},
    {"current", "AMPERES", "budget (no budget)", FORM_VALUE, TL_DIM_AMPERE,
     offsetof(tl_feed_wish, most_amperes), NULL},
    {"pin-sees", "OHMS", "the most source resistance for the pin (with a board: what its converter takes)",
     FORM_VALUE, TL_DIM_OHM, offsetof(tl_feed_wish, most_tap_ohms), NULL},
    {0},
};

static void set_feed(void *wish)
{
    *(tl_feed_wish *)wish = tl_feed_wish_default();
}

static void take_feed_board(void *wish, const board_facts *board)
{
    tl_feed_wish *w = wish;
    if (!is_given(w->limit) && board->given)
        w->limit = fmin(board->limit, board->converter.reference);
    if (board->given && isinf(w->most_tap_ohms))
        w->most_tap_ohms = fmax(1, tl_converter_longest_ohms(&board->converter));
}

static void size_feed(const void *wish, tl_answer *answer)
{
    tl_size_feed(wish, answer);
}

/* --- follower --- */

static const size_option follower_options[] = {
    {"from", "VOLTS", "range of the signal", FORM_RANGE, TL_DIM_VOLT, offsetof(tl_follower_wish, source),
     NULL},
    {"source", "OHMS", "its resistance, at most", FORM_VALUE, TL_DIM_OHM,
     offsetof(tl_follower_wish, source_ohms), NULL},
    {"supply", "VOLTS", "of the amplifier", FORM_RANGE, TL_DIM_VOLT, offsetof(tl_follower_wish, supply),
     NULL},
    {"out-low", "VOLTS", "its output stays so far above ground (0)", FORM_VALUE, TL_DIM_VOLT,
     offsetof(tl_follower_wish, out_low), NULL},
    {"out-high", "VOLTS", "its output stays so far below its supply (0)", FORM_VALUE, TL_DIM_VOLT,
     offsetof(tl_follower_wish, out_high), NULL},
    {"in-low", "VOLTS", "likewise its input (0)", FORM_VALUE, TL_DIM_VOLT, offsetof(tl_follower_wish, in_low),
     NULL},
    {"in-high", "VOLTS", "likewise its input (0)", FORM_VALUE, TL_DIM_VOLT,
     offsetof(tl_follower_wish, in_high), NULL},
    {"bias", "AMPERES", "its input current (0)", FORM_VALUE, TL_DIM_AMPERE, offsetof(tl_follower_wish, bias),
     NULL},
    {"offset", "VOLTS", "its input offset (0)", FORM_VALUE, TL_DIM_VOLT, offsetof(tl_follower_wish, offset),
     NULL},
    {"limit", "VOLTS", "of the pin (with a board: its own)", FORM_VALUE, TL_DIM_VOLT,
     offsetof(tl_follower_wish, limit), NULL},
    {"reference", "VOLTS", "of the converter, lowest (with a board: its own)", FORM_VALUE, TL_DIM_VOLT,
     offsetof(tl_follower_wish, converter.reference), NULL},
    {"bits", "N", "of the converter (12)", FORM_NUMBER, TL_DIM_NUMBER,
     offsetof(tl_follower_wish, converter.bits), NULL},
    {"sampling", "FARADS", "its sampling capacitor (with a board: its own)", FORM_VALUE, TL_DIM_FARAD,
     offsetof(tl_follower_wish, converter.sample_farads), NULL},
    {"switch", "OHMS", "its sampling switch (with a board: its own)", FORM_VALUE, TL_DIM_OHM,
     offsetof(tl_follower_wish, converter.switch_ohms), NULL},
    {"acquisition", "TIME", "its longest acquisition (with a board: its own)", FORM_VALUE, TL_DIM_SECOND,
     offsetof(tl_follower_wish, converter.acquisition), NULL},
    {0},
};

static void set_follower(void *wish)
{
    *(tl_follower_wish *)wish = tl_follower_wish_default();
}

static void take_follower_board(void *wish, const board_facts *board)
{
    tl_follower_wish *w = wish;
    if (!is_given(w->limit) && board->given)
        w->limit = board->limit;
    take_converter(&w->converter, board);
}

static void size_follower(const void *wish, tl_answer *answer)
{
    tl_size_follower(wish, answer);
}

/* --- pull --- */

static const size_option pull_options[] = {
    {"rail", "VOLTS", "of the pull and of the pin (with a board: its rail)", FORM_RANGE, TL_DIM_VOLT,
     offsetof(tl_pull_wish, rail), NULL},
    {"to", "WORD", "which way it pulls: up or down (up)", FORM_WORD, TL_DIM_NUMBER,
     offsetof(tl_pull_wish, down), pull_ways},
    {"vil", "VOLTS", "low threshold of the pin (0.3 rail)", FORM_VALUE, TL_DIM_VOLT,
     offsetof(tl_pull_wish, vil), NULL},
    {"vih", "VOLTS", "high threshold of the pin (0.7 rail)", FORM_VALUE, TL_DIM_VOLT,
     offsetof(tl_pull_wish, vih), NULL},
    {"leakage", "AMPERES", "all leakages together (1 uA)", FORM_VALUE, TL_DIM_AMPERE,
     offsetof(tl_pull_wish, leakage), NULL},
    {"margin", "VOLTS", "the idle level clears its threshold by this (0)", FORM_VALUE, TL_DIM_VOLT,
     offsetof(tl_pull_wish, margin), NULL},
    {"closed", "OHMS", "of the closed contact, cable and guard on the way included (0)", FORM_VALUE,
     TL_DIM_OHM, offsetof(tl_pull_wish, closed_ohms), NULL},
    {"saturation", "VOLTS", "across a transistor that is on (0)", FORM_VALUE, TL_DIM_VOLT,
     offsetof(tl_pull_wish, saturation), NULL},
    {"drives", "AMPERES", "that the transistor takes at that (no limit)", FORM_VALUE, TL_DIM_AMPERE,
     offsetof(tl_pull_wish, drives), NULL},
    {"wetting", "AMPERES", "that the contact wants at least (0)", FORM_VALUE, TL_DIM_AMPERE,
     offsetof(tl_pull_wish, wetting), NULL},
    {"current", "AMPERES", "budget while closed (1 mA)", FORM_VALUE, TL_DIM_AMPERE,
     offsetof(tl_pull_wish, most_amperes), NULL},
    {"capacitance", "FARADS", "of cable and pin (0)", FORM_VALUE, TL_DIM_FARAD,
     offsetof(tl_pull_wish, farads), NULL},
    {"edge", "TIME", "back to the idle level within (no limit)", FORM_VALUE, TL_DIM_SECOND,
     offsetof(tl_pull_wish, longest_edge), NULL},
    {"internal", "OHMS", "the board has its own pull: is it enough? such as 30k..60k", FORM_RANGE, TL_DIM_OHM,
     offsetof(tl_pull_wish, internal), NULL},
    {"normally-closed", NULL, "the contact rests closed", FORM_FLAG, TL_DIM_NUMBER,
     offsetof(tl_pull_wish, normally_closed), NULL},
    {0},
};

static void set_pull(void *wish)
{
    *(tl_pull_wish *)wish = tl_pull_wish_default();
}

static void take_pull_board(void *wish, const board_facts *board)
{
    tl_pull_wish *w = wish;
    take_rail(&w->rail, board);
    if (board->given && w->farads == 0)
        w->farads = board->farads;
}

static void size_pull(const void *wish, tl_answer *answer)
{
    tl_size_pull(wish, answer);
}

/* --- guard --- */

static const size_option guard_options[] = {
    {"rail", "VOLTS", "highest difference across it (with a board: its rail)", FORM_RANGE, TL_DIM_VOLT,
     offsetof(tl_guard_wish, rail), NULL},
    {"pin-current", "AMPERES", "never more through the pin (with a board: its own)", FORM_VALUE,
     TL_DIM_AMPERE, offsetof(tl_guard_wish, pin_amperes), NULL},
    {"pull", "OHMS", "a pull stands on the pin side of the guard", FORM_VALUE, TL_DIM_OHM,
     offsetof(tl_guard_wish, pull), NULL},
    {"vil", "VOLTS", "low threshold of the pin (0.3 rail)", FORM_VALUE, TL_DIM_VOLT,
     offsetof(tl_guard_wish, vil), NULL},
    {"leakage", "AMPERES", "of the pin (0; with a board: its own)", FORM_VALUE, TL_DIM_AMPERE,
     offsetof(tl_guard_wish, leakage), NULL},
    {"capacitance", "FARADS", "of the pin (0; with a board: its own)", FORM_VALUE, TL_DIM_FARAD,
     offsetof(tl_guard_wish, farads), NULL},
    {0},
};

static void set_guard(void *wish)
{
    *(tl_guard_wish *)wish = tl_guard_wish_default();
}

static void take_guard_board(void *wish, const board_facts *board)
{
    tl_guard_wish *w = wish;
    if (!is_given(w->pin_amperes))
        w->pin_amperes = board->most_amperes;
    take_rail(&w->rail, board);
    if (board->given && w->leakage == 0)
        w->leakage = board->leakage;
    if (board->given && w->farads == 0)
        w->farads = board->farads;
}

static void size_guard(const void *wish, tl_answer *answer)
{
    tl_size_guard(wish, answer);
}

/* --- lamp --- */

static const size_option lamp_options[] = {
    {"supply", "VOLTS", "of the lamp (with a board: its rail)", FORM_RANGE, TL_DIM_VOLT,
     offsetof(tl_lamp_wish, supply), NULL},
    {"forward", "VOLTS", "forward voltage of the lamp", FORM_RANGE, TL_DIM_VOLT,
     offsetof(tl_lamp_wish, forward), NULL},
    {"current", "AMPERES", "never more (with a board: what a pin drives)", FORM_VALUE, TL_DIM_AMPERE,
     offsetof(tl_lamp_wish, amperes), NULL},
    {"least", "AMPERES", "still bright enough (0)", FORM_VALUE, TL_DIM_AMPERE,
     offsetof(tl_lamp_wish, least_amperes), NULL},
    {"drop", "VOLTS", "across the driver, at least (0)", FORM_VALUE, TL_DIM_VOLT,
     offsetof(tl_lamp_wish, drop), NULL},
    {"most-drop", "VOLTS", "across the driver, at most (the same)", FORM_VALUE, TL_DIM_VOLT,
     offsetof(tl_lamp_wish, most_drop), NULL},
    {"lamps", "N", "so many at once (1)", FORM_NUMBER, TL_DIM_NUMBER, offsetof(tl_lamp_wish, lamps), NULL},
    {"total", "AMPERES", "that all may take together (no limit)", FORM_VALUE, TL_DIM_AMPERE,
     offsetof(tl_lamp_wish, total_amperes), NULL},
    {0},
};

static void set_lamp(void *wish)
{
    *(tl_lamp_wish *)wish = tl_lamp_wish_default();
}

static void take_lamp_board(void *wish, const board_facts *board)
{
    tl_lamp_wish *w = wish;
    if (!is_given(w->amperes))
        w->amperes = board->drives;
    take_rail(&w->supply, board);
}

static void size_lamp(const void *wish, tl_answer *answer)
{
    tl_size_lamp(wish, answer);
}

/* --- driver --- */

static const size_option driver_options[] = {
    {"supply", "VOLTS", "of the load", FORM_RANGE, TL_DIM_VOLT, offsetof(tl_driver_wish, supply), NULL},
    {"load", "OHMS", "its resistance", FORM_RANGE, TL_DIM_OHM, offsetof(tl_driver_wish, load), NULL},
    {"coil", "HENRIES", "its inductance (0)", FORM_VALUE, TL_DIM_HENRY, offsetof(tl_driver_wish, henries),
     NULL},
    {"high", "VOLTS", "high level of the pin, lowest to highest (with a board: rail - 0.4 V .. rail)",
     FORM_RANGE, TL_DIM_VOLT, offsetof(tl_driver_wish, high), NULL},
    {"pin-current", "AMPERES", "that the pin gives at that level (with a board: its own)", FORM_VALUE,
     TL_DIM_AMPERE, offsetof(tl_driver_wish, pin_amperes), NULL},
    {"gain", "N", "collector over base current to count on (20)", FORM_NUMBER, TL_DIM_NUMBER,
     offsetof(tl_driver_wish, forced_gain), NULL},
    {"base", "VOLTS", "base to emitter, at most (0.9 V)", FORM_VALUE, TL_DIM_VOLT,
     offsetof(tl_driver_wish, base_volts), NULL},
    {"saturation", "VOLTS", "collector to emitter, at most (0.3 V)", FORM_VALUE, TL_DIM_VOLT,
     offsetof(tl_driver_wish, saturation), NULL},
    {"on", "OHMS", "of an N-channel transistor at the lowest high level (not tried)", FORM_VALUE, TL_DIM_OHM,
     offsetof(tl_driver_wish, on_ohms), NULL},
    {"heat", "WATTS", "in the transistor (0.3 W)", FORM_VALUE, TL_DIM_WATT,
     offsetof(tl_driver_wish, most_watts), NULL},
    {0},
};

static void set_driver(void *wish)
{
    *(tl_driver_wish *)wish = tl_driver_wish_default();
}

static void take_driver_board(void *wish, const board_facts *board)
{
    tl_driver_wish *w = wish;
    if (!is_given(w->pin_amperes))
        w->pin_amperes = board->drives;
    if (board->given && !is_given(w->high.nominal))
        w->high = (tl_quantity){board->rail.low - 0.4, board->rail.nominal - 0.2, board->rail.high, true};
}

static void size_driver(const void *wish, tl_answer *answer)
{
    tl_size_driver(wish, answer);
}

/* --- loop --- */

static const size_option loop_options[] = {
    {"limit", "VOLTS", "of the pin (with a board: what pin and reference take)", FORM_VALUE, TL_DIM_VOLT,
     offsetof(tl_loop_wish, limit), NULL},
    {"most", "AMPERES", "that the loop can be driven to (25 mA)", FORM_VALUE, TL_DIM_AMPERE,
     offsetof(tl_loop_wish, most_amperes), NULL},
    {"supply", "VOLTS", "of the loop (not looked at)", FORM_RANGE, TL_DIM_VOLT,
     offsetof(tl_loop_wish, supply), NULL},
    {"compliance", "VOLTS", "that the transmitter needs (8 V)", FORM_VALUE, TL_DIM_VOLT,
     offsetof(tl_loop_wish, compliance), NULL},
    {"wire", "OHMS", "of the loop (0)", FORM_VALUE, TL_DIM_OHM, offsetof(tl_loop_wish, wire_ohms), NULL},
    {"reference", "VOLTS", "of the converter (the limit; with a board: its own)", FORM_VALUE, TL_DIM_VOLT,
     offsetof(tl_loop_wish, reference), NULL},
    {"bits", "N", "of the converter (12)", FORM_NUMBER, TL_DIM_NUMBER, offsetof(tl_loop_wish, bits), NULL},
    {0},
};

static void set_loop(void *wish)
{
    *(tl_loop_wish *)wish = tl_loop_wish_default();
}

static void take_loop_board(void *wish, const board_facts *board)
{
    tl_loop_wish *w = wish;
    if (!is_given(w->limit) && board->given)
        w->limit = board->limit;
    if (!is_given(w->reference) && board->given)
        w->reference = board->converter.reference;
}

static void size_loop(const void *wish, tl_answer *answer)
{
    tl_size_loop(wish, answer);
}

/* --- bus-pull --- */

static const size_option bus_options[] = {
    {"mode", "WORD", "standard, fast or fast-plus (standard)", FORM_WORD, TL_DIM_NUMBER,
     offsetof(tl_bus_wish, mode), bus_modes},
    {"rail", "VOLTS", "of the pulls (with a board: its rail)", FORM_RANGE, TL_DIM_VOLT,
     offsetof(tl_bus_wish, rail), NULL},
    {"capacitance", "FARADS", "of one line, pins and cable", FORM_VALUE, TL_DIM_FARAD,
     offsetof(tl_bus_wish, farads), NULL},
    {0},
};

static void set_bus(void *wish)
{
    *(tl_bus_wish *)wish = tl_bus_wish_default();
}

static void take_bus_board(void *wish, const board_facts *board)
{
    tl_bus_wish *w = wish;
    take_rail(&w->rail, board);
}

static void size_bus(const void *wish, tl_answer *answer)
{
    tl_size_bus_pull(wish, answer);
}

/* --- shift --- */

static const size_option shift_options[] = {
    {"from", "VOLTS", "supply of the driver", FORM_RANGE, TL_DIM_VOLT, offsetof(tl_shift_wish, from), NULL},
    {"to", "VOLTS", "supply of the receiver (with a board: its rail)", FORM_RANGE, TL_DIM_VOLT,
     offsetof(tl_shift_wish, to), NULL},
    {"vol", "VOLTS", "driver: low at most (0.4 V)", FORM_VALUE, TL_DIM_VOLT, offsetof(tl_shift_wish, vol),
     NULL},
    {"voh", "VOLTS", "driver: high at least (its supply - 0.4 V)", FORM_VALUE, TL_DIM_VOLT,
     offsetof(tl_shift_wish, voh), NULL},
    {"vil", "VOLTS", "receiver: low at most (0.3 of its supply)", FORM_VALUE, TL_DIM_VOLT,
     offsetof(tl_shift_wish, vil), NULL},
    {"vih", "VOLTS", "receiver: high at least (0.7 of its supply)", FORM_VALUE, TL_DIM_VOLT,
     offsetof(tl_shift_wish, vih), NULL},
    {"limit", "VOLTS", "receiver: never above (its supply + 0.3 V)", FORM_VALUE, TL_DIM_VOLT,
     offsetof(tl_shift_wish, limit), NULL},
    {"injection", "AMPERES", "that its clamp may carry (not allowed)", FORM_VALUE, TL_DIM_AMPERE,
     offsetof(tl_shift_wish, injection), NULL},
    {"drives", "AMPERES", "that the driver gives and takes (3 mA)", FORM_VALUE, TL_DIM_AMPERE,
     offsetof(tl_shift_wish, drives), NULL},
    {"rate", "HERTZ", "bits a second (100 kHz)", FORM_VALUE, TL_DIM_HERTZ,
     offsetof(tl_shift_wish, bits_per_second), NULL},
    {"capacitance", "FARADS", "at the receiver (20 pF)", FORM_VALUE, TL_DIM_FARAD,
     offsetof(tl_shift_wish, farads), NULL},
    {"both-ways", NULL, "the line goes both ways", FORM_FLAG, TL_DIM_NUMBER,
     offsetof(tl_shift_wish, both_ways), NULL},
    {"open-drain", NULL, "the driver only pulls low, and stands the other rail", FORM_FLAG, TL_DIM_NUMBER,
     offsetof(tl_shift_wish, open_drain), NULL},
    {"may-invert", NULL, "an inverted level will do", FORM_FLAG, TL_DIM_NUMBER,
     offsetof(tl_shift_wish, may_invert), NULL},
    {"diode", "VOLTS", "of a small diode (0.35 V)", FORM_VALUE, TL_DIM_VOLT, offsetof(tl_shift_wish, diode),
     NULL},
    {"threshold", "VOLTS", "gate threshold of an N-channel transistor, highest (1.5 V)", FORM_VALUE,
     TL_DIM_VOLT, offsetof(tl_shift_wish, threshold), NULL},
    {0},
};

static void set_shift(void *wish)
{
    *(tl_shift_wish *)wish = tl_shift_wish_default();
}

static void take_shift_board(void *wish, const board_facts *board)
{
    tl_shift_wish *w = wish;
    take_rail(&w->to, board);
    if (board->given && !is_given(w->limit))
        w->limit = board->limit;
}

static void size_shift(const void *wish, tl_answer *answer)
{
    tl_size_shift(wish, answer);
}

/* --- mux --- */

static const size_option mux_options[] = {
    {"inputs", "N", "of the part (8)", FORM_NUMBER, TL_DIM_NUMBER, offsetof(tl_mux_wish, inputs), NULL},
    {"used", "N", "of these wired (all)", FORM_NUMBER, TL_DIM_NUMBER, offsetof(tl_mux_wish, used), NULL},
    {"on", "OHMS", "on-resistance", FORM_RANGE, TL_DIM_OHM, offsetof(tl_mux_wish, on_ohms), NULL},
    {"source", "OHMS", "of the worst input", FORM_VALUE, TL_DIM_OHM, offsetof(tl_mux_wish, source_ohms),
     NULL},
    {"off-leakage", "AMPERES", "of each input that is off (0)", FORM_VALUE, TL_DIM_AMPERE,
     offsetof(tl_mux_wish, off_leakage), NULL},
    {"capacitance", "FARADS", "of the common line (0)", FORM_VALUE, TL_DIM_FARAD,
     offsetof(tl_mux_wish, common_farads), NULL},
    {"pin-leakage", "AMPERES", "of the pin (0; with a board: its own)", FORM_VALUE, TL_DIM_AMPERE,
     offsetof(tl_mux_wish, pin_leakage), NULL},
    {"rate", "HERTZ", "scans a second that are wanted (as it comes)", FORM_VALUE, TL_DIM_HERTZ,
     offsetof(tl_mux_wish, rate), NULL},
    {"conversion", "TIME", "after each acquisition (1 us)", FORM_VALUE, TL_DIM_SECOND,
     offsetof(tl_mux_wish, conversion), NULL},
    {"reference", "VOLTS", "of the converter, lowest (with a board: its own)", FORM_VALUE, TL_DIM_VOLT,
     offsetof(tl_mux_wish, converter.reference), NULL},
    {"bits", "N", "of the converter (12)", FORM_NUMBER, TL_DIM_NUMBER, offsetof(tl_mux_wish, converter.bits),
     NULL},
    {"sampling", "FARADS", "its sampling capacitor (with a board: its own)", FORM_VALUE, TL_DIM_FARAD,
     offsetof(tl_mux_wish, converter.sample_farads), NULL},
    {"switch", "OHMS", "its sampling switch (with a board: its own)", FORM_VALUE, TL_DIM_OHM,
     offsetof(tl_mux_wish, converter.switch_ohms), NULL},
    {"acquisition", "TIME", "its longest acquisition (with a board: its own)", FORM_VALUE, TL_DIM_SECOND,
     offsetof(tl_mux_wish, converter.acquisition), NULL},
    {0},
};

static void set_mux(void *wish)
{
    *(tl_mux_wish *)wish = tl_mux_wish_default();
}

static void take_mux_board(void *wish, const board_facts *board)
{
    tl_mux_wish *w = wish;
    take_converter(&w->converter, board);
    if (board->given && w->pin_leakage == 0)
        w->pin_leakage = board->leakage;
}

static void size_mux(const void *wish, tl_answer *answer)
{
    tl_size_mux(wish, answer);
}

/* --- ladder --- */

static const size_option ladder_options[] = {
    {"buttons", "N", "2 to 8", FORM_NUMBER, TL_DIM_NUMBER, offsetof(tl_ladder_wish, buttons), NULL},
    {"pull", "OHMS", "about this much (10k)", FORM_VALUE, TL_DIM_OHM, offsetof(tl_ladder_wish, pull), NULL},
    {"way", "WORD", "chain or star (chain)", FORM_WORD, TL_DIM_NUMBER, offsetof(tl_ladder_wish, star),
     ladder_ways},
    {"bits", "N", "of the converter (12)", FORM_NUMBER, TL_DIM_NUMBER, offsetof(tl_ladder_wish, bits), NULL},
    {"apart", "COUNTS", "between two intervals, at least (1 % of the span)", FORM_VALUE, TL_DIM_COUNT,
     offsetof(tl_ladder_wish, apart), NULL},
    {"contact", "OHMS", "of a closed button, at most (0)", FORM_VALUE, TL_DIM_OHM,
     offsetof(tl_ladder_wish, contact_ohms), NULL},
    {"errors", "COUNTS", "of the converter, either way (4)", FORM_VALUE, TL_DIM_COUNT,
     offsetof(tl_ladder_wish, errors), NULL},
    {0},
};

static void set_ladder(void *wish)
{
    *(tl_ladder_wish *)wish = tl_ladder_wish_default();
}

static void size_ladder(const void *wish, tl_answer *answer)
{
    tl_size_ladder(wish, answer);
}

/* --- filter --- */

static const size_option filter_options[] = {
    {"keep", "HERTZ", "loses at most 1 dB here", FORM_VALUE, TL_DIM_HERTZ, offsetof(tl_filter_wish, keep),
     NULL},
    {"reject", "HERTZ", "falls here", FORM_VALUE, TL_DIM_HERTZ, offsetof(tl_filter_wish, reject), NULL},
    {"by", "N", "by this factor (10)", FORM_NUMBER, TL_DIM_NUMBER, offsetof(tl_filter_wish, by), NULL},
    {"source", "OHMS", "in front of it (0)", FORM_VALUE, TL_DIM_OHM, offsetof(tl_filter_wish, source_ohms),
     NULL},
    {"pin-sees", "OHMS", "the most source resistance for the pin (10k)", FORM_VALUE, TL_DIM_OHM,
     offsetof(tl_filter_wish, most_ohms), NULL},
    {"leakage", "AMPERES", "of the pin (0; with a board: its own)", FORM_VALUE, TL_DIM_AMPERE,
     offsetof(tl_filter_wish, leakage), NULL},
    {"error", "VOLTS", "that leakage may cost (no limit)", FORM_VALUE, TL_DIM_VOLT,
     offsetof(tl_filter_wish, most_error), NULL},
    {"capacitor-tolerance", "PERCENT", "(10 %)", FORM_VALUE, TL_DIM_PERCENT,
     offsetof(tl_filter_wish, capacitor_tolerance), NULL},
    {"bits", "N", "of the converter (12)", FORM_NUMBER, TL_DIM_NUMBER, offsetof(tl_filter_wish, bits), NULL},
    {0},
};

static void set_filter(void *wish)
{
    *(tl_filter_wish *)wish = tl_filter_wish_default();
}

static void take_filter_board(void *wish, const board_facts *board)
{
    tl_filter_wish *w = wish;
    if (board->given && w->leakage == 0)
        w->leakage = board->leakage;
}

static void size_filter(const void *wish, tl_answer *answer)
{
    tl_size_filter(wish, answer);
}

/* --- reservoir --- */

static const size_option reservoir_options[] = {
    {"source", "OHMS", "that the pin sees", FORM_VALUE, TL_DIM_OHM, offsetof(tl_reservoir_wish, source_ohms),
     NULL},
    {"rate", "HERTZ", "samples a second", FORM_VALUE, TL_DIM_HERTZ, offsetof(tl_reservoir_wish, rate), NULL},
    {"capacitor-tolerance", "PERCENT", "(10 %)", FORM_VALUE, TL_DIM_PERCENT,
     offsetof(tl_reservoir_wish, capacitor_tolerance), NULL},
    {"reference", "VOLTS", "of the converter, lowest (with a board: its own)", FORM_VALUE, TL_DIM_VOLT,
     offsetof(tl_reservoir_wish, converter.reference), NULL},
    {"bits", "N", "of the converter (12)", FORM_NUMBER, TL_DIM_NUMBER,
     offsetof(tl_reservoir_wish, converter.bits), NULL},
    {"sampling", "FARADS", "its sampling capacitor (with a board: its own)", FORM_VALUE, TL_DIM_FARAD,
     offsetof(tl_reservoir_wish, converter.sample_farads), NULL},
    {"switch", "OHMS", "its sampling switch (with a board: its own)", FORM_VALUE, TL_DIM_OHM,
     offsetof(tl_reservoir_wish, converter.switch_ohms), NULL},
    {"acquisition", "TIME", "its longest acquisition (with a board: its own)", FORM_VALUE, TL_DIM_SECOND,
     offsetof(tl_reservoir_wish, converter.acquisition), NULL},
    {0},
};

static void set_reservoir(void *wish)
{
    *(tl_reservoir_wish *)wish = tl_reservoir_wish_default();
}

static void take_reservoir_board(void *wish, const board_facts *board)
{
    tl_reservoir_wish *w = wish;
    take_converter(&w->converter, board);
}

static void size_reservoir(const void *wish, tl_answer *answer)
{
    tl_size_reservoir(wish, answer);
}

/* --- injection --- */

static const size_option injection_options[] = {
    {"fault", "VOLTS", "that can stand there", FORM_RANGE, TL_DIM_VOLT, offsetof(tl_injection_wish, fault),
     NULL},
    {"rail", "VOLTS", "supply of the pin (with a board: its rail)", FORM_RANGE, TL_DIM_VOLT,
     offsetof(tl_injection_wish, rail), NULL},
    {"clamp", "VOLTS", "beyond the rail at which it conducts (0.3 V)", FORM_VALUE, TL_DIM_VOLT,
     offsetof(tl_injection_wish, clamp), NULL},
    {"limit", "AMPERES", "the most into one pin", FORM_VALUE, TL_DIM_AMPERE,
     offsetof(tl_injection_wish, amperes), NULL},
    {"pins", "N", "so many at once (1)", FORM_NUMBER, TL_DIM_NUMBER, offsetof(tl_injection_wish, pins), NULL},
    {"board-draws", "AMPERES", "at least, from that rail", FORM_VALUE, TL_DIM_AMPERE,
     offsetof(tl_injection_wish, board_amperes), NULL},
    {"unpowered", NULL, "the board may be off while the signal is live", FORM_FLAG, TL_DIM_NUMBER,
     offsetof(tl_injection_wish, unpowered), NULL},
    {0},
};

static void set_injection(void *wish)
{
    *(tl_injection_wish *)wish = tl_injection_wish_default();
}

static void take_injection_board(void *wish, const board_facts *board)
{
    tl_injection_wish *w = wish;
    take_rail(&w->rail, board);
}

static void size_injection(const void *wish, tl_answer *answer)
{
    tl_size_injection(wish, answer);
}

const size_kind size_kinds[] = {
    {"divider", "two legs that bring a voltage down to a pin", "--from 10.5V..14.8V --limit 3.3V",
     divider_options, set_divider, take_divider_board, size_divider},
    {"partner", "the fixed resistor of a resistance sensor", "--sensor 400..900k --rail 3.3V",
     partner_options, set_partner, take_partner_board, size_partner},
    {"feed", "the resistor above a potentiometer on a rail that is too high",
     "--track \"10k ±20 %\" --rail \"5V ±5 %\" --limit 3.234V", feed_options, set_feed, take_feed_board,
     size_feed},
    {"follower", "a source too weak for the pin",
     "--from 0V..3.2V --source 250k --supply \"5V ±5 %\" --limit 3.5V", follower_options, set_follower,
     take_follower_board, size_follower},
    {"pull", "a pull-up or pull-down for a contact or an open collector",
     "--rail \"3.3V ±2 %\" --leakage 1uA", pull_options, set_pull, take_pull_board, size_pull},
    {"guard", "a series resistor that saves a pin which drives against a rail",
     "--rail 3.366V --pin-current 12mA", guard_options, set_guard, take_guard_board, size_guard},
    {"lamp", "the series resistor of a lamp", "--supply \"3.3V ±2 %\" --forward 1.9V..2.2V --current 4mA",
     lamp_options, set_lamp, take_lamp_board, size_lamp},
    {"driver", "a transistor for a relay, pump or fan",
     "--supply 12V --load 80ohm..100ohm --coil 100mH --high 2.8V..3.4V --pin-current 4mA", driver_options,
     set_driver, take_driver_board, size_driver},
    {"loop", "the load resistor of a 4-20 mA loop", "--limit 3.2V --supply 24V", loop_options, set_loop,
     take_loop_board, size_loop},
    {"bus-pull", "the pull-ups of an I2C bus", "--mode fast --rail 3.3V --capacitance 200pF", bus_options,
     set_bus, take_bus_board, size_bus},
    {"shift", "from one voltage world into another", "--from \"5V ±5 %\" --to \"3.3V ±2 %\" --rate 100kHz",
     shift_options, set_shift, take_shift_board, size_shift},
    {"mux", "an analog multiplexer in front of one channel", "--on 70ohm..200ohm --source 10k --board BOARD",
     mux_options, set_mux, take_mux_board, size_mux},
    {"ladder", "several buttons on one converter pin", "--buttons 5", ladder_options, set_ladder, NULL,
     size_ladder},
    {"filter", "resistor and capacitor against noise", "--keep 5Hz --reject 100Hz", filter_options,
     set_filter, take_filter_board, size_filter},
    {"reservoir", "a capacitor at the pin that feeds the converter",
     "--source 100k --rate 100Hz --board BOARD", reservoir_options, set_reservoir, take_reservoir_board,
     size_reservoir},
    {"injection", "a series resistor that keeps a clamp's current down",
     "--fault 0V..26V --rail \"3.3V ±2 %\" --limit 1mA", injection_options, set_injection,
     take_injection_board, size_injection},
};

const int size_kind_count = (int)(sizeof size_kinds / sizeof size_kinds[0]);
