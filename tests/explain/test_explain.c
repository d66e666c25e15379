/* SPDX-License-Identifier: MIT */
/* From what was seen to what is wrong: observations written by hand, faults played on benches with parts of
 * their own, and what is no observation. */
#include "explain/next.h"
#include "explain/rehearsal.h"
#include "support.h"
#include <glob.h>
#include <jansson.h>
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#define LAPWING "board: " TL_SOURCE "/demo/lapwing.board.yaml\n"

/* A divider, a knob and a contact, with counts that were worked out by hand: 3.3 V, 12 bits, half a step. */
static const char plan[] =
    "tinyladder: plan 1\ntitle: t\n" LAPWING "supplies: {house: 12 V ±20 %}\nsignals:\n"
    "  tap: {source: {rail: house}, stages: [divider: {upper: 47k ±1 %, lower: 12k ±1 %}], pin: L4,\n"
    "        reading: {unit: V, decimals: 2}}\n"
    "  knob: {source: {potentiometer: 10k ±20 %, top: logic}, pin: L5, reading: {unit: \"%\", points: [0 %: "
    "0 %, "
    "100 %: 100 %], decimals: 0}}\n"
    "  door: {source: {contact: ground}, stages: [pull: {up: 10k ±5 %, to: logic}, guard: 1k ±5 %], pin: "
    "L12}\n"
    "outputs: {lamp: {pin: L30, lamp: 2 V, series: 470 ohm ±5 %, shows: door}}\n";

static run_result shell(const char *line)
{
    return run_program((const char *const[]){"/bin/sh", "-c", line, NULL}, TL_SCRATCH);
}

static json_t *answer(const char *options, int status)
{
    char line[1500];
    snprintf(line, sizeof line, "'%s/tinyladder' --outside explain '%s' %s --json", TL_BUILD,
             scratch_file("explain.plan.yaml", plan, strlen(plan)), options);
    run_result r = shell(line);
    json_t *object = json_loads(r.out, 0, NULL);
    CHECK_ROW(options, r.status == status && object != NULL);
    if (r.status != status || object == NULL)
        printf("\n  %d: %s%s", r.status, r.out, r.err);
    run_free(&r);
    return object;
}

static const char *text_at(const json_t *list, size_t i, const char *key)
{
    const char *text = json_string_value(json_object_get(json_array_get(list, i), key));
    return text != NULL ? text : "";
}

static void names_what_was_done_to_it(void)
{
    static const struct {
        const char *options, *part, *kind;
        double least; /* probability */
        int status;
    } rows[] = {
        /* 12.3 V at 12/59 is 2.502 V: 3105 */
        {"tap --saw '3105 3104 3106' --source '12.3 V ±0.05 V'", "", "sound", 0.5, 0},
        /* 1.2k below 47k: 0.306 V, 380; so does 470k above 12k */
        {"tap --saw '380 380 381' --source '12.3 V ±0.05 V'", "tap.divider.lower", "tenth", 0.3, 1},
        {"tap --saw '0 0 0' --source '12.3 V ±0.05 V' --meter 'tap.source=12.3 V' --meter 'tap.divider=0 V'",
         "tap.source", "open", 0.2, 1},
        {"tap --saw '0 0 0' --source '12.3 V ±0.05 V' --ohms 'tap.divider,ground=0R' --meter 'house=12.3 V'",
         "tap.pin", "short-to-ground", 0.3, 1},
        {"tap --saw '0 0 0' --source '12.3 V ±0.05 V' --ohms 'tap.divider,ground=12k' --meter 'house=12.3 V'",
         "tap.source", "open", 0.5, 1},
        /* leads, probes and a joint have some ohms; a supply that nothing feeds some hundred millivolts */
        {"tap --saw '0 0 0' --source '12.3 V ±0.05 V' --ohms 'tap.divider,ground=2R' --meter 'house=12.3 V'",
         "tap.pin", "short-to-ground", 0.3, 1},
        {"tap --saw '0 0 0' --source '12.3 V ±0.05 V' --ohms 'tap.divider,ground=5R' --meter 'house=12.3 V'",
         "tap.pin", "short-to-ground", 0.3, 1},
        {"tap --saw '0 0 0' --meter 'house=0.15 V'", "house", "supply-missing", 0.5, 1},
        {"knob --saw '4095, 2048, 0' --source '0 %, 50 %, 100 %'", "knob.source", "ends-swapped", 0.7, 1},
        {"knob --saw '4090, 4092, 4094' --source '10 %, 50 %, 90 %'", "knob.source.lower", "ground-open", 0.5,
         1},
        {"tap --saw '3105, 3104' --source '12.3 V ±0.05 V'", "", "sound", 0.5, 0},
        {"knob --saw '154, 0, 101' --source '10 %, 50 %, 90 %'", "knob", "eight-bit", 0.4, 1},
        {"tap --saw '3105' --source '12.3 V ±0.05 V' --shown 'tap=2.50 V'", "tap", "wrong-constant", 0.5, 1},
        {"door --saw '1 1 1 1, 1 1 1 1' --source 'open, closed'", "door.source", "open", 0.2, 1},
        {"--output 'lamp=on,dim,3.2 V'", "lamp.series", "times-10", 0.5, 1},
        {"--output lamp=off,bright", "lamp.pin", "stuck-high", 0.4, 1},
        {"door --saw '0 0 0 0, 0 0 0 0' --source 'open, closed' --meter 'door.source=3.3 V'", "door.pin",
         "open", 0.3, 1},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        json_t *object = answer(rows[i].options, rows[i].status);
        const json_t *causes = json_object_get(object, "causes");
        const bool good = strcmp(text_at(causes, 0, "part"), rows[i].part) == 0 &&
                          strcmp(text_at(causes, 0, "kind"), rows[i].kind) == 0;
        CHECK_ROW(rows[i].options, good);
        if (!good)
            printf("\n  %s: %s %s, then %s %s\n", rows[i].options, text_at(causes, 0, "part"),
                   text_at(causes, 0, "kind"), text_at(causes, 1, "part"), text_at(causes, 1, "kind"));
        const double is = json_number_value(json_object_get(json_array_get(causes, 0), "probability"));
        CHECK_ROW(rows[i].options, is >= rows[i].least);
        if (is < rows[i].least)
            printf("\n  %s: %.2f\n", rows[i].options, is);
        json_decref(object);
    }
}

/* 12.3 V that reads as 6.1: no single fault of the table does that. */
static void says_where_nothing_explains_it(void)
{
    json_t *object = answer("tap --saw '3105 3104' --source '12.3 V ±0.05 V' --meter 'tap.divider=-5 V'", 1);
    const json_t *causes = json_object_get(object, "causes");
    CU_ASSERT(json_is_true(json_object_get(object, "impossible")));
    CU_ASSERT(json_array_size(causes) > 3);
    CU_ASSERT_STRING_NOT_EQUAL(text_at(causes, 0, "kind"), "sound");
    json_decref(object);
}

/* What is said of a rail by one of the signals that measure it goes for the others; it is said once. */
static void a_rail_has_one_value(void)
{
    static const char two[] =
        "tinyladder: plan 1\ntitle: t\n" LAPWING "supplies: {house: 12 V ±20 %}\nsignals:\n"
        "  tap: {source: {rail: house}, stages: [divider: {upper: 47k ±1 %, lower: 12k ±1 %}], pin: L4}\n"
        "  late: {source: {rail: house}, stages: [divider: {upper: 47k ±1 %, lower: 12k ±1 %}], pin: L5}\n";
    static const struct {
        const char *run, *said;
        int status;
    } rows[] = {
        /* 12.3 V is 3105 counts, with 39k it would be 3591 */
        {"explain two.plan.yaml tap --saw '3591 3590' --source '12.3 V ±0.05 V'",
         "tap.divider.upper has another value (39k)", 1},
        {"explain two.plan.yaml tap --saw '3105 3104' --source '12.3 V ±0.05 V'", "nothing is wrong", 0},
        {"explain two.plan.yaml --saw 'late=3591' --source 'tap=12.3 V ±0.05 V'",
         "late.divider.upper has another value (39k)", 1},
        {"explain two.plan.yaml --saw 'late=3105, tap=3105' --source 'tap=12 V, late=12 V'",
         "a rail has one, whichever signal measures it", 2},
        {"explain two.plan.yaml --observed both.observed.yaml",
         ":2:32: error: this source has a value already", 3},
        {"read two.plan.yaml --scene both.scene.yaml",
         ":3:21: error: 'tap' and 'late' measure the same rail: give it one value", 3},
        {"read two.plan.yaml --scene one.scene.yaml", "tap     L4    3099", 0},
    };
    static const char both_seen[] =
        "tinyladder: observed 1\nseen: [{sources: {tap: 12.3 V, late: 12.3 V}, counts: {tap: 3105}}]\n",
                      both[] = "tinyladder: scene 1\nlength: 1 s\nvalues: {tap: 12 V, late: 13 V}\n",
                      one[] = "tinyladder: scene 1\nlength: 1 s\nvalues: {late: 12.3 V}\n";
    (void)scratch_file("two.plan.yaml", two, strlen(two));
    (void)scratch_file("both.observed.yaml", both_seen, strlen(both_seen));
    (void)scratch_file("both.scene.yaml", both, strlen(both));
    (void)scratch_file("one.scene.yaml", one, strlen(one));
    for (size_t i = 0; i < ROWS(rows); i++) {
        char line[900];
        snprintf(line, sizeof line, "'%s/tinyladder' --outside %s 2>&1", TL_BUILD, rows[i].run);
        run_result r = shell(line);
        CHECK_ROW(rows[i].run, r.status == rows[i].status && strstr(r.out, rows[i].said) != NULL);
        if (r.status != rows[i].status || strstr(r.out, rows[i].said) == NULL)
            printf("\n  %s: %d %s", rows[i].run, r.status, r.out);
        run_free(&r);
    }
}

static void proposes_what_parts_the_causes(void)
{
    json_t *object = answer("tap --saw '0 0 0' --source '12.3 V ±0.05 V'", 1);
    const json_t *next = json_object_get(object, "next");
    CU_ASSERT(strncmp(json_string_value(json_object_get(next, "point")), "tap.", 4) == 0 ||
              strcmp(json_string_value(json_object_get(next, "point")), "house") == 0);
    CU_ASSERT(json_number_value(json_object_get(next, "gain_bits")) > 0.2);
    CU_ASSERT(json_array_size(json_object_get(next, "predicted")) > 1);
    json_decref(object);
    /* And goes on with the answers, from a pipe too. */
    char line[900];
    snprintf(line, sizeof line,
             "printf 'much\\n12 kohm\\n12.3 V\\nskip\\n' | '%s/tinyladder' --outside explain '%s' tap --saw "
             "'0 0 0' "
             "--source '12.3 V ±0.05 V' --ask",
             TL_BUILD, scratch_path("explain.plan.yaml"));
    run_result r = shell(line);
    CU_ASSERT(
        r.status == 1 &&
        strstr(r.out,
               "Next, switch the power off, and measure the resistance between tap.divider and ground") !=
            NULL &&
        strstr(r.out, "expected a resistance") != NULL && strstr(r.out, "ohms tap.divider,ground") != NULL);
    run_free(&r);
}

static void refuses_what_is_no_observation(void)
{
    static const struct {
        const char *options, *said;
        int status;
    } rows[] = {
        {"", "what was seen? Such as: tinyladder explain", 2},
        {"tap", "what was seen?", 2},
        {"tapp --saw 1", "the plan has no such signal", 2},
        {"tapp --saw 1", "did you mean 'tap'?", 2},
        {"lamp --saw 1", "--output", 2},
        {"door --saw 7", "a level is 1 for high or 0 for low", 2},
        {"knob --saw 2050 --source '150 %'", "travel lies within 0 % .. 100 %", 2},
        {"tap knob --saw '1, 2, 3'", "--saw", 2},
        {"tap --saw '1, 2, 3' --source '12 V, 13 V'", "--source", 2},
        {"tap --saw 100 --source 12V --source 13V", "--source", 2},
        {"tap --saw 1e", "expected a count or a level", 2},
        {"--saw 12", "of which signal?", 2},
        {"tap --saw 12 --source 5degC", "--source", 2},
        {"door --saw 1 --source ajar", "expected a state", 2},
        {"tap --saw 12 --meter tap.nowhere=1V", "no point 'tap.nowhere'", 2},
        {"tap --saw 12 --meter 1V", "expected NAME=VALUE", 2},
        {"tap --saw 12 --ohms 'tap.divider,ground'", "expected A,B=RESISTANCE", 2},
        {"tap --saw 12 --ohms 'tap.divider=12k'", "expected two points: A,B=RESISTANCE", 2},
        {"tap --saw 12 --ohms 'tap.divider,tap.nowhere=12k'", "no point 'tap.nowhere'", 2},
        {"tap --saw 12 --ohms 'ground,ground=12k'", "these are one point", 2},
        {"tap --saw 12 --ohms 'tap.divider,ground=5 V'", "--ohms", 2},
        {"--record /nowhere.csv", "/nowhere.csv", 3},
        {"tap --saw 12 --shown 'tap=3 degC'", "in V", 2},
        {"tap --saw 12 --output horn=on,dark", "no output 'horn'", 2},
        {"tap --saw 12 --output lamp=on,dark,much", "--output: 'much'", 2},
        {"tap --saw 12 --output lamp=lit", "such as 'on, dark'", 2},
        {"--observed /nowhere.yaml", "/nowhere.yaml", 3},
        {"tap --saw 12 --ask --json", "--ask: without --json", 2},
        {"--mystery 1 --saw 12", "--mystery: the bench is what is seen", 2},
        {"tap --saw 12 --reveal", "--reveal: with --mystery", 2},
        {"--counts /nowhere", "/nowhere", 3},
        {"tap --saw 12 --priors /nowhere.csv", "/nowhere.csv", 3},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char line[900];
        snprintf(line, sizeof line, "'%s/tinyladder' --outside explain '%s' %s", TL_BUILD,
                 scratch_file("explain.plan.yaml", plan, strlen(plan)), rows[i].options);
        run_result r = shell(line);
        CHECK_ROW(rows[i].options, r.status == rows[i].status && strstr(r.err, rows[i].said) != NULL);
        if (r.status != rows[i].status || strstr(r.err, rows[i].said) == NULL)
            printf("\n  %s: %d %s", rows[i].options, r.status, r.err);
        run_free(&r);
    }
    static const struct {
        const char *text, *said;
    } files[] = {
        {"tinyladder: observed 1\n", ":1:"},
        {"tinyladder: observed 1\nseen: [{counts: {tapp: 1}}]\n",
         ":2:18: error: the plan has no signal 'tapp'"},
        {"tinyladder: observed 1\nseen: [{counts: {tap: [1, many]}}]\n", "expected a count"},
        {"tinyladder: observed 1\nseen: [{sources: {tap: 5 A}}]\n", ":2:24:"},
        {"tinyladder: observed 1\nseen: [{meters: {tap.x: 5 V}}]\n", "no point 'tap.x'"},
        {"tinyladder: observed 1\nseen: [{ohms: {'tap.divider': 12k}}]\n",
         ":2:31: error: expected two points"},
        {"tinyladder: observed 1\nseen: [{outputs: {horn: on}}]\n", "no output 'horn'"},
        {"tinyladder: observed 1\nseen: [{cuonts: {tap: 1}}]\n", "did you mean 'counts'?"},
    };
    for (size_t i = 0; i < ROWS(files); i++) {
        char line[900];
        const char *file = scratch_file("x.observed.yaml", files[i].text, strlen(files[i].text));
        snprintf(line, sizeof line, "'%s/tinyladder' --outside explain '%s' --observed '%s'", TL_BUILD,
                 scratch_path("explain.plan.yaml"), file);
        run_result r = shell(line);
        CHECK_ROW(files[i].text, r.status == 3 && strstr(r.err, files[i].said) != NULL);
        if (r.status != 3 || strstr(r.err, files[i].said) == NULL)
            printf("\n  %s: %d %s", files[i].text, r.status, r.err);
        run_free(&r);
    }
}

/* From the board, with weights of one's own, and on a bench with a hidden fault. */
static void takes_what_is_there(void)
{
    static const struct {
        const char *script, *said;
        int status;
        const char *also;
    } rows[] = {
        {"printf 'tap 380\nknob 2000\n' | %s explain explain.plan.yaml --counts - --source 'tap=12.3 V ±0.05 "
         "V'",
         "tap.divider.lower is ten times too small", 1, NULL},
        {"printf 'kind,weight\ntenth,0\n' >own.csv; %s explain explain.plan.yaml tap --saw '380 380 381' "
         "--source "
         "'12.3 V ±0.05 V' --priors own.csv",
         "tap.divider.upper is ten times too large", 1, NULL},
        {"printf 'tenth,0\nthird,1\n' >own.csv; %s explain explain.plan.yaml tap --saw 1 --priors own.csv "
         "2>&1",
         "own.csv:2:", 3, NULL},
        {"printf 'tenth,many\n' >own.csv; %s explain explain.plan.yaml tap --saw 1 --priors own.csv 2>&1",
         "expected a kind of fault and its weight", 3, NULL},
        {"printf '\n\n\n' | %s explain explain.plan.yaml --mystery 3 --ask --reveal", "measured: ", 1, NULL},
        {"rm -f r.csv; printf 'tinyladder: scene 1\nlength: 9 s\nvalues: {knob: [0 s: 20 %%%%]}\nfaults: "
         "[{reversed: knob.source}]\n' "
         ">e.scene.yaml; "
         "%1$s "
         "record explain.plan.yaml --scene e.scene.yaml --for 3s -o r.csv; %1$s explain explain.plan.yaml "
         "knob "
         "--record r.csv --source '20 %%'",
         "the ends of knob.source are exchanged", 1, NULL},
        {"%s explain explain.plan.yaml door --saw 1 --source closed --meter 'door.pin=3.3 V'",
         "Next, with door closed, switch the power off", 1, NULL},
        /* Behind a multiplexer the pins of all channels are one point, and which is selected matters. */
        {"%s explain " TL_SOURCE "/demo/fernhill.plan.yaml heater-3 --saw 4095 --source '5 degC ±2 degC'",
         "  heater-3.pin touches battery\n", 1, "Next, with heater-3 selected, measure the voltage at "},
    };
    (void)scratch_file("explain.plan.yaml", plan, strlen(plan));
    for (size_t i = 0; i < ROWS(rows); i++) {
        char line[1200];
        snprintf(line, sizeof line, rows[i].script, TL_BUILD "/tinyladder --outside");
        run_result r = shell(line);
        CHECK_ROW(rows[i].script, r.status == rows[i].status && strstr(r.out, rows[i].said) != NULL &&
                                      (rows[i].also == NULL || strstr(r.out, rows[i].also) != NULL));
        if (r.status != rows[i].status || strstr(r.out, rows[i].said) == NULL)
            printf("\n  %s: %d %s%s", rows[i].script, r.status, r.out, r.err);
        run_free(&r);
    }
}

/* A reading that is flagged, and a trim that no tolerance explains, say how to ask for the cause. */
static void is_offered_where_it_is_needed(void)
{
    static const struct {
        const char *script, *said;
    } rows[] = {
        {"printf 'tinyladder: scene 1\nlength: 9 s\nfaults: [{open: knob.pin}]\n' >open.scene.yaml; %s read "
         "explain.plan.yaml --scene open.scene.yaml",
         "To find the cause: tinyladder explain explain.plan.yaml --saw 'knob="},
        {"%s trim explain.plan.yaml tap 1000=9.1V 2000=11.3V",
         "tinyladder explain explain.plan.yaml tap --saw '1000, 2000' --source '9.1 V, 11.3 V'"},
    };
    (void)scratch_file("explain.plan.yaml", plan, strlen(plan));
    for (size_t i = 0; i < ROWS(rows); i++) {
        char line[1200];
        snprintf(line, sizeof line, rows[i].script, TL_BUILD "/tinyladder --outside");
        run_result r = shell(line);
        CHECK_ROW(rows[i].script, strstr(r.out, rows[i].said) != NULL);
        if (strstr(r.out, rows[i].said) == NULL)
            printf("\n  %s: %d %s%s", rows[i].script, r.status, r.out, r.err);
        run_free(&r);
    }
}

/* --- faults that are played --- */

typedef struct {
    int sound, sound_said, told, first, alike;
} tally;

static bool is_named(const diagnosis *d, const hypothesis *truth, const ranked_cause *c)
{
    const hypothesis *h = &d->all.list[c->hypothesis];
    if (strcmp(h->part, truth->part) == 0 && strcmp(h->kind, truth->kind) == 0)
        return true;
    for (int i = 0; i < c->also_count; i++) {
        const hypothesis *other = &d->all.list[c->also[i]];
        if (strcmp(other->part, truth->part) == 0 && strcmp(other->kind, truth->kind) == 0)
            return true;
    }
    return false;
}

static void play(tl_circuit *circuit, const hypothesis *truth, unsigned long seed, tally *t)
{
    diagnosis d;
    tl_report *report = tl_report_new();
    observed seen = rehearsal_situations(circuit, 4);
    rehearsal_observe(&(rehearsal){circuit, truth, seed, 1}, &seen);
    CU_ASSERT_FATAL(diagnose(&d, circuit, &seen, &(diagnose_options){NULL, false}, report));
    if (truth->line == NULL) {
        t->sound++;
        t->sound_said += d.causes[0].hypothesis == 0;
    } else if (!d.within) {
        bool alike = false;
        for (int i = 0; i < d.count; i++)
            alike = alike || (d.causes[i].alike && is_named(&d, truth, &d.causes[i]));
        t->told++;
        t->first += is_named(&d, truth, &d.causes[0]);
        t->alike += alike;
        if (!alike && getenv("TL_LONG") != NULL)
            printf("\n  %s %s %s: %s %s\n", truth->part, truth->kind, truth->value,
                   d.all.list[d.causes[0].hypothesis].part, d.all.list[d.causes[0].hypothesis].kind);
    }
    diagnosis_free(&d);
    observed_free(&seen);
    tl_report_free(report);
}

/* With other parts than the predictions are made of: the truth is among those that look alike, sound is
 * called sound. */
static void finds_what_is_played(void)
{
    tally t = {0, 0, 0, 0, 0};
    tl_report *report = tl_report_new();
    tl_report_allow_outside(report, true);
    tl_plan *of = tl_plan_load(scratch_file("explain.plan.yaml", plan, strlen(plan)), report);
    CU_ASSERT_FATAL(of != NULL);
    tl_circuit *circuit = tl_circuit_new(of);
    hypotheses all = hypotheses_of_plan(circuit);
    const int every = getenv("TL_LONG") != NULL ? 1 : 2 * THINNED;
    for (int i = 2; i < all.count; i += every)
        play(circuit, &all.list[i], 5000 + (unsigned long)i, &t);
    for (unsigned long seed = 1; seed <= (unsigned long)rounds_of(12, 100); seed++)
        play(circuit, &all.list[0], 9000 + seed, &t);
    CU_ASSERT(t.sound_said >= t.sound - t.sound / 12);
    CU_ASSERT(t.told > 20 / THINNED && t.alike >= 0.9 * t.told && t.first >= 0.5 * t.told);
    printf("  %d of %d sound, of %d faults %d alike, %d first ", t.sound_said, t.sound, t.told, t.alike,
           t.first);
    hypotheses_free(&all);
    tl_circuit_free(circuit);
    tl_plan_free(of);
    tl_report_free(report);
}

static void reads_back(tl_circuit *circuit, const char *path, const seen_meter *proposed)
{
    tl_text_error error = {0, ""};
    seen_meter read = {.node = TL_NONE};
    const bool ohms = proposed->other != TL_NET_NONE,
               good = (ohms ? seen_ohms_read : seen_meter_read)(&read, circuit, proposed->point,
                                                                ohms ? "1k" : "1 V", &error);
    CHECK_ROW(path, good && read.node == proposed->node && read.other == proposed->other);
    CHECK_ROW(path, strstr(proposed->point, ".high") == NULL && strstr(proposed->point, ".emf") == NULL);
    if (!good || read.node != proposed->node || read.other != proposed->other)
        printf("\n  %s: %s: %s\n", path, proposed->point, error.text);
}

/* Where it says to measure is a place that a probe reaches, and is taken as it is written. */
static void what_it_proposes_can_be_typed(void)
{
    glob_t found;
    int proposed = 0;
    CU_ASSERT_FATAL(glob(TL_SOURCE "/demo/sound/*.plan.yaml", 0, NULL, &found) == 0);
    for (size_t i = 0; i < found.gl_pathc; i += 3 * THINNED) {
        diagnosis d;
        next_measurement next;
        tl_report *report = tl_report_new();
        tl_report_allow_outside(report, true);
        tl_plan *of = tl_plan_load(found.gl_pathv[i], report);
        CU_ASSERT_FATAL(of != NULL);
        tl_circuit *circuit = tl_circuit_new(of);
        hypotheses all = hypotheses_of_plan(circuit);
        observed seen = rehearsal_situations(circuit, 2);
        rehearsal_observe(&(rehearsal){circuit, &all.list[FIRST_FAULT], 77, 1}, &seen);
        CU_ASSERT_FATAL(diagnose(&d, circuit, &seen, &(diagnose_options){NULL, false}, report));
        if (next_of(&d, &next)) {
            reads_back(circuit, found.gl_pathv[i], &next.meter);
            proposed++;
        }
        diagnosis_free(&d);
        observed_free(&seen);
        hypotheses_free(&all);
        tl_circuit_free(circuit);
        tl_plan_free(of);
        tl_report_free(report);
    }
    CU_ASSERT(proposed > 8 / THINNED);
    globfree(&found);
}

/* What the sum of what the table says about the plan is asked for once is asked for alike. */
static void the_same_question_has_the_same_answer(void)
{
    json_t *one = answer("tap --saw '380 380 381' --source '12.3 V ±0.05 V'", 1),
           *two = answer("--saw 'tap=380 380 381' --source 'tap=12.25 V .. 12.35 V'", 1);
    CU_ASSERT(json_equal(one, two));
    json_decref(one);
    json_decref(two);
}

/* Of a source that nothing is said of the plan's own range holds: ends by hand, 150 ohm ±1 % at 3.3 V ±2 %,
 * and a thermistor of 33.62 kOhm at 0 degC and 2.488 kOhm at 60 degC under 10 kOhm. A cause that gives
 * another count for sure is not it either. */
static void a_source_has_its_range(void)
{
    static const char text[] =
        "tinyladder: plan 1\ntitle: t\n" LAPWING "signals:\n"
        "  level: {source: {current: 4 mA .. 20 mA}, stages: [load: 150 ohm ±1 %], pin: L5, reading: {unit: "
        "'%', "
        "points: [4 mA: 0 %, 20 mA: 100 %]}}\n"
        "  water: {source: {resistance: 10k ±1 %, at: 25 degC, beta: 3950 K, over: 0 .. 60 degC}, stages: "
        "[partner: "
        "{upper: 10k ±1 %, to: logic}], pin: L6, reference: logic, reading: {unit: degC}}\n";
    static const struct {
        const char *saw;
        bool within;
        const char *first, *not_first; /* a place and its kind, or NULL */
        bool impossible;               /* the converter has no such count */
    } rows[] = {
        {"level --saw 0", false, "level.source open", NULL, false},
        {"level --saw 700", false, NULL, "level.source open", false}, /* 4 mA is 722 at least */
        {"level --saw 735", true, NULL, NULL, false},
        {"level --saw 3820", true, NULL, NULL, false}, /* 20 mA is 3838 at most */
        {"level --saw 3880", false, NULL, NULL, false},
        {"water --saw 4095", false, "water.source open", NULL, false},
        {"water --saw 3220", false, NULL, "water.source open", false}, /* 0 degC is 3173 at most */
        {"water --saw 3140", true, NULL, NULL, false},
        {"water --saw 835", true, NULL, NULL, false},
        {"water --saw 770", false, NULL, NULL, false}, /* 60 degC is 803 at least */
        {"water --saw 0", false, NULL, "water.source open", false},
        {"level --saw 4096", false, NULL, NULL, true},
        {"level --saw 5000", false, NULL, NULL, true},
        {"--saw level=0 --saw water=2048 --source 'water=25 degC ±1 degC'", false, "level.source open", NULL,
         false},
    };
    const char *path = scratch_file("range.plan.yaml", text, strlen(text));
    for (size_t i = 0; i < ROWS(rows); i++) {
        char line[700], is[200];
        snprintf(line, sizeof line, "'%s/tinyladder' --outside explain '%s' %s --json", TL_BUILD, path,
                 rows[i].saw);
        run_result r = shell(line);
        json_t *object = json_loads(r.out, 0, NULL);
        const json_t *first = json_array_get(json_object_get(object, "causes"), 0);
        CHECK_ROW(rows[i].saw, r.status == (rows[i].within ? 0 : 1));
        CHECK_ROW(rows[i].saw, json_is_true(json_object_get(object, "within")) == rows[i].within);
        snprintf(is, sizeof is, "%s %s", json_string_value(json_object_get(first, "part")),
                 json_string_value(json_object_get(first, "kind")));
        CHECK_ROW(rows[i].saw, (strcmp(is, " sound") == 0) == rows[i].within);
        CHECK_ROW(rows[i].saw, json_is_true(json_object_get(object, "impossible")) == rows[i].impossible);
        const json_t *causes = json_object_get(object, "causes");
        for (size_t k = 0; k < json_array_size(causes) && !rows[i].within; k++)
            CHECK_ROW(rows[i].saw,
                      json_string_length(json_object_get(json_array_get(causes, k), "part")) > 0);
        CHECK_ROW(rows[i].saw, rows[i].first == NULL || strcmp(is, rows[i].first) == 0);
        CHECK_ROW(rows[i].saw, rows[i].not_first == NULL || strcmp(is, rows[i].not_first) != 0);
        json_decref(object);
        run_free(&r);
    }
}

CU_TestInfo explain_tests[] = {
    {"a source has its range", a_source_has_its_range},
    {"names what was done to it", names_what_was_done_to_it},
    {"says where nothing explains it", says_where_nothing_explains_it},
    {"a rail has one value", a_rail_has_one_value},
    {"proposes what parts the causes", proposes_what_parts_the_causes},
    {"refuses what is no observation", refuses_what_is_no_observation},
    {"takes what is there", takes_what_is_there},
    {"is offered where it is needed", is_offered_where_it_is_needed},
    {"finds what is played", finds_what_is_played},
    {"what it proposes can be typed", what_it_proposes_can_be_typed},
    {"the same question has the same answer", the_same_question_has_the_same_answer},
    CU_TEST_INFO_NULL,
};
