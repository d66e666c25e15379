/* SPDX-License-Identifier: MIT */
/* Situations that show most of a plan, and a bench with a fault in them. */
#include "explain/rehearsal.h"
#include "base/memory.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

enum { SITUATIONS = 3 };
static const double places[SITUATIONS] = {0.15, 0.5, 0.85}, sureness = 0.01;

/* Its ends, in what a scene says of it. */
static bool ends_of(const tl_bench *bench, const tl_plan *plan, int signal, double *least, double *most)
{
    const tl_source *source = &plan->signals[signal].source;
    if (!tl_bench_can_turn(bench, signal, least, most))
        return false;
    if (source->kind == TL_SOURCE_POTENTIOMETER) {
        *least = 0;
        *most = 100;
    } else if (source->curve.law != TL_LAW_NONE) {
        const double a = tl_response_quantity(&source->curve, *least),
                     b = tl_response_quantity(&source->curve, *most);
        *least = fmin(a, b);
        *most = fmax(a, b);
    }
    return isfinite(*least) && isfinite(*most);
}

static void state_source(const tl_bench *bench, const tl_plan *plan, int signal, int k, situation *in)
{
    double least, most;
    seen_source source = {.signal = signal, .button = -1};
    if (tl_bench_can_press(bench, signal, 0)) {
        const int buttons = plan->signals[signal].source.button_count;
        source.is_state = true;
        source.pressed = (k + signal) % 2 == 1 || buttons > 0;
        source.button = buttons > 0 ? (k + signal) % (buttons + 1) - 1 : -1;
        source.pressed = source.pressed && (buttons == 0 || source.button >= 0);
    } else if (ends_of(bench, plan, signal, &least, &most)) {
        const double middle = least + (most - least) * places[(k + signal) % SITUATIONS];
        source.low = middle - sureness * (most - least);
        source.high = middle + sureness * (most - least);
    } else {
        return;
    }
    situation_add_source(in, &source);
}

observed rehearsal_situations(tl_circuit *circuit, int samples)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    observed seen = {.every = 0.1};
    tl_bench *bench = tl_bench_new(circuit, NULL, TL_BENCH_IDEAL);
    for (int k = 0; k < SITUATIONS; k++) {
        situation *in = observed_add(&seen);
        for (int i = 0; i < plan->signal_count; i++) {
            if (!plan->signals[i].analog && tl_reading_is_timed(&plan->signals[i].reading))
                continue;
            state_source(bench, plan, i, k, in);
            seen_signal *s = situation_signal(in, i);
            s->count = samples;
            s->has_shown = plan->signals[i].analog && plan->signals[i].source.button_count == 0;
        }
    }
    tl_bench_free(bench);
    return seen;
}

/* As a meter shows it: millivolts, or three digits of ohms. */
static double as_shown(const seen_meter *m)
{
    if (m->other == TL_NET_NONE)
        return round(m->shows * 1e3) / 1e3;
    const double digit = pow(10, floor(log10(fmax(m->shows, 1))) - 2);
    return isfinite(m->shows) ? round(m->shows / digit) * digit : m->shows;
}

void rehearsal_observe(const rehearsal *r, observed *seen)
{
    question q;
    hypothesis other = *r->fault;
    other.wider = r->wider;
    question_of(&q, r->circuit, seen, &(bench_parts){NULL, NULL});
    for (int k = 0; k < seen->count; k++) {
        situation *in = &seen->situations[k];
        question_play(&q, &other, k, r->seed, in);
        for (int i = 0; i < in->meter_count; i++)
            in->meters[i].shows = as_shown(&in->meters[i]);
    }
    question_free(&q);
}

double rehearsal_measure(const rehearsal *r, const observed *seen, const seen_meter *meter, int k)
{
    observed alone = {NULL, 0, 0}; /* the same situations with this one meter */
    for (int i = 0; i < seen->count; i++) {
        situation *in = observed_add(&alone);
        for (int n = 0; n < seen->situations[i].source_count; n++)
            situation_add_source(in, &seen->situations[i].sources[n]);
        for (int n = 0; n < seen->situations[i].signal_count; n++)
            (void)situation_signal(in, seen->situations[i].signals[n].signal);
        for (int n = 0; n < seen->situations[i].output_count; n++)
            situation_add_output(in, &seen->situations[i].outputs[n]);
    }
    observed_add_meter(&alone, k, meter);
    rehearsal_observe(r, &alone);
    const double shows = alone.situations[k].meters[0].shows;
    observed_free(&alone);
    return shows;
}
