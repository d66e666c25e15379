/* SPDX-License-Identifier: MIT */
/* Each value in the files of the demo is once something else: a word, a list, a map, nothing, a number that
 * no part has; each line is once not there. Then the plan is as good as before, or an error says where it is
 * not. */
#include "support.h"
#include "tinyladder/design/circuit.h"
#include "tinyladder/design/rules.h"
#include "tinyladder/design/scene.h"
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

static const char *const instead[] = {"sparrow", "[1, 2]",   "{a: 1}", "''", "-1",
                                      "1e300",   "5 parsec", "[]",     "{}", "~"};

typedef struct {
    int changes, refused, on_line;
} tally;

/* The next value behind `from`: behind a colon, or in a list. */
static bool next_value(const char *text, size_t from, size_t *begin, size_t *end)
{
    for (size_t at = from; text[at] != '\0'; at++) {
        if (text[at] == '#' && (at == 0 || text[at - 1] == ' ' || text[at - 1] == '\n')) {
            at += strcspn(text + at, "\n");
            if (text[at] == '\0')
                return false;
            continue;
        }
        if (at == 0 || text[at - 1] != ' ' || at < 2 || strchr(":,", text[at - 2]) == NULL ||
            strchr(" \n[{\"'", text[at]) != NULL)
            continue;
        *begin = at;
        *end = at + strcspn(text + at, ",]}\n");
        const char *comment = strstr(text + at, " #"), *colon = strstr(text + at, ": ");
        if (comment != NULL && comment < text + *end)
            *end = (size_t)(comment - text);
        if (text[at - 2] == ',' && colon != NULL && colon < text + *end)
            continue; /* a key */
        return true;
    }
    return false;
}

static int line_at(const char *text, size_t at)
{
    int line = 1;
    for (size_t i = 0; i < at; i++)
        line += text[i] == '\n';
    return line;
}

/* Every error stands at a place that there is, and one of them on the line that was changed. */
static void look_at(const char *what, const tl_report *report, const char *file, int changed, tally *t)
{
    bool on_line = false;
    for (int i = 0; i < tl_report_count(report); i++) {
        const tl_finding *f = tl_report_finding(report, i);
        size_t length = 0, size = 0;
        if (f->severity < TL_ERROR)
            continue;
        const char *line = tl_report_line(report, f->place, &length),
                   *path = tl_report_path(report, f->place);
        const bool is_end =
            line == NULL && f->place.line > 0 && tl_report_file_text(report, f->place.file, &size) != NULL;
        CHECK_ROW(what, f->cause != NULL && f->cause[0] != '\0' && f->place.line > 0 && f->place.column > 0);
        CHECK_ROW(what, is_end || (line != NULL && (size_t)f->place.column <= length + 1));
        on_line = on_line || (f->place.line == changed && path != NULL && strcmp(path, file) == 0);
    }
    t->refused++;
    t->on_line += on_line;
}

static void try_text(const char *plan_path, const char *scene, const char *file, const char *text,
                     int changed, tally *t)
{
    char what[400];
    tl_report *report = tl_report_new();
    tl_report_allow_outside(report, true);
    tl_report_instead(report, file, text, strlen(text));
    tl_plan *plan = tl_plan_load(plan_path, report);
    tl_circuit *circuit = plan != NULL ? tl_circuit_new(plan) : NULL;
    tl_scene *played = circuit != NULL && scene != NULL ? tl_scene_load(scene, circuit, report) : NULL;
    const bool good = plan != NULL && (scene == NULL || played != NULL);
    snprintf(what, sizeof what, "%s:%d", file, changed);
    CHECK_ROW(what, good == (tl_report_at_least(report, TL_ERROR) == 0));
    if (!good)
        look_at(what, report, file, changed, t);
    else
        tl_plan_check(circuit, report);
    t->changes++;
    tl_scene_free(played);
    tl_circuit_free(circuit);
    tl_plan_free(plan);
    tl_report_free(report);
}

/* Of each value some of the words, others for each; of each line none. */
static void change_file(const char *plan, const char *scene, const char *file, tally *t)
{
    const size_t words = getenv("TL_LONG") != NULL ? ROWS(instead) : 2;
    char *text = text_of(file), *changed = malloc(2 * strlen(text) + 100);
    size_t begin, end = 0;
    for (size_t i = 0; next_value(text, end, &begin, &end); i++) {
        for (size_t k = 0; k < words && i % THINNED == 0; k++) {
            sprintf(changed, "%.*s%s%s", (int)begin, text, instead[(words * i + k) % ROWS(instead)],
                    text + end);
            try_text(plan, scene, file, changed, line_at(text, begin), t);
        }
    }
    for (size_t at = 0, i = 0; text[at] != '\0'; at += strcspn(text + at, "\n") + 1, i++) {
        if (i % THINNED != 0)
            continue;
        sprintf(changed, "%.*s%s", (int)at, text, text + at + strcspn(text + at, "\n") + 1);
        try_text(plan, scene, file, changed, line_at(text, at), t);
    }
    free(text);
    free(changed);
}

static void wrong_words_are_told(void)
{
    static const struct {
        const char *plan, *scene, *file;
    } rows[] = {
        {"fernhill.plan.yaml", NULL, "fernhill.plan.yaml"},
        {"fernhill.plan.yaml", NULL, "dome.plan.yaml"},
        {"fernhill.plan.yaml", NULL, "lapwing.board.yaml"},
        {"fernhill.plan.yaml", NULL, "redshank.mux.yaml"},
        {"fernhill.plan.yaml", NULL, "dunlin.converter.yaml"},
        {"fernhill.plan.yaml", "evening.scene.yaml", "evening.scene.yaml"},
        {"fernhill.plan.yaml", "mishap.scene.yaml", "mishap.scene.yaml"},
        {"fernhill.plan.yaml", NULL, "bench.drawer.yaml"},
        {"cold-frame.plan.yaml", NULL, "knot.converter.yaml"},
        {"cold-frame.plan.yaml", NULL, "bench.plug-in.yaml"},
        {"cold-frame.plan.yaml", NULL, "curlew.board.yaml"},
        {"sound/workshop-on-the-plover.plan.yaml", NULL, "sound/../plover.board.yaml"},
        {"cold-frame.plan.yaml", NULL, "cold-frame.plan.yaml"},
        {"desk.plan.yaml", NULL, "desk.plan.yaml"},
    };
    tally t = {0, 0, 0};
    for (size_t i = 0; i < ROWS(rows); i++) {
        char plan[300], scene[300], file[300];
        snprintf(plan, sizeof plan, "%s/demo/%s", TL_SOURCE, rows[i].plan);
        snprintf(scene, sizeof scene, "%s/demo/%s", TL_SOURCE, rows[i].scene != NULL ? rows[i].scene : "");
        snprintf(file, sizeof file, "%s/demo/%s", TL_SOURCE, rows[i].file);
        change_file(plan, rows[i].scene != NULL ? scene : NULL, file, &t);
    }
    printf("  %d changes, %d refused, %d on the line ", t.changes, t.refused, t.on_line);
    CU_ASSERT(t.changes > 1000 / THINNED && 2 * t.refused > t.changes && t.on_line >= 0.8 * t.refused);
}

CU_TestInfo wrong_words_tests[] = {
    {"wrong words are told", wrong_words_are_told},
    CU_TEST_INFO_NULL,
};
