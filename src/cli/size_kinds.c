/*
 * The kinds of sizing and their options. A kind is a row at the end of this file, an option a row of its
 * table: adding one is adding a row. The wishes themselves, and all that is electrical, are in
 * tinyladder/size.h.
 */
#include "cli/size_kinds.h"
#include <math.h>

/* Rows of an option table: the wish, its member, what is measured, the option, its argument, its help. */
#define RANGE(wish, member, dim, name, argument, help)                                                       \
    {                                                                                                        \
        name, argument, help, FORM_RANGE, TL_DIM_##dim, offsetof(wish, member), NULL                         \
    }
#define VALUE(wish, member, dim, name, argument, help)                                                       \
    {                                                                                                        \
        name, argument, help, FORM_VALUE, TL_DIM_##dim, offsetof(wish, member), NULL                         \
    }
#define NUMBER(wish, member, name, help)                                                                     \
    {                                                                                                        \
        name, "N", help, FORM_NUMBER, TL_DIM_NUMBER, offsetof(wish, member), NULL                            \
    }
#define WORD(wish, member, words, name, help)                                                                \
    {                                                                                                        \
        name, "WORD", help, FORM_WORD, TL_DIM_NUMBER, offsetof(wish, member), words                          \
    }
#define FLAG(wish, member, name, help)                                                                       \
    {                                                                                                        \
        name, NULL, help, FORM_FLAG, TL_DIM_NUMBER, offsetof(wish, member), NULL                             \
    }

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
    RANGE(tl_divider_wish, source, VOLT, "from", "VOLTS", "range of the source, such as 10.5V..14.8V"),
    VALUE(tl_divider_wish, limit, VOLT, "limit", "VOLTS",
          "the tap must never be above this (with a board: what pin and reference take)"),
    VALUE(tl_divider_wish, reference, VOLT, "reference", "VOLTS",
          "of the converter, lowest: the tap stays below this too"),
    VALUE(tl_divider_wish, most_amperes, AMPERE, "current", "AMPERES",
          "budget: the most to draw from the source (no budget)"),
    VALUE(tl_divider_wish, most_tap_ohms, OHM, "pin-sees", "OHMS",
          "budget: the most source resistance for the pin (10k; with a board: what its converter takes)"),
    VALUE(tl_divider_wish, source_ohms, OHM, "source", "OHMS", "resistance of the source itself (0)"),
    VALUE(tl_divider_wish, load_ohms, OHM, "load", "OHMS", "what hangs across the lower leg (nothing)"),
    VALUE(tl_divider_wish, leakage, AMPERE, "leakage", "AMPERES",
          "of the pin, either way (0; with a board: its own)"),
    VALUE(tl_divider_wish, upper, OHM, "upper", "OHMS", "the upper leg is this"),
    VALUE(tl_divider_wish, lower, OHM, "lower", "OHMS", "the lower leg is this"),
    NUMBER(tl_divider_wish, parts, "parts", "most parts in one leg, in series or parallel: 1 or 2 (1)"),
    VALUE(tl_divider_wish, meter_ohms, OHM, "meter", "OHMS",
          "resistance of the meter that will be held to the tap (10 Mohm)"),
    WORD(tl_divider_wish, order, divider_orders, "order",
         "what comes first: parts, share or current (parts: fewest parts, then share, then current)"),
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
        w->limit = board->limit;
    if (!is_given(w->reference) && board->given)
        w->reference = board->converter.reference;
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
    RANGE(tl_partner_wish, sensor, OHM, "sensor", "OHMS",
          "lowest to highest ohms of the sensor, such as \"400 ohm..900k\""),
    RANGE(tl_partner_wish, rail, VOLT, "rail", "VOLTS", "what the pair hangs on (with a board: its rail)"),
    VALUE(tl_partner_wish, at, OHM, "at", "OHMS",
          "best resolution at this point instead of the widest swing"),
    WORD(tl_partner_wish, leg, partner_legs, "leg", "where the partner stands: lower or upper (lower)"),
    VALUE(tl_partner_wish, most_amperes, AMPERE, "current", "AMPERES",
          "budget, also with the sensor at 0 ohm (no budget)"),
    VALUE(tl_partner_wish, most_tap_ohms, OHM, "pin-sees", "OHMS",
          "the most source resistance for the pin (with a board: what its converter takes)"),
    VALUE(tl_partner_wish, most_heat, WATT, "heat", "WATTS", "the most that may heat the sensor"),
    NUMBER(tl_partner_wish, bits, "bits", "of the converter (12)"),
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
    RANGE(tl_feed_wish, track, OHM, "track", "OHMS", "of the potentiometer, with its tolerance"),
    RANGE(tl_feed_wish, rail, VOLT, "rail", "VOLTS", "what the top hangs on"),
    NUMBER(tl_feed_wish, tracks, "tracks", "so many in parallel on one feed (1)"),
    VALUE(tl_feed_wish, limit, VOLT, "limit", "VOLTS",
          "the top must never be above this (with a board: what pin and reference take)"),
    VALUE(tl_feed_wish, most_amperes, AMPERE, "current", "AMPERES", "budget (no budget)"),
    VALUE(tl_feed_wish, most_tap_ohms, OHM, "pin-sees", "OHMS",
          "the most source resistance for the pin (with a board: what its converter takes)"),
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
    RANGE(tl_follower_wish, source, VOLT, "from", "VOLTS", "range of the signal"),
    VALUE(tl_follower_wish, source_ohms, OHM, "source", "OHMS", "its resistance, at most"),
    RANGE(tl_follower_wish, supply, VOLT, "supply", "VOLTS", "of the amplifier"),
    VALUE(tl_follower_wish, out_low, VOLT, "out-low", "VOLTS", "its output stays so far above ground (0)"),
    VALUE(tl_follower_wish, out_high, VOLT, "out-high", "VOLTS",
          "its output stays so far below its supply (0)"),
    VALUE(tl_follower_wish, in_low, VOLT, "in-low", "VOLTS", "likewise its input (0)"),
    VALUE(tl_follower_wish, in_high, VOLT, "in-high", "VOLTS", "likewise its input (0)"),
    VALUE(tl_follower_wish, bias, AMPERE, "bias", "AMPERES", "its input current (0)"),
    VALUE(tl_follower_wish, offset, VOLT, "offset", "VOLTS", "its input offset (0)"),
    VALUE(tl_follower_wish, limit, VOLT, "limit", "VOLTS", "of the pin (with a board: its own)"),
    VALUE(tl_follower_wish, converter.reference, VOLT, "reference", "VOLTS",
          "of the converter, lowest (with a board: its own)"),
    NUMBER(tl_follower_wish, converter.bits, "bits", "of the converter (12)"),
    VALUE(tl_follower_wish, converter.sample_farads, FARAD, "sampling", "FARADS",
          "its sampling capacitor (with a board: its own)"),
    VALUE(tl_follower_wish, converter.switch_ohms, OHM, "switch", "OHMS",
          "its sampling switch (with a board: its own)"),
    VALUE(tl_follower_wish, converter.acquisition, SECOND, "acquisition", "TIME",
          "its longest acquisition (with a board: its own)"),
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
    RANGE(tl_pull_wish, rail, VOLT, "rail", "VOLTS", "of the pull and of the pin (with a board: its rail)"),
    WORD(tl_pull_wish, down, pull_ways, "to", "which way it pulls: up or down (up)"),
    VALUE(tl_pull_wish, vil, VOLT, "vil", "VOLTS", "low threshold of the pin (0.3 rail)"),
    VALUE(tl_pull_wish, vih, VOLT, "vih", "VOLTS", "high threshold of the pin (0.7 rail)"),
    VALUE(tl_pull_wish, leakage, AMPERE, "leakage", "AMPERES", "all leakages together (1 uA)"),
    VALUE(tl_pull_wish, margin, VOLT, "margin", "VOLTS", "the idle level clears its threshold by this (0)"),
    VALUE(tl_pull_wish, closed_ohms, OHM, "closed", "OHMS",
          "of the closed contact, cable and guard on the way included (0)"),
    VALUE(tl_pull_wish, saturation, VOLT, "saturation", "VOLTS", "across a transistor that is on (0)"),
    VALUE(tl_pull_wish, drives, AMPERE, "drives", "AMPERES",
          "that the transistor takes at that; of a phototransistor its least on-current (no limit)"),
    VALUE(tl_pull_wish, wetting, AMPERE, "wetting", "AMPERES", "that the contact wants at least (0)"),
    VALUE(tl_pull_wish, most_amperes, AMPERE, "current", "AMPERES", "budget while closed (1 mA)"),
    VALUE(tl_pull_wish, farads, FARAD, "capacitance", "FARADS", "of cable and pin (0)"),
    VALUE(tl_pull_wish, longest_edge, SECOND, "edge", "TIME", "back to the idle level within (no limit)"),
    RANGE(tl_pull_wish, internal, OHM, "internal", "OHMS",
          "the board has its own pull: is it enough? such as 30k..60k"),
    FLAG(tl_pull_wish, normally_closed, "normally-closed", "the contact rests closed"),
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
    RANGE(tl_guard_wish, rail, VOLT, "rail", "VOLTS",
          "highest difference across it (with a board: its rail)"),
    VALUE(tl_guard_wish, pin_amperes, AMPERE, "pin-current", "AMPERES",
          "never more through the pin (with a board: its own)"),
    VALUE(tl_guard_wish, pull, OHM, "pull", "OHMS", "a pull stands on the pin side of the guard"),
    VALUE(tl_guard_wish, vil, VOLT, "vil", "VOLTS", "low threshold of the pin (0.3 rail)"),
    VALUE(tl_guard_wish, leakage, AMPERE, "leakage", "AMPERES", "of the pin (0; with a board: its own)"),
    VALUE(tl_guard_wish, farads, FARAD, "capacitance", "FARADS", "of the pin (0; with a board: its own)"),
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
    RANGE(tl_lamp_wish, supply, VOLT, "supply", "VOLTS", "of the lamp (with a board: its rail)"),
    RANGE(tl_lamp_wish, forward, VOLT, "forward", "VOLTS", "forward voltage of the lamp"),
    VALUE(tl_lamp_wish, amperes, AMPERE, "current", "AMPERES",
          "never more (with a board: what a pin drives)"),
    VALUE(tl_lamp_wish, least_amperes, AMPERE, "least", "AMPERES", "still bright enough (0)"),
    VALUE(tl_lamp_wish, drop, VOLT, "drop", "VOLTS", "across the driver, at least (0)"),
    VALUE(tl_lamp_wish, most_drop, VOLT, "most-drop", "VOLTS", "across the driver, at most (the same)"),
    NUMBER(tl_lamp_wish, lamps, "lamps", "so many at once (1)"),
    VALUE(tl_lamp_wish, total_amperes, AMPERE, "total", "AMPERES", "that all may take together (no limit)"),
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
    RANGE(tl_driver_wish, supply, VOLT, "supply", "VOLTS", "of the load"),
    RANGE(tl_driver_wish, load, OHM, "load", "OHMS", "its resistance"),
    VALUE(tl_driver_wish, henries, HENRY, "coil", "HENRIES", "its inductance (0)"),
    RANGE(tl_driver_wish, high, VOLT, "high", "VOLTS",
          "high level of the pin, lowest to highest (with a board: rail - 0.4 V .. rail)"),
    VALUE(tl_driver_wish, pin_amperes, AMPERE, "pin-current", "AMPERES",
          "that the pin gives at that level (with a board: its own)"),
    NUMBER(tl_driver_wish, forced_gain, "gain", "collector over base current to count on (20)"),
    VALUE(tl_driver_wish, base_volts, VOLT, "base", "VOLTS", "base to emitter, at most (0.9 V)"),
    VALUE(tl_driver_wish, saturation, VOLT, "saturation", "VOLTS", "collector to emitter, at most (0.3 V)"),
    VALUE(tl_driver_wish, on_ohms, OHM, "on", "OHMS",
          "of an N-channel transistor at the lowest high level (not tried)"),
    VALUE(tl_driver_wish, most_watts, WATT, "heat", "WATTS", "in the transistor (0.3 W)"),
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
    VALUE(tl_loop_wish, limit, VOLT, "limit", "VOLTS",
          "of the pin (with a board: what pin and reference take)"),
    VALUE(tl_loop_wish, most_amperes, AMPERE, "most", "AMPERES", "that the loop can be driven to (25 mA)"),
    RANGE(tl_loop_wish, supply, VOLT, "supply", "VOLTS", "of the loop (not looked at)"),
    VALUE(tl_loop_wish, compliance, VOLT, "compliance", "VOLTS", "that the transmitter needs (8 V)"),
    VALUE(tl_loop_wish, wire_ohms, OHM, "wire", "OHMS", "of the loop (0)"),
    VALUE(tl_loop_wish, reference, VOLT, "reference", "VOLTS",
          "of the converter (the limit; with a board: its own)"),
    NUMBER(tl_loop_wish, bits, "bits", "of the converter (12)"),
    VALUE(tl_loop_wish, meter_ohms, OHM, "meter", "OHMS", "burden of a meter in the loop (0)"),
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
    WORD(tl_bus_wish, mode, bus_modes, "mode", "standard, fast or fast-plus (standard)"),
    RANGE(tl_bus_wish, rail, VOLT, "rail", "VOLTS", "of the pulls (with a board: its rail)"),
    VALUE(tl_bus_wish, farads, FARAD, "capacitance", "FARADS", "of one line, pins and cable"),
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
    RANGE(tl_shift_wish, from, VOLT, "from", "VOLTS", "supply of the driver"),
    RANGE(tl_shift_wish, to, VOLT, "to", "VOLTS", "supply of the receiver (with a board: its rail)"),
    VALUE(tl_shift_wish, vol, VOLT, "vol", "VOLTS", "driver: low at most (0.4 V)"),
    VALUE(tl_shift_wish, voh, VOLT, "voh", "VOLTS", "driver: high at least (its supply - 0.4 V)"),
    VALUE(tl_shift_wish, vil, VOLT, "vil", "VOLTS", "receiver: low at most (0.3 of its supply)"),
    VALUE(tl_shift_wish, vih, VOLT, "vih", "VOLTS", "receiver: high at least (0.7 of its supply)"),
    VALUE(tl_shift_wish, limit, VOLT, "limit", "VOLTS", "receiver: never above (its supply + 0.3 V)"),
    VALUE(tl_shift_wish, injection, AMPERE, "injection", "AMPERES", "that its clamp may carry (not allowed)"),
    VALUE(tl_shift_wish, drives, AMPERE, "drives", "AMPERES", "that the driver gives and takes (3 mA)"),
    VALUE(tl_shift_wish, bits_per_second, HERTZ, "rate", "HERTZ", "bits a second (100 kHz)"),
    VALUE(tl_shift_wish, farads, FARAD, "capacitance", "FARADS", "at the receiver (20 pF)"),
    FLAG(tl_shift_wish, both_ways, "both-ways", "the line goes both ways"),
    FLAG(tl_shift_wish, open_drain, "open-drain", "the driver only pulls low, and stands the other rail"),
    FLAG(tl_shift_wish, may_invert, "may-invert", "an inverted level will do"),
    VALUE(tl_shift_wish, diode, VOLT, "diode", "VOLTS", "of a small diode (0.35 V)"),
    VALUE(tl_shift_wish, threshold, VOLT, "threshold", "VOLTS",
          "gate threshold of an N-channel transistor, highest (1.5 V)"),
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
    NUMBER(tl_mux_wish, inputs, "inputs", "of the part (8)"),
    NUMBER(tl_mux_wish, used, "used", "of these wired (all)"),
    RANGE(tl_mux_wish, on_ohms, OHM, "on", "OHMS", "on-resistance"),
    VALUE(tl_mux_wish, source_ohms, OHM, "source", "OHMS", "of the worst input"),
    VALUE(tl_mux_wish, off_leakage, AMPERE, "off-leakage", "AMPERES", "of each input that is off (0)"),
    VALUE(tl_mux_wish, common_farads, FARAD, "capacitance", "FARADS", "of the common line (0)"),
    VALUE(tl_mux_wish, pin_leakage, AMPERE, "pin-leakage", "AMPERES",
          "of the pin (0; with a board: its own)"),
    VALUE(tl_mux_wish, rate, HERTZ, "rate", "HERTZ", "scans a second that are wanted (as it comes)"),
    VALUE(tl_mux_wish, conversion, SECOND, "conversion", "TIME", "after each acquisition (1 us)"),
    VALUE(tl_mux_wish, converter.reference, VOLT, "reference", "VOLTS",
          "of the converter, lowest (with a board: its own)"),
    NUMBER(tl_mux_wish, converter.bits, "bits", "of the converter (12)"),
    VALUE(tl_mux_wish, converter.sample_farads, FARAD, "sampling", "FARADS",
          "its sampling capacitor (with a board: its own)"),
    VALUE(tl_mux_wish, converter.switch_ohms, OHM, "switch", "OHMS",
          "its sampling switch (with a board: its own)"),
    VALUE(tl_mux_wish, converter.acquisition, SECOND, "acquisition", "TIME",
          "its longest acquisition (with a board: its own)"),
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
    NUMBER(tl_ladder_wish, buttons, "buttons", "2 to 8"),
    VALUE(tl_ladder_wish, pull, OHM, "pull", "OHMS", "about this much (10k)"),
    WORD(tl_ladder_wish, star, ladder_ways, "way", "chain or star (chain)"),
    NUMBER(tl_ladder_wish, bits, "bits", "of the converter (12)"),
    VALUE(tl_ladder_wish, apart, COUNT, "apart", "COUNTS",
          "between two intervals, at least (1 % of the span)"),
    VALUE(tl_ladder_wish, contact_ohms, OHM, "contact", "OHMS", "of a closed button, at most (0)"),
    VALUE(tl_ladder_wish, errors, COUNT, "errors", "COUNTS", "of the converter, either way (4)"),
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
    VALUE(tl_filter_wish, keep, HERTZ, "keep", "HERTZ", "loses at most 1 dB here"),
    VALUE(tl_filter_wish, reject, HERTZ, "reject", "HERTZ", "falls here"),
    NUMBER(tl_filter_wish, by, "by", "by this factor (10)"),
    VALUE(tl_filter_wish, source_ohms, OHM, "source", "OHMS", "in front of it (0)"),
    VALUE(tl_filter_wish, most_ohms, OHM, "pin-sees", "OHMS", "the most source resistance for the pin (10k)"),
    VALUE(tl_filter_wish, leakage, AMPERE, "leakage", "AMPERES", "of the pin (0; with a board: its own)"),
    VALUE(tl_filter_wish, most_error, VOLT, "error", "VOLTS", "that leakage may cost (no limit)"),
    VALUE(tl_filter_wish, capacitor_tolerance, PERCENT, "capacitor-tolerance", "PERCENT", "(10 %)"),
    NUMBER(tl_filter_wish, bits, "bits", "of the converter (12)"),
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
    VALUE(tl_reservoir_wish, source_ohms, OHM, "source", "OHMS", "that the pin sees"),
    VALUE(tl_reservoir_wish, rate, HERTZ, "rate", "HERTZ", "samples a second"),
    VALUE(tl_reservoir_wish, capacitor_tolerance, PERCENT, "capacitor-tolerance", "PERCENT", "(10 %)"),
    VALUE(tl_reservoir_wish, converter.reference, VOLT, "reference", "VOLTS",
          "of the converter, lowest (with a board: its own)"),
    NUMBER(tl_reservoir_wish, converter.bits, "bits", "of the converter (12)"),
    VALUE(tl_reservoir_wish, converter.sample_farads, FARAD, "sampling", "FARADS",
          "its sampling capacitor (with a board: its own)"),
    VALUE(tl_reservoir_wish, converter.switch_ohms, OHM, "switch", "OHMS",
          "its sampling switch (with a board: its own)"),
    VALUE(tl_reservoir_wish, converter.acquisition, SECOND, "acquisition", "TIME",
          "its longest acquisition (with a board: its own)"),
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
    RANGE(tl_injection_wish, fault, VOLT, "fault", "VOLTS", "that can stand there"),
    RANGE(tl_injection_wish, rail, VOLT, "rail", "VOLTS", "supply of the pin (with a board: its rail)"),
    VALUE(tl_injection_wish, clamp, VOLT, "clamp", "VOLTS", "beyond the rail at which it conducts (0.3 V)"),
    VALUE(tl_injection_wish, amperes, AMPERE, "limit", "AMPERES", "the most into one pin"),
    NUMBER(tl_injection_wish, pins, "pins", "so many at once (1)"),
    VALUE(tl_injection_wish, board_amperes, AMPERE, "board-draws", "AMPERES", "at least, from that rail"),
    FLAG(tl_injection_wish, unpowered, "unpowered", "the board may be off while the signal is live"),
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
