/* SPDX-License-Identifier: MIT */
/*
 * Exact bounds of `size`: whatever window an answer prints, a drawer that holds one part just inside has the
 * answer, and a drawer that holds one just outside has none, in the same way of doing it. A job on a line of
 * its own; where a job knows several limits, each of them binds in some row.
 */
#include "support.h"
#include <jansson.h>
#include <math.h>
#include <stdio.h>
#include <string.h>

#define RAIL " --rail '3.3 V ±2 %'"
#define LAPWING " --board demo/lapwing.board.yaml"
#define PLOVER " --board demo/plover.board.yaml"

/* Options, and how many ends of windows must be there: so that none gets lost. */
static const struct {
    const char *words;
    int ends;
} rows[] = {
    {"pull" RAIL, 2},
    {"pull" RAIL " --leakage 5uA --contact-resistance 50ohm..200ohm --wetting 50uA", 2},
    {"pull" RAIL " --leakage 1uA --contact-resistance 1k --max-current 5mA",
     2}, /* the closed level counts the leakage */
    {"pull" RAIL " --leakage 10nA --line-capacitance 10nF --edge 100us", 2},
    {"pull" RAIL " --direction down --leakage 1uA --contact-resistance 1k", 2},
    {"pull" RAIL " --leakage 1uA --guard 10k --margin 0.2V", 2},
    {"pull" LAPWING, 2},
    {"guard" RAIL " --pin-current 12mA", 1},
    {"guard" RAIL " --pin-current 12mA --pull 10k", 2},
    {"lamp --supply '5 V ±5 %' --vf 1.8V..2.2V --led-current 20mA --min-led-current 2mA", 2},
    {"lamp --supply '5 V ±5 %' --vf 1.8V..2.2V --led-current 20mA --lamps 8 --total-current 60mA", 1},
    {"lamp --supply '3.3 V ±2 %' --vf 1.8V..2.2V --led-current 8mA --pin-resistance 40ohm --min-led-current "
     "1mA",
     2},
    {"driver --supply 12V --load-resistance 120ohm --voh 2.9V..3.4V --pin-current 12mA", 2},
    {"driver --supply 12V --load-resistance 120ohm --voh 2.9V..3.4V --pin-current 12mA --pin-leakage 20uA",
     2},
    {"driver --supply 12V --load-resistance 24ohm --voh 2.9V..3.4V --pin-current 12mA --rds-on 0.1ohm", 1},
    {"loop --vmax 3.234V --supply 24V", 1},
    {"loop --vmax 3.234V --supply '12 V ±5 %' --compliance 10V --wire-resistance 20ohm --loop-max 21mA", 1},
    {"loop --vmax 3.234V --reference 2.5V", 1},
    {"bus-pull --mode fast --supply '3.3 V ±2 %' --line-capacitance 200pF", 2},
    {"bus-pull --mode standard --supply '5 V ±5 %' --line-capacitance 400pF", 2},
    {"injection --vin 0V..26V" RAIL " --injection 1mA", 1},
    {"injection --vin -12V..12V" RAIL " --injection 1mA", 1},
    {"injection --vin 0V..26V" RAIL " --injection 1mA --pins 4 --board-draws 2.7mA", 1},
    {"feed --track '10k ±20 %' --supply '5 V ±5 %' --vmax 3.234V", 1},
    {"feed --track '10k ±20 %' --supply '5 V ±5 %' --vmax 3.234V --tracks 3 --max-source-resistance 4k", 2},
    {"partner --sensor 2k..200k --supply '3.3 V ±2 %' --vmax 1.176V", 1},
    {"partner --sensor 2k..200k --supply '3.3 V ±2 %' --vmax 1.176V --position upper", 1},
    {"partner --sensor 0ohm..180ohm --supply '3.3 V ±2 %' --max-current 20mA --max-source-resistance 150ohm",
     2},
    {"reservoir --source-resistance 100k --sample-rate 10Hz" LAPWING, 1},
    {"reservoir --source-resistance 10k --sample-rate 1kHz" PLOVER, 1},
};

static json_t *answer_with(const char *words, const char *drawer)
{
    char line[700];
    snprintf(line, sizeof line, TL_BUILD "/tinyladder size %s --json%s%s", words,
             drawer != NULL ? " --drawer " : "", drawer != NULL ? drawer : "");
    run_result r = run_program((const char *const[]){"/bin/sh", "-c", line, NULL}, TL_SOURCE);
    json_t *o = json_loads(r.out, 0, NULL);
    if (o == NULL)
        printf("\n  size %s: %s\n", words, r.err);
    run_free(&r);
    return o;
}

/* Whether a choice of this way is found with one part alone. */
static bool is_offered(const char *words, const char *way, bool farads, double value)
{
    static const char path[] = TL_SCRATCH "/one.drawer.yaml";
    FILE *f = fopen(path, "w");
    if (f == NULL)
        return false;
    fprintf(f, "tinyladder: drawer 1\n%s: [{values: [%.12g %s], tolerance: 0.0001 %%}]\n",
            farads ? "capacitors" : "resistors", farads ? 1e9 * value : value, farads ? "nF" : "ohm");
    fclose(f);
    json_t *o = answer_with(words, path), *choice;
    bool found = false;
    size_t i;
    json_array_foreach(json_object_get(o, "choices"), i, choice)
    {
        const char *own = json_string_value(json_object_get(choice, "way"));
        found = found || way == NULL || strcmp(own, way) == 0;
    }
    json_decref(o);
    return found;
}

static int try_end(const char *words, const json_t *window, const char *end, double inwards)
{
    static const double step = 1e-3;
    const double at = json_number_value(json_object_get(window, end));
    const char *way = json_string_value(json_object_get(window, "way"));
    const bool farads = strcmp(json_string_value(json_object_get(window, "unit")), "F") == 0;
    const json_t *least = json_object_get(window, "least"), *most = json_object_get(window, "most");
    if (!json_is_number(json_object_get(window, end)) ||
        (json_is_number(least) && json_is_number(most) && json_number_value(least) > json_number_value(most)))
        return 0;
    const bool inside = is_offered(words, way, farads, at * (1 + inwards * step)),
               outside = is_offered(words, way, farads, at * (1 - inwards * step));
    CHECK_ROW(words, at > 0 && inside && !outside);
    if (at <= 0 || !inside || outside)
        printf("\n  size %s: %s %s %.9g: inside %s, outside %s\n", words,
               json_string_value(json_object_get(window, "part")), end, at, inside ? "offered" : "refused",
               outside ? "offered" : "refused");
    return 1;
}

static void just_inside_is_offered_and_just_outside_is_not(void)
{
    for (size_t i = 0; i < ROWS(rows); i++) {
        json_t *o = answer_with(rows[i].words, NULL), *one;
        int ends = 0;
        size_t w;
        json_array_foreach(json_object_get(o, "window"), w, one)
        {
            ends += try_end(rows[i].words, one, "least", 1) + try_end(rows[i].words, one, "most", -1);
        }
        CHECK_ROW(rows[i].words, ends >= rows[i].ends);
        if (ends < rows[i].ends)
            printf("\n  size %s: %d ends\n", rows[i].words, ends);
        json_decref(o);
    }
}

CU_TestInfo bound_tests[] = {
    {"just inside is offered, and just outside is not", just_inside_is_offered_and_just_outside_is_not},
    CU_TEST_INFO_NULL,
};
