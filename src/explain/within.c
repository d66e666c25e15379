/* SPDX-License-Identifier: MIT */
/* Whether what was seen is what sound parts may do: counts by the bounds of their tolerances, the rest by
 * what many sound benches do, and a little more on either side. */
#include "explain/within.h"
#include "elaborate/circuit_struct.h"
#include <math.h>

typedef struct {
    double low, high;
} count_span;

/* Counts of sound parts while the source is at one end of what it may do: volts, ohms, travel 0 .. 1. */
static bool widen(const question *q, int signal, double end, count_span *span)
{
    enum { EFFECTS = 60 };
    tl_effect effects[EFFECTS];
    double ideal, low, high;
    const int count = tl_plan_why(q->circuit, signal, end, effects, EFFECTS, &ideal);
    if (count < 0)
        return false;
    low = high = ideal;
    for (int i = 0; i < count; i++) {
        low += fmin(effects[i].low, 0);
        high += fmax(effects[i].high, 0);
    }
    span->low = fmin(span->low, low);
    span->high = fmax(span->high, high);
    return true;
}

/* The same end as the net has it. */
static double of_net(const tl_source *source, double end)
{
    if (source->curve.law != TL_LAW_NONE)
        return tl_response_ohms(&source->curve, end);
    return source->kind == TL_SOURCE_POTENTIOMETER ? end / 100 : end;
}

/* What the converter gives beyond, but never beyond its own ends. */
static void add_noise(const question *q, int signal, const tl_converter *part, count_span *span)
{
    const tl_analog_path *path = tl_circuit_path(q->circuit, signal);
    const double noise = 6 * part->noise + 1;
    span->low = fmin(span->low - noise, (double)path->last_code - 1);
    span->high = fmax(span->high + noise, (double)path->first_code + 1);
}

/* The counts that sound parts may give, over all that the source was believed to do; false where that is not
 * known. */
static bool sound_counts(const question *q, const situation *in, int signal, count_span *span)
{
    const tl_plan *plan = tl_circuit_plan(q->circuit);
    const tl_signal *s = &plan->signals[signal];
    const seen_source *source = situation_source(in, plan, signal);
    const tl_plan_converter *converter = s->analog ? tl_plan_converter_of(plan, s) : NULL;
    if (source == NULL || converter == NULL)
        return false;
    if (source->is_state) {
        tl_interval codes;
        double middle;
        if (tl_plan_state_codes(q->circuit, signal, source->button + 1, &codes, &middle) != TL_NET_SOLVED)
            return false;
        *span = (count_span){codes.low, codes.high};
        return true;
    }
    *span = (count_span){INFINITY, -INFINITY};
    if (!widen(q, signal, of_net(&s->source, source->low), span) ||
        !widen(q, signal, of_net(&s->source, source->high), span))
        return false;
    add_noise(q, signal, converter->part, span);
    return true;
}

/* The same over all that the source can do by the plan, where nothing is said of it. */
static bool counts_of_plan(const question *q, const situation *in, int signal, count_span *span)
{
    const tl_plan *plan = tl_circuit_plan(q->circuit);
    const tl_signal *s = &plan->signals[signal];
    const tl_plan_converter *converter = s->analog ? tl_plan_converter_of(plan, s) : NULL;
    const int unknown = q->circuit->signals[signal].unknown;
    double least, most;
    if (situation_source(in, plan, signal) != NULL || converter == NULL || unknown == TL_NET_NONE)
        return false;
    tl_net_param_span(tl_circuit_net(q->circuit), unknown, &least, &most);
    *span = (count_span){INFINITY, -INFINITY};
    if (!widen(q, signal, least, span) || !widen(q, signal, most, span))
        return false;
    add_noise(q, signal, converter->part, span);
    return true;
}

static bool all_in(const seen_signal *s, const count_span *span)
{
    for (int n = 0; n < s->count; n++) {
        if (!(s->samples[n] >= span->low && s->samples[n] <= span->high))
            return false;
    }
    return true;
}

static count_span span_of_draws(const question *q, const prediction *sound, int i)
{
    count_span span = {INFINITY, -INFINITY};
    for (int d = 0; d < sound->draws; d++) {
        span.low = fmin(span.low, sound->all[d * q->count + i]);
        span.high = fmax(span.high, sound->all[d * q->count + i]);
    }
    return span;
}

/* Sources that work on one another do so in the draws. */
bool is_beyond_source(const question *q, const prediction *sound, int i)
{
    const figure *f = &q->figures[i];
    const situation *in = &q->seen->situations[f->situation];
    const count_span drawn = span_of_draws(q, sound, i);
    count_span span;
    if (f->kind != FIGURE_MEAN || !counts_of_plan(q, in, in->signals[f->index].signal, &span))
        return false;
    span = (count_span){fmin(span.low, drawn.low), fmax(span.high, drawn.high)};
    return !all_in(&in->signals[f->index], &span);
}

bool is_within(const question *q, const prediction *sound, int i)
{
    const figure *f = &q->figures[i];
    const situation *in = &q->seen->situations[f->situation];
    const count_span drawn = span_of_draws(q, sound, i);
    const double margin = 0.3 * (drawn.high - drawn.low) + 1.5 * f->least_spread;
    count_span span;
    if (f->kind == FIGURE_MEAN && sound_counts(q, in, in->signals[f->index].signal, &span))
        return all_in(&in->signals[f->index], &span);
    if (is_beyond_source(q, sound, i))
        return false;
    if (f->kind == FIGURE_SPREAD)
        return f->seen <= drawn.high + f->least_spread;
    return f->seen >= drawn.low - margin && f->seen <= drawn.high + margin;
}
