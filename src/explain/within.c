/* SPDX-License-Identifier: MIT */
/* Whether what was seen is what sound parts may do: counts by the bounds of their tolerances, the rest by
 * what many sound benches do, and a little more on either side. */
#include "explain/within.h"
#include <math.h>

typedef struct {
    double low, high;
} count_span;

/* Counts of sound parts while the source is at one end of what it was believed to do. */
static bool widen(const question *q, int signal, double end, count_span *span)
{
    enum { EFFECTS = 60 };
    const tl_source *source = &tl_circuit_plan(q->circuit)->signals[signal].source;
    tl_effect effects[EFFECTS];
    double ideal, low, high;
    if (source->curve.law != TL_LAW_NONE)
        end = tl_response_ohms(&source->curve, end);
    if (source->kind == TL_SOURCE_POTENTIOMETER)
        end /= 100;
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
    if (!widen(q, signal, source->low, span) || !widen(q, signal, source->high, span))
        return false;
    const tl_analog_path *path = tl_circuit_path(q->circuit, signal);
    const double noise = 6 * converter->part->noise + 1;
    span->low = fmin(span->low - noise, (double)path->last_code - 1);
    span->high = fmax(span->high + noise, (double)path->first_code + 1);
    return true;
}

bool is_within(const question *q, const prediction *sound, int i)
{
    const figure *f = &q->figures[i];
    const situation *in = &q->seen->situations[f->situation];
    double least = INFINITY, most = -INFINITY;
    for (int d = 0; d < sound->draws; d++) {
        least = fmin(least, sound->all[d * q->count + i]);
        most = fmax(most, sound->all[d * q->count + i]);
    }
    const double margin = 0.3 * (most - least) + 1.5 * f->least_spread;
    count_span span;
    if (f->kind == FIGURE_MEAN && sound_counts(q, in, in->signals[f->index].signal, &span)) {
        const seen_signal *s = &in->signals[f->index];
        for (int n = 0; n < s->count; n++) {
            if (!(s->samples[n] >= span.low && s->samples[n] <= span.high))
                return false;
        }
        return true;
    }
    if (f->kind == FIGURE_SPREAD)
        return f->seen <= most + f->least_spread;
    return f->seen >= least - margin && f->seen <= most + margin;
}
