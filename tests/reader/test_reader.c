/* SPDX-License-Identifier: MIT */
/* Plans that cannot be read: one clear error each, at its place. */
#include "reader/bad_file.h"
#include "tinyladder/design/scene.h"
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#define HEAD "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\n"
#define KNOB "signals:\n  knob:\n    source: {potentiometer: 10k, top: logic}\n    pin: L5\n"

static void plans_are_refused_at_the_place(void)
{
    static const bad_file rows[] = {
        {"nothing but a comment", "# hello\n", "syntax", 1, 1, "nothing in this file"},
        {"not a plan", "a: b\n", "wrong-kind", 1, 1, "tinyladder: plan 1"},
        {"another kind", "tinyladder: scene 1\n", "wrong-kind", 1, 13, "expected 'plan 1'"},
        {"another version", "tinyladder: plan 2\n", "wrong-kind", 1, 13, "expected 'plan 1'"},
        {"broken YAML", HEAD "signals: [a\n", "syntax", 5, 1, ""},
        {"truncated", HEAD "signals:\n  knob: {source: \"abc\n", "syntax", 5, 19, "closing quote"},
        {"anchor", HEAD "signals: &a {}\n", "syntax", 4, 13, "anchors"},
        {"alias", HEAD "signals: *a\n", "syntax", 4, 11, "aliases"},
        {"tag", HEAD "signals: !x {}\n", "syntax", 4, 13, "tags"},
        {"two documents", "---\na: b\n---\nc: d\n", "syntax", 3, 1, "one document"},
        {"binary", "tinyladder: \x01\x02", "syntax", 1, 13, "is no text"},
        {"not UTF-8", "tinyladder: \xff", "syntax", 1, 13, "is no text"},
        {"unknown key", HEAD "titel: x\n" KNOB, "unknown-key", 4, 1, "did you mean 'title'"},
        {"key twice", HEAD "title: x\n" KNOB, "key-twice", 4, 1, "twice"},
        {"missing signals", HEAD, "missing-key", 1, 1, "needs 'signals'"},
        {"missing board file", "tinyladder: plan 1\ntitle: t\nboard: none.yaml\n" KNOB, "unreadable-file", 3,
         8, "No such file"},
        {"board is a folder", "tinyladder: plan 1\ntitle: t\nboard: /\n" KNOB, "unreadable-file", 3, 8,
         "folder"},
        {"unknown pin",
         HEAD "signals:\n  knob:\n    source: {potentiometer: 10k, top: logic}\n    pin: L55\n",
         "unknown-pin", 7, 10, "did you mean"},
        {"number as pin",
         HEAD "signals:\n  knob:\n    source: {potentiometer: 10k, top: logic}\n    pin: 3\n", "unknown-pin",
         7, 10, "position 3 is L0, channel 3 is L7"},
        {"pin is a supply",
         HEAD "signals:\n  knob:\n    source: {potentiometer: 10k, top: logic}\n    pin: 3V3\n",
         "pin-is-rail", 7, 10, "supply pin"},
        {"unknown rail",
         HEAD "signals:\n  knob:\n    source: {potentiometer: 10k, top: logik}\n    pin: L5\n",
         "unknown-rail", 6, 39, "did you mean 'logic'"},
        {"unit missing", HEAD "signals:\n  knob:\n    source: {potentiometer: 10, top: logic}\n    pin: L5\n",
         "bad-quantity", 6, 31, "'10' has no unit"},
        {"range reversed", HEAD "supplies: {b: 9 V .. 5 V}\n" KNOB, "bad-quantity", 4, 19, "reversed"},
        {"negative resistance",
         HEAD "signals:\n  knob:\n    source: {potentiometer: -10k, top: logic}\n    pin: L5\n",
         "bad-quantity", 6, 29, "cannot be negative"},
        {"not a number", HEAD "supplies: {b: .nan}\n" KNOB, "bad-quantity", 4, 15, "expected a voltage"},
        {"zero divider",
         HEAD "signals:\n  k:\n    source: {rail: logic}\n    stages: [divider: {upper: 10k, lower: 0 "
              "ohm}]\n    pin: L5\n",
         "zero-part", 7, 43, "above 0"},
        {"unknown stage",
         HEAD "signals:\n  k:\n    source: {rail: logic}\n    stages: [divder: {upper: 10k, lower: 1k}]\n    "
              "pin: L5\n",
         "unknown-key", 7, 14, "did you mean 'divider'"},
        {"unknown source", HEAD "signals:\n  k:\n    source: {lemon: 1}\n    pin: L5\n", "unknown-source", 6,
         13, "says what it is"},
        {"both ends on one rail",
         HEAD "signals:\n  k:\n    source: {potentiometer: 1k, top: logic, bottom: logic}\n    pin: L5\n",
         "same-rail", 6, 13, "same rail"},
        {"pull both ways",
         HEAD "signals:\n  k:\n    source: {contact: ground}\n    stages: [pull: {up: 1k, down: 1k, to: "
              "logic}]\n    pin: L5\n",
         "missing-key", 7, 20, "one of them"},
        {"typical outside", HEAD "supplies: {b: {range: 1 V .. 2 V, typical: 3 V}}\n" KNOB, "bad-quantity", 4,
         44, "outside the range"},
        {"percent ends alike",
         HEAD "signals:\n  k:\n    source: {rail: logic}\n    pin: L5\n    reading: {percent: {empty: 1 V, "
              "full: 1 V}}\n",
         "percent-ends", 8, 24, "the same"},
        {"two percents of one reading",
         HEAD "signals:\n  s:\n    source: {potentiometer: 10k, top: logic}\n    pin: L4\n    reading: {of: "
              "travel, unit: '%', percent: {empty: 2 %, full: 98 %}}\n",
         "percent-twice", 8, 47, "in % already"},
        {"travel of a rail",
         HEAD "signals:\n  k:\n    source: {rail: logic}\n    pin: L5\n    reading: {of: travel}\n",
         "unknown-word", 8, 19, "source, pin or counts"},
        {"signal name", HEAD "signals:\n  a b:\n    source: {rail: logic}\n    pin: L5\n", "bad-name", 5, 3,
         "is no name"},
        {"reference unknown", HEAD "converters: {main: {reference: outer}}\n" KNOB, "unknown-word", 4, 32,
         "logic, inner"},
        {"fewer pins than names",
         HEAD "signals:\n  k1 .. k3:\n    source: {rail: logic}\n    pin: L4 .. L5\n", "bad-name", 7, 10,
         "2 pins for 3 signals"},
        {"a name of a range that is there already",
         HEAD "signals:\n  k2: {source: {rail: logic}, pin: L4}\n  k1 .. k2: {source: {rail: logic}, pin: L5 "
              ".. L6}\n",
         "key-twice", 6, 3, "two signals 'k2'"},
        {"thresholds the wrong way round",
         HEAD KNOB "outputs: {line: {pin: L13, into: {vil: 2 V, vih: 0.8 V}}}\n", "vil-above-vih", 8, 40,
         "vil: 2 V is not below vih: 0.8 V"},
        {"and of a buffer",
         HEAD "signals:\n  b: {source: {logic: logic}, stages: [shifter: {way: buffer, supply: logic, vil: "
              "0.7 rail, "
              "vih: 0.3 rail, limits: 0 V .. 5 V}], pin: L12}\n",
         "vil-above-vih", 5, 83, "is not below"},
        {"include that is missing", HEAD "include: [none.yaml]\n" KNOB, "unreadable-file", 4, 11,
         "No such file"},
        {"include from elsewhere", HEAD "include: " TL_SOURCE "/demo/fernhill.plan.yaml\n" KNOB, "outside", 4,
         10, "outside the folder"},
        {"include of what is no plan", HEAD "include: other.scene.yaml\n" KNOB, "wrong-kind", 1, 13,
         "expected 'plan 1'"},
        {"a table from elsewhere",
         HEAD "signals:\n  k:\n    source: {resistance: away.table.csv, law: ln, over: 1 .. 2 degC}\n    "
              "pin: L5\n",
         "outside", 6, 26, "outside the folder"},
        {"an escape in a text", "tinyladder: plan 1\ntitle: \"a\\e[31mred\"\n", "syntax", 2, 9,
         "control character"},
        {"a control character of eight bits",
         "tinyladder: plan 1\ntitle: a\xc2\x9b"
         "31m\n",
         "syntax", 2, 9, "no text"},
        {"writing turned round", "tinyladder: plan 1\ntitle: \"\\u202eevil\"\n", "syntax", 2, 9,
         "control character"},
        {"a line break in a title", "tinyladder: plan 1\ntitle: |\n  two\n  lines\n", "syntax", 3, 0,
         "line break"},
        {"supply twice", HEAD "supplies: {a: 1 V, a: 2 V}\n" KNOB, "key-twice", 4, 20, "twice"},
        {"drawer that is a plan", HEAD "drawer: " TL_SOURCE "/demo/fernhill.plan.yaml\n" KNOB, "wrong-kind",
         2, 13, "expected 'drawer 1'"},
        {"a table without its law", HEAD "signals:\n  k:\n    source: {resistance: ntc.csv}\n    pin: L5\n",
         "missing-key", 6, 26, "a table says how it runs"},
        {"upper partner without its rail",
         HEAD "signals:\n  k:\n    source: {resistance: 10k, to: ground}\n    stages: [partner: {upper: "
              "10k}]\n    pin: L5\n",
         "missing-key", 7, 23, "needs 'to'"},
        {"compliance of no supply",
         HEAD "signals:\n  k:\n    source: {current: 4 mA .. 20 mA, compliance: 8 V}\n    pin: L5\n",
         "missing-key", 6, 13, "'supply' is missing"},
        {"a pull-down that the chip lacks",
         HEAD
         "signals:\n  k:\n    source: {contact: logic}\n    stages: [pull: {down: internal}]\n    pin: L12\n",
         "no-internal-pull", 7, 14, "no pull-down"},
        {"an internal pull with a rail",
         HEAD "signals:\n  k:\n    source: {contact: ground}\n    stages: [pull: {up: internal, to: "
              "logic}]\n    pin: L12\n",
         "missing-key", 7, 20, "no 'to'"},
        {"unit of another quantity",
         HEAD "signals:\n  k:\n    source: {current: 4 mA .. 20 mA}\n    pin: L5\n    reading: {unit: V}\n",
         "unknown-word", 8, 21, "A, mA"},
        {"scalar for a map", HEAD "signals: 5\n", "wrong-shape", 4, 10, "names with what they are"},
    };
    static const char other[] = "tinyladder: scene 1\n";
    scratch_file("other.scene.yaml", other, strlen(other));
    unlink(scratch_path("away.table.csv")); /* a link leads out as well as dots do */
    CU_ASSERT(symlink("/etc/passwd", scratch_path("away.table.csv")) == 0);
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_report *report = tl_report_new();
        CHECK_ROW(rows[i].name,
                  tl_plan_load(scratch_file("bad.plan.yaml", rows[i].text, strlen(rows[i].text)), report) ==
                      NULL);
        check_report(&rows[i], report);
        tl_report_free(report);
    }
}

/* Sections of several files join: chains of one are connected to rails of another; names count along with
 * their pins. */
static void includes_join_and_names_count_along(void)
{
    static const char dome[] = "tinyladder: plan 1\nsupplies: {dome: 5 V}\nsignals: {hatch: {source: "
                               "{contact: ground}, stages: [pull: {up: 1k, to: logic}], pin: L15}}\n";
    static const char twice[] = "tinyladder: plan 1\nsupplies: {main: 5 V}\n";
    static const char plan_text[] =
        HEAD "include: [dome.plan.yaml]\nsupplies: {main: 9 V}\nsignals:\n  k1 .. k3: {source: "
             "{potentiometer: 10k, top: dome}, stages: [series: 22k + 4k7], pin: L4 .. L6}\n";
    tl_report *report = tl_report_new();
    scratch_file("dome.plan.yaml", dome, strlen(dome));
    tl_plan *plan = tl_plan_load(scratch_file("joined.plan.yaml", plan_text, strlen(plan_text)), report);
    CU_ASSERT_FATAL(plan != NULL && plan->signal_count == 4);
    CU_ASSERT_STRING_EQUAL(plan->signals[2].name, "k3");
    CU_ASSERT_STRING_EQUAL(plan->pins[plan->signals[2].pin].name, "L6");
    CU_ASSERT_STRING_EQUAL(plan->supplies[plan->signals[0].source.supply].name, "dome");
    CU_ASSERT(plan->signals[0].stages[0].first.value.nominal == 26700 &&
              plan->signals[0].stages[0].first.parts[1] == 4700);
    tl_plan_free(plan);
    tl_report_free(report);
    report = tl_report_new();
    scratch_file("dome.plan.yaml", twice, strlen(twice));
    CU_ASSERT(tl_plan_load(scratch_file("joined.plan.yaml", plan_text, strlen(plan_text)), report) == NULL);
    CU_ASSERT(strcmp(tl_report_finding(report, 0)->slug, "key-twice") == 0 &&
              strstr(tl_report_path(report, tl_report_finding(report, 0)->place), "dome.plan.yaml") != NULL);
    tl_report_free(report);
}

static void all_errors_of_a_file_come_in_one_run(void)
{
    static const char text[] =
        HEAD "titel: x\nsupplies: {b: 5}\nsignals:\n  knob:\n    source: {potentiometer: 10, tip: logic}\n"
             "    stages: [gard: 1k, pull: {up: 10}]\n    pin: Q5\n    reading: {decimals: many}\n";
    tl_report *report = tl_report_new();
    CU_ASSERT(tl_plan_load(scratch_file("many.plan.yaml", text, strlen(text)), report) == NULL);
    CU_ASSERT(tl_report_count(report) == 9);
    tl_report_free(report);
}

/* What would cost a parser minutes or gigabytes. */
static void costly_files_are_refused_cheaply(void)
{
    static const struct {
        const char *name, *unit;
        size_t size;
        const char *slug, *says;
    } rows[] = {
        {"more than 1 MB", "x", (1u << 20) + 1, "unreadable-file", "larger than 1 MB"},
        {"one line of a megabyte", "a: ", 1u << 20, "syntax", "4000 bytes"},
        {"a million percent signs", "%", 1u << 20, "syntax", "begin with '%'"},
        {"brackets in brackets", "[\n", 1u << 20, "syntax", "nested too deeply"},
        {"braces", "{a: ", 2000, "syntax", "nested too deeply"},
        {"lists in lists", "- ", 400, "syntax", "nested too deeply"},
        {"blank lines", "  \n", 1u << 20, "syntax", "20000 lines"},
        {"zeros", "\0", 5000, "syntax", "is no text"},
        {"empty", "", 0, "unreadable-file", "is empty"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char *text = malloc(rows[i].size + 1);
        const size_t unit = strlen(rows[i].unit) > 0 ? strlen(rows[i].unit) : 1;
        for (size_t at = 0; at < rows[i].size; at++)
            text[at] = rows[i].unit[at % unit];
        tl_report *report = tl_report_new();
        CHECK_ROW(rows[i].name,
                  tl_plan_load(scratch_file("costly.yaml", text, rows[i].size), report) == NULL);
        CHECK_ROW(rows[i].name, tl_report_count(report) == 1 &&
                                    strcmp(tl_report_finding(report, 0)->slug, rows[i].slug) == 0 &&
                                    strstr(tl_report_finding(report, 0)->cause, rows[i].says) != NULL);
        tl_report_free(report);
        free(text);
    }
}

CU_TestInfo reader_tests[] = {
    {"plans are refused at the place", plans_are_refused_at_the_place},
    {"includes join and names count along", includes_join_and_names_count_along},
    {"all errors of a file come in one run", all_errors_of_a_file_come_in_one_run},
    {"costly files are refused cheaply", costly_files_are_refused_cheaply},
    CU_TEST_INFO_NULL,
};
