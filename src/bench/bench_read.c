/* SPDX-License-Identifier: MIT */
/* One reading of a signal, as firmware would take it: through the core and the port, then what the plan makes
 * of it. */
#include "base/memory.h"
#include "bench/bench_internal.h"
#include "tinyladder/core.h"
#include <math.h>
#include <stdlib.h>

_Static_assert((int)TL_ROUTE_MOST <= (int)TL_MUX_DEEPEST, "as deep as the core leads");

enum { LOOKS = 30, STEADY_TIMES = 3 }; /* a contact is looked at thirty times over three steady times */

/* --- taking it --- */

static uint8_t line_of(const tl_line_holder *holder)
{
    return holder->given && holder->pin != TL_NONE ? (uint8_t)holder->pin : (uint8_t)TL_MUX_NO_LINE;
}

/* A multiplexer, as the core gets it. */
static tl_mux_lines lines_of(const tl_mux *mux, double dwell)
{
    tl_mux_lines lines = {.enable = line_of(&mux->enable),
                          .enable_high = mux->part->enable == 2,
                          .select_count = (uint8_t)mux->select_count,
                          .dwell = (uint32_t)ceil(1e6 * dwell)};
    for (int i = 0; i < mux->select_count; i++)
        lines.select[i] = line_of(&mux->select[i]);
    return lines;
}

/* Firmware takes a multiplexer's lines once. */
static bool is_open(const tl_bench *bench, const tl_mux_lines *lines)
{
    bool open = lines->enable == TL_MUX_NO_LINE || bench->lines[lines->enable].use == TL_LINE_OUTPUT;
    for (int i = 0; i < lines->select_count; i++)
        open = open &&
               (lines->select[i] == TL_MUX_NO_LINE || bench->lines[lines->select[i]].use == TL_LINE_OUTPUT);
    return open;
}

/* Leads the signal through all multiplexers on its way. */
static tl_status select_route(tl_bench *bench, int signal)
{
    const tl_plan *plan = bench->circuit->plan;
    const double dwell = tl_circuit_path(bench->circuit, signal)->dwell;
    tl_mux_lines way[TL_MUX_DEEPEST];
    int count = 0, first = plan->signals[signal].pin;
    for (int pin = first; plan->pins[pin].mux != TL_NONE && count < TL_MUX_DEEPEST; count++) {
        const tl_mux *mux = &plan->muxes[plan->pins[pin].mux];
        way[count] = lines_of(mux, dwell);
        pin = mux->common;
        if (plan->pins[pin].mux != TL_NONE && count + 1 < TL_MUX_DEEPEST) {
            way[count].into = &way[count + 1];
            way[count].into_input = (uint8_t)plan->pins[pin].input;
        }
        const tl_status status = is_open(bench, &way[count]) ? TL_OK : tl_mux_open(&bench->port, &way[count]);
        if (status != TL_OK)
            return status;
    }
    tl_status status = count > 0 ? tl_port_claim(&bench->port, bench) : TL_OK;
    if (count > 0 && status == TL_OK) {
        status = tl_mux_lead(&bench->port, bench, way, (uint8_t)plan->pins[first].input);
        tl_port_yield(&bench->port, bench);
    }
    return status;
}

/* One code, by the core: of the board's converter, or over the bus. */
static tl_status take_code(tl_bench *bench, int signal, const tl_analog_path *path, long *code,
                           unsigned *flags)
{
    const tl_plan *plan = bench->circuit->plan;
    const int converter = plan->pins[plan->signals[signal].pin].converter;
    tl_sample given = {0};
    tl_status status;
    if (converter == 0) {
        tl_scale scale;
        uint16_t count = 0;
        status = tl_scale_init(&scale, &path->pin_scale);
        if (status == TL_OK)
            status = tl_input_take(&bench->port, &path->input, &scale, &given, &count);
        given.value = count;
    } else {
        const bench_told *told = &bench->told[signal];
        const tl_external_input input = {
            {told->external.kind == TL_EXTERNAL_SPI ? &tl_spi_conversion : &tl_i2c_conversion},
            &told->external,
            told->settings};
        if (!told->sendable)
            return TL_ERR_UNSUPPORTED;
        status = tl_take(&bench->port, &(tl_way){.input = &input.kind}, &given);
    }
    if (status != TL_OK)
        return status;
    *code = misread_count(bench, signal, given.value);
    *flags |= given.flags;
    return TL_OK;
}

/* What stands before it in its sweep is converted first, and what its sweep throws away is discarded. */
static tl_status follow_sweep(tl_bench *bench, int signal, const tl_analog_path *path)
{
    const tl_plan *plan = bench->circuit->plan;
    int *last = &bench->read_last[plan->pins[plan->signals[signal].pin].converter];
    long code;
    unsigned flags = 0;
    if (path->before != TL_NONE && *last != path->before) {
        const tl_analog_path *before = tl_circuit_path(bench->circuit, path->before);
        if (before->fault == TL_NET_SOLVED && select_route(bench, path->before) == TL_OK)
            (void)take_code(bench, path->before, before, &code, &flags);
    }
    tl_status status = select_route(bench, signal);
    for (int i = 1; i < path->conversions && status == TL_OK; i++)
        status = take_code(bench, signal, path, &code, &flags);
    *last = signal;
    return status;
}

static int compare_codes(const void *a, const void *b)
{
    const long x = *(const long *)a, y = *(const long *)b;
    return x < y ? -1 : x > y;
}

static double average(tl_average kind, long *codes, int count)
{
    double sum = 0;
    if (kind == TL_AVERAGE_MEDIAN) {
        qsort(codes, (size_t)count, sizeof *codes, compare_codes);
        return (double)codes[count / 2];
    }
    for (int i = 0; i < count; i++)
        sum += (double)codes[i];
    return sum / count;
}

/* One code more in a mean that goes on from reading to reading. */
static double filter_on(bench_filter *f, tl_average kind, int of, long code)
{
    f->trailing += ((double)code - f->trailing) / of;
    f->codes[f->next] = code;
    f->next = (f->next + 1) % of;
    return kind == TL_AVERAGE_EXPONENTIAL ? f->trailing : average(TL_AVERAGE_MEAN, f->codes, of);
}

static double filter_begin(bench_filter *f, tl_average kind, int of, const long *codes)
{
    double is = 0;
    f->codes = tl_alloc((size_t)of, sizeof *f->codes);
    f->next = 0;
    f->trailing = (double)codes[0];
    f->filled = true;
    for (int i = 0; i < of; i++)
        f->codes[i] = codes[0];
    for (int i = 0; i < of; i++)
        is = filter_on(f, kind, of, codes[i]);
    return is;
}

/* A rolling or trailing mean takes all its samples at once for the first reading, then one for each. */
static tl_status take_average(tl_bench *bench, int signal, const tl_analog_path *path, int samples,
                              tl_bench_reading *r, double *code)
{
    const tl_plan_reading *plan = &bench->circuit->plan->signals[signal].reading;
    const tl_average kind = samples > 0 ? TL_AVERAGE_MEAN : plan->average;
    bench_filter *filter =
        kind == TL_AVERAGE_ROLLING || kind == TL_AVERAGE_EXPONENTIAL ? &bench->filters[signal] : NULL;
    const int of = samples > 0               ? samples
                   : kind == TL_AVERAGE_NONE ? 1
                                             : plan->samples,
              count = filter != NULL && filter->filled ? 1 : of;
    long *codes = tl_alloc((size_t)count, sizeof *codes);
    tl_status status = TL_OK;
    double first = 0;
    for (int i = 0; i < count && status == TL_OK; i++) {
        status = take_code(bench, signal, path, &codes[i], &r->flags);
        first = i == 0 ? seconds_of(bench->sampled_ns) : first;
    }
    r->at = (first + seconds_of(bench->sampled_ns)) / 2;
    if (status == TL_OK)
        *code = filter == NULL   ? average(kind, codes, count)
                : filter->filled ? filter_on(filter, kind, of, codes[0])
                                 : filter_begin(filter, kind, of, codes);
    free(codes);
    return status;
}

/* The conversions of a reading alone; *code is undefined unless the reading's status is TL_OK. */
static tl_net_status convert_for(tl_bench *bench, int signal, int samples, tl_bench_reading *r, double *code)
{
    const tl_analog_path *path = tl_circuit_path(bench->circuit, signal);
    const tl_plan *plan = bench->circuit->plan;
    if (plan->pins[plan->signals[signal].pin].channel < 0) {
        r->status = TL_ERR_UNSUPPORTED;
        return TL_NET_SOLVED;
    }
    if (path->fault != TL_NET_SOLVED)
        return path->fault;
    r->status = follow_sweep(bench, signal, path);
    if (r->status == TL_OK)
        r->status = take_average(bench, signal, path, samples, r, code);
    const int converter = plan->pins[plan->signals[signal].pin].converter;
    r->word = converter == 0 ? bench->word : (uint32_t)bench->chips[converter].word;
    return TL_NET_SOLVED;
}

typedef tl_net_status value_of(tl_circuit *circuit, int signal, double code, tl_value *value);

static tl_net_status read_analog(tl_bench *bench, int signal, int samples, value_of *value,
                                 tl_bench_reading *r)
{
    double code = 0;
    tl_net_status fault = convert_for(bench, signal, samples, r, &code);
    if (fault != TL_NET_SOLVED || r->status != TL_OK)
        return fault;
    r->count = lround(code);
    fault = value(bench->circuit, signal, code * misread_factor(bench, signal), &r->is);
    if (r->is.open || r->is.shorted)
        r->flags &= ~(unsigned)TL_READING_FRESH; /* a value that failed is never fresh */
    return fault;
}

static tl_status read_contact(tl_bench *bench, int signal, tl_bench_reading *r)
{
    const tl_port *port = &bench->port;
    const tl_button_config config = tl_plan_button(bench->circuit->plan, signal);
    tl_button button;
    tl_button_event event;
    tl_status status = tl_button_init(&button, &config, port);
    for (int look = 0; look <= LOOKS && status == TL_OK; look++) {
        status = tl_button_look(&button, port, &event);
        if (status == TL_OK && look < LOOKS)
            status = tl_port_wait_us(port, config.steady / (LOOKS / STEADY_TIMES));
    }
    if (status == TL_OK)
        status = tl_port_line_level(port, config.line, &r->high);
    r->at = tl_bench_time(bench);
    r->closed = button.closed;
    r->volts = tl_bench_pin_volts(bench, signal);
    r->undefined = tl_bench_undefined(bench, signal);
    if (status == TL_OK && !r->undefined)
        r->flags = TL_READING_FRESH;
    return status;
}

double tl_bench_read_lead(const tl_bench *bench, int signal)
{
    const tl_signal *s = &bench->circuit->plan->signals[signal];
    return s->analog ? 0 : STEADY_TIMES * s->reading.steady;
}

void tl_bench_pass(tl_bench *bench, int signal, int samples)
{
    tl_bench_reading r = {.analog = bench->circuit->plan->signals[signal].analog};
    double code;
    const bench_filter kept = bench->filters[signal]; /* what is only passed goes into no mean */
    bench->filters[signal] = (bench_filter){.codes = NULL};
    if (r.analog)
        (void)convert_for(bench, signal, samples, &r, &code);
    else if (tl_reading_is_timed(&bench->circuit->plan->signals[signal].reading))
        (void)rhythm_read(bench, signal, &r);
    else
        (void)read_contact(bench, signal, &r);
    free(bench->filters[signal].codes);
    bench->filters[signal] = kept;
}

static tl_net_status read_signal(tl_bench *bench, int signal, int samples, value_of *value,
                                 tl_bench_reading *reading)
{
    *reading = (tl_bench_reading){.analog = bench->circuit->plan->signals[signal].analog,
                                  .at = tl_bench_time(bench),
                                  .is = {.percent = -1, .button = -1}};
    tl_net_status fault = TL_NET_SOLVED;
    if (reading->analog) {
        fault = read_analog(bench, signal, samples, value, reading);
        reading->truth = tl_bench_truth(bench, signal);
    } else if (tl_reading_is_timed(&bench->circuit->plan->signals[signal].reading))
        reading->status = rhythm_read(bench, signal, reading);
    else
        reading->status = read_contact(bench, signal, reading);
    reading->undriven = tl_bench_undriven(bench, signal);
    if (reading->undriven) { /* what it reads says nothing of the source */
        reading->flags &= ~(unsigned)TL_READING_FRESH;
        reading->is.within = (tl_interval){NAN, NAN};
    }
    return bench->signals[signal].island->in_trouble ? TL_NET_SHORTED : fault;
}

tl_net_status tl_bench_read_mean(tl_bench *bench, int signal, int samples, tl_bench_reading *reading)
{
    return read_signal(bench, signal, samples, tl_plan_value, reading);
}

tl_net_status tl_bench_read_plain(tl_bench *bench, int signal, tl_bench_reading *reading)
{
    return read_signal(bench, signal, 0, tl_plan_value_plain, reading);
}

tl_net_status tl_bench_read(tl_bench *bench, int signal, tl_bench_reading *reading)
{
    return tl_bench_read_mean(bench, signal, 0, reading);
}
