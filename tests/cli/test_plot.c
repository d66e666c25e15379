/* SPDX-License-Identifier: MIT */
/* `tinyladder plot`: what shares a panel, runs, failures, levels, pages, and what is refused. The pictures
 * are looked at by people; here stands what an SVG says in words. */
#include "support.h"
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#define PLAN "demo/fernhill.plan.yaml"
#define SCENE "demo/evening.scene.yaml"
#define HEAD "s,signal,kind,count,pin_v,value,unit,percent,low,high,closings,flags\n"

static int times_in(const char *text, const char *word)
{
    int count = 0;
    for (const char *at = strstr(text, word); at != NULL; at = strstr(at + 1, word))
        count++;
    return count;
}

/* The picture of a record, in words; to be freed. */
static char *drawn(const char *record, const char *option, const char *value)
{
    const char *svg = scratch_path("drawn.svg");
    unlink(svg);
    run_result r = run_command("plot", record, "-o", svg, option, value, NULL);
    CU_ASSERT(r.status == 0);
    run_free(&r);
    return text_of(svg);
}

static const char *record_of(const char *name, const char *rows)
{
    static char text[sizeof HEAD + 60000];
    snprintf(text, sizeof text, HEAD "%.60000s", rows);
    return scratch_file(name, text, strlen(text));
}

/* A title, units, names, what failed and why, the levels at their lines, lines with their closings. */
static void says_what_it_shows(void)
{
    const char *record = scratch_path("chart.csv");
    unlink(record);
    run_result r = run_command("record", PLAN, "--scene", SCENE, "--every", "2min", "-o", record, NULL);
    CU_ASSERT(r.status == 0);
    run_free(&r);
    char *text = drawn(record, NULL, NULL);
    static const char *const words[] = {"<svg",
                                        "Fernhill observatory, roll-off roof: evening.scene.yaml, seed 7",
                                        "house-battery",
                                        "mirror-temperature: open wire",
                                        "dew-heater starts below, dew-fan starts below 2 degC",
                                        "dew-heater stops above, dew-fan stops above 4 degC",
                                        "rain-plate (1)",
                                        ">stop-button<",
                                        "%, outputs",
                                        "</svg>"};
    for (size_t i = 0; i < ROWS(words); i++)
        CHECK_ROW(words[i], strstr(text, words[i]) != NULL);
    free(text);
}

/* Two signals of one unit, each from one value to another: in one panel, or each in its own. */
static void nobody_is_flattened(void)
{
    static const struct {
        const char *name;
        double a[2], b[2];
        int panels;
    } rows[] = {
        {"12 V and 0.4 V that move", {11, 13}, {0.3, 0.5}, 2},
        {"12 V that moves and 0.4 V that moves by all it has", {11, 13}, {0, 0.5}, 2},
        {"0.4 V that moves and a steady 12 V", {0.3, 0.5}, {12, 12}, 2},
        {"two that are steady", {12, 12}, {0.4, 0.4}, 1},
        {"a wide one and a steady one", {0, 100}, {50, 50.5}, 1},
        {"two that overlap", {10, 20}, {12, 17}, 1},
        {"a quarter of the height", {0, 10}, {0, 2.6}, 1},
        {"less than that", {0, 10}, {0, 2.4}, 2},
        {"below zero, and alike", {-10, -5}, {-8, -2}, 1},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char text[400];
        int length = 0;
        for (int at = 0; at < 2; at++)
            length += snprintf(text + length, sizeof text - (size_t)length,
                               "%d,a,analog,1,1,%g,V,,%g,%g,,fresh\n%d,b,analog,1,1,%g,V,,%g,%g,,fresh\n", at,
                               rows[i].a[at], rows[i].a[at], rows[i].a[at], at, rows[i].b[at], rows[i].b[at],
                               rows[i].b[at]);
        char *picture = drawn(record_of("panels.csv", text), NULL, NULL);
        CHECK_ROW(rows[i].name, times_in(picture, ">V<") == rows[i].panels);
        free(picture);
    }
}

/* One file, two runs: the last, one of them, or all, in CSV and in a database alike. */
static void runs_stay_apart(void)
{
    static const char *const files[] = {"runs.csv", "runs.db"};
    char *all[2];
    for (size_t i = 0; i < ROWS(files); i++) {
        const char *path = scratch_path(files[i]);
        unlink(path);
        for (int seed = 1; seed <= 2; seed++) {
            run_result r =
                run_command("record", PLAN, "house-battery", "rain-plate", "heater-1", "--scene", SCENE,
                            "--seed", seed == 1 ? "1" : "2", "--every", "5min", "-o", path, NULL);
            CU_ASSERT(r.status == 0);
            run_free(&r);
        }
        run_result r = run_command("plot", path, NULL);
        CU_ASSERT(r.status == 0 && strstr(r.err, "holds 2 runs; this is the last") != NULL &&
                  strstr(r.out, "seed 2") != NULL && strstr(r.out, "run 1") == NULL);
        run_free(&r);
        r = run_command("plot", path, "--run", "3", NULL);
        CU_ASSERT(r.status == 1 && strstr(r.err, "nothing to plot") != NULL);
        run_free(&r);
        char *first = drawn(path, "--run", "1");
        CU_ASSERT(strstr(first, "seed 1") != NULL && strstr(first, ", run") == NULL);
        free(first);
        all[i] = drawn(path, "--run", "all");
        CU_ASSERT(strstr(all[i], "house-battery, run 1") != NULL &&
                  strstr(all[i], "rain-plate, run 2 (1)") != NULL &&
                  strstr(all[i], "(the last of 2 runs)") != NULL);
    }
    CU_ASSERT(strcmp(all[0], all[1]) == 0);
    free(all[0]);
    free(all[1]);
}

/* Two flags, no run said, a value that is none: records of before, and by hand. */
static void older_records_are_drawn(void)
{
    char *text = drawn(record_of("old.csv", "0,knob,analog,0,0,0,V,,0,0.1,,\"fresh, clipped low\"\n"
                                            "1,knob,analog,0,0,,V,,,,,\"short, clipped low\"\n"
                                            "2,knob,analog,9,1,1,V,,0.9,1.1,,fresh\n"),
                       NULL, NULL);
    CU_ASSERT(strstr(text, "knob: short, clipped low") != NULL && times_in(text, ">V<") == 1);
    free(text);
}

/* Eighty signals, each of a unit of its own, on several pages; a PDF has them all. */
static void much_goes_on_to_other_pages(void)
{
    static char rows[60000];
    size_t length = 0;
    for (int at = 0; at < 2; at++) {
        for (int i = 0; i < 80; i++)
            length += (size_t)snprintf(
                rows + length, sizeof rows - length,
                "%d,s%d,analog,1,1,%d,u%d,,%d,%d,,fresh\n%d,d%d,digital,%d,1,%d,,,,,0,fresh\n", at, i, i + at,
                i, i + at, i + at, at, i, at, at);
    }
    const char *record = record_of("much.csv", rows);
    run_result r = run_command("plot", record, "-o", scratch_path("much.svg"), NULL);
    CU_ASSERT(r.status == 0);
    const int pages = times_in(r.out, "much-");
    run_free(&r);
    CU_ASSERT(pages > 5);
    int names = 0, lines = 0;
    for (int page = 1; page <= pages; page++) {
        char name[40];
        snprintf(name, sizeof name, "much-%d.svg", page);
        char *text = text_of(scratch_path(name));
        for (int i = 0; i < 80; i++) {
            snprintf(name, sizeof name, ">s%d<", i);
            names += strstr(text, name) != NULL;
            snprintf(name, sizeof name, ">d%d<", i);
            lines += strstr(text, name) != NULL;
        }
        free(text);
    }
    CU_ASSERT(names == 80 && lines == 80);
    r = run_command("plot", scratch_path("much.csv"), "-o", scratch_path("much.pdf"), NULL);
    CU_ASSERT(r.status == 0 && r.out[0] == '\0');
    run_free(&r);
    char *text = text_of(scratch_path("much.pdf"));
    CU_ASSERT(strncmp(text, "%PDF", 4) == 0);
    free(text);
    r = run_command("plot", scratch_path("much.csv"), "s3", "d4", NULL);
    CU_ASSERT(r.status == 0 && strstr(r.out, "s3") != NULL && strstr(r.out, "s30") == NULL);
    run_free(&r);
}

static void what_is_no_record_is_refused(void)
{
    const char *record = record_of("one.csv", "0,knob,analog,0,0,0,V,,0,0.1,,fresh\n");
    static const struct {
        const char *words[3];
        int status;
        const char *err;
    } rows[] = {{{"nobody"}, 1, "nothing to plot"},
                {{"-o", "x.gif"}, 2, ".svg, .png or .pdf"},
                {{"-o", "/nowhere/x.svg"}, 4, ""},
                {{"--run", "0"}, 2, "--run: a number from 1 on, or all: '0'"},
                {{"--run", "x"}, 2, "--run: a number from 1 on, or all: 'x'"}};
    for (size_t i = 0; i < ROWS(rows); i++) {
        run_result r = run_command("plot", record, rows[i].words[0], rows[i].words[1], NULL);
        CHECK_ROW(rows[i].words[0], r.status == rows[i].status && strstr(r.err, rows[i].err) != NULL);
        run_free(&r);
    }
    static const char *const others[] = {"0,knob,odd,0,0,0,V,,0,0.1,,fresh\n",
                                         "x,knob,analog,0,0,0,V,,0,0.1,,fresh\n", "0,knob,analog,0\n"};
    for (size_t i = 0; i < ROWS(others); i++) {
        run_result r = run_command("plot", record_of("bad.csv", others[i]), NULL);
        CHECK_ROW(others[i], r.status == 3 && strstr(r.err, "this is no record") != NULL);
        run_free(&r);
    }
    run_result r = run_command("plot", PLAN, NULL);
    CU_ASSERT(r.status == 3 && strstr(r.err, "this is no record") != NULL);
    run_free(&r);
}

CU_TestInfo plot_tests[] = {
    {"says what it shows", says_what_it_shows},
    {"nobody is flattened", nobody_is_flattened},
    {"runs stay apart", runs_stay_apart},
    {"older records are drawn", older_records_are_drawn},
    {"much goes on to other pages", much_goes_on_to_other_pages},
    {"what is no record is refused", what_is_no_record_is_refused},
    CU_TEST_INFO_NULL,
};
