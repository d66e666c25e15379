/* SPDX-License-Identifier: MIT */
/*
 * A trimmed reading: pairs taken on the bench with a meter that errs within its accuracy; afterwards the
 * truth lies within what is said, whatever parts were drawn, and much less is left than the tolerances alone
 * would leave. Held against the sum written out here for one code.
 */
#include "elaborate/circuit_struct.h"
#include "support.h"
#include "tinyladder/bench.h"
#include "tinyladder/design/calibration.h"
#include <math.h>
#include <stdio.h>
#include <string.h>

static char text[1500];

static bool from_a_drawer; /* the legs: with its tolerance and its drift */
static const char drawer[] =
    "tinyladder: drawer 1\nresistors: [{values: [10k, 62k], tolerance: 5 %, drift: 50 ppm/K}]\n";

static tl_plan *plan_with(const char *trim, const char *of)
{
    tl_report *report = tl_report_new();
    snprintf(text, sizeof text,
             "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE
             "/demo/lapwing.board.yaml\n%sambient: 20 .. 30 degC\nsupplies: "
             "{bat: 9 V .. 15 V}\nmeters: {hand: {accuracy: 0.1 %%, digits: 2, digit: 1 mV}}\nsignals: {bat: "
             "{source: "
             "{rail: bat}, stages: [divider: {upper: 62k%s, lower: 10k%s}], pin: L4, reference: "
             "inner, reading: "
             "{unit: V, of: %s, decimals: 3%s}}}\n",
             from_a_drawer ? "drawer: t.drawer.yaml\n" : "", from_a_drawer ? "" : " ±5 %",
             from_a_drawer ? "" : " ±5 %", of, trim);
    tl_report_allow_outside(report, true);
    tl_report_instead(report, "/nowhere/t.plan.yaml", text, strlen(text));
    tl_report_instead(report, "/nowhere/t.drawer.yaml", drawer, strlen(drawer));
    tl_plan *plan = tl_plan_load("/nowhere/t.plan.yaml", report);
    for (int i = 0; plan == NULL && i < tl_report_count(report); i++)
        printf("\n  %s", tl_report_finding(report, i)->cause);
    tl_report_free(report);
    return plan;
}

/* A reading of the mean of many, at this many volts of the battery, and what really was there. */
static double read_at(tl_circuit *circuit, unsigned long seed, double volts, bool pin, double *truth)
{
    tl_net *net = tl_circuit_net(circuit);
    const int supply = tl_circuit_param(circuit, "bat");
    double low, high;
    tl_net_param_span(net, supply, &low, &high);
    tl_net_set_param(net, supply, volts, volts, volts);
    tl_bench *bench = tl_bench_new(circuit, NULL, seed);
    tl_bench_reading r;
    (void)tl_bench_read_mean(bench, 0, 256, &r);
    *truth = pin ? tl_bench_pin_volts(bench, 0) : tl_bench_truth(bench, 0);
    tl_net_set_param(net, supply, low, (low + high) / 2, high);
    tl_bench_free(bench);
    return (double)r.count;
}

static void truth_lies_within(void)
{
    int narrower = 0, asked = 0;
    for (unsigned long seed = 1; seed <= 40; seed++) {
        const bool pin = seed % 4 == 0;
        const char *of = pin ? "pin" : "source";
        tl_plan *plain = plan_with("", of);
        tl_circuit *circuit = tl_circuit_new(plain);
        double truth[2], count[2];
        for (int i = 0; i < 2; i++)
            count[i] = read_at(circuit, seed, i == 0 ? 9.5 : 14.5, pin, &truth[i]);
        char trim[300];
        const double off = 1 + 0.0009 * ((double)(seed % 3) - 1);
        snprintf(trim, sizeof trim,
                 ", trim: {meter: hand, of: %s, points: [%.0f counts: %.3f V, %.0f counts: %.3f V]}", of,
                 count[0], truth[0] * off, count[1], truth[1] * off);
        tl_plan *trimmed = plan_with(trim, of);
        tl_circuit *after = tl_circuit_new(trimmed);
        for (double volts = 9.1; volts < 15; volts += 0.7) {
            double there;
            tl_value v, before;
            const double code = read_at(after, seed, volts, pin, &there);
            CU_ASSERT(tl_plan_value(after, 0, code, &v) == TL_NET_SOLVED);
            CU_ASSERT(tl_plan_value(circuit, 0, code, &before) == TL_NET_SOLVED);
            CU_ASSERT(v.value >= v.within.low && v.value <= v.within.high);
            const bool within = there >= v.within.low && there <= v.within.high;
            CU_ASSERT(within);
            if (!within)
                printf("\n  seed %lu, %g V: %.6g in %.6g .. %.6g (untrimmed %.6g .. %.6g)\n", seed, volts,
                       there, v.within.low, v.within.high, before.within.low, before.within.high);
            asked++;
            narrower += v.within.high - v.within.low < (before.within.high - before.within.low) / 2;
        }
        tl_circuit_free(after);
        tl_plan_free(trimmed);
        tl_circuit_free(circuit);
        tl_plan_free(plain);
    }
    CU_ASSERT(asked == 40 * 9 && narrower > asked / 2);
}

/* Between two points: weights of both, each with the meter, half a count and the nonlinearity; once more at
 * the code; the reference's drift over ten kelvin; the leakage of the pin through both legs, from end to end.
 */
static void limit_is_what_the_sum_says(void)
{
    tl_plan *plan =
        plan_with(", trim: {meter: hand, points: [2000 counts: 9 V, 3000 counts: 13.5 V]}", "source");
    tl_circuit *circuit = tl_circuit_new(plan);
    tl_value v;
    CU_ASSERT(tl_plan_value(circuit, 0, 2500, &v) == TL_NET_SOLVED);
    const double per_count = 4.5 / 1000, settled = tl_circuit_path(circuit, 0)->settling_counts;
    const double meter = 0.5 * (0.001 * 9 + 0.002) + 0.5 * (0.001 * 13.5 + 0.002);
    const double counts = (0.5 + 1.5) + (0.5 + 1.5 + settled), drift = 2500 * per_count * 20e-6 * 10;
    const double leakage = 100e-9 * 62e3; /* V = V(pin) (1 + Ru/Rl) + I Ru */
    CU_ASSERT(near(v.value, 11.25, 1e-9));
    CU_ASSERT(near(v.within.high - v.value, meter + counts * per_count + drift + leakage, 1e-6));
    const double without = v.within.high - v.value;
    tl_circuit_free(circuit);
    tl_plan_free(plan);
    /* The same legs out of a drawer that knows their drift, ten kelvin away: V = V(pin) (1 + Ru / Rl). */
    from_a_drawer = true;
    plan = plan_with(", trim: {meter: hand, points: [2000 counts: 9 V, 3000 counts: 13.5 V]}", "source");
    from_a_drawer = false;
    circuit = tl_circuit_new(plan);
    const double at_pin = 2500.0 / 4096 * 2.5, moved = 50e-6 * 10;
    CU_ASSERT(tl_plan_value(circuit, 0, 2500, &v) == TL_NET_SOLVED);
    CU_ASSERT(near(v.within.high - v.value - without, at_pin * 6.2 * (moved + (1 / (1 - moved) - 1)), 1e-4));
    tl_circuit_free(circuit);
    tl_plan_free(plan);
}

/* A quarter above what the legs allow: the meter is believed, as far as it goes to either side. */
static void the_meter_goes_before_the_parts(void)
{
    tl_plan *plan =
        plan_with(", trim: {meter: hand, points: [2000 counts: 11 V, 3000 counts: 16.5 V]}", "source");
    tl_circuit *circuit = tl_circuit_new(plan);
    tl_value v;
    CU_ASSERT(tl_plan_value(circuit, 0, 2200, &v) == TL_NET_SOLVED);
    CU_ASSERT(near(v.value, 12.1, 1e-9));
    CU_ASSERT(v.within.high - v.value > 0.02 && v.within.high - v.value < 0.1);
    CU_ASSERT(near(v.value - v.within.low, v.within.high - v.value, 1e-6));
    tl_circuit_free(circuit);
    tl_plan_free(plan);
}

CU_TestInfo trimmed_tests[] = {
    {"truth lies within", truth_lies_within},
    {"limit is what the sum says", limit_is_what_the_sum_says},
    {"the meter goes before the parts", the_meter_goes_before_the_parts},
    CU_TEST_INFO_NULL,
};
