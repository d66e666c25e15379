/* SPDX-License-Identifier: MIT */
/* What takes how many counts, against closed forms, and against what the bench reads. */
#include "support.h"
#include "tinyladder/design/measurement.h"
#include <math.h>
#include <stdio.h>
#include <string.h>
#include <tinyladder/bench.h>

static tl_circuit *circuit_of(const char *signals, tl_plan **plan)
{
    char text[1500];
    snprintf(text, sizeof text, "tinyladder: plan 1\nboard: %s/demo/lapwing.board.yaml\n%s", TL_SOURCE,
             signals);
    scratch_file("why.plan.yaml", text, strlen(text));
    tl_report *report = tl_report_new();
    *plan = tl_plan_load(TL_SCRATCH "/why.plan.yaml", report);
    tl_report_free(report);
    return *plan != NULL ? tl_circuit_new(*plan) : NULL;
}

static const tl_effect *effect(const tl_effect *effects, int count, const char *what)
{
    static const tl_effect none = {"", NAN, NAN};
    for (int i = 0; i < count; i++) {
        if (strcmp(effects[i].what, what) == 0)
            return &effects[i];
    }
    return &none;
}

static bool close_to(double is, double wanted)
{
    return fabs(is - wanted) < 1e-6 * (1 + fabs(wanted));
}

/* 40 ohm at either end of 10 kohm are 16 counts of 4096 at the end of the travel, and half of it in the
 * middle. */
static void ends_of_a_track(void)
{
    tl_plan *plan;
    tl_circuit *circuit = circuit_of(
        "signals: {knob: {source: {potentiometer: 10k, top: logic, end: 40 ohm}, pin: L4}}\n", &plan);
    tl_effect effects[32];
    double ideal;
    CU_ASSERT_FATAL(circuit != NULL);
    for (int step = 0; step <= 4; step++) {
        const double travel = step / 4.0, counts = 4096;
        const int count = tl_plan_why(circuit, 0, travel, effects, 32, &ideal);
        CU_ASSERT_FATAL(count > 3);
        CU_ASSERT(close_to(ideal, counts * travel));
        /* One end by itself: the track and that end make the divider. */
        const double top = counts * (10e3 * travel / 10040 - travel),
                     bottom = counts * ((10e3 * travel + 40) / 10040 - travel);
        const tl_effect *at_top = effect(effects, count, "end resistance of the track at 100 %"),
                        *at_bottom = effect(effects, count, "end resistance of the track at 0 %");
        CU_ASSERT(travel == 0 || (close_to(at_top->low, top) && close_to(at_top->high, top)));
        CU_ASSERT(travel == 1 || close_to(at_bottom->high, bottom));
        CU_ASSERT(close_to(effect(effects, count, "offset of the ADC")->high, 2));
        /* 50 nA through the track's own divider. */
        const double leak = counts * 50e-9 * 10e3 * travel * (1 - travel) / 3.3;
        CU_ASSERT(leak < 0.005 || close_to(effect(effects, count, "leakage of the pin")->high, leak));
        for (int i = 1; i < count; i++)
            CU_ASSERT(fmax(fabs(effects[i].low), fabs(effects[i].high)) <=
                      fmax(fabs(effects[i - 1].low), fabs(effects[i - 1].high)));
    }
    const double end = effect(effects, tl_plan_why(circuit, 0, 1, effects, 32, &ideal),
                              "end resistance of the track at 100 %")
                           ->low;
    CU_ASSERT(end < -16 && end > -16.5);
    tl_circuit_free(circuit);
    tl_plan_free(plan);
}

/* Tolerances and supplies of what is not ratiometric. */
static void a_divider(void)
{
    tl_plan *plan;
    tl_circuit *circuit =
        circuit_of("supplies: {cell: {voltage: 3 V .. 5 V}}\nsignals: {cell: {source: {rail: cell}, stages: "
                   "[divider: {upper: 10k ±1 %, lower: 10k ±2 %}], pin: L4}}\n",
                   &plan);
    tl_effect effects[32];
    double ideal;
    CU_ASSERT_FATAL(circuit != NULL);
    const int count = tl_plan_why(circuit, 0, 4, effects, 32, &ideal);
    const double full = 4096 / 3.3, nominal = 2 * full;
    CU_ASSERT(count > 4 && close_to(ideal, nominal));
    const tl_effect *upper = effect(effects, count, "tolerance of divider.upper"),
                    *lower = effect(effects, count, "tolerance of divider.lower");
    CU_ASSERT(close_to(upper->low, full * 4 * 10 / 20.1 - nominal) &&
              close_to(upper->high, full * 4 * 10 / 19.9 - nominal));
    CU_ASSERT(close_to(lower->low, full * 4 * 9.8 / 19.8 - nominal) &&
              close_to(lower->high, full * 4 * 10.2 / 20.2 - nominal));
    const tl_effect *logic = effect(effects, count, "voltage of logic");
    CU_ASSERT(close_to(logic->low, 4096 * 2 / 3.366 - nominal) &&
              close_to(logic->high, 4096 * 2 / 3.234 - nominal));
    tl_circuit_free(circuit);
    tl_plan_free(plan);
}

/* Two rooms: what is lost for sure is what a bench with nominal parts reads less. */
static void the_bench_agrees(void)
{
    static const char *const signals[] = {"roof-position", "paddle-x", "wind-vane", "house-battery",
                                          "mirror-temperature"};
    tl_report *report = tl_report_new();
    tl_plan *plan = tl_plan_load(TL_SOURCE "/demo/fernhill.plan.yaml", report);
    tl_circuit *circuit = tl_circuit_new(plan);
    tl_bench *bench = tl_bench_new(circuit, NULL, TL_BENCH_IDEAL);
    for (size_t i = 0; i < ROWS(signals); i++) {
        tl_effect effects[32];
        tl_bench_reading r;
        double lost = 0, ideal = 0;
        int signal = -1;
        (void)tl_plan_signal(plan, signals[i], &signal);
        CU_ASSERT(tl_bench_read_mean(bench, signal, 1, &r) == TL_NET_SOLVED);
        const int count = tl_plan_why(circuit, signal, tl_bench_truth(bench, signal), effects, 32, &ideal);
        for (int k = 0; k < count; k++) { /* losses go one way, tolerances both */
            const bool one_way = effects[k].low * effects[k].high > 0;
            lost += one_way ? (effects[k].low + effects[k].high) / 2 : 0;
        }
        CHECK_ROW(signals[i], count > 0 && fabs((double)r.count - ideal - lost) <= 2);
    }
    tl_bench_free(bench);
    tl_circuit_free(circuit);
    tl_plan_free(plan);
    tl_report_free(report);
}

/* A reference given in volts, and a sensor that is not quite its law: 1638.4 counts with 2.5 V, 4096 / 2 with
 * the sensor as large as its partner. */
static void references_and_sensors_count(void)
{
    tl_plan *plan;
    tl_circuit *circuit =
        circuit_of("signals:\n  v: {source: {voltage: 0 V .. 2 V}, pin: L4, reference: inner}\n"
                   "  t: {source: {resistance: 10k ±2 %, at: 25 degC, beta: 3950 K, over: 0 .. 60 degC}, "
                   "stages: [partner: "
                   "{upper: 10k, to: logic}], pin: L5}\n",
                   &plan);
    tl_effect effects[32];
    double ideal;
    CU_ASSERT_FATAL(circuit != NULL);
    int count = tl_plan_why(circuit, 0, 1, effects, 32, &ideal);
    CU_ASSERT(close_to(ideal, 4096 / 2.5));
    const tl_effect *reference = effect(effects, count, "reference of the ADC");
    CU_ASSERT(close_to(reference->high, 4096 / (2.5 * 0.996) - ideal));
    CU_ASSERT(close_to(reference->low, 4096 / (2.5 * 1.004) - ideal));
    count = tl_plan_why(circuit, 1, 10e3, effects, 32, &ideal);
    const tl_effect *sensor = effect(effects, count, "tolerance of the sensor");
    CU_ASSERT(close_to(ideal, 2048) && close_to(sensor->high, 4096 * 1.02 / 2.02 - ideal));
    /* And benches have such sensors, each its own. */
    double least = INFINITY, most = 0;
    for (unsigned long seed = 1; seed <= 40; seed++) {
        tl_bench *bench = tl_bench_new(circuit, NULL, seed);
        least = fmin(least, tl_bench_truth(bench, 1));
        most = fmax(most, tl_bench_truth(bench, 1));
        tl_bench_free(bench);
    }
    CU_ASSERT(most / least > 1.03 && most / least <= 1.02 / 0.98 + 1e-9);
    tl_circuit_free(circuit);
    tl_plan_free(plan);
}

static void is_told_by_the_command(void)
{
    static const char *const plan = "demo/fernhill.plan.yaml";
    run_result r = run_command("read", plan, "roof-position", "open-button", "keypad", "--why", NULL);
    CU_ASSERT(r.status == 0 &&
              strstr(r.out, "roof-position reads 2048 counts. Nominal parts without errors give 2048.0.") !=
                  NULL &&
              strstr(r.out, "end resistance of the track at 100 %  -6.13  -6.13\n") != NULL &&
              strstr(r.out, "open-button reads") == NULL && strstr(r.out, "keypad reads") == NULL);
    run_free(&r);
    r = run_command("read", plan, "roof-position", "--why", "--json", NULL);
    CU_ASSERT(r.status == 0 && strstr(r.out, "\"ideal_counts\": 2048.0") != NULL &&
              strstr(r.out, "\"what\": \"offset of the ADC\"") != NULL);
    run_free(&r);
    static const char scene[] = "tinyladder: scene 1\nlength: 1 s\nvalues: {twilight: [0 s: 0 ohm]}\n";
    scratch_file("dark.scene.yaml", scene, strlen(scene));
    r = run_command("read", plan, "twilight", "--scene", TL_SCRATCH "/dark.scene.yaml", NULL);
    CU_ASSERT(r.status == 0 &&
              (strstr(r.out, "clipped") != NULL) ==
                  (strstr(r.out, "twilight: at the end of the ADC range; --why lists") != NULL));
    run_free(&r);
    scratch_file("why.counts", "twilight 900\n", 13);
    r = run_command("read", plan, "twilight", "--why", "--counts", TL_SCRATCH "/why.counts", NULL);
    CU_ASSERT(r.status == 0 &&
              strstr(r.out, "twilight reads 900 counts. Each source of error alone") != NULL &&
              strstr(r.out, "tolerance of partner") != NULL);
    run_free(&r);
    scratch_file("why.counts", "twilight 65520\n", 15);
    r = run_command("read", plan, "twilight", "--counts", TL_SCRATCH "/why.counts", NULL);
    CU_ASSERT(r.status == 4 && strstr(r.out, "65520") != NULL && strstr(r.out, "beyond the counts") != NULL);
    run_free(&r);
    r = run_command("read", plan, "--why", "--csv", NULL);
    CU_ASSERT(r.status == 2 && strstr(r.err, "--why: one moment, as a table") != NULL);
    run_free(&r);
}

/* An open wire is none of what takes counts: that is said, and of a sound board never. */
static void tells_what_it_does_not_explain(void)
{
    static const char *const plan = "demo/fernhill.plan.yaml", *const far = "look for an open wire, a short";
    const char *scene = "tinyladder: scene 1\nlength: 10 s\nfaults: [{open: house-battery.divider.lower}]\n";
    run_result r = run_command("read", plan, "house-battery", "--why", "--scene",
                               scratch_file("broken.scene.yaml", scene, strlen(scene)), "--at", "5s", NULL);
    CU_ASSERT(r.status == 0 && strstr(r.out, far) != NULL);
    run_free(&r);
    for (int seed = 1; seed <= 8; seed++) {
        char text[12];
        snprintf(text, sizeof text, "%d", seed);
        r = run_command("read", plan, "--why", "--seed", text, NULL);
        CHECK_ROW(text,
                  r.status == 0 && strstr(r.out, "offset of the ADC") != NULL && strstr(r.out, far) == NULL);
        run_free(&r);
    }
}

CU_TestInfo why_tests[] = {
    {"tells what it does not explain", tells_what_it_does_not_explain},
    {"ends of a track", ends_of_a_track},
    {"a divider", a_divider},
    {"the bench agrees", the_bench_agrees},
    {"references and sensors count", references_and_sensors_count},
    {"is told by the command", is_told_by_the_command},
    CU_TEST_INFO_NULL,
};
