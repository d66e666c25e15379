/* The command as users meet it: words in, status and texts out. */
#include "support.h"
#include <jansson.h>
#include <stdio.h>
#include <string.h>

#define PLAN "demo/fernhill.plan.yaml"
#define SCENE "demo/evening.scene.yaml"

typedef struct {
    const char *name;
    const char *words[10];
    int status;
    const char *out, *err; /* must contain; NULL: must be empty */
} row;

static void check_rows(const row *rows, size_t count)
{
    for (size_t i = 0; i < count; i++) {
        const char *const *w = rows[i].words;
        run_result r = run_command(w[0], w[1], w[2], w[3], w[4], w[5], w[6], w[7], w[8], w[9], NULL);
        const bool out = rows[i].out == NULL ? r.out[0] == '\0' : strstr(r.out, rows[i].out) != NULL;
        const bool err = rows[i].err == NULL ? r.err[0] == '\0' : strstr(r.err, rows[i].err) != NULL;
        CHECK_ROW(rows[i].name, r.status == rows[i].status && out && err);
        if (r.status != rows[i].status || !out || !err)
            printf("\n  %s: status %d, out '%.300s', err '%.300s'\n", rows[i].name, r.status, r.out, r.err);
        run_free(&r);
    }
}

static void does_what_it_says(void)
{
    static const row rows[] = {
        {"help", {"--help"}, 0, "Exit status", NULL},
        {"version", {"--version"}, 0, "tinyladder 0.", NULL},
        {"divider", {"size", "divider", "--from", "10.5V..14.8V", "--limit", "3.3V"}, 0, "Plan line", NULL},
        {"divider with one leg fixed",
         {"size", "divider", "--from", "12V", "--limit", "3V", "--lower", "10k"},
         0,
         "lower: 10k",
         NULL},
        {"divider with everything",
         {"size", "divider", "--from=9V..15V", "--limit=3V", "--current=1mA", "--pin-sees=5k", "--series=E96",
          "--tolerance=0.5%", "--top=2", "--load=1M"},
         0,
         "E96, each leg ±0.5 %",
         NULL},
        {"check", {"check", PLAN}, 0, "0 errors, 0 warnings, 0 notes", NULL},
        {"check finds",
         {"check", "demo/faulty/same-rail.plan.yaml"},
         1,
         "demo/faulty/same-rail.plan.yaml:8:14: error:",
         NULL},
        {"read", {"read", PLAN}, 0, "house-battery", NULL},
        {"read a scene", {"read", PLAN, "--scene", SCENE, "--at", "71.1s"}, 0, "closed", NULL},
        {"read tells a dead pin",
         {"read", "demo/faulty/over-limit.plan.yaml"},
         0,
         "outside its absolute limits",
         NULL},
        {"demo", {"demo"}, 0, "That was the tour", NULL},
    };
    check_rows(rows, ROWS(rows));
}

static void refuses_wrong_usage_with_status_2(void)
{
    static const row rows[] = {
        {"nothing", {NULL}, 2, NULL, "Usage"},
        {"unknown verb", {"sise"}, 2, NULL, "no verb 'sise'"},
        {"size what", {"size"}, 2, NULL, "divider"},
        {"size nonsense", {"size", "dividend"}, 2, NULL, "does not know 'dividend'"},
        {"unknown option", {"check", "--fast", PLAN}, 2, NULL, "unrecognized option"},
        {"two plans", {"check", PLAN, PLAN}, 2, NULL, "one plan at a time"},
        {"no plan", {"read"}, 2, NULL, "which plan?"},
        {"no limit", {"size", "divider", "--from", "12V"}, 2, NULL, "needs --from and --limit"},
        {"unit missing", {"size", "divider", "--from", "12", "--limit", "3V"}, 2, NULL, "--from: 12 what?"},
        {"range reversed",
         {"size", "divider", "--from", "14V..10V", "--limit", "3V"},
         2,
         NULL,
         "--from: the range is reversed"},
        {"negative budget",
         {"size", "divider", "--from", "12V", "--limit", "3V", "--pin-sees", "-5k"},
         2,
         NULL,
         "--pin-sees: ohms cannot be negative"},
        {"not a number", {"size", "divider", "--from", "nan", "--limit", "3V"}, 2, NULL, "--from: a number"},
        {"huge",
         {"size", "divider", "--from", "99999999999999999999V", "--limit", "3V"},
         2,
         NULL,
         "believable"},
        {"zero limit", {"size", "divider", "--from", "12V", "--limit", "0V"}, 2, NULL, "contradict"},
        {"below ground", {"size", "divider", "--from=-5V..5V", "--limit", "3V"}, 2, NULL, "below 0 V"},
        {"no such series",
         {"size", "divider", "--from", "12V", "--limit", "3V", "--series", "E25"},
         2,
         NULL,
         "--series"},
        {"tolerance of 100 %",
         {"size", "divider", "--from", "12V", "--limit", "3V", "--tolerance", "100%"},
         2,
         NULL,
         "tolerance"},
        {"too many choices",
         {"size", "divider", "--from", "12V", "--limit", "3V", "--top", "51"},
         2,
         NULL,
         "--top: a whole number from 1 to 50"},
        {"time without unit", {"read", PLAN, "--at", "5"}, 2, NULL, "--at: 5 what?"},
        {"after the end of the scene",
         {"read", PLAN, "--scene", SCENE, "--at", "41min"},
         2,
         NULL,
         "the scene ends at"},
    };
    check_rows(rows, ROWS(rows));
}

static void answers_no_with_status_1(void)
{
    static const row rows[] = {
        {"impossible divider",
         {"size", "divider", "--from", "10V..15V", "--limit", "3V", "--current", "1uA"},
         1,
         "None of",
         NULL},
        {"read of a pin with two signals",
         {"read", "demo/faulty/pin-taken.plan.yaml"},
         1,
         NULL,
         "[pin-taken]"},
        {"read of a pin without a converter",
         {"read", "demo/faulty/not-analog.plan.yaml"},
         1,
         NULL,
         "[not-analog]"},
    };
    check_rows(rows, ROWS(rows));
}

static void refuses_unreadable_input_with_status_3(void)
{
    char junk[4096];
    for (size_t i = 0; i < sizeof junk; i++)
        junk[i] = (char)even_between(-128, 127);
    scratch_file("junk.yaml", junk, sizeof junk);
    scratch_file("empty.yaml", "", 0);
    FILE *big = fopen(scratch_path("big.yaml"), "wb");
    CU_ASSERT_FATAL(big != NULL);
    CU_ASSERT(fseek(big, 50L << 20, SEEK_SET) == 0 && fputc('\n', big) != EOF);
    fclose(big);
    const row rows[] = {
        {"missing file", {"check", "none.yaml"}, 3, NULL, "tinyladder: error: cannot read 'none.yaml'"},
        {"folder", {"check", "demo"}, 3, NULL, "folder"},
        {"device", {"check", "/dev/zero"}, 3, NULL, "no regular file"},
        {"empty file", {"check", scratch_path("empty.yaml")}, 3, NULL, "empty"},
        {"junk", {"check", scratch_path("junk.yaml")}, 3, NULL, "no text"},
        {"50 MB", {"check", scratch_path("big.yaml")}, 3, NULL, "larger than 1 MB"},
        {"a board is no plan",
         {"check", "demo/lapwing.board.yaml"},
         3,
         NULL,
         "lapwing.board.yaml:1:13: error: this file says it is 'board 1'"},
        {"missing scene", {"read", PLAN, "--scene", "none.yaml"}, 3, NULL, "cannot read 'none.yaml'"},
        {"demo data elsewhere", {"demo", "--data", "/nowhere"}, 3, NULL, "cannot find the demo data"},
    };
    check_rows(rows, ROWS(rows));
    remove(scratch_path("big.yaml"));
}

static void points_at_the_place_with_a_caret(void)
{
    static const char text[] =
        "tinyladder: plan 1\ntitle: Ω\nboard: lapwing.board.yaml\nsignals:\n  µ-knob: {sorce: 1}\n";
    run_result r = run_command("check", scratch_file("caret.yaml", text, strlen(text)), NULL);
    CU_ASSERT(r.status == 3 && strstr(r.err, "caret.yaml:3:8: error: cannot read") != NULL);
    CU_ASSERT(strstr(r.err, "     3 | board: lapwing.board.yaml\n       |        ^\n") != NULL);
    run_free(&r);
}

static json_t *json_of(run_result *r, int status)
{
    json_error_t error;
    json_t *object = json_loads(r->out, 0, &error);
    CU_ASSERT(r->status == status && object != NULL);
    run_free(r);
    return object;
}

static double number_at(const json_t *list, size_t i, const char *key)
{
    return json_number_value(json_object_get(json_array_get(list, i), key));
}

static void gives_the_same_as_json(void)
{
    run_result r = run_command("read", PLAN, "--scene", SCENE, "--at", "10min", "--json", NULL);
    json_t *object = json_of(&r, 0);
    const json_t *list = json_object_get(object, "readings");
    CU_ASSERT(json_array_size(list) == 3);
    CU_ASSERT(number_at(list, 0, "low") < 12.5 && number_at(list, 0, "high") > 12.5 &&
              number_at(list, 0, "percent") == 81);
    CU_ASSERT(json_is_null(
        json_object_get(json_array_get(list, 1), "pin_high_v"))); /* clipped: the truth may lie beyond */
    CU_ASSERT_STRING_EQUAL(json_string_value(json_object_get(json_array_get(list, 2), "state")), "open");
    json_decref(object);

    r = run_command("size", "divider", "--from", "12V", "--limit", "3V", "--json", NULL);
    object = json_of(&r, 0);
    CU_ASSERT(json_array_size(json_object_get(object, "choices")) == 5 &&
              json_is_null(json_object_get(object, "current_budget_a")));
    CU_ASSERT(number_at(json_object_get(object, "choices"), 0, "tap_high_v") <= 3);
    json_decref(object);

    r = run_command("check", "demo/faulty/over-limit.plan.yaml", "--json", NULL);
    object = json_of(&r, 1);
    list = json_object_get(object, "findings");
    CU_ASSERT(json_array_size(list) == 1 && number_at(list, 0, "line") == 10);
    CU_ASSERT_STRING_EQUAL(json_string_value(json_object_get(json_array_get(list, 0), "slug")), "over-limit");
    json_decref(object);
}

static void says_when_its_output_is_lost(void)
{
    const char *const words[] = {"sh", "-c", TL_BUILD "/tinyladder check " PLAN " >/dev/full", NULL};
    run_result r = run_program(words, TL_SOURCE);
    CU_ASSERT(r.status == 4 && strstr(r.err, "could not be written") != NULL);
    run_free(&r);
}

CU_TestInfo command_tests[] = {
    {"does what it says", does_what_it_says},
    {"refuses wrong usage with status 2", refuses_wrong_usage_with_status_2},
    {"answers no with status 1", answers_no_with_status_1},
    {"refuses unreadable input with status 3", refuses_unreadable_input_with_status_3},
    {"points at the place with a caret", points_at_the_place_with_a_caret},
    {"gives the same as JSON", gives_the_same_as_json},
    {"says when its output is lost", says_when_its_output_is_lost},
    CU_TEST_INFO_NULL,
};
