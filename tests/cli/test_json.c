/* SPDX-License-Identifier: MIT */
/* What verbs answer with --json: the same as their texts. */
#include "support.h"
#include <jansson.h>
#include <string.h>

#define PLAN "demo/fernhill.plan.yaml"
#define SCENE "demo/evening.scene.yaml"

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
    static const char clipped[] = "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE
                                  "/demo/lapwing.board.yaml\nsignals: {s: {source: {voltage: 3.4 V}, pin: "
                                  "L4, reading: {decimals: 2}}}\n";
    run_result r = run_command("read", PLAN, "--scene", SCENE, "--at", "10min", "--json", NULL);
    json_t *object = json_of(&r, 0);
    const json_t *list = json_object_get(object, "readings");
    CU_ASSERT(json_array_size(list) == 27);
    CU_ASSERT(number_at(list, 0, "low") < 12.5 && number_at(list, 0, "high") > 12.5 &&
              number_at(list, 0, "percent") == 82);
    CU_ASSERT_STRING_EQUAL(json_string_value(json_object_get(json_array_get(list, 5), "state")), "open");
    json_decref(object);

    r = run_command("read", scratch_file("clipped.plan.yaml", clipped, strlen(clipped)), "--json", NULL);
    object = json_of(&r, 0);
    list = json_object_get(object, "readings");
    CU_ASSERT(json_is_null(
        json_object_get(json_array_get(list, 0), "pin_high_v"))); /* clipped: it may lie beyond */
    json_decref(object);

    r = run_command("size", "divider", "--vin", "12V", "--vmax", "3V", "--json", NULL);
    object = json_of(&r, 0);
    const json_t *choices = json_object_get(object, "choices");
    CU_ASSERT(json_array_size(choices) == 5 && json_is_null(json_object_get(object, "refusal")));
    const json_t *figures = json_object_get(json_array_get(choices, 0), "figures");
    CU_ASSERT_STRING_EQUAL(json_string_value(json_object_get(json_array_get(figures, 1), "name")),
                           "tap, highest");
    CU_ASSERT(number_at(figures, 1, "value") <= 3 && number_at(figures, 1, "limit") == 3);
    CU_ASSERT(json_is_null(json_object_get(json_array_get(figures, 3), "limit")));
    json_decref(object);

    r = run_command("check", "demo/faulty/over-limit.plan.yaml", "--json", NULL);
    object = json_of(&r, 1);
    list = json_object_get(object, "findings");
    CU_ASSERT(json_array_size(list) == 1 && number_at(list, 0, "line") == 10);
    const json_t *worst = json_object_get(object, "worst_cases");
    CU_ASSERT(json_array_size(worst) == 1 && near(number_at(worst, 0, "high_v"), 14.8, 1e-3));
    CU_ASSERT_STRING_EQUAL(json_string_value(json_object_get(json_array_get(list, 0), "slug")), "over-limit");
    json_decref(object);
}

/* docs/json.md is the one place that has them all. */
static void every_key_is_explained(void)
{
    run_result r =
        run_program((const char *const[]){"/usr/bin/python3", "tests/cli/json_keys.py", NULL}, TL_SOURCE);
    CU_ASSERT(r.status == 0 && strstr(r.out, " keys\n") != NULL);
    if (r.status != 0)
        printf("\n%s", r.out);
    run_free(&r);
}

CU_TestInfo json_tests[] = {
    {"gives the same as the text", gives_the_same_as_json},
    {"every key is explained", every_key_is_explained},
    CU_TEST_INFO_NULL,
};
