/* SPDX-License-Identifier: MIT */
/* A fault that changes nothing but what is as it should be explains nothing: of a scan of a whole rack only
 * what is off has to be explained. */
#include "explain/focus.h"
#include "base/memory.h"
#include "explain/within.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

/* How many signals are compared; over all situations, and how many samples: fewer in a large plan, where each
 * takes longer. */
enum { SIGNALS_MOST = 40, SIGNALS_LEAST = 8, SAMPLES_LEAST = 4, LARGE = 40 };
enum { PAIRS = 81, READS = 324, PAIRS_OF_LARGE = 40, READS_OF_LARGE = 160 };
static const double beyond = 1e9; /* what is not within tolerance comes before all that is */

typedef struct {
    int signal;
    double off;
} seen_off;

static int furthest_first(const void *one, const void *other)
{
    const seen_off *a = one, *b = other;
    return a->off != b->off ? (a->off < b->off ? 1 : -1) : a->signal - b->signal;
}

/* With the one before it in some situation, whose charge the converter may still have. */
static int keep_with_before(const observed *seen, int signal, bool *keep)
{
    int more = !keep[signal];
    keep[signal] = true;
    for (int k = 0; k < seen->count; k++) {
        const situation *in = &seen->situations[k];
        for (int i = 1; i < in->signal_count; i++) {
            const int before = in->signals[i - 1].signal;
            more += in->signals[i].signal == signal && !keep[before];
            keep[before] = keep[before] || in->signals[i].signal == signal;
        }
    }
    return more;
}

static observed only(const observed *seen, const bool *keep)
{
    observed few = {.every = seen->every};
    for (int k = 0; k < seen->count; k++) {
        const situation *from = &seen->situations[k];
        situation *in = observed_add(&few);
        for (int i = 0; i < from->source_count; i++)
            situation_add_source(in, &from->sources[i]);
        for (int i = 0; i < from->signal_count; i++) {
            if (keep[from->signals[i].signal])
                *situation_signal(in, from->signals[i].signal) = from->signals[i];
        }
        for (int i = 0; i < from->output_count; i++)
            situation_add_output(in, &from->outputs[i]);
        for (int i = 0; i < from->meter_count; i++)
            observed_add_meter(&few, k, &from->meters[i]);
    }
    return few;
}

/* Of those that are asked for, how far each is from what sound parts do: in spreads, over all its figures. */
static void find_off(tl_circuit *circuit, const observed *seen, const bench_parts *parts, const bool *asked,
                     double *off)
{
    question q;
    question_of(&q, circuit, seen, parts);
    prediction sound = {.draws = DRAWS, .all = q.sound};
    prediction_sum(&q, &sound);
    for (int i = 0; i < q.count; i++) {
        const figure *f = &q.figures[i];
        if (f->kind != FIGURE_MEAN && f->kind != FIGURE_SPREAD && f->kind != FIGURE_SHOWN)
            continue;
        const int signal = seen->situations[f->situation].signals[f->index].signal;
        const double is =
            fabs(f->seen - sound.mean[i]) / sqrt(sound.variance[i] + f->least_spread * f->least_spread);
        if (asked[signal])
            off[signal] =
                fmax(off[signal], isfinite(is) ? is : beyond) + (is_within(&q, &sound, i) ? 0 : beyond);
    }
    sound.all = NULL; /* it is the question's */
    prediction_free(&sound);
    question_free(&q);
}

/* A bench of a few networks after the other: one of all would move every multiplexer for each signal. */
static void find_all_off(tl_circuit *circuit, const observed *seen, const bool *is_seen, double *off)
{
    const int count = tl_circuit_plan(circuit)->signal_count;
    bool *asked = tl_alloc((size_t)count + 1, sizeof *asked),
         *here = tl_alloc((size_t)count + 1, sizeof *here);
    int *network = networks_of(circuit);
    for (int from = 0, to; from < count; from = to) {
        int few = 0;
        for (int i = 0; i < count; i++)
            asked[i] = here[i] = false;
        for (to = from; to < count && few < SIGNALS_MOST; to++) {
            asked[to] = is_seen[to];
            few += is_seen[to] ? keep_with_before(seen, to, here) : 0;
        }
        observed some = only(seen, here);
        for (int k = 0; k < some.count; k++)
            some.situations[k].output_count = some.situations[k].meter_count = 0;
        signals_wired(network, count, here);
        find_off(circuit, &some, &(bench_parts){here, network}, asked, off);
        observed_free(&some);
    }
    free(network);
    free(asked);
    free(here);
}

/* What is at inputs of the same multiplexer that differ from its own in one select line: they tell whether
 * that line does what it should. */
static int keep_others_there(const tl_plan *plan, int signal, const bool *is_seen, bool *keep)
{
    const tl_pin *pin = &plan->pins[plan->signals[signal].pin];
    int more = 0;
    for (int i = 0; i < plan->signal_count && pin->mux != TL_NONE; i++) {
        const tl_pin *other = &plan->pins[plan->signals[i].pin];
        const int differs = other->input ^ pin->input;
        if (!is_seen[i] || keep[i] || other->mux != pin->mux || (differs & (differs - 1)) != 0)
            continue;
        keep[i] = true;
        more++;
    }
    return more;
}

static void keep_furthest(tl_circuit *circuit, const observed *seen, const bool *is_seen, int most,
                          bool *keep)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    const int count = plan->signal_count;
    double *off = tl_alloc((size_t)count, sizeof *off);
    seen_off *order = tl_alloc((size_t)count, sizeof *order);
    int ordered = 0, kept = 0;
    find_all_off(circuit, seen, is_seen, off);
    for (int i = 0; i < count; i++) {
        if (is_seen[i])
            order[ordered++] = (seen_off){i, off[i]};
    }
    qsort(order, (size_t)ordered, sizeof *order, furthest_first);
    for (int i = 0; i < ordered && kept < most; i++)
        kept += keep_with_before(seen, order[i].signal, keep) +
                keep_others_there(plan, order[i].signal, is_seen, keep);
    free(off);
    free(order);
}

static int signals_of(const observed *seen, bool *is)
{
    int count = 0;
    for (int k = 0; k < seen->count; k++) {
        for (int i = 0; i < seen->situations[k].signal_count; i++) {
            const int signal = seen->situations[k].signals[i].signal;
            count += !is[signal];
            is[signal] = true;
        }
    }
    return count;
}

/* --- samples --- */

/* The one that did not come, or else the one that is furthest from their middle. */
static int furthest_sample(const seen_signal *s)
{
    const double middle = samples_mean(s->samples, s->count);
    int at = 0;
    for (int n = 0; n < s->count; n++) {
        if (isnan(s->samples[n]))
            return n;
        at = fabs(s->samples[n] - middle) > fabs(s->samples[at] - middle) ? n : at;
    }
    return at;
}

/* A value that was shown belongs to the last. */
static void thin(seen_signal *s, int most)
{
    if (s->count <= most || s->has_shown)
        return;
    const int from = furthest_sample(s) - most / 2, last = s->count - most,
              first = from < 0      ? 0
                      : from > last ? last
                                    : from;
    memmove(s->samples, s->samples + first, (size_t)most * sizeof *s->samples);
    s->count = most;
}

static void thin_all(observed *few, int reads)
{
    int pairs = 0;
    for (int k = 0; k < few->count; k++)
        pairs += few->situations[k].signal_count;
    const int each = pairs > 0 && reads / pairs > SAMPLES_LEAST ? reads / pairs : SAMPLES_LEAST;
    for (int k = 0; k < few->count; k++) {
        for (int i = 0; i < few->situations[k].signal_count; i++)
            thin(&few->situations[k].signals[i], each);
    }
}

observed focus_on(tl_circuit *circuit, const observed *seen, int *were, int *are)
{
    const size_t count = (size_t)tl_circuit_plan(circuit)->signal_count;
    bool *is_seen = tl_alloc(count + 1, sizeof *is_seen), *keep = tl_alloc(count + 1, sizeof *keep);
    const int reads = count > LARGE ? READS_OF_LARGE : READS,
              pairs = (count > LARGE ? PAIRS_OF_LARGE : PAIRS) / (seen->count > 0 ? seen->count : 1),
              most = pairs < SIGNALS_LEAST  ? SIGNALS_LEAST
                     : pairs > SIGNALS_MOST ? SIGNALS_MOST
                                            : pairs;
    *were = signals_of(seen, is_seen);
    if (*were > most) {
        observed quick = only(seen, is_seen);
        thin_all(&quick, 0);
        keep_furthest(circuit, &quick, is_seen, most, keep);
        observed_free(&quick);
    }
    observed few = only(seen, *were > most ? keep : is_seen);
    thin_all(&few, reads);
    memset(is_seen, 0, count * sizeof *is_seen);
    *are = signals_of(&few, is_seen);
    free(is_seen);
    free(keep);
    return few;
}
