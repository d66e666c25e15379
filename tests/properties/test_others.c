/* SPDX-License-Identifier: MIT */
/*
 * Signals that hang beside others: whatever those do, and however many there are, truth and volts lie in what
 * is guaranteed; and the bounds are those that a pencil finds.
 */
#include "elaborate/circuit_struct.h"
#include "support.h"
#include "tinyladder/bench.h"
#include "tinyladder/design/rules.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#define HEAD "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\n"

static tl_circuit *circuit;
static tl_plan *plan;

static void open_plan(const char *text)
{
    tl_report *report = tl_report_new();
    plan = tl_plan_load(scratch_file("others.plan.yaml", text, strlen(text)), report);
    CU_ASSERT_FATAL(plan != NULL);
    circuit = tl_circuit_new(plan);
    tl_report_free(report);
}

static void close_plan(void)
{
    tl_circuit_free(circuit);
    tl_plan_free(plan);
}

/* Turns and presses at random, reads all. */
static void try_once(unsigned long seed, int *held)
{
    tl_bench *bench = tl_bench_new(circuit, NULL, seed);
    for (int i = 0; i < plan->signal_count; i++) {
        double least, most;
        if (tl_bench_can_turn(bench, i, &least, &most))
            tl_bench_turn(bench, i,
                          even_between(0, 1) < 0.3 ? (even_between(0, 1) < 0.5 ? least : most)
                                                   : even_between(least, most));
        for (int button = 0; tl_bench_can_press(bench, i, button) && button < 4; button++)
            tl_bench_press(bench, i, button, even_between(0, 1) < 0.5);
    }
    tl_bench_go_to(bench, 1);
    for (int i = 0; i < plan->signal_count; i++) {
        tl_bench_reading r;
        const tl_worst_case *worst = tl_circuit_worst_case(circuit, i, 0);
        CU_ASSERT(tl_bench_read(bench, i, &r) == TL_NET_SOLVED && r.status == TL_OK);
        if (!r.analog || tl_circuit_nodes(circuit, i)->unknown == TL_NET_NONE)
            continue;
        tl_value least, most; /* noise moves a count or two */
        const double truth =
            tl_bench_truth(bench, i) * (plan->signals[i].source.kind == TL_SOURCE_POTENTIOMETER ? 100 : 1);
        CU_ASSERT(tl_plan_value(circuit, i, (double)r.count - 2, &least) == TL_NET_SOLVED &&
                  tl_plan_value(circuit, i, (double)r.count + 2, &most) == TL_NET_SOLVED);
        const bool in = truth >= fmin(least.within.low, most.within.low) - 1e-9 &&
                        truth <= fmax(least.within.high, most.within.high) + 1e-9;
        CHECK_ROW(plan->signals[i].name, in);
        if (!in)
            printf("\n  seed %lu, %s: %.6g in %.6g .. %.6g\n", seed, plan->signals[i].name, truth,
                   least.within.low, most.within.high);
        const double volts = tl_bench_pin_volts(bench, i);
        CHECK_ROW(plan->signals[i].name,
                  volts >= worst->volts.low - 1e-3 && volts <= worst->volts.high + 1e-3);
        *held += in;
    }
    tl_bench_free(bench);
}

static void whatever_others_do(void)
{
    static const struct {
        const char *name, *supplies, *signals;
        int analog;
    } rows[] = {
        {"two knobs and a button", "",
         "  a: {source: {potentiometer: 10k ±20 %, top: feed}, pin: L4, reading: {unit: '%'}}\n"
         "  b: {source: {potentiometer: 10k ±20 %, top: feed}, pin: L5, reading: {unit: '%'}}\n"
         "  c: {source: {contact: ground}, stages: [pull: {up: 10k ±1 %, to: feed}], pin: L10}\n",
         2},
        {"a knob beside a line of another world", "supplies: {field: 5 V ±5 %}\n",
         "  a: {source: {potentiometer: 5k ±10 %, top: feed}, pin: L4, reading: {unit: '%'}}\n"
         "  r: {source: {logic: field, high: 4.5 V, low: 0.3 V, drives: 5 mA}, stages: [guard: 10k ±1 %, "
         "pull: {up: 4k7 ±1 %, to: "
         "feed}], pin: L10}\n"
         "  c: {source: {contact: ground}, stages: [pull: {up: 10k ±1 %, to: feed}], pin: L11}\n",
         1},
        {"a sensor beside a keypad", "supplies: {logic: {voltage: 3.3 V ±2 %, current: 100 mA}}\n",
         "  a: {source: {resistance: 1k .. 20k}, stages: [partner: {upper: 4k7 ±1 %, to: feed}], pin: L4, "
         "reading: {unit: "
         "ohm}}\n"
         "  k: {source: {chain: [one: 0 ohm, two: 1k ±1 %, three: 2k2 ±1 %]}, stages: [pull: {up: 3k3 ±1 %, "
         "to: feed}], "
         "pin: L5}\n"
         "  c: {source: {contact: ground}, stages: [pull: {up: 2k2 ±5 %, to: feed}, guard: 1k ±5 %], pin: "
         "L10}\n",
         1},
    };
    char text[8000];
    for (size_t i = 0; i < ROWS(rows); i++) {
        int held = 0;
        snprintf(text, sizeof text, HEAD "%sshared: {feed: {from: logic, series: 1k ±1 %%}}\nsignals:\n%s",
                 rows[i].supplies, rows[i].signals);
        open_plan(text);
        for (unsigned long seed = 1; seed <= 60; seed++)
            try_once(seed, &held);
        CHECK_ROW(rows[i].name, held >= 60 * rows[i].analog);
        close_plan();
    }
}

/* Nine knobs with dividers and twenty-five buttons on one feed: 120 nodes, 150 parameters. */
static void however_many_there_are(void)
{
    static const char *const analog[] = {"L4", "L5", "L6", "L7", "L15", "L16", "L17", "L18", "L19"};
    static const char *const digital[] = {"L0",  "L1",  "L2",  "L3",  "L10", "L11", "L12", "L13", "L14",
                                          "L20", "L21", "L22", "L23", "L26", "L27", "L28", "L29", "L30",
                                          "L31", "L32", "L33", "L34", "L35", "L36", "L37"};
    static char text[9000];
    int at =
        snprintf(text, sizeof text, HEAD "shared: {feed: {from: logic, series: 100 ohm ±5 %%}}\nsignals:\n");
    for (size_t i = 0; i < ROWS(analog); i++)
        at += snprintf(
            text + at, sizeof text - (size_t)at,
            "  s%zu: {source: {potentiometer: 10k ±20 %%, top: feed}, stages: [divider: {upper: 10k ±1 %%, "
            "lower: "
            "47k ±1 %%}, filter: {series: 1k ±1 %%, capacitor: 100n}], pin: %s, reading: {unit: '%%'}}\n",
            i, analog[i]);
    for (size_t i = 0; i < ROWS(digital); i++)
        at += snprintf(text + at, sizeof text - (size_t)at,
                       "  c%zu: {source: {contact: ground}, stages: [pull: {up: 10k ±5 %%, to: feed}, guard: "
                       "1k ±5 %%], pin: %s}\n",
                       i, digital[i]);
    int held = 0;
    open_plan(text);
    for (unsigned long seed = 1; seed <= 4; seed++)
        try_once(seed, &held);
    CU_ASSERT(held == 4 * (int)ROWS(analog));
    tl_value value;
    CU_ASSERT(tl_plan_value(circuit, 0, 1500, &value) == TL_NET_SOLVED);
    CU_ASSERT(value.within.high - value.within.low < 25 &&
              value.pin_within.high - value.pin_within.low < 0.08);
    close_plan();
}

/* Fully turned up, the other knob's track and an open button leave the knob's end highest; a pressed one
 * lowest. */
static void are_what_a_pencil_finds(void)
{
    open_plan(HEAD "shared: {feed: {from: logic, series: 1k ±1 %}}\nsignals:\n"
                   "  a: {source: {potentiometer: 10k ±20 %, top: feed}, pin: L4, reading: {unit: '%'}}\n"
                   "  b: {source: {potentiometer: 10k ±20 %, top: feed}, pin: L5, reading: {unit: '%'}}\n"
                   "  c: {source: {contact: ground}, stages: [pull: {up: 10k ±1 %, to: feed}], pin: L10}\n");
    const double open = 12e3 / 2, pressed = 1 / (2 / 8e3 + 1 / 9.9e3), leak = 3 * 50e-9 * 1e3;
    const tl_figure end = {
        .kind = TL_FIGURE_VOLTS, .of = tl_circuit_point(circuit, "feed"), .less = tl_net_fixed(0)};
    tl_bounds bounds;
    CU_ASSERT(tl_island_bounds(tl_circuit_nodes(circuit, 0)->island, tl_circuit_state(circuit, 0, 0), end,
                               &bounds) == TL_NET_SOLVED);
    CU_ASSERT(fabs(bounds.high - 3.366 * open / (open + 990)) < leak + 2e-3);
    CU_ASSERT(fabs(bounds.low - 3.234 * pressed / (pressed + 1010)) < leak + 2e-3);
    close_plan();
}

/* Nine knobs between a feed and a return: all tracks are one resistor between the two, so the ends of each
 * are known by pencil; and no bench reads beyond them. */
static void between_a_feed_and_a_return(void)
{
    enum { KNOBS = 9 };
    static const char *const pins[KNOBS] = {"L4", "L5", "L6", "L7", "L15", "L16", "L17", "L18", "L19"};
    char text[3000];
    int held = 0,
        at = snprintf(text, sizeof text,
                      HEAD "shared: {feed: {from: logic, series: 47 ohm ±1 %%}, back: {from: ground, "
                           "series: 100 ohm ±1 %%}}\nsignals:\n");
    for (int i = 0; i < KNOBS; i++)
        at += snprintf(
            text + at, sizeof text - (size_t)at,
            "  k%d: {source: {potentiometer: 10k ±20 %%, top: feed, bottom: back}, pin: %s, reading: "
            "{unit: '%%'}}\n",
            i, pins[i]);
    open_plan(text);
    const double feed[2] = {46.53, 47.47}, back[2] = {99, 101}, tracks[2] = {8e3 / KNOBS, 12e3 / KNOBS},
                 leak = KNOBS * 50e-9 * (feed[1] + back[1] + tracks[1]);
    for (int i = 0; i < KNOBS; i++) {
        const tl_worst_case *worst = tl_circuit_worst_case(circuit, i, 0);
        const double high = 3.366 * (tracks[1] + back[1]) / (feed[0] + tracks[1] + back[1]),
                     low = 3.234 * back[0] / (feed[1] + tracks[1] + back[0]);
        CU_ASSERT(worst->fault == TL_NET_SOLVED && !worst->volts_only);
        CU_ASSERT(worst->volts.high >= high && worst->volts.high < high + leak);
        CU_ASSERT(worst->volts.low <= low && worst->volts.low > low - leak);
    }
    for (unsigned long seed = 1; seed <= 12; seed++)
        try_once(seed, &held);
    CU_ASSERT(held == 12 * KNOBS);
    close_plan();
}

/* A knob, a keypad, a sensor and a door on one feed: what is put together says enough, so nothing sound is
 * refused. */
static void a_panel_on_one_feed_is_sound(void)
{
    open_plan(
        HEAD "shared: {panel: {from: logic, series: 220 ohm ±1 %}}\nsignals:\n"
             "  setpoint: {source: {potentiometer: 10k ±20 %, top: panel}, pin: L4, reading: {decimals: 0}}\n"
             "  menu: {source: {chain: [up: 0 ohm, down: 1k ±1 %, ok: 2k2 ±1 %]}, stages: [pull: {up: 3k3 ±1 "
             "%, to: panel}], "
             "pin: L5}\n"
             "  soil: {source: {resistance: 1k .. 100k}, stages: [partner: {upper: 10k ±1 %, to: panel}], "
             "pin: L6, reading: "
             "{unit: ohm}}\n"
             "  door: {source: {contact: ground, bounce: 5 ms}, stages: [pull: {up: 10k ±1 %, to: panel}], "
             "pin: L10}\n");
    tl_report *report = tl_report_new();
    tl_value value;
    tl_plan_check(circuit, report);
    for (int i = 0; i < tl_report_count(report); i++)
        CHECK_ROW(tl_report_finding(report, i)->cause, tl_report_finding(report, i)->severity == TL_NOTE);
    CU_ASSERT(tl_plan_value(circuit, 0, 2586, &value) == TL_NET_SOLVED &&
              value.within.high - value.within.low < 10);
    CU_ASSERT(tl_plan_value(circuit, 2, 2539, &value) == TL_NET_SOLVED && value.within.low > 15e3 &&
              value.within.high < 25e3);
    tl_report_free(report);
    close_plan();
}

/* Volts at the pin of the whole island and of the view, as written but for one parameter. */
static double apart_at_rest(int signal, int param, double value)
{
    const tl_signal_nodes *nodes = tl_circuit_nodes(circuit, signal);
    const int count = tl_net_param_count(tl_circuit_net(circuit));
    double *values = malloc((size_t)count * sizeof *values), volts[2];
    memcpy(values, tl_circuit_nominal(circuit), (size_t)count * sizeof *values);
    values[param] = value;
    const tl_net_state state = {values, tl_circuit_state(circuit, signal, 0)};
    const tl_figure figure = {.kind = TL_FIGURE_VOLTS, .of = nodes->pin, .less = tl_net_fixed(0)};
    CU_ASSERT(tl_island_figure(nodes->island, &state, figure, &volts[0]) == TL_NET_SOLVED);
    CU_ASSERT(tl_island_figure(tl_island_view(nodes->island, false), &state, figure, &volts[1]) ==
              TL_NET_SOLVED);
    free(values);
    return fabs(volts[0] - volts[1]);
}

/* What is left at the pin of 1 V on the sampling capacitor, a while after it was joined. */
static double apart_in_time(int signal, double seconds)
{
    const tl_signal_nodes *nodes = tl_circuit_nodes(circuit, signal);
    tl_island *islands[2] = {nodes->island, tl_island_view(nodes->island, true)};
    bool *closed = tl_circuit_state(circuit, signal, 0);
    double left[2];
    closed[nodes->sampling] = true;
    for (int i = 0; i < 2; i++) {
        const tl_net_state state = {tl_circuit_nominal(circuit), closed};
        double *volts = calloc((size_t)tl_island_size(islands[i]), sizeof *volts);
        tl_transient *t = tl_transient_new(islands[i], &state);
        tl_transient_settle(t, volts);
        volts[tl_island_index(islands[i], nodes->sampled)] += 1;
        tl_transient_step(t, seconds, volts);
        left[i] = volts[tl_island_index(islands[i], nodes->pin)];
        tl_transient_free(t);
        free(volts);
    }
    return fabs(left[0] - left[1]);
}

/* All beside a signal together is one resistor on a rail; where it is more than that, the whole is asked. */
static void a_view_acts_as_the_whole(void)
{
#define KNOB(name, pin) "  " name ": {source: {potentiometer: 10k ±20 %, top: feed}, pin: " pin "}\n"
#define DOOR "  c: {source: {contact: ground}, stages: [pull: {up: 10k ±1 %, to: feed}], pin: L11}\n"
    static const struct {
        const char *name, *carries, *beside;
        bool at_rest, in_time; /* it is the smaller one */
    } rows[] = {
        {"seven knobs behind a multiplexer", "",
         KNOB("b", "m.1") KNOB("d", "m.2") KNOB("e", "m.3") KNOB("f", "m.4") KNOB("g", "m.5") KNOB("h", "m.6")
             KNOB("i", "m.7"),
         true, true},
        {"a door, whose pin has a capacitance", "", KNOB("b", "m.1") DOOR, true, false},
        {"a feed that carries more", ", carries: 0 A .. 1 mA", KNOB("b", "m.1") DOOR, false, false},
        {"a drive from another supply", "",
         "  r: {source: {logic: field, high: 4.5 V, low: 0.3 V, drives: 5 mA}, stages: [guard: 10k, pull: "
         "{up: 4k7, to: feed}], pin: L10}\n",
         false, false},
    };
    char text[4000];
    for (size_t i = 0; i < ROWS(rows); i++) {
        snprintf(text, sizeof text,
                 HEAD "supplies: {field: 5 V ±5 %%}\nshared: {feed: {from: logic, series: 1k ±1 %%%s}}\n"
                      "muxes: {m: {part: " TL_SOURCE
                      "/demo/redshank.mux.yaml, supply: logic, select: [L20, L21, "
                      "L22], enable: L23, common: L4}}\nsignals:\n"
                      "  a: {source: {potentiometer: 5k ±10 %%, top: feed}, pin: m.0}\n%s",
                 rows[i].carries, rows[i].beside);
        open_plan(text);
        const tl_signal_nodes *nodes = tl_circuit_nodes(circuit, 0);
        CHECK_ROW(rows[i].name, (tl_island_view(nodes->island, false) != nodes->island) == rows[i].at_rest);
        CHECK_ROW(rows[i].name, (tl_island_view(nodes->island, true) != nodes->island) == rows[i].in_time);
        for (int step = 0; step <= 4; step++) {
            CHECK_ROW(rows[i].name, apart_at_rest(0, nodes->unknown, step / 4.0) < 1e-11);
            CHECK_ROW(rows[i].name,
                      apart_at_rest(0, tl_circuit_supply_param(circuit, 0), 3 + step / 4.0) < 1e-11);
            CHECK_ROW(rows[i].name, apart_in_time(0, 50e-9 * pow(4, step)) < 1e-9);
        }
        close_plan();
    }
}

CU_TestInfo others_tests[] = {
    {"a view acts as the whole", a_view_acts_as_the_whole},
    {"a panel on one feed is sound", a_panel_on_one_feed_is_sound},
    {"whatever others do", whatever_others_do},
    {"however many there are", however_many_there_are},
    {"between a feed and a return", between_a_feed_and_a_return},
    {"are what a pencil finds", are_what_a_pencil_finds},
    CU_TEST_INFO_NULL,
};
