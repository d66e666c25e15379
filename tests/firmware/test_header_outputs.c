/* SPDX-License-Identifier: MIT */
/*
 * What the generated header decides for outputs, compiled and run beside a decision made here: thresholds
 * that other signals set, figures of lines that are measured.
 */
#include "support.h"
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

static const char plan[] =
    "tinyladder: plan 1\ntitle: Set\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\nsignals:\n"
    "  damp: {source: {logic: logic, rate: 1 kHz}, pin: L12, reading: {as: duty, over: 0 s, stopped-after: "
    "10 ms}}\n"
    "  limit: {source: {potentiometer: 10k, top: logic}, pin: L4, reading: {decimals: 0}}\n"
    "  other: {source: {potentiometer: 10k, top: logic}, pin: L5, reading: {decimals: 2}}\n"
    "  cell: {source: {voltage: 1 V .. 3 V}, pin: L6, reading: {unit: V, percent: {empty: 1 V, full: 3 V}}}\n"
    "outputs:\n"
    "  vent: {pin: L8, lamp: 2 V, series: 1k, shows: damp, as: threshold, start-above: limit, stop-below: "
    "limit - 10 %}\n"
    "  heat: {pin: L14, lamp: 2 V, series: 1k, shows: limit, as: threshold, start-below: other + 5 %, "
    "stop-above: 70 %}\n"
    "  low: {pin: L13, lamp: 2 V, series: 1k, shows: cell, as: threshold, start-below: limit, stop-above: "
    "other}\n"
    "  bar: {pins: [L30 .. L33], lamp: 2 V, series: 1k, shows: damp, as: levels}\n"
    "  dim: {pin: L9, lamp: 2 V, series: 1k, shows: damp, as: duty}\n";

/* damp in tenths, limit and percent in whole, other in hundredths; each was off, and then on. */
static const char program[] =
    "#include \"set.h\"\n#include <stdio.h>\n"
    "static tl_sample sample(int value, bool good)\n{\n    tl_sample s = {value, 0, 0};\n"
    "    if (good)\n        s.flags = TL_READING_FRESH;\n    return s;\n}\n"
    "static int wanted(tl_sample s) { return (s.flags & TL_READING_FRESH) != 0 ? (int)s.value : -1; }\n"
    "int main(void)\n{\n    for (int a = 0; a <= 100; a += 5)\n        for (int b = 0; b <= 100; b += 5)\n"
    "            for (int bad = 0; bad < 3; bad++) {\n"
    "                const tl_sample tenths = sample(10 * a, bad != 1), whole = sample(b, bad != 2),\n"
    "                                hundredths = sample(100 * b, bad != 2), shown = sample(a, bad != 1);\n"
    "                for (int was = 0; was < 2; was++)\n"
    "                    printf(\"%d %d %d\\n\", wanted(vent_wanted(&tenths, &whole, was)), "
    "wanted(heat_wanted(&shown, &hundredths, was)), wanted(low_wanted(&shown, &whole, &hundredths, was)));\n"
    "            }\n"
    "    tl_rhythm r;\n    tl_rhythm_init(&r, &damp_rhythm);\n"
    "    for (unsigned t = 0; t < 5000; t++)\n        tl_rhythm_feed(&r, t % 1000 < 625, t);\n"
    "    printf(\"%ld %u %u %d %d\\n\", (long)damp_value(&r).value, bar_level(damp_value(&r).value, 0), "
    "(unsigned)dim_duty(damp_value(&r).value), DAMP_DECIMALS, damp_value(&r).flags);\n"
    "    tl_rhythm_feed(&r, true, 30000);\n    printf(\"%ld\\n\", (long)damp_value(&r).value);\n"
    "    return 0;\n}\n";

/* In hundredths of a percent. */
static int decide(int value, int start, int stop, bool below, bool was)
{
    if (below ? value > stop : value < stop)
        return 0;
    return (below ? value < start : value > start) ? 1 : was;
}

static void check_decisions(char **at)
{
    int wrong = 0;
    for (int a = 0; a <= 100; a += 5) {
        for (int b = 0; b <= 100; b += 5) {
            for (int bad = 0; bad < 3; bad++) {
                for (int was = 0; was < 2; was++) {
                    const int want[3] = {decide(100 * a, 100 * b, 100 * b - 1000, false, was),
                                         decide(100 * a, 100 * b + 500, 7000, true, was),
                                         decide(100 * a, 100 * b, 100 * b, true, was)};
                    for (int i = 0; i < 3; i++)
                        wrong += strtol(*at, at, 10) != (bad != 0 ? -1 : want[i]);
                }
            }
        }
    }
    CU_ASSERT(wrong == 0);
}

static void decides_as_the_plan_says(void)
{
    static const char *const ways[2][28] = {{"c++", "-std=c++17", "-Wall", "-Wextra", "-Werror",
                                             "-fsyntax-only", "-xc++", "-I" TL_SOURCE "/include", "set.c",
                                             NULL},
                                            {"cc",
                                             "-std=c11",
                                             "-Wall",
                                             "-Wextra",
                                             "-Wconversion",
                                             "-Werror",
                                             "-I" TL_SOURCE "/include",
                                             "set.c",
                                             TL_SOURCE "/src/core/port.c",
                                             TL_SOURCE "/src/core/pin_conversion.c",
                                             TL_SOURCE "/src/core/convert.c",
                                             TL_SOURCE "/src/core/rhythm.c",
                                             TL_SOURCE "/src/core/pulse.c",
                                             TL_SOURCE "/src/core/button.c",
                                             TL_SOURCE "/src/core/clear.c",
                                             TL_SOURCE "/src/core/timeout.c",
                                             TL_SOURCE "/src/core/elapsed.c",
                                             TL_SOURCE "/src/core/ratio.c",
                                             TL_SOURCE "/src/core/share.c",
                                             TL_SOURCE "/src/core/lean.c",
                                             "-oset",
                                             NULL}};
    const char *path = scratch_file("set.plan.yaml", plan, strlen(plan));
    run_result r = run_command("header", path, "-o", TL_SCRATCH "/set.h", "--force", NULL);
    CU_ASSERT_FATAL(r.status == 0);
    run_free(&r);
    scratch_file("set.c", program, strlen(program));
    for (int i = 0; i < 2; i++) {
        r = run_program(ways[i], TL_SCRATCH);
        if (r.err[0] != '\0')
            printf("\n%s\n", r.err);
        CU_ASSERT_FATAL(r.status == 0 && r.err[0] == '\0');
        run_free(&r);
    }
    r = run_program((const char *const[]){"./set", NULL}, TL_SCRATCH);
    char *at = r.out;
    check_decisions(&at);
    /* 62.5 %: of four lamps in five bands the third, of 65535 the nearest. */
    CU_ASSERT(strcmp(at, "\n625 3 40959 1 1\n1000\n") == 0);
    if (strcmp(at, "\n625 3 40959 1 1\n1000\n") != 0)
        printf("\n%s", at);
    run_free(&r);
}

CU_TestInfo header_outputs_tests[] = {
    {"decides as the plan says", decides_as_the_plan_says},
    CU_TEST_INFO_NULL,
};
