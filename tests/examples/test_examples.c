/* SPDX-License-Identifier: MIT */
/* The examples, run on the bench as a reader would run them, and with every call of the port failing in turn.
 */
#include "example.h"
#include "support.h"
#include <stdlib.h>
#include <string.h>
#include <tinyladder/bench.h>

#define PLAN TL_SOURCE "/demo/fernhill.plan.yaml"
#define SCENE TL_SOURCE "/demo/evening.scene.yaml"

/* Each example's own main(), compiled into the tests under its name. */
#define EXAMPLES(X)                                                                                          \
    X(battery_percent)                                                                                       \
    X(button_count)                                                                                          \
    X(counterweight_scale)                                                                                   \
    X(dew_fan)                                                                                               \
    X(encoder_turns)                                                                                         \
    X(gate_interlock)                                                                                        \
    X(heaters_sweep)                                                                                         \
    X(keypad_keys)                                                                                           \
    X(knob_lamps)                                                                                            \
    X(mirror_fault)                                                                                          \
    X(motor_pattern) X(paddle_slew) X(rain_lines) X(twilight_light) X(vane_bearing) X(wheel_turns)
#define DECLARE(name) int example_##name(int argc, char **argv);
EXAMPLES(DECLARE)

static const struct {
    const char *name;
    int (*main)(int argc, char **argv);
} examples[] = {
#define ROW(name) {#name, example_##name},
    EXAMPLES(ROW)};

/* The tests' own example_main(): it only asks for the story. */
static example_story *story;
int example_main(int argc, char **argv, example_story *told)
{
    (void)argc, (void)argv;
    story = told;
    return 0;
}

static run_result run_example(const char *name, const char *plan)
{
    char program[600] = TL_BUILD "/examples/example-";
    strcat(program, name);
    const char *const words[] = {program, plan, NULL};
    return run_program(words, TL_SOURCE);
}

static void print_what_they_promise(void)
{
    static const struct {
        const char *name, *out;
    } rows[] = {
        {"battery_percent", " 0 min: 12.71 V,  91 %\n"
                            "10 min: 12.51 V,  82 %\n"
                            "20 min: 12.32 V,  72 %\n"
                            "30 min: 12.11 V,  63 %\n"
                            "40 min: 11.60 V,  38 %\n"},
        {"button_count", "  5025 ms: closed, 1 so far, lamp on\n"
                         "  5230 ms: opened, 1 so far, lamp on\n"
                         " 70030 ms: closed, 2 so far, lamp off\n"
                         " 70110 ms: opened, 2 so far, lamp off\n"
                         " 71030 ms: closed, 3 so far, lamp on\n"},
        {"counterweight_scale", "  26.0 kg\n"
                                "  37.0 kg\n"},
        {"dew_fan", " 0 min: 9.2 degC, fan off\n"
                    " 5 min: 8.3 degC, fan off\n"
                    "10 min: 7.3 degC, fan off\n"
                    "15 min: 6.4 degC, fan off\n"
                    "20 min: 5.5 degC, fan off\n"
                    "25 min: 4.5 degC, fan off\n"
                    "30 min: 3.6 degC, fan off\n"
                    "35 min: 2.7 degC, fan off\n"
                    "40 min: 1.8 degC, fan on\n"},
        {"encoder_turns", "+12 steps, 0 missed\n"},
        {"gate_interlock", "still open after 100 us\n"
                           "gate shut, fresh: fan on\n"
                           "gate shut, stale: fan off\n"},
        {"heaters_sweep", "heater-1: 3344 counts,   9.2 degC\n"
                          "heater-2: 3342 counts,   9.2 degC\n"
                          "heater-3: 3063 counts,  17.7 degC\n"
                          "heater-4: 3065 counts,  17.6 degC\n"
                          "heater-5: 3064 counts,  17.6 degC\n"
                          "heater-6: 3074 counts,  17.3 degC\n"
                          "heater-7: 3061 counts,  17.7 degC\n"
                          "heater-8: 3074 counts,  17.3 degC\n"
                          "coldest: heater-1, after 315 us\n"},
        {"keypad_keys", "track, 1145 counts\n"
                        "track is kept down\n"
                        "track is kept down\n"
                        "track is kept down\n"
                        "none, 4093 counts\n"},
        {"knob_lamps", " 0 s:   14 counts  ..........\n"
                       " 4 s:   14 counts  ..........\n"
                       " 8 s:   14 counts  ..........\n"
                       "12 s:  285 counts  ..........\n"
                       "16 s:  828 counts  **........\n"
                       "20 s: 1370 counts  ***.......\n"
                       "24 s: 1914 counts  *****.....\n"
                       "28 s: 2456 counts  ******....\n"
                       "32 s: 3000 counts  *******...\n"
                       "36 s: 3541 counts  *********.\n"
                       "40 s: 4082 counts  **********\n"
                       "44 s: 4083 counts  **********\n"},
        {"mirror_fault", " 11.9 degC\n"
                         " 10.0 degC\n"
                         "its wire is broken; 600 s ago it was  10.0 degC\n"
                         "  6.2 degC\n"},
        {"motor_pattern", "dark for 200 ms\n"
                          "lit  for 300 ms\n"
                          "dark for 1000 ms\n"
                          "lit  for 300 ms\n"
                          "dark for 200 ms\n"
                          "lit  for 300 ms\n"
                          "dark for 1000 ms\n"
                          "the motor is well\n"},
        {"paddle_slew", "x   -2, y   -2, click up\n"
                        "x  +88, y   -2, click up\n"
                        "x   -2, y   -2, click up\n"},
        {"rain_lines", "look 24: rain on\n"},
        {"twilight_light", " 0 min: day  87 %, map light  13 %\n"
                           " 5 min: day  63 %, map light  37 %\n"
                           "10 min: day  44 %, map light  56 %\n"
                           "15 min: day  31 %, map light  69 %\n"
                           "20 min: day  22 %, map light  78 %\n"
                           "25 min: day  13 %, map light  87 %\n"
                           "30 min: day   7 %, map light  93 %\n"
                           "35 min: day   4 %, map light  96 %\n"
                           "40 min: day   2 %, map light  98 %\n"},
        {"vane_bearing", " 5 s: 216 degrees on the mean, 216 in the middle\n"
                         "10 s: 216 degrees on the mean, 216 in the middle\n"
                         "15 s: 217 degrees on the mean, 217 in the middle\n"
                         "20 s: 217 degrees on the mean, 217 in the middle\n"},
        {"wheel_turns", "5 turns, 2000 mm, the contact closed for 15 ms at most\n"},
    };
    CU_ASSERT(ROWS(rows) == ROWS(examples));
    for (size_t i = 0; i < ROWS(rows); i++) {
        run_result r = run_example(rows[i].name, NULL);
        if (strcmp(r.out, rows[i].out) != 0)
            printf("\n  %s prints\n%s", rows[i].name, r.out);
        CHECK_ROW(rows[i].name, r.status == 0 && r.err[0] == '\0' && strcmp(r.out, rows[i].out) == 0);
        run_free(&r);
        r = run_example(rows[i].name, "none.yaml");
        CHECK_ROW(rows[i].name, r.status == 3 && strstr(r.err, "cannot read the plan") != NULL);
        run_free(&r);
    }
}

typedef struct {
    tl_circuit *circuit;
    const tl_scene *scene;
    unsigned long calls;
    char *said;
    tl_status status;
    int driven; /* lines that are still outputs afterwards */
} telling;

static void tell(telling *t, unsigned long failing, bool once)
{
    tl_bench *bench = tl_bench_new(t->circuit, t->scene, 1);
    size_t size = 0;
    FILE *out = open_memstream(&t->said, &size);
    if (bench == NULL || out == NULL)
        abort();
    tl_bench_fail_at(bench, failing, once);
    t->status = story(tl_bench_port(bench), out);
    fclose(out);
    t->calls = tl_bench_calls(bench);
    t->driven = 0;
    for (int line = 0; line < tl_circuit_plan(t->circuit)->board->pin_count; line++)
        t->driven += tl_bench_line_use(bench, line, NULL) == TL_LINE_OUTPUT;
    tl_bench_free(bench);
}

/* Odd calls fail and go on failing; even ones fail once, and then every line must have been released of. */
static void one_example_fails(telling *t, const char *name)
{
    tell(t, 0, false);
    const unsigned long calls = t->calls;
    char *whole = t->said;
    CHECK_ROW(name, t->status == TL_OK && t->driven == 0 && calls > 30);
    for (unsigned long failing = 1; failing <= calls; failing += THINNED == 1 ? 1 : 5) {
        const bool once = failing % 2 == 0;
        tell(t, failing, once);
        const size_t said = strlen(t->said);
        const bool all = said == strlen(whole);
        CHECK_ROW(name, t->status != TL_OK && t->calls <= calls + 20);
        /* Nothing is said but what is true: the same words, up to where it broke off. */
        CHECK_ROW(name, strncmp(whole, t->said, said) == 0);
        /* Only the line whose own release fails can stay driven. */
        CHECK_ROW(name, !once || t->driven == 0 || (all && t->driven == 1));
        free(t->said);
    }
    free(whole);
}

static void end_well_whichever_call_fails(void)
{
    telling t = {0};
    tl_report *report = tl_report_new();
    tl_plan *plan = tl_plan_load(PLAN, report);
    CU_ASSERT_FATAL(plan != NULL);
    t.circuit = tl_circuit_new(plan);
    tl_scene *scene = tl_scene_load(SCENE, t.circuit, report);
    t.scene = scene;
    CU_ASSERT_FATAL(t.circuit != NULL && scene != NULL);
    for (size_t i = 0; i < ROWS(examples); i++) {
        (void)examples[i].main(0, NULL);
        one_example_fails(&t, examples[i].name);
    }
    tl_scene_free(scene);
    tl_circuit_free((tl_circuit *)t.circuit);
    tl_plan_free(plan);
    tl_report_free(report);
}

/* The index names every example, and nothing that is not there. */
static void the_index_is_whole(void)
{
    char *index = text_of(TL_SOURCE "/examples/README.md");
    int named = 0;
    for (size_t i = 0; i < ROWS(examples); i++) {
        char link[80];
        snprintf(link, sizeof link, "| [%s](%s.c) |", examples[i].name, examples[i].name);
        CHECK_ROW(examples[i].name, strstr(index, link) != NULL);
    }
    for (const char *at = index; (at = strstr(at, ".c) |")) != NULL; at++)
        named++;
    CU_ASSERT(named == (int)ROWS(examples));
    free(index);
}

CU_TestInfo example_tests[] = {
    {"the index is whole", the_index_is_whole},
    {"print what they promise", print_what_they_promise},
    {"end well whichever call fails", end_well_whichever_call_fails},
    CU_TEST_INFO_NULL,
};
