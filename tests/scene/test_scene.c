/* SPDX-License-Identifier: MIT */
/* What a scene says a source does, at any time. */
#include "support.h"
#include "tinyladder/design/scene.h"
#include <math.h>
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

CU_TestInfo scene_tests[] = {
    {"waveforms have shapes", waveforms_have_shapes},
    CU_TEST_INFO_NULL,
};
