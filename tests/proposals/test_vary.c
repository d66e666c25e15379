/* SPDX-License-Identifier: MIT */
/* `check --vary` and `read --vary` say what the same plan says that was edited by hand. */
#include "support.h"
#include <jansson.h>
#include <math.h>
#include <stdio.h>
#include <string.h>

/* What is varied; the same change by sed, in which file; a signal that it moves, and its figure in `check`.
 */
static const struct {
    const char *wish, *file, *sed, *signal, *figure, *key;
} rows[] = {
    {"house-battery.divider.lower=10k", "fernhill.plan.yaml",
     "s/upper: 47k, lower: 12k/upper: 47k, lower: 10k/", "house-battery", "at the pin, highest", "high_v"},
    {"house-battery.filter.capacitor=1n", "fernhill.plan.yaml", "s/capacitor: 220n/capacitor: 1n/",
     "house-battery", "settling error", "settling_counts"},
    {"shared.paddle-top.series=2k", "fernhill.plan.yaml",
     "s/{from: logic, series: 1k}/{from: logic, series: 2k}/", "paddle-x", "at the pin, highest", "high_v"},
    {"battery.voltage=9 V .. 14.8 V", "fernhill.plan.yaml",
     "s/battery: {voltage: 10.5 V/battery: {voltage: 9 V/", "house-battery", "at the pin, lowest", "low_v"},
    {"logic=3.3 V ±5 %", "lapwing.board.yaml", "s/^  logic: .*/  logic: 3.3 V ±5 %/", "twilight",
     "at the pin, highest", "high_v"},
    {"logic=3.4 V", "lapwing.board.yaml", "s/^  logic: .*/  logic: 3.4 V ±2 %/", "twilight",
     "at the pin, highest", "high_v"}, /* the stated tolerance stays, */
    {"logic=3.4 V ±0 %", "lapwing.board.yaml", "s/^  logic: .*/  logic: 3.4 V ±0 %/", "twilight",
     "at the pin, highest", "high_v"}, /* but for one that is typed */
    {"main.bits=10", "lapwing.board.yaml", "s/^    bits: 12/    bits: 10/", "twilight", "settling error",
     "settling_counts"},
    {"twilight.acquisition=30 us", "fernhill.plan.yaml",
     "s/^    pin: L7$/    pin: L7\\n    acquisition: 30 us/", "twilight", "acquisition", "acquisition_s"},
};

static json_t *answer_of(const char *line, int *status)
{
    run_result r = run_program((const char *const[]){"sh", "-c", line, NULL}, TL_SOURCE);
    json_t *o = json_loads(r.out, 0, NULL);
    *status = r.status;
    run_free(&r);
    return o;
}

static double varied(const json_t *answer, const char *signal, const char *figure, size_t column)
{
    char name[160];
    size_t i;
    json_t *f;
    snprintf(name, sizeof name, "%s, %s", signal, figure);
    json_array_foreach(json_object_get(answer, "figures"), i, f)
    {
        if (strcmp(json_string_value(json_object_get(f, "name")), name) == 0)
            return json_number_value(json_array_get(json_object_get(f, "values"), column));
    }
    return NAN;
}

static double checked(const json_t *answer, const char *signal, const char *key)
{
    size_t i;
    json_t *w;
    json_array_foreach(json_object_get(answer, "worst_cases"), i, w)
    {
        if (strcmp(json_string_value(json_object_get(w, "signal")), signal) == 0)
            return json_number_value(json_object_get(w, key));
    }
    return NAN;
}

static void varied_is_edited(void)
{
    for (size_t i = 0; i < ROWS(rows); i++) {
        char line[1200];
        int status = 0;
        snprintf(line, sizeof line, TL_BUILD "/tinyladder check demo/fernhill.plan.yaml --json --vary '%s'",
                 rows[i].wish);
        json_t *with = answer_of(line, &status);
        snprintf(line, sizeof line,
                 "d='" TL_SCRATCH
                 "/vary'; rm -rf \"$d\"; cp -r demo \"$d\" && sed -i '%s' \"$d/%s\" && ! cmp -s "
                 "\"$d/%s\" 'demo/%s' && " TL_BUILD "/tinyladder check \"$d/fernhill.plan.yaml\" --json",
                 rows[i].sed, rows[i].file, rows[i].file, rows[i].file);
        json_t *edited = answer_of(line, &status);
        json_t *plain = answer_of(TL_BUILD "/tinyladder check demo/fernhill.plan.yaml --json", &status);
        const double now = varied(with, rows[i].signal, rows[i].figure, 0),
                     then = varied(with, rows[i].signal, rows[i].figure, 1),
                     by_hand = checked(edited, rows[i].signal, rows[i].key),
                     before = checked(plain, rows[i].signal, rows[i].key);
        CHECK_ROW(rows[i].wish, fabs(by_hand - before) > 1e-9 * fabs(before));
        CHECK_ROW(rows[i].wish, near(now, before, 1e-9) && near(then, by_hand, 1e-9));
        /* A finding that comes is one that the edited plan has more of, one that goes has fewer. */
        size_t n;
        json_t *f;
        json_array_foreach(json_object_get(with, "findings"), n, f)
        {
            const json_t *severities = json_object_get(f, "severities");
            const bool before_too = json_is_string(json_array_get(severities, 0)),
                       after_too = json_is_string(json_array_get(severities, 1));
            int counts[2] = {0, 0};
            const json_t *reports[2] = {plain, edited};
            for (int k = 0; k < 2; k++) {
                size_t m;
                json_t *g;
                json_array_foreach(json_object_get(reports[k], "findings"), m, g) counts[k] +=
                    strcmp(json_string_value(json_object_get(g, "slug")),
                           json_string_value(json_object_get(f, "slug"))) == 0;
            }
            CHECK_ROW(rows[i].wish, before_too == after_too || (counts[1] > counts[0]) == after_too);
        }
        json_decref(with);
        json_decref(edited);
        json_decref(plain);
    }
}

/* The same of a reading: the bench of the varied plan is that of the edited one. */
static void readings_vary(void)
{
    for (size_t i = 0; i < ROWS(rows); i++) {
        char line[1200];
        int status = 0;
        snprintf(line, sizeof line,
                 TL_BUILD "/tinyladder read demo/fernhill.plan.yaml %s --json --seed 7 --vary '%s'",
                 rows[i].signal, rows[i].wish);
        json_t *with = answer_of(line, &status);
        CHECK_ROW(rows[i].wish, status == 0 && json_array_size(json_object_get(with, "readings")) == 2);
        snprintf(line, sizeof line,
                 "d='" TL_SCRATCH
                 "/vary'; rm -rf \"$d\"; cp -r demo \"$d\" && sed -i '%s' \"$d/%s\" && " TL_BUILD
                 "/tinyladder read \"$d/fernhill.plan.yaml\" %s --json --seed 7",
                 rows[i].sed, rows[i].file, rows[i].signal);
        json_t *edited = answer_of(line, &status);
        CHECK_ROW(rows[i].wish, json_equal(json_array_get(json_object_get(with, "readings"), 1),
                                           json_object_get(edited, "readings")));
        json_decref(with);
        json_decref(edited);
    }
}

static void what_cannot_be_varied_is_told(void)
{
    static const struct {
        const char *wish, *says;
        int status;
    } wrong[] = {
        {"house-battery.divider.lower", "expected a path and its values", 2},
        {"=10k", "expected a path and its values", 2},
        {"house-battery.divider.lower=", "expected values", 2},
        {"house-battery.divider=10k", "no single value; it has: upper, lower", 2},
        {"house-battery.dividor.lower=10k", "'house-battery' has no 'dividor'", 2},
        {"house-batery.divider.lower=10k", "called 'house-batery'", 2},
        {"house-battery..lower=10k", "called 'house-battery..lower'", 2},
        {"house-battery.divider.lower=1,2,3,4,5,6,7,8,9", "at most 8 values", 2},
        {"house-battery.divider.lower=10k,banana", "expected a resistance", 3},
        {"house-battery.divider.lowr=10k", "did you mean 'lower'", 3},
    };
    for (size_t i = 0; i < ROWS(wrong); i++) {
        for (int read = 0; read < 2; read++) {
            run_result r = run_command(read ? "read" : "check", "demo/fernhill.plan.yaml", "--vary",
                                       wrong[i].wish, NULL);
            CHECK_ROW(wrong[i].wish, r.status == wrong[i].status && strstr(r.err, wrong[i].says) != NULL);
            run_free(&r);
        }
    }
    run_result r =
        run_command("check", "demo/fernhill.plan.yaml", "--vary", "house-battery.divider.lower=47k,1k", NULL);
    CU_ASSERT(r.status == 0 && strstr(r.out, "over-limit, house-battery") != NULL);
    run_free(&r);
    r = run_command("check", "demo/fernhill.plan.yaml", "--vary", "house-battery.divider.lower=47k", NULL);
    CU_ASSERT(r.status == 1); /* no value leaves it without an error */
    run_free(&r);
}

CU_TestInfo vary_tests[] = {
    {"varied is edited", varied_is_edited},
    {"readings vary", readings_vary},
    {"what cannot be varied is told", what_cannot_be_varied_is_told},
    CU_TEST_INFO_NULL,
};
