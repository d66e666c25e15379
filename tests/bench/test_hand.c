/* SPDX-License-Identifier: MIT */
/* A hand on the bench: what it turns and presses is as if the scene had, and outdoes the scene. */
#include "bench/open_with.h"
#include "support.h"
#include "tinyladder/bench.h"
#include <math.h>
#include <stdio.h>
#include <string.h>

#define PLAN TL_SOURCE "/demo/fernhill.plan.yaml"

static tl_bench *open_bench(const char *scene)
{
    tl_bench *bench = tl_bench_open(
        PLAN, scene != NULL ? scratch_file("hand.scene.yaml", scene, strlen(scene)) : NULL, NULL);
    CU_ASSERT_FATAL(bench != NULL);
    return bench;
}

/* At its pin ten seconds on, multiplexers switched to it. */
static double settled_volts(tl_bench *bench, int signal)
{
    tl_bench_reading r;
    tl_bench_go_to(bench, tl_bench_time(bench) + 10);
    CU_ASSERT(tl_bench_read(bench, signal, &r) == TL_NET_SOLVED && r.status == TL_OK);
    return tl_bench_pin_volts(bench, signal);
}

/* Every source of the demo, turned to a third of its way: the pin stands where a scene that has it there from
 * the beginning puts it, and is back where it was when it is released. */
static void turns_as_a_scene_does(void)
{
    tl_bench *by_hand = open_bench(NULL);
    const tl_plan *plan = tl_circuit_plan(tl_bench_circuit(by_hand));
    int turned = 0;
    for (int i = 0; i < plan->signal_count; i++) {
        static const char *const units[] = {
            [TL_SOURCE_VOLTAGE] = "V", [TL_SOURCE_POTENTIOMETER] = "%", [TL_SOURCE_RESISTANCE] = "ohm",
            [TL_SOURCE_CURRENT] = "A", [TL_SOURCE_BRIDGE] = "V",        [TL_SOURCE_RAIL] = "V"};
        const tl_signal *signal = &plan->signals[i];
        double least, most;
        char scene[200];
        if (!tl_bench_can_turn(by_hand, i, &least, &most))
            continue;
        const tl_source *source = &signal->source;
        const bool quantity = source->kind == TL_SOURCE_RESISTANCE && source->curve.law != TL_LAW_NONE;
        const double value = least + (most - least) / 3, before = settled_volts(by_hand, i),
                     from = tl_bench_truth(by_hand, i);
        snprintf(scene, sizeof scene,
                 "tinyladder: scene 1\nseed: 1\nlength: 1000 s\nvalues: {%s: [0 s: %.15g %s]}\n",
                 signal->name,
                 quantity                                  ? tl_response_quantity(&source->curve, value)
                 : source->kind == TL_SOURCE_POTENTIOMETER ? 100 * value
                                                           : value,
                 quantity ? source->curve.unit : units[source->kind]);
        tl_bench *by_scene = open_bench(scene);
        /* By its law a sensor has that; by its tolerance a little more or less. */
        const double real = tl_bench_truth(by_scene, i);
        CHECK_ROW(signal->name, fabs(real - value) <= (quantity ? 0.05 : 1e-9) * fabs(value));
        tl_bench_turn(by_hand, i, real);
        const double turned_to = settled_volts(by_hand, i);
        CHECK_ROW(signal->name, fabs(tl_bench_truth(by_hand, i) - real) < 1e-9 * fabs(real));
        CHECK_ROW(signal->name, fabs(turned_to - settled_volts(by_scene, i)) < 1e-5);
        CHECK_ROW(signal->name, fabs(turned_to - before) > 1e-4);
        tl_bench_turn(by_hand, i, 2 * most - least); /* no further than its end */
        CHECK_ROW(signal->name,
                  fabs(settled_volts(by_hand, i) - turned_to) > 1e-4 && tl_bench_truth(by_hand, i) == most);
        tl_bench_let_go(by_hand, i);
        CHECK_ROW(signal->name,
                  fabs(settled_volts(by_hand, i) - before) < 1e-6 && tl_bench_truth(by_hand, i) == from);
        tl_bench_free(by_scene);
        turned++;
    }
    CU_ASSERT(turned == 16);
    tl_bench_free(by_hand);
}

static int signal_of(const tl_bench *bench, const char *name)
{
    int index = -1;
    CU_ASSERT_FATAL(tl_plan_signal(tl_circuit_plan(tl_bench_circuit(bench)), name, &index) != NULL);
    return index;
}

static bool reads_closed(tl_bench *bench, int signal, double at)
{
    tl_bench_reading r;
    tl_bench_go_to(bench, at);
    CU_ASSERT(tl_bench_read(bench, signal, &r) == TL_NET_SOLVED && r.status == TL_OK);
    return r.closed;
}

/* The scene presses at 2 s, 5 s and 9 s, a second each; the hand from 2.5 s to 7 s, then it gives it back. */
static void a_hand_outdoes_the_scene(void)
{
    tl_bench *bench =
        open_bench("tinyladder: scene 1\nlength: 20 s\npresses: {open-button: [2 s for 1 s, 5 s "
                   "for 1 s, 9 s for 1 s]}\n");
    const int button = signal_of(bench, "open-button");
    CU_ASSERT(!reads_closed(bench, button, 1) && reads_closed(bench, button, 2.5));
    tl_bench_press(bench, button, 0, true);
    CU_ASSERT(reads_closed(bench, button, 3.5)); /* it holds what the scene would release */
    tl_bench_press(bench, button, 0, false);
    CU_ASSERT(!tl_bench_pressed(bench, button, 0)); /* bouncing still */
    CU_ASSERT(!reads_closed(bench, button, 4) && !reads_closed(bench, button, 5.5));
    tl_bench_press(bench, button, 0, true);
    tl_bench_press(bench, button, 0, false); /* at once: it stays where it was */
    CU_ASSERT(!reads_closed(bench, button, 7));
    tl_bench_let_go(bench, button);
    CU_ASSERT(reads_closed(bench, button, 9.5) && !reads_closed(bench, button, 11));
    tl_bench_free(bench);
}

/* A keypad's buttons, by number; and what cannot be turned or pressed stays as it is. */
static void presses_the_buttons_of_a_keypad(void)
{
    tl_bench *bench = open_bench(NULL);
    const int keypad = signal_of(bench, "keypad"), battery = signal_of(bench, "house-battery");
    const int count = tl_circuit_plan(tl_bench_circuit(bench))->signals[keypad].source.button_count;
    double least, most;
    CU_ASSERT(count > 2);
    for (int i = 0; i < count; i++) {
        tl_bench_reading r;
        tl_bench_press(bench, keypad, i, true);
        tl_bench_go_to(bench, tl_bench_time(bench) + 1);
        CU_ASSERT(tl_bench_read(bench, keypad, &r) == TL_NET_SOLVED && r.is.button == i);
        tl_bench_press(bench, keypad, i, false);
        tl_bench_go_to(bench, tl_bench_time(bench) + 1);
    }
    CU_ASSERT(!tl_bench_can_press(bench, keypad, count) && !tl_bench_can_press(bench, battery, 0));
    CU_ASSERT(!tl_bench_can_turn(bench, keypad, &least, &most));
    tl_bench_press(bench, battery, 0, true);
    tl_bench_turn(bench, keypad, 1);
    CU_ASSERT(!tl_bench_pressed(bench, battery, 0) && tl_bench_trouble(bench) == NULL);
    tl_bench_free(bench);
}

/* Slow calls and jitter: a poll that takes 0.3 ms to 0.5 ms misses pulses of 0.2 ms; asleep until a change
 * none is missed. The bench's own clock tells what the calls took. */
static void slow_calls_miss_edges(void)
{
    tl_bench *bench =
        open_bench("tinyladder: scene 1\nlength: 9 s\nvalues: {motor-status: {repeat: [low 0.2 ms, high "
                   "0.8 ms], from: 1 s, until: 2 s}}\n");
    const tl_port *port = tl_bench_port(bench);
    const int signal = signal_of(bench, "motor-status");
    const uint8_t line = (uint8_t)tl_circuit_plan(tl_bench_circuit(bench))->signals[signal].pin;
    int polled = 0, slept = 0;
    bool high = true, seen = true;
    double least = 1, most = 0;
    CU_ASSERT(tl_port_line_use(port, line, TL_LINE_INPUT) == TL_OK);
    tl_bench_go_to(bench, 1);
    tl_bench_call_takes(bench, TL_BENCH_LINE_LEVEL, 3e-4, 2e-4);
    while (tl_bench_time(bench) < 1.5) {
        const double begun = tl_bench_time(bench);
        CU_ASSERT(tl_port_line_level(port, line, &high) == TL_OK);
        const double took = tl_bench_time(bench) - begun;
        least = fmin(least, took);
        most = fmax(most, took);
        polled += seen && !high;
        seen = high;
    }
    CU_ASSERT(least >= 3e-4 && least < 3.1e-4 && most <= 5.01e-4 && most > 4.9e-4);
    CU_ASSERT(polled > 150 && polled < 350); /* of 500 */
    tl_bench_call_takes(bench, TL_BENCH_CALLS, 1e-6, 0);
    while (tl_bench_time(bench) < 1.9999) {
        CU_ASSERT(tl_port_wait_change(port, &line, &seen, 1, 100000) == TL_OK);
        CU_ASSERT(tl_port_line_level(port, line, &high) == TL_OK);
        slept += seen && !high;
        seen = high;
    }
    CU_ASSERT(slept == 500 || slept == 499);
    tl_bench_free(bench);
}

/* A press shorter than its bounce settles half way, and not before. */
static void a_short_press_settles_half_way(void)
{
    char scene[600] = "presses: {s: [";
    for (int i = 1; i <= 20; i++)
        snprintf(scene + strlen(scene), sizeof scene - strlen(scene), "%s%d s for 4 ms", i == 1 ? "" : ", ",
                 i);
    strcat(scene, "]}\n");
    tl_bench *bench = open_with(
        "signals: {s: {source: {contact: ground, bounce: 6 ms}, stages: [pull: {up: 10k, to: logic}], "
        "pin: L12}}\n",
        scene);
    const uint8_t line = (uint8_t)tl_bench_line(bench, "L12");
    CU_ASSERT(tl_port_line_use(tl_bench_port(bench), line, TL_LINE_INPUT) == TL_OK);
    double latest = 0;
    for (int i = 1; i <= 20; i++) {
        bool before = true, level = true;
        for (int step = 0; step < 390; step++) { /* 10 us each, all but the end of the press */
            tl_bench_go_to(bench, i + 1e-5 * step);
            CU_ASSERT(tl_port_line_level(tl_bench_port(bench), line, &level) == TL_OK);
            if (level != before)
                latest = fmax(latest, 1e-5 * step);
            before = level;
        }
        CU_ASSERT(!level);
    }
    CU_ASSERT(latest > 1.5e-3 && latest < 2.05e-3);
    tl_bench_free(bench);
}

/* Whoever sleeps until a slow wave passes the threshold wakes when one who looks all the time sees it. */
static void a_wave_wakes_who_waits(void)
{
    static const char plan[] = "signals: {s: {source: {voltage: 0 V .. 3.3 V}, pin: L12}}\n",
                      scene[] = "values: {s: {middle: 1.65 V, swing: 1.6 V, period: 2 s}}\n";
    double waited[2], looked[2];
    bool high = false;
    tl_bench *bench = open_with(plan, scene);
    const tl_port *port = tl_bench_port(bench);
    const uint8_t line = (uint8_t)tl_bench_line(bench, "L12");
    CU_ASSERT(tl_port_line_use(port, line, TL_LINE_INPUT) == TL_OK);
    tl_bench_go_to(bench, 1.5);
    for (int i = 0; i < 2; i++) {
        const bool seen = i == 1;
        CU_ASSERT(tl_port_wait_change(port, &line, &seen, 1, 1900000) == TL_OK);
        waited[i] = tl_bench_time(bench);
    }
    tl_bench_free(bench);
    bench = open_with(plan, scene);
    port = tl_bench_port(bench);
    CU_ASSERT(tl_port_line_use(port, line, TL_LINE_INPUT) == TL_OK);
    tl_bench_go_to(bench, 1.5);
    for (int i = 0; i < 2; i++) {
        for (high = i == 1; high == (i == 1) && tl_bench_time(bench) < 4;) {
            tl_bench_go_to(bench, tl_bench_time(bench) + 50e-6);
            CU_ASSERT(tl_port_line_level(port, line, &high) == TL_OK);
        }
        looked[i] = tl_bench_time(bench);
        CU_ASSERT_DOUBLE_EQUAL(waited[i], looked[i], 200e-6);
    }
    CU_ASSERT(looked[0] > 2.05 && looked[0] < 2.25 && looked[1] > 3 && looked[1] < 3.5);
    tl_bench_free(bench);
}

/* A pin feeds a rail whose load falls slowly: it begins to suffer at the moment that small steps find, too.
 */
static void a_pin_that_feeds_suffers_in_time(void)
{
    static const char plan[] = "supplies: {hot: {pin: L10, level: high}}\nsignals: {s: {source: {resistance: "
                               "100 ohm .. 1100 ohm}, stages: "
                               "[partner: {upper: 47 ohm ±1 %, to: hot}], pin: L4, reading: {unit: ohm}}}\n",
                      scene[] = "values: {s: {middle: 600 ohm, swing: 490 ohm, period: 10 s}}\n";
    double at[2] = {0, 0};
    for (int way = 0; way < 2; way++) {
        int count = 0;
        tl_bench *bench = open_with(plan, scene);
        const tl_port *port = tl_bench_port(bench);
        const uint8_t line = (uint8_t)tl_bench_line(bench, "L10");
        CU_ASSERT(tl_port_line_use(port, line, TL_LINE_OUTPUT) == TL_OK &&
                  tl_port_line_drive(port, line, true) == TL_OK);
        for (int i = 1; i <= 4500 && way == 1; i++)
            tl_bench_go_to(bench, 5 + 1e-3 * i), (void)tl_bench_damages(bench, &count);
        tl_bench_go_to(bench, 9.6);
        const tl_bench_damage *d = tl_bench_damages(bench, &count);
        CU_ASSERT(count > 0);
        at[way] = count > 0 ? d[0].at : 0;
        tl_bench_free(bench);
    }
    CU_ASSERT(at[0] > 5 && at[0] < 7.5);
    CU_ASSERT_DOUBLE_EQUAL(at[0], at[1], 2e-3);
}

CU_TestInfo hand_tests[] = {
    {"a wave wakes who waits", a_wave_wakes_who_waits},
    {"a pin that feeds suffers in time", a_pin_that_feeds_suffers_in_time},
    {"a short press settles half way", a_short_press_settles_half_way},
    {"turns as a scene does", turns_as_a_scene_does},
    {"a hand outdoes the scene", a_hand_outdoes_the_scene},
    {"presses the buttons of a keypad", presses_the_buttons_of_a_keypad},
    {"slow calls miss edges", slow_calls_miss_edges},
    CU_TEST_INFO_NULL,
};
