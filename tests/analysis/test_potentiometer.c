/* SPDX-License-Identifier: MIT */
/*
 * Potentiometers that are fed, loaded, or both, against the closed form: seen from the wiper the track stands
 * in two legs, so bounds and intervals have their extremes inside the box of track and travel. Every point of
 * the box must lie within, the bounds must be reached, and every value must lie in its own interval.
 */
#include "support.h"
#include "tinyladder/design/measurement.h"
#include <math.h>
#include <stdio.h>
#include <string.h>

enum { ROUNDS = 40, GRID = 60 };

typedef struct {
    double track[2], feed[2], load[2], rail[2]; /* feed 0, load infinite: there is none */
} pot;

static double parallel(double a, double b)
{
    return isinf(b) ? a : a * b / (a + b);
}

/* V = rail P / (F + (1-x) R + P), P = x R || load. */
static double volts_of(double rail, double feed, double track, double travel, double load)
{
    const double below = parallel(travel * track, load);
    return rail * below / (feed + (1 - travel) * track + below);
}

static double seen_from(double feed, double track, double travel, double load)
{
    const double below = parallel(travel * track, load), above = feed + (1 - travel) * track;
    return below * above / (below + above);
}

static double logarithmic(double low, double high)
{
    return pow(10, even_between(log10(low), log10(high)));
}

static void spread(double span[2], double nominal, double tolerance)
{
    span[0] = nominal * (1 - tolerance);
    span[1] = nominal * (1 + tolerance);
}

static pot random_pot(void)
{
    pot p = {.feed = {0, 0}, .load = {INFINITY, INFINITY}};
    spread(p.track, logarithmic(1e3, 1e5), even_between(0, 0.3));
    spread(p.rail, 3.3, 0.02);
    if (even_between(0, 1) < 0.6)
        spread(p.feed, p.track[0] * logarithmic(0.1, 3), even_between(0, 0.05));
    if (even_between(0, 1) < 0.7)
        spread(p.load, p.track[0] * logarithmic(0.1, 10), even_between(0, 0.05));
    return p;
}

static tl_plan *plan_of(const pot *p)
{
    static const char path[] = TL_SOURCE "/demo/pot.plan.yaml";
    static const char board[] = TL_SOURCE "/demo/pot.board.yaml";
    static const char board_text[] = "tinyladder: board 1\ntitle: b\nsupplies: {logic: 3.3 V ±2 "
                                     "%}\nevery-pin: {supply: logic, limits: -0.3 V .. "
                                     "rail + 0.3 V, vil: 0.3 rail, vih: 0.7 rail}\npins: {A0: {position: 1, "
                                     "channel: 0}}\nconverters: {main: {bits: "
                                     "12, steps: half, word: {in: 16}, references: {logic: logic}, sampling: "
                                     "{capacitor: 0.001 pF, switch: 1 ohm}, "
                                     "acquisition: [1 ms], conversion: 1 us}}\n";
    char text[600], feed[100] = "", load[100] = "";
    if (p->feed[1] > 0)
        snprintf(feed, sizeof feed, "shared: {top: {from: logic, series: %.9g ohm .. %.9g ohm}}\n",
                 p->feed[0], p->feed[1]);
    if (!isinf(p->load[1]))
        snprintf(load, sizeof load, ", stages: [load: %.9g ohm .. %.9g ohm]", p->load[0], p->load[1]);
    snprintf(text, sizeof text,
             "tinyladder: plan 1\ntitle: t\nboard: pot.board.yaml\n%ssignals: {s: {source: {potentiometer: "
             "%.9g ohm .. "
             "%.9g ohm, top: %s}%s, pin: A0, reading: {unit: \"%%\", decimals: 3}}}\n",
             feed, p->track[0], p->track[1], p->feed[1] > 0 ? "top" : "logic", load);
    tl_report *report = tl_report_new();
    tl_report_instead(report, path, text, strlen(text));
    tl_report_instead(report, board, board_text, strlen(board_text));
    tl_plan *plan = tl_plan_load(path, report);
    if (plan == NULL && tl_report_count(report) > 0)
        printf("\n%s%s\n", text, tl_report_finding(report, 0)->cause);
    tl_report_free(report);
    return plan;
}

static double between(const double span[2], int step, int steps)
{
    return isinf(span[0]) ? span[0] : span[0] + (span[1] - span[0]) * step / steps;
}

static bool counts_hold(tl_circuit *circuit, const pot *p)
{
    for (int i = 0; i < 300; i++) {
        const double x = even_between(0, 1), rail = even_between(p->rail[0], p->rail[1]);
        const double v =
            volts_of(rail, even_between(p->feed[0], p->feed[1]), even_between(p->track[0], p->track[1]), x,
                     isinf(p->load[0]) ? p->load[0] : even_between(p->load[0], p->load[1]));
        const double code = fmin(floor(v / rail * 4096 + 0.5), 4095);
        tl_value value;
        if (tl_plan_value(circuit, 0, code, &value) != TL_NET_SOLVED || 100 * x < value.within.low - 1e-6 ||
            100 * x > value.within.high + 1e-6 || value.value < value.within.low - 1e-3 ||
            value.value > value.within.high + 1e-3) {
            printf("\n  travel %.6f %%, code %.0f: %.4f %% in %.6f .. %.6f\n", 100 * x, code, value.value,
                   value.within.low, value.within.high);
            return false;
        }
    }
    return true;
}

static void extremes_lie_inside(void)
{
    for (int round = 0; round < ROUNDS; round++) {
        const pot p = random_pot();
        tl_plan *plan = plan_of(&p);
        CU_ASSERT_FATAL(plan != NULL);
        tl_circuit *circuit = tl_circuit_new(plan);
        const tl_worst_case *worst = tl_circuit_worst_case(circuit, 0, 0);
        double most_volts = 0, most_ohms = 0;
        for (int i = 0; i <= GRID; i++) {
            for (int j = 0; j <= GRID; j++) {
                for (int corner = 0; corner < 4; corner++) {
                    const double track = between(p.track, i, GRID), x = (double)j / GRID,
                                 feed = p.feed[corner & 1], load = p.load[corner >> 1];
                    most_volts = fmax(most_volts, volts_of(p.rail[1], feed, track, x, load));
                    most_ohms = fmax(most_ohms, seen_from(feed, track, x, load));
                }
            }
        }
        const bool good = worst->fault == TL_NET_SOLVED && worst->volts.high >= most_volts * (1 - 1e-7) &&
                          worst->volts.high <= most_volts * (1 + 1e-3) &&
                          worst->source_ohms.high >= most_ohms * (1 - 1e-7) &&
                          worst->source_ohms.high <= most_ohms * (1 + 1e-3);
        CHECK_ROW("bounds", good);
        CHECK_ROW("intervals", counts_hold(circuit, &p));
        if (!good)
            printf("\n  track %g .. %g, feed %g .. %g, load %g .. %g: %g V of %g, %g ohm of %g\n", p.track[0],
                   p.track[1], p.feed[0], p.feed[1], p.load[0], p.load[1], worst->volts.high, most_volts,
                   worst->source_ohms.high, most_ohms);
        tl_circuit_free(circuit);
        tl_plan_free(plan);
    }
}

CU_TestInfo potentiometer_tests[] = {
    {"extremes lie inside", extremes_lie_inside},
    CU_TEST_INFO_NULL,
};
