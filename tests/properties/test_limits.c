/* SPDX-License-Identifier: MIT */
/*
 * What there can be many of: either it grows, or an error names the limit. Each row has one more than what an
 * array once held without a word.
 */
#include "support.h"
#include "tinyladder/bench.h"
#include "tinyladder/design/rules.h"
#include <math.h>
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

enum { TEXT = 20000 };
static char text[TEXT];

static void append(const char *format, ...) __attribute__((format(printf, 1, 2)));
static void append(const char *format, ...)
{
    va_list arguments;
    const size_t length = strlen(text);
    va_start(arguments, format);
    vsnprintf(text + length, TEXT - length, format, arguments);
    va_end(arguments);
}

/* A board of this many analog pins. */
static const char *board_of(int pins)
{
    text[0] = '\0';
    append(
        "tinyladder: board 1\ntitle: wide\nsupplies: {logic: 5 V ±2 %%}\nevery-pin: {supply: logic, limits: "
        "-0.3 V .. rail + 0.3 V, leakage: ±50 nA, vil: 0.3 rail, vih: 0.7 rail}\npins:\n");
    for (int i = 0; i < pins; i++)
        append("  A%d: {channel: %d}\n", i, i);
    append("converters:\n  main:\n    bits: 12\n    steps: half\n    word: {align: right, in: 16}\n    "
           "references: {logic: logic}\n    sampling: {capacitor: 10 "
           "pF, switch: "
           "1k}\n    acquisition: [2 us]\n    conversion: 1 us\n");
    return scratch_file("wide.board.yaml", text, strlen(text));
}

/* Twenty sources hang together on one soft rail; each moves on its own. None may stand still. */
static void more_than_sixteen_things_move(void)
{
    enum { KNOBS = 20 };
    (void)board_of(KNOBS);
    text[0] = '\0';
    append("tinyladder: plan 1\ntitle: t\nboard: wide.board.yaml\nsupplies: {soft: {voltage: 5 V, "
           "resistance: 1 ohm}}\nsignals:\n");
    for (int i = 0; i < KNOBS; i++)
        append("  k%d: {source: {voltage: 0 V .. 5 V, resistance: 10k}, stages: [pull: {up: 100k, to: "
               "soft}], pin: A%d}\n",
               i, i);
    const char *path = scratch_file("moving.plan.yaml", text, strlen(text));
    tl_report *report = tl_report_new();
    tl_plan *plan = tl_plan_load(path, report);
    CU_ASSERT_FATAL(plan != NULL);
    tl_circuit *circuit = tl_circuit_new(plan);
    text[0] = '\0';
    append("tinyladder: scene 1\nlength: 20 s\nvalues:\n");
    for (int i = 0; i < KNOBS; i++)
        append("  k%d: [0 s: 0.5 V, 10 s: 4.5 V]\n", i);
    tl_scene *scene = tl_scene_load(scratch_file("moving.scene.yaml", text, strlen(text)), circuit, report);
    for (int i = 0; i < tl_report_count(report); i++)
        printf("\n  %s", tl_report_finding(report, i)->cause);
    CU_ASSERT_FATAL(scene != NULL);
    tl_bench *bench = tl_bench_new(circuit, scene, 1);
    for (int i = 0; i < KNOBS; i++)
        CHECK_ROW("at first", fabs(tl_bench_pin_volts(bench, i) - (0.5 * 10 + 5) / 11) < 0.01);
    tl_bench_go_to(bench, 10);
    for (int i = 0; i < KNOBS; i++)
        CHECK_ROW("moved", fabs(tl_bench_pin_volts(bench, i) - (4.5 * 10 + 5) / 11) < 0.01);
    tl_bench_free(bench);
    tl_scene_free(scene);
    tl_circuit_free(circuit);
    tl_plan_free(plan);
    tl_report_free(report);
}

/* One signal draws from fourteen supplies with budgets: every one of them counts. */
static void more_budgets_than_one_solution_answers(void)
{
    enum { SUPPLIES = 14 };
    (void)board_of(1);
    text[0] = '\0';
    append("tinyladder: plan 1\ntitle: t\nboard: wide.board.yaml\nsupplies:\n");
    for (int i = 0; i < SUPPLIES; i++)
        append("  s%d: {voltage: 5 V, current: %s}\n", i, i == SUPPLIES - 1 ? "1 uA" : "100 mA");
    append("signals:\n  v: {source: {voltage: 0 V .. 1 V, resistance: 100 ohm}, stages: [");
    for (int i = 0; i < SUPPLIES; i++)
        append("%spull: {up: 100k, to: s%d}", i > 0 ? ", " : "", i);
    append("], pin: A0}\n");
    tl_report *report = tl_report_new();
    tl_plan *plan = tl_plan_load(scratch_file("budgets.plan.yaml", text, strlen(text)), report);
    for (int i = 0; i < tl_report_count(report); i++)
        printf("\n  %s", tl_report_finding(report, i)->cause);
    CU_ASSERT_FATAL(plan != NULL);
    tl_circuit *circuit = tl_circuit_new(plan);
    const tl_worst_case *worst = tl_circuit_worst_case(circuit, 0, 0);
    CU_ASSERT(worst->fault == TL_NET_SOLVED);
    for (int i = 0; i < plan->supply_count; i++)
        CHECK_ROW(plan->supplies[i].name,
                  plan->supplies[i].name[0] != 's' || fabs(worst->amperes[i] - 5 / 100e3) < 2e-5);
    tl_circuit_free(circuit);
    tl_plan_free(plan);
    tl_report_free(report);
}

/* A chart of a hundred signals, named and not. */
static void a_chart_of_a_hundred(void)
{
    text[0] = '\0';
    append("s,signal,kind,count,pin_v,value,unit,percent,low,high,closings,flags\n");
    for (int i = 0; i < 100; i++)
        append("0.000000,v%d,analog,1,1,%d,V,,%d,%d,,fresh\n", i, i, i, i);
    const char *record = scratch_file("hundred.csv", text, strlen(text));
    const char *chart = scratch_file("hundred.svg", "", 0);
    run_result r = run_command("plot", record, "-o", chart, NULL);
    run_result drawn = run_program((const char *const[]){"cat", chart, NULL}, TL_SOURCE);
    CU_ASSERT(r.status == 0 && strstr(drawn.out, ">v0<") != NULL && strstr(drawn.out, ">v99<") != NULL);
    run_free(&drawn);
    run_free(&r);
}

static void a_limit_that_stays_is_named(void)
{
    enum { DEEP = 10 };
    (void)board_of(3);
    static const char part[] = "tinyladder: mux 1\ntitle: two\ninputs: 2\non-resistance: 10 ohm .. 20 ohm\n";
    scratch_file("two.mux.yaml", part, strlen(part));
    text[0] = '\0';
    append("tinyladder: plan 1\ntitle: t\nboard: wide.board.yaml\nsignals:\n  v: {source: {voltage: 0 V .. 1 "
           "V}, pin: "
           "m%d.0}\nmuxes:\n",
           DEEP - 1);
    for (int i = 0; i < DEEP; i++) {
        append("  m%d: {part: two.mux.yaml, supply: logic, select: [A2], common: ", i);
        append(i == 0 ? "A0}\n" : "m%d.0}\n", i - 1);
    }
    tl_report *report = tl_report_new();
    tl_plan *plan = tl_plan_load(scratch_file("deep.plan.yaml", text, strlen(text)), report);
    CU_ASSERT(plan == NULL && tl_report_count(report) == 1 &&
              strstr(tl_report_finding(report, 0)->cause, "more than 8") != NULL);
    for (int i = 0; i < tl_report_count(report) && (plan != NULL || tl_report_count(report) != 1); i++)
        printf("\n  %s", tl_report_finding(report, i)->cause);
    tl_plan_free(plan);
    tl_report_free(report);
}

CU_TestInfo limit_tests[] = {
    {"more than sixteen things move", more_than_sixteen_things_move},
    {"more budgets than one solution answers", more_budgets_than_one_solution_answers},
    {"a chart of a hundred", a_chart_of_a_hundred},
    {"a limit that stays is named", a_limit_that_stays_is_named},
    CU_TEST_INFO_NULL,
};
