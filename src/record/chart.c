/* SPDX-License-Identifier: MIT */
/*
 * Records as charts: rows become series, series of one unit share a panel as long as none flattens another:
 * each keeps a quarter of the panel's height, or is flat by nature.
 */
#define _GNU_SOURCE
#include "record/chart.h"
#include "base/memory.h"
#include "base/plain_text.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

#define LEAST_SHARE 0.25 /* of a panel's height that a series keeps */
#define FLAT 0.03 /* of its own size, or of the panel's: what moves so little is a flat line anywhere */

typedef struct {
    chart *c;
    const chart_choice *choice;
} loading;

static bool is_wanted(const chart_choice *o, const char *name)
{
    for (int i = 0; i < o->name_count; i++) {
        if (strcmp(o->names[i], name) == 0)
            return true;
    }
    return o->name_count == 0;
}

static chart_series *series_of(chart *c, const stored_row *row)
{
    for (int i = 0; i < c->count; i++) {
        if (c->list[i]->run == row->run && strcmp(c->list[i]->signal, row->signal) == 0)
            return c->list[i];
    }
    c->list = must(realloc(c->list, ((size_t)c->count + 1) * sizeof *c->list));
    chart_series *s = c->list[c->count++] = must(calloc(1, sizeof *s));
    *s = (chart_series){.kind = row->kind,
                        .run = row->run,
                        .least = INFINITY,
                        .most = -INFINITY,
                        .lowest = INFINITY,
                        .highest = -INFINITY,
                        .closings = NAN};
    s->to = tl_text_begin(&s->data, &s->size);
    snprintf(s->signal, sizeof s->signal, "%s", row->signal);
    snprintf(s->name, sizeof s->name, "%s", row->signal);
    snprintf(s->unit, sizeof s->unit, "%s", row->kind == STORED_OUTPUT ? "%, outputs" : row->unit);
    return s;
}

static void fail(chart_series *s, const stored_row *row)
{
    if (!s->failing) {
        s->failures = must(realloc(s->failures, ((size_t)s->failure_count + 1) * sizeof *s->failures));
        chart_failure *f = &s->failures[s->failure_count++];
        f->from = row->at;
        snprintf(f->why, sizeof f->why, "%.50s", row->flags);
    }
    s->failing = true;
    s->failures[s->failure_count - 1].until = row->at;
}

static void take_level(chart *c, const stored_row *row)
{
    for (int i = 0; i < c->level_count; i++) {
        if (strcmp(c->levels[i].signal, row->signal) == 0 && c->levels[i].value == row->value &&
            strcmp(c->levels[i].text, row->flags) == 0)
            return;
    }
    c->levels = must(realloc(c->levels, ((size_t)c->level_count + 1) * sizeof *c->levels));
    chart_level *level = &c->levels[c->level_count++];
    *level = (chart_level){.value = row->value};
    snprintf(level->signal, sizeof level->signal, "%s", row->signal);
    snprintf(level->unit, sizeof level->unit, "%s", row->unit);
    snprintf(level->text, sizeof level->text, "%s", row->flags);
}

/* NaN breaks a line, as it should. */
static bool take_row(void *context, const stored_row *row)
{
    loading *l = context;
    chart *c = l->c;
    c->runs = row->run;
    if (l->choice->run > 0 && row->run != l->choice->run)
        return true;
    if (row->kind == STORED_RUN) {
        snprintf(c->title, sizeof c->title, "%s", row->flags);
        return true;
    }
    if (!is_wanted(l->choice, row->signal))
        return true;
    if (row->kind == STORED_LEVEL) {
        take_level(c, row);
        return true;
    }
    chart_series *s = series_of(c, row);
    const bool fresh = row->kind == STORED_OUTPUT || strncmp(row->flags, "fresh", 5) == 0,
               digital = row->kind == STORED_DIGITAL;
    const double value = digital ? row->count : row->value;
    if (s->unit[0] == '\0')
        snprintf(s->unit, sizeof s->unit, "%s", row->unit);
    s->any = s->any || isfinite(value);
    if (fresh && isfinite(value)) {
        s->lowest = fmin(s->lowest, value);
        s->highest = fmax(s->highest, value);
        s->least = fmin(s->least, isfinite(row->low) ? row->low : value);
        s->most = fmax(s->most, isfinite(row->high) ? row->high : value);
    }
    if (isfinite(row->closings))
        s->closings = row->closings;
    if (!fresh)
        fail(s, row);
    else if (s->failing)
        s->failures[s->failure_count - 1].until = row->at;
    s->failing = !fresh;
    fprintf(s->to, "%.9g %.9g %.9g %.9g\n", row->at, fresh ? value : NAN, fresh ? row->low : NAN,
            fresh ? row->high : NAN);
    return true;
}

/* --- panels --- */

static bool stays_visible(const chart_series *s, double least, double most)
{
    const double own = s->most - s->least, all = most - least;
    return own >= LEAST_SHARE * all ||
           s->highest - s->lowest <= FLAT * fmax(fabs(s->lowest), fabs(s->highest));
}

static bool fits_into(const chart *c, const chart_panel *panel, const chart_series *s)
{
    const double least = fmin(panel->least, s->least), most = fmax(panel->most, s->most);
    bool fits = strcmp(panel->unit, s->unit) == 0 && stays_visible(s, least, most);
    for (int i = 0; i < panel->count && fits; i++)
        fits = stays_visible(c->list[panel->members[i]], least, most);
    return fits;
}

static void add_member(chart *c, int series)
{
    chart_series *s = c->list[series];
    chart_panel *panel = NULL;
    if (!isfinite(s->least)) /* nothing but failures: anywhere among its unit */
        s->least = s->most = NAN;
    for (int i = 0; i < c->panel_count && panel == NULL; i++) {
        if (isnan(s->least) ? strcmp(c->panels[i].unit, s->unit) == 0 : fits_into(c, &c->panels[i], s))
            panel = &c->panels[i];
    }
    if (panel == NULL) {
        c->panels = must(realloc(c->panels, ((size_t)c->panel_count + 1) * sizeof *c->panels));
        panel = &c->panels[c->panel_count++];
        *panel = (chart_panel){.least = INFINITY, .most = -INFINITY};
        snprintf(panel->unit, sizeof panel->unit, "%s", s->unit);
    }
    panel->members = must(realloc(panel->members, ((size_t)panel->count + 1) * sizeof *panel->members));
    panel->members[panel->count++] = series;
    panel->least = fmin(panel->least, s->least);
    panel->most = fmax(panel->most, s->most);
}

bool chart_shows_level(const chart *c, const chart_panel *panel, const chart_level *level)
{
    for (int k = 0; k < panel->count; k++) {
        const chart_series *s = c->list[panel->members[k]];
        if (strcmp(s->signal, level->signal) == 0 && strcmp(s->unit, level->unit) == 0)
            return true;
    }
    return false;
}

/* A level is seen where it is not far away: as far as the series goes, once more. */
static void make_room_for_levels(const chart *c, chart_panel *panel)
{
    const double span = panel->most - panel->least;
    for (int i = 0; i < c->level_count; i++) {
        if (chart_shows_level(c, panel, &c->levels[i]) && c->levels[i].value > panel->least - span &&
            c->levels[i].value < panel->most + span) {
            panel->least = fmin(panel->least, c->levels[i].value);
            panel->most = fmax(panel->most, c->levels[i].value);
        }
    }
}

static int by_unit(const void *a, const void *b, void *context)
{
    const chart *c = context;
    const int x = *(const int *)a, y = *(const int *)b;
    const int units =
        c->list[x]->kind != c->list[y]->kind ? (int)c->list[x]->kind - (int)c->list[y]->kind : 0;
    return units != 0 ? units : x - y;
}

/* Signals first, then outputs, each in the record's order. */
static void share_out(chart *c)
{
    int *order = must(calloc((size_t)c->count + 1, sizeof *order));
    c->digital = must(calloc((size_t)c->count + 1, sizeof *c->digital));
    for (int i = 0; i < c->count; i++)
        order[i] = i;
    qsort_r(order, (size_t)c->count, sizeof *order, by_unit, c);
    for (int i = 0; i < c->count; i++) {
        const chart_series *s = c->list[order[i]];
        if (s->kind == STORED_DIGITAL)
            c->digital[c->digital_count++] = order[i];
        else if (s->any || s->failure_count > 0)
            add_member(c, order[i]);
    }
    for (int i = 0; i < c->panel_count; i++)
        make_room_for_levels(c, &c->panels[i]);
    free(order);
}

/* --- the whole --- */

static void close_series(chart_series *s)
{
    if (s->to != NULL)
        tl_text_end(s->to, &s->data);
    s->to = NULL;
}

static void free_series(chart_series *s)
{
    close_series(s);
    free(s->data);
    free(s->failures);
    free(s);
}

/* All runs have been taken in: of one only the last stays. With several, each is named by its number. */
static void keep_runs(chart *c, int wanted)
{
    int kept = 0;
    for (int i = 0; i < c->count; i++) {
        chart_series *s = c->list[i];
        close_series(s);
        if (wanted == 0 && s->run != c->runs) {
            free_series(s);
            continue;
        }
        if (wanted < 0 && c->runs > 1)
            snprintf(s->name + strlen(s->name), sizeof s->name - strlen(s->name), ", run %d", s->run);
        c->list[kept++] = s;
    }
    c->count = kept;
}

static void find_span(chart *c)
{
    c->first = INFINITY;
    c->last = -INFINITY;
    for (int i = 0; i < c->count; i++) {
        const char *text = c->list[i]->data;
        const char *end = text + c->list[i]->size;
        if (c->list[i]->size == 0)
            continue;
        const char *line = memrchr(text, '\n', (size_t)(end - text) - 1);
        c->first = fmin(c->first, strtod(text, NULL));
        c->last = fmax(c->last, strtod(line != NULL ? line + 1 : text, NULL));
    }
}

bool chart_load(chart *c, const chart_choice *choice)
{
    loading l = {c, choice};
    *c = (chart){.runs = 0};
    const bool good = store_visit(choice->record, take_row, &l);
    keep_runs(c, choice->run);
    if (choice->run < 0 && c->runs > 1)
        snprintf(c->title + strlen(c->title), sizeof c->title - strlen(c->title), " (the last of %d runs)",
                 c->runs);
    find_span(c);
    share_out(c);
    return good;
}

void chart_free(chart *c)
{
    for (int i = 0; i < c->count; i++)
        free_series(c->list[i]);
    for (int i = 0; i < c->panel_count; i++)
        free(c->panels[i].members);
    free(c->list);
    free(c->levels);
    free(c->panels);
    free(c->digital);
}
