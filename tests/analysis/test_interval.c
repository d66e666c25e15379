/* SPDX-License-Identifier: MIT */
/* The interval of a reading is guaranteed: whatever the parts of the bench really are, the truth lies in it.
 */
#include "elaborate/circuit_struct.h"
#include "support.h"
#include "tinyladder/bench.h"
#include "tinyladder/design/calibration.h"
#include "tinyladder/filter.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
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

/* A mean lies between two codes: its interval holds those of both. */
static void a_mean_has_the_interval_of_both_its_codes(void)
{
    tl_plan *plan = load_without_noise(
        HEAD
        "signals: {s: {source: {voltage: 0 V .. 3 V, resistance: 1k ±1 %}, pin: L4, reading: {unit: V}}}\n");
    tl_circuit *circuit = tl_circuit_new(plan);
    for (int code = 1; code < 4000; code += 371) {
        tl_value below, mean, above;
        CU_ASSERT(tl_plan_value(circuit, 0, code, &below) == TL_NET_SOLVED &&
                  tl_plan_value(circuit, 0, code + 0.5, &mean) == TL_NET_SOLVED &&
                  tl_plan_value(circuit, 0, code + 1, &above) == TL_NET_SOLVED);
        CU_ASSERT(near(mean.within.low, below.within.low, 1e-9) &&
                  near(mean.within.high, above.within.high, 1e-9) && above.within.high > below.within.high);
    }
    tl_circuit_free(circuit);
    tl_plan_free(plan);
}

/* Both phases by small steps: the common line alone through the source, then the sampling capacitor across
 * it. */
static double left_after(double ohms, double line, double dwell, double acquisition)
{
    static const double cs = 12e-12, rs = 1500;
    const int steps = 200000;
    const double through = ohms + 200;
    double at_line = exp(-dwell / (through * line)), held = 1;
    for (int i = 0; i < steps; i++) { /* halfway values: second order */
        const double dt = acquisition / steps;
        const double line_1 = at_line + dt / 2 * (-at_line / through - (at_line - held) / rs) / line,
                     held_1 = held + dt / 2 * (at_line - held) / (rs * cs);
        at_line += dt * (-line_1 / through - (line_1 - held_1) / rs) / line;
        held += dt * (line_1 - held_1) / (rs * cs);
    }
    return held;
}

/* Dwell and acquisition together leave half a count, and not much less; the pair is the quickest on offer. */
static void a_dwell_is_as_long_as_it_must(void)
{
    static const double ohms[] = {1e3, 4.7e3, 22e3, 60e3, 80e3},
                        offered[] = {0.3e-6, 1e-6, 3e-6, 10e-6, 30e-6};
    for (size_t i = 0; i < ROWS(ohms); i++) {
        char text[600];
        snprintf(
            text, sizeof text,
            HEAD
            "signals: {s: {source: {voltage: 0 V .. 3 V, resistance: %.0f ohm}, pin: bank.0}}\nmuxes: {bank: "
            "{part: " TL_SOURCE "/demo/redshank.mux.yaml, supply: logic, select: [L20, L21, L22], enable: "
            "L23, common: L6}}\n",
            ohms[i]);
        tl_plan *plan = load_without_noise(text);
        tl_circuit *circuit = tl_circuit_new(plan);
        const tl_analog_path *path = tl_circuit_path(circuit, 0);
        const double line = 25e-12 + 7e-12; /* the multiplexer's common line and the pin */
        const double away = 4096;           /* down from the reference, whatever it is */
        const double left = away * left_after(ohms[i], line, path->dwell, path->acquisition);
        CHECK_ROW(text,
                  path->fault == TL_NET_SOLVED && left <= 0.501 && near(left, path->settling_counts, 5e-3));
        if (!(left <= 0.501 && near(left, path->settling_counts, 5e-3)))
            printf("\n  %g ohm: %g s and %g s leave %g counts, by steps %g\n", ohms[i], path->dwell,
                   path->acquisition, path->settling_counts, left);
        if (path->dwell > 0) /* a little less would not do */
            CHECK_ROW(text, away * left_after(ohms[i], line, 0.95 * path->dwell, path->acquisition) > 0.5);
        for (size_t k = 0; k < ROWS(offered); k++) /* a quicker pair that does it as well there is not */
            CHECK_ROW(text, offered[k] >= 0.97 * (path->dwell + path->acquisition) ||
                                away * left_after(ohms[i], line,
                                                  0.97 * (path->dwell + path->acquisition) - offered[k],
                                                  offered[k]) >
                                    0.5);
        tl_circuit_free(circuit);
        tl_plan_free(plan);
    }
}

/* Sampled again and again, a capacitor at the pin gives so much charge each time, and gets it back through
 * the source: in the end the drop is what the mean current makes, and what one sample takes of the capacitor
 * on top. */
static void a_capacitor_that_is_pumped(void)
{
    static const double every[] = {50e-6, 1e-3, 100e-3};
    for (size_t i = 0; i < ROWS(every); i++) {
        char text[700];
        snprintf(text, sizeof text,
                 HEAD "sweeps: {all: {signals: [t, s], every: %.9f s}}\nsignals:\n  s: {source: {voltage: 2 "
                      "V, resistance: 100k}, "
                      "stages: [capacitor: 100 nF], pin: L4, acquisition: 3 us}\n  t: {source: {voltage: 0 V "
                      ".. 1 V}, pin: L5}\n",
                 every[i]);
        tl_plan *plan = load_without_noise(text);
        tl_circuit *circuit = tl_circuit_new(plan);
        const tl_analog_path *path = tl_circuit_path(circuit, 0);
        /* Each period: the sampling capacitor comes 2 V away and shares; then exp(-T / RC) of the loss is
         * left. */
        const double share = 12e-12 / (100e-9 + 7e-12 + 12e-12), kept = exp(-every[i] / (100e3 * 100.007e-9));
        double lost = 0;
        for (int n = 0; n < 200000; n++)
            lost = lost * (1 - share) * kept + share * kept;
        const double left = (lost * (1 - share) + share) * 2 / (3.3 * 0.98) * 4096;
        CHECK_ROW(text, path->fault == TL_NET_SOLVED && near(left, path->settling_counts, 5e-3));
        if (!near(left, path->settling_counts, 5e-3))
            printf("\n  every %g s: %g counts, by steps %g\n", every[i], path->settling_counts, left);
        tl_circuit_free(circuit);
        tl_plan_free(plan);
    }
}

/* Where a sweep gives the order, the capacitor comes from the channel before, and conversions that are thrown
 * away count. */
static void a_known_neighbour_and_a_discard_count(void)
{
    static const struct {
        const char *sweeps;
        double away; /* volts */
        int conversions;
    } rows[] = {
        {"", 2, 1},
        {"sweeps: {all: {signals: [u, s, t], every: 10 ms}}\n", 0.5, 1},
        {"sweeps: {all: {signals: [t, s], every: 10 ms}}\n", 2, 1},
        {"sweeps: {all: {signals: [t, s], discard: 1, every: 10 ms}}\n", 2, 2},
        {"sweeps: {all: {signals: [t, s], discard: 1, every: 1 s}, one: {signals: [s], every: 1 s}}\n", 2, 1},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char text[600];
        snprintf(text, sizeof text,
                 HEAD
                 "%ssignals:\n  s: {source: {voltage: 2 V, resistance: 22k}, pin: L4, acquisition: 1 us}\n"
                 "  t: {source: {voltage: 0 V .. 1 V}, pin: L5}\n  u: {source: {voltage: 1.5 V .. 2.2 V}, "
                 "pin: L6}\n",
                 rows[i].sweeps);
        tl_plan *plan = load_without_noise(text);
        tl_circuit *circuit = tl_circuit_new(plan);
        const tl_analog_path *path = tl_circuit_path(circuit, 0);
        /* Pin 7 pF, sampling 12 pF behind 1.5 kohm; between the conversions 1 us apart. */
        double pin = 0, held = 1;
        for (int conversion = 0; conversion < rows[i].conversions; conversion++) {
            if (conversion > 0)
                pin *= exp(-1e-6 / (22e3 * 7e-12));
            for (int k = 0; k < 100000; k++) {
                const double dt = 1e-6 / 100000;
                const double flow = (held - pin) / 1500;
                pin += dt * (flow - pin / 22e3) / 7e-12;
                held -= dt * flow / 12e-12;
            }
        }
        const double left = held * rows[i].away / (3.3 * 0.98) * 4096;
        CHECK_ROW(text, path->fault == TL_NET_SOLVED && near(left, path->settling_counts, 3e-3));
        if (!near(left, path->settling_counts, 3e-3))
            printf("\n  %g counts, by steps %g\n", path->settling_counts, left);
        tl_circuit_free(circuit);
        tl_plan_free(plan);
    }
}

/* Five pairs on a line but for one: it is named from a few counts on, not only when nobody could miss it. */
static void a_pair_that_is_off_is_named(void)
{
    tl_plan *plan = load_without_noise(
        HEAD "signals: {s: {source: {voltage: 0 V .. 3 V}, pin: L4, reading: {unit: V}}}\n");
    tl_circuit *circuit = tl_circuit_new(plan);
    for (int counts = 0; counts <= 30; counts += 2) {
        tl_trim_pair pairs[5];
        tl_trim_line line;
        for (int i = 0; i < 5; i++)
            pairs[i] =
                (tl_trim_pair){500.0 + 700 * i, (500.0 + 700 * i + (i == 2 ? counts : 0)) * 3.3 / 4096};
        const tl_trim_fault fault = tl_trim_fit(circuit, 0, true, pairs, 5, &line);
        CU_ASSERT(fault == (counts > 3 ? TL_TRIM_WILD : TL_TRIM_GOOD) && line.which == (counts > 3 ? 2 : -1));
    }
    tl_circuit_free(circuit);
    tl_plan_free(plan);
}

/* A reference drifts as far as the temperature that is farther from 25 degC takes it. */
static void a_reference_drifts_both_ways(void)
{
    static const struct {
        const char *ambient;
        double kelvins;
    } rows[] = {{"-25 .. 45 degC", 50}, {"15 .. 85 degC", 60}, {"20 .. 30 degC", 5}};
    for (size_t i = 0; i < ROWS(rows); i++) {
        char text[400];
        snprintf(
            text, sizeof text,
            HEAD
            "ambient: %s\nconverters: {main: {reference: inner}}\nsignals: {s: {source: {voltage: 0 V .. 2 "
            "V}, pin: L4}}\n",
            rows[i].ambient);
        tl_plan *plan = load_without_noise(text);
        tl_circuit *circuit = tl_circuit_new(plan);
        double low, high;
        tl_net_param_span(tl_circuit_net(circuit), tl_circuit_nodes(circuit, 0)->reference, &low, &high);
        CHECK_ROW(rows[i].ambient, near(low, 2.49 * (1 - 20e-6 * rows[i].kelvins), 1e-9) &&
                                       near(high, 2.51 * (1 + 20e-6 * rows[i].kelvins), 1e-9));
        tl_circuit_free(circuit);
        tl_plan_free(plan);
    }
}

/* Two parts of a drawer as one: their tolerances in series, and in parallel. */
static void joined_parts_keep_their_tolerance(void)
{
    tl_plan *plan = load_without_noise(
        HEAD "drawer: " TL_SOURCE
             "/demo/bench.drawer.yaml\nsignals: {s: {source: {voltage: 0 V .. 9 V}, stages: "
             "[divider: {upper: 22k + 10k, lower: 10k || 10k}], pin: L4}}\n");
    const tl_stage *divider = &plan->signals[0].stages[0];
    CU_ASSERT(near(divider->first.value.low, 32e3 * 0.99, 1e-9) &&
              near(divider->first.value.high, 32e3 * 1.01, 1e-9));
    CU_ASSERT(near(divider->second.value.low, 5e3 * 0.99, 1e-9) &&
              near(divider->second.value.high, 5e3 * 1.01, 1e-9));
    tl_plan_free(plan);
}

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
        const int unknown = tl_circuit_nodes(circuit, 0)->unknown;
        double low, high, widest = 0;
        tl_net_param_span(tl_circuit_net(circuit), unknown, &low, &high);
        for (unsigned long seed = 0; seed < SEEDS; seed++) {
            tl_net_set_param(tl_circuit_net(circuit), unknown, low, even_between(low, high), high);
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

/* A step fed to the core's own filters: no more than a hundredth of it is left after this many samples, and
 * more one sample before. */
static void a_step_takes_as_many_samples_as_said(void)
{
    const tl_sample step = {1000000, 0, 0};
    for (uint8_t depth = 1; depth <= 8; depth++) {
        const tl_plan_reading reading = {.average = TL_AVERAGE_EXPONENTIAL, .samples = 1 << depth};
        const int said = (int)tl_reading_samples(&reading, 0.01);
        tl_exponential filter;
        tl_sample at = {0}, before = {0};
        CU_ASSERT(tl_exponential_init(&filter, depth) == TL_OK);
        tl_exponential_feed(&filter, &(tl_sample){0}, &at);
        for (int i = 0; i < said; i++) {
            before = at;
            tl_exponential_feed(&filter, &step, &at);
        }
        CU_ASSERT(at.value >= 990000 - 1 && before.value < 990000);
    }
    for (uint8_t size = 1; size <= 31; size += 2) {
        for (int median = 0; median < 2; median++) {
            const tl_plan_reading reading = {.average = median ? TL_AVERAGE_MEDIAN : TL_AVERAGE_ROLLING,
                                             .samples = size};
            const int said = (int)tl_reading_samples(&reading, 0.01);
            tl_sample room[31], at = {0}, before = {0};
            tl_window window;
            CU_ASSERT(tl_window_init(&window, room, size) == TL_OK);
            for (int i = 0; i < size + said; i++) {
                before = at;
                tl_window_feed(&window, i < size ? &(tl_sample){0} : &step);
                CU_ASSERT((median ? tl_window_median(&window, &at) : tl_window_mean(&window, &at)) == TL_OK);
            }
            CU_ASSERT(at.value >= 990000 && before.value < 990000);
        }
    }
}

/* Beyond the points of a table, and beyond what a formula is stated over, the truth may lie anywhere. */
static void a_law_ends_with_at_or_beyond(void)
{
    static const struct {
        const char *name, *source, *partner;
        double low_code, high_code; /* beyond either end; the quantity rises with the code where the sensor is
                                       below and its ohms rise */
        bool rises;
    } rows[] = {
        {"a table that falls, below its partner", "resistance: ntc.table.csv, law: ln",
         "upper: 10k ±1 %, to: logic", 500, 4000, false},
        {"and above it", "to: logic, resistance: ntc.table.csv, law: ln", "lower: 10k ±1 %", 100, 3600, true},
        {"platinum", "resistance: 100 ohm, law: platinum", "upper: 100 ohm ±1 %, to: logic", 300, 3500, true},
    };
    char *table = text_of(TL_SOURCE "/demo/ntc-10k.table.csv");
    (void)scratch_file("ntc.table.csv", table, strlen(table));
    free(table);
    for (size_t i = 0; i < ROWS(rows); i++) {
        char text[900];
        tl_value low, high, middle;
        snprintf(text, sizeof text,
                 HEAD "signals: {s: {source: {%s, over: 0 .. 50 degC}, stages: [partner: {%s}], pin: L4, "
                      "reading: {unit: "
                      "degC}}}\n",
                 rows[i].source, rows[i].partner);
        tl_plan *plan = load_without_noise(text);
        tl_circuit *circuit = tl_circuit_new(plan);
        CHECK_ROW(rows[i].name, tl_plan_value(circuit, 0, rows[i].low_code, &low) == TL_NET_SOLVED &&
                                    tl_plan_value(circuit, 0, rows[i].high_code, &high) == TL_NET_SOLVED &&
                                    tl_plan_value(circuit, 0, 2100, &middle) == TL_NET_SOLVED);
        const tl_interval *cold = rows[i].rises ? &low.within : &high.within,
                          *hot = rows[i].rises ? &high.within : &low.within;
        CHECK_ROW(rows[i].name, isinf(cold->low) && cold->low < 0 && isfinite(cold->high));
        CHECK_ROW(rows[i].name, isinf(hot->high) && hot->high > 0 && isfinite(hot->low));
        CHECK_ROW(rows[i].name, isfinite(middle.within.low) && isfinite(middle.within.high));
        tl_circuit_free(circuit);
        tl_plan_free(plan);
    }
}

CU_TestInfo interval_tests[] = {
    {"a law ends with at or beyond", a_law_ends_with_at_or_beyond},
    {"a step takes as many samples as said", a_step_takes_as_many_samples_as_said},
    {"buttons have no unknown", buttons_have_no_unknown},
    {"a mean has the interval of both its codes", a_mean_has_the_interval_of_both_its_codes},
    {"a dwell is as long as it must", a_dwell_is_as_long_as_it_must},
    {"a known neighbour and a discard count", a_known_neighbour_and_a_discard_count},
    {"a pair that is off is named", a_pair_that_is_off_is_named},
    {"a reference drifts both ways", a_reference_drifts_both_ways},
    {"joined parts keep their tolerance", joined_parts_keep_their_tolerance},
    {"the truth lies in it", the_truth_lies_in_it},
    {"a ratio does not feel the supply", a_ratio_does_not_feel_the_supply},
    {"a capacitor that is pumped", a_capacitor_that_is_pumped},
    CU_TEST_INFO_NULL,
};
