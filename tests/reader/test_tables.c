/* SPDX-License-Identifier: MIT */
/* Tables of sensors as data sheets have them: in any order, points that come again, and what contradicts
 * itself. */
#include "support.h"
#include <stdio.h>
#include <string.h>

#define PLAN                                                                                                 \
    "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE                                                        \
    "/demo/lapwing.board.yaml\nsignals:\n  s: {source: {resistance: "                                        \
    "t.table.csv, law: ln, over: 0 .. 100 degC}, stages: [partner: {upper: 1k ±1 %, to: logic}], pin: L4, " \
    "reading: "                                                                                              \
    "{unit: degC, decimals: 1}}\n"

static run_result read_with(const char *table)
{
    (void)scratch_file("t.table.csv", table, strlen(table));
    return run_command("read", scratch_file("table.plan.yaml", PLAN, strlen(PLAN)), "--json", NULL);
}

static void order_does_not_matter(void)
{
    static const char *const tables[] = {"degC,ohm\n0,8000\n20,3000\n50,900\n100,150\n",
                                         "degC,ohm\n50,900\n0,8000\n100,150\n20,3000\n",
                                         "degC,ohm\n100,150\n50,900\n50,900\n20,3000\n0,8000\n0,8000\n",
                                         "degC,kohm\n100,0.15\n50,0.9\n20,3\n0,8\n"};
    run_result first = read_with(tables[0]);
    CU_ASSERT(first.status == 0 && strstr(first.out, "\"degC\"") != NULL);
    for (size_t i = 1; i < ROWS(tables); i++) {
        run_result r = read_with(tables[i]);
        CHECK_ROW(tables[i], r.status == 0 && strcmp(r.out, first.out) == 0);
        run_free(&r);
    }
    run_free(&first);
}

static void contradictions_are_shown_at_their_line(void)
{
    static const struct {
        const char *table, *says;
    } rows[] = {
        {"degC,ohm\n0,8000\n20,3000\n0,7000\n",
         "t.table.csv:4:1: error: 0 degC stands there twice: 7000 ohm here, 8000"},
        {"degC,ohm\n0,8000\n50,900\n20,400\n",
         "t.table.csv:3:1: error: the table is not monotonic here: from 20 degC to 50"},
        {"degC,ohm\n0,8000\n50,900\n20,900\n",
         "t.table.csv:3:1: error: the table is not monotonic here: from 20 degC to 50"},
        {"degC,ohm\n0,8000\n0,8000\n", "t.table.csv:1:1: error: a table has at least two points"},
        {"degC,ohm\n", "t.table.csv:1:1: error: a table has at least two points"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        run_result r = read_with(rows[i].table);
        const bool right = r.status == 3 && strstr(r.out, rows[i].says) != NULL;
        CHECK_ROW(rows[i].table, right || strstr(r.err, rows[i].says) != NULL);
        if (!right && strstr(r.err, rows[i].says) == NULL)
            printf("\n%d %s%s", r.status, r.out, r.err);
        run_free(&r);
    }
}

CU_TestInfo table_file_tests[] = {
    {"order does not matter", order_does_not_matter},
    {"contradictions are shown at their line", contradictions_are_shown_at_their_line},
    CU_TEST_INFO_NULL,
};
