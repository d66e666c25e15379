/* SPDX-License-Identifier: MIT */
/* Readings of one moment, with one value of the plan at several settings, side by side. */
#include "cli/read_vary.h"
#include "cli/cli.h"
#include "proposals/vary.h"
#include "reading/readings.h"
#include "reading/taker.h"
#include <stdlib.h>
#include <string.h>

/* What one signal reads, in three lines. */
typedef struct {
    char count[40], reads[80], within[80];
} cells;

typedef struct {
    const char *value; /* NULL: as it is */
    cells *rows;
    json_t *readings;
} column;

typedef struct {
    char *name;
    bool of_value; /* it has an interval */
} row_head;

typedef struct {
    column columns[VARY_MOST + 1];
    int count;
    row_head *heads;
    int head_count;
} side_by_side;

static void take_cells(const tl_signal *s, const taken *r, cells *c, bool *of_value)
{
    const bool good = taken_is_good(r), value = taken_is_figure(s, r);
    if (!good)
        snprintf(c->count, sizeof c->count, "-");
    else if (r->is.analog)
        snprintf(c->count, sizeof c->count, "%ld", r->is.count);
    else
        snprintf(c->count, sizeof c->count, "%s", r->is.high ? "high" : "low");
    taken_value(s, r, c->reads);
    taken_interval(s, r, c->within);
    *of_value = *of_value || value;
}

/* The moment on one bench. */
static int read_once(const play_options *o, const read_how *how, side_by_side *all, const char *value)
{
    play p;
    int status = play_open(o, &p), count = 0;
    int *signals = status == EXIT_DONE ? choose_signals(p.plan, o->names, o->name_count, &count) : NULL;
    if (status == EXIT_DONE && signals == NULL)
        status = EXIT_USAGE;
    if (status == EXIT_DONE) {
        column *c = &all->columns[all->count++];
        taken *readings = must(calloc((size_t)count + 1, sizeof *readings));
        tl_bench *bench = tl_bench_new(p.circuit, p.scene, how->ideal ? TL_BENCH_IDEAL : p.seed);
        taker *t = taker_new(p.circuit, signals, count, how->samples);
        taker_look(t, bench, o->at, readings);
        *c = (column){value, must(calloc((size_t)count + 1, sizeof *c->rows)), json_array()};
        if (all->heads == NULL) {
            all->heads = must(calloc((size_t)count + 1, sizeof *all->heads));
            all->head_count = count;
        }
        for (int i = 0; i < count && i < all->head_count; i++) {
            const tl_signal *s = &p.plan->signals[signals[i]];
            if (all->heads[i].name == NULL)
                all->heads[i].name = must(strdup(s->name));
            take_cells(s, &readings[i], &c->rows[i], &all->heads[i].of_value);
            json_array_append_new(c->readings, taken_object(p.plan, signals[i], &readings[i]));
        }
        taker_free(t);
        tl_bench_free(bench);
        free(readings);
    }
    free(signals);
    tl_scene_free(p.scene);
    tl_circuit_free(p.circuit);
    tl_plan_free(p.plan);
    tl_report_free(p.report);
    return status;
}

static const char *cell_of(const cells *c, int line)
{
    return line == 0 ? c->reads : line == 1 ? c->within : c->count;
}

/* Whether anything of a signal differs between the columns. */
static bool differs(const side_by_side *all, int row)
{
    for (int i = 1; i < all->count; i++) {
        for (int line = 0; line < 3; line++) {
            if (strcmp(cell_of(&all->columns[0].rows[row], line),
                       cell_of(&all->columns[i].rows[row], line)) != 0)
                return true;
        }
    }
    return false;
}

/* All of it where signals were named; else what differs. */
static void print_side_by_side(const side_by_side *all, bool named)
{
    static const char *const lines[] = {"reads", "true value", "count"};
    table t;
    char alignment[VARY_MOST + 4] = "<<";
    int rows = 0;
    for (int i = 0; i < all->count; i++)
        strcat(alignment, "<");
    for (int row = 0; row < all->head_count; row++) {
        if (!named && !differs(all, row))
            continue;
        if (rows++ == 0) {
            table_begin(&t, all->count + 2, alignment);
            table_cell(&t, "signal");
            table_cell(&t, " ");
            for (int i = 0; i < all->count; i++)
                table_cell(&t, "%s", all->columns[i].value != NULL ? all->columns[i].value : "as it is");
        }
        for (int line = 0; line < 3; line++) {
            if (line == 1 && !all->heads[row].of_value)
                continue;
            table_cell(&t, "%s", line == 0 ? all->heads[row].name : "");
            table_cell(&t, "%s", lines[line]);
            for (int i = 0; i < all->count; i++)
                table_cell(&t, "%s", cell_of(&all->columns[i].rows[row], line));
        }
    }
    if (rows > 0)
        table_end(&t, stdout, "  ");
    else
        printf("  No reading differs.\n");
}

static void print_json(const side_by_side *all, const char *plan, const char *path)
{
    json_t *values = json_array(), *readings = json_array();
    for (int i = 0; i < all->count; i++) {
        const char *value = all->columns[i].value;
        json_array_append_new(values, value != NULL ? json_string(value) : json_null());
        json_array_append(readings, all->columns[i].readings);
    }
    json_print(
        json_pack("{s:s,s:s,s:o,s:o}", "plan", plan, "vary", path, "values", values, "readings", readings));
}

/* The plan as it would be with one of the values. */
static int read_with(const play_options *o, const tl_report *report, const char *path, char value[VARY_VALUE],
                     const read_how *how, side_by_side *all)
{
    char why[VARY_WHY];
    tl_edit edit;
    size_t size = 0;
    if (!vary_edit(report, path, value, &edit, why)) {
        fprintf(stderr, "tinyladder: --vary: %s\n", why);
        return EXIT_USAGE;
    }
    changes with = {0};
    char *text = tl_edit_apply(report, &edit, 1, &size);
    changes_put(&with, report, edit.file, text, size);
    play_options own = *o;
    own.as_if = &with;
    const int status = read_once(&own, how, all, value);
    changes_end(&with);
    tl_edit_free(&edit);
    free(text);
    return status;
}

int read_vary(const play_options *o, const char *wish, const read_how *how)
{
    vary_wish w;
    char why[VARY_WHY];
    side_by_side all = {.count = 0};
    if (!vary_read(wish, &w, why)) {
        fprintf(stderr, "tinyladder: --vary: %s\n", why);
        return EXIT_USAGE;
    }
    tl_report *report = new_report();
    tl_plan *plan = tl_plan_load(o->plan, report);
    int status = plan != NULL ? read_once(o, how, &all, NULL) : print_unreadable(report);
    for (int i = 0; i < w.count && status == EXIT_DONE; i++)
        status = read_with(o, report, w.path, w.value[i], how, &all);
    if (status == EXIT_DONE && how->json)
        print_json(&all, plan->path, w.path);
    else if (status == EXIT_DONE) {
        printf("%s: %s, %s at %s. Intervals are guaranteed but for noise.\n\n", plan->title, w.path,
               o->scene != NULL ? o->scene : "no scene", show(o->at, TL_DIM_SECOND).text);
        print_side_by_side(&all, o->name_count > 0);
    }
    for (int i = 0; i < all.count; i++) {
        free(all.columns[i].rows);
        json_decref(all.columns[i].readings);
    }
    for (int i = 0; i < all.head_count; i++)
        free(all.heads[i].name);
    free(all.heads);
    tl_plan_free(plan);
    tl_report_free(report);
    return status;
}
