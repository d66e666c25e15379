/* SPDX-License-Identifier: MIT */
/* tinyladder read --seeds N: one moment on this many benches, each with other real parts; how the readings
 * lie, and between which ones they can. */
#include "reading/read_seeds.h"
#include "printing/columns.h"
#include "printing/tables.h"
#include "reading/taker.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

enum { BINS = 20 };

typedef struct {
    double *values; /* of the benches that gave one */
    long count, closed, failed;
    double least, mean, most, deviation;
    double may_low, may_high; /* readings that can be, whatever the parts; NAN where it has no such bound */
    long bins[BINS];
    int bin_count;
    double bin_width; /* whole steps of the last digit, so that no bin has fewer of them than the next */
    int decimals;
} statistics;

typedef struct {
    const seeds_options *o;
    play *p;
    const tl_plan *plan;
    int *signals, count;
    statistics *of;
} many;

/* --- taking --- */

static bool has_figure(const tl_signal *signal)
{
    return signal->analog || tl_reading_is_timed(&signal->reading);
}

static void add(const tl_signal *signal, const taken *t, statistics *of)
{
    if (!taken_is_good(t) || t->is.undriven)
        of->failed++;
    else if (!has_figure(signal))
        of->closed += t->is.closed;
    else if (signal->source.button_count > 0)
        of->values[of->count++] = (double)t->is.count;
    else if (taken_has_value(signal, t))
        of->values[of->count++] = t->is.is.value;
    else
        of->failed++;
    if (t->is.is.decimals > of->decimals)
        of->decimals = t->is.is.decimals;
}

static void take_seeds(many *m)
{
    const bool shows = isatty(STDERR_FILENO) != 0;
    taken *readings = must(calloc((size_t)m->count + 1, sizeof *readings));
    taker *by = taker_new(m->p->circuit, m->signals, m->count, (int)m->o->samples);
    for (long seed = 1; seed <= m->o->seeds; seed++) {
        tl_bench *bench = tl_bench_new(m->p->circuit, m->p->scene, (unsigned long)seed);
        taker_restart(by);
        taker_look(by, bench, m->o->at, readings);
        for (int i = 0; i < m->count; i++)
            add(&m->plan->signals[m->signals[i]], &readings[i], &m->of[i]);
        tl_bench_free(bench);
        if (shows && seed % 16 == 0)
            fprintf(stderr, "\r%ld of %ld ", seed, m->o->seeds);
    }
    if (shows)
        fprintf(stderr, "\r%*s\r", 40, "");
    taker_free(by);
    free(readings);
}

/* --- what can be --- */

static bool may_be(tl_circuit *c, int signal, const tl_analog_path *path, double truth, long code)
{
    tl_interval unknown, pin;
    return tl_plan_interval(c, signal, path, code, &unknown, &pin) == TL_NET_SOLVED && truth >= unknown.low &&
           truth <= unknown.high;
}

/* The last code from one that can be towards an end that still can be, by halving. */
static long farthest(tl_circuit *c, int signal, const tl_analog_path *path, double truth, long from, long end)
{
    long good = from, bad = end;
    if (may_be(c, signal, path, truth, end))
        return end;
    while (labs(bad - good) > 1) {
        const long middle = good + (bad - good) / 2;
        if (may_be(c, signal, path, truth, middle))
            good = middle;
        else
            bad = middle;
    }
    return good;
}

/* Widens it by what can be read while the source has this share of what it has. */
static void widen_range(many *m, int index, double share)
{
    const int signal = m->signals[index];
    statistics *of = &m->of[index];
    tl_circuit *c = m->p->circuit;
    const tl_analog_path *path = tl_circuit_path(c, signal);
    tl_bench *bench = tl_bench_new(c, m->p->scene, TL_BENCH_IDEAL);
    tl_bench_reading r;
    tl_bench_go_to(bench, m->o->at - 1e-3);
    if (share != 1)
        tl_bench_turn(bench, signal, share * tl_bench_truth(bench, signal));
    tl_bench_go_to(bench, m->o->at);
    const bool read = tl_bench_read(bench, signal, &r) == TL_NET_SOLVED && r.status == TL_OK;
    const double truth = tl_bench_truth(bench, signal);
    tl_bench_free(bench);
    if (!read || !may_be(c, signal, path, truth, r.count))
        return;
    const long ends[2] = {farthest(c, signal, path, truth, r.count, path->first_code),
                          farthest(c, signal, path, truth, r.count, path->last_code)};
    tl_value at[2];
    for (int end = 0; end < 2; end++) {
        if (tl_plan_value_plain(c, signal, (double)ends[end], &at[end]) != TL_NET_SOLVED || at[end].none)
            return;
    }
    of->may_low = fmin(of->may_low, fmin(at[0].value, at[1].value)); /* of NAN the other */
    of->may_high = fmax(of->may_high, fmax(at[0].value, at[1].value));
}

/* Readings whose intervals hold the truth, the sensor's own tolerance counted in: nothing else can be read of
 * it, but for noise. */
static void find_range(many *m, int index)
{
    const int signal = m->signals[index];
    statistics *of = &m->of[index];
    const tl_response *curve = &m->plan->signals[signal].source.curve;
    tl_circuit *c = m->p->circuit;
    of->may_low = of->may_high = NAN;
    if (!m->plan->signals[signal].analog || tl_circuit_path(c, signal)->fault != TL_NET_SOLVED ||
        of->count == 0 || tl_circuit_nodes(c, signal)->unknown == TL_NET_NONE)
        return;
    widen_range(m, index, 1);
    if (curve->law == TL_LAW_NONE || curve->share_low == curve->share_high)
        return;
    widen_range(m, index, curve->share_low);
    widen_range(m, index, curve->share_high);
}

/* --- figures --- */

static void sum_up(statistics *of)
{
    double sum = 0, squares = 0;
    of->least = INFINITY;
    of->most = -INFINITY;
    for (long i = 0; i < of->count; i++) {
        of->least = fmin(of->least, of->values[i]);
        of->most = fmax(of->most, of->values[i]);
        sum += of->values[i];
    }
    of->mean = sum / (double)of->count;
    for (long i = 0; i < of->count; i++)
        squares += (of->values[i] - of->mean) * (of->values[i] - of->mean);
    of->deviation = of->count > 1 ? sqrt(squares / (double)(of->count - 1)) : 0;
}

static double bins_from(const statistics *of)
{
    return isnan(of->may_low) ? of->least : fmin(of->may_low, of->least);
}

static double bins_to(const statistics *of)
{
    return isnan(of->may_high) ? of->most : fmax(of->may_high, of->most);
}

static void sort_into_bins(statistics *of)
{
    const double from = bins_from(of), step = pow(10, -of->decimals);
    const double steps = round((bins_to(of) - from) / step) + 1, group = ceil(steps / BINS);
    of->bin_width = group * step;
    of->bin_count = (int)ceil(steps / group);
    for (long i = 0; i < of->count; i++)
        of->bins[(int)fmin(floor(round((of->values[i] - from) / step) / group), of->bin_count - 1)]++;
}

/* --- output --- */

/* Bars of eight heights; a bin with anything in it shows. */
static void draw_bins(const statistics *of, char text[BINS * 3 + 1])
{
    static const char *const heights[] = {" ", "▁", "▂", "▃", "▄", "▅", "▆", "▇", "█"};
    long most = 1;
    text[0] = '\0';
    for (int i = 0; i < of->bin_count; i++)
        most = of->bins[i] > most ? of->bins[i] : most;
    for (int i = 0; i < of->bin_count; i++)
        strcat(text, heights[(8 * of->bins[i] + most - 1) / most]);
}

static void print_row(table *t, const tl_signal *signal, const statistics *of, long seeds)
{
    char bars[BINS * 3 + 1], text[40];
    const column_form form = {.scale = 1, .decimals = of->decimals};
    const bool buttons = signal->source.button_count > 0;
    table_cell(t, "%s", signal->name);
    if (of->count == 0) {
        for (int i = 0; i < 6; i++)
            table_cell(t, "%s", "");
        table_cell(t, of->failed == seeds ? "no reading on any bench" : "");
        return;
    }
    draw_bins(of, bars);
    table_cell(t, "%.*f", of->decimals, of->least);
    table_cell(t, "%.*f", of->decimals > 0 ? of->decimals : 1, of->mean);
    table_cell(t, "%.*f", of->decimals, of->most);
    table_cell(t, "%s", column_text(&form, of->may_low, TL_ROUND_DOWN, text));
    table_cell(t, "%s", column_text(&form, of->may_high, TL_ROUND_UP, text));
    table_cell(t, "%s", buttons ? "counts" : unit_shown(signal->reading.unit));
    if (of->failed > 0)
        table_cell(t, "%s %ld without a value", bars, of->failed);
    else
        table_cell(t, "%s", bars);
}

static void print_figures(const many *m)
{
    table t;
    int rows = 0;
    table_begin(&t, 8, "<.....<<");
    table_heads(&t, "signal", "min", "mean", "max", "guaranteed min", "guaranteed max", "unit",
                "distribution");
    for (int i = 0; i < m->count; i++) {
        if (has_figure(&m->plan->signals[m->signals[i]])) {
            print_row(&t, &m->plan->signals[m->signals[i]], &m->of[i], m->o->seeds);
            rows++;
        }
    }
    if (rows == 0) {
        table_drop(&t);
        return;
    }
    putchar('\n');
    table_end(&t, stdout, "  ");
}

static void print_contacts(const many *m)
{
    table t;
    int rows = 0;
    table_begin(&t, 2, "<<");
    table_heads(&t, "digital signal", "closed");
    for (int i = 0; i < m->count; i++) {
        const statistics *of = &m->of[i];
        if (has_figure(&m->plan->signals[m->signals[i]]))
            continue;
        table_cell(&t, "%s", m->plan->signals[m->signals[i]].name);
        if (of->failed == m->o->seeds)
            table_cell(&t, "no reading on any bench");
        else
            table_cell(&t, "on %ld of %ld benches", of->closed, m->o->seeds - of->failed);
        rows++;
    }
    if (rows == 0) {
        table_drop(&t);
        return;
    }
    table_join_rows(&t, 1);
    putchar('\n');
    table_end(&t, stdout, "  ");
}

static void print_text(const many *m)
{
    printf("%s at %s on %ld benches with different real parts. The bounds are guaranteed except for noise.\n",
           m->plan->title, show(m->o->at, TL_DIM_SECOND).text, m->o->seeds);
    print_figures(m);
    print_contacts(m);
}

static json_t *row_object(const many *m, int index)
{
    const tl_signal *signal = &m->plan->signals[m->signals[index]];
    const statistics *of = &m->of[index];
    const bool any = of->count > 0;
    json_t *bins = json_array();
    for (int i = 0; i < of->bin_count && any; i++)
        json_array_append_new(bins, json_integer(of->bins[i]));
    return json_pack(
        "{s:s,s:s,s:o,s:o,s:o,s:o,s:o,s:o,s:o,s:o,s:o,s:o,s:i}", "signal", signal->name, "unit",
        signal->source.button_count > 0 ? "counts" : signal->reading.unit, "least",
        json_number(any ? of->least : NAN), "mean", json_number(any ? of->mean : NAN), "largest",
        json_number(any ? of->most : NAN), "standard_deviation", json_number(any ? of->deviation : NAN),
        "can_read_low", json_number(of->may_low), "can_read_high", json_number(of->may_high), "bins_from",
        json_number(any ? bins_from(of) : NAN), "bin_width", json_number(any ? of->bin_width : NAN), "bins",
        bins, "closed", has_figure(signal) ? json_null() : json_integer(of->closed), "without_value",
        (int)of->failed);
}

static void print_json(const many *m)
{
    json_t *list = json_array();
    for (int i = 0; i < m->count; i++)
        json_array_append_new(list, row_object(m, i));
    json_print(json_pack("{s:s,s:o,s:I,s:o}", "plan", m->plan->path, "at_s", json_number(m->o->at), "benches",
                         (json_int_t)m->o->seeds, "signals", list));
}

int read_seeds(const seeds_options *o, play *p, const char *const *names, int name_count)
{
    many m = {.o = o, .p = p, .plan = p->plan};
    m.signals = choose_signals(m.plan, names, name_count, &m.count);
    if (m.signals == NULL)
        return EXIT_USAGE;
    m.of = must(calloc((size_t)m.count + 1, sizeof *m.of));
    for (int i = 0; i < m.count; i++)
        m.of[i].values = must(calloc((size_t)o->seeds, sizeof *m.of[i].values));
    take_seeds(&m);
    for (int i = 0; i < m.count; i++) {
        find_range(&m, i);
        if (m.of[i].count == 0)
            continue;
        sum_up(&m.of[i]);
        sort_into_bins(&m.of[i]);
    }
    if (o->json)
        print_json(&m);
    else
        print_text(&m);
    for (int i = 0; i < m.count; i++)
        free(m.of[i].values);
    free(m.of);
    free(m.signals);
    return EXIT_DONE;
}
