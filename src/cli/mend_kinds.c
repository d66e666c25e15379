/* SPDX-License-Identifier: MIT */
/* `check PLAN --fix`: of one kind of findings after the other those edits that are shown to mend. */
#include "cli/mend_kinds.h"
#include "base/memory.h"
#include "cli/cli.h"
#include "tinyladder/design/proposals.h"
#include <stdlib.h>
#include <string.h>

bool check_only(checked *c, const char *path, const changes *fixed)
{
    *c = (checked){.report = new_report()};
    changes_hold(fixed, c->report);
    c->plan = tl_plan_load(path, c->report);
    if (c->plan == NULL)
        return false;
    c->circuit = tl_circuit_new(c->plan);
    tl_plan_check(c->circuit, c->report);
    return true;
}

/* Finds the edits that are shown to mend: of findings of one kind, or with NULL of all. */
static bool find_edits(checked *c, const char *slug)
{
    free(c->edits); /* nothing is in them: the kind before had none */
    c->edits = must(calloc((size_t)tl_report_count(c->report) + 1, sizeof *c->edits));
    tl_report *lost = tl_mend_kind(c->plan, c->report, slug, c->edits);
    if (lost == NULL)
        return true;
    for (int i = 0; i < tl_report_count(c->report); i++)
        tl_edit_free(&c->edits[i]);
    free(c->edits);
    c->edits = NULL;
    tl_report_free(c->report);
    c->report = lost; /* it says what is wrong now */
    return false;
}

bool check_file(checked *c, const char *path, const changes *fixed)
{
    return check_only(c, path, fixed) && find_edits(c, NULL);
}

void close_checked(checked *c)
{
    for (int i = 0; c->edits != NULL && i < tl_report_count(c->report); i++)
        tl_edit_free(&c->edits[i]);
    free(c->edits);
    tl_circuit_free(c->circuit);
    tl_plan_free(c->plan);
    tl_report_free(c->report);
}

/* The first finding that has a fix; -1 where none is left. */
static int first_with_fix(const checked *c)
{
    int i = 0;
    while (i < tl_report_count(c->report) && c->edits[i].text == NULL)
        i++;
    return i < tl_report_count(c->report) ? i : -1;
}

/* Of one signal, or where a finding is about none of them, at one place. */
static bool is_of_same(const tl_finding *a, const tl_finding *b)
{
    return a->subject == b->subject &&
           (a->subject >= 0 || (a->place.file == b->place.file && a->place.line == b->place.line &&
                                a->place.column == b->place.column));
}

static bool is_chosen(const checked *c, const tl_finding *f, const tl_edit *edit, const tl_edit *chosen)
{
    for (int i = 0; i < tl_report_count(c->report); i++) {
        if (chosen[i].text != NULL &&
            (is_of_same(f, tl_report_finding(c->report, i)) || edit->begin == chosen[i].begin))
            return true;
    }
    return false;
}

/* With the first one those of its kind elsewhere, one for each signal: all of them that mend together, or
 * half, or a quarter; text NULL for the rest. */
static void choose_fixes(const checked *c, int first, tl_edit *chosen)
{
    const int count = tl_report_count(c->report);
    const char *slug = tl_report_finding(c->report, first)->slug;
    int chosen_count = 0;
    for (int i = first; i < count; i++) {
        const tl_finding *f = tl_report_finding(c->report, i);
        if (c->edits[i].text != NULL && strcmp(f->slug, slug) == 0 &&
            !is_chosen(c, f, &c->edits[i], chosen)) {
            chosen[i] = c->edits[i];
            chosen_count++;
        }
    }
    while (chosen_count > 1 && !tl_mends_together(c->plan, c->report, chosen)) {
        const int half = chosen_count / 2;
        for (int i = count - 1; chosen_count > half; i--) {
            chosen_count -= chosen[i].text != NULL;
            chosen[i] = (tl_edit){0};
        }
    }
}

/* A line for each; false where there is none. */
static bool fix_some(const checked *c, changes *fixed, FILE *told)
{
    const int count = tl_report_count(c->report), first = first_with_fix(c);
    if (first < 0)
        return false;
    tl_edit *chosen = must(calloc((size_t)count, sizeof *chosen));
    choose_fixes(c, first, chosen);
    int edits = 0;
    tl_edit *all = must(calloc((size_t)count, sizeof *all));
    for (int i = 0; i < count; i++) {
        const tl_finding *f = tl_report_finding(c->report, i);
        if (chosen[i].text == NULL)
            continue;
        all[edits++] = chosen[i];
        fprintf(told, "%s:%d:%d: fixed: %s [%s]\n", tl_report_file_path(c->report, chosen[i].file),
                f->place.line, f->place.column, f->cause, f->slug);
    }
    size_t size = 0;
    char *text = tl_edit_apply(c->report, all, edits, &size);
    changes_put(fixed, c->report, all[0].file, text, size);
    free(text);
    free(all);
    free(chosen);
    return true;
}

enum { GIVEN_UP_MOST = 100 };

/* Kinds of findings that nothing was shown to mend, as the plan was then. */
typedef struct {
    const char *slugs[GIVEN_UP_MOST];
    int count;
    bool fixed_since;
} given_up;

static bool is_given_up(const given_up *g, const char *slug)
{
    int i = 0;
    while (i < g->count && strcmp(g->slugs[i], slug) != 0)
        i++;
    return i < g->count || g->count == GIVEN_UP_MOST;
}

typedef enum { NOTHING_LEFT, SOME_FIXED, FILE_LOST } fix_outcome;

/* Findings of the first kind that has fixes. */
static fix_outcome fix_a_kind(checked *c, given_up *g, changes *fixed, FILE *told)
{
    for (int i = 0; i < tl_report_count(c->report); i++) {
        const char *slug = tl_report_finding(c->report, i)->slug;
        if (is_given_up(g, slug))
            continue;
        if (!find_edits(c, slug))
            return FILE_LOST;
        if (fix_some(c, fixed, told)) {
            g->fixed_since = true;
            return SOME_FIXED;
        }
        g->slugs[g->count++] = slug;
    }
    return NOTHING_LEFT;
}

bool find_fixes(const char *path, changes *fixed, FILE *told, checked *lost)
{
    enum { ROUNDS_MOST = 200 };
    given_up g = {.count = 0};
    bool again = true;
    for (int round = 0; again && round < ROUNDS_MOST; round++) {
        checked c;
        fix_outcome outcome = check_only(&c, path, fixed) ? fix_a_kind(&c, &g, fixed, told) : FILE_LOST;
        if (outcome == NOTHING_LEFT && g.fixed_since) {
            g = (given_up){.count = 0};
            outcome = fix_a_kind(&c, &g, fixed, told);
        }
        if (outcome == FILE_LOST) {
            *lost = c;
            return false;
        }
        again = outcome == SOME_FIXED;
        close_checked(&c);
    }
    return true;
}
