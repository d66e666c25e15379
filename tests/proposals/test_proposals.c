/* SPDX-License-Identifier: MIT */
/* Proposals: what is typed wins, what is proposed passes. Two verbs are asked the same question. */
#include "sizing/figures.h"
#include "support.h"
#include "tinyladder/design/proposals.h"
#include <jansson.h>
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#define BOARD "demo/lapwing.board.yaml"

static json_t *ask(const char *const *words, int *status)
{
    run_result r = run_command(words[0], words[1], words[2], words[3], words[4], words[5], words[6], words[7],
                               words[8], words[9], NULL);
    json_t *o = json_loads(r.out, 0, NULL);
    *status = r.status;
    run_free(&r);
    return o;
}

/* Every option that a board answers: typed, it stands, whatever the board says. */
static void an_option_that_is_typed_wins(void)
{
    static const struct {
        const char *words[10], *without, *with; /* in the notes, or among the figures, of the answer */
    } rows[] = {
        {{"size", "divider", "--vin=12V", "--board", BOARD, "--json"}, "pin leakage of 50 nA", ""},
        {{"size", "divider", "--vin=12V", "--board", BOARD, "--pin-leakage=0A", "--json"}, "", "pin leakage"},
        {{"size", "divider", "--vin=12V", "--board", BOARD, "--vmax=1V", "--json"}, "Limits: output 1 V", ""},
        {{"size", "mux", "--r-on=100ohm", "--source-resistance=10k", "--board", BOARD, "--bits=10", "--json"},
         "10",
         "12 bits"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        const char *const *w = rows[i].words;
        run_result r = run_command(w[0], w[1], w[2], w[3], w[4], w[5], w[6], w[7], w[8], NULL);
        CHECK_ROW(w[4], r.status == 0 && strstr(r.out, rows[i].without) != NULL &&
                            (rows[i].with[0] == '\0' || strstr(r.out, rows[i].with) == NULL));
        run_free(&r);
    }
    /* More bits want a smaller error, and so more time. */
    static const char *const bits[] = {"--bits=8", "--bits=10", "--bits=12", "--bits=14"};
    double before = 0;
    for (size_t i = 0; i < ROWS(bits); i++) {
        const char *const words[10] = {
            "size", "mux",   "--r-on=100ohm", "--source-resistance=10k", "--mux-capacitance=30pF", "--board",
            BOARD,  bits[i], "--json"};
        int status = 0;
        json_t *o = ask(words, &status);
        const json_t *exact = json_object_get(o, "exact");
        double acquisition = 0;
        for (size_t e = 0; e < json_array_size(exact); e++) {
            const json_t *figure = json_array_get(exact, e);
            if (strcmp(json_string_value(json_object_get(figure, "name")), "acquisition alone") == 0)
                acquisition = json_number_value(json_object_get(figure, "value"));
        }
        CHECK_ROW(bits[i], status == 0 && acquisition > before);
        before = acquisition;
        json_decref(o);
    }
}

#define HEAD "tinyladder: plan 1\ntitle: t # kept\nboard: " TL_SOURCE "/" BOARD "\n"
static const struct {
    const char *name, *text, *part, *before, *after; /* what stands around the values afterwards */
} parts[] = {
    {"a divider in a line",
     HEAD
     "signals:\n  s: {source: {voltage: 0 V .. 12 V}, stages: [divider: {upper: 47k ±1 %, lower: 10k ±1 %}], "
     "pin: L4} # all\n",
     "s.divider", "  s: {source: {voltage: 0 V .. 12 V}, stages: [divider: {upper: ", "}], pin: L4} # all\n"},
    {"a divider behind a knob",
     HEAD "supplies: {five: 5 V ±5 %}\nsignals:\n  s: {source: {potentiometer: 10k ±20 %, top: five}, "
          "stages: [divider: {upper: "
          "1k ±1 %, lower: 10k ±1 %}], pin: L4, reading: {of: pin, unit: V, decimals: 1}}\n",
     "s.divider", "stages: [divider: {upper: ", "}], pin: L4, reading: {of: pin, unit: V, decimals: 1}}\n"},
    {"a divider in a block, with comments",
     HEAD "signals:\n  s:\n    source: {voltage: 0 V .. 30 V, resistance: 100 ohm}\n    stages:\n      - "
          "divider:\n"
          "          upper: 100k ±1 % # the long one\n          lower: 6k8 ±1 %\n    pin: L4\n",
     "s.divider", "          upper: ", "\n    pin: L4\n"},
    {"a partner below a reference of its own",
     HEAD "signals:\n  s: {source: {resistance: 2k .. 200k, to: logic}, stages: [partner: {lower: 22k ±1 "
          "%}], pin: L4, "
          "reference: inner}\n",
     "s.partner", "stages: [partner: {lower: ", "}], pin: L4, reference: inner}\n"},
    {"a partner",
     HEAD "signals:\n  s: {source: {resistance: 2k .. 50k, to: logic}, stages: [partner: {lower: 22k ±1 %}], "
          "pin: L5}\n",
     "s.partner", "[partner: {lower: ", "}], pin: L5}\n"},
    {"a pull",
     HEAD "signals:\n  s: {source: {contact: ground}, stages: [pull: {up: 33k ±5 %, to: logic}], pin: L20}\n",
     "s.pull", "pull: {up: ", ", to: logic}], pin: L20}\n"},
    {"a guard",
     HEAD "signals:\n  s: {source: {contact: ground}, stages: [pull: {up: 10k ±5 %, to: logic}, "
          "guard: 2k2 ±5 %], pin: L20, driven: high}\n",
     "s.guard", "guard: ", "], pin: L20"},
};

/* Written into the plan, the first choice passes `check`, and both say the same volts at the pin. */
static void what_is_proposed_passes(void)
{
    for (size_t i = 0; i < ROWS(parts); i++) {
        const char *path = scratch_file("part.plan.yaml", parts[i].text, strlen(parts[i].text));
        const char *const size_words[10] = {"size", path, parts[i].part, "--write", "--json"};
        const char *const check_words[10] = {"check", path, "--json"};
        int size_status = 0, check_status = 0;
        json_t *sized = ask(size_words, &size_status), *checked = ask(check_words, &check_status);
        CHECK_ROW(parts[i].name, size_status == 0 && check_status == 0 && sized != NULL && checked != NULL);
        const json_t *choice = json_array_get(json_object_get(sized, "choices"), 0),
                     *worst = json_array_get(json_object_get(checked, "worst_cases"), 0);
        CHECK_ROW(parts[i].name, json_integer_value(json_object_get(checked, "errors")) == 0 &&
                                     json_integer_value(json_object_get(checked, "warnings")) == 0);
        const double low = json_number_value(json_object_get(choice, "pin_low_v"));
        CHECK_ROW(parts[i].name,
                  near(fmin(low, json_number_value(json_object_get(worst, "low_v"))), low, 1e-9));
        /* The same values by --compare do it, with the same figures; what is far off does not. */
        char values[200];
        const char *names[2] = {NULL, NULL}, *key;
        json_t *value;
        int name_count = 0;
        json_object_foreach((json_t *)choice, key, value)
        {
            if (json_is_string(value) && name_count < 2)
                names[name_count++] = json_string_value(value);
        }
        snprintf(values, sizeof values, "%s%s%s,%s", names[0], name_count > 1 ? "/" : "",
                 name_count > 1 ? names[1] : "", name_count > 1 ? "1 mohm/1 Gohm" : "1 Gohm");
        const char *const compare_words[10] = {"size", path, parts[i].part, "--compare", values, "--json"};
        int compare_status = 0;
        json_t *compared = ask(compare_words, &compare_status), *rows = json_object_get(compared, "compared");
        CHECK_ROW(parts[i].name,
                  compare_status == 0 && json_array_size(rows) == 2 &&
                      json_is_true(json_object_get(json_array_get(rows, 0), "does")) &&
                      json_number_value(json_object_get(json_array_get(rows, 0), "pin_low_v")) == low &&
                      !json_is_true(json_object_get(json_array_get(rows, 1), "does")));
        json_decref(compared);
        char *text = text_of(path);
        const char *at = strstr(text, parts[i].before);
        CHECK_ROW(parts[i].name, strncmp(text, HEAD, strlen(HEAD)) == 0 && at != NULL &&
                                     strstr(at, parts[i].after) != NULL && strcmp(text, parts[i].text) != 0);
        if (at == NULL)
            printf("\n  %s:\n%s", parts[i].name, text);
        free(text);
        json_decref(sized);
        json_decref(checked);
    }
}

/* Every choice that is printed, put into a copy by hand: no error, no warning, and the figures of both agree.
 */
static void every_choice_passes(void)
{
    static const char
        plan[] = HEAD "drawer: own.drawer.yaml\nsignals:\n  s: {source: {voltage: 0 V .. 14 V}, stages: "
                      "[divider: {upper: 47k, lower: 10k}], pin: L4}\n",
        drawer[] =
            "tinyladder: drawer 1\ntitle: d\nresistors:\n  - {preferred: E6, over: 1k .. 1M, tolerance: 1 "
            "%, count: 3}\n";
    int status = 0, compared = 0;
    scratch_file("own.drawer.yaml", drawer, strlen(drawer));
    const char *const words[10] = {"size", scratch_file("own.plan.yaml", plan, strlen(plan)), "s.divider",
                                   "--top=20", "--json"};
    json_t *sized = ask(words, &status);
    const json_t *choices = json_object_get(sized, "choices");
    CU_ASSERT(status == 0 && json_array_size(choices) >= 4);
    for (size_t i = 0; i < json_array_size(choices); i++) {
        const json_t *c = json_array_get(choices, i);
        char text[600];
        snprintf(text, sizeof text,
                 HEAD "drawer: own.drawer.yaml\nsignals:\n  s: {source: {voltage: 0 V .. 14 V}, stages: "
                      "[divider: {upper: %s, lower: %s}], pin: L4}\n",
                 json_string_value(json_object_get(c, "upper")),
                 json_string_value(json_object_get(c, "lower")));
        const char *const check_words[10] = {"check", scratch_file("by-hand.plan.yaml", text, strlen(text)),
                                             "--json"};
        json_t *checked = ask(check_words, &status);
        const json_t *worst = json_array_get(json_object_get(checked, "worst_cases"), 0);
        CU_ASSERT(status == 0 && json_integer_value(json_object_get(checked, "warnings")) == 0);
        CU_ASSERT(near(json_number_value(json_object_get(c, "pin_high_v")),
                       json_number_value(json_object_get(worst, "high_v")), 1e-9));
        CU_ASSERT(near(json_number_value(json_object_get(c, "source_ohms")),
                       json_number_value(json_object_get(worst, "source_ohms")), 1e-9));
        json_decref(checked);
        compared++;
    }
    CU_ASSERT(compared >= 4);
    json_decref(sized);
}

/* Of outputs, buses, shared nodes, clamps and shifters: sized by the job that makes them, the first choice
 * passes every rule, and its figures are those of `check`. */
static void every_kind_of_part_is_sized(void)
{
    static const char plan[] = HEAD
        "supplies: {five: 5 V ±5 %}\nshared: {top: {from: five, series: 1k ±1 %}}\nsignals:\n"
        "  a: {source: {logic: five, rate: 10 kHz}, stages: [shifter: {way: inverter, base: 100k ±1 %}, "
        "pull: {up: "
        "100k ±1 %, to: logic}], pin: L20}\n"
        "  b: {source: {logic: five, rate: 10 kHz}, stages: [pull: {up: 10k ±1 %, to: five}, shifter: {way: "
        "n-channel, "
        "gate: logic, threshold: 1.5 V, diode: 0.7 V}, pull: {up: 1M ±1 %, to: logic}], pin: L21}\n"
        "  c: {source: {logic: five, rate: 10 kHz}, stages: [shifter: {way: diode, drop: 0.35 V}, pull: {up: "
        "1M ±1 %, to: "
        "logic}], pin: L22}\n"
        "  d: {source: {logic: five, rate: 10 kHz}, stages: [series: 470 ohm ±1 %, clamp: pin], pin: L23}\n"
        "  k: {source: {potentiometer: 10k ±20 %, top: top}, pin: L4, reading: {of: pin, unit: V, decimals: "
        "1}}\n"
        "buses:\n  dome: {pins: {scl: L24, sda: L25}, stages: [pull: {up: 220 ohm ±1 %, to: logic}, cable: "
        "100 pF]}\n"
        "outputs:\n  lamp: {pin: L30, lamp: 1.9 V .. 2.2 V, series: 150 ohm ±5 %}\n"
        "  pump: {pin: L31, driver: {way: bipolar, gain: 20, saturation: 0.3 V, series: 10k ±1 %, load: "
        "{resistance: 200 ohm "
        ".. 240 ohm, supply: five}, flyback: yes}}\n";
    static const struct {
        const char *path, *job, *figure;
    } rows[] = {{"lamp.series", "lamp", "pin_a"},        {"pump.series", "driver", "load_high_a"},
                {"dome.pull", "bus-pull", "pin_high_v"}, {"top", "feed", "pin_high_v"},
                {"d.series", "injection", "pin_high_v"}, {"a.shifter", "shift", "pin_high_v"},
                {"a.pull", "shift", "pin_high_v"},       {"b.pull", "shift", "pin_high_v"},
                {"b.pull-2", "shift", "pin_high_v"},     {"c.pull", "shift", "pin_high_v"}};
    const char *path = scratch_file("kinds.plan.yaml", plan, strlen(plan));
    int status = 0;
    json_t *before = ask((const char *const[10]){"check", path, "--json"}, &status);
    CU_ASSERT(json_integer_value(json_object_get(before, "errors")) >= 3);
    json_decref(before);
    for (size_t i = 0; i < ROWS(rows); i++) {
        json_t *o = ask((const char *const[10]){"size", path, rows[i].path, "--write", "--json"}, &status);
        const json_t *choice = json_array_get(json_object_get(o, "choices"), 0);
        const char *job = json_string_value(json_object_get(o, "size"));
        CHECK_ROW(rows[i].path, status == 0 && job != NULL && strcmp(job, rows[i].job) == 0);
        CHECK_ROW(rows[i].path, json_is_number(json_object_get(choice, rows[i].figure)));
        if (strcmp(rows[i].path, "lamp.series") == 0) {
            json_t *checked = ask((const char *const[10]){"check", path, "--json"}, &status);
            const json_t *output = json_array_get(json_object_get(checked, "outputs"), 0);
            CU_ASSERT(near(json_number_value(json_object_get(output, "each_a")),
                           json_number_value(json_object_get(choice, "pin_a")), 1e-9));
            json_decref(checked);
        }
        json_decref(o);
    }
    json_t *after = ask((const char *const[10]){"check", path, "--json"}, &status);
    CU_ASSERT(json_integer_value(json_object_get(after, "errors")) == 0 &&
              json_integer_value(json_object_get(after, "warnings")) == 0);
    json_decref(after);
}

static void refuses_what_is_no_part(void)
{
    static const struct {
        const char *words[5];
        int status;
        const char *err;
    } rows[] = {
        {{"demo/fernhill.plan.yaml", "house-battery.nothing"}, 2, "it has: divider, filter"},
        {{"demo/fernhill.plan.yaml", "nobody.divider"}, 2, "nothing in the plan is called 'nobody'"},
        {{"demo/fernhill.plan.yaml", "house-batery.divider"}, 2, "did you mean 'house-battery.divider'?"},
        {{"demo/fernhill.plan.yaml", "map-lihgt.series"}, 2, "did you mean 'map-light.series'?"},
        {{"demo/fernhill.plan.yaml"}, 2, "which part of demo/fernhill.plan.yaml?"},
        {{"demo/fernhill.plan.yaml", "--all"}, 2, "which part of demo/fernhill.plan.yaml?"},
        {{"demo/fernhill.plan.yaml", "house-battery"}, 2, "expected SIGNAL.PART"},
        {{"demo/fernhill.plan.yaml", "roof-return.series"}, 2, "roof-return has no part that can be sized"},
        {{"demo/none.plan.yaml", "house-battery.divider"}, 3, "No such file"},
        {{"demo/fernhill.plan.yaml", "house-battery.divider", "--board=x"}, 2, "PLAN says all that"},
        {{"divider", "--vin=12V", "--vmax=3V", "--write"}, 2, "--write goes with PLAN and PART"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        run_result r =
            run_command("size", rows[i].words[0], rows[i].words[1], rows[i].words[2], rows[i].words[3], NULL);
        CHECK_ROW(rows[i].err, r.status == rows[i].status && strstr(r.err, rows[i].err) != NULL);
        if (r.status != rows[i].status)
            printf("\n  %s: %d %s%s", rows[i].words[1], r.status, r.out, r.err);
        run_free(&r);
    }
}

/* The least pull of a bus, asked of three: `size`, `check`, and the specification's formula written here. */
static void a_bus_pull_is_the_same_to_all(void)
{
    static const struct {
        const char *mode, *rail;
        double volts, low, amperes; /* at the worst point of the rail */
    } rows[] = {
        {"standard", "5 V", 5, 0.4, 3e-3},       {"standard", "3 V ±10 %", 3.3, 0.4, 3e-3},
        {"fast", "3.3 V", 3.3, 0.4, 3e-3},       {"fast", "1.8 V", 1.8, 0.36, 2e-3},
        {"fast", "2 V ±10 %", 2, 0.4, 2e-3},     {"fast-plus", "3.3 V ±5 %", 3.465, 0.4, 20e-3},
        {"fast-plus", "1.8 V", 1.8, 0.36, 2e-3},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        const double least = (rows[i].volts - rows[i].low) / rows[i].amperes;
        tl_bus_requirement w = tl_bus_requirement_default();
        tl_text_error error;
        double by_size = 0, most = 0;
        char why[240];
        w.mode = strcmp(rows[i].mode, "standard") == 0 ? TL_BUS_STANDARD
                 : strcmp(rows[i].mode, "fast") == 0   ? TL_BUS_FAST
                                                       : TL_BUS_FAST_PLUS;
        w.farads = 10e-12;
        CU_ASSERT(tl_quantity_read(rows[i].rail, TL_DIM_VOLT, &w.rail, &error));
        CHECK_ROW(rows[i].rail, tl_bus_limits(&w, &by_size, &most, why) && near(by_size, least, 1e-9));
        for (int inside = 0; inside < 2; inside++) {
            char text[700];
            int status = 0;
            bool told = false;
            snprintf(text, sizeof text,
                     HEAD "supplies: {line: %s}\nbuses:\n  dome: {pins: {scl: L24, sda: L25}, mode: "
                          "%s, stages: [pull: {up: %.1f ohm, to: line}, cable: 5 pF]}\n",
                     rows[i].rail, rows[i].mode, least * (inside == 1 ? 1.002 : 0.998));
            json_t *o = ask(
                (const char *const[10]){"check", scratch_file("bus.plan.yaml", text, strlen(text)), "--json"},
                &status);
            const json_t *findings = json_object_get(o, "findings");
            for (size_t f = 0; f < json_array_size(findings); f++)
                told = told || strcmp(json_string_value(json_object_get(json_array_get(findings, f), "slug")),
                                      "bus-pull") == 0;
            CHECK_ROW(rows[i].rail, o != NULL && status != 2 && status != 3 && told == (inside == 0));
            json_decref(o);
        }
    }
}

/* What no circuit answers: every row of that label says so. */
static bool asks_nothing(const char *label)
{
    bool nothing = false;
    for (int id = 0; id < TL_FIGURE_IDS; id++)
        nothing = nothing || (strcmp(tl_figure_row_of((tl_figure_id)id)->name, label) == 0 &&
                              tl_figure_row_of((tl_figure_id)id)->ask == TL_ASK_NOTHING);
    return nothing;
}

/* Every kind of sizing that the command knows, with questions that bring each of its ways and figures. */
static const struct {
    const char *kind, *words;
} every_kind[] = {
    {"divider", "--vin 10.5V..14.8V --vmax 3.2V --max-current 500uA --meter 10Mohm"},
    {"ratio", "--ratio 33/148 --sum 20k..200k"},
    {"partner", "--sensor 8k..12k --supply '3.3V ±2 %' --at 10k --board " BOARD},
    {"feed", "--track '10k ±20 %' --supply '5V ±5 %' --vmax 3.234V"},
    {"follower", "--vin 0V..3.2V --source-resistance 250k --supply '5V ±5 %' --vmax 3.5V --board " BOARD},
    {"pull", "--vdd '3.3V ±5 %' --direction down --wetting 200uA --board " BOARD},
    {"pull", "--vdd '3.3V ±2 %' --leakage 1uA"},
    {"guard", "--vdd 3.366V --pin-current 12mA"},
    {"guard", "--vdd 3.366V --pin-current 12mA --pull 40k --pin-leakage 50nA --pin-capacitance 1n"},
    {"lamp", "--supply '3.3V ±2 %' --vf 1.9V..2.2V --led-current 4mA"},
    {"driver", "--supply 12V --load-resistance 800ohm..1k --coil 100mH --voh 2.8V..3.4V --pin-current 8mA"},
    {"loop", "--vmax 3.2V --supply 24V"},
    {"bus-pull", "--mode fast --supply 3.3V --line-capacitance 200pF"},
    {"shift", "--driver-supply '5V ±5 %' --receiver-supply '3.3V ±2 %' --bit-rate 100kHz"},
    {"shift",
     "--driver-supply '3.3V ±2 %' --receiver-supply '5V ±5 %' --both-ways --open-drain --bit-rate 100kHz"},
    {"shift", "--driver-supply '1.8V ±5 %' --receiver-supply '3.3V ±2 %' --may-invert --injection 1mA"},
    {"mux", "--r-on 70ohm..200ohm --source-resistance 10k --board " BOARD},
    {"ladder", "--buttons 5"},
    {"filter", "--passband 20kHz --stopband 500kHz --board demo/plover.board.yaml"},
    {"reservoir", "--source-resistance 100k --sample-rate 100Hz --board " BOARD},
    {"injection", "--vin 0V..26V --vdd '3.3V ±2 %' --injection 1mA"},
    {"nearest", NULL}, /* values alone */
    {"marking", NULL},
};

static void every_figure_has_its_proof(void)
{
    run_result help = run_command("size", "--help", NULL);
    char *save = NULL;
    for (char *line = strtok_r(help.out, "\n", &save); line != NULL; line = strtok_r(NULL, "\n", &save)) {
        char kind[40];
        bool known = strncmp(line, "  ", 2) != 0 || strncmp(line, "  or:", 5) == 0 ||
                     sscanf(line + 2, "%39[a-z-]", kind) != 1;
        for (size_t i = 0; i < ROWS(every_kind) && !known; i++)
            known = strcmp(every_kind[i].kind, kind) == 0;
        CHECK_ROW(line, known);
    }
    run_free(&help);
    for (size_t i = 0; i < ROWS(every_kind); i++) {
        char line[400];
        size_t c, f;
        json_t *choice, *figure;
        snprintf(line, sizeof line, TL_BUILD "/tinyladder size %s %s --json", every_kind[i].kind,
                 every_kind[i].words);
        if (every_kind[i].words == NULL)
            continue;
        run_result r = run_program((const char *const[]){"/bin/sh", "-c", line, NULL}, TL_SOURCE);
        json_t *o = json_loads(r.out, 0, NULL), *choices = json_object_get(o, "choices");
        CHECK_ROW(line, r.status == 0 && json_array_size(choices) > 0);
        json_array_foreach(choices, c, choice)
        {
            json_array_foreach(json_object_get(choice, "figures"), f, figure)
            {
                const char *name = json_string_value(json_object_get(figure, "name"));
                CHECK_ROW(name, strcmp(json_string_value(json_object_get(figure, "by")), "circuit") == 0 ||
                                    asks_nothing(name));
            }
        }
        json_decref(o);
        run_free(&r);
    }
}

/* A sizing that no circuit is known for is refused, whatever it found. */
static void a_sizing_without_a_proof_is_refused(void)
{
    static const tl_facts facts;
    const tl_divider_requirement requirement = tl_divider_requirement_default();
    tl_stock stock = tl_stock_series(TL_E12, 1e3, 1e6, 0.01);
    tl_size_result *result = tl_size_result_new(&stock, 2);
    const tl_question question = {"limiter", &requirement, &facts, NULL};
    result->count = 1;
    tl_question_ask(&question, result, 2);
    CU_ASSERT(result->status == TL_SIZE_UNPROVED && result->count == 0 &&
              strstr(result->refusal, "limiter") != NULL);
    tl_size_result_free(result);
    tl_stock_free(&stock);
}

CU_TestInfo proposal_tests[] = {
    {"every kind of part is sized", every_kind_of_part_is_sized},
    {"every figure has its proof", every_figure_has_its_proof},
    {"a sizing without a proof is refused", a_sizing_without_a_proof_is_refused},
    {"an option that is typed wins", an_option_that_is_typed_wins},
    {"what is proposed passes", what_is_proposed_passes},
    {"every choice passes", every_choice_passes},
    {"a bus pull is the same to all", a_bus_pull_is_the_same_to_all},
    {"refuses what is no part", refuses_what_is_no_part},
    CU_TEST_INFO_NULL,
};
