/* SPDX-License-Identifier: MIT */
/* Sensors' laws: published values, both ways, and tables that are refused. */
#include "support.h"
#include "tinyladder/design/plan.h"
#include <math.h>
#include <stdio.h>
#include <string.h>

#define HEAD "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\nsignals:\n"

static void agrees_with_published_values(void)
{
    static const tl_response platinum = {.law = TL_LAW_PLATINUM, .ohms = 100},
                             thermistor = {.law = TL_LAW_BETA, .ohms = 10e3, .at = 25, .beta = 3950},
                             steinhart = {.law = TL_LAW_STEINHART,
                                          .steinhart = {1.129241e-3, 2.341077e-4, 8.775468e-8}};
    static const struct {
        const char *name;
        const tl_response *curve;
        double celsius, ohms, within;
    } rows[] = {
        {"platinum, -100 degC (IEC 60751)", &platinum, -100, 60.26, 0.005},
        {"platinum, 0 degC", &platinum, 0, 100, 1e-9},
        {"platinum, 100 degC", &platinum, 100, 138.51, 0.005},
        {"platinum, 200 degC", &platinum, 200, 175.86, 0.005},
        {"platinum, 400 degC", &platinum, 400, 247.09, 0.005},
        {"thermistor, beta, 0 degC", &thermistor, 0, 33620.6, 0.05},
        {"thermistor, beta, 25 degC", &thermistor, 25, 10e3, 1e-6},
        {"thermistor, three coefficients, at their 25 degC", &steinhart, 25, 10e3, 2},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        CHECK_ROW(rows[i].name,
                  fabs(tl_response_ohms(rows[i].curve, rows[i].celsius) - rows[i].ohms) <= rows[i].within);
        const double back =
            tl_response_quantity(rows[i].curve, tl_response_ohms(rows[i].curve, rows[i].celsius));
        CHECK_ROW(rows[i].name, fabs(back - rows[i].celsius) < 1e-6);
    }
}

/* Each law is straight in what it says: half way between two points in that scale. */
static void tables_run_as_they_say(void)
{
    static tl_response_point points[] = {{10, 1000}, {1000, 100}};
    static const struct {
        tl_law law;
        double quantity, ohms;
    } rows[] = {{TL_LAW_LINEAR, 505, 550}, {TL_LAW_LN, 505, 316.227766}, {TL_LAW_LOG_LOG, 100, 316.227766}};
    for (size_t i = 0; i < ROWS(rows); i++) {
        const tl_response curve = {.law = rows[i].law, .points = points, .count = 2};
        CU_ASSERT(near(tl_response_ohms(&curve, rows[i].quantity), rows[i].ohms, 1e-8));
        CU_ASSERT(near(tl_response_quantity(&curve, rows[i].ohms), rows[i].quantity, 1e-8));
        CU_ASSERT(tl_response_ohms(&curve, 1) == 1000 &&
                  tl_response_quantity(&curve, 1) == 1000); /* beyond: the ends */
    }
}

static void bad_tables_are_refused_at_the_line(void)
{
    static const struct {
        const char *name, *text, *slug, *part;
        int line;
    } rows[] = {
        {"no head", "0,1000\n10,900\n", "bad-table", "units of both columns", 1},
        {"other unit", "degC,volts\n0,1000\n", "bad-table", "units of both columns", 1},
        {"one point", "degC,ohm\n0,1000\n", "bad-table", "at least two", 1},
        {"word", "degC,ohm\n0,1000\n10,many\n", "bad-table", "two numbers", 3},
        {"three columns", "degC,ohm\n0,1000,7\n", "bad-table", "two numbers", 2},
        {"not a number", "degC,ohm\n0,1000\nnan,10\n", "bad-table", "two numbers", 3},
        {"hexadecimal", "degC,ohm\n0,0x10\n", "bad-table", "two numbers", 2},
        {"zero ohms", "degC,ohm\n0,1000\n10,0\n", "bad-table", "above 0", 3},
        {"falls back", "degC,ohm\n0,1000\n10,900\n5,800\n", "table-order", "not monotonic", 3},
        {"turns", "degC,ohm\n0,1000\n10,900\n20,950\n", "table-order", "not monotonic", 4},
        {"open quote", "degC,ohm\n\"0,1000\n", "bad-table", "no CSV", 2},
        {"binary", "degC,ohm\n\x01,1\n", "syntax", "no text", 2},
        {"empty", "", "unreadable-file", "empty", 4},
    };
    static const char plan[] = HEAD "  s: {source: {resistance: bad.csv, law: ln}, stages: [partner: {upper: "
                                    "10k, to: logic}], pin: L4}\n";
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_report *report = tl_report_new();
        (void)scratch_file("bad.csv", rows[i].text, strlen(rows[i].text));
        tl_plan *read = tl_plan_load(scratch_file("table.plan.yaml", plan, strlen(plan)), report);
        CHECK_ROW(rows[i].name, read == NULL && tl_report_count(report) >= 1);
        const tl_finding *f = tl_report_count(report) > 0 ? tl_report_finding(report, 0) : NULL;
        const bool as_wanted = f != NULL && strcmp(f->slug, rows[i].slug) == 0 &&
                               strstr(f->cause, rows[i].part) != NULL &&
                               (f->place.line == rows[i].line || strcmp(rows[i].name, "empty") == 0);
        CHECK_ROW(rows[i].name, as_wanted);
        if (!as_wanted && f != NULL)
            printf("\n  %s: %s at %d: %s\n", rows[i].name, f->slug, f->place.line, f->cause);
        tl_plan_free(read);
        tl_report_free(report);
    }
}

CU_TestInfo curve_tests[] = {
    {"agrees with published values", agrees_with_published_values},
    {"tables run as they say", tables_run_as_they_say},
    {"bad tables are refused at the line", bad_tables_are_refused_at_the_line},
    CU_TEST_INFO_NULL,
};
