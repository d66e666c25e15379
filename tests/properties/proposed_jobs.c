/* SPDX-License-Identifier: MIT */
/* The jobs of test_proposed.c: for each sizing what is required, at random, and the plan that a choice of it
 * is put into, by the choice's own lines. */
#include "properties/proposed_jobs.h"
#include "support.h"
#include "tinyladder/design/proposals.h"
#include <math.h>
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

double proposed_between(double low, double high)
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

char proposed_plan[PROPOSED_TEXT];

void proposed_append(const char *format, ...)
{
    va_list arguments;
    const size_t length = strlen(proposed_plan);
    va_start(arguments, format);
    vsnprintf(proposed_plan + length, PROPOSED_TEXT - length, format, arguments);
    va_end(arguments);
}

/* A choice's lines, indented, with each word in capitals put right: `RAIL` is `logic` ... */
static void append_lines(const char *lines, int indent, const char *word, const char *name)
{
    while (*lines != '\0') {
        proposed_append("%*s", indent, "");
        const size_t length = strcspn(lines, "\n");
        char line[500];
        snprintf(line, sizeof line, "%.*s", (int)length, lines);
        for (char *at = strstr(line, word); at != NULL; at = strstr(line, word)) {
            char rest[500];
            snprintf(rest, sizeof rest, "%s%s", name, at + strlen(word));
            snprintf(at, sizeof line - (size_t)(at - line), "%s", rest);
        }
        proposed_append("%s\n", line);
        lines += length + (lines[length] == '\n');
    }
}

/* --- the sizings --- */

static void want_divider(wanted *w, const demo_board *b)
{
    const double high = proposed_between(4, 60);
    w->divider = tl_divider_requirement_default();
    w->divider.source = (tl_quantity){even_between(0, high), high, high, true};
    w->divider.limit = fact(b, TL_FACT_LIMIT);
    w->divider.reference = fact(b, TL_FACT_REFERENCE);
    w->divider.leakage = fact(b, TL_FACT_LEAKAGE);
    w->divider.most_tap_ohms = fact(b, TL_FACT_SEES);
    w->divider.source_ohms = even_between(0, 1) < 0.5 ? 0 : proposed_between(10, 1e4);
    w->divider.load_ohms = even_between(0, 1) < 0.7 ? (double)INFINITY : proposed_between(1e4, 1e6);
}

static void plan_divider(const wanted *w, const demo_board *b, const tl_choice *c)
{
    proposed_append(
        "signals:\n  s:\n    source: {voltage: %.9f V .. %.9f V, resistance: %.9f ohm}\n    stages:\n",
        w->divider.source.low, w->divider.source.high, w->divider.source_ohms);
    append_lines(c->plan, 6, "RAIL", "logic");
    if (isfinite(w->divider.load_ohms))
        proposed_append("      - load: %.9f ohm ±0 %%\n", w->divider.load_ohms);
    proposed_append("    pin: %s\n", b->pin[0]);
}

static void want_partner(wanted *w, const demo_board *b)
{
    w->partner = tl_partner_requirement_default();
    w->partner.sensor.low = proposed_between(100, 1e4);
    w->partner.sensor.high = w->partner.sensor.low * proposed_between(1.5, 30);
    w->partner.sensor.nominal = w->partner.sensor.low;
    w->partner.rail = b->facts.of[TL_FACT_RAIL];
    w->partner.leg = even_between(0, 1) < 0.5;
    w->partner.most_tap_ohms = fact(b, TL_FACT_SEES);
    w->partner.bits = fact(b, TL_FACT_BITS);
}

static void plan_partner(const wanted *w, const demo_board *b, const tl_choice *c)
{
    proposed_append("signals:\n  s:\n    source: {resistance: %.9f ohm .. %.9f ohm, to: %s}\n    stages:\n",
                    w->partner.sensor.low, w->partner.sensor.high, w->partner.leg == 0 ? "logic" : "ground");
    append_lines(c->plan, 6, "RAIL", "logic");
    proposed_append("    pin: %s\n", b->pin[0]);
}

static void want_feed(wanted *w, const demo_board *b)
{
    w->feed = tl_feed_requirement_default();
    w->feed.track = around(proposed_between(2e3, 30e3), even_between(0, 0.2));
    w->feed.rail = around(even_between(6, 15), even_between(0, 0.1));
    w->feed.tracks = 1 + floor(even_between(0, 1.99));
    w->feed.limit = fact(b, TL_FACT_LEAST_LIMIT);
    w->feed.most_tap_ohms = fact(b, TL_FACT_SEES);
}

static void plan_feed(const wanted *w, const demo_board *b, const tl_choice *c)
{
    proposed_append("supplies: {raw: %.9f V .. %.9f V}\n", w->feed.rail.low, w->feed.rail.high);
    append_lines(c->plan, 0, "RAIL", "raw");
    proposed_append("signals:\n");
    for (int i = 0; i < (int)w->feed.tracks; i++)
        proposed_append("  s%d: {source: {potentiometer: %.9f ohm .. %.9f ohm, top: top}, pin: %s}\n", i,
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
    w->pull.closed = (tl_quantity){0, 0, proposed_between(0.1, 500), true};
    w->pull.wetting = even_between(0, 1) < 0.5 ? 0 : proposed_between(1e-5, 5e-4);
    w->pull.farads = proposed_between(1e-11, 1e-8);
}

static void plan_pull(const wanted *w, const demo_board *b, const tl_choice *c)
{
    proposed_append(
        "signals:\n  s:\n    source: {contact: %s, closed: 0 ohm .. %.9f ohm, wetting: %.9f mA}\n    "
        "stages:\n",
        w->pull.down != 0 ? "logic" : "ground", w->pull.closed.high, 1e3 * w->pull.wetting);
    append_lines(c->plan, 6, "RAIL", "logic");
    proposed_append("    pin: %s\n", b->line[0]);
}

static void want_guard(wanted *w, const demo_board *b)
{
    w->guard = tl_guard_requirement_default();
    w->guard.rail = b->facts.of[TL_FACT_RAIL];
    w->guard.pin_amperes = fact(b, TL_FACT_MOST_AMPERES);
    w->guard.leakage = fact(b, TL_FACT_LEAKAGE);
    w->guard.pull = even_between(0, 1) < 0.5 ? (double)NAN : proposed_between(5e3, 1e5);
}

static void plan_guard(const wanted *w, const demo_board *b, const tl_choice *c)
{
    const bool behind = !isnan(w->guard.pull);
    proposed_append(
        "signals:\n  s:\n    source: {contact: ground}\n    driven: high\n    pin: %s\n    stages:\n",
        b->line[0]);
    if (!behind)
        proposed_append("      - pull: {up: 10k ±1 %%, to: logic}\n");
    append_lines(c->plan, 6, "RAIL", "logic");
    if (behind)
        proposed_append("      - pull: {up: %.9f ohm ±0 %%, to: logic}\n", w->guard.pull);
}

static void want_lamp(wanted *w, const demo_board *b)
{
    const double forward = even_between(1.6, 2.4);
    w->lamp = tl_lamp_requirement_default();
    w->lamp.supply = b->facts.of[TL_FACT_RAIL];
    w->lamp.forward = (tl_quantity){forward, forward + 0.1, forward + 0.2, true};
    w->lamp.amperes = proposed_between(1e-3, fact(b, TL_FACT_DRIVES));
}

static void plan_output(const wanted *w, const demo_board *b, const tl_choice *c)
{
    (void)w;
    proposed_append("outputs:\n");
    append_lines(c->plan, 2, "PIN", b->line[0]);
}

static void want_driver(wanted *w, const demo_board *b)
{
    const tl_quantity *rail = &b->facts.of[TL_FACT_RAIL];
    w->driver = tl_driver_requirement_default();
    w->driver.supply = around(proposed_between(5, 24), 0.05);
    w->driver.load = around(proposed_between(200, 2000), 0.1);
    w->driver.henries = even_between(0, 1) < 0.5 ? 0 : proposed_between(1e-3, 1);
    w->driver.high = (tl_quantity){rail->low - 0.8, rail->low, rail->high, true};
    w->driver.pin_amperes = fact(b, TL_FACT_DRIVES);
    w->driver.on_ohms = even_between(0, 1) < 0.5 ? (double)NAN : proposed_between(0.01, 1);
}

static void plan_driver(const wanted *w, const demo_board *b, const tl_choice *c)
{
    char lines[TL_CHOICE_TEXT];
    proposed_append("supplies: {raw: %.9f V .. %.9f V}\noutputs:\n", w->driver.supply.low,
                    w->driver.supply.high);
    snprintf(lines, sizeof lines, "%s", c->plan);
    char *pin = strstr(lines, "PIN");
    proposed_append("%s", pin != NULL ? "" : "  {}\n");
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
    proposed_append(
        "supplies: {raw: %.9f V .. %.9f V}\nsignals:\n  s:\n    source: {current: 4 mA .. 20 mA, supply: "
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
    w->bus.farads = proposed_between(3e-11, 4e-10);
}

static void plan_bus(const wanted *w, const demo_board *b, const tl_choice *c)
{
    proposed_append("buses:\n  s:\n    pins: {scl: %s, sda: %s}\n    mode: %s\n    stages:\n", b->bus[0],
                    b->bus[1], tl_bus_rule_of(w->bus.mode)->name);
    append_lines(c->plan, 6, "RAIL", "logic"); /* the pins' own capacitance is in the line's */
    proposed_append("      - cable: %.9f pF\n", 1e12 * w->bus.farads - 1e12 * fact(b, TL_FACT_FARADS));
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
    w->shift.bits_per_second = proposed_between(1e3, 1e6);
    w->shift.farads = proposed_between(1.5e-11, 1e-10);
    w->shift.open_drain = even_between(0, 1) < 0.3;
    w->shift.may_invert = even_between(0, 1) < 0.5;
}

static void plan_shift(const wanted *w, const demo_board *b, const tl_choice *c)
{
    const tl_shift_requirement *s = &w->shift;
    char lines[TL_CHOICE_TEXT + 40], *at;
    proposed_append(
        "supplies: {far: %.9f V .. %.9f V}\nsignals:\n  s:\n    pin: %s\n    reading: {steady: 0 s}\n    "
        "source: ",
        s->from.low, s->from.high, b->line[0]);
    if (s->open_drain != 0)
        proposed_append("{open-collector: ground, saturation: %.9f V, on: %.9f mA", s->vol, 1e3 * s->drives);
    else
        proposed_append("{logic: far, low: %.9f V, high: %.9f V, drives: %.9f mA", s->vol, s->from.low - 0.4,
                        1e3 * s->drives);
    proposed_append(", rate: %.9f Hz}\n    stages:\n", s->bits_per_second / 2);
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
    proposed_append("      - cable: %.9f pF\n", 1e12 * s->farads - 1e12 * fact(b, TL_FACT_FARADS));
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
    proposed_append("supplies: {raw: {voltage: %.9f V, live: %s}}\nsignals:\n  s:\n    source: {logic: raw, "
                    "low: 0 V}\n"
                    "    pin: %s\n    stages:\n",
                    w->injection.fault.high, w->injection.unpowered != 0 ? "always" : "with-board",
                    b->line[0]);
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
    proposed_append(
        "signals:\n  s:\n    source: {voltage: 0 V .. %.9f V, resistance: %.9f ohm}\n    pin: %s\n", volts,
        ohms, b->pin[0]);
    proposed_append("    stages:\n%s", c->plan[0] == '\0' ? "      []\n" : "");
    append_lines(c->plan, 6, "RAIL", "raw");
}

static void want_follower(wanted *w, const demo_board *b)
{
    w->follower = tl_follower_requirement_default();
    want_converter(&w->follower.converter, b);
    w->follower.limit = fact(b, TL_FACT_LIMIT);
    w->follower.source =
        (tl_quantity){0.2, 0.2, even_between(0.5, 0.9) * w->follower.converter.reference, true};
    w->follower.source_ohms = proposed_between(1e3, 1e6);
    w->follower.supply = around(even_between(5, 12), 0.05);
    w->follower.out_low = 0.05;
    w->follower.out_high = w->follower.in_high = even_between(0, 1);
    w->follower.bias = proposed_between(1e-12, 1e-10);
    w->follower.offset = 1e-5;
}

static void plan_follower(const wanted *w, const demo_board *b, const tl_choice *c)
{
    proposed_append(
        "supplies: {raw: %.9f V .. %.9f V}\nsignals:\n  s:\n    source: {voltage: %.9f V .. %.9f V, "
        "resistance: %.9f ohm}\n    pin: %s\n    stages:\n%s",
        w->follower.supply.low, w->follower.supply.high, w->follower.source.low, w->follower.source.high,
        w->follower.source_ohms, b->pin[0], c->plan[0] == '\0' ? "      []\n" : "");
    append_lines(c->plan, 6, "RAIL", "raw");
}

static void want_filter(wanted *w, const demo_board *b)
{
    w->filter = tl_filter_requirement_default();
    want_converter(&w->filter.converter, b);
    w->filter.keep = proposed_between(1, 1e5);
    w->filter.reject = w->filter.keep * proposed_between(30, 1000);
    w->filter.source_ohms = even_between(0, 1) < 0.5 ? 0 : proposed_between(10, 1e3);
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
    w->reservoir.source_ohms = proposed_between(1e3, 2e4);
    w->reservoir.rate = proposed_between(1, 500);
}

static void plan_reservoir(const wanted *w, const demo_board *b, const tl_choice *c)
{
    plan_source(0.9 * w->reservoir.converter.reference, w->reservoir.source_ohms, b, c);
    proposed_append("sweeps: {all: {signals: [s], every: %.12f s}}\n", 1 / w->reservoir.rate);
}

static void want_ladder(wanted *w, const demo_board *b)
{
    w->ladder = tl_ladder_requirement_default();
    w->ladder.buttons = floor(even_between(2, 6.99));
    w->ladder.pull = proposed_between(2e3, 5e4);
    w->ladder.star = even_between(0, 1) < 0.4;
    w->ladder.bits = fact(b, TL_FACT_BITS);
    w->ladder.errors = fact(b, TL_FACT_ERRORS);
    w->ladder.leakage = fact(b, TL_FACT_LEAKAGE);
    w->ladder.rail = b->facts.of[TL_FACT_RAIL];
}

static void plan_ladder(const wanted *w, const demo_board *b, const tl_choice *c)
{
    (void)w;
    proposed_append("signals:\n  s:\n    pin: %s\n", b->pin[0]);
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

const char proposed_mux[] =
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
    w->mux.source_ohms = (tl_values){{proposed_between(100, 3e4), proposed_between(100, 3e4)}, 2};
}

/* Its lines: the dwell of the parts, then an acquisition for either source. */
static void plan_mux(const wanted *w, const demo_board *b, const tl_choice *c)
{
    const int levels = w->mux.used > w->mux.inputs ? 2 : 1;
    char dwell[100] = "", acquisition[2][100] = {"", ""};
    CU_ASSERT(sscanf(c->plan, "%99[^\n#]%*[^\n]\n%99[^\n#]%*[^\n]\n%99[^\n#]", dwell, acquisition[0],
                     acquisition[1]) == 3);
    proposed_append("muxes:\n");
    for (int level = 1; level <= levels; level++)
        proposed_append(
            "  m%d: {part: proposed.mux.yaml, supply: logic, select: [%s], enable: ground, common: %s, "
            "tied: {%d .. 7: ground}, %s}\n",
            level, b->select[level - 1], level == 1 ? b->pin[0] : "m1.0", level < levels ? 1 : 2, dwell);
    proposed_append("signals:\n");
    for (int i = 0; i < 2; i++)
        proposed_append("  s%d: {source: {voltage: 0 V .. %.9f V, resistance: %.9f ohm}, pin: m%d.%d, %s}\n",
                        i, 0.9 * w->mux.converter.reference, w->mux.source_ohms.of[i], levels, i,
                        acquisition[i]);
    if (strstr(c->way, "throw-away") != NULL) /* its neighbours are known then, and not the whole span away */
        proposed_append("sweeps: {one: {signals: [s0], discard: 1}, other: {signals: [s1], discard: 1}}\n");
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

const proposed_job proposed_jobs[] = {
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

const size_t proposed_job_count = ROWS(proposed_jobs);
