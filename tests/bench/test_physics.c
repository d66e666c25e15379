/* SPDX-License-Identifier: MIT */
/* What the bench simulates, against what a pencil would say. */
#include "bench/open_with.h"
#include "elaborate/circuit_struct.h"
#include "tinyladder/core.h"
#include <complex.h>
#include <math.h>
#include <stdio.h>
#include <string.h>

/* At rest every pin stands where one solution of the netlist puts it, with the bench's own real values. */
static void rests_where_the_netlist_says(void)
{
    tl_bench *bench =
        open_with("supplies: {soft: {voltage: 4.5 V .. 5.5 V, resistance: 2 ohm .. 5 ohm}}\n"
                  "shared: {wire: {from: ground, series: 50 mohm .. 200 mohm, carries: -0.1 A .. 0.3 A}}\n"
                  "signals:\n"
                  "  a: {source: {voltage: 1 V .. 9 V, resistance: 90 ohm .. 110 ohm}, stages: [divider: "
                  "{upper: 47k ±5 %, "
                  "lower: 10k ±5 %}, filter: {series: 1k ±1 %, capacitor: 220n ±20 %}], pin: L4}\n"
                  "  b: {source: {potentiometer: 10k ±20 %, top: logic, bottom: wire, end: 10 ohm .. 30 "
                  "ohm}, pin: L5}\n"
                  "  c: {source: {resistance: 1k .. 5k, to: wire}, stages: [partner: {upper: 2k2 ±5 %, to: "
                  "logic}], pin: L6}\n"
                  "  d: {source: {rail: soft}, stages: [divider: {upper: 10k ±5 %, lower: 10k ±5 %}, "
                  "follower: {supply: soft, "
                  "offset: ±3 mV, bias: 5 nA, gain: 1000}, series: 1k ±1 %], pin: L7}\n",
                  NULL);
    tl_circuit *c = tl_bench_circuit(bench);
    static double values[500];
    static bool closed[500];
    for (int i = 0; i < tl_net_param_count(tl_circuit_net(c)); i++)
        values[i] = tl_bench_value(bench, i);
    const tl_net_state state = {values, closed};
    for (int i = 0; i < 4; i++) {
        double volts = NAN;
        const tl_figure pin = {
            .kind = TL_FIGURE_VOLTS, .of = tl_circuit_nodes(c, i)->pin, .less = tl_net_fixed(0)};
        CU_ASSERT(tl_island_figure(tl_circuit_nodes(c, i)->island, &state, pin, &volts) == TL_NET_SOLVED);
        CU_ASSERT(near(tl_bench_pin_volts(bench, i), volts, 1e-9));
    }
    tl_bench_free(bench);
}

/* A step of 2 V into 10 kohm and 1 uF, looked at whenever; the scene's jump is exact in time. */
static void follows_a_step(void)
{
    tl_bench *bench =
        open_with("signals: {s: {source: {voltage: 0 V .. 3 V}, stages: [filter: {series: 10k, capacitor: "
                  "1u}], pin: L4}}\n",
                  "values: {s: {steps: [0 s: 0 V, 1 s: 2 V]}}\n");
    const double c = 1e-6 + 7e-12;
    for (double after = 1e-3; after < 0.1; after *= 2.3) {
        tl_bench_go_to(bench, 1 + after);
        const double leak =
            tl_bench_value(bench, tl_circuit_param(tl_bench_circuit(bench), "s.pin.leakage")) * 10e3;
        CU_ASSERT(near(tl_bench_pin_volts(bench, 0) + leak, 2 * (1 - exp(-after / (10e3 * c))), 1e-6));
    }
    tl_bench_free(bench);
}

/* A ramp through the same lags behind by slope x RC; a sine is damped and late as a pole does it. */
static void follows_ramps_and_sines(void)
{
    static const char plan[] =
        "signals:\n  r: {source: {voltage: 0 V .. 3 V}, stages: [filter: {series: 10k, capacitor: 1u}], pin: "
        "L4}\n"
        "  s: {source: {voltage: 0 V .. 3 V}, stages: [filter: {series: 10k, capacitor: 1u}], pin: L5}\n";
    tl_bench *bench = open_with(
        plan, "values: {r: [0 s: 0 V, 10 s: 2 V], s: {middle: 1.5 V, swing: 1 V, period: 50 ms}}\n");
    tl_circuit *c = tl_bench_circuit(bench);
    const double tau = 10e3 * (1e-6 + 7e-12), w = 6.283185307179586 / 50e-3;
    for (double at = 5; at < 5.05; at += 3.7e-3) {
        tl_bench_go_to(bench, at);
        const double leak[2] = {tl_bench_value(bench, tl_circuit_param(c, "r.pin.leakage")) * 10e3,
                                tl_bench_value(bench, tl_circuit_param(c, "s.pin.leakage")) * 10e3};
        CU_ASSERT(near(tl_bench_pin_volts(bench, 0) + leak[0], 0.2 * (at - tau), 1e-6));
        const double sine = 1.5 + sin(w * at - atan(w * tau)) / sqrt(1 + w * w * tau * tau);
        CU_ASSERT(fabs(tl_bench_pin_volts(bench, 1) + leak[1] - sine) < 2e-3);
    }
    tl_bench_free(bench);
}

/* A knob turned from end to end in 50 ms, through 10 kohm into 1 uF: against small steps of its equation. */
static void follows_ohms_that_move(void)
{
    tl_bench *bench =
        open_with("signals: {s: {source: {potentiometer: 10k ±0 %, top: logic}, stages: [filter: "
                  "{series: 10k ±0 %, capacitor: 1u ±0 %}], pin: L4}}\n",
                  "values: {s: [0 s: 0 %, 1 s: 0 %, 1.05 s: 100 %]}\n");
    const double rail = tl_bench_value(bench, tl_circuit_supply_param(tl_bench_circuit(bench), 0)),
                 every = 1e-6, c = 1e-6 + 7e-12;
    double volts = 0, after = 0;
    for (double look = 0.01; look < 0.055; look += 0.01) {
        for (; after < look; after += every) {
            const double share = (after + every / 2) / 0.05, ohms = 10e3 + 10e3 * share * (1 - share);
            volts += every * (rail * share - volts) / (ohms * c);
        }
        tl_bench_go_to(bench, 1 + look);
        const double is = tl_bench_pin_volts(bench, 0);
        CU_ASSERT(fabs(is - volts) < 3e-3);
        if (!(fabs(is - volts) < 3e-3))
            printf("\n  %g s: %g V, expected %g V\n", look, is, volts);
    }
    tl_bench_free(bench);
}

/* 12 V behind 10 kohm into a pin of 3.3 V: its clamp carries about 0.84 mA, which it stands; behind 1 kohm it
 * does not. */
static void clamps_conduct(void)
{
    int count = -1;
    tl_bench *bench =
        open_with("signals:\n  good: {source: {voltage: 12 V}, stages: [series: 10k, clamp: pin], pin: L4}\n"
                  "  bad: {source: {voltage: 12 V}, stages: [series: 1k, clamp: pin], pin: L5}\n"
                  "  low: {source: {voltage: -5 V}, stages: [series: 10k, clamp: pin], pin: L6}\n",
                  NULL);
    const double rail = tl_bench_value(bench, tl_circuit_supply_param(tl_bench_circuit(bench), 0));
    CU_ASSERT(near(tl_bench_pin_volts(bench, 0), rail + 0.3 + 0.05 * (12 - rail - 0.3) / 10000.05, 1e-6));
    CU_ASSERT(near(tl_bench_pin_volts(bench, 2), -0.3 - 0.05 * 4.7 / 10000.05, 1e-6));
    tl_bench_go_to(bench, 2);
    const tl_bench_damage *damages = tl_bench_damages(bench, &count);
    CU_ASSERT(count == 1 && damages[0].pin == tl_bench_line(bench, "L5"));
    CU_ASSERT(near(damages[0].amperes, (12 - rail - 0.3) / 1000.05, 1e-3));
    CU_ASSERT(near(damages[0].joules, 2 * damages[0].volts * damages[0].amperes, 1e-3) &&
              damages[0].joules > 0 && near(damages[0].seconds, 2, 1e-6));
    tl_bench_free(bench);
}

/* 100 uF behind 1 kohm is charged to 20 V, and gives 15 V a way of 1 kohm more into a pin's clamp; then it is
 * let down again. Each time is an event of its own, and nobody looked. */
static void damage_is_told_event_by_event(void)
{
    int count = -1;
    tl_bench *bench =
        open_with("signals: {s: {source: {voltage: 0 V .. 20 V}, stages: [filter: {series: 1k ±0 %, "
                  "capacitor: 100 uF ±0 %}, "
                  "series: 1k ±0 %], pin: L4}}\n",
                  "values: {s: {steps: [0 s: 0 V, 1 s: 20 V, 5 s: 0 V, 20 s: 20 V, 21 s: 0 V]}}\n");
    const double rail = tl_bench_value(bench, tl_circuit_supply_param(tl_bench_circuit(bench), 0)),
                 clamp = rail + 0.3, way = 1010, tau = 100e-6 / (1 / 1e3 + 1 / way),
                 high = (20 / 1e3 + clamp / way) / (1 / 1e3 + 1 / way),
                 low = clamp / way / (1 / 1e3 + 1 / way),
                 begins = clamp + way * 1e-3; /* the capacitor, when 1 mA flows */
    tl_bench_go_to(bench, 50);
    const tl_bench_damage *damages = tl_bench_damages(bench, &count);
    CU_ASSERT_FATAL(count == 2);
    for (int i = 0; i < 2; i++) {
        const double up = i == 0 ? 1 : 20, down = i == 0 ? 5 : 21, conducts = up - 0.1 * log(1 - clamp / 20),
                     at = conducts + tau * log((high - clamp) / (high - begins)),
                     top = high + (clamp - high) * exp(-(down - conducts) / tau),
                     ends = down + tau * log((top - low) / (begins - low));
        double joules = 0;
        for (double t = at; t < ends; t += 1e-5) {
            const double c = t < down ? high + (clamp - high) * exp(-(t - conducts) / tau)
                                      : low + (top - low) * exp(-(t - down) / tau),
                         amperes = (c - clamp) / way;
            joules += (clamp + 10 * amperes) * amperes * 1e-5;
        }
        CU_ASSERT(fabs(damages[i].at - at) < 1e-4 && fabs(damages[i].seconds - (ends - at)) < 2e-4);
        CU_ASSERT(near(damages[i].amperes, (top - clamp) / way, 1e-3));
        CU_ASSERT(near(damages[i].joules, joules, 0.01));
    }
    tl_bench_free(bench);
}

/* A knob, a line of 5 V that its pin's clamp holds, and a contact that bounces, on one feed: the knob stands
 * where the circuit says, however long nobody looked, and what moves a pin's own few picofarads harms no pin.
 */
static void neighbours_are_seen_and_harm_nobody(void)
{
    static const char plan[] =
        "supplies: {field: 5 V ±0 %}\nshared: {panel: {from: logic, series: 470 ohm ±0 %}}\nsignals:\n"
        "  level: {source: {potentiometer: 5k ±0 %, top: panel, end: 0 ohm}, pin: L4}\n"
        "  ready: {source: {logic: field, high: 5 V, low: 0 V, drives: 5 mA}, stages: [guard: 10k ±0 %, "
        "pull: {up: 4k7 ±0 %, "
        "to: panel}], pin: L10}\n"
        "  dry: {source: {contact: ground, bounce: 3 ms}, stages: [pull: {up: 10k ±0 %, to: panel}], pin: "
        "L11}\n",
                      scene[] = "values: {level: [0 s: 20 %, 30 s: 80 %, 1 min: 20 %]}\n"
                                "presses: {ready: [5 s for 30 s], dry: [40 s for 10 s]}\n";
    tl_bench *bench = open_with(plan, scene);
    const double logic = tl_bench_value(bench, tl_circuit_supply_param(tl_bench_circuit(bench), 0));
    int count;
    tl_bench_go_to(bench, 10); /* the line has gone low on the way, and its clamp has release */
    const double panel = logic / 470 / (1 / 470.0 + 1 / 5e3 + 1 / 14.7e3);
    CU_ASSERT(near(tl_bench_pin_volts(bench, 0), 0.4 * panel, 0.01));
    for (int i = 0; i < 600; i++) {
        tl_bench_go_to(bench, 10 + 0.1 * i);
        (void)tl_bench_pin_volts(bench, i % 3);
    }
    (void)tl_bench_damages(bench, &count);
    CU_ASSERT(count == 0);
    tl_bench_free(bench);
}

/* A wave beyond the limits: ten events, whether somebody looks all the time or once. */
static void damage_does_not_mind_who_looks(void)
{
    static const char plan[] =
        "signals: {s: {source: {voltage: 0 V .. 20 V}, stages: [series: 1k ±0 %], pin: L4}}\n",
                      scene[] = "values: {s: {middle: 10 V, swing: 10 V, period: 300 ms}}\n";
    tl_bench *once = open_with(plan, scene), *often = open_with(plan, scene);
    int count[2] = {0};
    for (int i = 0; i <= 305; i++) {
        tl_bench_go_to(often, 0.01 * i);
        (void)tl_bench_pin_volts(often, 0);
    }
    tl_bench_go_to(once, 3.05);
    const tl_bench_damage *a = tl_bench_damages(once, &count[0]), *b = tl_bench_damages(often, &count[1]);
    CU_ASSERT_FATAL(count[0] == 11 && count[1] == 11);
    for (int i = 0; i < 11; i++)
        CU_ASSERT(fabs(a[i].at - b[i].at) < 1e-4 && near(a[i].seconds, b[i].seconds, 1e-3) &&
                  near(a[i].amperes, b[i].amperes, 1e-3) && near(a[i].joules, b[i].joules, 0.01));
    tl_bench_free(once);
    tl_bench_free(often);
}

/* A loaded knob that is turned slowly near its ends, and a sensor from 10 ohm to 1 Mohm: within 1e-4 of the
 * span of the closed form, wherever it stands. */
static void ohms_move_truly(void)
{
    tl_bench *bench = open_with("signals:\n  k: {source: {potentiometer: 10k ±0 %, top: logic, end: 0 ohm}, "
                                "stages: [divider: {upper: 1k ±0 %, lower: 10k "
                                "±0 %}], pin: L4}\n"
                                "  r: {source: {resistance: 10 ohm .. 1M}, stages: [partner: {upper: 10k ±0 "
                                "%, to: logic}], pin: L5}\n",
                                "values: {k: [0 s: 0 %, 20 s: 2 %, 30 s: 98 %, 50 s: 100 %], r: [0 s: 10 "
                                "ohm, 30 s: 1k, 60 s: 1M]}\n");
    const double logic = tl_bench_value(bench, tl_circuit_supply_param(tl_bench_circuit(bench), 0)),
                 leak = 5e-8;
    for (double at = 0.013; at < 60; at += 0.037) {
        tl_bench_go_to(bench, at);
        const double t = at < 20   ? at / 1000
                         : at < 30 ? 0.02 + 0.096 * (at - 20)
                         : at < 50 ? 0.98 + (at - 30) / 1000
                                   : 1,
                     low = 1 / (1 / (10e3 * t + 1e-9) + 1 / 11e3),
                     wiper = logic * low / (low + 10e3 * (1 - t)),
                     ohms = at < 30 ? 10 + 33 * at : 1e3 + 33300 * (at - 30);
        CU_ASSERT(fabs(tl_bench_pin_volts(bench, 0) - wiper * 10 / 11) < 1e-4 * logic + leak * 5e3);
        CU_ASSERT(fabs(tl_bench_pin_volts(bench, 1) - logic * ohms / (ohms + 10e3)) <
                  1e-4 * logic + leak * 10e3);
    }
    tl_bench_free(bench);
}

/* A follower on 5 V that reaches 1.2 V below it: clipped there, and at 20 mV above ground. */
static void followers_clip(void)
{
    tl_bench *bench = open_with("supplies: {five: 5 V}\nsignals:\n"
                                "  s: {source: {voltage: 0 V .. 5 V}, stages: [follower: {supply: five, "
                                "output: 20 mV .. rail - 1.2 V}, "
                                "divider: {upper: 10k, lower: 10k}], pin: L4}\n",
                                "values: {s: [0 s: 0 V, 5 s: 5 V]}\n");
    static const double wanted[][2] = {{0.001, 0.01}, {2, 1}, {3.7, 1.85}, {3.9, 1.9}, {5, 1.9}};
    for (size_t i = 0; i < ROWS(wanted); i++) {
        tl_bench_go_to(bench, wanted[i][0]);
        CU_ASSERT(fabs(tl_bench_pin_volts(bench, 0) - wanted[i][1]) < 1e-3);
    }
    tl_bench_free(bench);
}

/* One transistor between 5 V and 3.3 V, by what either side does; with a threshold that is too high the low
 * side stays a diode's drop up. Without a source's wire nothing passes that the pulls do not bring. */
static void shifters_follow_volts(void)
{
    static const struct {
        const char *name, *threshold, *scene;
        double low, high; /* at the pin while the far side pulls low */
    } rows[] = {
        {"opens past its diode", "1.5 V", "presses: {s: [1 s for 1 s]}\n", 0, 0.05},
        {"a threshold it cannot reach", "3.6 V", "presses: {s: [1 s for 1 s]}\n", 0.6, 0.8},
        {"its wire is off", "1.5 V", "presses: {s: [1 s for 1 s]}\nfaults: [{open: s.source}]\n", 3.2, 3.4},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char plan[400];
        snprintf(plan, sizeof plan,
                 "supplies: {five: 5 V}\nsignals: {s: {source: {contact: ground}, stages: [pull: {up: 10k, "
                 "to: five}, shifter: "
                 "{way: n-channel, gate: logic, threshold: %s, diode: 0.7 V}, pull: {up: 10k, to: logic}], "
                 "pin: L12}}\n",
                 rows[i].threshold);
        tl_bench *bench = open_with(plan, rows[i].scene);
        CU_ASSERT(tl_bench_pin_volts(bench, 0) > 3.1);
        tl_bench_go_to(bench, 1.5);
        const double volts = tl_bench_pin_volts(bench, 0);
        CHECK_ROW(rows[i].name, volts >= rows[i].low && volts <= rows[i].high);
        tl_bench_go_to(bench, 2.5);
        CHECK_ROW(rows[i].name, tl_bench_pin_volts(bench, 0) > 3.1);
        tl_bench_free(bench);
    }
}

/* Between its states a channel is a source follower: the low side rises to gate - threshold and no further,
 * by what its load takes over the channel's ohms; below that it is a resistor. With resistance on either
 * side. */
static void a_channel_follows_its_gate(void)
{
    static const struct {
        double before, after, load;
    } rows[] = {{1, 1, 100e3}, {47, 47, 100e3}, {1e3, 47, 47e3}, {47, 1e3, 220e3}};
    for (size_t i = 0; i < ROWS(rows); i++) {
        char plan[600];
        snprintf(
            plan, sizeof plan,
            "supplies: {five: 5 V}\nsignals: {s: {source: {contact: ground}, stages: [pull: {up: 10k, to: "
            "five}, series: %g ohm, shifter: {way: n-channel, gate: logic, threshold: 1.5 V, diode: 0.7 V}, "
            "series: %g ohm, pull: {down: %g ohm, to: ground}], pin: L12}}\n",
            rows[i].before, rows[i].after, rows[i].load);
        tl_bench *bench = open_with(plan, "presses: {s: [1 s for 1 s]}\n");
        const double level = tl_bench_value(bench, tl_circuit_param(tl_bench_circuit(bench), "logic")) - 1.5;
        const double wanted = level * rows[i].load / (rows[i].load + rows[i].after + 5);
        CHECK_ROW(plan, near(tl_bench_pin_volts(bench, 0), wanted, 5e-3) && tl_bench_trouble(bench) == NULL);
        tl_bench_go_to(bench, 1.5);
        CHECK_ROW(plan, fabs(tl_bench_pin_volts(bench, 0)) < 0.02);
        tl_bench_go_to(bench, 2.5);
        CHECK_ROW(plan, near(tl_bench_pin_volts(bench, 0), wanted, 5e-3) && tl_bench_trouble(bench) == NULL);
        tl_bench_free(bench);
    }
}

/* However slow a filter, it has settled when the scene begins. */
static void a_scene_begins_at_rest(void)
{
    tl_bench *bench = open_with("signals: {s: {source: {voltage: 0 V .. 3 V}, stages: [filter: {series: 1M, "
                                "capacitor: 100u}], pin: L4}}\n",
                                "values: {s: [0 s: 2 V]}\n");
    const double begins = tl_bench_pin_volts(bench, 0);
    tl_bench_go_to(bench, 5000);
    CU_ASSERT(near(begins, tl_bench_pin_volts(bench, 0), 1e-6) && fabs(begins - 2) < 0.06);
    tl_bench_free(bench);
}

/* A contact with no pull: nobody knows while it is open, everybody while it is closed, and again. */
static void an_input_is_undriven_while_nothing_holds_it(void)
{
    tl_bench *bench = open_with("signals: {s: {source: {contact: ground}, pin: L12}}\n",
                                "presses: {s: [1 s for 1 s, 3 s for 1 s]}\n");
    static const bool undriven[] = {true, false, true, false, true};
    for (size_t i = 0; i < ROWS(undriven); i++) {
        tl_bench_reading r;
        tl_bench_go_to(bench, 0.5 + (double)i);
        CU_ASSERT(tl_bench_read(bench, 0, &r) == TL_NET_SOLVED);
        CU_ASSERT(r.undriven == undriven[i] && ((r.flags & TL_READING_FRESH) == 0) == undriven[i]);
        CU_ASSERT(undriven[i] || fabs(r.volts) < 1e-6);
    }
    tl_bench_free(bench);
}

/* Inverter, buffer and diode: the pin's level while the source is low, and while it is high. */
static void other_shifters_too(void)
{
    static const struct {
        const char *name, *stages;
        double at_low, at_high;
    } rows[] = {
        {"inverter", "shifter: {way: inverter, base: 22k}, pull: {up: 10k, to: logic}", 3.3, 0.15},
        {"buffer", "shifter: {way: buffer, supply: logic, vil: 0.8 V, vih: 2 V, limits: -0.5 V .. 5.5 V}",
         0.1, 3.2},
        {"diode", "shifter: {way: diode, drop: 0.3 V}, pull: {up: 10k, to: logic}", 0.5, 3.3},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char plan[400];
        snprintf(plan, sizeof plan,
                 "supplies: {five: 5 V}\nsignals: {s: {source: {logic: five, high: rail - 0.4 V, low: 0.4 V, "
                 "drives: 8 mA}, "
                 "stages: [%s], pin: L12}}\n",
                 rows[i].stages);
        tl_bench *bench = open_with(plan, "presses: {s: [1 s for 1 s]}\n");
        CHECK_ROW(rows[i].name, fabs(tl_bench_pin_volts(bench, 0) - rows[i].at_high) < 0.2);
        tl_bench_go_to(bench, 1.5);
        CHECK_ROW(rows[i].name, fabs(tl_bench_pin_volts(bench, 0) - rows[i].at_low) < 0.25);
        tl_bench_free(bench);
    }
}

/* A supply's ripple is on everything that is connected to it. */
static void ripples(void)
{
    tl_bench *bench = open_with(
        "supplies: {motor: {voltage: 10 V .. 14 V, ripple: 400 mV, frequency: 100 Hz}}\n"
        "signals: {s: {source: {rail: motor}, stages: [divider: {upper: 30k, lower: 10k}], pin: L4}}\n",
        NULL);
    double least = INFINITY, most = -INFINITY;
    for (int i = 0; i < 200; i++) {
        tl_bench_go_to(bench, 1 + 0.0001 * i);
        least = fmin(least, tl_bench_pin_volts(bench, 0));
        most = fmax(most, tl_bench_pin_volts(bench, 0));
    }
    CU_ASSERT(near(most - least, 0.1, 0.02) && near((most + least) / 2, 3, 0.2));
    tl_bench_free(bench);
}

/* Pins drive, pull, and fight: a contact to ground against an output that is high. */
static void pins_drive_and_pull(void)
{
    tl_bench *bench =
        open_with("signals:\n  free: {source: {contact: ground}, stages: [pull: {up: internal}], pin: L26}\n"
                  "  fight: {source: {contact: ground}, stages: [pull: {up: 10k, to: logic}], pin: L12}\n",
                  "presses: {fight: [1 s for 1 s]}\n");
    const tl_port *port = tl_bench_port(bench);
    const uint8_t free_line = (uint8_t)tl_bench_line(bench, "L26"),
                  fight = (uint8_t)tl_bench_line(bench, "L12");
    bool high = false;
    int count = -1;
    CU_ASSERT(tl_port_line_use(port, free_line, TL_LINE_INPUT_PULL_UP) == TL_OK);
    CU_ASSERT(tl_port_wait_us(port, 100) == TL_OK && tl_port_line_level(port, free_line, &high) == TL_OK &&
              high);
    CU_ASSERT(tl_port_line_use(port, free_line, TL_LINE_OUTPUT) == TL_OK &&
              tl_port_wait_us(port, 100) == TL_OK);
    CU_ASSERT(tl_port_line_level(port, free_line, &high) == TL_OK && !high);
    CU_ASSERT(tl_port_line_use(port, fight, TL_LINE_OUTPUT) == TL_OK &&
              tl_port_line_drive(port, fight, true) == TL_OK);
    CU_ASSERT(tl_port_line_level(port, fight, &high) == TL_OK && high);
    tl_bench_damages(bench, &count);
    CU_ASSERT(count == 0);
    tl_bench_go_to(bench,
                   1.5); /* the contact closes: the level follows the contact, and the output suffers */
    CU_ASSERT(tl_port_line_level(port, fight, &high) == TL_OK && !high);
    const tl_bench_damage *damages = tl_bench_damages(bench, &count);
    CU_ASSERT(count == 1 && damages[0].pin == fight && damages[0].amperes < -0.012);
    tl_bench_be_strict(bench, true);
    tl_bench_go_to(bench, 2.5); /* released again, but what is broken stays as it was */
    CU_ASSERT(tl_port_line_level(port, fight, &high) == TL_OK && !high);
    tl_bench_free(bench);
}

/* A loaded knob, standing or turned, near its ends as well: its legs' resistors, with the pull beside the
 * upper. */
static void knobs_are_exact_up_to_their_ends(void)
{
    static const double travels[] = {0, 0.0005, 0.002, 0.011, 0.049, 0.3, 0.5, 0.77, 0.951, 0.9985, 1};
    for (size_t i = 0; i < ROWS(travels); i++) {
        char scene[120];
        for (int turned = 0; turned < 2; turned++) {
            snprintf(scene, sizeof scene,
                     turned ? "values: {a: [0 s: 0 %%, 100 s: 100 %%]}\n" : "values: {a: [0 s: %.9g %%]}\n",
                     100 * travels[i]);
            tl_bench *bench = open_with(
                "signals: {a: {source: {potentiometer: 100k, top: logic}, stages: [pull: {up: 1k, to: "
                "logic}], pin: L4}}\n",
                scene);
            const double x = travels[i], upper = 100e3 * (1 - x), lower = 100e3 * x;
            const double up = upper > 0 ? upper * 1e3 / (upper + 1e3) : 0;
            const double rail = tl_bench_value(bench, tl_circuit_supply_param(tl_bench_circuit(bench), 0));
            tl_bench_go_to(bench, turned ? 100 * x : 5);
            CHECK_ROW(scene,
                      fabs(tl_bench_pin_volts(bench, 0) - rail * (lower > 0 ? lower / (lower + up) : 0)) <
                          (turned ? 1e-4 : 1e-6) * rail + 60e-6);
            tl_bench_free(bench);
        }
    }
}

/* What cannot be solved is named, and nothing hangs. */
static void names_what_cannot_be_solved(void)
{
    tl_bench *bench = open_with(
        "supplies: {five: 5 V}\nsignals: {s: {source: {rail: five}, stages: [divider: {upper: 10k, "
        "lower: 10k}], pin: L4}}\n",
        "faults: [{wrong: s.divider.upper, value: 0 ohm, from: 1 s}, {wrong: s.divider.lower, value: 0 ohm, "
        "from: 3 s}]\n");
    tl_bench_reading reading;
    tl_bench_go_to(bench, 2);
    CU_ASSERT(tl_bench_read(bench, 0, &reading) == TL_NET_SOLVED && tl_bench_trouble(bench) == NULL);
    CU_ASSERT(near(tl_bench_pin_volts(bench, 0), 5, 0.05)); /* no clamp can hold a supply */
    tl_bench_go_to(bench, 4);
    CU_ASSERT(tl_bench_read(bench, 0, &reading) == TL_NET_SHORTED);
    CU_ASSERT(tl_bench_trouble(bench) != NULL && strstr(tl_bench_trouble(bench), "at 3 s: ") != NULL &&
              strstr(tl_bench_trouble(bench), "ground and five are joined by 0 ohm") != NULL);
    CU_ASSERT(isfinite(tl_bench_pin_volts(bench, 0)));
    tl_bench_free(bench);
}

/* Half of what a pin moves by over a period of 50 Hz. */
static double hum_at(tl_bench *bench, int signal)
{
    double least = INFINITY, most = -INFINITY;
    const double from = tl_bench_time(bench) + 1;
    for (int i = 0; i < 400; i++) {
        tl_bench_go_to(bench, from + 50e-6 * i);
        const double volts = tl_bench_pin_volts(bench, signal);
        least = fmin(least, volts);
        most = fmax(most, volts);
    }
    return (most - least) / 2;
}

/* 10 V or 20 V of hum through 1 Mohm or 5 Mohm: what a point picks up goes by the ohms that it has, a filter
 * behind it takes its share, and one before it does not help. Complex numbers tell; the sine's 32 straight
 * pieces leave half a percent.
 */
static void picks_up_hum_through_its_ohms(void)
{
    static const char plan[] = "signals:\n"
                               "  ten: {source: {voltage: 1 V, resistance: 10k}, pin: L4}\n"
                               "  hundred: {source: {voltage: 1 V, resistance: 100k}, pin: L5}\n"
                               "  before: {source: {voltage: 1 V, resistance: 10k}, stages: [filter: "
                               "{series: 10k, capacitor: 100n}], pin: L6}\n"
                               "  behind: {source: {voltage: 1 V, resistance: 10k}, stages: [filter: "
                               "{series: 10k, capacitor: 100n}], pin: L7}\n";
    static const char scene[] = "faults:\n"
                                "  - {noise: ten.pin, volts: 20 V, frequency: 50 Hz}\n"
                                "  - {noise: hundred.pin, volts: 10 V, frequency: 50 Hz, until: 30 s}\n"
                                "  - {noise: before.source, volts: 20 V, frequency: 50 Hz, through: 5M}\n"
                                "  - {noise: behind.pin, volts: 20 V, frequency: 50 Hz, through: 5M}\n";
    tl_bench *bench = open_with(plan, scene);
    const double complex capacitor = 1 / (I * 2 * 3.14159265358979 * 50 * 100e-9), filter = 10e3 + capacitor;
    const double complex at_source = 20 / 5e6 / (1 / 5e6 + 1 / 10e3 + 1 / filter);
    const double wanted[] = {20 * 10e3 / 1.01e6, 10 * 100e3 / 1.1e6, cabs(at_source * capacitor / filter),
                             cabs(20 / 5e6 / (1 / 5e6 + 1 / 20e3 + 1 / capacitor))};
    for (int i = 0; i < 4; i++)
        CU_ASSERT(near(hum_at(bench, i) / wanted[i], 1, 0.01));
    tl_bench_go_to(bench, 31);
    CU_ASSERT(hum_at(bench, 1) < 1e-9 && hum_at(bench, 0) > 0.19);
    tl_bench_free(bench);
}

CU_TestInfo physics_tests[] = {
    {"knobs are exact up to their ends", knobs_are_exact_up_to_their_ends},
    {"rests where the netlist says", rests_where_the_netlist_says},
    {"follows a step", follows_a_step},
    {"follows ramps and sines", follows_ramps_and_sines},
    {"follows ohms that move", follows_ohms_that_move},
    {"clamps conduct", clamps_conduct},
    {"ohms move truly", ohms_move_truly},
    {"damage is told event by event", damage_is_told_event_by_event},
    {"neighbours are seen and harm nobody", neighbours_are_seen_and_harm_nobody},
    {"damage does not mind who looks", damage_does_not_mind_who_looks},
    {"followers clip", followers_clip},
    {"shifters follow volts", shifters_follow_volts},
    {"a channel follows its gate", a_channel_follows_its_gate},
    {"a scene begins at rest", a_scene_begins_at_rest},
    {"an input is undriven while nothing holds it", an_input_is_undriven_while_nothing_holds_it},
    {"other shifters too", other_shifters_too},
    {"picks up hum through its ohms", picks_up_hum_through_its_ohms},
    {"ripples", ripples},
    {"pins drive and pull", pins_drive_and_pull},
    {"names what cannot be solved", names_what_cannot_be_solved},
    CU_TEST_INFO_NULL,
};
