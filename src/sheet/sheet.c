/* What is on the sheet, and where it goes: to a file, or nowhere to be counted and proven. */
#include "sheet/sheet.h"
#include "base/memory.h"
#include "elaborate/circuit_struct.h"
#include <cairo-pdf.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>

static const double margin_left = 16, margin_right = 12;

/* --- the list in the order of the sheet --- */

/* Supplies, chips and modules, shared parts, then signals and outputs as they are drawn, buses. */
static int order_of(const sheet *s, const wire *row)
{
    const tl_plan *plan = s->plan;
    for (int i = 0; i < plan->supply_count; i++) {
        if (strcmp(plan->supplies[i].name, row->group) == 0)
            return plan->supplies[i].kind == TL_RAIL_SHARED ? 2000 + i : i;
    }
    for (int i = 0; i < plan->mux_count; i++) {
        if (strcmp(plan->muxes[i].name, row->group) == 0)
            return 1000 + i;
    }
    for (int i = 1; i < plan->converter_count; i++) {
        if (strcmp(plan->converters[i].name, row->group) == 0)
            return 1200 + i;
    }
    for (int i = 0; i < plan->module_count; i++) {
        if (strcmp(plan->modules[i].name, row->group) == 0)
            return 1400 + i;
    }
    for (int i = 0; i < s->o->signal_count; i++) {
        if (strcmp(plan->signals[s->o->signals[i]].name, row->group) == 0)
            return 3000 + i;
    }
    return 9000;
}

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

/* Of a sheet of some signals: theirs, and what they are connected to. */
static bool belongs(const sheet *s, const wire *row)
{
    const int order = order_of(s, row);
    if (s->o->whole || (order >= 3000 && order < 9000))
        return true;
    if (order < 1000)
        return uses_rail(s, order);
    if (order < 1200)
        return uses_mux(s, order - 1000);
    return order >= 2000 && order < 3000 && uses_rail(s, order - 2000);
}

static void sort_list(sheet *s)
{
    const wiring all = wiring_of(s->plan);
    s->list.wires = tl_alloc((size_t)all.count + 1, sizeof *s->list.wires);
    for (int i = 0; i < all.count; i++) {
        if (!belongs(s, &all.wires[i]))
            continue;
        int at = s->list.count++;
        for (; at > 0 && order_of(s, &s->list.wires[at - 1]) > order_of(s, &all.wires[i]); at--)
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
        const tl_signal *signal = &s->plan->signals[is->signal];
        const char *pin = s->plan->pins[signal->pin].name;
        for (int k = 0; k < s->list.count && is->where[0] == '\0'; k++) {
            const wire *w = &s->list.wires[k];
            const size_t length = strlen(pin);
            if (strcmp(w->group, signal->name) == 0 && strncmp(w->to, pin, length) == 0 &&
                (w->to[length] == '\0' || w->to[length] == ' '))
                snprintf(is->where, sizeof is->where, "%.60s to ground", w->from);
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
    sheet_draw_header(s);
    sheet_draw_checkpoints(s);
    sheet_draw_parts(s);
    sheet_end(s);
}

static sheet begin(tl_circuit *circuit, const sheet_options *o)
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
    return s;
}

static void end(sheet *s)
{
    free(s->list.wires);
    tl_parts_free(&s->parts);
    checkpoints_free(&s->checks);
}

/* A first time nowhere, to know how many pages there are. */
static void count_pages(sheet *s)
{
    s->nowhere = true;
    draw_all(s);
    s->pages = s->page;
    s->nowhere = false;
}

int sheet_write(tl_circuit *circuit, const sheet_options *o, const char *path, sheet_form form, char why[200])
{
    sheet s = begin(circuit, o);
    s.form = form;
    s.path = path;
    count_pages(&s);
    FILE *try = fopen(path, "ab"); /* cairo would say nothing */
    if (try == NULL || fclose(try) != 0) {
        snprintf(why, 200, "cannot write it");
        end(&s);
        return 0;
    }
    if (s.pages > 1 && form != SHEET_PDF)
        (void)remove(path);
    if (form == SHEET_PDF)
        s.surface = cairo_pdf_surface_create(path, s.width * POINTS_PER_MM, s.height * POINTS_PER_MM);
    draw_all(&s);
    if (form == SHEET_PDF) {
        cairo_surface_finish(s.surface);
        if (cairo_surface_status(s.surface) != CAIRO_STATUS_SUCCESS) {
            snprintf(why, 200, "%.150s", cairo_status_to_string(cairo_surface_status(s.surface)));
            s.pages = 0;
        }
        cairo_surface_destroy(s.surface);
    }
    const int pages = s.pages;
    end(&s);
    return pages;
}

int sheet_prove(tl_circuit *circuit, const sheet_options *o, FILE *to)
{
    sheet s = begin(circuit, o);
    s.nowhere = true;
    s.faults_to = to;
    s.pages = 1;
    draw_all(&s);
    const int faults = s.faults;
    end(&s);
    return faults;
}
