/* SPDX-License-Identifier: MIT */
/* Records as value change dumps: each signal is a scope with its variables, which are written where they
 * change. */
#include "record/vcd_write.h"
#include "base/memory.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

enum { ID_FIRST = '!', ID_KINDS = 94 };

/* The level, the count, or how many lines are on; the value or the state; whether they are good. */
typedef enum { FIGURE, VALUE, FRESH, PARTS } part;
typedef enum { NOT_THERE, WIRE, INTEGER, REAL } variable;

typedef struct {
    const char *name;
    const char *called[PARTS];
    variable is[PARTS];
    double said[PARTS]; /* NAN: unknown */
} scope;

struct vcd_dump {
    const recorded_run *of;
    scope *scopes;
    int count;
    bool begun; /* every variable has been said once */
    double now_us, said_us;
};

static scope scope_of_signal(const tl_signal *s)
{
    scope is = {s->name, {"level", "closed", "fresh"}, {WIRE, WIRE, WIRE}, {NAN, NAN, NAN}};
    if (s->analog) {
        is.called[FIGURE] = "count";
        is.is[FIGURE] = INTEGER;
    }
    if (s->analog || tl_reading_is_timed(&s->reading)) {
        is.called[VALUE] = "value";
        is.is[VALUE] = s->source.button_count > 0 ? NOT_THERE : REAL; /* a button's name is no value */
    }
    return is;
}

vcd_dump *vcd_dump_new(const recorded_run *of)
{
    const tl_plan *plan = of->plan;
    vcd_dump *d = must(calloc(1, sizeof *d));
    d->of = of;
    d->scopes = must(calloc((size_t)(of->count + plan->output_count) + 1, sizeof *d->scopes));
    for (int i = 0; i < of->count; i++)
        d->scopes[d->count++] = scope_of_signal(&plan->signals[of->signals[i]]);
    for (int i = 0; i < plan->output_count; i++) {
        bool recorded = false;
        for (int k = 0; k < of->count; k++)
            recorded = recorded || of->signals[k] == plan->outputs[i].shows;
        if (recorded)
            d->scopes[d->count++] = (scope){plan->outputs[i].name,
                                            {"lines_on", "percent", "fresh"},
                                            {INTEGER, REAL, WIRE},
                                            {NAN, NAN, NAN}};
    }
    return d;
}

void vcd_dump_free(vcd_dump *d)
{
    if (d != NULL)
        free(d->scopes);
    free(d);
}

static void put_id(FILE *to, int at, part p)
{
    int number = PARTS * at + (int)p;
    do {
        fputc(ID_FIRST + number % ID_KINDS, to);
        number /= ID_KINDS;
    } while (number > 0);
}

static void put_scope(FILE *to, const vcd_dump *d, int i)
{
    static const char *const kinds[] = {[WIRE] = "wire 1", [INTEGER] = "integer 32", [REAL] = "real 64"};
    const scope *s = &d->scopes[i];
    fputs("$scope module ", to);
    for (const char *at = s->name; *at != '\0'; at++)
        fputc(*at == '-' ? '_' : *at, to); /* an identifier */
    fputs(" $end\n", to);
    for (int p = 0; p < PARTS; p++) {
        if (s->is[p] == NOT_THERE)
            continue;
        fprintf(to, "$var %s ", kinds[s->is[p]]);
        put_id(to, i, (part)p);
        fprintf(to, " %s $end\n", s->called[p]);
    }
    fputs("$upscope $end\n", to);
}

char *vcd_dump_head(vcd_dump *d)
{
    char *text;
    size_t size;
    const record_row run = row_of_run(d->of);
    FILE *to = tl_text_begin(&text, &size);
    fprintf(to, "$comment %s $end\n$version tinyladder record $end\n$timescale 1 us $end\n", run.flags);
    for (int i = 0; i < d->count; i++)
        put_scope(to, d, i);
    fputs("$enddefinitions $end\n", to);
    tl_text_end(to, &text);
    return text;
}

static void put_value(FILE *to, variable is, double value)
{
    if (is == WIRE) {
        fputc(isnan(value) ? 'x' : value != 0 ? '1' : '0', to);
        return;
    }
    if (is == REAL) {
        fprintf(to, "r%.9g ", isnan(value) ? 0.0 : value);
        return;
    }
    if (isnan(value)) {
        fputs("bx ", to);
        return;
    }
    fputc('b', to);
    const uint32_t bits = (uint32_t)(int64_t)value;
    int bit = 31;
    while (bit > 0 && (bits >> bit & 1) == 0)
        bit--;
    for (; bit >= 0; bit--)
        fputc('0' + (int)(bits >> bit & 1), to);
    fputc(' ', to);
}

static bool is_same(double a, double b)
{
    return a == b || (isnan(a) && isnan(b));
}

static void put_change(FILE *to, vcd_dump *d, int i, part p, double value)
{
    scope *s = &d->scopes[i];
    if (s->is[p] == NOT_THERE || (d->begun && is_same(s->said[p], value)))
        return;
    if (d->now_us > d->said_us)
        fprintf(to, "#%.0f\n", d->now_us);
    d->said_us = d->now_us;
    s->said[p] = value;
    put_value(to, s->is[p], value);
    put_id(to, i, (part)p);
    fputc('\n', to);
}

static int scope_named(const vcd_dump *d, const char *name)
{
    int i = 0;
    while (i < d->count && strcmp(d->scopes[i].name, name) != 0)
        i++;
    return i;
}

/* Times rise, also where a signal was converted before the one that was put before it. */
static void set_time(vcd_dump *d, double seconds)
{
    d->now_us = fmax(round(1e6 * seconds), d->now_us);
}

static int by_time(const void *a, const void *b)
{
    const double first = (*(const record_row *const *)a)->at, second = (*(const record_row *const *)b)->at;
    return first < second ? -1 : first > second;
}

/* The first of all: what every variable is, unknown where no row tells it. */
static void put_beginning(FILE *to, vcd_dump *d, double seconds)
{
    set_time(d, seconds);
    d->said_us = d->now_us;
    fprintf(to, "#%.0f\n$dumpvars\n", d->now_us);
    for (int i = 0; i < d->count; i++) {
        for (int p = 0; p < PARTS; p++)
            put_change(to, d, i, (part)p, p == FRESH ? 0 : (double)NAN);
    }
    fputs("$end\n", to);
    d->begun = true;
}

char *vcd_dump_rows(vcd_dump *d, const record_row *rows, int count)
{
    char *text;
    size_t size;
    const record_row **sorted = must(calloc((size_t)count + 1, sizeof *sorted));
    for (int i = 0; i < count; i++)
        sorted[i] = &rows[i];
    qsort(sorted, (size_t)count, sizeof *sorted, by_time);
    FILE *to = tl_text_begin(&text, &size);
    if (!d->begun && count > 0)
        put_beginning(to, d, sorted[0]->at);
    for (int i = 0; i < count; i++) {
        const int at = scope_named(d, sorted[i]->name);
        if (at == d->count)
            continue;
        set_time(d, sorted[i]->at);
        put_change(to, d, at, FIGURE, sorted[i]->count);
        put_change(to, d, at, VALUE,
                   isnan(sorted[i]->value) && d->scopes[at].is[VALUE] == REAL ? 0 : sorted[i]->value);
        put_change(to, d, at, FRESH, strncmp(sorted[i]->flags, "fresh", 5) == 0);
    }
    tl_text_end(to, &text);
    free(sorted);
    return text;
}
