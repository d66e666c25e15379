/* SPDX-License-Identifier: MIT */
/*
 * What is made of the key tables: schemas and reference are fresh, the demo's files fit the schemas (by a
 * validator that knows nothing of us), starter files are files, and every error of a file is told in one run.
 */
#define _GNU_SOURCE
#include "model/take.h"
#include "support.h"
#include "tinyladder/design/scene.h"
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

static run_result shell(const char *line)
{
    const char *const words[] = {"/bin/sh", "-c", line, NULL};
    return run_program(words, TL_SOURCE);
}

static void what_is_made_of_the_keys_is_fresh(void)
{
    run_result r =
        shell("rm -rf " TL_SCRATCH "/keys && mkdir " TL_SCRATCH "/keys && " TL_BUILD
              "/write-keys schema " TL_SCRATCH "/keys && cp docs/plan-reference.md " TL_SCRATCH
              "/keys/ && " TL_BUILD "/write-keys reference " TL_SCRATCH
              "/keys/plan-reference.md && diff -q docs/plan-reference.md " TL_SCRATCH
              "/keys/plan-reference.md && rm " TL_SCRATCH
              "/keys/plan-reference.md && cp docs/methods.md " TL_SCRATCH "/methods.md && " TL_BUILD
              "/write-keys reference " TL_SCRATCH "/methods.md && diff -q docs/methods.md " TL_SCRATCH
              "/methods.md && diff -rq schema " TL_SCRATCH "/keys && echo fresh");
    CU_ASSERT_STRING_EQUAL(r.out, "fresh\n");
    if (strcmp(r.out, "fresh\n") != 0)
        printf("\n  'make keys' is wanted: %s%s", r.out, r.err);
    run_free(&r);
    /* Every section of the tables stands in the reference. */
    r = shell("grep -c '^<!-- keys: ' docs/plan-reference.md");
    CU_ASSERT(strtol(r.out, NULL, 10) > 60);
    run_free(&r);
}

static void files_fit_their_schemas(void)
{
    run_result r = shell(
        "/usr/bin/python3 tests/reader/validate.py schema demo/*.yaml demo/sound/*.yaml demo/faulty/*.yaml "
        "perf/host/*.yaml");
    CU_ASSERT(r.status == 0 && strstr(r.out, " files, 0 do not fit\n") != NULL);
    if (strstr(r.out, " files, 0 do not fit\n") == NULL)
        printf("\n  %s%s", r.out, r.err);
    run_free(&r);
    /* And what does not fit is told: one mistake each. */
    static const struct {
        const char *name, *text;
    } rows[] = {
        {"an unknown key",
         "tinyladder: plan 1\nboard: x\nsignals: {s: {source: {rail: a}, pin: L4, pinn: L5}}\n"},
        {"a key that is missing", "tinyladder: plan 1\nboard: x\nsignals: {s: {source: {rail: a}}}\n"},
        {"a wrong word", "tinyladder: plan 1\nboard: x\nbuses: {b: {pins: {scl: a, sda: b}, mode: quick}}\n"},
        {"a number for ohms",
         "tinyladder: plan 1\nboard: x\nsignals: {s: {source: {rail: a}, stages: [guard: 10], pin: L4}}\n"},
        {"a stage of two",
         "tinyladder: plan 1\nboard: x\nsignals: {s: {source: {rail: a}, stages: [{guard: 1k, load: 1k}], "
         "pin: L4}}\n"},
        {"a map for a list", "tinyladder: plan 1\nboard: x\ninclude: {a: b}\n"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char line[600];
        snprintf(line, sizeof line, "/usr/bin/python3 tests/reader/validate.py schema %s",
                 scratch_file("wrong.yaml", rows[i].text, strlen(rows[i].text)));
        r = shell(line);
        CHECK_ROW(rows[i].name, strstr(r.out, "1 files, 1 do not fit") != NULL);
        run_free(&r);
    }
}

static char *code; /* of everything that reads files */

static void look_for_readers(const key_section *section, const key_section **seen, int *count)
{
    for (int i = 0; i < *count; i++) {
        if (seen[i] == section)
            return;
    }
    CU_ASSERT_FATAL(*count < 150);
    seen[(*count)++] = section;
    for (const known_key *key = section->keys; key->name != NULL; key++) {
        char literal[60];
        snprintf(literal, sizeof literal, "\"%s\"", key->name);
        CHECK_ROW(key->name, key->binding.into != INTO_CODE || strstr(code, literal) != NULL);
        if (key->section != NULL)
            look_for_readers(key->section, seen, count);
    }
}

/* A key goes into a field, or code takes it by its name, or it is for people alone. And where a file was read
 * to its end, a key that nobody asked for is an error. */
static void every_key_is_read(void)
{
    static const key_section *seen[150];
    static const key_section *const others[] = {&keys_pin_rail, &keys_own_converter, &keys_analog_reading,
                                                &keys_digital_reading, &keys_typical};
    int count = 0;
    run_result r = shell("cat src/reader/*.c src/scene/*.c src/explain/observed.c src/model/take.c");
    code = r.out;
    for (const file_kind *kind = file_kinds; kind->kind != NULL; kind++)
        look_for_readers(kind->section, seen, &count);
    for (int i = 0; all_sources[i] != NULL; i++)
        look_for_readers(all_sources[i], seen, &count);
    for (int i = 0; all_faults[i] != NULL; i++)
        look_for_readers(all_faults[i], seen, &count);
    for (int i = 0; all_stages[i].name != NULL; i++) {
        if (all_stages[i].section != NULL)
            look_for_readers(all_stages[i].section, seen, &count);
    }
    for (size_t i = 0; i < ROWS(others); i++)
        look_for_readers(others[i], seen, &count);
    CU_ASSERT(count > 60);
    run_free(&r);
    r = shell("cat docs/plan-reference.md");
    for (const file_kind *kind = file_kinds; kind->kind != NULL; kind++) { /* and all are looked up there */
        char mark[80];
        snprintf(mark, sizeof mark, "<!-- keys: %s -->", kind->section->id);
        CHECK_ROW(kind->kind, strstr(r.out, mark) != NULL);
    }
    run_free(&r);

    static const known_key rows[] = {{"read", false, KEY_TEXT, 0, NULL, NULL, "", "", NULL, BY_CODE},
                                     {"unread", false, KEY_TEXT, 0, NULL, NULL, "", "", NULL, BY_CODE},
                                     {.name = NULL}};
    static const key_section section = {"trial", "a trial", rows};
    static const char text[] = "{read: 1, unread: 2}";
    tl_report *report = tl_report_new();
    const yaml_tree *root =
        yaml_read_file(scratch_file("trial.yaml", text, strlen(text)), (tl_place){-1, 0, 0}, report);
    CU_ASSERT_FATAL(root != NULL);
    reader as = {.report = report, .path = "trial"};
    CU_ASSERT(yaml_get(root, "read") != NULL);
    CU_ASSERT(!check_all(&as, root, &section) && tl_report_count(report) == 1 &&
              strcmp(tl_report_finding(report, 0)->slug, "unread-key") == 0);
    tl_report_free(report);
}

/* From an empty folder to a checked plan; nothing is written over. */
static void starters_are_files(void)
{
    run_result r = shell(
        "rm -rf " TL_SCRATCH "/new && mkdir " TL_SCRATCH "/new && cd " TL_SCRATCH
        "/new && for kind in board plan converter "
        "mux drawer scene; do " TL_BUILD "/tinyladder new $kind -o own.$kind.yaml || exit 9; done; " TL_BUILD
        "/tinyladder check --strict own.plan.yaml && " TL_BUILD
        "/tinyladder read own.plan.yaml --scene own.scene.yaml && " TL_BUILD
        "/tinyladder size divider --vin 12V --vmax 3V --drawer own.drawer.yaml && "
        "/usr/bin/python3 " TL_SOURCE "/tests/reader/validate.py " TL_SOURCE "/schema own.*.yaml");
    CU_ASSERT(r.status == 0 && strstr(r.out, "0 errors, 0 warnings, 0 notes") != NULL &&
              strstr(r.out, "6 files, 0 do not fit") != NULL);
    if (r.status != 0)
        printf("\n  %s%s", r.out, r.err);
    run_free(&r);
    tl_report *report = tl_report_new();
    tl_converter *converter = tl_converter_load(TL_SCRATCH "/new/own.converter.yaml", report);
    tl_mux_part *mux = tl_mux_part_load(TL_SCRATCH "/new/own.mux.yaml", report);
    CU_ASSERT(converter != NULL && mux != NULL && tl_report_count(report) == 0);
    tl_converter_free(converter);
    tl_mux_part_free(mux);
    tl_report_free(report);
    r = shell("cd " TL_SCRATCH "/new && echo mine >kept.yaml && " TL_BUILD
              "/tinyladder new plan -o kept.yaml; S=$?; cat kept.yaml; " TL_BUILD
              "/tinyladder new cake; exit $S");
    CU_ASSERT(r.status == 4 && strcmp(r.out, "mine\n") == 0 && strstr(r.err, "it is there already") != NULL &&
              strstr(r.err, "'cake' is no kind of file") != NULL);
    run_free(&r);
}

#define HEAD "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\n"

static int find_slug(const char *text, const char *slug)
{
    int found = 0;
    tl_report *report = tl_report_new();
    tl_report_allow_outside(report, true);
    tl_plan_free(tl_plan_load(scratch_file("kind.plan.yaml", text, strlen(text)), report));
    for (int i = 0; i < tl_report_count(report); i++)
        found += strcmp(tl_report_finding(report, i)->slug, slug) == 0;
    tl_report_free(report);
    return found;
}

/* A kind of stage or source that the language has, the reader knows, and the other way round. */
static void every_kind_can_be_read(void)
{
    char text[1200];
    int stages = 0, sources = 0;
    for (; all_stages[stages].name != NULL; stages++) {
        snprintf(text, sizeof text,
                 HEAD "signals: {s: {source: {contact: ground}, stages: [%s: %s], pin: L20}}\n",
                 all_stages[stages].name, all_stages[stages].example);
        CHECK_ROW(all_stages[stages].name, find_slug(text, "unknown-key") == 0);
    }
    CU_ASSERT(stages == TL_STAGE_KINDS);
    for (; all_sources[sources] != NULL; sources++) {
        size_t used = (size_t)snprintf(text, sizeof text, HEAD "signals: {s: {source: {");
        for (const known_key *key = all_sources[sources]->keys; key->name != NULL; key++) {
            if (key->needed)
                used +=
                    (size_t)snprintf(text + used, sizeof text - used, "%s: %s, ", key->name, key->example);
        }
        snprintf(text + used, sizeof text - used, "}, pin: L4}}\n");
        CHECK_ROW(all_sources[sources]->id,
                  find_slug(text, "unknown-source") == 0 && find_slug(text, "unread-key") == 0);
    }
    CU_ASSERT(sources == TL_SOURCE_LOGIC + 1); /* which is the last */
}

/* Wherever they stand, and whatever the first of them keeps from being read; none without a place, none
 * twice. */
static void every_error_is_told_in_one_run(void)
{
    static const struct {
        const char *name, *text, *slugs; /* in the order of the file: line, slug */
    } rows[] = {
        {"three sections",
         HEAD "supplies: {a: 5}\nmuxes: {m: {part: none.yaml}}\nsignals:\n  s: {source: {rail: a}, pin: L4, "
              "red: x}\n",
         "4 bad-quantity;5 missing-key;5 missing-key;5 missing-key;7 unknown-key;"},
        {"buses, meters and a signal",
         HEAD "buses: {b: {pins: {scl: L24, sda: L25}, mode: quick}}\nmeters: {m: {digits: many}}\n"
              "signals: {s: {source: {potentiometer: 10, top: logic}, pin: L4}}\n",
         "4 unknown-word;5 bad-number;6 bad-quantity;"},
        {"include as a map",
         HEAD "include: {a: b.yaml}\nsignals: {s: {source: {potentiometer: 10k, top: logic}, pin: L4}}\n",
         "4 wrong-shape;"},
        {"drawer as a map",
         HEAD "drawer: {a: b.yaml}\nsignals: {s: {source: {potentiometer: 10k, top: logic}, pin: L4}}\n",
         "4 wrong-shape;"},
        {"ambient as a list",
         HEAD "ambient: [1 degC]\nsignals: {s: {source: {potentiometer: 10k, top: logic}, pin: L4}}\n",
         "4 wrong-shape;"},
        {"signals as a list", HEAD "signals: [s]\n", "4 wrong-shape;"},
        {"stages as a map",
         HEAD "signals:\n  s: {source: {potentiometer: 10k, top: logic}, stages: {guard: 1k}, pin: L4}\n",
         "5 wrong-shape;"},
        {"a reading as a word",
         HEAD "signals:\n  s: {source: {potentiometer: 10k, top: logic}, pin: L4, reading: V}\n",
         "5 wrong-shape;"},
        {"nothing at all", HEAD, "1 missing-key;"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char found[500] = "";
        tl_report *report = tl_report_new();
        CHECK_ROW(rows[i].name,
                  tl_plan_load(scratch_file("many.plan.yaml", rows[i].text, strlen(rows[i].text)), report) ==
                      NULL);
        tl_report_sort(report);
        for (int f = 0; f < tl_report_count(report); f++) {
            const size_t used = strlen(found);
            snprintf(found + used, sizeof found - used, "%d %s;", tl_report_finding(report, f)->place.line,
                     tl_report_finding(report, f)->slug);
            CHECK_ROW(rows[i].name, tl_report_finding(report, f)->place.line > 0 &&
                                        tl_report_finding(report, f)->place.column > 0);
        }
        CHECK_ROW(rows[i].name, strcmp(found, rows[i].slugs) == 0);
        if (strcmp(found, rows[i].slugs) != 0)
            printf("\n  %s: %s\n", rows[i].name, found);
        tl_report_free(report);
    }
}

/* A section may stand in the plan and in what it includes: multiplexers of one lead into those of the other.
 */
static void sections_of_both_files_join(void)
{
    static const char
        plan[] =
            HEAD "include: far.plan.yaml\nmuxes:\n  near: {part: own.mux.yaml, supply: logic, select: [L20, "
                 "L21, L22], common: L5}\n"
                 "signals:\n  a: {source: {potentiometer: 10k, top: logic}, pin: near.0}\n",
        more[] =
            "tinyladder: plan 1\nmuxes:\n  far: {part: own.mux.yaml, supply: logic, select: [L23, L24, L25], "
            "common: near.7}\n"
            "signals:\n  b: {source: {potentiometer: 10k, top: logic}, pin: far.3}\noutputs:\n  o: {pin: "
            "L30, lamp: 1.9 V .. 2.2 V, series: 470 ohm}\n",
        part[] = "tinyladder: mux 1\ntitle: m\ninputs: 8\non-resistance: 70 ohm .. 200 ohm\n";
    scratch_file("own.mux.yaml", part, strlen(part));
    scratch_file("far.plan.yaml", more, strlen(more));
    tl_report *report = tl_report_new();
    tl_plan *plan_of = tl_plan_load(scratch_file("near.plan.yaml", plan, strlen(plan)), report);
    CU_ASSERT(plan_of != NULL && tl_report_count(report) == 0);
    if (plan_of != NULL)
        CU_ASSERT(plan_of->mux_count == 2 && plan_of->signal_count == 2 &&
                  plan_of->pins[plan_of->signals[1].pin].channel == 1);
    tl_plan_free(plan_of);
    tl_report_free(report);
    /* A plan of outputs alone, without a title: called after its file. */
    static const char alone[] =
        "tinyladder: plan 1\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\noutputs: {o: {pin: L30, lamp: "
        "1.9 V .. 2.2 V, series: 470 ohm ±5 %}}\n";
    scratch_file("lamp.plan.yaml", alone, strlen(alone));
    static const char *const verbs[] = {"check", "read", "pins"};
    for (size_t i = 0; i < ROWS(verbs); i++) {
        run_result r = run_command(verbs[i], scratch_path("lamp.plan.yaml"), NULL);
        CHECK_ROW(verbs[i], r.status == 0 && r.err[0] == '\0' && (i > 1 || strstr(r.out, "lamp") != NULL));
        run_free(&r);
    }
}

CU_TestInfo key_tests[] = {
    {"what is made of the keys is fresh", what_is_made_of_the_keys_is_fresh},
    {"files fit their schemas", files_fit_their_schemas},
    {"every key is read", every_key_is_read},
    {"every kind can be read", every_kind_can_be_read},
    {"starters are files", starters_are_files},
    {"every error is told in one run", every_error_is_told_in_one_run},
    {"sections of both files join", sections_of_both_files_join},
    CU_TEST_INFO_NULL,
};
