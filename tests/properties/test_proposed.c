/*
 * What is proposed passes: every choice of every sizing, for random requirements, on both demo boards, from a
 * series and from a drawer, goes by its own plan lines into a plan on the real board, written here, and there
 * no rule may object; and what `size` says stands at the pin is what that plan's worst case says.
 */
#include "support.h"
#include "tinyladder/design/proposals.h"
#include <math.h>
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

enum { TEXT = 4000, ROUNDS = 16, LONG = 400, KEPT = 3 };

typedef struct {
    const char *path, *pin[2], *line[2], *bus[2];
    const char *select[2]; /* lines of either level of a tree of multiplexers */
    tl_facts facts;
} demo_board;

static demo_board boards[] = {
    {TL_SOURCE "/demo/lapwing.board.yaml",
     {"L4", "L5"},
     {"L0", "L1"},
     {"L24", "L25"},
     {"L10, L11, L12", "L20, L21, L22"},
     {{{0, 0, 0, 0}}, {{0}, 0}}},
    {TL_SOURCE "/demo/plover.board.yaml",
     {"P8", "P9"},
     {"P4", "P5"},
     {"P12", "P13"},
     {"P2, P3, P4", "P5, P6, P7"},
     {{{0, 0, 0, 0}}, {{0}, 0}}},
};

static double logarithmic(double low, double high)
{
    return pow(10, even_between(log10(low), log10(high)));
}

static tl_quantity around(double nominal, double tolerance)
{
    return (tl_quantity){nominal * (1 - tolerance), nominal, nominal * (1 + tolerance), true};
}

static double fact(const demo_board *b, tl_fact which)
{
    return b->facts.of[which].nominal;
}

/* --- writing a plan --- */

static char plan[TEXT];

static void append(const char *format, ...) __attribute__((format(printf, 1, 2)));
static void append(const char *format, ...)
{
    va_list arguments;
    const size_t length = strlen(plan);
    va_start(arguments, format);
    vsnprintf(plan + length, TEXT - length, format, arguments);
    va_end(arguments);
}

/* A choice's lines, indented, with each word in capitals put right: `RAIL` is `logic` ... */
static void append_lines(const char *lines, int indent, const char *word, const char *name)
{
    while (*lines != '\0') {
        append("%*s", indent, "");
        const size_t length = strcspn(lines, "\n");
        char line[500];
        snprintf(line, sizeof line, "%.*s", (int)length, lines);
        for (char *at = strstr(line, word); at != NULL; at = strstr(line, word)) {
            char rest[500];
            snprintf(rest, sizeof rest, "%s%s", name, at + strlen(word));
            snprintf(at, sizeof line - (size_t)(at - line), "%s", rest);
        }
        append("%s\n", line);
        lines += length + (lines[length] == '\n');
    }
}

/* --- the sizings --- */

typedef union {
    tl_divider_requirement divider;
    tl_partner_requirement partner;
    tl_feed_requirement feed;
    tl_pull_requirement pull;
    tl_guard_requirement guard;
    tl_lamp_requirement lamp;
    tl_driver_requirement driver;
    tl_loop_requirement loop;
    tl_bus_requirement bus;
    tl_shift_requirement shift;
    tl_filter_requirement filter;
    tl_injection_requirement injection;
    tl_follower_requirement follower;
    tl_mux_requirement mux;
    tl_ladder_requirement ladder;
    tl_reservoir_requirement reservoir;
} wanted;

static void want_divider(wanted *w, const demo_board *b)
{
    const double high = logarithmic(4, 60);
    w->divider = tl_divider_requirement_default();
    w->divider.source = (tl_quantity){even_between(0, high), high, high, true};
    w->divider.limit = fact(b, TL_FACT_LIMIT);
    w->divider.reference = fact(b, TL_FACT_REFERENCE);
    w->divider.leakage = fact(b, TL_FACT_LEAKAGE);
    w->divider.most_tap_ohms = fact(b, TL_FACT_SEES);
    w->divider.source_ohms = even_between(0, 1) < 0.5 ? 0 : logarithmic(10, 1e4);
    w->divider.load_ohms = even_between(0, 1) < 0.7 ? (double)INFINITY : logarithmic(1e4, 1e6);
}

static void plan_divider(const wanted *w, const demo_board *b, const tl_choice *c)
{
    append("signals:\n  s:\n    source: {voltage: %.9f V .. %.9f V, resistance: %.9f ohm}\n    stages:\n",
           w->divider.source.low, w->divider.source.high, w->divider.source_ohms);
    append_lines(c->plan, 6, "RAIL", "logic");
    if (isfinite(w->divider.load_ohms))
        append("      - load: %.9f ohm ±0 %%\n", w->divider.load_ohms);
    append("    pin: %s\n", b->pin[0]);
}

static void want_partner(wanted *w, const demo_board *b)
{
    w->partner = tl_partner_requirement_default();
    w->partner.sensor.low = logarithmic(100, 1e4);
    w->partner.sensor.high = w->partner.sensor.low * logarithmic(1.5, 30);
    w->partner.sensor.nominal = w->partner.sensor.low;
    w->partner.rail = b->facts.of[TL_FACT_RAIL];
    w->partner.leg = even_between(0, 1) < 0.5;
    w->partner.most_tap_ohms = fact(b, TL_FACT_SEES);
    w->partner.bits = fact(b, TL_FACT_BITS);
}

static void plan_partner(const wanted *w, const demo_board *b, const tl_choice *c)
{
    append("signals:\n  s:\n    source: {resistance: %.9f ohm .. %.9f ohm, to: %s}\n    stages:\n",
           w->partner.sensor.low, w->partner.sensor.high, w->partner.leg == 0 ? "logic" : "ground");
    append_lines(c->plan, 6, "RAIL", "logic");
    append("    pin: %s\n", b->pin[0]);
}

static void want_feed(wanted *w, const demo_board *b)
{
    w->feed = tl_feed_requirement_default();
    w->feed.track = around(logarithmic(2e3, 30e3), even_between(0, 0.2));
    w->feed.rail = around(even_between(6, 15), even_between(0, 0.1));
    w->feed.tracks = 1 + floor(even_between(0, 1.99));
    w->feed.limit = fact(b, TL_FACT_LEAST_LIMIT);
    w->feed.most_tap_ohms = fact(b, TL_FACT_SEES);
}

static void plan_feed(const wanted *w, const demo_board *b, const tl_choice *c)
{
    append("supplies: {raw: %.9f V .. %.9f V}\n", w->feed.rail.low, w->feed.rail.high);
    append_lines(c->plan, 0, "RAIL", "raw");
    append("signals:\n");
    for (int i = 0; i < (int)w->feed.tracks; i++)
        append("  s%d: {source: {potentiometer: %.9f ohm .. %.9f ohm, top: top}, pin: %s}\n", i,
               w->feed.track.low, w->feed.track.high, b->pin[i]);
}

static void want_pull(wanted *w, const demo_board *b)
{
    w->pull = tl_pull_requirement_default();
    w->pull.rail = b->facts.of[TL_FACT_RAIL];
    w->pull.down = even_between(0, 1) < 0.4;
    w->pull.vil_share = fact(b, TL_FACT_VIL_SHARE);
    w->pull.vih_share = fact(b, TL_FACT_VIH_SHARE);
    w->pull.leakage = fact(b, TL_FACT_LEAKAGE);
    w->pull.closed = (tl_quantity){0, 0, logarithmic(0.1, 500), true};
    w->pull.wetting = even_between(0, 1) < 0.5 ? 0 : logarithmic(1e-5, 5e-4);
    w->pull.farads = logarithmic(1e-11, 1e-8);
}

static void plan_pull(const wanted *w, const demo_board *b, const tl_choice *c)
{
    append("signals:\n  s:\n    source: {contact: %s, closed: 0 ohm .. %.9f ohm, wetting: %.9f mA}\n    "
           "stages:\n",
           w->pull.down != 0 ? "logic" : "ground", w->pull.closed.high, 1e3 * w->pull.wetting);
    append_lines(c->plan, 6, "RAIL", "logic");
    append("    pin: %s\n", b->line[0]);
}

static void want_guard(wanted *w, const demo_board *b)
{
    w->guard = tl_guard_requirement_default();
    w->guard.rail = b->facts.of[TL_FACT_RAIL];
    w->guard.pin_amperes = fact(b, TL_FACT_MOST_AMPERES);
    w->guard.leakage = fact(b, TL_FACT_LEAKAGE);
    w->guard.pull = even_between(0, 1) < 0.5 ? (double)NAN : logarithmic(5e3, 1e5);
}

static void plan_guard(const wanted *w, const demo_board *b, const tl_choice *c)
{
    const bool behind = !isnan(w->guard.pull);
    append("signals:\n  s:\n    source: {contact: ground}\n    driven: high\n    pin: %s\n    stages:\n",
           b->line[0]);
    if (!behind)
        append("      - pull: {up: 10k ±1 %%, to: logic}\n");
    append_lines(c->plan, 6, "RAIL", "logic");
    if (behind)
        append("      - pull: {up: %.9f ohm ±0 %%, to: logic}\n", w->guard.pull);
}

static void want_lamp(wanted *w, const demo_board *b)
{
    const double forward = even_between(1.6, 2.4);
    w->lamp = tl_lamp_requirement_default();
    w->lamp.supply = b->facts.of[TL_FACT_RAIL];
    w->lamp.forward = (tl_quantity){forward, forward + 0.1, forward + 0.2, true};
    w->lamp.amperes = logarithmic(1e-3, fact(b, TL_FACT_DRIVES));
}

static void plan_output(const wanted *w, const demo_board *b, const tl_choice *c)
{
    (void)w;
    append("outputs:\n");
    append_lines(c->plan, 2, "PIN", b->line[0]);
}

static void want_driver(wanted *w, const demo_board *b)
{
    const tl_quantity *rail = &b->facts.of[TL_FACT_RAIL];
    w->driver = tl_driver_requirement_default();
    w->driver.supply = around(logarithmic(5, 24), 0.05);
    w->driver.load = around(logarithmic(200, 2000), 0.1);
    w->driver.henries = even_between(0, 1) < 0.5 ? 0 : logarithmic(1e-3, 1);
    w->driver.high = (tl_quantity){rail->low - 0.8, rail->low, rail->high, true};
    w->driver.pin_amperes = fact(b, TL_FACT_DRIVES);
    w->driver.on_ohms = even_between(0, 1) < 0.5 ? (double)NAN : logarithmic(0.01, 1);
}

static void plan_driver(const wanted *w, const demo_board *b, const tl_choice *c)
{
    char lines[TL_CHOICE_TEXT];
    append("supplies: {raw: %.9f V .. %.9f V}\noutputs:\n", w->driver.supply.low, w->driver.supply.high);
    snprintf(lines, sizeof lines, "%s", c->plan);
    char *pin = strstr(lines, "PIN");
    append("%s", pin != NULL ? "" : "  {}\n");
    char first[TL_CHOICE_TEXT];
    snprintf(first, sizeof first, "%.*s%s%s", pin != NULL ? (int)(pin - lines) : 0, lines, b->line[0],
             pin != NULL ? pin + 3 : "");
    append_lines(first, 2, "RAIL", "raw");
}

static void want_loop(wanted *w, const demo_board *b)
{
    w->loop = tl_loop_requirement_default();
    w->loop.limit = fact(b, TL_FACT_LIMIT);
    w->loop.reference = fact(b, TL_FACT_REFERENCE);
    w->loop.bits = fact(b, TL_FACT_BITS);
    w->loop.supply = around(even_between(15, 30), 0.05);
    w->loop.wire_ohms = even_between(0, 50);
}

static void plan_loop(const wanted *w, const demo_board *b, const tl_choice *c)
{
    append("supplies: {raw: %.9f V .. %.9f V}\nsignals:\n  s:\n    source: {current: 4 mA .. 20 mA, supply: "
           "raw, "
           "compliance: %.9f V}\n    pin: %s\n    stages:\n      - series: %.9f ohm ±0 %%\n",
           w->loop.supply.low, w->loop.supply.high, w->loop.compliance, b->pin[0], w->loop.wire_ohms);
    append_lines(c->plan, 6, "RAIL", "logic");
}

static void want_bus(wanted *w, const demo_board *b)
{
    w->bus = tl_bus_requirement_default();
    w->bus.rail = b->facts.of[TL_FACT_RAIL];
    w->bus.mode = (tl_bus_mode)floor(even_between(0, 2.99));
    w->bus.farads = logarithmic(3e-11, 4e-10);
}

static void plan_bus(const wanted *w, const demo_board *b, const tl_choice *c)
{
    append("buses:\n  s:\n    pins: {scl: %s, sda: %s}\n    mode: %s\n    stages:\n", b->bus[0], b->bus[1],
           tl_bus_rule_of(w->bus.mode)->name);
    append_lines(c->plan, 6, "RAIL", "logic"); /* the pins' own capacitance is in the line's */
    append("      - cable: %.9f pF\n", 1e12 * w->bus.farads - 1e12 * fact(b, TL_FACT_FARADS));
}

static void want_shift(wanted *w, const demo_board *b)
{
    w->shift = tl_shift_requirement_default();
    w->shift.from = around(even_between(1.8, 12), even_between(0, 0.05));
    w->shift.to = b->facts.of[TL_FACT_RAIL];
    w->shift.vil_share = fact(b, TL_FACT_VIL_SHARE);
    w->shift.vih_share = fact(b, TL_FACT_VIH_SHARE);
    w->shift.limit = fact(b, TL_FACT_LIMIT);
    w->shift.leakage = fact(b, TL_FACT_LEAKAGE);
    w->shift.injection = even_between(0, 1) < 0.5 ? 0 : fact(b, TL_FACT_INJECTION);
    w->shift.bits_per_second = logarithmic(1e3, 1e6);
    w->shift.farads = logarithmic(1.5e-11, 1e-10);
    w->shift.open_drain = even_between(0, 1) < 0.3;
    w->shift.may_invert = even_between(0, 1) < 0.5;
}

static void plan_shift(const wanted *w, const demo_board *b, const tl_choice *c)
{
    const tl_shift_requirement *s = &w->shift;
    char lines[TL_CHOICE_TEXT + 40], *at;
    append("supplies: {far: %.9f V .. %.9f V}\nsignals:\n  s:\n    pin: %s\n    reading: {steady: 0 s}\n    "
           "source: ",
           s->from.low, s->from.high, b->line[0]);
    if (s->open_drain != 0)
        append("{open-collector: ground, saturation: %.9f V, on: %.9f mA", s->vol, 1e3 * s->drives);
    else
        append("{logic: far, low: %.9f V, high: %.9f V, drives: %.9f mA", s->vol, s->from.low - 0.4,
               1e3 * s->drives);
    append(", rate: %.9f Hz}\n    stages:\n", s->bits_per_second / 2);
    snprintf(lines, sizeof lines, "%s", c->plan);
    while ((at = strstr(lines, "FROM")) != NULL)
        memcpy(at, " far", 4);
    while ((at = strstr(lines, ": TO")) != NULL) {
        char rest[TL_CHOICE_TEXT];
        snprintf(rest, sizeof rest, "%s", at + 4);
        snprintf(at, sizeof lines - (size_t)(at - lines), ": logic%s", rest);
    }
    while ((at = strstr(lines, "LOWER")) != NULL)
        memcpy(at, s->from.low < s->to.low ? "  far" : "logic", 5);
    append_lines(lines, 6, "RAIL", "logic");
    append("      - cable: %.9f pF\n", 1e12 * s->farads - 1e12 * fact(b, TL_FACT_FARADS));
}

static void want_injection(wanted *w, const demo_board *b)
{
    w->injection = tl_injection_requirement_default();
    w->injection.fault = (tl_quantity){0, 0, even_between(8, 40), true};
    w->injection.rail = b->facts.of[TL_FACT_RAIL];
    w->injection.clamp = fact(b, TL_FACT_LIMIT) - w->injection.rail.low;
    w->injection.amperes = fact(b, TL_FACT_INJECTION);
    w->injection.unpowered = even_between(0, 1) < 0.5;
}

static void plan_injection(const wanted *w, const demo_board *b, const tl_choice *c)
{
    append("supplies: {raw: {voltage: %.9f V, live: %s}}\nsignals:\n  s:\n    source: {logic: raw, "
           "low: 0 V}\n"
           "    pin: %s\n    stages:\n",
           w->injection.fault.high, w->injection.unpowered != 0 ? "always" : "with-board", b->line[0]);
    append_lines(c->plan, 6, "RAIL", "logic");
}

static void want_converter(tl_size_converter *c, const demo_board *b)
{
    *c = (tl_size_converter){fact(b, TL_FACT_REFERENCE),   fact(b, TL_FACT_BITS),
                             fact(b, TL_FACT_SAMPLING),    fact(b, TL_FACT_SWITCH),
                             fact(b, TL_FACT_ACQUISITION), fact(b, TL_FACT_FARADS)};
}

static void plan_source(double volts, double ohms, const demo_board *b, const tl_choice *c)
{
    append("signals:\n  s:\n    source: {voltage: 0 V .. %.9f V, resistance: %.9f ohm}\n    pin: %s\n", volts,
           ohms, b->pin[0]);
    append("    stages:\n%s", c->plan[0] == '\0' ? "      []\n" : "");
    append_lines(c->plan, 6, "RAIL", "raw");
}

static void want_follower(wanted *w, const demo_board *b)
{
    w->follower = tl_follower_requirement_default();
    want_converter(&w->follower.converter, b);
    w->follower.limit = fact(b, TL_FACT_LIMIT);
    w->follower.source =
        (tl_quantity){0.2, 0.2, even_between(0.5, 0.9) * w->follower.converter.reference, true};
    w->follower.source_ohms = logarithmic(1e3, 1e6);
    w->follower.supply = around(even_between(5, 12), 0.05);
    w->follower.out_low = 0.05;
    w->follower.out_high = w->follower.in_high = even_between(0, 1);
    w->follower.bias = logarithmic(1e-12, 1e-10);
    w->follower.offset = 1e-5;
}

static void plan_follower(const wanted *w, const demo_board *b, const tl_choice *c)
{
    append("supplies: {raw: %.9f V .. %.9f V}\nsignals:\n  s:\n    source: {voltage: %.9f V .. %.9f V, "
           "resistance: %.9f ohm}\n    pin: %s\n    stages:\n%s",
           w->follower.supply.low, w->follower.supply.high, w->follower.source.low, w->follower.source.high,
           w->follower.source_ohms, b->pin[0], c->plan[0] == '\0' ? "      []\n" : "");
    append_lines(c->plan, 6, "RAIL", "raw");
}

static void want_filter(wanted *w, const demo_board *b)
{
    w->filter = tl_filter_requirement_default();
    want_converter(&w->filter.converter, b);
    w->filter.keep = logarithmic(1, 1e5);
    w->filter.reject = w->filter.keep * logarithmic(30, 1000);
    w->filter.source_ohms = even_between(0, 1) < 0.5 ? 0 : logarithmic(10, 1e3);
    w->filter.leakage = fact(b, TL_FACT_LEAKAGE);
}

static void plan_filter(const wanted *w, const demo_board *b, const tl_choice *c)
{
    plan_source(0.9 * w->filter.converter.reference, w->filter.source_ohms, b, c);
}

static void want_reservoir(wanted *w, const demo_board *b)
{
    w->reservoir = tl_reservoir_requirement_default();
    want_converter(&w->reservoir.converter, b);
    w->reservoir.source_ohms = logarithmic(1e3, 2e4);
    w->reservoir.rate = logarithmic(1, 500);
}

static void plan_reservoir(const wanted *w, const demo_board *b, const tl_choice *c)
{
    plan_source(0.9 * w->reservoir.converter.reference, w->reservoir.source_ohms, b, c);
    append("sweeps: {all: {signals: [s], every: %.12f s}}\n", 1 / w->reservoir.rate);
}

static void want_ladder(wanted *w, const demo_board *b)
{
    w->ladder = tl_ladder_requirement_default();
    w->ladder.buttons = floor(even_between(2, 6.99));
    w->ladder.pull = logarithmic(2e3, 5e4);
    w->ladder.star = even_between(0, 1) < 0.4;
    w->ladder.bits = fact(b, TL_FACT_BITS);
    w->ladder.errors = fact(b, TL_FACT_ERRORS);
    w->ladder.leakage = fact(b, TL_FACT_LEAKAGE);
    w->ladder.rail = b->facts.of[TL_FACT_RAIL];
}

static void plan_ladder(const wanted *w, const demo_board *b, const tl_choice *c)
{
    (void)w;
    append("signals:\n  s:\n    pin: %s\n", b->pin[0]);
    append_lines(c->plan, 4, "RAIL", "logic");
}

static double buttons_apart(tl_circuit *circuit)
{
    const int states = tl_circuit_nodes(circuit, 0)->states;
    double least = INFINITY, middle;
    tl_interval codes[20];
    for (int i = 0; i < states; i++) {
        (void)tl_plan_state_codes(circuit, 0, i, &codes[i], &middle);
        for (int j = 0; j < i; j++)
            least = fmin(least, fmax(codes[i].low - codes[j].high, codes[j].low - codes[i].high));
    }
    return least;
}

static const char mux_part[] =
    "tinyladder: mux 1\ntitle: m\ninputs: 8\nenable: low\non-resistance: 70 ohm .. 200 ohm\nleakage: ±10 nA\n"
    "capacitance: 25 pF\nsignals: -0.5 V .. rail + 0.5 V\n";

/* One part, or a tree of two levels; both sources on inputs of the last part. */
static void want_mux(wanted *w, const demo_board *b)
{
    w->mux = tl_mux_requirement_default();
    want_converter(&w->mux.converter, b);
    w->mux.used = even_between(0, 1) < 0.5 ? 8 : floor(even_between(9, 64.99));
    w->mux.on_ohms = (tl_quantity){70, 135, 200, true};
    w->mux.off_leakage = 10e-9;
    w->mux.common_farads = 25e-12;
    w->mux.pin_leakage = fact(b, TL_FACT_LEAKAGE);
    w->mux.conversion = fact(b, TL_FACT_CONVERSION);
    w->mux.offered = b->facts.acquisitions;
    w->mux.source_ohms = (tl_values){{logarithmic(100, 3e4), logarithmic(100, 3e4)}, 2};
}

/* Its lines: the dwell of the parts, then an acquisition for either source. */
static void plan_mux(const wanted *w, const demo_board *b, const tl_choice *c)
{
    const int levels = w->mux.used > w->mux.inputs ? 2 : 1;
    char dwell[100] = "", acquisition[2][100] = {"", ""};
    CU_ASSERT(sscanf(c->plan, "%99[^\n#]%*[^\n]\n%99[^\n#]%*[^\n]\n%99[^\n#]", dwell, acquisition[0],
                     acquisition[1]) == 3);
    append("muxes:\n");
    for (int level = 1; level <= levels; level++)
        append("  m%d: {part: proposed.mux.yaml, supply: logic, select: [%s], enable: ground, common: %s, "
               "tied: {%d .. 7: ground}, %s}\n",
               level, b->select[level - 1], level == 1 ? b->pin[0] : "m1.0", level < levels ? 1 : 2, dwell);
    append("signals:\n");
    for (int i = 0; i < 2; i++)
        append("  s%d: {source: {voltage: 0 V .. %.9f V, resistance: %.9f ohm}, pin: m%d.%d, %s}\n", i,
               0.9 * w->mux.converter.reference, w->mux.source_ohms.of[i], levels, i, acquisition[i]);
    if (strstr(c->way, "throw-away") != NULL) /* its neighbours are known then, and not the whole span away */
        append("sweeps: {one: {signals: [s0], discard: 1}, other: {signals: [s1], discard: 1}}\n");
}

static double worst_crosstalk(tl_circuit *circuit)
{
    const int worst = tl_circuit_path(circuit, 1)->source_ohms > tl_circuit_path(circuit, 0)->source_ohms;
    return tl_circuit_path(circuit, worst)->settling_counts;
}

#define CALL(name, function)                                                                                 \
    static void size_##name(const wanted *w, tl_size_result *result)                                         \
    {                                                                                                        \
        function(&w->name, result);                                                                          \
    }
CALL(divider, tl_size_divider)
CALL(partner, tl_size_partner)
CALL(feed, tl_size_feed)
CALL(pull, tl_size_pull)
CALL(guard, tl_size_guard)
CALL(lamp, tl_size_lamp)
CALL(driver, tl_size_driver)
CALL(loop, tl_size_loop)
CALL(bus, tl_size_bus_pull)
CALL(shift, tl_size_shift)
CALL(injection, tl_size_injection)
CALL(follower, tl_size_follower)
CALL(filter, tl_size_filter)
CALL(reservoir, tl_size_reservoir)
CALL(ladder, tl_size_ladder)
CALL(mux, tl_size_mux)

static const struct {
    const char *kind;
    void (*want)(wanted *w, const demo_board *b);
    void (*size)(const wanted *w, tl_size_result *result);
    void (*plan)(const wanted *w, const demo_board *b, const tl_choice *c);
    const char *least, *most; /* figures that say the volts at the pin; NULL for none */
    const char *figure;       /* another, and what the plan's circuit says of it */
    double (*found)(tl_circuit *circuit);
    double least_share; /* of what is said, that the plan may find instead */
} rows[] = {
    {"divider", want_divider, size_divider, plan_divider, "tap, lowest", "tap, highest", NULL, NULL, 0},
    {"partner", want_partner, size_partner, plan_partner, "tap, lowest", "tap, highest", NULL, NULL, 0},
    {"feed", want_feed, size_feed, plan_feed, NULL, NULL, NULL, NULL, 0},
    {"pull", want_pull, size_pull, plan_pull, NULL, NULL, NULL, NULL, 0},
    {"guard", want_guard, size_guard, plan_guard, NULL, NULL, NULL, NULL, 0},
    {"lamp", want_lamp, size_lamp, plan_output, NULL, NULL, NULL, NULL, 0},
    {"driver", want_driver, size_driver, plan_driver, NULL, NULL, NULL, NULL, 0},
    {"loop", want_loop, size_loop, plan_loop, "at 4 mA", "at 20 mA", NULL, NULL, 0},
    {"bus-pull", want_bus, size_bus, plan_bus, NULL, NULL, NULL, NULL, 0},
    {"shift", want_shift, size_shift, plan_shift, NULL, "at the receiver", NULL, NULL, 0},
    {"injection", want_injection, size_injection, plan_injection, NULL, NULL, NULL, NULL, 0},
    {"follower", want_follower, size_follower, plan_follower, NULL, NULL, NULL, NULL, 0},
    {"filter", want_filter, size_filter, plan_filter, NULL, NULL, NULL, NULL, 0},
    {"reservoir", want_reservoir, size_reservoir, plan_reservoir, NULL, NULL, NULL, NULL, 0},
    {"ladder", want_ladder, size_ladder, plan_ladder, NULL, NULL, "least apart", buttons_apart, 1},
    {"mux", want_mux, size_mux, plan_mux, NULL, NULL, "crosstalk left", worst_crosstalk, 0.85},
};

/* --- asking --- */

static double figure_of(const tl_choice *c, const char *name)
{
    for (int i = 0; i < c->figures && name != NULL; i++) {
        if (strcmp(c->figure[i].name, name) == 0)
            return c->figure[i].value;
    }
    return NAN;
}

static bool same_or_unsaid(double said, double found)
{
    return isnan(said) || near(said, found, 1e-5) || fabs(said - found) < 1e-6;
}

static bool quiet;

static bool passes(size_t row, const tl_choice *c)
{
    static const char path[] = TL_SOURCE "/demo/proposed.plan.yaml";
    tl_report *report = tl_report_new();
    tl_report_allow_outside(report, true);
    tl_report_instead(report, path, plan, strlen(plan));
    tl_report_instead(report, TL_SOURCE "/demo/proposed.mux.yaml", mux_part, strlen(mux_part));
    tl_plan *read = tl_plan_load(path, report);
    tl_circuit *circuit = read != NULL ? tl_circuit_new(read) : NULL;
    bool good = circuit != NULL;
    if (good)
        tl_plan_check(circuit, report);
    for (int i = 0; i < tl_report_count(report); i++) {
        const tl_finding *f = tl_report_finding(report, i);
        if (f->severity < TL_WARNING)
            continue;
        good = false;
        if (!quiet)
            printf("\n  %s: %s: %s [%s]\n%s", rows[row].kind, f->cause, f->figure != NULL ? f->figure : "",
                   f->slug, plan);
    }
    if (good && read->line_count > 0) {
        double low = INFINITY, high = -INFINITY;
        for (int state = 0; state < tl_circuit_nodes(circuit, 0)->states; state++) {
            low = fmin(low, tl_circuit_worst_case(circuit, 0, state)->volts.low);
            high = fmax(high, tl_circuit_worst_case(circuit, 0, state)->volts.high);
        }
        good = same_or_unsaid(figure_of(c, rows[row].least), low) &&
               same_or_unsaid(figure_of(c, rows[row].most), high);
        if (!good)
            printf("\n  %s: %g .. %g, the plan says %g .. %g\n%s", rows[row].kind,
                   figure_of(c, rows[row].least), figure_of(c, rows[row].most), low, high, plan);
    }
    if (good && rows[row].found != NULL) {
        const double said = figure_of(c, rows[row].figure), found = rows[row].found(circuit);
        good = found <= said * (1 + 1e-4) && found >= rows[row].least_share * said * (1 - 1e-4);
        if (!good)
            printf("\n  %s: %s %.9g, the plan says %.9g\n%s", rows[row].kind, rows[row].figure, said, found,
                   plan);
    }
    tl_circuit_free(circuit);
    tl_plan_free(read);
    tl_report_free(report);
    return good;
}

static int ask_row(size_t row, const demo_board *b, const tl_stock *stock, const char *drawer)
{
    wanted w;
    int asked = 0;
    rows[row].want(&w, b);
    tl_size_result *result = tl_size_result_new(stock, KEPT + 12);
    rows[row].size(&w, result);
    const tl_question question = {rows[row].kind, &w, &b->facts, drawer};
    tl_question_ask(&question, result, KEPT);
    for (int i = 0; i < result->count; i++, asked++) {
        const tl_choice *c = &result->choices[i];
        plan[0] = '\0';
        append("tinyladder: plan 1\ntitle: t\nboard: %s\n", b->path);
        if (drawer != NULL)
            append("drawer: %s\n", drawer);
        if (c->plan[0] == '\0') /* nothing is needed: nothing to put in */
            continue;
        rows[row].plan(&w, b, c);
        CHECK_ROW(rows[row].kind, passes(row, c));
    }
    tl_size_result_free(result);
    return asked;
}

/* --- and back: what passes is proposed --- */

/* Jobs without budgets of their own: parts that are put in by hand and pass `check` must be found by the
 * sizing that has these parts alone to choose from. */
static const struct {
    const char *kind, *lines; /* with the values in their order */
    int parts;
} by_hand[] = {
    {"divider", "- divider: {upper: %s ±1 %%, lower: %s ±1 %%}", 2},
    {"pull", "- pull: {%s: %s ±1 %%, to: %s}", 1},
    {"guard", "- guard: %s ±1 %%", 1},
    {"bus-pull", "- pull: {up: %s ±1 %%, to: RAIL}", 1},
    {"shift", "- pull: {up: %s ±1 %%, to: RAIL}", 1},
    {"injection", "- series: %s ±1 %%\n- clamp: pin", 1},
};

static void drop_budgets(const char *kind, wanted *w)
{
    if (strcmp(kind, "divider") == 0)
        w->divider.most_tap_ohms = INFINITY;
    if (strcmp(kind, "pull") == 0)
        w->pull.most_amperes = INFINITY;
    if (strcmp(kind, "shift") == 0)
        w->shift.open_drain = 1;
}

/* Whether it passes by hand; then it was asked whether it is proposed. */
static bool hand_made(size_t job, size_t row, const demo_board *b)
{
    wanted w;
    char value[2][40];
    tl_stock_part parts[2];
    for (int i = 0; i < by_hand[job].parts; i++) {
        double values[200];
        const double about = logarithmic(100, 1e6);
        CU_ASSERT_FATAL(tl_series_over(TL_E24, about, about * 2, values, 200) > 0);
        parts[i] = (tl_stock_part){values[0], 0.01, INFINITY, -1, 0};
        (void)tl_letter_code_write(values[0], value[i]);
    }
    tl_stock stock = {parts, by_hand[job].parts};
    if (stock.count == 2 &&
        parts[0].value > parts[1].value) { /* a stock rises; the upper leg is its second here */
        const tl_stock_part first = parts[0];
        parts[0] = parts[1];
        parts[1] = first;
    }
    rows[row].want(&w, b);
    drop_budgets(by_hand[job].kind, &w);
    tl_choice c = {0};
    if (strcmp(by_hand[job].kind, "pull") == 0)
        snprintf(c.plan, sizeof c.plan, by_hand[job].lines, w.pull.down != 0 ? "down" : "up", value[0],
                 w.pull.down != 0 ? "ground" : "RAIL");
    else
        snprintf(c.plan, sizeof c.plan, by_hand[job].lines, value[0], value[1]);
    plan[0] = '\0';
    append("tinyladder: plan 1\ntitle: t\nboard: %s\n", b->path);
    rows[row].plan(&w, b, &c);
    quiet = true;
    const bool sound = passes(row, &c);
    quiet = false;
    if (!sound || (strcmp(by_hand[job].kind, "divider") == 0 && w.divider.source.high <= w.divider.reference))
        return false; /* the latter needs none */
    tl_size_result *result = tl_size_result_new(&stock, KEPT + 12);
    rows[row].size(&w, result);
    const tl_question question = {rows[row].kind, &w, &b->facts, NULL};
    tl_question_ask(&question, result, KEPT);
    CHECK_ROW(rows[row].kind, result->count > 0);
    if (result->count == 0) {
        printf("\n  %s passes and is not proposed: %s\n%s", rows[row].kind, result->refusal, plan);
        for (int i = 0; i < result->rejected_count; i++)
            printf("    %s\n", result->rejected[i].why);
    }
    tl_size_result_free(result);
    return true;
}

static void what_passes_is_proposed(void)
{
    const int rounds = getenv("TL_LONG") != NULL ? 40 * LONG : 40 * ROUNDS;
    int found = 0;
    for (size_t job = 0; job < ROWS(by_hand); job++) {
        size_t row = 0;
        int sound = 0;
        while (strcmp(rows[row].kind, by_hand[job].kind) != 0)
            row++;
        for (int round = 0; round < rounds; round++)
            sound += hand_made(job, row, &boards[round % 2]);
        CHECK_ROW(by_hand[job].kind, sound > rounds / 100);
        if (!(sound > rounds / 100))
            printf("\n  %s: only %d\n", by_hand[job].kind, sound);
        found += sound;
    }
    printf("  %d by hand ", found);
}

static void every_proposal_passes(void)
{
    static const char drawer[] = TL_SOURCE "/demo/bench.drawer.yaml";
    const int rounds = getenv("TL_LONG") != NULL ? LONG : ROUNDS;
    tl_report *report = tl_report_new();
    tl_stock series = tl_stock_series(TL_E24, 10, 10e6, 0.01), own = {0}, capacitors = {0};
    CU_ASSERT_FATAL(tl_drawer_load(drawer, &own, &capacitors, report));
    for (size_t i = 0; i < ROWS(boards); i++) {
        tl_board *board = tl_board_load(boards[i].path, report);
        CU_ASSERT_FATAL(board != NULL);
        tl_facts_of_board(board, &boards[i].facts);
        tl_board_free(board);
    }
    int proposals = 0;
    for (size_t row = 0; row < ROWS(rows); row++) {
        int asked = 0;
        for (int round = 0; round < rounds; round++) {
            const demo_board *b = &boards[round % 2];
            asked += ask_row(row, b, &series, NULL) + ask_row(row, b, &own, drawer);
        }
        CHECK_ROW(rows[row].kind, asked >= rounds);
        proposals += asked;
        if (asked < rounds)
            printf("\n  %s: only %d choices\n", rows[row].kind, asked);
    }
    printf("  %d proposals of %d kinds ", proposals, (int)ROWS(rows));
    tl_stock_free(&series);
    tl_stock_free(&own);
    tl_stock_free(&capacitors);
    tl_report_free(report);
}

CU_TestInfo proposed_tests[] = {
    {"every proposal passes", every_proposal_passes},
    {"what passes is proposed", what_passes_is_proposed},
    CU_TEST_INFO_NULL,
};
