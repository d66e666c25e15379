/* SPDX-License-Identifier: MIT */
/* The plug-in board: no hole twice, no body over a used hole, and what is joined is what the list says:
 * worked out anew from the holes alone. */
#include "sheet/placement.h"
#include "sheet/wiring_rows.h"
#include "support.h"
#include <glob.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

enum { KEYS_MOST = 3000 };

/* --- sets --- */

typedef struct {
    char (*name)[3 * WIRE_END];
    int *root;
    int count;
} sets;

static int set_of(sets *s, const char *name)
{
    for (int i = 0; i < s->count; i++) {
        if (strcmp(s->name[i], name) == 0)
            return i;
    }
    CU_ASSERT_FATAL(s->count < KEYS_MOST);
    snprintf(s->name[s->count], sizeof *s->name, "%s", name);
    s->root[s->count] = s->count;
    return s->count++;
}

static int root_of(const sets *s, int i)
{
    while (s->root[i] != i)
        i = s->root[i];
    return i;
}

static void join(sets *s, int a, int b)
{
    s->root[root_of(s, a)] = root_of(s, b);
}

static sets sets_new(void)
{
    return (sets){calloc(KEYS_MOST, 3 * WIRE_END), calloc(KEYS_MOST, sizeof(int)), 0};
}

static void sets_free(sets *s)
{
    free(s->name);
    free(s->root);
}

/* What a hole is part of: a strip, or a rail. */
static int copper(sets *s, const hole *h)
{
    char name[60];
    snprintf(name, sizeof name, h->kind == HOLE_RAIL ? "rail %d %d %d" : "strip %d %d %d", h->board, h->half,
             h->kind == HOLE_RAIL ? h->row : h->column);
    return set_of(s, name);
}

/* --- what the list says --- */

static int meant(sets *s, const wire *w, const wire_end *end)
{
    char name[3 * WIRE_END];
    if (end->kind == END_RAIL || end->kind == END_PIN) /* the same for all */
        snprintf(name, sizeof name, "%s %d", end->kind == END_RAIL ? "supply" : "pin", end->index);
    else
        snprintf(name, sizeof name, "%d %d %s: %s", w->kind, w->index, w->group, end->name);
    return set_of(s, name);
}

/* --- the proof --- */

typedef struct {
    const tl_plan *plan;
    const tl_plug_in *on;
    int *used; /* of each hole how often */
} proof;

static int *at(const proof *p, const hole *h)
{
    const int lines = p->on->rows + 2;
    return &p->used[((h->board * 2 + h->half) * p->on->columns + h->column) * lines +
                    (h->kind == HOLE_RAIL ? p->on->rows + h->row : h->row)];
}

static void use(const proof *p, const hole *h)
{
    if (h->kind != HOLE_NONE)
        ++*at(p, h);
}

/* What lies below a body, its legs not among them; false: a part cannot lie so. */
static bool cover(const proof *p, const placed *is)
{
    const bool turned = is->from.kind == HOLE_RAIL;
    const hole *a = turned ? &is->to : &is->from, *b = turned ? &is->from : &is->to;
    if (a->half != b->half || a->board != b->board)
        return false;
    if (b->kind == HOLE_STRIP) {
        for (int column = (a->column < b->column ? a->column : b->column) + 1;
             column < (a->column < b->column ? b->column : a->column); column++)
            use(p, &(hole){HOLE_STRIP, a->board, a->half, column, a->row});
        return a->row == b->row && abs(a->column - b->column) >= 3;
    }
    for (int row = b->row + 1; row < p->on->rails; row++)
        use(p, &(hole){HOLE_RAIL, a->board, a->half, a->column, row});
    return a->row == 0 && a->column == b->column;
}

static int doubly_used(const proof *p, const placement *of)
{
    const size_t count = (size_t)(of->boards * 2 * p->on->columns * (p->on->rows + 2));
    int twice = 0;
    for (size_t i = 0; i < count; i++)
        twice += p->used[i] > 1;
    return twice;
}

static int use_all(const proof *p, const placement *of)
{
    const placed *const lists[] = {of->rows, of->links, of->leads};
    const int counts[] = {of->count, of->link_count, of->lead_count};
    int askew = 0;
    for (int k = 0; k < 3; k++) {
        for (int i = 0; i < counts[k]; i++) {
            use(p, &lists[k][i].from);
            use(p, &lists[k][i].to);
            if (lists[k][i].lies)
                askew += !cover(p, &lists[k][i]);
        }
    }
    return askew;
}

/* How many pairs of ends are joined and should not, or the other way round. */
static int wrong_pairs(const wiring *list, const placement *of)
{
    sets holes = sets_new(), words = sets_new();
    int wrong = 0, ends = 0, (*end)[2] = calloc(2 * (size_t)list->count + 1, sizeof *end);
    for (int i = 0; i < of->link_count; i++) {
        const placed *link = &of->links[i];
        const int to = copper(&holes, &link->to);
        join(&holes, to,
             link->from.kind != HOLE_NONE ? copper(&holes, &link->from) : set_of(&holes, link->what));
    }
    for (int i = 0; i < list->count; i++) {
        const wire *w = &list->wires[i];
        const placed *is = &of->rows[i];
        const hole *const side[] = {&is->from, &is->to};
        const wire_end *const word[] = {&w->from, &w->to};
        const bool joins = w->path[0] == '\0' && strncmp(w->part, "wire", 4) == 0;
        if (is->from.kind != HOLE_NONE && is->to.kind != HOLE_NONE && joins)
            join(&holes, copper(&holes, &is->from), copper(&holes, &is->to));
        if (is->from.kind != HOLE_NONE && is->to.kind != HOLE_NONE && joins)
            join(&words, meant(&words, w, &w->from), meant(&words, w, &w->to));
        for (int e = 0; e < 2; e++) {
            if (side[e]->kind == HOLE_NONE)
                continue;
            end[ends][0] = copper(&holes, side[e]);
            end[ends++][1] = meant(&words, w, word[e]);
        }
    }
    for (int i = 0; i < ends; i++) {
        for (int k = 0; k < i; k++)
            wrong += (root_of(&holes, end[i][0]) == root_of(&holes, end[k][0])) !=
                     (root_of(&words, end[i][1]) == root_of(&words, end[k][1]));
    }
    free(end);
    sets_free(&holes);
    sets_free(&words);
    return wrong;
}

/* A part that is to be fitted has both legs in holes. */
static int unplaced(const wiring *list, const placement *of)
{
    int count = 0;
    for (int i = 0; i < list->count; i++) {
        const wire *w = &list->wires[i];
        const bool whole = of->rows[i].from.kind != HOLE_NONE && of->rows[i].to.kind != HOLE_NONE;
        if (w->path[0] != '\0' && !w->fitted && strncmp(w->part, "wire", 4) != 0)
            count += !whole;
    }
    return count;
}

static void prove(tl_plan *plan, const tl_plug_in *on, const char *name)
{
    tl_plug_in own = *on, *before = plan->plug_in;
    const wiring list = wiring_of(plan);
    plan->plug_in = &own;
    placement of = placement_of(plan, &list);
    proof p = {plan, on, calloc((size_t)(of.boards * 2 * on->columns * (on->rows + 2)) + 1, sizeof(int))};
    use_all(&p, &of);
    const int twice = doubly_used(&p, &of), wrong = wrong_pairs(&list, &of), left = unplaced(&list, &of);
    CHECK_ROW(name, twice == 0 && wrong == 0 && left == 0);
    if (twice + wrong + left > 0)
        printf("\n  %s, %d columns: %d holes twice, %d pairs wrong, %d parts without holes\n", name,
               on->columns, twice, wrong, left);
    free(p.used);
    placement_free(&of);
    plan->plug_in = before;
    free(list.wires);
}

static const tl_plug_in boards[] = {{63, 5, 2}, {30, 5, 2}, {17, 5, 1}, {64, 4, 0}, {10, 3, 2}};

static void what_is_joined_is_what_the_list_says(void)
{
    glob_t found;
    CU_ASSERT_FATAL(glob(TL_SOURCE "/demo/{sound/*,faulty/*,cold-frame,desk,fernhill}.plan.yaml", GLOB_BRACE,
                         NULL, &found) == 0);
    for (size_t i = 0; i < found.gl_pathc; i += THINNED) {
        tl_report *report = tl_report_new();
        tl_report_allow_outside(report, true);
        tl_plan *plan = tl_plan_load(found.gl_pathv[i], report);
        CU_ASSERT_FATAL(plan != NULL);
        for (size_t k = 0; k < ROWS(boards); k++)
            prove(plan, &boards[k], found.gl_pathv[i]);
        tl_plan_free(plan);
        tl_report_free(report);
    }
    globfree(&found);
}

/* Names that the list has for something else, too: a supply called as a leg is, a button and a chip as words
 * are. */
static void names_are_no_places(void)
{
    static const char text[] =
        "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\n"
        "supplies: {output: 5 V ±5 %, wiper: 12 V ±5 %}\nshared: {collector: {from: logic, series: "
        "1k}}\nsignals:\n"
        "  flow: {source: {logic: output, high: rail - 0.5 V, low: 0.4 V}, stages: [divider: {upper: 10k, "
        "lower: "
        "15k}], pin: L0}\n"
        "  knob: {source: {potentiometer: 10k, top: logic}, stages: [guard: 1k], pin: L4}\n"
        "  high: {source: {rail: wiper}, stages: [divider: {upper: 47k, lower: 10k}], pin: L5}\n"
        "  rain: {source: {open-collector: ground}, stages: [pull: {up: 10k, to: logic}, guard: 1k], pin: "
        "L12}\n"
        "  keys: {source: {chain: [behind: 0 ohm, L4: 1k, b: 2k2]}, stages: [pull: {up: 10k, to: "
        "collector}], pin: L6}\n"
        "  twice: {source: {voltage: 0 V .. 3 V, resistance: 1k}, stages: [follower: {supply: output}, "
        "filter: {series: "
        "1k, capacitor: 10 nF}, follower: {supply: output}], pin: L7}\n";
    static const struct {
        const char *group, *from;
        end_kind kind;
    } rows[] = {
        {"flow", "output", END_POINT},
        {"knob", "wiper", END_POINT},
        {"high", "wiper", END_RAIL},
        {"rain", "collector", END_POINT},
        {"collector", "collector", END_RAIL},
        {"keys", "behind leg 1", END_POINT},
        {"twice", "follower output", END_POINT},
        {"twice", "follower-2 output", END_POINT},
    };
    tl_report *report = tl_report_new();
    tl_report_allow_outside(report, true);
    tl_plan *plan = tl_plan_load(scratch_file("names.plan.yaml", text, strlen(text)), report);
    if (plan == NULL)
        tl_report_tell(report, stdout);
    CU_ASSERT_FATAL(plan != NULL);
    const wiring list = wiring_of(plan);
    for (size_t i = 0; i < ROWS(rows); i++) {
        bool found = false;
        for (int k = 0; k < list.count; k++)
            found = found || (strcmp(list.wires[k].group, rows[i].group) == 0 &&
                              strcmp(list.wires[k].from.name, rows[i].from) == 0 &&
                              list.wires[k].from.kind == rows[i].kind);
        CHECK_ROW(rows[i].from, found);
    }
    free(list.wires);
    for (size_t k = 0; k < ROWS(boards); k++)
        prove(plan, &boards[k], "names");
    tl_plan_free(plan);
    tl_report_free(report);
}

/* What is no plug-in board, and where it says so. */
static void a_board_has_columns(void)
{
    static const struct {
        const char *file, *said;
    } rows[] = {
        {"tinyladder: plug-in 1\n", "own.plug-in.yaml:1:1: error: a plug-in board needs 'columns'"},
        {"tinyladder: plug-in 1\ncolumns: 5\n",
         "own.plug-in.yaml:2:10: error: columns is a whole number from 10"},
        {"tinyladder: plug-in 1\ncolumns: 30\nrials: 2\n", "did you mean 'rails'?"},
        {"tinyladder: plug-in 1\ncolumns: 30\nrails: 3\n",
         "own.plug-in.yaml:3:8: error: rails is a whole number"},
        {"tinyladder: drawer 1\n", "expected 'plug-in 1', got 'drawer 1'"},
        {"tinyladder: plug-in 1\ncolumns: 30\nrows: 3\n", "0 errors"},
    };
    static const char plan[] =
        "tinyladder: plan 1\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\nplug-in: "
        "own.plug-in.yaml\noutputs: {lamp: {pin: L30, lamp: 2 V, series: 470 ohm ±5 %}}\n";
    (void)scratch_file("own.plan.yaml", plan, strlen(plan));
    for (size_t i = 0; i < ROWS(rows); i++) {
        (void)scratch_file("own.plug-in.yaml", rows[i].file, strlen(rows[i].file));
        run_result r = run_program(
            (const char *const[]){"/bin/sh", "-c", TL_BUILD "/tinyladder --outside check own.plan.yaml 2>&1",
                                  NULL},
            TL_SCRATCH);
        CHECK_ROW(rows[i].file, strstr(r.out, rows[i].said) != NULL);
        if (strstr(r.out, rows[i].said) == NULL)
            printf("\n  %s", r.out);
        run_free(&r);
    }
}

/* Breaks that the proof has to find. */
static void the_proof_finds_breaks(void)
{
    tl_report *report = tl_report_new();
    tl_report_allow_outside(report, true);
    tl_plan *plan = tl_plan_load(TL_SOURCE "/demo/fernhill.plan.yaml", report);
    CU_ASSERT_FATAL(plan != NULL);
    tl_plug_in own = boards[0];
    plan->plug_in = &own;
    const wiring list = wiring_of(plan);
    for (int breaks = 0; breaks < 3; breaks++) {
        placement of = placement_of(plan, &list);
        proof p = {plan, &own,
                   calloc((size_t)(of.boards * 2 * own.columns * (own.rows + 2)) + 1, sizeof(int))};
        placed *lying = of.rows, *first = NULL;
        for (; lying < of.rows + of.count; lying++) {
            if (!lying->lies || lying->to.kind != HOLE_STRIP)
                continue;
            if (first != NULL)
                break;
            first = lying;
        }
        CU_ASSERT_FATAL(first != NULL && lying < of.rows + of.count);
        if (breaks == 0)
            lying->from = first->from; /* a hole twice */
        else if (breaks == 1)
            lying->to.column++; /* another strip */
        else
            of.link_count = 0; /* strips that are one no more */
        (void)use_all(&p, &of);
        const int twice = doubly_used(&p, &of), wrong = wrong_pairs(&list, &of);
        CU_ASSERT(breaks == 0 ? twice > 0 : wrong > 0);
        free(p.used);
        placement_free(&of);
    }
    plan->plug_in = NULL;
    free(list.wires);
    tl_plan_free(plan);
    tl_report_free(report);
}

CU_TestInfo placement_tests[] = {
    {"what is joined is what the list says", what_is_joined_is_what_the_list_says},
    {"names are no places", names_are_no_places},
    {"a board has columns", a_board_has_columns},
    {"the proof finds breaks", the_proof_finds_breaks},
    CU_TEST_INFO_NULL};
