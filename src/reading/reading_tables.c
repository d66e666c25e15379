/* SPDX-License-Identifier: MIT */
/*
 * Readings as tables: see reading_tables.h. Converters for a tenth of a volt have a table of their own, in
 * millivolts; flags are printed only where a reading is not fresh.
 */
#include "reading/reading_tables.h"
#include "printing/columns.h"
#include "printing/tables.h"
#include "tinyladder/design/measurement.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

enum { PIN, PIN_LEAST, PIN_MOST, VOLTS };
typedef enum { KIND_ANALOG, KIND_FINE, KIND_DIGITAL, KINDS } reading_kind;

typedef struct {
    tl_circuit *circuit;
    const tl_plan *plan;
    const int *signals;
    const taken *readings;
    int count;
} set;

static reading_kind kind_of(const set *s, int i)
{
    const int signal = s->signals[i];
    if (!s->plan->signals[signal].analog)
        return KIND_DIGITAL;
    return tl_circuit_is_fine(s->circuit, signal) ? KIND_FINE : KIND_ANALOG;
}

static double volts_of(const set *s, int i, int which)
{
    const taken *t = &s->readings[i];
    const bool figure = taken_is_figure(&s->plan->signals[s->signals[i]], t) && t->is.analog;
    if (!taken_is_good(t))
        return NAN;
    if (which == PIN)
        return t->is.analog ? t->is.is.pin_volts : t->is.volts;
    return !figure ? (double)NAN : which == PIN_LEAST ? t->is.is.pin_within.low : t->is.is.pin_within.high;
}

static bool is_fresh(const set *s, int i)
{
    char text[40];
    return strcmp(taken_flags(&s->plan->signals[s->signals[i]], &s->readings[i], text), "fresh") == 0;
}

/* What a table of this kind has to show. */
typedef struct {
    column_form volts[VOLTS];
    bool any, flags, bounds;
} wanted;

static wanted look_through(const set *s, reading_kind kind)
{
    wanted w = {.any = false};
    double *values = must(calloc((size_t)s->count + 1, sizeof *values)), largest = 0;
    char text[100];
    for (int i = 0; i < s->count; i++) {
        if (kind_of(s, i) != kind)
            continue;
        w.any = true;
        w.flags = w.flags || !is_fresh(s, i);
        taken_interval(&s->plan->signals[s->signals[i]], &s->readings[i], text);
        w.bounds = w.bounds || strcmp(text, "-") != 0;
        for (int which = 0; which < VOLTS; which++) {
            const double volts = volts_of(s, i, which);
            largest = fmax(largest, isnan(volts) ? 0 : fabs(volts));
        }
    }
    for (int which = 0; which < VOLTS; which++) {
        int count = 0;
        for (int i = 0; i < s->count; i++) {
            if (kind_of(s, i) == kind)
                values[count++] = volts_of(s, i, which);
        }
        w.volts[which] = column_of(values, count, TL_DIM_VOLT, COLUMN_VOLTS, largest);
    }
    free(values);
    return w;
}

static void add_volts(table *t, const wanted *w, double volts, int which)
{
    char text[40];
    const tl_rounding rounding = which == PIN_LEAST  ? TL_ROUND_DOWN
                                 : which == PIN_MOST ? TL_ROUND_UP
                                                     : TL_ROUND_NEAREST;
    table_cell(t, "%s", column_text(&w->volts[which], volts, rounding, text));
}

/* An end of where the true value is, rounded outward in the digits of the reading. */
static void add_bound(table *t, const tl_signal *s, const taken *r, bool high)
{
    char text[100];
    taken_interval(s, r, text);
    const double bound = high ? r->is.is.within.high : r->is.is.within.low,
                 step = pow(10, -r->is.is.decimals);
    if (strcmp(text, "-") == 0 || isnan(bound))
        table_cell(t, "%s", "");
    else if (!isfinite(bound))
        table_cell(t, "none");
    else
        table_cell(t, "%.*f", r->is.is.decimals,
                   (high ? ceil(bound / step - 1e-9) : floor(bound / step + 1e-9)) * step);
}

static void add_row(table *t, const set *s, const wanted *w, int i, bool digital)
{
    char text[100];
    const tl_signal *signal = &s->plan->signals[s->signals[i]];
    const taken *r = &s->readings[i];
    table_cell(t, "%s", signal->name);
    table_cell(t, "%s", s->plan->pins[signal->pin].name);
    if (!taken_is_good(r) && r->is.status != TL_ERR_RANGE)
        table_cell(t, "-");
    else if (digital)
        table_cell(t, "%s", r->is.high ? "high" : "low");
    else
        table_cell(t, "%ld", r->is.count);
    add_volts(t, w, volts_of(s, i, PIN), PIN);
    if (!digital) {
        add_volts(t, w, volts_of(s, i, PIN_LEAST), PIN_LEAST);
        add_volts(t, w, volts_of(s, i, PIN_MOST), PIN_MOST);
    }
    const bool beyond = r->is.is.beyond && taken_has_value(signal, r);
    const size_t said = beyond ? (size_t)snprintf(text, sizeof text, "at or beyond ") : 0;
    taken_value(signal, r, text + said);
    table_cell(t, "%s", text);
    if (w->bounds) {
        add_bound(t, signal, r, false);
        add_bound(t, signal, r, true);
    }
    if (w->flags)
        table_cell(t, "%s", is_fresh(s, i) ? "" : taken_flags(signal, r, text));
}

static void print_kind(const set *s, reading_kind kind)
{
    const bool digital = kind == KIND_DIGITAL;
    const wanted w = look_through(s, kind);
    char alignment[16] = "<<>>";
    table t;
    if (!w.any)
        return;
    strcat(alignment, digital ? "." : ">>.");
    strcat(alignment, w.bounds ? ">>" : "");
    strcat(alignment, w.flags ? "<" : "");
    table_begin(&t, (int)strlen(alignment), alignment);
    table_heads(&t, digital ? "digital signal" : "analog signal", "pin", digital ? "level" : "count");
    table_cell(&t, "pin, %s", w.volts[PIN].unit);
    if (!digital) {
        table_cell(&t, "pin min, %s", w.volts[PIN_LEAST].unit);
        table_cell(&t, "pin max, %s", w.volts[PIN_MOST].unit);
    }
    table_cell(&t, "reading");
    if (w.bounds)
        table_heads(&t, "true value min", "true value max");
    if (w.flags)
        table_cell(&t, "flags");
    for (int i = 0; i < s->count; i++) {
        if (kind_of(s, i) == kind)
            add_row(&t, s, &w, i, digital);
    }
    putchar('\n');
    table_end(&t, stdout, "  ");
}

void print_readings(tl_circuit *circuit, const int *signals, const taken *readings, int count)
{
    const set s = {circuit, tl_circuit_plan(circuit), signals, readings, count};
    for (int kind = 0; kind < KINDS; kind++)
        print_kind(&s, (reading_kind)kind);
}
