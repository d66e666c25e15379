/* SPDX-License-Identifier: MIT */
/* What outputs take from soft supplies and give to return wires: on the bench against closed forms, and
 * inside what is guaranteed. */
#include "bench/open_with.h"
#include "tinyladder/design/measurement.h"
#include "tinyladder/port.h"
#include <math.h>

static tl_status drive(tl_bench *bench, const char *pin, bool high)
{
    const uint8_t line = (uint8_t)tl_bench_line(bench, pin);
    const tl_status status = tl_port_line_use(tl_bench_port(bench), line, TL_LINE_OUTPUT);
    return status == TL_OK ? tl_port_line_drive(tl_bench_port(bench), line, high) : status;
}

/* 5 V behind 2 ohm, measured over two times 10k; 3.3 V and its wire of 1 ohm back. */
#define SOFT                                                                                                 \
    "supplies: {logic: 3.3 V ±0 %, raw: {voltage: 5 V ±0 %, resistance: 2 ohm}}\n"                         \
    "shared: {back: {from: ground, series: 1 ohm ±0 %}}\nsignals:\n"                                        \
    "  rail: {source: {rail: raw}, stages: [divider: {upper: 10k ±0 %, lower: 10k ±0 %}], pin: L4}\n"      \
    "  knob: {source: {potentiometer: 10k ±0 %, top: logic, bottom: back}, pin: L5}\noutputs:\n"
#define DRIVER                                                                                                \
    "  o: {pin: L27, driver: {way: n-channel, on-resistance: 40 mohm, series: 100 ohm ±5 %, pull: 100k ±5 " \
    "%, load: "

static void take_what_they_take(void)
{
    const double rail = 1.0 / 2 + 1 / 20e3; /* siemens of the way to 5 V and of the divider */
    const double wire = 1 / 1.0 + 1 / 10e3; /* and of the wire back, and of the knob's track */
    const struct {
        const char *name, *outputs;
        bool on;
        double raw, back;
    } rows[] = {
        {"a driver's load, off", DRIVER "{resistance: 10 ohm ±0 %, supply: raw}}}\n", false, 5 / 2.0 / rail,
         3.3 / 10e3 / wire},
        {"and on", DRIVER "{resistance: 10 ohm ±0 %, supply: raw}}}\n", true, 5 / 2.0 / (rail + 1 / 10.04),
         3.3 / 10e3 / wire},
        {"a lamp behind it", DRIVER "{lamp: 2 V ±0 %, series: 10 ohm ±0 %, supply: raw}}}\n", true,
         (5 / 2.0 + 2 / 10.04) / (rail + 1 / 10.04), 3.3 / 10e3 / wire},
        {"a lamp that is always on", "  o: {from: raw, lamp: 2 V ±0 %, series: 10 ohm ±0 %}\n", false,
         (5 / 2.0 + 2 / 10.0) / (rail + 1 / 10.0), 3.3 / 10e3 / wire},
        {"with the wire back", "  o: {from: logic, to: back, lamp: 2 V ±0 %, series: 10 ohm ±0 %}\n", false,
         5 / 2.0 / rail, (1.3 / 10 + 3.3 / 10e3) / (wire + 1 / 10.0)},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char plan[2000];
        snprintf(plan, sizeof plan, "%s%s", SOFT, rows[i].outputs);
        tl_bench *bench = open_with(plan, "values: {knob: [0 s: 0 %]}\n");
        CHECK_ROW(rows[i].name, !rows[i].on || drive(bench, "L27", true) == TL_OK);
        tl_bench_go_to(bench, 1);
        CHECK_ROW(rows[i].name, near(tl_bench_pin_volts(bench, 0), rows[i].raw / 2, 1e-3));
        CHECK_ROW(rows[i].name, near(tl_bench_pin_volts(bench, 1), rows[i].back, 1e-3));
        tl_bench_free(bench);
    }
}

/* Off or on, the knob stands where its reading says that it may stand. */
static void stay_inside_what_is_guaranteed(void)
{
    static const char *const outputs[] = {
        DRIVER "{resistance: 10 ohm ±5 %, supply: raw}}}\n",
        DRIVER "{lamp: 1.9 V .. 2.2 V, series: 8 ohm ±5 %, supply: raw}}}\n",
        "  o: {from: raw, lamp: 1.9 V .. 2.2 V, series: 8 ohm ±5 %}\n",
        "  o: {pin: L27, to: raw, lamp: 1.9 V .. 2.2 V, series: 8 ohm ±5 %}\n",
        "  o: {pin: L27, to: back, lamp: 1.9 V .. 2.2 V, series: 8 ohm ±5 %}\n",
    };
    for (size_t i = 0; i < ROWS(outputs); i++) {
        for (int seed = 1; seed <= 12; seed++) {
            char plan[2000], scene[100];
            snprintf(
                plan, sizeof plan,
                "supplies: {raw: {voltage: 5 V ±1 %%, resistance: 2 ohm}}\n"
                "shared: {back: {from: ground, series: 1 ohm ±5 %%}}\nsignals: {knob: {source: "
                "{potentiometer: 10k ±20 %%, top: raw, bottom: back}, stages: [divider: {upper: 47k ±1 %%, "
                "lower: 47k ±1 %%}], pin: L4, reading: {of: travel, unit: '%%'}}}\noutputs:\n%s",
                outputs[i]);
            snprintf(scene, sizeof scene, "seed: %d\nvalues: {knob: [0 s: %d %%]}\n", seed, 5 + 2 * seed);
            tl_bench *bench = open_with(plan, scene);
            tl_bench_reading r;
            for (int on = 0; on < 2; on++) {
                CU_ASSERT(drive(bench, "L27", on != 0) == TL_OK);
                tl_bench_go_to(bench, 1 + on);
                CU_ASSERT(tl_bench_read(bench, 0, &r) == TL_NET_SOLVED && r.is.within.low <= 5 + 2 * seed &&
                          r.is.within.high >= 5 + 2 * seed);
            }
            tl_bench_free(bench);
        }
    }
}

/* A lamp takes, it never gives: a supply that is dead, or below its volts, is as if the lamp were not there.
 */
static void lamps_lead_one_way(void)
{
    static const char *const lamps[] = {
        "  o: {from: raw, lamp: 2 V ±0 %, series: 100 ohm ±0 %}\n",
        DRIVER "{lamp: 2 V ±0 %, series: 100 ohm ±0 %, supply: raw}}}\n",
        "  o: {pin: L27, to: raw, lamp: 2 V ±0 %, series: 100 ohm ±0 %}\n",
    };
    for (size_t i = 0; i < ROWS(lamps); i++) {
        for (int centivolts = 0; centivolts <= 400; centivolts += 40) {
            char plan[1200];
            const double emf = 0.01 * centivolts;
            snprintf(
                plan, sizeof plan,
                "supplies: {logic: 3.3 V ±0 %%, raw: {voltage: 0 V .. 4 V, resistance: 100 ohm}}\nsignals:\n"
                "  rail: {source: {rail: raw}, stages: [divider: {upper: 10k ±0 %%, lower: 10k ±0 %%}], pin: "
                "L4}\n"
                "outputs:\n%s",
                lamps[i]);
            char scene[80];
            snprintf(scene, sizeof scene, "values: {rail: [0 s: %g V]}\n", emf);
            tl_bench *bench = open_with(plan, scene);
            CU_ASSERT(drive(bench, "L27", i == 1) == TL_OK);
            tl_bench_go_to(bench, 1);
            /* 100 ohm from the source, 20k to ground; above 2 V 100 ohm to 2 V as well, the pin's 100 ohm
             * with it. */
            const double pin = i == 2   ? 0.4 / 4e-3
                               : i == 1 ? 0.04
                                        : 0,
                         without = emf * 20e3 / 20.1e3,
                         lit = (emf / 100 + 2 / (100 + pin)) / (1 / 100.0 + 1 / 20e3 + 1 / (100 + pin));
            CHECK_ROW(lamps[i],
                      fabs(2 * tl_bench_pin_volts(bench, 0) - (without > 2 ? lit : without)) < 2e-3);
            tl_bench_free(bench);
        }
    }
}

/* What a lamp takes through its pin, seen as volts on the wire that it returns to, lies where the circuit
 * says, and what `size lamp` says of it there as well. */
static void lamps_take_what_is_guaranteed(void)
{
    static const char plan[] =
        "shared: {back: {from: ground, series: 10 ohm ±0.1 %}}\nsignals:\n"
        "  r: {source: {rail: back}, pin: L5, reading: {of: pin, unit: mV}}\noutputs:\n"
        "  o: {pin: L27, to: back, lamp: 1.9 V .. 2.2 V, series: 330 ohm ±5 %}\n";
    double least = INFINITY, most = 0;
    for (int seed = 1; seed <= 60; seed++) {
        char scene[40];
        snprintf(scene, sizeof scene, "seed: %d\n", seed);
        tl_bench *bench = open_with(plan, scene);
        tl_circuit *circuit = tl_bench_circuit(bench);
        CU_ASSERT(drive(bench, "L27", true) == TL_OK);
        tl_bench_go_to(bench, 1);
        const tl_quantity may = tl_circuit_load_amperes(circuit, &tl_circuit_plan(circuit)->outputs[0]);
        const double amperes = tl_bench_pin_volts(bench, 0) / 10;
        CU_ASSERT(amperes >= 0.998 * may.low && amperes <= 1.002 * may.high);
        least = fmin(least, amperes);
        most = fmax(most, amperes);
        /* 3.3 V within 2 %, the pin at most 0.4 V at 4 mA: 100 ohm. */
        CU_ASSERT(near(may.low, (3.234 - 2.2) / (330 * 1.05 + 100 + 10.01), 1e-6));
        CU_ASSERT(near(may.high, (3.366 - 1.9) / (330 * 0.95 + 9.99), 1e-6));
        tl_bench_free(bench);
    }
    CU_ASSERT(most > 1.2 * least);
}

/* 2 A in 50 mohm lift a collector's low by 0.1 V, on top of its saturation of 0.3 V; a pin that is held low
 * by as much as that; below a high rail it is the other way round. */
static void collectors_stand_on_their_wire(void)
{
    static const struct {
        const char *name, *to;
        double low;
    } rows[] = {{"ground", "ground", 0.3},
                {"a wire that others use", "back", 0.4},
                {"a wire of its own", "own", 0.3}};
    for (size_t i = 0; i < ROWS(rows); i++) {
        char plan[900];
        snprintf(plan, sizeof plan,
                 "shared: {back: {from: ground, series: 50 mohm ±0 %%, carries: 2 A ±0 %%}, own: {from: "
                 "ground, series: 50 "
                 "mohm ±0 %%}}\nsignals: {t: {source: {open-collector: %s, saturation: 0.3 V .. 0.3 V}, "
                 "stages: [pull: "
                 "{up: 10k ±0 %%, to: logic}], pin: L12}}\n",
                 rows[i].to);
        tl_bench *bench = open_with(plan, "presses: {t: [1 s for 5 s]}\n");
        tl_bench_go_to(bench, 3);
        CHECK_ROW(rows[i].name, near(tl_bench_pin_volts(bench, 0), rows[i].low, 2e-3));
        tl_bench_free(bench);
    }
}

/* A sender's reading in % lights as many lamps as it says, whatever share of the converter's span that is. */
static void lamps_follow_a_reading_in_percent(void)
{
    static const char plan[] = "signals: {water: {source: {resistance: 10 ohm .. 180 ohm}, stages: [partner: "
                               "{upper: 330 ohm ±0 %, to: logic}], "
                               "pin: L4, reading: {points: [10 ohm: 0 %, 180 ohm: 100 %], decimals: "
                               "1}}}\noutputs: {gauge: {pins: [L30 .. L37], "
                               "lamp: 2 V, series: 470 ohm, shows: water, as: levels}, dim: {pin: L8, lamp: "
                               "2 V, series: 470 ohm, shows: water, "
                               "as: duty}}\n";
    static const struct {
        const char *ohms;
        int lit; /* of eight: nine equal bands */
        double duty;
    } rows[] = {{"10 ohm", 0, 0}, {"52.5 ohm", 2, 0.25}, {"95 ohm", 4, 0.5}, {"180 ohm", 8, 1}};
    for (size_t i = 0; i < ROWS(rows); i++) {
        char scene[100];
        tl_bench_reading r;
        tl_bench_shown gauge = {0}, dim = {0};
        const tl_bench_seen seen = {.shown = &r, .fault = false};
        snprintf(scene, sizeof scene, "values: {water: [0 s: %s]}\n", rows[i].ohms);
        tl_bench *bench = open_with(plan, scene);
        tl_bench_go_to(bench, 1);
        CHECK_ROW(rows[i].ohms, tl_bench_read(bench, 0, &r) == TL_NET_SOLVED &&
                                    tl_bench_show(bench, 0, &seen, &gauge) == TL_OK &&
                                    tl_bench_show(bench, 1, &seen, &dim) == TL_OK);
        CHECK_ROW(rows[i].ohms, gauge.lit == rows[i].lit && fabs(dim.duty - rows[i].duty) < 0.015);
        tl_bench_free(bench);
    }
}

CU_TestInfo load_tests[] = {
    {"lamps lead one way", lamps_lead_one_way},
    {"lamps take what is guaranteed", lamps_take_what_is_guaranteed},
    {"collectors stand on their wire", collectors_stand_on_their_wire},
    {"lamps follow a reading in percent", lamps_follow_a_reading_in_percent},
    {"take what they take", take_what_they_take},
    {"stay inside what is guaranteed", stay_inside_what_is_guaranteed},
    CU_TEST_INFO_NULL,
};
