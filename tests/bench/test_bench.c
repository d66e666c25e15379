/* SPDX-License-Identifier: MIT */
/* The bench: a conforming port, the same in every run, and believable physics behind it. */
#include "elaborate/circuit_struct.h"
#include "support.h"
#include "tinyladder/bench.h"
#include "tinyladder/core.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#define PLAN TL_SOURCE "/demo/fernhill.plan.yaml"
#define SCENE TL_SOURCE "/demo/evening.scene.yaml"
#define HEAD "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\n"

static tl_bench *open_demo(void)
{
    tl_bench *bench = tl_bench_open(PLAN, SCENE, NULL);
    CU_ASSERT_FATAL(bench != NULL);
    return bench;
}

/* A plan given as text, opened without a scene. */
static tl_bench *open_text(const char *text)
{
    tl_bench *bench = tl_bench_open(scratch_file("bench.plan.yaml", text, strlen(text)), NULL, NULL);
    CU_ASSERT_FATAL(bench != NULL);
    return bench;
}

static uint32_t one_word(tl_bench *bench, uint8_t channel, uint32_t acquisition_ns)
{
    uint32_t word = UINT32_MAX;
    CU_ASSERT(tl_port_convert(tl_bench_port(bench), channel, 0, acquisition_ns, 1000, &word) == TL_OK);
    return word;
}

static void gives_the_same_words_in_every_run(void)
{
    tl_bench *first = open_demo(), *second = open_demo();
    for (int i = 0; i < 200; i++) {
        tl_bench_go_to(first, i * 0.25);
        tl_bench_go_to(second, i * 0.25);
        CU_ASSERT(one_word(first, (uint8_t)(i % 4), 1000) == one_word(second, (uint8_t)(i % 4), 1000));
    }
    tl_bench_free(first);
    tl_bench_free(second);
}

static void every_failing_call_comes_back_as_a_status(void)
{
    const tl_input input = {
        .channel = 0, .acquisition_ns = 300, .longest = 100, .word = {.bits = 12, .width = 16}};
    const tl_scale scale = {.last = 4095};
    for (unsigned long n = 1;; n++) {
        tl_bench *bench = open_demo();
        tl_sample reading = {.flags = TL_READING_FRESH};
        tl_bench_fail_at(bench, n, false);
        const tl_status status = tl_input_take(tl_bench_port(bench), &input, &scale, &reading, NULL);
        CU_ASSERT(status == TL_OK ? tl_bench_calls(bench) < n : status == TL_ERR_PORT && reading.flags == 0);
        tl_bench_free(bench);
        if (status == TL_OK || n > 50)
            break;
    }
    tl_bench *bench = open_demo();
    uint32_t word;
    tl_bench_never_end(bench, true);
    CU_ASSERT(tl_port_convert(tl_bench_port(bench), 0, 0, 300, 500, &word) == TL_ERR_LATE);
    tl_bench_freeze_clock(bench, true);
    CU_ASSERT(tl_port_convert(tl_bench_port(bench), 0, 0, 300, 500, &word) == TL_ERR_CLOCK);
    tl_bench_free(bench);
}

/* The count that a settled, noiseless, perfect converter would give, within its stated errors and six sigmas.
 */
static void converts_what_is_at_the_pin(void)
{
    tl_bench *bench =
        open_text(HEAD "signals: {s: {source: {voltage: 0 V .. 3.2 V, resistance: 1k}, pin: L4}}\n");
    const double reference = tl_net_param_nominal(tl_circuit_net(tl_bench_circuit(bench)),
                                                  tl_circuit_nodes(tl_bench_circuit(bench), 0)->reference);
    double sum = 0, squares = 0;
    enum { N = 2000 };
    for (int i = 0; i < N; i++) {
        const double word = one_word(bench, 0, 1000);
        sum += word;
        squares += word * word;
    }
    const double mean = sum / N, spread = sqrt(squares / N - mean * mean);
    const double ideal = tl_bench_pin_volts(bench, 0) / reference * 4096;
    CU_ASSERT(fabs(mean - ideal) <
              0.02 * ideal + 2 + 3 + 1.5);   /* the rail within 2 %, offset, gain, nonlinearity */
    CU_ASSERT(spread > 0.4 && spread < 0.8); /* 0.5 counts of noise and the quantising */
    tl_bench_free(bench);
}

static void a_short_acquisition_drags_the_channel_before(void)
{
    tl_bench *bench = open_text(
        HEAD "signals:\n  low: {source: {potentiometer: 1M, top: logic, over: 2 % .. 4 %}, pin: L4}\n"
             "  high: {source: {potentiometer: 1M, top: logic, over: 96 % .. 98 %}, pin: L5}\n");
    double after_high[3], times_us[3] = {0.1, 0.3, 3};
    for (int i = 0; i < 3; i++) {
        one_word(bench, 1, 30000);
        after_high[i] = one_word(bench, 0, (uint32_t)(1000 * times_us[i]));
    }
    CU_ASSERT(after_high[0] > after_high[1] && after_high[1] > after_high[2]);
    /* tau = (Rth + 1.5 kohm) * 12 pF with Rth = 1 Mohm * 3 % * 97 %; the pin's 7 pF give a first part at
     * once. */
    const double tau = (1e6 * 0.03 * 0.97 + 1500) * 12e-12;
    CU_ASSERT(after_high[2] - 0.03 * 4096 < 4096 * exp(-3e-6 / tau / 2) + 8);
    CU_ASSERT(after_high[0] - 0.03 * 4096 > 0.3 * 4096);
    tl_bench_free(bench);
}

static void contacts_bounce_and_count_once(void)
{
    tl_bench *bench = open_demo();
    const tl_port *port = tl_bench_port(bench);
    const uint8_t line = (uint8_t)tl_bench_line(bench, "L12");
    bool level = true, before = true;
    int changes = 0;
    tl_bench_go_to(bench, 4.99);
    CU_ASSERT(tl_port_line_use(port, line, TL_LINE_INPUT) == TL_OK);
    while (tl_bench_time(bench) < 5.1) {
        CU_ASSERT(tl_port_line_level(port, line, &level) == TL_OK);
        changes += level != before;
        before = level;
        CU_ASSERT(tl_port_wait_us(port, 20) == TL_OK);
    }
    CU_ASSERT(changes >= 3 && changes % 2 == 1 && !level); /* it bounced, and ended closed */
    tl_bench_free(bench);
}

static void floating_pins_read_at_random(void)
{
    tl_bench *bench = tl_bench_open(TL_SOURCE "/demo/faulty/floating-input.plan.yaml", NULL, NULL);
    CU_ASSERT_FATAL(bench != NULL);
    const tl_port *port = tl_bench_port(bench);
    const uint8_t line = (uint8_t)tl_bench_line(bench, "L12");
    int high = 0;
    double least = 4096, most = 0;
    CU_ASSERT(tl_port_line_use(port, line, TL_LINE_INPUT) == TL_OK);
    for (int i = 0; i < 400; i++) {
        bool level;
        CU_ASSERT(tl_port_line_level(port, line, &level) == TL_OK);
        CU_ASSERT(tl_port_wait_us(port, 777) == TL_OK);
        high += level;
        CU_ASSERT(tl_bench_pin_volts(bench, 0) >= 0 && tl_bench_pin_volts(bench, 0) <= 3.4);
        const double word = one_word(bench, 2, 1000); /* nothing is on channel 2 */
        least = fmin(least, word);
        most = fmax(most, word);
    }
    CU_ASSERT(high > 50 && high < 350);
    CU_ASSERT(most - least > 1000);
    tl_bench_free(bench);
}

static void pins_over_their_limit_are_recorded(void)
{
    static const char scene[] =
        "tinyladder: scene 1\nlength: 10 s\nvalues: {s: [0 s: 1 V, 4 s: 1 V, 5 s: 6 V, 6 s: 1 V]}\n";
    static const char plan[] = HEAD "signals: {s: {source: {voltage: 0 V .. 6 V}, pin: L4}}\n";
    int count = -1;
    tl_bench *bench = tl_bench_open(scratch_file("over.plan.yaml", plan, strlen(plan)),
                                    scratch_file("over.scene.yaml", scene, strlen(scene)), NULL);
    CU_ASSERT_FATAL(bench != NULL);
    tl_bench_go_to(bench, 3);
    tl_bench_damages(bench, &count);
    CU_ASSERT(count == 0);
    tl_bench_go_to(bench, 9); /* nobody looked while it was over */
    const tl_bench_damage *damages = tl_bench_damages(bench, &count);
    const double rail = tl_bench_value(bench, tl_circuit_supply_param(tl_bench_circuit(bench), 0)),
                 clamp = rail + 0.3,
                 from = clamp + 10 * 1e-3; /* 1 mA, that the pin stands, through its 10 ohm */
    double joules = 0;
    for (double volts = from; volts < 6; volts += 1e-5) /* 5 V a second up, and down again */
        joules += 2 * volts * (volts - clamp) / 10 * 1e-5 / 5;
    CU_ASSERT(count == 1 && near(damages[0].volts, 6, 1e-6) &&
              near(damages[0].amperes, (6 - clamp) / 10, 1e-4));
    CU_ASSERT(near(damages[0].at, 4 + (from - 1) / 5, 1e-5) &&
              near(damages[0].seconds, 2 * (6 - from) / 5, 1e-5));
    CU_ASSERT(near(damages[0].joules, joules, 0.01) && damages[0].events == 1);
    CU_ASSERT(damages[0].pin == tl_bench_line(bench, "L4"));
    tl_bench_free(bench);
}

/* What the plan says a signal means is what is read: value, fault, button. */
static void reads_what_the_plan_says(void)
{
#define THERMISTOR                                                                                            \
    "signals: {s: {source: {resistance: 10k ±1 %, at: 25 degC, beta: 3950 K, over: -25 .. 60 degC}, "        \
    "stages: "                                                                                                \
    "[partner: {upper: 10k ±1 %, to: logic}], pin: L4, reading: {faults: {open: above 97 %, short: below 3 " \
    "%, value: "                                                                                              \
    "-99 degC}}}}\n"
#define KEYPAD                                                                                                \
    "signals: {s: {source: {chain: [one: 0 ohm, two: 1k2 ±1 %, three: 4k7 ±1 %]}, stages: [pull: {up: 10k " \
    "±1 %, to: "                                                                                             \
    "logic}], pin: L4}}\n"
#define BANKS                                                                                                \
    "muxes: {bank: {part: " TL_SOURCE                                                                        \
    "/demo/redshank.mux.yaml, supply: logic, select: [L20, L21, L22], enable: "                              \
    "L23, common: L5}, far: {part: " TL_SOURCE                                                               \
    "/demo/redshank.mux.yaml, supply: logic, select: [L10, L11, L12], "                                      \
    "enable: ground, common: bank.7}}\n"
    static const struct {
        const char *name, *plan, *scene;
        double low, high;
        bool open, shorted;
        int button;
    } rows[] = {
        {"a thermistor in degrees", THERMISTOR, "values: {s: [0 s: 10 degC]}\n", 9.2, 10.8, false, false, -1},
        {"so cold that its wire seems broken", THERMISTOR, "values: {s: [0 s: -60 degC]}\n", -99, -99, true,
         false, -1},
        {"so hot that it seems shorted", THERMISTOR, "values: {s: [0 s: 160 degC]}\n", -99, -99, false, true,
         -1},
        {"no button", KEYPAD, NULL, 4080, 4095, false, false, -1},
        {"the second button", KEYPAD, "presses: {s.two: [0 s for 1 s]}\n", 380, 500, false, false, 1},
        {"two at once: the nearer wins", KEYPAD, "presses: {s.three: [0 s for 1 s], s.two: [0 s for 1 s]}\n",
         380, 500, false, false, 1},
        {"metres, in half metres",
         "signals: {s: {source: {voltage: 0.5 V .. 2.5 V}, pin: L4, reading: {points: [0.5 V: 0 m, 2.5 V: 4 "
         "m], round: 0.5 m}}}\n",
         "values: {s: [0 s: 1.4 V]}\n", 2, 2, false, false, -1},
        {"a mean of 64 is quiet",
         "signals: {s: {source: {voltage: 0 V .. 3 V}, pin: L4, reading: {mean: 64}}}\n",
         "values: {s: [0 s: 1 V]}\n", 0.97, 1.03, false, false, -1},
        {"trimmed by two points",
         "signals: {s: {source: {voltage: 0 V .. 3 V}, pin: L4, reading: {trim: {points: [0 counts: 1 V, "
         "4095 counts: 1 V]}}}}\n",
         NULL, 1, 1, false, false, -1},
        {"the inner end of a tree",
         "signals: {s: {source: {voltage: 0 V .. 3 V}, pin: far.5}, t: {source: {voltage: 3 V}, pin: "
         "bank.2}}\n" BANKS,
         "values: {s: [0 s: 0.7 V]}\n", 0.67, 0.73, false, false, -1},
        {"a pair on the bus, below zero",
         "signals: {s: {source: {bridge: 1k, voltage: -20 mV .. 20 mV, supply: logic}, pin: fine.pair-0, "
         "reading: {unit: mV}}}\n"
         "buses: {dome: {pins: {scl: L24, sda: L25}, stages: [pull: {up: 4k7, to: logic}]}}\n"
         "converters: {fine: {part: " TL_SOURCE
         "/demo/dunlin.converter.yaml, supply: logic, bus: dome, address: 0x2a}}\n",
         "values: {s: [0 s: -7 mV]}\n", -7.1, -6.9, false, false, -1},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char plan[1600], scene[300];
        tl_bench_reading reading = {0};
        snprintf(plan, sizeof plan, HEAD "%s", rows[i].plan);
        snprintf(scene, sizeof scene, "tinyladder: scene 1\nlength: 2 s\n%s",
                 rows[i].scene != NULL ? rows[i].scene : "");
        tl_bench *bench = tl_bench_open(scratch_file("said.plan.yaml", plan, strlen(plan)),
                                        scratch_file("said.scene.yaml", scene, strlen(scene)), NULL);
        CHECK_ROW(rows[i].name, bench != NULL);
        if (bench == NULL)
            continue;
        tl_bench_go_to(bench, 0.5);
        CHECK_ROW(rows[i].name,
                  tl_bench_read(bench, 0, &reading) == TL_NET_SOLVED && reading.status == TL_OK);
        CHECK_ROW(rows[i].name, reading.is.value >= rows[i].low && reading.is.value <= rows[i].high);
        CHECK_ROW(rows[i].name, reading.is.open == rows[i].open && reading.is.shorted == rows[i].shorted);
        const bool fresh = (reading.flags & TL_READING_FRESH) != 0;
        CHECK_ROW(rows[i].name,
                  fresh == !(rows[i].open || rows[i].shorted) && reading.is.button == rows[i].button);
        if (!(reading.is.value >= rows[i].low && reading.is.value <= rows[i].high))
            printf("\n  %s: %g\n", rows[i].name, reading.is.value);
        tl_bench_free(bench);
    }
}

/* Outputs follow their signals: bands of a bar by count, thresholds as they were between their two levels,
 * duty by share, a failed sensor's safe state; and their pins stand as they say. */
static void outputs_follow_their_signals(void)
{
    static const char plan[] = HEAD
        "signals:\n"
        "  knob: {source: {potentiometer: 10k, top: logic}, pin: L4}\n"
        "  warm: {source: {voltage: 0 V .. 3 V}, pin: L5, reading: {unit: V}}\n"
        "  sensor: {source: {resistance: 1k .. 20k}, stages: [partner: {upper: 10k, to: logic}], pin: L6, "
        "reading: {unit: kohm, faults: {open: above 97 %}}}\n"
        "  button: {source: {contact: ground}, stages: [pull: {up: 10k, to: logic}], pin: L12, reading: "
        "{steady: 5 "
        "ms}}\n"
        "outputs:\n"
        "  bar: {pins: [L30 .. L33], lamp: 1.9 V .. 2.1 V, series: 470 ohm, shows: knob, as: levels}\n"
        "  dimmer: {pin: L8, into: {vil: 0.8 V, vih: 2 V}, shows: knob, as: duty}\n"
        "  heater: {pin: L13, into: {vil: 0.8 V, vih: 2 V}, shows: warm, as: threshold, start-below: 1 V, "
        "stop-above: 2 V}\n"
        "  alarm: {pin: L14, into: {vil: 0.8 V, vih: 2 V}, shows: sensor, as: threshold, start-above: 15 "
        "kohm, stop-below: 14 kohm, safe: "
        "on}\n"
        "  bell: {pin: L18, into: {vil: 0.8 V, vih: 2 V}, shows: button}\n"
        "  rest: {pin: L19, lamp: 1.9 V .. 2.1 V, series: 1k, to: logic, shows: button, as: inverted}\n";
    static const char scene[] =
        "tinyladder: scene 1\nlength: 10 s\nvalues:\n"
        "  knob: {steps: [0 s: 0 %, 1 s: 30 %, 2 s: 50 %, 3 s: 100 %]}\n"
        "  warm: {steps: [0 s: 1.5 V, 1 s: 0.9 V, 2 s: 1.5 V, 3 s: 2.1 V]}\n"
        "  sensor: {steps: [0 s: 2k, 1 s: 16k, 2 s: 2k]}\n"
        "presses: {button: [1 s for 1 s]}\nfaults: [{open: sensor.source, from: 2.9 s}, {open: knob.source, "
        "from: 3.9 s}, {noise: knob.pin, volts: 2 V, frequency: 50 Hz, from: 3.95 s}]\n";
    /* bar, dimmer (percent), heater, alarm, bell, rest at 0.5 s, 1.5 s .. */
    static const int wanted[4][6] = {
        {0, 0, 0, 0, 0, 1}, {1, 30, 1, 1, 1, 0}, {2, 50, 1, 0, 0, 1}, {4, 100, 0, 1, 0, 1}};
    tl_bench *bench = tl_bench_open(scratch_file("shown.plan.yaml", plan, strlen(plan)),
                                    scratch_file("shown.scene.yaml", scene, strlen(scene)), NULL);
    CU_ASSERT_FATAL(bench != NULL);
    const tl_plan *of = tl_circuit_plan(tl_bench_circuit(bench));
    tl_bench_shown shown[6] = {{0, 0, false}};
    for (int time = 0; time < 4; time++) {
        for (int output = 0; output < of->output_count; output++) {
            tl_bench_reading r;
            tl_bench_go_to(bench, 0.5 + time + 0.05 * output);
            const tl_net_status net = tl_bench_read(bench, of->outputs[output].shows, &r);
            const tl_bench_seen seen = {.shown = &r, .fault = net != TL_NET_SOLVED};
            CHECK_ROW(of->outputs[output].name, tl_bench_show(bench, output, &seen, &shown[output]) == TL_OK);
            const int is = output == 1 ? (int)(100 * shown[output].duty + 0.5) : shown[output].lit;
            CHECK_ROW(of->outputs[output].name, abs(is - wanted[time][output]) <= (output == 1));
            for (int pin = 0; pin < of->outputs[output].pin_count && output != 1; pin++) {
                bool high;
                CHECK_ROW(of->outputs[output].name,
                          tl_bench_line_use(bench, of->outputs[output].pins[pin], &high) == TL_LINE_OUTPUT);
                CHECK_ROW(of->outputs[output].name, high == ((pin < shown[output].lit) != (output == 5)));
            }
        }
        CU_ASSERT(shown[3].fault == (time == 3));
    }
    /* Without a fault window firmware takes the count of a loose pin for the knob's. */
    tl_bench_reading loose;
    tl_bench_go_to(bench, 3.96);
    CU_ASSERT(tl_bench_read(bench, of->outputs[1].shows, &loose) == TL_NET_SOLVED && loose.undriven);
    CU_ASSERT((loose.flags & TL_READING_FRESH) == 0 && isnan(loose.is.within.low)); /* nor has it a truth */
    const tl_bench_seen seen = {.shown = &loose};
    CU_ASSERT(tl_bench_show(bench, 1, &seen, &shown[1]) == TL_OK && !shown[1].fault);
    CU_ASSERT_DOUBLE_EQUAL(100 * shown[1].duty, loose.is.value, 1);
    tl_bench_free(bench);
}

/* Means that go on from one reading to the next lag as they do in firmware: after a step of the source the
 * formulas of both, sample by sample; a mean of a burst does not. */
static void means_go_on(void)
{
    static const char plan[] =
        HEAD "signals:\n"
             "  r: {source: {voltage: 0 V .. 3.3 V}, pin: L4, reading: {unit: V, rolling: 4}}\n"
             "  e: {source: {voltage: 0 V .. 3.3 V}, pin: L5, reading: {unit: V, exponential: 4}}\n"
             "  m: {source: {voltage: 0 V .. 3.3 V}, pin: L6, reading: {unit: V, mean: 4}}\n";
    static const char scene[] = "tinyladder: scene 1\nlength: 20 s\nvalues:\n"
                                "  r: {steps: [0 s: 1 V, 2.5 s: 2 V]}\n  e: {steps: [0 s: 1 V, 2.5 s: 2 V]}\n"
                                "  m: {steps: [0 s: 1 V, 2.5 s: 2 V]}\n";
    tl_report *report = tl_report_new();
    tl_bench *opened = tl_bench_open(scratch_file("means.plan.yaml", plan, strlen(plan)),
                                     scratch_file("means.scene.yaml", scene, strlen(scene)), NULL);
    CU_ASSERT_FATAL(opened != NULL);
    tl_circuit *circuit = tl_bench_circuit(opened);
    tl_scene *moves = tl_scene_load(scratch_file("means.scene.yaml", scene, strlen(scene)), circuit, report);
    tl_bench *bench = tl_bench_new(circuit, moves, TL_BENCH_IDEAL);
    double left = 1; /* of the step, behind an exponential mean */
    for (int second = 1; second <= 12; second++) {
        const int since = second - 2; /* samples behind the step */
        left *= since > 0 ? 0.75 : 1;
        const double wanted[3] = {since <= 0   ? 1
                                  : since >= 4 ? 2
                                               : 1 + since / 4.0,
                                  2 - left, since > 0 ? 2 : 1};
        tl_bench_go_to(bench, second);
        for (int i = 0; i < 3; i++) {
            tl_bench_reading r;
            CU_ASSERT(tl_bench_read(bench, i, &r) == TL_NET_SOLVED && r.status == TL_OK);
            CU_ASSERT_DOUBLE_EQUAL(r.is.value, wanted[i], 0.003);
        }
    }
    tl_bench_free(bench);
    tl_scene_free(moves);
    tl_bench_free(opened);
    tl_report_free(report);
}

/* The first burst of each mean, on a source that rises by d from sample to sample: the plain sample c, a mean
 * c + 1.5 d, an exponential one that begins with c and goes on by quarters c + 81/64 d. Then one sample n
 * more, of the ring's first. */
static void means_begin(void)
{
    static const char *const means[] = {"", ", mean: 4", ", exponential: 4", ", rolling: 4"};
    static const char scene[] =
        "tinyladder: scene 1\nlength: 20 s\nvalues: {s: {middle: 1.6 V, swing: 1.5 V, period: 1 ms}}\n";
    static const double moments[2] = {1, 2.00025}; /* where it rises, and at its peak */
    double count[ROWS(means)][2];
    tl_report *report = tl_report_new();
    for (size_t i = 0; i < ROWS(means); i++) {
        char plan[300];
        snprintf(plan, sizeof plan,
                 HEAD "signals: {s: {source: {voltage: 0 V .. 3.3 V}, pin: L4, reading: {unit: V%s}}}\n",
                 means[i]);
        tl_bench *opened = tl_bench_open(scratch_file("begin.plan.yaml", plan, strlen(plan)), NULL, NULL);
        CU_ASSERT_FATAL(opened != NULL);
        tl_circuit *circuit = tl_bench_circuit(opened);
        tl_scene *moves =
            tl_scene_load(scratch_file("begin.scene.yaml", scene, strlen(scene)), circuit, report);
        CU_ASSERT_FATAL(moves != NULL);
        tl_bench *bench = tl_bench_new(circuit, moves, TL_BENCH_IDEAL);
        for (int k = 0; k < 2; k++) {
            tl_bench_reading r;
            tl_bench_go_to(bench, moments[k]);
            CU_ASSERT(tl_bench_read_plain(bench, 0, &r) == TL_NET_SOLVED && r.status == TL_OK);
            count[i][k] = (double)r.count;
        }
        tl_bench_free(bench);
        tl_scene_free(moves);
        tl_bench_free(opened);
    }
    const double c = count[0][0], n = count[0][1], d = (count[1][0] - c) / 1.5, trailing = c + 81.0 / 64 * d;
    CU_ASSERT(d > 20);
    CU_ASSERT_DOUBLE_EQUAL(count[2][0], trailing, 1.5);
    CU_ASSERT_DOUBLE_EQUAL(count[3][0], count[1][0], 1.5);
    CU_ASSERT_DOUBLE_EQUAL(count[2][1], trailing + (n - trailing) / 4, 2);
    CU_ASSERT_DOUBLE_EQUAL(count[3][1], count[1][0] + (n - c) / 4, 2);
    tl_report_free(report);
}

/* Where a signal sets the threshold, and where a percent is compared: against arithmetic of its own. */
static void thresholds_are_set(void)
{
    static const char plan[] =
        "tinyladder: plan 1\ntitle: Set points\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\nsignals:\n"
        "  k: {source: {potentiometer: 10k, top: logic}, pin: L4}\n"
        "  j: {source: {potentiometer: 10k, top: logic}, pin: L5, reading: {faults: {open: above 99 %}}}\n"
        "  b: {source: {voltage: 1 V .. 3 V}, pin: L6, reading: {unit: V, percent: {empty: 1 V, full: 3 "
        "V}}}\n"
        "outputs:\n"
        "  cool: {pin: L8, shows: k, as: threshold, start-above: j + 5 %, stop-below: j - 5 %, into: {vil: "
        "0.8 V, vih: 2 V}}\n"
        "  warm: {pin: L9, shows: k, as: threshold, start-below: j, stop-above: 60 %, safe: on, into: {vil: "
        "0.8 V, vih: 2 V}}\n"
        "  low: {pin: L13, shows: b, as: threshold, start-below: 20 %, stop-above: 50 %, into: {vil: 0.8 V, "
        "vih: 2 V}}\n"
        "  least: {pin: L14, shows: b, as: threshold, start-below: j, stop-above: j + 10 %, into: {vil: 0.8 "
        "V, vih: 2 V}}\n";
    /* at each time: k and j in %, b in V; then what is on */
    static const struct {
        const char *name;
        double k, j, b;
        bool fault, on[4];
    } times[] = {
        {"between, from off", 50, 50, 2.1, false, {false, false, false, false}},
        {"k above j + 5", 56, 50, 1.3, false, {true, false, true, true}},
        {"k between again: as it was", 52, 50, 1.8, false, {true, false, true, true}},
        {"j moves up: k below j - 5, and below j", 52, 58, 2.1, false, {false, true, false, true}},
        {"past the stop of warm", 61, 70, 2.7, false, {false, false, false, false}},
        {"start and stop crossed: stop wins", 65, 80, 2.9, false, {false, false, false, false}},
        {"the set point's wire is broken", 10, 100, 2.9, true, {false, true, false, false}},
    };
    char values[3][200] = {"", "", ""}, scene[800];
    for (size_t i = 0; i < ROWS(times); i++) {
        const double of[3] = {times[i].k, times[i].j, times[i].b};
        for (int n = 0; n < 3; n++)
            sprintf(values[n] + strlen(values[n]), "%s%zu s: %g %s", i > 0 ? ", " : "", i, of[n],
                    n < 2 ? "%" : "V");
    }
    sprintf(scene,
            "tinyladder: scene 1\nlength: 10 s\nvalues: {k: {steps: [%s]}, j: {steps: [%s]}, b: "
            "{steps: [%s]}}\n",
            values[0], values[1], values[2]);
    tl_bench *bench = tl_bench_open(scratch_file("set.plan.yaml", plan, strlen(plan)),
                                    scratch_file("set.scene.yaml", scene, strlen(scene)), NULL);
    CU_ASSERT_FATAL(bench != NULL);
    tl_bench_shown shown[4] = {{0, 0, false}};
    for (size_t i = 0; i < ROWS(times); i++) {
        tl_bench_reading r[3];
        tl_bench_go_to(bench, 0.5 + (double)i);
        for (int n = 0; n < 3; n++)
            CHECK_ROW(times[i].name, tl_bench_read(bench, n, &r[n]) == TL_NET_SOLVED);
        for (int output = 0; output < 4; output++) {
            const tl_bench_seen seen = {.shown = &r[output < 2 ? 0 : 2],
                                        .start = output == 2 ? NULL : &r[1],
                                        .stop = output == 0 || output == 3 ? &r[1] : NULL};
            CHECK_ROW(times[i].name, tl_bench_show(bench, output, &seen, &shown[output]) == TL_OK);
            CHECK_ROW(times[i].name, (shown[output].lit > 0) == times[i].on[output]);
            CHECK_ROW(times[i].name, shown[output].fault == (times[i].fault && output != 2));
        }
    }
    tl_bench_free(bench);
}

CU_TestInfo bench_tests[] = {
    {"means go on", means_go_on},
    {"means begin", means_begin},
    {"thresholds are set", thresholds_are_set},
    {"outputs follow their signals", outputs_follow_their_signals},
    {"reads what the plan says", reads_what_the_plan_says},
    {"gives the same words in every run", gives_the_same_words_in_every_run},
    {"every failing call comes back as a status", every_failing_call_comes_back_as_a_status},
    {"converts what is at the pin", converts_what_is_at_the_pin},
    {"a short acquisition drags the channel before", a_short_acquisition_drags_the_channel_before},
    {"contacts bounce and count once", contacts_bounce_and_count_once},
    {"floating pins read at random", floating_pins_read_at_random},
    {"pins over their limit are recorded", pins_over_their_limit_are_recorded},
    CU_TEST_INFO_NULL,
};
