/* SPDX-License-Identifier: MIT */
/* What is on the sheet, and where it goes: to a file, or nowhere to be counted and proven. */
#include "sheet/sheet.h"
#include "base/memory.h"
#include "base/replace_file.h"
#include "elaborate/circuit_struct.h"
#include "sheet/wiring_rows.h"
#include <errno.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>

static const double margin_left = 16, margin_right = 12;

/* --- the list in the order of the sheet --- */

static bool uses_rail(const sheet *s, int rail)
{
    for (int i = 0; i < s->o->signal_count; i++) {
        const tl_signal *signal = &s->plan->signals[s->o->signals[i]];
        bool uses = signal->source.supply == rail || signal->source.bottom == rail;
        for (int k = 0; k < signal->stage_count; k++)
            uses = uses || signal->stages[k].to == rail;
        if (uses)
            return true;
    }
    return false;
}

static bool uses_mux(const sheet *s, int mux)
{
    for (int i = 0; i < s->o->signal_count; i++) {
        int pin = s->plan->signals[s->o->signals[i]].pin;
        for (int deep = 0; deep < TL_ROUTE_MOST && s->plan->pins[pin].mux != TL_NONE; deep++) {
            if (s->plan->pins[pin].mux == mux)
                return true;
            pin = s->plan->muxes[s->plan->pins[pin].mux].common;
        }
    }
    return false;
}

static int place_on_sheet(const sheet *s, int signal)
{
    int at = 0;
    while (at < s->o->signal_count && s->o->signals[at] != signal)
        at++;
    return at;
}

/* Of a sheet of some signals: theirs, and what they are connected to. */
static bool belongs(const sheet *s, const wire *row)
{
    if (s->o->whole)
        return true;
    switch (row->kind) {
    case WIRED_SUPPLY:
    case WIRED_SHARED:
        return uses_rail(s, row->index);
    case WIRED_MUX:
        return uses_mux(s, row->index);
    case WIRED_SIGNAL:
        return place_on_sheet(s, row->index) < s->o->signal_count;
    default:
        return false;
    }
}

static bool comes_before(const sheet *s, const wire *a, const wire *b)
{
    if (a->kind == WIRED_SIGNAL && b->kind == WIRED_SIGNAL)
        return place_on_sheet(s, a->index) < place_on_sheet(s, b->index);
    return a->kind != b->kind ? a->kind < b->kind : a->index < b->index;
}

static void sort_list(sheet *s)
{
    const wiring all = wiring_of(s->plan);
    s->list.wires = tl_alloc((size_t)all.count + 1, sizeof *s->list.wires);
    for (int i = 0; i < all.count; i++) {
        if (!belongs(s, &all.wires[i]))
            continue;
        int at = s->list.count++;
        for (; at > 0 && comes_before(s, &all.wires[i], &s->list.wires[at - 1]); at--)
            s->list.wires[at] = s->list.wires[at - 1];
        s->list.wires[at] = all.wires[i];
    }
    free(all.wires);
}

/* Where a signal's own point is, in the words of the list. */
static void put_where(sheet *s)
{
    for (int i = 0; i < s->checks.count; i++) {
        checkpoint *is = &s->checks.list[i];
        const int pin = wire_positive_of(s->plan, s->plan->signals[is->signal].pin);
        for (int k = 0; k < s->list.count && is->where[0] == '\0'; k++) {
            const wire *w = &s->list.wires[k];
            if (w->kind == WIRED_SIGNAL && w->index == is->signal && w->to.kind == END_PIN &&
                w->to.index == pin)
                snprintf(is->where, sizeof is->where, "%.60s to ground", w->from.name);
        }
    }
}

/* --- all of it --- */

static void draw_all(sheet *s)
{
    s->page = 0;
    s->c = NULL;
    sheet_turn(s);
    sheet_draw_circuits(s);
    sheet_draw_wiring(s);
    sheet_draw_grids(s);
    sheet_draw_header(s);
    sheet_draw_checkpoints(s);
    sheet_draw_parts(s);
    sheet_end(s);
}

sheet sheet_of(tl_circuit *circuit, const sheet_options *o)
{
    sheet s = {.circuit = circuit, .plan = tl_circuit_plan(circuit), .o = o};
    s.width = o->letter ? 215.9 : 210;
    s.height = o->letter ? 279.4 : 297;
    s.left = margin_left;
    s.right = s.width - margin_right;
    s.bottom = s.height - 16;
    s.parts = tl_plan_parts(s.plan);
    sort_list(&s);
    s.checks = checkpoints_of(circuit, o->signals, o->signal_count);
    put_where(&s);
    if (s.plan->plug_in != NULL)
        s.on_board = placement_of(s.plan, &s.list);
    return s;
}

void sheet_free(sheet *s)
{
    free(s->list.wires);
    tl_parts_free(&s->parts);
    checkpoints_free(&s->checks);
    placement_free(&s->on_board);
}

/* A first time nowhere, to know how many pages there are. */
static void count_pages(sheet *s)
{
    int none;
    s->on = paper_new(SHEET_PDF, true, s->width, s->height);
    draw_all(s);
    (void)paper_close(s->on, &none);
    s->pages = s->page;
}

void sheet_file_name(const char *path, int files, int file, char name[1000])
{
    const char *dot = strrchr(path, '.');
    if (files == 1 || dot == NULL)
        snprintf(name, 1000, "%s", path);
    else
        snprintf(name, 1000, "%.*s-%d%s", (int)(dot - path), path, file + 1, dot);
}

/* Each in place whole. 0: `why` says why not. */
static bool put_files(const drawn_file *files, int count, const char *path, char why[1200])
{
    for (int i = 0; i < count; i++) {
        char name[1000];
        sheet_file_name(path, count, i, name);
        if (!replace_file(name, files[i].bytes, files[i].size)) {
            snprintf(why, 1200, "%s: error: %s", name, strerror(errno));
            return false;
        }
    }
    return true;
}

int sheet_write(tl_circuit *circuit, const sheet_options *o, const char *path, sheet_form form,
                char why[1200])
{
    int count = 0;
    if (!paper_is_there()) {
        snprintf(why, 1200,
                 "tinyladder: --output: '%.900s': this program was built without drawing: install "
                 "libpango1.0-dev and build it again, or write .html or .txt",
                 path);
        return 0;
    }
    sheet s = sheet_of(circuit, o);
    count_pages(&s);
    s.on = paper_new(form, false, s.width, s.height);
    draw_all(&s);
    drawn_file *files = paper_close(s.on, &count);
    if (files == NULL)
        snprintf(why, 1200, "%.1000s: error: %s", path, strerror(ENOMEM));
    const bool good = files != NULL && put_files(files, count, path, why);
    for (int i = 0; i < count && files != NULL; i++)
        free(files[i].bytes);
    free(files);
    sheet_free(&s);
    return good ? s.pages : 0;
}

static sheet_maker *const makers[SHEET_FORMS] = {
    [SHEET_SVG] = sheet_put_drawing, [SHEET_HTML] = sheet_put_page, [SHEET_TEXT] = sheet_put_text};

char *sheet_text(tl_circuit *circuit, const sheet_options *o, sheet_form form, FILE *faults_to, int *faults)
{
    char *text = NULL;
    size_t size = 0;
    sheet s = sheet_of(circuit, o);
    s.faults_to = faults_to;
    FILE *to = tl_text_begin(&text, &size);
    makers[form](&s, to);
    tl_text_end(to, &text);
    *faults = s.faults;
    sheet_free(&s);
    return text;
}

bool sheet_write_text(tl_circuit *circuit, const sheet_options *o, const char *path, sheet_form form,
                      char why[1200])
{
    int faults;
    char *text = sheet_text(circuit, o, form, NULL, &faults);
    const bool good = replace_file(path, (unsigned char *)text, strlen(text));
    if (!good)
        snprintf(why, 1200, "%.1000s: error: %s", path, strerror(errno));
    free(text);
    return good;
}

int sheet_prove(tl_circuit *circuit, const sheet_options *o, FILE *to)
{
    if (!paper_is_there())
        return 0;
    sheet s = sheet_of(circuit, o);
    s.faults_to = to;
    s.pages = 1;
    count_pages(&s);
    const int faults = s.faults;
    sheet_free(&s);
    return faults;
}
