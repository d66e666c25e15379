/* SPDX-License-Identifier: MIT */
/* Readings of lines that are measured: their frequency, duty or period. */
#include "base/memory.h"
#include "bench/bench_internal.h"
#include <math.h>

static bench_rhythm *rhythm_of(const tl_bench *bench, int signal)
{
    for (int i = 0; i < bench->rhythm_count; i++) {
        if (bench->rhythms[i].signal == signal)
            return &bench->rhythms[i];
    }
    return NULL;
}

tl_status tl_bench_measure(tl_bench *bench, int signal)
{
    const tl_plan *plan = bench->circuit->plan;
    const tl_button_config config = tl_plan_button(plan, signal);
    const tl_rhythm_config how = tl_plan_rhythm(plan, signal);
    if (!tl_reading_is_timed(&plan->signals[signal].reading))
        return TL_ERR_ARG;
    if (rhythm_of(bench, signal) != NULL)
        return TL_OK;
    bench_rhythm r = {.signal = signal};
    tl_status status = tl_button_init(&r.button, &config, &bench->port);
    if (status == TL_OK)
        status = tl_rhythm_init(&r.rhythm, &how);
    if (status != TL_OK)
        return status;
    if (plan->signals[signal].reading.as == TL_AS_DUTY)
        r.edges_apart =
            fmax(tl_circuit_edge(bench->circuit, signal, 0), tl_circuit_edge(bench->circuit, signal, 1));
    r.high = pin_level(bench, r.button.line);
    r.edge_us = rhythm_clock(bench);
    rhythm_feed(&r, r.edge_us);
    bench->rhythms = tl_grow(bench->rhythms, (size_t)bench->rhythm_count, sizeof r);
    bench->rhythms[bench->rhythm_count++] = r;
    return TL_OK;
}

tl_status tl_bench_measured(tl_bench *bench, int signal, tl_bench_reading *reading)
{
    bench_rhythm *r = rhythm_of(bench, signal);
    *reading = (tl_bench_reading){.at = tl_bench_time(bench), .is = {.percent = -1, .button = -1}};
    if (r == NULL)
        return reading->status = TL_ERR_ARG;
    rhythm_go_on(r, rhythm_clock(bench));
    reading->high = r->high;
    reading->closed = r->button.closed;
    reading->volts = tl_bench_pin_volts(bench, signal);
    reading->undriven = tl_bench_undriven(bench, signal);
    tl_plan_rhythm_value(bench->circuit->plan, signal, &r->rhythm, 1e-9 * (double)(r->late_ns + 1000),
                         r->edges_apart, &reading->is);
    reading->flags = reading->undriven || reading->is.none ? 0 : TL_READING_FRESH;
    return TL_OK;
}

tl_status rhythm_read(tl_bench *bench, int signal, tl_bench_reading *reading)
{
    const tl_rhythm_config how = tl_plan_rhythm(bench->circuit->plan, signal);
    tl_status status = tl_bench_measure(bench, signal);
    const bench_rhythm *r = rhythm_of(bench, signal);
    /* Two levels at most until one begins that is seen whole, and three until it was measured. */
    const double steady = bench->circuit->plan->signals[signal].reading.steady,
                 end = tl_bench_time(bench) + 1e-6 * (how.over_us + 5.0 * how.stopped_us) + 2 * steady;
    while (status == TL_OK && tl_bench_time(bench) < end && !r->rhythm.stopped &&
           r->rhythm.last_periods == 0) {
        tl_bench_go_to(bench, tl_bench_time(bench) + 1e-3);
        rhythm_go_on(rhythm_of(bench, signal), rhythm_clock(bench));
    }
    if (status == TL_OK)
        status = tl_bench_measured(bench, signal, reading);
    return status;
}
