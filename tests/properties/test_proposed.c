/* SPDX-License-Identifier: MIT */
/*
 * What is proposed passes: every choice of every sizing, for random requirements, on both demo boards, from a
 * series and from a drawer, goes by its own plan lines into a plan on the real board, written in
 * proposed_jobs.c, and there no rule may object; and what `size` says stands at the pin is what that plan's
 * worst case says. And what passes by hand is proposed.
 */
#include "properties/proposed_jobs.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

enum { ROUNDS = 16, LONG = 400, KEPT = 3 };

static demo_board boards[] = {
    {TL_SOURCE "/demo/lapwing.board.yaml",
     {"L4", "L5"},
     {"L0", "L1"},
     {"L24", "L25"},
     {"L10, L11, L12", "L20, L21, L22"},
     {{{0, 0, 0, 0}}, {{0}, 0}}},
    {TL_SOURCE "/demo/plover.board.yaml",
     {"P8", "P9"},
     {"P4", "P5"},
     {"P12", "P13"},
     {"P2, P3, P4", "P5, P6, P7"},
     {{{0, 0, 0, 0}}, {{0}, 0}}},
};

/* --- asking --- */

static double figure_of(const tl_choice *c, const char *name)
{
    for (int i = 0; i < c->figures && name != NULL; i++) {
        if (strcmp(c->figure[i].name, name) == 0)
            return c->figure[i].value;
    }
    return NAN;
}

static bool same_or_unsaid(double said, double found)
{
    return isnan(said) || near(said, found, 1e-5) || fabs(said - found) < 1e-6;
}

static bool quiet;

static bool passes(size_t row, const tl_choice *c)
{
    static const char path[] = TL_SOURCE "/demo/proposed.plan.yaml";
    tl_report *report = tl_report_new();
    tl_report_allow_outside(report, true);
    tl_report_instead(report, path, proposed_plan, strlen(proposed_plan));
    tl_report_instead(report, TL_SOURCE "/demo/proposed.mux.yaml", proposed_mux, strlen(proposed_mux));
    tl_plan *read = tl_plan_load(path, report);
    tl_circuit *circuit = read != NULL ? tl_circuit_new(read) : NULL;
    bool good = circuit != NULL;
    if (good)
        tl_plan_check(circuit, report);
    for (int i = 0; i < tl_report_count(report); i++) {
        const tl_finding *f = tl_report_finding(report, i);
        if (f->severity < TL_WARNING)
            continue;
        good = false;
        if (!quiet)
            printf("\n  %s: %s: %s [%s]\n%s", proposed_jobs[row].kind, f->cause,
                   f->figure != NULL ? f->figure : "", f->slug, proposed_plan);
    }
    if (good && read->line_count > 0) {
        double low = INFINITY, high = -INFINITY;
        for (int state = 0; state < tl_circuit_nodes(circuit, 0)->states; state++) {
            low = fmin(low, tl_circuit_worst_case(circuit, 0, state)->volts.low);
            high = fmax(high, tl_circuit_worst_case(circuit, 0, state)->volts.high);
        }
        good = same_or_unsaid(figure_of(c, proposed_jobs[row].least), low) &&
               same_or_unsaid(figure_of(c, proposed_jobs[row].most), high);
        if (!good)
            printf("\n  %s: %g .. %g, the plan says %g .. %g\n%s", proposed_jobs[row].kind,
                   figure_of(c, proposed_jobs[row].least), figure_of(c, proposed_jobs[row].most), low, high,
                   proposed_plan);
    }
    if (good && proposed_jobs[row].found != NULL) {
        const double said = figure_of(c, proposed_jobs[row].figure),
                     found = proposed_jobs[row].found(circuit);
        good = found <= said * (1 + 1e-4) && found >= proposed_jobs[row].least_share * said * (1 - 1e-4);
        if (!good)
            printf("\n  %s: %s %.9g, the plan says %.9g\n%s", proposed_jobs[row].kind,
                   proposed_jobs[row].figure, said, found, proposed_plan);
    }
    tl_circuit_free(circuit);
    tl_plan_free(read);
    tl_report_free(report);
    return good;
}

static int ask_row(size_t row, const demo_board *b, const tl_stock *stock, const char *drawer)
{
    wanted w;
    int asked = 0;
    proposed_jobs[row].want(&w, b);
    tl_size_result *result = tl_size_result_new(stock, KEPT + 12);
    proposed_jobs[row].size(&w, result);
    const tl_question question = {proposed_jobs[row].kind, &w, &b->facts, drawer};
    tl_question_ask(&question, result, KEPT);
    for (int i = 0; i < result->count; i++, asked++) {
        const tl_choice *c = &result->choices[i];
        proposed_plan[0] = '\0';
        proposed_append("tinyladder: plan 1\ntitle: t\nboard: %s\n", b->path);
        if (drawer != NULL)
            proposed_append("drawer: %s\n", drawer);
        if (c->plan[0] == '\0') /* nothing is needed: nothing to put in */
            continue;
        proposed_jobs[row].plan(&w, b, c);
        CHECK_ROW(proposed_jobs[row].kind, passes(row, c));
    }
    tl_size_result_free(result);
    return asked;
}

/* --- and back: what passes is proposed --- */

/* Jobs without budgets of their own: parts that are put in by hand and pass `check` must be found by the
 * sizing that has these parts alone to choose from. */
static const struct {
    const char *kind, *lines; /* with the values in their order */
    int parts;
} by_hand[] = {
    {"divider", "- divider: {upper: %s ±1 %%, lower: %s ±1 %%}", 2},
    {"pull", "- pull: {%s: %s ±1 %%, to: %s}", 1},
    {"guard", "- guard: %s ±1 %%", 1},
    {"bus-pull", "- pull: {up: %s ±1 %%, to: RAIL}", 1},
    {"shift", "- pull: {up: %s ±1 %%, to: RAIL}", 1},
    {"injection", "- series: %s ±1 %%\n- clamp: pin", 1},
};

static void drop_budgets(const char *kind, wanted *w)
{
    if (strcmp(kind, "divider") == 0)
        w->divider.most_tap_ohms = INFINITY;
    if (strcmp(kind, "pull") == 0)
        w->pull.most_amperes = INFINITY;
    if (strcmp(kind, "shift") == 0)
        w->shift.open_drain = 1;
}

/* Whether it passes by hand; then it was asked whether it is proposed. */
static bool hand_made(size_t job, size_t row, const demo_board *b)
{
    wanted w;
    char value[2][40];
    tl_stock_part parts[2];
    for (int i = 0; i < by_hand[job].parts; i++) {
        double values[200];
        const double about = proposed_between(100, 1e6);
        CU_ASSERT_FATAL(tl_series_over(TL_E24, about, about * 2, values, 200) > 0);
        parts[i] = (tl_stock_part){values[0], 0.01, INFINITY, -1, 0, false};
        (void)tl_letter_code_write(values[0], value[i]);
    }
    tl_stock stock = {parts, by_hand[job].parts};
    if (stock.count == 2 &&
        parts[0].value > parts[1].value) { /* a stock rises; the upper leg is its second here */
        const tl_stock_part first = parts[0];
        parts[0] = parts[1];
        parts[1] = first;
    }
    proposed_jobs[row].want(&w, b);
    drop_budgets(by_hand[job].kind, &w);
    tl_choice c = {0};
    if (strcmp(by_hand[job].kind, "pull") == 0)
        snprintf(c.plan, sizeof c.plan, by_hand[job].lines, w.pull.down != 0 ? "down" : "up", value[0],
                 w.pull.down != 0 ? "ground" : "RAIL");
    else
        snprintf(c.plan, sizeof c.plan, by_hand[job].lines, value[0], value[1]);
    proposed_plan[0] = '\0';
    proposed_append("tinyladder: plan 1\ntitle: t\nboard: %s\n", b->path);
    proposed_jobs[row].plan(&w, b, &c);
    quiet = true;
    const bool sound = passes(row, &c);
    quiet = false;
    if (!sound || (strcmp(by_hand[job].kind, "divider") == 0 && w.divider.source.high <= w.divider.reference))
        return false; /* the latter needs none */
    tl_size_result *result = tl_size_result_new(&stock, KEPT + 12);
    proposed_jobs[row].size(&w, result);
    const tl_question question = {proposed_jobs[row].kind, &w, &b->facts, NULL};
    tl_question_ask(&question, result, KEPT);
    CHECK_ROW(proposed_jobs[row].kind, result->count > 0);
    if (result->count == 0) {
        printf("\n  %s passes and is not proposed: %s\n%s", proposed_jobs[row].kind, result->refusal,
               proposed_plan);
        for (int i = 0; i < result->rejected_count; i++)
            printf("    %s\n", result->rejected[i].why);
    }
    tl_size_result_free(result);
    return true;
}

static void what_passes_is_proposed(void)
{
    const int rounds = 40 * rounds_of(ROUNDS, LONG);
    int found = 0;
    for (size_t job = 0; job < ROWS(by_hand); job++) {
        size_t row = 0;
        int sound = 0;
        while (strcmp(proposed_jobs[row].kind, by_hand[job].kind) != 0)
            row++;
        for (int round = 0; round < rounds; round++)
            sound += hand_made(job, row, &boards[round % 2]);
        CHECK_ROW(by_hand[job].kind, sound > rounds / 100);
        if (!(sound > rounds / 100))
            printf("\n  %s: only %d\n", by_hand[job].kind, sound);
        found += sound;
    }
    printf("  %d by hand ", found);
}

static void every_proposal_passes(void)
{
    static const char drawer[] = TL_SOURCE "/demo/bench.drawer.yaml";
    const int rounds = rounds_of(ROUNDS, LONG);
    tl_report *report = tl_report_new();
    tl_stock series = tl_stock_series(TL_E24, 10, 10e6, 0.01), own = {0}, capacitors = {0};
    CU_ASSERT_FATAL(tl_drawer_load(drawer, &own, &capacitors, report));
    for (size_t i = 0; i < ROWS(boards); i++) {
        tl_board *board = tl_board_load(boards[i].path, report);
        CU_ASSERT_FATAL(board != NULL);
        tl_facts_of_board(board, &boards[i].facts);
        tl_board_free(board);
    }
    int proposals = 0;
    for (size_t row = 0; row < proposed_job_count; row++) {
        int asked = 0;
        for (int round = 0; round < rounds; round++) {
            const demo_board *b = &boards[round % 2];
            asked += ask_row(row, b, &series, NULL) + ask_row(row, b, &own, drawer);
        }
        CHECK_ROW(proposed_jobs[row].kind, asked >= rounds);
        proposals += asked;
        if (asked < rounds)
            printf("\n  %s: only %d choices\n", proposed_jobs[row].kind, asked);
    }
    printf("  %d proposals of %d kinds ", proposals, (int)proposed_job_count);
    tl_stock_free(&series);
    tl_stock_free(&own);
    tl_stock_free(&capacitors);
    tl_report_free(report);
}

CU_TestInfo proposed_tests[] = {
    {"every proposal passes", every_proposal_passes},
    {"what passes is proposed", what_passes_is_proposed},
    CU_TEST_INFO_NULL,
};
