/* SPDX-License-Identifier: MIT */
/* `tinyladder read` as people call it. */
#include "support.h"
#include <jansson.h>
#include <math.h>
#include <stdio.h>
#include <string.h>

#define PLAN "demo/fernhill.plan.yaml"
#define SCENE "demo/evening.scene.yaml"

static void answers_what_is_asked(void)
{
    static const struct {
        const char *words[8];
        int status;
        const char *out, *err;
    } rows[] = {
        {{"house-battery", "--at", "10min"}, 0, "  house-battery  L4 ", ""},
        {{"mirror-temperature", "--at", "25min"}, 0, "open wire", ""},
        {{"mirror-temperature", "--at", "31min"}, 0, "°C", ""},
        {{"keypad", "--at", "70.9s", "--times", "3", "--every", "100ms"},
         0,
         "    70.900             no button\n    71.000",
         ""},
        {{"wheel", "--at", "9s", "--times", "4", "--every", "10s"},
         0,
         "open, 484x",
         ""}, /* 29 s, every 60 ms */
        {{"house-battery", "--csv", "--mean", "64"},
         0,
         "s,signal,count,pin_v,value,unit,percent,low,high,closings,flags\n0.000",
         ""},
        {{"--meter", "wind-vane.source", "--meter-resistance", "1Mohm", "--at", "20min"},
         0,
         "load error -0.44",
         ""},
        {{"--meter", "house-battery.divider"}, 0, "handheld (10 M", ""},
        {{"--meter", "wind-vane.source", "--meter-resistance", "1Mohm"},
         0,
         "L6    1933   1.557 ",
         ""},                                                                       /* with it */
        {{"--meter", "paddle-top"}, 0, "  paddle-x       L18   1686   1.358 ", ""}, /* all on it */
        {{"rain-plate", "--meter", "paddle-top"}, 0, "  rain-plate      L1 ", ""},
        {{"--meter", "paddle-top", "--json"}, 0, "\"predicted_loaded_v\": 2.749770852", ""},
        {{"--meter", "paddle-top", "--csv"}, 2, "", "--meter: one moment"},
        {{"motor-status", "--expect", "300ms high, 200ms low"}, 0, "shows the pattern\n", ""},
        {{"motor-status", "--expect", "1 s low, 300 ms high, 200 ms low"}, 0, "shows the pattern\n", ""},
        {{"motor-status", "--expect", "300ms high, 230ms low"}, 1, "does not show the pattern\n", ""},
        {{"motor-status", "--expect", "300ms high, 230ms low", "--within", "20%"},
         0,
         "shows the pattern\n",
         ""},
        {{"stop-button", "--expect", "1s high"}, 1, "seen: low all the time, for 10 s", ""},
        {{"motor-status", "--expect", "plan"},
         0,
         "motor-status: shows the pattern\n  expected, within 10 %: 300 ms high",
         ""},
        {{"stop-button", "--expect", "plan"}, 2, "", "the plan says nothing of what stop-button should show"},
        {{"nobody"}, 2, "", "the plan has no signal 'nobody'"},
        {{"--meter", "logic"}, 2, "", "--meter: 'logic' is a supply"},
        {{"--meter", "nowhere"}, 2, "", "--meter: the plan has no point 'nowhere'"},
        {{"--meter", "wind-vane", "--meter-ohms", "0ohm"},
         2,
         "",
         "--meter-resistance: expected more than 0 ohm"},
        {{"--expect", "1s high"}, 2, "", "name the one signal"},
        {{"wind-vane", "--expect", "1s high"}, 2, "", "no digital signal"},
        {{"wheel", "--expect", "1s high, 2s high"}, 2, "", "expected alternating lengths"},
        {{"wheel", "--expect", "soon"}, 2, "", "expected alternating lengths"},
        {{"--every", "0s"}, 2, "", "--every: expected 1 ms or more"},
        {{"--times", "0"}, 2, "", "times"},
        {{"house-battery", "--at", "39min", "--times", "3", "--every", "1min"},
         0,
         "  2460.000        11.60 V (38 %)",
         ""}, /* behind its end as it stood there */
        {{"--json", "--csv"}, 2, "", "not both"},
        {{"house-battery", "--ideal"}, 0, "  3206  2.583  ", ""}, /* 12.7 V * 12k / 59k against 3.3 V */
        {{"--ideal", "--seed", "3"}, 2, "", "not both"},
        {{"heater-1", "rain-plate", "--seeds", "20"}, 0, "on 0 of 20 benches", ""},
        {{"--seeds", "1"}, 2, "", "--seeds"},
        {{"--seeds", "9", "--csv"}, 2, "", "one moment"},
        {{"--mystery", "3"}, 0, "Something is wrong on this bench", ""},
        {{"--mystery", "3", "--reveal"}, 0, "The fault: {", ""},
        {{"--reveal"}, 2, "", "of which --mystery"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        const char *const *w = rows[i].words;
        const char *const words[] = {TL_BUILD "/tinyladder",
                                     "read",
                                     PLAN,
                                     "--scene",
                                     SCENE,
                                     w[0],
                                     w[1],
                                     w[2],
                                     w[3],
                                     w[4],
                                     w[5],
                                     w[6],
                                     NULL};
        run_result r = run_program(words, TL_SOURCE);
        CHECK_ROW(w[0], r.status == rows[i].status);
        CHECK_ROW(w[0], strstr(r.out, rows[i].out) != NULL && strstr(r.err, rows[i].err) != NULL);
        if (strstr(r.out, rows[i].out) == NULL || r.status != rows[i].status)
            printf("\n  %s %s: %d\n%s%s", w[0], w[1] != NULL ? w[1] : "", r.status, r.out, r.err);
        run_free(&r);
    }
}

/* A hidden fault is one fault for each number, whenever and in whatever scene one looks; others are others.
 */
static void a_mystery_is_one_fault(void)
{
    enum { NUMBERS = 8, LOOKS = 3 };
    static const char *const asked[LOOKS][4] = {
        {"--at", "0s", "--reveal"}, {"--at", "31min", "--reveal"}, {"--scene", SCENE, "--reveal"}};
    char fault[NUMBERS][200];
    int different = 0;
    for (int n = 0; n < NUMBERS; n++) {
        char number[12];
        snprintf(number, sizeof number, "%d", n);
        for (int look = 0; look < LOOKS; look++) {
            run_result r = run_command("read", PLAN, "--mystery", number, asked[look][0], asked[look][1],
                                       asked[look][2], NULL);
            const char *is = strstr(r.out, "The fault: ");
            CHECK_ROW(number, is != NULL);
            if (look == 0)
                snprintf(fault[n], sizeof fault[n], "%.*s", (int)strcspn(is != NULL ? is : "", "\n"),
                         is != NULL ? is : "");
            CHECK_ROW(number, is != NULL && strncmp(is, fault[n], strlen(fault[n])) == 0);
            run_free(&r);
        }
        for (int k = 0; k < n; k++)
            different += strcmp(fault[k], fault[n]) != 0;
    }
    CU_ASSERT(different > NUMBERS * (NUMBERS - 1) / 2 - 4);
}

/* A signal that cannot be read does not keep the others from it. */
static void one_failure_is_one_row(void)
{
    static const char scene[] =
        "tinyladder: scene 1\nlength: 1 min\nfaults: [{setting: fine, address: 0x2b}]\n";
    run_result r = run_command("read", PLAN, "--scene", scratch_file("nack.scene.yaml", scene, strlen(scene)),
                               "counterweight", "house-battery", NULL);
    CU_ASSERT(r.status == 4 && strstr(r.out, "counterweight") != NULL &&
              strstr(r.out, "not acknowledged") != NULL);
    CU_ASSERT(strstr(r.out, "12.") != NULL && strstr(r.err, "not every signal") != NULL);
    run_free(&r);
    r = run_command("read", PLAN, "--scene", SCENE, "--json", "--times", "2", "twilight", NULL);
    json_t *object = json_loads(r.out, 0, NULL);
    const json_t *second = json_array_get(json_object_get(object, "series"), 1);
    CU_ASSERT(near(json_number_value(json_object_get(second, "at_s")), 0.1, 1e-9));
    CU_ASSERT(json_array_size(json_object_get(second, "readings")) == 1);
    json_decref(object);
    run_free(&r);
}

/* What is read of many benches lies within what can be read, but for the noise's few counts. */
static void seeds_stay_within_what_can_be_read(void)
{
    run_result r = run_command("read", PLAN, "--seeds", "300", "--json", NULL);
    json_t *o = json_loads(r.out, 0, NULL);
    const json_t *list = json_object_get(o, "signals");
    int bounded = 0;
    CU_ASSERT(r.status == 0 && json_array_size(list) > 20);
    for (size_t i = 0; i < json_array_size(list); i++) {
        const json_t *s = json_array_get(list, i);
        const char *name = json_string_value(json_object_get(s, "signal"));
        if (!json_is_number(json_object_get(s, "can_read_low")))
            continue;
        const double low = json_number_value(json_object_get(s, "can_read_low")),
                     high = json_number_value(json_object_get(s, "can_read_high")),
                     room = 0.02 * (high - low), least = json_number_value(json_object_get(s, "least")),
                     most = json_number_value(json_object_get(s, "largest"));
        CHECK_ROW(name, least >= low - room && most <= high + room && least <= most);
        long sum = 0;
        for (size_t b = 0; b < json_array_size(json_object_get(s, "bins")); b++)
            sum += json_integer_value(json_array_get(json_object_get(s, "bins"), b));
        CHECK_ROW(name, sum == 300);
        bounded++;
    }
    CU_ASSERT(bounded > 10);
    json_decref(o);
    run_free(&r);
}

/* Lamps follow the percent where there is one: here it rises as the volts fall. Of this many lamps each has
 * its share of the hundred, none the first. */
static void lamps_follow_the_percent(void)
{
    enum { LAMPS = 4, STEPS = 23 };
    static const char plan[] = "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE
                               "/demo/lapwing.board.yaml\nsignals:\n  k: {source: {voltage: "
                               "0 V .. 3 V}, pin: L4, reading: {unit: V, percent: {empty: 2.5 V, full: 0.5 "
                               "V}}}\noutputs:\n  bar: {pins: [L30, "
                               "L31, L32, L33], lamp: 2 V, series: 1k ±1 %, shows: k, as: levels}\n";
    char scene[900] = "tinyladder: scene 1\nlength: 30 s\nvalues: {k: [";
    for (int i = 0; i < STEPS; i++)
        snprintf(scene + strlen(scene), sizeof scene - strlen(scene), "%s%d s: %.3f V", i > 0 ? ", " : "", i,
                 3 - 0.13 * i);
    strncat(scene, "]}\n", sizeof scene - strlen(scene) - 1);
    char plan_path[600], scene_path[600];
    snprintf(plan_path, sizeof plan_path, "%s", scratch_file("lamps.plan.yaml", plan, strlen(plan)));
    snprintf(scene_path, sizeof scene_path, "%s", scratch_file("lamps.scene.yaml", scene, strlen(scene)));
    int seen = 0;
    for (int i = 0; i < STEPS; i++) {
        char at[20];
        snprintf(at, sizeof at, "%ds", i);
        run_result r = run_command("read", plan_path, "--scene", scene_path, "--at", at, "--json", NULL);
        json_t *answer = json_loads(r.out, 0, NULL);
        json_t *reading = json_array_get(json_object_get(answer, "readings"), 0),
               *bar = json_array_get(json_object_get(answer, "outputs"), 0);
        const long long percent = json_integer_value(json_object_get(reading, "percent")),
                        lit = json_integer_value(json_object_get(bar, "on"));
        CHECK_ROW(at, r.status == 0 && lit == percent * (LAMPS + 1) / 101);
        seen |= 1 << lit;
        json_decref(answer);
        run_free(&r);
    }
    CU_ASSERT(seen == (1 << (LAMPS + 1)) - 1);
}

#define TURNED                                                                                               \
    "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\nsignals: {push: {source: {" \
    "contact: ground, bounce: 5 ms}, stages: [pull: {up: 10k ±1 %%, to: logic}], pin: L12, reading: {as: "  \
    "%s}}}"                                                                                                  \
    "\noutputs: {lamp: {pin: L9, lamp: 2 V, series: 1k, shows: push}}\n"

/* Pressed twice: what toggles is on from the first closing to the second, and so is its lamp; what is a level
 * is on while it is pressed. Reading, record and output tell the same. */
static void a_toggle_is_turned_over(void)
{
    static const struct {
        const char *as, *read[4];
        int state[4], lit[4];
    } rows[] = {
        {"toggle", {"off", "on, 1x", "on, 1x", "off, 2x"}, {0, 1, 1, 0}, {0, 1, 1, 0}},
        {"level", {"open", "closed, 1x", "open, 1x", "open, 2x"}, {0, 1, 0, 0}, {0, 1, 0, 0}},
    };
    static const char scene[] =
        "tinyladder: scene 1\nlength: 3 s\npresses: {push: [500 ms for 400 ms, 1500 ms for 400 ms]}\n";
    for (size_t i = 0; i < ROWS(rows); i++) {
        char plan[900], line[80];
        snprintf(plan, sizeof plan, TURNED, rows[i].as);
        const char *const plan_path = scratch_file("turned.plan.yaml", plan, strlen(plan));
        const char *const scene_path = scratch_file("turned.scene.yaml", scene, strlen(scene));
        run_result read = run_command("--outside", "read", plan_path, "--scene", scene_path, "--at", "100ms",
                                      "--every", "700ms", "--times", "4", NULL);
        run_result kept = run_command("--outside", "record", plan_path, "--scene", scene_path, "--at",
                                      "100ms", "--every", "700ms", "--for", "2.1s", "-o", "-", NULL);
        const char *at = kept.out;
        for (int n = 0; n < 4; n++) {
            snprintf(line, sizeof line, "%10.3f  %20s\n", 0.1 + 0.7 * n, rows[i].read[n]);
            CHECK_ROW(rows[i].as, strstr(read.out, line) != NULL);
            int level = 0, value = -1, lit = -1;
            at = strstr(at, ",push,digital,");
            CU_ASSERT_FATAL(at != NULL && sscanf(at, ",push,digital,%d,%*f,%d", &level, &value) == 2);
            at = strstr(at, ",lamp,output,");
            CU_ASSERT_FATAL(at != NULL && sscanf(at, ",lamp,output,%d", &lit) == 1);
            CHECK_ROW(rows[i].as, value == rows[i].state[n] && lit == rows[i].lit[n]);
        }
        run_free(&read);
        run_free(&kept);
    }
}

/* What may count twice is worse where it counts. */
static void a_count_must_be_right(void)
{
    static const struct {
        const char *as, *says;
    } rows[] = {{"count, steady: 1 ms", ": error: push: the debounce time is shorter"},
                {"toggle, steady: 1 ms", ": error: push: the debounce time is shorter"},
                {"level, steady: 1 ms", ": warning: push: the debounce time is shorter"}};
    for (size_t i = 0; i < ROWS(rows); i++) {
        char plan[900];
        snprintf(plan, sizeof plan, TURNED, rows[i].as);
        run_result r = run_command("--outside", "check", scratch_file("turned.plan.yaml", plan, strlen(plan)),
                                   "--brief", NULL);
        CHECK_ROW(rows[i].as, strstr(r.out, rows[i].says) != NULL);
        run_free(&r);
    }
}

static double number_at(const json_t *object, const char *key)
{
    return json_number_value(json_object_get(object, key));
}

/* Benches with parts of their own, each within what any bench may show; and of two resistors beside the meter
 * by hand. */
static void a_meter_is_bounded_on_every_bench(void)
{
    static const char *const points[] = {"house-battery.divider.lower", "wind-vane.source", "keypad",
                                         "open-button.source",          "heater-1.partner", "dome.scl.pull"};
    for (size_t i = 0; i < ROWS(points); i++) {
        for (int seed = 1; seed <= 4; seed++) {
            char number[8];
            snprintf(number, sizeof number, "%d", seed);
            run_result r = run_program((const char *const[]){TL_BUILD "/tinyladder", "read", PLAN, "--meter",
                                                             points[i], "--seed", number, "--json", NULL},
                                       TL_SOURCE);
            json_t *all = json_loads(r.out, 0, NULL), *meter = json_object_get(all, "meter");
            static const char *const ways[2][3] = {{"least_unloaded_v", "unloaded_v", "most_unloaded_v"},
                                                   {"least_loaded_v", "loaded_v", "most_loaded_v"}};
            for (int with = 0; with < 2; with++) {
                const double least = number_at(meter, ways[with][0]), is = number_at(meter, ways[with][1]),
                             most = number_at(meter, ways[with][2]);
                CHECK_ROW(points[i], r.status == 0 && most > least && is >= least && is <= most);
                if (!(is >= least && is <= most))
                    printf("\n  %s, seed %d: %g .. %g, is %g\n", points[i], seed, least, most, is);
            }
            json_decref(all);
            run_free(&r);
        }
    }
    static const char plan[] = "tinyladder: plan 1\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\n"
                               "supplies: {house: 12 V}\nsignals:\n  tap: {source: {rail: house}, stages: "
                               "[divider: {upper: 47k ±1 %, lower: 12k ±1 %}], pin: L4}\n";
    const double low = 11.88e3, high = 12.12e3, leak = 6e-4;
    const char *path = scratch_file("metered.plan.yaml", plan, strlen(plan));
    run_result r =
        run_program((const char *const[]){TL_BUILD "/tinyladder", "--outside", "read", path, "--meter",
                                          "tap.divider", "--meter-ohms", "100kohm", "--json", NULL},
                    TL_SOURCE);
    json_t *all = json_loads(r.out, 0, NULL), *meter = json_object_get(all, "meter");
    const double least = low * 1e5 / (low + 1e5), most = high * 1e5 / (high + 1e5);
    CU_ASSERT(fabs(number_at(meter, "least_loaded_v") - 12 * least / (least + 47.47e3)) < leak);
    CU_ASSERT(fabs(number_at(meter, "most_loaded_v") - 12 * most / (most + 46.53e3)) < leak);
    json_decref(all);
    run_free(&r);
}

CU_TestInfo read_tests[] = {
    {"a meter is bounded on every bench", a_meter_is_bounded_on_every_bench},
    {"a toggle is turned over", a_toggle_is_turned_over},
    {"a count must be right", a_count_must_be_right},
    {"lamps follow the percent", lamps_follow_the_percent},
    {"seeds stay within what can be read", seeds_stay_within_what_can_be_read},
    {"answers what is asked", answers_what_is_asked},
    {"a mystery is one fault", a_mystery_is_one_fault},
    {"one failure is one row", one_failure_is_one_row},
    CU_TEST_INFO_NULL,
};
