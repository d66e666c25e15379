/* SPDX-License-Identifier: MIT */
/* What a scene says a source does, at any time; and what it cannot say, which is refused where it stands. */
#include "support.h"
#include "tinyladder/design/findings.h"
#include "tinyladder/design/scene.h"
#include <math.h>
#include <stdio.h>
#include <string.h>

static void waveforms_have_shapes(void)
{
    static const char text[] = "tinyladder: scene 1\nlength: 1 min\nvalues:\n"
                               "  battery: [10 s: 11 V, 20 s: 12 V]\n"
                               "  level: {steps: [0 s: 1 V, 5 s: 2 V]}\n"
                               "  hum: {middle: 1 V, swing: 0.5 V, period: 20 ms}\n"
                               "  log: {file: values.csv, column: night}\n"
                               "  still: 2.5 V\n";
    static const char csv[] = "s,day,night\n10,7,1\n20,7,1.5\n";
    static const char plan_text[] =
        "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\nsignals:\n"
        "  battery: {source: {voltage: 10 V .. 15 V}, stages: [divider: {upper: 47k, lower: 10k}], pin: L4}\n"
        "  level: {source: {voltage: 0 V .. 3 V}, pin: L5}\n"
        "  hum: {source: {voltage: 0 V .. 3 V}, pin: L6}\n"
        "  log: {source: {voltage: 0 V .. 3 V}, pin: L7}\n"
        "  still: {source: {voltage: 0 V .. 3 V}, pin: L15}\n";
    static const struct {
        double at, values[4];
    } rows[] = {
        {0, {11, 1, 1, 1}},         {4.999999, {11, 1, NAN, 1}}, {5, {11, 2, NAN, 1}},
        {15, {11.5, 2, NAN, 1.25}}, {20.005, {12, 2, 1.5, 1.5}}, {20.015, {12, 2, 0.5, 1.5}},
        {59, {12, 2, NAN, 1.5}},
    };
    tl_report *report = tl_report_new();
    (void)scratch_file("values.csv", csv, strlen(csv));
    tl_plan *plan = tl_plan_load(scratch_file("waveform.plan.yaml", plan_text, strlen(plan_text)), report);
    CU_ASSERT_FATAL(plan != NULL);
    tl_circuit *circuit = tl_circuit_new(plan);
    tl_scene *scene = tl_scene_load(scratch_file("waveform.scene.yaml", text, strlen(text)), circuit, report);
    CU_ASSERT_FATAL(scene != NULL && scene->waveform_count == 5);
    for (size_t i = 0; i < ROWS(rows); i++) {
        for (int k = 0; k < 4; k++)
            CU_ASSERT(isnan(rows[i].values[k]) ||
                      fabs(tl_waveform_at(&scene->waveforms[k], rows[i].at) - rows[i].values[k]) < 1e-9);
        CU_ASSERT(tl_waveform_at(&scene->waveforms[4], rows[i].at) == 2.5);
    }
    tl_scene_free(scene);
    tl_circuit_free(circuit);
    tl_plan_free(plan);
    tl_report_free(report);
}

/* Each line alone, under `length: 1 min` on line 2 of a scene of the demo's plan. */
static void what_makes_no_sense_is_refused(void)
{
    static const struct {
        const char *line, *slug;
    } rows[] = {
        {"seed: -1", "bad-number"},
        {"seed: many", "bad-number"},
        {"length: 5 V", "bad-quantity"},
        {"length: [1 s]", "wrong-shape"},
        {"plan: other.plan.yaml", "other-plan"},
        {"plan: [a]", "wrong-shape"},
        {"moons: 2", "unknown-key"},
        {"values: [a]", "wrong-shape"},
        {"values: {no-such: 3 V}", "unknown-signal"},
        {"values: {house-battery: 12 ohm}", "bad-quantity"},
        {"values: {house-battery: {steps: 3 V}}", "wrong-shape"},
        {"values: {house-battery: {steps: [3 V]}}", "wrong-shape"},
        {"values: {house-battery: [20 s: 11 V, 10 s: 12 V]}", "time-order"},
        {"values: {house-battery: {middle: 12 V, swing: 1 ohm, period: 1 s}}", "bad-quantity"},
        {"values: {house-battery: {middle: 12 V, swing: 1 V, period: 0 s}}", "bad-quantity"},
        {"values: {house-battery: {middle: 12 V, period: 1 s}}", "missing-key"},
        {"values: {house-battery: {file: none.csv, column: a}}", "unreadable-file"},
        {"values: {stop-button: 3 V}", "wrong-shape"},
        {"presses: [a]", "wrong-shape"},
        {"presses: {no-such: [1 s for 1 s]}", "unknown-signal"},
        {"presses: {house-battery: [1 s for 1 s]}", "wrong-shape"},
        {"presses: {stop-button: 1 s for 1 s}", "wrong-shape"},
        {"presses: {stop-button: [1 s]}", "bad-quantity"},
        {"presses: {stop-button: [[1 s]]}", "wrong-shape"},
        {"presses: {stop-button: [1 V for 1 s]}", "bad-quantity"},
        {"presses: {stop-button: [1 s for 1 V]}", "bad-quantity"},
        {"presses: {stop-button: [1 s for 0 s]}", "time-order"},
        {"presses: {stop-button: [1 s for 5 s, 3 s for 1 s]}", "time-order"},
        {"presses: {keypad: [1 s for 1 s]}", "wrong-shape"},
        {"presses: {keypad.no-such: [1 s for 1 s]}", "unknown-signal"},
        {"presses: {no-such.left: [1 s for 1 s]}", "unknown-signal"},
        {"faults: {open: a}", "wrong-shape"},
        {"faults: [open]", "wrong-shape"},
        {"faults: [{}]", "wrong-shape"},
        {"faults: [{opened: house-battery.pin}]", "wrong-shape"},
        {"faults: [{open: no-such.pin}]", "unknown-name"},
        {"faults: [{open: [a]}]", "wrong-shape"},
        {"faults: [{open: house-battery.pin, from: 5 V}]", "bad-quantity"},
        {"faults: [{open: house-battery.pin, from: 20 s, until: 10 s}]", "time-order"},
        {"faults: [{short: no-such.pin}]", "unknown-name"},
        {"faults: [{short: house-battery.pin, to: no-such}]", "unknown-name"},
        {"faults: [{loose: house-battery.pin, every: 1 V}]", "bad-quantity"},
        {"faults: [{loose: house-battery.pin, every: 1 us}]", "bad-quantity"},
        {"faults: [{loose: no-such}]", "unknown-name"},
        {"faults: [{leak: house-battery.pin, to: ground}]", "missing-key"},
        {"faults: [{leak: house-battery.pin, to: ground, ohms: 3 V}]", "bad-quantity"},
        {"faults: [{leak: no-such, to: ground, ohms: 1k}]", "unknown-name"},
        {"faults: [{wrong: house-battery.divider.lower, value: 3 V}]", "bad-quantity"},
        {"faults: [{wrong: house-battery.divider.lower}]", "missing-key"},
        {"faults: [{wrong: no-such, value: 1k}]", "unknown-name"},
        {"faults: [{swap: house-battery.divider.lower}]", "wrong-shape"},
        {"faults: [{swap: [house-battery.divider.lower]}]", "wrong-shape"},
        {"faults: [{swap: [house-battery.divider.lower, no-such]}]", "unknown-name"},
        {"faults: [{stuck: stop-button.source}]", "missing-key"},
        {"faults: [{stuck: stop-button.source, at: half}]", "unknown-word"},
        {"faults: [{stuck: no-such, at: low}]", "unknown-name"},
        {"faults: [{missing: no-such}]", "unknown-rail"},
        {"faults: [{missing: logic, off: maybe}]", "unknown-word"},
        {"faults: [{noise: house-battery.pin, through: 0.1 ohm}]", "missing-key"},
        {"faults: [{noise: house-battery.pin, through: 3 V}]", "missing-key"},
        {"faults: [{noise: no-such, volts: 1 V}]", "missing-key"},
        {"faults: [{joint: house-battery.divider.lower}]", "missing-key"},
        {"faults: [{joint: no-such, ohms: 1k}]", "unknown-name"},
        {"faults: [{moved: house-battery.divider.lower}]", "missing-key"},
        {"faults: [{moved: no-such, to: logic}]", "unknown-name"},
        {"faults: [{reversed: no-such}]", "unknown-name"},
        {"faults: [{meter: none, on: house-battery.pin}]", "unknown-name"},
        {"faults: [{setting: main}]", "missing-key"},
        {"faults: [{setting: no-such, align: left}]", "unknown-name"},
        {"faults: [{setting: [main], align: left}]", "wrong-shape"},
        {"faults: [{setting: main, align: up}]", "unknown-word"},
        {"faults: [{setting: main, acquisition: 3 V}]", "bad-quantity"},
        {"faults: [{setting: main, reference: no-such}]", "unknown-name"},
        {"faults: [{setting: main, range: 3 V}]", "unknown-name"},
        {"faults: [{setting: main, address: 0x2a}]", "no-effect"},
        {"faults: [{setting: main, stretch: 1 ms}]", "no-effect"},
        {"faults: [{setting: fine, stretch: 1 V}]", "bad-quantity"},
        {"faults: [{misread: house-battery}]", "missing-key"},
        {"faults: [{misread: house-battery, as: odd}]", "unknown-word"},
        {"faults: [{misread: house-battery, factor: 100 %}]", "bad-quantity"},
        {"faults: [{misread: house-battery, factor: 0 %}]", "bad-quantity"},
        {"faults: [{misread: house-battery, factor: 3 V}]", "bad-quantity"},
        {"faults: [{misread: house-battery, as: bit-less, factor: 50 %}]", "missing-key"},
        {"faults: [{misread: stop-button, as: bit-less}]", "wrong-shape"},
        {"faults: [{misread: no-such, as: bit-less}]", "unknown-name"},
        {"faults: [{misread: [a], as: bit-less}]", "wrong-shape"},
        {"meter: {use: none, on: house-battery.pin}", "unknown-name"},
        {"meter: {use: handheld, on: no-such}", "unknown-name"},
        {"meter: {use: handheld, on: house-battery.pin, from: 5 s, until: 1 s}", "time-order"},
        {"meter: {use: [a], on: house-battery.pin}", "wrong-shape"},
        {"meter: [{use: handheld, on: house-battery.pin}, {use: handheld, on: no-such}]", "unknown-name"},
        {"meter: [a]", "wrong-shape"},
        {"values: {[a]: 3 V}", "unknown-signal"},
        {"values: {house-battery: []}", "wrong-shape"},
        {"values: {house-battery: [{0 s: 1 V, 1 s: 2 V}]}", "wrong-shape"},
        {"values: {house-battery: [1 V: 3 V]}", "bad-quantity"},
        {"values: {house-battery: [0 s: [a]]}", "wrong-shape"},
        {"values: {mirror-temperature: 3 V}", "bad-quantity"},
        {"values: {mirror-temperature: {middle: 3 V, swing: 1 degC, period: 1 s}}", "bad-quantity"},
        {"values: {mirror-temperature: [0 s: 3 V]}", "bad-quantity"},
        {"values: {stop-button: {repeat: [1 s]}}", "bad-quantity"},
        {"values: {stop-button: {file: none.vcd, column: a}}", "unreadable-file"},
        {"values: {stop-button: {file: [a], column: a}}", "wrong-shape"},
        {"presses: {[a]: [1 s for 1 s]}", "unknown-signal"},
        {"presses: {stop-button: {}}", "wrong-shape"},
        {"faults: [{open: house-battery.pin, from: -1 s}]", "bad-quantity"},
        {"faults: [{short: [a], to: ground}]", "wrong-shape"},
        {"faults: [{short: house-battery.pin, to: [a]}]", "wrong-shape"},
        {"faults: [{short: battery, to: logic}]", "no-effect"},
        {"faults: [{stuck: [a], at: low}]", "wrong-shape"},
        {"faults: [{reversed: [a]}]", "wrong-shape"},
        {"faults: [{leak: [a], to: ground, ohms: 1k}]", "wrong-shape"},
        {"faults: [{missing: [a]}]", "wrong-shape"},
        {"faults: [{wrong: paddle-top, value: 5 V}]", "no-effect"},
        {"faults: [{wrong: battery, value: 5 ohm}]", "bad-quantity"},
        {"faults: [{wrong: [a], value: 1k}]", "wrong-shape"},
        {"faults: [{swap: [[a], b]}]", "wrong-shape"},
        {"faults: [{swap: [house-battery.divider.lower, house-battery.filter.capacitor]}]", "wrong-shape"},
        {"faults: [{moved: [a], to: logic}]", "wrong-shape"},
        {"faults: [{moved: house-battery.divider.lower, to: no-such}]", "unknown-rail"},
        {"faults: [{joint: [a], ohms: 1k}]", "wrong-shape"},
        {"faults: [{joint: house-battery.divider.lower, ohms: 3 V}]", "bad-quantity"},
        {"faults: [{misread: house-battery, factor: [a]}]", "wrong-shape"},
        {"faults: [{setting: main, acquisition: [a]}]", "wrong-shape"},
        {"faults: [{setting: main, align: [a]}]", "wrong-shape"},
    };
    tl_report *of_plan = tl_report_new();
    tl_plan *plan = tl_plan_load(TL_SOURCE "/demo/fernhill.plan.yaml", of_plan);
    CU_ASSERT_FATAL(plan != NULL);
    tl_circuit *circuit = tl_circuit_new(plan);
    for (size_t i = 0; i < ROWS(rows); i++) {
        char text[300];
        tl_report *report = tl_report_new();
        snprintf(text, sizeof text, "tinyladder: scene 1\n%s%s\n",
                 strncmp(rows[i].line, "length", 6) == 0 ? "" : "length: 1 min\n", rows[i].line);
        tl_scene *scene =
            tl_scene_load(scratch_file("wrong.scene.yaml", text, strlen(text)), circuit, report);
        const tl_finding *f = tl_report_count(report) > 0 ? tl_report_finding(report, 0) : NULL;
        CHECK_ROW(rows[i].line, scene == NULL && f != NULL && strcmp(f->slug, rows[i].slug) == 0 &&
                                    f->place.line == (strncmp(rows[i].line, "length", 6) == 0 ? 2 : 3));
        tl_scene_free(scene);
        tl_report_free(report);
    }
    tl_circuit_free(circuit);
    tl_plan_free(plan);
    tl_report_free(of_plan);
}

CU_TestInfo scene_tests[] = {
    {"what makes no sense is refused", what_makes_no_sense_is_refused},
    {"waveforms have shapes", waveforms_have_shapes},
    CU_TEST_INFO_NULL,
};
