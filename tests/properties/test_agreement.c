/* SPDX-License-Identifier: MIT */
/*
 * Two rooms, one question: what `check` calls sound stays whole on the bench, whichever real parts are drawn;
 * what the bench finds at rest lies within what `check` guarantees; what is read holds the truth; and every
 * value lies in its own interval.
 */
#include "elaborate/circuit_struct.h"
#include "support.h"
#include "tinyladder/bench.h"
#include "tinyladder/design/rules.h"
#include <glob.h>
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

enum { SEEDS = 8, SEEDS_LONG = 200, STRIDE = 61, BEFORE_LONG = 3600 };

/* Every part is drawn within its span, and every name leads to one part of either view. */
static void values_lie_within(const char *path, tl_circuit *circuit, const tl_bench *bench)
{
    for (int i = 0; i < tl_net_param_count(tl_circuit_net(circuit)); i++) {
        double low, high;
        tl_net_param_span(tl_circuit_net(circuit), i, &low, &high);
        const double value = tl_bench_value(bench, i);
        CHECK_ROW(path, value >= low - 1e-12 * fabs(low) && value <= high + 1e-12 * fabs(high));
        CHECK_ROW(path, tl_circuit_param(circuit, tl_net_param_name(tl_circuit_net(circuit), i)) == i);
    }
}

static void volts_lie_within(const char *path, tl_circuit *circuit, tl_bench *bench)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    tl_bench_go_to(bench, BEFORE_LONG);
    for (int i = 0; i < plan->signal_count; i++) {
        tl_bench_reading reading;
        const tl_worst_case *worst = tl_circuit_worst_case(circuit, i, 0);
        if (worst->fault != TL_NET_SOLVED || tl_circuit_nodes(circuit, i)->negative != TL_NET_GROUND ||
            tl_circuit_nodes(circuit, i)->route_length > 0)
            continue;
        (void)tl_bench_read(bench, i, &reading); /* as firmware would: the pin's own pull switched on */
        const double volts = tl_bench_pin_volts(bench, i), slack = 1e-3;
        /* Beyond the pin's limit its clamp conducts, and holds it there. */
        const tl_pin_limits *limits = &plan->pins[plan->signals[i].pin].limits;
        const double clamped = tl_level_volts(limits->highest, plan->supplies[limits->supply].volts.low);
        const bool within =
            volts >= fmin(worst->volts.low, clamped) - slack && volts <= worst->volts.high + slack;
        CHECK_ROW(path, within);
        if (!within)
            printf("\n  %s, %s: %.9g V in %.9g .. %.9g\n", path, plan->signals[i].name, volts,
                   worst->volts.low, worst->volts.high);
    }
}

/* Guaranteed but for noise: this many counts to either side may be its. */
static int truths_lie_within(const char *path, tl_circuit *circuit, tl_bench *bench)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    int asked = 0;
    for (int i = 0; i < plan->signal_count; i++) {
        tl_bench_reading r;
        const tl_analog_path *way = plan->signals[i].analog ? tl_circuit_path(circuit, i) : NULL;
        if (way == NULL || way->fault != TL_NET_SOLVED ||
            tl_circuit_nodes(circuit, i)->unknown == TL_NET_NONE ||
            tl_bench_read(bench, i, &r) != TL_NET_SOLVED || r.status != TL_OK)
            continue;
        const long noise = (long)ceil(4.5 * tl_plan_converter_of(plan, &plan->signals[i])->part->noise);
        tl_interval low, high, pin;
        if (tl_plan_interval(circuit, i, way, r.count - noise, &low, &pin) != TL_NET_SOLVED ||
            tl_plan_interval(circuit, i, way, r.count + noise, &high, &pin) != TL_NET_SOLVED)
            continue;
        const double truth = tl_bench_truth(bench, i), least = fmin(low.low, high.low),
                     most = fmax(low.high, high.high);
        const bool within = truth >= least - 1e-9 * fabs(least) && truth <= most + 1e-9 * fabs(most);
        CHECK_ROW(path, within);
        if (!within)
            printf("\n  %s, %s: count %ld, truth %.9g in %.9g .. %.9g\n", path, plan->signals[i].name,
                   r.count, truth, least, most);
        asked++;
    }
    return asked;
}

/* Every count, or every this many of them and both ends. */
static int values_lie_in_their_intervals(const char *path, tl_circuit *circuit)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    int asked = 0;
    for (int i = 0; i < plan->signal_count; i++) {
        const tl_analog_path *way = plan->signals[i].analog ? tl_circuit_path(circuit, i) : NULL;
        if (way == NULL || way->fault != TL_NET_SOLVED ||
            tl_circuit_nodes(circuit, i)->unknown == TL_NET_NONE)
            continue;
        const tl_plan_reading *reading = &plan->signals[i].reading;
        for (long code = way->first_code; code <= way->last_code;
             code += code < way->first_code + 4 || code > way->last_code - STRIDE ? 1 : getenv("TL_LONG") != NULL ? 1 : STRIDE * THINNED) {
            tl_value v;
            if (tl_plan_value(circuit, i, (double)code, &v) != TL_NET_SOLVED || isnan(v.value) || v.open ||
                v.shorted)
                continue;
            const double slack = reading->round / 2 + 1e-9 * fabs(v.value) + 1e-12;
            const bool within = v.value >= v.within.low - slack && v.value <= v.within.high + slack;
            CHECK_ROW(path, within);
            if (!within)
                printf("\n  %s, %s: count %ld, %.9g in %.9g .. %.9g\n", path, plan->signals[i].name, code,
                       v.value, v.within.low, v.within.high);
            asked++;
        }
    }
    return asked;
}

static void sound_plans_stay_whole(void)
{
    glob_t found;
    int readings = 0, counts = 0, benches = 0;
    CU_ASSERT_FATAL(glob(TL_SOURCE "/demo/sound/*.plan.yaml", 0, NULL, &found) == 0);
    CU_ASSERT(found.gl_pathc > 10);
    for (size_t f = 0; f < found.gl_pathc; f++) {
        const char *path = strrchr(found.gl_pathv[f], '/') + 1;
        tl_report *report = tl_report_new();
        tl_report_allow_outside(report, true);
        tl_plan *plan = tl_plan_load(found.gl_pathv[f], report);
        CHECK_ROW(path, plan != NULL);
        if (plan == NULL)
            continue;
        tl_circuit *circuit = tl_circuit_new(plan);
        counts += values_lie_in_their_intervals(path, circuit);
        for (unsigned long seed = 1; seed <= (unsigned long)rounds_of(SEEDS, SEEDS_LONG); seed++) {
            int damages = 0;
            tl_bench *bench = tl_bench_new(circuit, NULL, seed);
            values_lie_within(path, circuit, bench);
            volts_lie_within(path, circuit, bench);
            readings += truths_lie_within(path, circuit, bench);
            benches++;
            (void)tl_bench_damages(bench, &damages);
            CHECK_ROW(path, damages == 0 && tl_bench_trouble(bench) == NULL);
            tl_bench_free(bench);
        }
        tl_circuit_free(circuit);
        tl_plan_free(plan);
        tl_report_free(report);
    }
    globfree(&found);
    printf("  %d benches, %d readings, %d counts ", benches, readings, counts);
    CU_ASSERT(readings > 20 * rounds_of(SEEDS, SEEDS_LONG) && counts > 2000 / THINNED);
}

CU_TestInfo agreement_tests[] = {
    {"sound plans stay whole", sound_plans_stay_whole},
    CU_TEST_INFO_NULL,
};
