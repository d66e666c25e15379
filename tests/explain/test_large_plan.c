/* SPDX-License-Identifier: MIT */
/* Of a large plan only what is near what was seen is tried, and stands on the bench: what is left out changes
 * nothing. */
#include "bench/part_of_plan.h"
#include "elaborate/circuit_struct.h"
#include "explain/near.h"
#include "support.h"
#include "tinyladder/bench.h"
#include <jansson.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>

enum { OF_SIGNAL = 104, A_MUX = 8 };

/* So many signals: dividers of a battery and knobs, eight to a multiplexer, all of them on the same select
 * lines. */
static tl_circuit *large_plan(int signals, tl_report *report)
{
    static char text[40000], board[2500];
    int at = snprintf(
        board, sizeof board,
        "tinyladder: board 1\ntitle: t\nsupplies: {logic: 3.3 V ±2 %%}\nevery-pin: {supply: logic, "
        "limits: -0.3 V .. rail + 0.3 V, injection: 1 mA, leakage: ±50 nA, capacitance: 7 pF, vil: 0.3 "
        "rail, vih: 0.7 rail, vol: 0.4 V, voh: rail - 0.4 V, drives: 4 mA, current: 12 mA}\n"
        "converters:\n  main: {bits: 12, steps: half, word: {align: right, in: 16}, references: {logic: "
        "logic}, sampling: {capacitor: 12 pF, "
        "switch: 1k5, starts-from: last}, acquisition: 10 us, conversion: 1 us}\n"
        "pins:\n  A0 .. A12: {channel: 0 .. 12}\n  D0 .. D2: {}\n");
    CU_ASSERT_FATAL(at > 0 && at < (int)sizeof board);
    (void)scratch_file("near.board.yaml", board, strlen(board));
    at = snprintf(text, sizeof text,
                  "tinyladder: plan 1\ntitle: t\nboard: near.board.yaml\nsupplies: {battery: 10.5 V .. "
                  "14.8 V}\nmuxes:\n");
    for (int m = 0; m < signals / A_MUX; m++)
        at += snprintf(
            text + at, sizeof text - (size_t)at,
            "  m%d: {part: %s/demo/redshank.mux.yaml, supply: logic, select: [D0, D1, D2], enable: ground, "
            "common: A%d, dwell: 20 us}\n",
            m, TL_SOURCE, m);
    at += snprintf(text + at, sizeof text - (size_t)at, "signals:\n");
    for (int i = 0; i < signals; i++)
        at += snprintf(
            text + at, sizeof text - (size_t)at,
            i % 2 == 0 ? "  s%d: {source: {rail: battery}, stages: [divider: {upper: 47k ±1 %%, lower: 10k "
                         "±1 %%}, filter: {series: 1k, capacitor: 220n}], pin: m%d.%d}\n"
                       : "  s%d: {source: {potentiometer: 10k ±20 %%, top: logic}, pin: m%d.%d}\n",
            i, i / A_MUX, i % A_MUX);
    tl_plan *plan = tl_plan_load(scratch_file("near.plan.yaml", text, strlen(text)), report);
    CU_ASSERT_FATAL(plan != NULL);
    return tl_circuit_new(plan);
}

static void large_plan_free(tl_circuit *circuit)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    tl_circuit_free(circuit);
    tl_plan_free((tl_plan *)plan);
}

/* One signal that was seen. */
static observed seen_of(int signal)
{
    observed seen = {.every = 0.1};
    (void)situation_signal(observed_add(&seen), signal);
    return seen;
}

static tl_scene *scene_with(tl_circuit *circuit, const char *line)
{
    tl_report *report = tl_report_new();
    tl_scene *scene = tl_scene_new();
    const bool good = tl_scene_add_fault(scene, line, circuit, report);
    tl_report_free(report);
    if (good)
        return scene;
    tl_scene_free(scene);
    return NULL;
}

static double count_of(tl_bench *bench, int signal)
{
    tl_bench_reading r;
    tl_bench_go_to(bench, 1);
    (void)tl_bench_read_plain(bench, signal, &r);
    return r.status != TL_OK ? -1 : r.undriven ? -2 : r.high ? 1e6 : (double)r.count;
}

static bool is_in(const tl_fault_list *list, const char *line)
{
    for (int i = 0; i < list->count; i++) {
        if (strcmp(list->line[i], line) == 0)
            return true;
    }
    return false;
}

/* On a bench of the whole plan, what is not near changes nothing: no count by more than the one that the
 * charge of another channel may make. */
static int far_faults_are_harmless(const char *path, tl_circuit *circuit, int signal)
{
    bench_parts parts;
    int tried = 0;
    const int every = getenv("TL_LONG") != NULL ? 1 : 7 * THINNED;
    observed seen = seen_of(signal);
    tl_fault_list near = faults_near(circuit, &seen, &parts),
                  all = tl_faults_of_plan(tl_circuit_plan(circuit));
    tl_bench *sound = tl_bench_new(circuit, NULL, 5);
    const double is = count_of(sound, signal);
    tl_bench_free(sound);
    CU_ASSERT(near.count > 0 && near.count <= all.count);
    for (int i = signal % every; i < all.count; i += every) {
        tl_scene *scene = is_in(&near, all.line[i]) ? NULL : scene_with(circuit, all.line[i]);
        if (scene == NULL)
            continue;
        tl_bench *bench = tl_bench_new(circuit, scene, 5);
        const double with = count_of(bench, signal);
        CHECK_ROW(path, fabs(with - is) <= 1);
        if (fabs(with - is) > 1)
            printf("\n  %s: signal %d, %s: %g instead of %g\n", path, signal, all.line[i], with, is);
        tried++;
        tl_bench_free(bench);
        tl_scene_free(scene);
    }
    tl_fault_list_free(&near);
    tl_fault_list_free(&all);
    observed_free(&seen);
    bench_parts_free(&parts);
    return tried;
}

static void what_is_far_changes_no_count(void)
{
    static const char *const paths[] = {
        TL_SOURCE "/demo/cold-frame.plan.yaml", TL_SOURCE "/demo/desk.plan.yaml",
        TL_SOURCE "/demo/fernhill.plan.yaml", TL_SOURCE "/demo/sound/half-a-mux.plan.yaml"};
    int tried = 0;
    for (size_t i = 0; i < ROWS(paths); i++) {
        tl_report *report = tl_report_new();
        tl_plan *plan = tl_plan_load(paths[i], report);
        CU_ASSERT_FATAL(plan != NULL);
        tl_circuit *circuit = tl_circuit_new(plan);
        for (int s = 0; s < plan->signal_count; s += 2)
            tried += far_faults_are_harmless(paths[i], circuit, s);
        tl_circuit_free(circuit);
        tl_plan_free(plan);
        tl_report_free(report);
    }
    printf("  %d faults ", tried);
    CU_ASSERT(tried > 600 / THINNED);
}

static void ohms_of(tl_bench *bench, double ohms[2])
{
    tl_net *net = tl_circuit_net(tl_bench_circuit(bench));
    const int pairs[2][2] = {{tl_net_find_node(net, "s40.filter"), TL_NET_GROUND},
                             {tl_net_find_node(net, "battery"), TL_NET_GROUND}};
    tl_bench_ohms(bench, pairs, 2, ohms);
}

/* The bench of a part of the plan, and the bench of all of it. */
static void a_part_shows_what_the_whole_shows(void)
{
    enum { SEEN = 40 };
    static const char *const lines[] = {"{open: s40.divider.lower}",
                                        "{wrong: s40.divider.upper, value: 470k}",
                                        "{leak: s40.pin, to: ground, ohms: 10k}",
                                        "{short: s42.pin, to: logic}",
                                        "{stuck: D1, at: high}",
                                        "{swap: [s40.pin, s41.pin]}",
                                        "{open: m5.common}",
                                        "{missing: logic}",
                                        "{wrong: battery, value: 9 V}",
                                        "{noise: s40.pin, volts: 100 V, frequency: 50 Hz}"};
    tl_report *report = tl_report_new();
    tl_report_allow_outside(report, true);
    tl_circuit *circuit = large_plan(OF_SIGNAL, report);
    bench_parts parts;
    int on = 0;
    observed seen = seen_of(SEEN);
    tl_fault_list near = faults_near(circuit, &seen, &parts),
                  all = tl_faults_of_plan(tl_circuit_plan(circuit));
    CU_ASSERT_FATAL(parts.wired != NULL);
    for (int i = 0; i < OF_SIGNAL; i++)
        on += parts.wired[i];
    CU_ASSERT(on >= A_MUX && on <= 3 * A_MUX && parts.wired[SEEN] && parts.wired[SEEN + 7]);
    for (size_t i = 0; i < ROWS(lines); i++) {
        double volts[2], ohms[2][2], counts[2];
        tl_scene *scene = scene_with(circuit, lines[i]);
        CU_ASSERT_FATAL(scene != NULL);
        CHECK_ROW(lines[i], is_in(&near, lines[i]) == is_in(&all, lines[i]));
        for (int k = 0; k < 2; k++) {
            tl_bench *bench = bench_new_of(circuit, scene, 5, k == 0 ? NULL : parts.wired);
            ohms_of(bench, ohms[k]);
            counts[k] = count_of(bench, SEEN);
            CHECK_ROW(lines[i], tl_bench_node_volts(bench, "s40.filter", &volts[k]) == TL_NET_SOLVED);
            tl_bench_free(bench);
        }
        CHECK_ROW(lines[i], counts[0] == counts[1] && fabs(volts[0] - volts[1]) < 1e-6);
        CHECK_ROW(lines[i], ohms[0][0] == ohms[1][0] && ohms[0][1] == ohms[1][1]);
        tl_scene_free(scene);
    }
    tl_fault_list_free(&near);
    tl_fault_list_free(&all);
    observed_free(&seen);
    bench_parts_free(&parts);
    large_plan_free(circuit);
    tl_report_free(report);
}

/* Through the command: what was done to one of 104 signals is among the first. */
static void a_large_plan_is_explained(void)
{
    static const struct {
        const char *seen, *kind, *part;
    } rows[] = {{"s40 --saw '2600 2601 2600' --meter s40.filter=2.1V --source 12.2V", "sound", ""},
                {"s40 --saw '0 0 0' --meter s40.divider.upper=0V --source 12.2V", "open", "s40.source"},
                {"s41 --saw '4095' --source 30%", "short-to-logic", "s41.pin"},
                {"s40 --saw '315' --ohms s40.divider.lower,ground=979ohm --source 12.2V", "tenth",
                 "s40.divider.lower"}};
    tl_report *report = tl_report_new();
    tl_report_allow_outside(report, true);
    tl_circuit *circuit = large_plan(OF_SIGNAL, report);
    for (size_t i = 0; i < ROWS(rows); i++) {
        char line[600];
        bool found = false;
        snprintf(line, sizeof line, "%s/tinyladder --outside explain near.plan.yaml %s --json", TL_BUILD,
                 rows[i].seen);
        run_result r = run_program((const char *const[]){"/bin/sh", "-c", line, NULL}, TL_SCRATCH);
        json_t *object = json_loads(r.out, 0, NULL), *cause;
        size_t k;
        json_array_foreach(json_object_get(object, "causes"), k, cause) found =
            found || (k < 3 && strcmp(json_string_value(json_object_get(cause, "kind")), rows[i].kind) == 0 &&
                      strcmp(json_string_value(json_object_get(cause, "part")), rows[i].part) == 0);
        CHECK_ROW(rows[i].seen, found);
        if (!found)
            printf("\n  %s: %.1500s%s\n", rows[i].seen, r.out, r.err);
        json_decref(object);
        run_free(&r);
    }
    large_plan_free(circuit);
    tl_report_free(report);
}

/* What a bench of the whole plan shows of all of its signals, as a file; with what is said of the sources,
 * and with a fault. */
static void write_all_seen(tl_circuit *circuit, const char *fault)
{
    static char text[20000];
    const tl_plan *plan = tl_circuit_plan(circuit);
    tl_scene *scene = fault != NULL ? scene_with(circuit, fault) : NULL;
    tl_bench *bench = tl_bench_new(circuit, scene, 31);
    int at = snprintf(text, sizeof text, "tinyladder: observed 1\nseen:\n- sources:\n    s0: 12.65 V\n");
    for (int i = 1; i < plan->signal_count; i += 2)
        at += snprintf(text + at, sizeof text - (size_t)at, "    s%d: 50 %%\n", i);
    at += snprintf(text + at, sizeof text - (size_t)at, "  counts:\n");
    for (int i = 0; i < plan->signal_count; i++) {
        tl_bench_reading r;
        tl_bench_go_to(bench, 1 + 0.001 * i);
        (void)tl_bench_read_plain(bench, i, &r);
        CU_ASSERT(r.status == TL_OK);
        at += snprintf(text + at, sizeof text - (size_t)at, "    s%d: [%ld]\n", i, r.count);
    }
    CU_ASSERT_FATAL(at < (int)sizeof text);
    (void)scratch_file("all.observed.yaml", text, strlen(text));
    tl_bench_free(bench);
    tl_scene_free(scene);
}

/* One of forty signals, or of a hundred, has a fault, and all of them are seen: the others, each a little off
 * as parts are, do not outvote it. Of a hundred those that are right need not be compared. */
static void one_is_found_among_all(void)
{
    static const struct {
        int signals;
        const char *fault, *kind, *part;
    } rows[] = {{40, "{open: s20.source}", "open", "s20.source"},
                {OF_SIGNAL, "{wrong: s6.divider.lower, value: 1k}", "tenth", "s6.divider.lower"},
                {40, "{stuck: D0, at: high}", "stuck-high", "m0.select-0"},
                {OF_SIGNAL, NULL, "sound", ""}};
    tl_report *report = tl_report_new();
    tl_report_allow_outside(report, true);
    for (size_t i = 0; i < ROWS(rows); i += THINNED) {
        bool found = false;
        char row[200];
        tl_circuit *circuit = large_plan(rows[i].signals, report);
        write_all_seen(circuit, rows[i].fault);
        run_result r =
            run_program((const char *const[]){"/bin/sh", "-c",
                                              TL_BUILD "/tinyladder --outside explain near.plan.yaml "
                                                       "--observed all.observed.yaml --json",
                                              NULL},
                        TL_SCRATCH);
        json_t *object = json_loads(r.out, 0, NULL), *cause, *causes = json_object_get(object, "causes");
        size_t k;
        json_array_foreach(causes, k, cause) found =
            found || (k < 2 && strcmp(json_string_value(json_object_get(cause, "kind")), rows[i].kind) == 0 &&
                      strcmp(json_string_value(json_object_get(cause, "part")), rows[i].part) == 0);
        snprintf(row, sizeof row, "%d signals, %s", rows[i].signals, rows[i].fault);
        CHECK_ROW(row, found);
        for (k = 0; k < 4 && !found; k++) {
            cause = json_array_get(causes, k);
            printf("\n  %s: %s, %g", row, json_string_value(json_object_get(cause, "cause")),
                   json_number_value(json_object_get(cause, "probability")));
        }
        const size_t compared = json_array_size(json_object_get(object, "seen"));
        CHECK_ROW(row, json_integer_value(json_object_get(object, "signals_seen")) == rows[i].signals);
        CHECK_ROW(row, rows[i].signals == 40 ? compared == 40 : compared >= 40 && compared < 50);
        CHECK_ROW(row, json_is_true(json_object_get(object, "within")) == (rows[i].fault == NULL));
        json_decref(object);
        run_free(&r);
        large_plan_free(circuit);
    }
    tl_report_free(report);
}

static int index_of(const tl_plan *plan, const char *name)
{
    int index = 0;
    CU_ASSERT_FATAL(tl_plan_signal(plan, name, &index) != NULL);
    return index;
}

/* A voltmeter's network is on the bench, though an ohmmeter was said before it. */
static void meters_are_on_the_bench(void)
{
    tl_report *report = tl_report_new();
    tl_plan *plan = tl_plan_load(TL_SOURCE "/demo/fernhill.plan.yaml", report);
    CU_ASSERT_FATAL(plan != NULL);
    tl_circuit *circuit = tl_circuit_new(plan);
    observed seen = {.every = 0.1};
    seen_meter ohms = {.other = TL_NET_GROUND}, volts = {.other = TL_NET_NONE};
    ohms.node = tl_net_find_node(tl_circuit_net(circuit), "house-battery.divider");
    volts.node = tl_net_find_node(tl_circuit_net(circuit), "mirror-temperature.pin");
    CU_ASSERT_FATAL(ohms.node != TL_NET_NONE && volts.node != TL_NET_NONE);
    observed_add_meter(&seen, 0, &ohms);
    observed_add_meter(&seen, 0, &volts);
    bool *metered = signals_of_meters(circuit, &seen);
    CU_ASSERT(metered[index_of(plan, "house-battery")]);
    CU_ASSERT(metered[index_of(plan, "mirror-temperature")]);
    free(metered);
    observed_free(&seen);
    tl_circuit_free(circuit);
    tl_plan_free(plan);
    tl_report_free(report);
}

/* More than takes some seconds is refused, with its limit. */
static void too_much_is_refused(void)
{
    static const struct {
        const char *line, *said;
    } rows[] = {{"explain near.plan.yaml --mystery 3",
                 "--mystery: practise with a plan of 60 signals at most: this one has 104"},
                {"explain near.plan.yaml --observed many.observed.yaml",
                 "154 situations of a plan of 104 signals: 153 at most"},
                {"explain near.plan.yaml --observed all.observed.yaml",
                 "2080 signals were seen, over all situations: 2000 at most"},
                {"explain near.plan.yaml --counts torn.txt --source s0=12V", "no signal came from torn.txt"}};
    static char text[60000];
    tl_report *report = tl_report_new();
    tl_report_allow_outside(report, true);
    tl_circuit *circuit = large_plan(OF_SIGNAL, report);
    int at = snprintf(text, sizeof text, "tinyladder: observed 1\nseen:\n");
    for (int k = 0; k < 154; k++)
        at += snprintf(text + at, sizeof text - (size_t)at, "- counts: {s0: %d}\n", 2700 + k % 8);
    (void)scratch_file("many.observed.yaml", text, (size_t)at);
    at = snprintf(text, sizeof text, "tinyladder: observed 1\nseen:\n");
    for (int k = 0; k < 20; k++) {
        at += snprintf(text + at, sizeof text - (size_t)at, "- counts:\n");
        for (int i = 0; i < OF_SIGNAL; i++)
            at += snprintf(text + at, sizeof text - (size_t)at, "    s%d: 2048\n", i);
    }
    CU_ASSERT_FATAL(at < (int)sizeof text);
    (void)scratch_file("all.observed.yaml", text, (size_t)at);
    (void)scratch_file("torn.txt", "{", 1);
    for (size_t i = 0; i < ROWS(rows); i++) {
        char line[300];
        snprintf(line, sizeof line, TL_BUILD "/tinyladder --outside %s 2>&1", rows[i].line);
        run_result r = run_program((const char *const[]){"/bin/sh", "-c", line, NULL}, TL_SCRATCH);
        CHECK_ROW(rows[i].line, r.status == (i < 3 ? 2 : 4) && strstr(r.out, rows[i].said) != NULL);
        if (strstr(r.out, rows[i].said) == NULL)
            printf("\n  %s: %d %.600s\n", rows[i].line, r.status, r.out);
        run_free(&r);
    }
    large_plan_free(circuit);
    tl_report_free(report);
}

CU_TestInfo large_plan_tests[] = {
    {"meters are on the bench", meters_are_on_the_bench},
    {"too much is refused", too_much_is_refused},
    {"one is found among all", one_is_found_among_all},
    {"what is far changes no count", what_is_far_changes_no_count},
    {"a part shows what the whole shows", a_part_shows_what_the_whole_shows},
    {"a large plan is explained", a_large_plan_is_explained},
    CU_TEST_INFO_NULL,
};
