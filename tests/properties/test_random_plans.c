/* SPDX-License-Identifier: MIT */
/*
 * Random plans: the bench and the corner bounds are worked out from one netlist by two ways that share little
 * else (a solution in time with every part drawn at random, against extremes over all corners), so they must
 * agree: typical within, never outside.
 */
#include "elaborate/circuit_struct.h"
#include "support.h"
#include "tinyladder/bench.h"
#include <math.h>
#include <stdarg.h>
#include <stdio.h>
#include <string.h>

enum { PLANS = 12, SIGNALS = 6, SEEDS = 3, TEXT = 8000 };

static int one_of(int count)
{
    return (int)even_between(0, count - 1e-9);
}

/* A value of ohms with a random tolerance: `12.3 kohm ±4 %`. */
static const char *ohms(double least, double most)
{
    static char text[8][48];
    static int next;
    char *t = text[next++ % 8];
    snprintf(t, sizeof text[0], "%.1f ohm ±%d %%", pow(10, even_between(log10(least), log10(most))),
             one_of(21));
    return t;
}

static void append(char *plan, const char *format, ...) __attribute__((format(printf, 2, 3)));
static void append(char *plan, const char *format, ...)
{
    va_list arguments;
    const size_t length = strlen(plan);
    va_start(arguments, format);
    vsnprintf(plan + length, TEXT - length, format, arguments);
    va_end(arguments);
}

static void add_source(char *plan, int i)
{
    switch (i) {
    case 0:
        append(plan, "{voltage: %.2f V .. %.2f V, resistance: %s}", even_between(-0.2, 1),
               even_between(1.1, 5), ohms(1, 1e5));
        break;
    case 1:
        append(plan, "{potentiometer: %s, top: %s}", ohms(1e3, 1e6), one_of(2) ? "logic" : "feed");
        break;
    case 2:
        append(plan, "{resistance: %.0f ohm .. %.0f ohm, to: %s}", even_between(0, 500),
               even_between(1e3, 1e5), one_of(2) ? "ground" : "wire");
        break;
    case 3:
        append(plan, "{current: 4 mA .. 20 mA}");
        break;
    case 4:
        append(plan, "{rail: soft}");
        break;
    default:
        append(plan, "{voltage: 0 V .. 3 V, return: wire}");
        break;
    }
}

static void add_stages(char *plan, int source)
{
    append(plan, "[");
    if (source == 2)
        append(plan, "partner: {upper: %s, to: logic}, ", ohms(500, 5e4));
    if (source == 3)
        append(plan, "load: %s, ", ohms(50, 150));
    if (one_of(2))
        append(plan, "divider: {upper: %s, lower: %s, to: %s}, ", ohms(1e3, 1e5), ohms(1e3, 1e5),
               one_of(2) ? "ground" : "logic");
    if (one_of(3) == 0)
        append(plan, "follower: {supply: soft, bias: 3 nA, offset: ±2 mV}, ");
    if (one_of(2))
        append(plan, "filter: {series: %s, capacitor: %d pF ±20 %%}, ", ohms(100, 1e4), 10 + one_of(1000));
    if (one_of(3) == 0)
        append(plan, "pull: {down: %s, to: ground}, ", ohms(1e4, 1e6));
    append(plan, "series: %s]", ohms(10, 1e3));
}

/* Six analog signals, half of them behind a multiplexer, on soft and shared rails. */
static void make_plan(char *plan)
{
    static const char *const pins[] = {"L4", "L16", "L17"};
    plan[0] = '\0';
    append(plan,
           "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE
           "/demo/lapwing.board.yaml\nsupplies: {soft: {voltage: 4.5 V .. 5.5 V, "
           "resistance: 1 ohm .. 20 ohm}}\nshared: {feed: {from: logic, series: %s}, wire: {from: ground, "
           "series: 50 mohm .. 200 "
           "mohm, carries: -0.5 A .. 1 A}}\nsignals:\n",
           ohms(100, 5e3));
    for (int i = 0; i < SIGNALS; i++) {
        append(plan, "  s%d: {source: ", i);
        add_source(plan, i);
        append(plan, ", stages: ");
        add_stages(plan, i);
        if (i % 2 == 0)
            append(plan, ", pin: %s}\n", pins[i / 2]);
        else
            append(plan, ", pin: bank.%d}\n", i);
    }
    append(plan,
           "muxes: {bank: {part: " TL_SOURCE
           "/demo/redshank.mux.yaml, supply: logic, select: [L20, L21, L22], enable: L23, common: L6}}\n");
}

/* Every unknown anywhere in its range, the corners' too. */
static void turn_everything(tl_circuit *circuit)
{
    for (int i = 0; i < SIGNALS; i++) {
        double low, high;
        const int unknown = tl_circuit_nodes(circuit, i)->unknown;
        tl_net_param_span(tl_circuit_net(circuit), unknown, &low, &high);
        tl_net_set_param(tl_circuit_net(circuit), unknown, low,
                         one_of(3) == 0 ? high : even_between(low, high), high);
    }
}

static void compare(tl_circuit *circuit, const tl_worst_case *const *worst, unsigned long seed,
                    const char *text)
{
    tl_bench *bench = tl_bench_new(circuit, NULL, seed);
    for (int i = 0; i < SIGNALS; i++) {
        tl_bench_reading reading;
        const bool routed = tl_circuit_nodes(circuit, i)->route_length > 0;
        CU_ASSERT(tl_bench_read(bench, i, &reading) == TL_NET_SOLVED && reading.status == TL_OK);
        const double volts = tl_bench_pin_volts(bench, i),
                     slack = 1e-7 + (routed ? 1e-5 : 0); /* what it still settles */
        /* Beyond the pin's limit its clamp conducts, and holds it there. */
        const double least = fmin(worst[i]->volts.low, 3.3 * 0.98 + 0.3);
        const bool within = volts >= least - slack && volts <= worst[i]->volts.high + slack;
        CHECK_ROW("the pin lies within its corners", within);
        const double truth =
            tl_bench_truth(bench, i) *
            (tl_circuit_plan(circuit)->signals[i].source.kind == TL_SOURCE_POTENTIOMETER ? 100 : 1);
        const bool known = truth >= reading.is.within.low - 1e-9 && truth <= reading.is.within.high + 1e-9;
        CHECK_ROW("the truth lies within the interval",
                  known || tl_circuit_path(circuit, i)->settling_counts > 100);
        if (!within || (!known && tl_circuit_path(circuit, i)->settling_counts <= 100))
            printf("\n  s%d, seed %lu: %.9g V in %.9g .. %.9g; truth %.9g in %.9g .. %.9g\n%s", i, seed,
                   volts, worst[i]->volts.low, worst[i]->volts.high, truth, reading.is.within.low,
                   reading.is.within.high, text);
    }
    tl_bench_free(bench);
}

static void bench_and_corners_agree(void)
{
    static char text[TEXT];
    for (int n = 0; n < PLANS; n++) {
        tl_report *report = tl_report_new();
        make_plan(text);
        tl_plan *plan = tl_plan_load(scratch_file("random.plan.yaml", text, strlen(text)), report);
        CU_ASSERT_FATAL(plan != NULL);
        plan->board->converter.noise = 0;
        tl_circuit *circuit = tl_circuit_new(plan);
        const tl_worst_case *worst[SIGNALS];
        for (int i = 0; i < SIGNALS; i++) {
            worst[i] = tl_circuit_worst_case(circuit, i, 0);
            CU_ASSERT(worst[i]->fault == TL_NET_SOLVED);
            CU_ASSERT(worst[i]->volts.low <= worst[i]->volts.nominal + 1e-12 &&
                      worst[i]->volts.nominal <= worst[i]->volts.high + 1e-12);
            (void)tl_circuit_path(circuit, i);
        }
        for (unsigned long seed = 0; seed < SEEDS; seed++) {
            turn_everything(circuit);
            compare(circuit, worst, seed, text);
        }
        tl_circuit_free(circuit);
        tl_plan_free(plan);
        tl_report_free(report);
    }
}

CU_TestInfo random_plan_tests[] = {
    {"bench and corners agree", bench_and_corners_agree},
    CU_TEST_INFO_NULL,
};
