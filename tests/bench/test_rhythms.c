/* SPDX-License-Identifier: MIT */
/* Frequency, duty and period on the bench, against the numbers that the scene was made from. */
#include "open_with.h"
#include "support.h"
#include "tinyladder/bench.h"
#include "tinyladder/design/measurement.h"
#include <math.h>

#define PLAN(of_f, of_d, of_p)                                                                               \
    "signals:\n"                                                                                             \
    "  f: {source: {open-collector: ground, rate: 2 kHz}, stages: [pull: {up: 10k ±1 %, to: logic}], pin: " \
    "L12, reading: {" of_f "}}\n"                                                                            \
    "  d: {source: {open-collector: ground, rate: 2 kHz}, stages: [pull: {up: 10k ±1 %, to: logic}, "       \
    "capacitor: 1 nF], pin: L13, reading: {" of_d "}}\n"                                                     \
    "  p: {source: {contact: ground, bounce: 500 us, shortest: 3 ms}, stages: [pull: {up: 10k ±1 %, to: "   \
    "logic}], pin: L14, reading: {" of_p "}}\n"                                                              \
    "  l: {source: {logic: logic, rate: 2 kHz}, pin: L15, reading: {as: duty, decimals: 2}}\n"               \
    "  k: {source: {potentiometer: 10k, top: logic}, pin: L4, reading: {mean: 64}}\n"

static bool holds(const tl_interval *within, double truth)
{
    const double slack = 1e-9 * fabs(truth);
    return within->low <= truth + slack && truth <= within->high + slack;
}

/* Lengths that are drawn; conversions of a knob in between, which a line does not wait for. */
static void figures_hold_the_truth(void)
{
    static const char plan[] =
        PLAN("as: frequency, decimals: 3, over: 30 ms", "as: duty, decimals: 2", "as: period, over: 0 s");
    unsigned long seed = 7;
    for (int round = 0; round < 12; round++) {
        long on[4], off[4]; /* microseconds */
        char scene[600];
        for (int i = 0; i < 4; i++) {
            const long least = i == 2 ? 5000 : 300, most = i == 2 ? 60000 : 20000;
            seed = seed * 6364136223846793005ul + 1442695040888963407ul;
            on[i] = least + (long)(seed >> 40) % (most - least);
            seed = seed * 6364136223846793005ul + 1442695040888963407ul;
            off[i] = least + (long)(seed >> 40) % (most - least);
        }
        sprintf(scene,
                "values: {f: {repeat: [closed %ld us, open %ld us]}, d: {repeat: [closed %ld us, open %ld "
                "us]}, p: {repeat: [closed %ld us, open %ld us]}, l: {repeat: [low %ld us, high %ld us]}}\n",
                on[0], off[0], on[1], off[1], on[2], off[2], on[3], off[3]);
        tl_bench *bench = open_with(plan, scene);
        const double truth[4] = {1e6 / (double)(on[0] + off[0]),
                                 100 * (double)on[1] / (double)(on[1] + off[1]),
                                 1e-3 * (double)(on[2] + off[2]),
                                 100 * (double)off[3] / (double)(on[3] + off[3])},
                     near[4] = {0.001 * truth[0], 0.8, 1.0, 0.1};
        for (int i = 0; i < 4; i++)
            CU_ASSERT(tl_bench_measure(bench, i) == TL_OK);
        tl_bench_go_to(bench, 1);
        for (int look = 0; look < 20; look++) {
            tl_bench_reading r;
            tl_bench_pass(bench, 4, 0); /* a millisecond of conversions */
            tl_bench_go_to(bench, tl_bench_time(bench) + 0.0317);
            for (int i = 0; i < 4; i++) {
                CU_ASSERT(tl_bench_measured(bench, i, &r) == TL_OK && r.status == TL_OK);
                CU_ASSERT(r.flags == TL_READING_FRESH && !r.is.none);
                CU_ASSERT(holds(&r.is.within, truth[i]));
                CU_ASSERT(fabs(r.is.value - truth[i]) <= near[i]);
                if (!holds(&r.is.within, truth[i]) || fabs(r.is.value - truth[i]) > near[i])
                    printf("\n  round %d, %d: %.6g of %.6g, %.6g .. %.6g\n", round, i, r.is.value, truth[i],
                           r.is.within.low, r.is.within.high);
            }
        }
        tl_bench_free(bench);
    }
}

/* What is asked one by one, with as much time as it takes, is the same. */
static void two_ways_agree(void)
{
    static const char plan[] = PLAN("as: frequency", "as: duty", "as: period");
    static const char scene[] = "values: {f: {repeat: [closed 2 ms, open 3 ms], until: 6 s}, d: {repeat: "
                                "[closed 400 us, open 600 us]}, p: {repeat: [closed 20 ms, open 30 ms]}}\n";
    static const double wanted[3] = {200, 40, 50};
    tl_bench_reading r;
    for (int i = 0; i < 3; i++) {
        tl_bench *bench = open_with(plan, scene);
        tl_bench_go_to(bench, 3);
        CU_ASSERT(tl_bench_measured(bench, i, &r) == TL_ERR_ARG); /* nobody measures it yet */
        CU_ASSERT(tl_bench_read(bench, i, &r) == TL_NET_SOLVED && r.status == TL_OK);
        CU_ASSERT(fabs(r.is.value - wanted[i]) < 2 && holds(&r.is.within, wanted[i]));
        CU_ASSERT(tl_bench_time(bench) > 3.09 && tl_bench_time(bench) < 3.3);
        tl_bench_go_to(bench, 9);
        CU_ASSERT(tl_bench_read(bench, i, &r) == TL_NET_SOLVED && r.status == TL_OK);
        CU_ASSERT(fabs(r.is.value - (i == 0 ? 0 : wanted[i])) <
                  2); /* its slow edge to VIH takes 1.2 % and more */
        tl_bench_free(bench);
    }
    tl_bench *bench = open_with(plan, scene);
    CU_ASSERT(tl_bench_measure(bench, 4) == TL_ERR_ARG); /* a knob */
    /* A wire that is off: the level is nobody's, and the figure neither. */
    tl_bench_free(bench);
    static const char broken[] = "faults: [{open: f.pull, from: 1 s}, {open: f.source, from: 1 s}]\n";
    bench = open_with(plan, broken);
    tl_bench_go_to(bench, 2);
    CU_ASSERT(tl_bench_read(bench, 0, &r) == TL_NET_SOLVED && r.undriven && r.flags == 0);
    tl_bench_free(bench);
}

CU_TestInfo rhythms_tests[] = {
    {"figures hold the truth", figures_hold_the_truth},
    {"two ways agree", two_ways_agree},
    CU_TEST_INFO_NULL,
};
