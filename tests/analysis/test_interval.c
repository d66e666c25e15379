/* The interval of a reading is guaranteed: whatever the parts of the bench really are, the truth lies in it.
 */
#include "support.h"
#include "tinyladder/bench.h"
#include <math.h>
#include <string.h>

/* The demo board's converter without noise, which is outside the guarantee. */
static tl_plan *load_without_noise(const char *text)
{
    tl_report *report = tl_report_new();
    tl_plan *plan = tl_plan_load(scratch_file("interval.plan.yaml", text, strlen(text)), report);
    CU_ASSERT_FATAL(plan != NULL);
    plan->board->converter.noise = 0;
    tl_report_free(report);
    return plan;
}

#define HEAD "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\n"

static void the_truth_lies_in_it(void)
{
    static const char *const plans[] = {
        HEAD
        "supplies: {battery: 10.5 V .. 14.8 V}\nsignals: {s: {source: {rail: battery}, stages: [divider: "
        "{upper: 47k ±5 %, lower: 10k ±5 %}, filter: {series: 1k ±5 %, capacitor: 220n ±20 %}], pin: L4}}\n",
        HEAD "signals: {s: {source: {potentiometer: 10k ±20 %, top: logic}, pin: L4}}\n",
        HEAD "converters: {main: {reference: inner}}\nsignals: {s: {source: {potentiometer: 47k ±20 %, top: "
             "logic, end: 0 ohm .. 100 ohm}, stages: [series: 1k ±1 %], pin: L4}}\n",
        HEAD "signals: {s: {source: {voltage: -1 V .. 2 V, resistance: 90 ohm .. 110 ohm}, stages: [divider: "
             "{upper: 10k ±1 %, lower: 10k ±1 %, to: logic}], pin: L4}}\n",
        HEAD "signals: {s: {source: {resistance: 1k .. 50k, to: ground, lead: 0 ohm .. 2 ohm}, stages: "
             "[partner: {upper: 10k ±1 %, to: logic}], pin: L4}}\n",
        HEAD "converters: {main: {reference: inner}}\nsignals: {s: {source: {resistance: 1k .. 50k, to: "
             "logic}, stages: [partner: {lower: 4k7 ±5 %}], pin: L4}}\n",
        HEAD "signals: {s: {source: {current: 4 mA .. 20 mA}, stages: [load: 130 ohm ±1 %, series: 1k ±1 %], "
             "pin: L4}}\n",
        "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE "/demo/plover.board.yaml\n"
        "signals: {s: {source: {potentiometer: 22k ±20 %, top: logic}, stages: [guard: 1k ±1 %], pin: P8}}\n",
    };
    enum { SEEDS = 100 };
    for (size_t p = 0; p < ROWS(plans); p++) {
        tl_plan *plan = load_without_noise(plans[p]);
        tl_circuit *circuit = tl_circuit_new(plan);
        const int unknown = circuit->signals[0].unknown;
        double low, high, widest = 0;
        tl_net_param_span(circuit->net, unknown, &low, &high);
        for (unsigned long seed = 0; seed < SEEDS; seed++) {
            tl_net_set_param(circuit->net, unknown, low, even_between(low, high), high);
            tl_bench *bench = tl_bench_new(circuit, NULL, seed);
            tl_bench_reading reading;
            CU_ASSERT(tl_bench_read(bench, 0, &reading) == TL_NET_SOLVED && reading.status == TL_OK);
            const double truth = tl_bench_truth(bench, 0) *
                                 (plan->signals[0].source.kind == TL_SOURCE_POTENTIOMETER ? 100 : 1);
            CU_ASSERT(truth >= reading.is.within.low && truth <= reading.is.within.high);
            const double volts = tl_bench_pin_volts(bench, 0);
            CU_ASSERT(volts >= reading.is.pin_within.low && volts <= reading.is.pin_within.high);
            if (isfinite(reading.is.within.high) && isfinite(reading.is.within.low))
                widest = fmax(widest, reading.is.within.high - reading.is.within.low);
            tl_bench_free(bench);
        }
        CU_ASSERT(widest < (high - low) * (plan->signals[0].source.kind == TL_SOURCE_POTENTIOMETER
                                               ? 100
                                               : 1)); /* and it says something */
        tl_circuit_free(circuit);
        tl_plan_free(plan);
    }
}

/* A track on the reference's own rail does not depend on the rail: a fraction of a percent is left. */
static void a_ratio_does_not_feel_the_supply(void)
{
    tl_plan *plan =
        load_without_noise(HEAD "signals: {s: {source: {potentiometer: 10k ±20 %, top: logic}, pin: L4}}\n");
    tl_circuit *circuit = tl_circuit_new(plan);
    const tl_analog_path *path = tl_circuit_path(circuit, 0);
    tl_interval travel, pin;
    CU_ASSERT(path->fault == TL_NET_SOLVED);
    CU_ASSERT(tl_plan_interval(circuit, 0, path, 2048, &travel, &pin) == TL_NET_SOLVED);
    CU_ASSERT(travel.low < 0.5 && travel.high > 0.5 && travel.high - travel.low < 0.0035);
    CU_ASSERT(pin.high - pin.low > 0.06); /* the volts do: 4 % of half the span */
    CU_ASSERT(tl_plan_interval(circuit, 0, path, 0, &travel, &pin) == TL_NET_SOLVED);
    CU_ASSERT(travel.low == 0 && pin.low == -(double)INFINITY);
    CU_ASSERT(tl_plan_interval(circuit, 0, path, 4095, &travel, &pin) == TL_NET_SOLVED);
    CU_ASSERT(travel.high == 1 && pin.high == (double)INFINITY);
    tl_circuit_free(circuit);
    tl_plan_free(plan);
}

/* Buttons on one pin have no unknown: only the pin's volts have an interval, and nothing else is written to.
 */
static void buttons_have_no_unknown(void)
{
    tl_report *report = tl_report_new();
    tl_plan *plan = tl_plan_load(TL_SOURCE "/demo/fernhill.plan.yaml", report);
    tl_circuit *circuit = tl_circuit_new(plan);
    int keypad = -1;
    double alone = 0;
    tl_interval unknown = {7, 7}, pin = {7, 7};
    CU_ASSERT_FATAL(tl_plan_signal(plan, "keypad", &keypad) != NULL);
    const tl_analog_path *path = tl_circuit_path(circuit, keypad);
    for (long count = path->first_code; count <= path->last_code; count += 315) {
        CU_ASSERT(tl_plan_interval(circuit, keypad, path, count, &unknown, &pin) == TL_NET_SOLVED);
        CU_ASSERT(isnan(unknown.low) && isnan(unknown.high) && pin.low < pin.high);
        CU_ASSERT(tl_plan_unknown(circuit, keypad, path, (double)count, &alone) == TL_NET_SOLVED &&
                  isnan(alone));
    }
    tl_circuit_free(circuit);
    tl_plan_free(plan);
    tl_report_free(report);
}

CU_TestInfo interval_tests[] = {
    {"buttons have no unknown", buttons_have_no_unknown},
    {"the truth lies in it", the_truth_lies_in_it},
    {"a ratio does not feel the supply", a_ratio_does_not_feel_the_supply},
    CU_TEST_INFO_NULL,
};
