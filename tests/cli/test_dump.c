/* SPDX-License-Identifier: MIT */
/* Value change dumps: what is recorded plays again as it was, and what is no dump is refused at its line. */
#define _GNU_SOURCE
#include "base/vcd_read.h"
#include "support.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#define PLAN "demo/fernhill.plan.yaml"
#define SCENE "demo/evening.scene.yaml"
#define BOTH                                                                                                 \
    "motor-status: {file: lines.vcd, column: motor_status.level}, open-button: {file: lines.vcd, column: "   \
    "open_button.level}"

static char *record_lines(const char *name, const char *scene)
{
    const char *path = scratch_path(name);
    unlink(path);
    run_result r = run_command("record", PLAN, "motor-status", "open-button", "--scene", scene, "--every",
                               "10ms", "--at", "4s", "--for", "6s", "-o", path, NULL);
    CU_ASSERT(r.status == 0 && strstr(r.out, ": 601 times of 2 signals, up to 10 s") != NULL);
    run_free(&r);
    return text_of(path);
}

static vcd_levels levels_of(const char *text, const char *name)
{
    vcd_levels l;
    int line;
    char why[200];
    CU_ASSERT_FATAL(vcd_read(text, strlen(text), name, &l, &line, why));
    return l;
}

/* The scene's pattern and press (5 s for 200 ms) against the same out of the dump. */
static void plays_what_was_recorded(void)
{
    static const char scene[] = "tinyladder: scene 1\nlength: 1 min\nvalues: {" BOTH "}\n";
    static const struct {
        const char *line;
        int least;
    } lines[] = {{"motor_status.level", 10}, {"open_button.level", 3}};
    char *first = record_lines("lines.vcd", SCENE);
    char *second = record_lines("again.vcd", scratch_file("played.scene.yaml", scene, strlen(scene)));
    for (size_t i = 0; i < ROWS(lines); i++) {
        vcd_levels one = levels_of(first, lines[i].line), other = levels_of(second, lines[i].line);
        CHECK_ROW(lines[i].line, one.count == other.count && one.count >= lines[i].least);
        for (int k = 0; k < one.count && k < other.count; k++)
            CHECK_ROW(lines[i].line, fabs(one.levels[k].at - other.levels[k].at) < 0.011 &&
                                         one.levels[k].high == other.levels[k].high);
        vcd_free(&one);
        vcd_free(&other);
    }
    CU_ASSERT(strstr(first, "$scope module open_button $end\n$var wire 1 $ level $end\n$var wire 1 % closed "
                            "$end\n") != NULL);
    CU_ASSERT(strstr(first, "dew_fan") == NULL); /* an output of a signal that is not recorded */
    vcd_levels pressed = levels_of(first, "open_button.level"); /* looked at every 10 ms */
    CU_ASSERT(pressed.count == 3 && pressed.levels[0].high && fabs(pressed.levels[1].at - 5) < 0.02 &&
              fabs(pressed.levels[2].at - 5.2) < 0.02);
    vcd_free(&pressed);
    free(first);
    free(second);
    run_result r = run_command("record", PLAN, "motor-status", "--scene", SCENE, "--for", "1s", "-o",
                               scratch_path("lines.vcd"), NULL);
    CU_ASSERT(r.status == 4 && strstr(r.err, "lines.vcd: error: a value change dump holds one run") != NULL);
    run_free(&r);
}

/* Of an analog signal count and value, as the table has them; in binary, with what no row tells unknown. */
static void has_counts_and_values(void)
{
    const char *path = scratch_path("battery.vcd");
    unlink(path);
    run_result r =
        run_command("record", PLAN, "house-battery", "--scene", SCENE, "--for", "100ms", "-o", path, NULL);
    run_free(&r);
    r = run_command("read", PLAN, "house-battery", "--scene", SCENE, "--json", NULL);
    const char *count = strstr(r.out, "\"count\": "), *value = strstr(r.out, "\"value\": ");
    CU_ASSERT_FATAL(r.status == 0 && count != NULL && value != NULL);
    const long counted = strtol(count + 9, NULL, 10);
    char wanted[80] = "\nb", *text = text_of(path);
    int length = 2, bit = 31;
    while (bit > 0 && (counted >> bit & 1) == 0)
        bit--;
    for (; bit >= 0; bit--)
        wanted[length++] = (char)('0' + (counted >> bit & 1));
    snprintf(wanted + length, sizeof wanted - (size_t)length, " !\nr%.6s", value + 9);
    CU_ASSERT(strstr(text, wanted) != NULL &&
              strstr(text, "#75\n$dumpvars\nbx !\nr0 \"\n0#\n$end\n") != NULL);
    run_free(&r);
    free(text);
}

static void is_a_pattern_and_an_observation(void)
{
    const char *path = scratch_path("lines.vcd");
    char line[300], same[300];
    snprintf(line, sizeof line, "%s:motor_status.level", path);
    snprintf(same, sizeof same, "%s:open_button.fresh", path);
    const command_row rows[] = {
        {"one like it",
         {"read", PLAN, "motor-status", "--scene", SCENE, "--at", "4s", "--expect", line},
         0,
         "shows the pattern",
         NULL},
        {"another line",
         {"read", PLAN, "open-button", "--scene", SCENE, "--expect", line},
         1,
         "does not show",
         NULL},
        {"too short",
         {"read", PLAN, "motor-status", "--scene", SCENE, "--expect", same},
         3,
         NULL,
         "between its changes the line has"},
        {"seen",
         {"explain", PLAN, "motor-status", "--saw", line, "--source", "low, high"},
         0,
         "nothing is wrong",
         NULL},
        {"of counts", {"explain", PLAN, "house-battery", "--saw", line}, 2, NULL, "this signal has counts"},
    };
    check_commands(rows, ROWS(rows));
}

/* Times and levels worked out by hand. */
static void reads_the_levels(void)
{
    static const char text[] = "$date today $end\n$timescale 10 ns $end\n$scope module bench $end\n$var wire "
                               "1 ! D0 $end\n$var wire 8 \" bus [7:0] $end\n"
                               "$var reg 1 # D1 [0] $end\n$upscope $end\n$enddefinitions "
                               "$end\n#0\n$dumpvars\nx!\n1#\nb1010 \"\n$end\n#100\n0!\n#150\n"
                               "1!\n0#\n#150\n0!\n#200\nz!\n#300\nb1 !\n$comment 1! $end\n#400\n";
    vcd_levels l;
    int line;
    char why[200];
    CU_ASSERT_FATAL(vcd_read(text, strlen(text), "bench.D0", &l, &line, why));
    CU_ASSERT(l.count == 2 && !l.levels[0].high && l.levels[1].high);
    CU_ASSERT_DOUBLE_EQUAL(l.levels[0].at, 1e-6, 1e-15);
    CU_ASSERT_DOUBLE_EQUAL(l.levels[1].at, 3e-6, 1e-15);
    CU_ASSERT_DOUBLE_EQUAL(l.end, 4e-6, 1e-15);
    vcd_free(&l);
    CU_ASSERT_FATAL(vcd_read(text, strlen(text), "D1", &l, &line, why));
    CU_ASSERT(l.count == 2 && l.levels[0].high && !l.levels[1].high && l.levels[1].at == 150 * 10e-9);
    vcd_free(&l);
}

static void refuses_what_is_none(void)
{
#define HEAD "$timescale 1 us $end\n$var wire 1 ! D0 $end\n$enddefinitions $end\n"
    static const struct {
        const char *text, *name, *why;
        int line;
    } rows[] = {
        {"", NULL, "no $enddefinitions", 1},
        {"hello\n", NULL, "'hello' stands before", 1},
        {"$timescale 3 us $end\n", NULL, "no time scale: '3us'", 1},
        {"$timescale\n1 parsec\n$end\n", NULL, "no time scale: '1parsec'", 3},
        {"$var wire 1 ! D0 $end\n$enddefinitions $end\n", NULL, "no $timescale", 2},
        {"$var wire 1 $end\n", NULL, "expected $var", 1},
        {"$timescale 1 us\n", NULL, "no $enddefinitions", 2},
        {"$comment no end\n", NULL, "in the middle of a declaration", 2},
        {HEAD, "D1", "no variable of one bit called 'D1'", 3},
        {HEAD "#x\n", NULL, "no time: '#x'", 4},
        {HEAD "#-1\n", NULL, "no time: '#-1'", 4},
        {HEAD "#5\n0!\n#4\n", NULL, "'#4' is before", 6},
        {HEAD "0!\nwhat\n", NULL, "no change of a value: 'what'", 5},
        {HEAD "b1", NULL, "in the middle of a value", 4},
        {"$timescale 1 us $end\n$var wire 1 ! A $end\n$var wire 1 \" B $end\n$enddefinitions $end\n", NULL,
         "several such variables, 'B' for one", 4},
        {"$timescale 1 us $end\n$var real 64 ! A $end\n$enddefinitions $end\n", NULL,
         "no variable of one bit", 3},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        vcd_levels l;
        char why[200] = "";
        int line = 0;
        const bool read = vcd_read(rows[i].text, strlen(rows[i].text), rows[i].name, &l, &line, why);
        CHECK_ROW(rows[i].why,
                  !read && line == rows[i].line && strstr(why, rows[i].why) != NULL && l.levels == NULL);
        if (read || line != rows[i].line || strstr(why, rows[i].why) == NULL)
            printf("\n  '%s': line %d, %s\n", rows[i].text, line, why);
    }
    static const char scene[] =
        "tinyladder: scene 1\nlength: 1 s\nvalues:\n  open-button: {file: wrong.vcd}\n";
    scratch_file("wrong.vcd", HEAD "#5\n0!\n#4\n", strlen(HEAD "#5\n0!\n#4\n"));
    const char *path = scratch_file("wrong.scene.yaml", scene, strlen(scene));
    const command_row shown = {
        "of a scene",
        {"read", PLAN, "open-button", "--scene", path},
        3,
        NULL,
        "wrong.vcd:6:1: error: times rise: '#4' is before the one above it [bad-table]"};
    check_commands(&shown, 1);
}

CU_TestInfo dump_tests[] = {
    {"plays what was recorded", plays_what_was_recorded},
    {"has counts and values", has_counts_and_values},
    {"is a pattern and an observation", is_a_pattern_and_an_observation},
    {"reads the levels", reads_the_levels},
    {"refuses what is none", refuses_what_is_none},
    CU_TEST_INFO_NULL,
};
