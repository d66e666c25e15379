/* SPDX-License-Identifier: MIT */
/* Fixes: what is called one takes its finding away, and stands where a person would write it. */
#include "support.h"
#include "tinyladder/design/proposals.h"
#include <jansson.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>

#define HEAD "tinyladder: plan 1\ntitle: t # kept\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\n"

/* How many findings of each kind a file has, as the command counts them. */
typedef struct {
    char slug[40][40];
    int count, errors, proven;
} tally;

static tally tally_of(const char *path)
{
    tally t = {.count = 0};
    run_result r = run_command("check", path, "--json", NULL);
    json_t *o = json_loads(r.out, 0, NULL);
    const json_t *findings = json_object_get(o, "findings");
    t.errors = (int)json_integer_value(json_object_get(o, "errors")) +
               (int)json_integer_value(json_object_get(o, "warnings"));
    for (size_t i = 0; i < json_array_size(findings) && t.count < 40; i++) {
        const json_t *f = json_array_get(findings, i);
        t.proven += json_is_true(json_object_get(f, "fix_is_proven"));
        snprintf(t.slug[t.count++], sizeof t.slug[0], "%s", json_string_value(json_object_get(f, "slug")));
    }
    json_decref(o);
    run_free(&r);
    return t;
}

static int count_in(const tally *t, const char *slug)
{
    int count = 0;
    for (int i = 0; i < t->count; i++)
        count += strcmp(t->slug[i], slug) == 0;
    return count;
}

/* Every faulty plan of the demo, in a copy: what is called a fix takes its finding away, brings nothing that
 * was not there, and once all are in there is none left. Asked of the command, which knows nothing of the
 * trial before it. */
static void what_mends_mends(void)
{
    run_result r = run_program((const char *const[]){"/bin/sh", "-c",
                                                     "rm -rf mend && mkdir mend && cp -r '" TL_SOURCE
                                                     "/demo' mend/ && ls mend/demo/faulty/*.plan.yaml",
                                                     NULL},
                               TL_SCRATCH);
    char *save = NULL;
    int plans = 0, fixes = 0;
    for (char *name = strtok_r(r.out, "\n", &save); name != NULL; name = strtok_r(NULL, "\n", &save)) {
        if (plans++ % THINNED != 0)
            continue;
        char path[700];
        snprintf(path, sizeof path, TL_SCRATCH "/%.100s", name);
        const tally before = tally_of(path);
        run_result m = run_command("check", path, "--fix", "--brief", NULL);
        const tally after = tally_of(path);
        int mended = 0;
        for (const char *at = m.err; (at = strstr(at, ": fixed: ")) != NULL; at++)
            mended++;
        CHECK_ROW(name, mended >= (before.proven > 0) && after.proven == 0);
        CHECK_ROW(name, mended == 0 ? after.count == before.count
                                    : after.count - count_in(&after, "unused-supply") < before.count);
        CHECK_ROW(name, after.errors <= before.errors);
        for (int i = 0; i < after.count; i++)
            CHECK_ROW(after.slug[i], strcmp(after.slug[i], "unused-supply") == 0 ||
                                         count_in(&after, after.slug[i]) <= count_in(&before, after.slug[i]));
        fixes += mended;
        run_free(&m);
    }
    run_free(&r);
    CU_ASSERT(plans > 65 && fixes >= 24 / THINNED);
}

/* Two commands, one answer: the values that a fix gives to a part are the first choice that `size` has for
 * it. */
static void a_fix_is_the_first_choice(void)
{
    static const struct {
        const char *plan, *part;
    } rows[] = {
        {"bus-pull", "dome.pull"},          {"over-drive", "ready.series"},
        {"total-current", "bar.series"},    {"weak-driver", "rain-plate.pull"},
        {"back-feed", "interlock.divider"}, {"level-not-reached", "open-button.guard"},
    };
    for (size_t i = 0; i < sizeof rows / sizeof rows[0]; i++) {
        char path[200], start[200], line[200] = "";
        snprintf(path, sizeof path, TL_SOURCE "/demo/faulty/%s.plan.yaml", rows[i].plan);
        run_result fixed = run_command("check", path, NULL),
                   sized = run_command("size", path, rows[i].part, NULL);
        snprintf(start, sizeof start, "fix: change %s to ", rows[i].part);
        const char *fix = strstr(fixed.out, start), *first = strstr(sized.out, "\n  1  ");
        if (first != NULL)
            snprintf(line, sizeof line, "%.*s", (int)strcspn(first + 1, "\n"), first + 1);
        int values = 0;
        for (const char *at = fix; at != NULL && (at = strpbrk(at, "0123456789")) < strchr(fix, '\n');) {
            char value[40];
            snprintf(value, sizeof value, " %.*s ", (int)strcspn(at, ",\n"), at);
            CHECK_ROW(rows[i].part, strstr(line, value) != NULL);
            at += strcspn(at, ",\n");
            values++;
        }
        CHECK_ROW(rows[i].part, values == (strstr(rows[i].part, "divider") != NULL ? 2 : 1));
        run_free(&fixed);
        run_free(&sized);
    }
}

/* Comments and layout stay; what a rule would write stands where a person would write it. */
static void mends_as_a_person_would(void)
{
    static const struct {
        const char *name, *before, *after;
    } rows[] = {
        {"a pull for a chain without stages", "  b: {source: {contact: ground}, pin: L20} # the bell\n",
         "  b: {source: {contact: ground}, pin: L20, stages: [pull: {up: 10k ±1 %, to: logic}]} # the "
         "bell\n"},
        {"a pull behind a guard, in a block",
         "  b:\n    source: {contact: ground}\n    stages:\n      - guard: 1k ±5 %   # short\n    pin: L20\n",
         "  b:\n    source: {contact: ground}\n    stages:\n      - guard: 1k ±5 %\n      - pull: {up: 10k "
         "±1 %, to: "
         "logic}   # short\n    pin: L20\n"},
        {"a divider for a knob of 12 V",
         "  b: {source: {voltage: 0 V .. 12 V}, pin: L4, reading: {unit: V}}\n", NULL},
        /* What is there is changed, with its own tolerance; nothing is put behind it. */
        {"other legs for a divider that is wrong",
         "  b: {source: {voltage: 0 V .. 30 V}, stages: [divider: {upper: 33k ±2 %, lower: 10k ±2 %}], pin: "
         "L4, reading: {unit: V}}\n",
         "  b: {source: {voltage: 0 V .. 30 V}, stages: [divider: {upper: 100k ±2 %, lower: 10k ±2 %}], pin: "
         "L4, reading: {unit: V}}\n"},
        {"another partner",
         "  b: {source: {resistance: 10k .. 20k, to: logic}, stages: [partner: {lower: 47k ±5 %}], pin: L4, "
         "reference: inner, reading: {of: pin, unit: V}}\n",
         "  b: {source: {resistance: 10k .. 20k, to: logic}, stages: [partner: {lower: 15k ±5 %}], pin: L4, "
         "reference: inner, reading: {of: pin, unit: V}}\n"},
        /* Read against the rail that it is a share of, no other parts; volts at the pin are no share. */
        {"the reference that a thermistor hangs on",
         "  b: {source: {resistance: 10k ±1 %, at: 25 degC, beta: 3950 K, over: 0 .. 35 degC}, stages: "
         "[partner: {upper: 10k ±1 %, to: logic}], pin: L4, reference: inner, reading: {decimals: 0}}\n",
         "  b: {source: {resistance: 10k ±1 %, at: 25 degC, beta: 3950 K, over: 0 .. 35 degC}, stages: "
         "[partner: {upper: 10k ±1 %, to: logic}], pin: L4, reference: logic, reading: {decimals: 0}}\n"},
        {"the reference that a track hangs on",
         "  b: {source: {potentiometer: 10k ±10 %, top: logic}, pin: L4, reference: inner, reading: {unit: "
         "'%', decimals: 0}}\n",
         "  b: {source: {potentiometer: 10k ±10 %, top: logic}, pin: L4, reference: logic, reading: {unit: "
         "'%', decimals: 0}}\n"},
        {"the rail that a track is read against",
         "  b: {source: {potentiometer: 10k ±10 %, top: v5}, pin: L4, reading: {unit: '%', decimals: 0}}\n"
         "supplies: {v5: 5 V ±3 %}\n",
         "  b: {source: {potentiometer: 10k ±10 %, top: logic}, pin: L4, reading: {unit: '%', decimals: 0}}\n"
         "supplies: {v5: 5 V ±3 %}\n"},
        {"a larger guard",
         "  b: {source: {contact: ground}, stages: [pull: {up: 10k ±5 %, to: logic}, guard: 47R ±5 %], pin: "
         "L20, driven: high}\n",
         "  b: {source: {contact: ground}, stages: [pull: {up: 10k ±5 %, to: logic}, guard: 1k ±5 %], pin: "
         "L20, driven: high}\n"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char before[1000], after[1000];
        snprintf(before, sizeof before, "%ssignals:\n%s# the end\n", HEAD, rows[i].before);
        const char *path = scratch_file("mend.plan.yaml", before, strlen(before));
        run_result shown = run_command("check", path, "--dry-run", NULL);
        char *kept = text_of(path);
        CHECK_ROW(rows[i].name, shown.status == 0 && strcmp(kept, before) == 0);
        free(kept);
        run_result m = run_command("check", path, "--fix", NULL);
        CHECK_ROW(rows[i].name, m.status == 0 && strstr(m.out, ": fixed: ") != NULL &&
                                    strstr(m.out, "0 errors, 0 warnings") != NULL);
        CHECK_ROW(rows[i].name, strncmp(shown.out, "--- ", 4) == 0 && strstr(m.out, shown.out) != NULL);
        run_free(&shown);
        run_free(&m);
        char *text = text_of(path);
        if (rows[i].after != NULL) {
            snprintf(after, sizeof after, "%ssignals:\n%s# the end\n", HEAD, rows[i].after);
            CHECK_ROW(rows[i].name, strcmp(text, after) == 0);
            if (strcmp(text, after) != 0)
                printf("\n  %s:\n%s", rows[i].name, text);
        }
        free(text);
    }
    /* What cannot be written is told, and the file is as it was. */
    const char *path = scratch_path("mend.plan.yaml");
    static const char plan[] = HEAD "signals:\n  b: {source: {contact: ground}, pin: L20}\n";
    scratch_file("mend.plan.yaml", plan, strlen(plan));
    CU_ASSERT(chmod(path, 0444) == 0);
    run_result m = run_command("check", path, "--fix", NULL);
    CU_ASSERT(m.status == 4 && strstr(m.err, "the file is unchanged") != NULL);
    run_free(&m);
    CU_ASSERT(chmod(path, 0644) == 0);
    char *text = text_of(path);
    CU_ASSERT_STRING_EQUAL(text, plan);
    free(text);
    m = run_command("check", "--strict", "demo/faulty/wetting.plan.yaml", NULL);
    CU_ASSERT(m.status == 1);
    run_free(&m);
    m = run_command("check", "demo/faulty/wetting.plan.yaml", NULL);
    CU_ASSERT(m.status == 0);
    run_free(&m);
}

/* A file that cannot be read again is no answer: neither that an edit mends, nor that it does not. */
static void a_lost_file_is_no_answer(void)
{
    static const char text[] =
        HEAD "drawer: mine.drawer.yaml\nsignals:\n  b: {source: {contact: ground}, pin: L20}\n";
    static const char drawer[] =
        "tinyladder: drawer 1\nresistors: [{preferred: E12, over: 100 ohm .. 1M, tolerance: 1 %}]\n";
    const char *path = scratch_file("lost.plan.yaml", text, strlen(text));
    char plan_path[300];
    snprintf(plan_path, sizeof plan_path, "%s", path);
    scratch_file("mine.drawer.yaml", drawer, strlen(drawer));
    tl_report *report = tl_report_new();
    tl_report_allow_outside(report, true);
    tl_plan *plan = tl_plan_load(plan_path, report);
    CU_ASSERT_FATAL(plan != NULL);
    tl_circuit *circuit = tl_circuit_new(plan);
    tl_plan_check(circuit, report);
    CU_ASSERT(tl_report_count(report) > 0);
    tl_edit *edits = calloc((size_t)tl_report_count(report) + 1, sizeof *edits);
    for (int lost = 0; lost < 2; lost++) {
        if (lost == 1)
            CU_ASSERT(remove(scratch_path("mine.drawer.yaml")) == 0);
        tl_report *found = tl_mend_findings(plan, report, edits);
        CU_ASSERT((found != NULL) == (lost == 1));
        CU_ASSERT(found == NULL || tl_finding_unread(found) != NULL);
        tl_report_free(found);
        for (int i = 0; i < tl_report_count(report); i++)
            tl_edit_free(&edits[i]);
    }
    free(edits);
    tl_circuit_free(circuit);
    tl_plan_free(plan);
    tl_report_free(report);
}

/* All of a kind are mended at once, and each as it is where it is the only one. */
static void a_kind_at_once(void)
{
    static const char *const lines[] = {
        "  a%d: {source: {voltage: 0 V .. 30 V}, stages: [divider: {upper: 33k ±2 %%, lower: 10k ±2 %%}], "
        "pin: "
        "L%d, reading: {unit: V}}\n",
        "  a%d: {source: {contact: ground}, pin: L%d}\n",
        "  a%d: {source: {voltage: 0 V .. 12 V}, stages: [divider: {upper: 22k ±1 %%, lower: 10k ±1 %%}], "
        "pin: "
        "L%d, reading: {unit: V}}\n",
    };
    static const struct {
        int line, pin;
    } signals[] = {{0, 4}, {0, 5}, {2, 6}, {0, 7}, {2, 16}, {1, 20}, {1, 21}, {1, 22}};
    char whole[2000], wanted[2000];
    int used = snprintf(whole, sizeof whole, "%ssignals:\n", HEAD),
        out = snprintf(wanted, sizeof wanted, "%s", whole);
    for (size_t i = 0; i < ROWS(signals); i++) {
        char line[300], alone[800];
        snprintf(line, sizeof line, lines[signals[i].line], signals[i].pin, signals[i].pin);
        const int size = snprintf(alone, sizeof alone, "%ssignals:\n%s", HEAD, line);
        used += snprintf(whole + used, sizeof whole - (size_t)used, "%s", line);
        const char *path = scratch_file("alone.plan.yaml", alone, (size_t)size);
        run_result m = run_command("check", path, "--fix", NULL);
        char *text = text_of(path);
        CHECK_ROW(line, m.status == 0 && strcmp(text, alone) != 0);
        out += snprintf(wanted + out, sizeof wanted - (size_t)out, "%s", strstr(text, "signals:\n") + 9);
        free(text);
        run_free(&m);
    }
    const char *path = scratch_file("whole.plan.yaml", whole, (size_t)used);
    run_result m = run_command("check", path, "--fix", NULL);
    char *text = text_of(path);
    int fixes = 0;
    for (const char *at = m.out; (at = strstr(at, ": fixed: ")) != NULL; at++)
        fixes++;
    CU_ASSERT(m.status == 0 && fixes >= (int)ROWS(signals));
    CU_ASSERT_STRING_EQUAL(text, wanted);
    free(text);
    run_free(&m);
}

/* Where not all of a kind fit, as many as do: a pull of 10 kOhm draws 3.366 V / 9.9 kOhm = 0.34 mA, so that a
 * supply of 1.8 mA feeds five of seven. */
static void as_many_as_fit(void)
{
    static const char *const pins[] = {"L20", "L21", "L22", "L23", "L30", "L31", "L32"};
    char text[1000];
    run_result r = run_program((const char *const[]){"/bin/sh", "-c",
                                                     "sed 's/logic: 3.3 V ±2 %/logic: {voltage: 3.3 V ±2 %, "
                                                     "current: 1.8 mA}/' '" TL_SOURCE
                                                     "/demo/lapwing.board.yaml' >small.board.yaml",
                                                     NULL},
                               TL_SCRATCH);
    CU_ASSERT_FATAL(r.status == 0);
    run_free(&r);
    int used =
        snprintf(text, sizeof text, "tinyladder: plan 1\ntitle: t\nboard: small.board.yaml\nsignals:\n");
    for (size_t i = 0; i < ROWS(pins); i++)
        used += snprintf(text + used, sizeof text - (size_t)used,
                         "  a%zu: {source: {contact: ground}, pin: %s}\n", i, pins[i]);
    const char *path = scratch_file("few.plan.yaml", text, (size_t)used);
    run_result m = run_command("check", path, "--fix", "--brief", NULL);
    int fixes = 0, left = 0;
    for (const char *at = m.err; (at = strstr(at, ": fixed: ")) != NULL; at++)
        fixes++;
    for (const char *at = m.out; (at = strstr(at, "[floating-input]")) != NULL; at++)
        left++;
    CU_ASSERT(m.status == 1 && fixes == 5 && left == 2 && strstr(m.out, "over-budget") == NULL);
    run_free(&m);
}

/* Edits mend together only if each does: one that writes what is there leaves its finding. */
static void together_is_each(void)
{
    static const char text[] =
        HEAD "signals:\n  a: {source: {contact: ground}, pin: L20}\n  b: {source: "
             "{contact: ground}, pin: L21}\n  c: {source: {contact: ground}, pin: L22}\n";
    const char *path = scratch_file("three.plan.yaml", text, strlen(text));
    tl_report *report = tl_report_new();
    tl_plan *plan = tl_plan_load(path, report);
    CU_ASSERT_FATAL(plan != NULL);
    tl_circuit *circuit = tl_circuit_new(plan);
    tl_plan_check(circuit, report);
    const int count = tl_report_count(report);
    tl_edit *edits = calloc((size_t)count + 1, sizeof *edits);
    CU_ASSERT(tl_mend_kind(plan, report, "floating-input", edits) == NULL);
    int first = 0, found = 0;
    for (int i = count - 1; i >= 0; i--) {
        const bool of_kind = strcmp(tl_report_finding(report, i)->slug, "floating-input") == 0;
        CU_ASSERT((edits[i].text != NULL) == of_kind);
        found += of_kind;
        first = of_kind ? i : first;
    }
    CU_ASSERT_FATAL(found == 3);
    CU_ASSERT(tl_mends_together(plan, report, edits));
    char *const good = edits[first].text;
    edits[first].text = "";
    CU_ASSERT(!tl_mends_together(plan, report, edits));
    edits[first].text = good;
    for (int i = 0; i < count; i++)
        tl_edit_free(&edits[i]);
    free(edits);
    tl_circuit_free(circuit);
    tl_plan_free(plan);
    tl_report_free(report);
}

CU_TestInfo mends_tests[] = {
    {"a kind at once", a_kind_at_once},
    {"as many as fit", as_many_as_fit},
    {"together is each", together_is_each},
    {"what mends, mends", what_mends_mends},
    {"a fix is the first choice", a_fix_is_the_first_choice},
    {"mends as a person would", mends_as_a_person_would},
    {"a lost file is no answer", a_lost_file_is_no_answer},
    CU_TEST_INFO_NULL,
};
