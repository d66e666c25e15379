/* SPDX-License-Identifier: MIT */
/* Every cause is predicted. Its likelihood times how often such a cause is met is its weight. */
#include "explain/rank.h"
#include "base/memory.h"
#include "explain/focus.h"
#include "explain/likelihood.h"
#include "explain/near.h"
#include "explain/within.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

static const double alike = 3, hopeless = 16;
enum { SOUND_DRAWS = 32, LOOKED_AT = 48 };

/* Figures are not as independent as they are taken for: so much of a likelihood is believed, which makes the
 * stated probabilities come true (perf/host/explain.c). */
static const double trusted = 0.8;

/* A line that nothing holds has another level on each bench: no glance shows it. */
static bool is_any(const hypothesis *h)
{
    return h->line != NULL && h->fault.kind == TL_SCENE_OPEN && h->fault.line[0] != TL_NONE;
}

/* What opens an input may let it be as it is with sound parts: the first two draws go either way. */
static void predict_at_a_glance(question *q, const hypothesis *h, prediction *p)
{
    bool floats = h->line != NULL && h->fault.kind == TL_SCENE_OPEN;
    if (!floats) {
        predict(q, h, 1, p);
        for (int i = 0; i < q->count; i++)
            floats = floats || p->floats[i];
        if (!floats)
            return;
        prediction_free(p);
    }
    predict(q, h, 2, p);
}

/* --- the order --- */

static bool is_same(const hypothesis *a, const hypothesis *b)
{
    return strcmp(a->part, b->part) == 0 && strcmp(a->kind, b->kind) == 0;
}

static int by_probability(const void *one, const void *other)
{
    const ranked_cause *a = one, *b = other;
    return a->probability != b->probability ? (a->probability < b->probability ? 1 : -1)
                                            : a->hypothesis - b->hypothesis;
}

static bool is_wire(const char *part)
{
    const char *end = strrchr(part, '.');
    return end != NULL && (strcmp(end, ".pin") == 0 || strcmp(end, ".source") == 0);
}

/* A name, or with `-` at its end how names begin. */
static bool is_called(const char *kind, const char *name)
{
    const size_t length = strlen(name);
    return name[length - 1] == '-' ? strncmp(kind, name, length) == 0 : strcmp(kind, name) == 0;
}

/* Whether two kinds are names of one thing: what is open there, or joined, whatever makes it so. */
static bool same_kind(const hypothesis *a, const hypothesis *b)
{
    static const char *const names[][2] = {{"open", "stuck-open"}, {"short-to-", "stuck-closed"},
                                           {"short-to-", "short"}, {"pull-missing", "open"},
                                           {"bits", "eight-bit"},  {"bits", "wrong-constant"}};
    bool same = strcmp(a->kind, b->kind) == 0;
    for (size_t i = 0; i < sizeof names / sizeof names[0]; i++)
        same = same || (is_called(a->kind, names[i][0]) && is_called(b->kind, names[i][1])) ||
               (is_called(b->kind, names[i][0]) && is_called(a->kind, names[i][1]));
    return same;
}

/* Code that takes the words of a converter apart, for all its signals or for one. */
static bool one_misread(const tl_scene_fault *a, const tl_scene_fault *b)
{
    return a->kind == TL_SCENE_MISREAD && b->kind == TL_SCENE_MISREAD &&
           (a->signal == TL_NONE) != (b->signal == TL_NONE);
}

/* Whether two places may be of one network: of one owner, or wires. */
static bool one_network(const hypothesis *a, const hypothesis *b)
{
    const size_t owner = strcspn(a->part, ".");
    return one_misread(&a->fault, &b->fault) || (is_wire(a->part) && is_wire(b->part)) ||
           (owner == strcspn(b->part, ".") && strncmp(a->part, b->part, owner) == 0);
}

/* Whether two causes look just the same in everything that was seen. */
static bool look_alike(const diagnosis *d, int a, int b)
{
    const prediction *one = &d->predictions[a], *other = &d->predictions[b];
    if (one->draws != other->draws)
        return false;
    for (int i = 0; i < d->asked.count; i++) {
        const double near = 1e-6 * (1 + fabs(one->mean[i]));
        if (fabs(one->mean[i] - other->mean[i]) > near || fabs(one->variance[i] - other->variance[i]) > near)
            return false;
    }
    return true;
}

/* Values of one part and kind are one cause. */
static void gather_values(diagnosis *d, const double *likelihood, double best)
{
    for (int i = 0; i < d->all.count; i++) {
        const double weight = d->all.list[i].prior * exp(trusted * (likelihood[i] - best));
        int at = 0;
        if (!isfinite(likelihood[i]))
            continue;
        while (at < d->count && !is_same(&d->all.list[d->causes[at].hypothesis], &d->all.list[i]))
            at++;
        if (at == d->count) {
            d->causes[d->count++] = (ranked_cause){.hypothesis = i, .likelihood = likelihood[i] - best};
        } else if (likelihood[i] - best > d->causes[at].likelihood) {
            d->causes[at].hypothesis = i;
            d->causes[at].likelihood = likelihood[i] - best;
        }
        d->causes[at].probability += weight;
    }
}

static bool is_called_just(const char *name, const char *part, size_t length)
{
    return strlen(name) == length && strncmp(name, part, length) == 0;
}

/* Named after a signal that was seen, or a multiplexer on its way. */
static bool is_of_seen(const diagnosis *d, int cause)
{
    const tl_plan *plan = tl_circuit_plan(d->asked.circuit);
    const char *part = d->all.list[cause].part;
    const size_t owner = strcspn(part, ".");
    for (int k = 0; k < d->asked.seen->count; k++) {
        const situation *in = &d->asked.seen->situations[k];
        for (int i = 0; i < in->signal_count; i++) {
            const tl_signal *s = question_signal(&d->asked, in->signals[i].signal);
            if (is_called_just(s->name, part, owner))
                return true;
            for (int pin = s->pin, deep = 0; plan->pins[pin].mux != TL_NONE && deep < TL_ROUTE_MOST; deep++) {
                if (is_called_just(plan->muxes[plan->pins[pin].mux].name, part, owner))
                    return true;
                pin = plan->muxes[plan->pins[pin].mux].common;
            }
        }
    }
    return false;
}

/* A fault of a line by two of its names. */
static bool is_one_line(const hypothesis *a, const hypothesis *b)
{
    return a->fault.line[0] != TL_NONE && hypotheses_one_point(a, b);
}

/* One fault at several places of one network, whatever it is called there, is one cause, too. */
static void gather_places(diagnosis *d)
{
    int kept = 0;
    for (int i = 0; i < d->count; i++) {
        const ranked_cause c = d->causes[i];
        int at = 0;
        while (at < kept &&
               !is_one_line(&d->all.list[d->causes[at].hypothesis], &d->all.list[c.hypothesis]) &&
               (!same_kind(&d->all.list[d->causes[at].hypothesis], &d->all.list[c.hypothesis]) ||
                d->causes[at].also_count == ALSO_MOST ||
                !one_network(&d->all.list[d->causes[at].hypothesis], &d->all.list[c.hypothesis]) ||
                !look_alike(d, d->causes[at].hypothesis, c.hypothesis)))
            at++;
        if (at == kept) {
            d->causes[kept++] = c;
            continue;
        }
        ranked_cause *first = &d->causes[at];
        const bool better =
            hypotheses_one_point(&d->all.list[first->hypothesis], &d->all.list[c.hypothesis]) &&
            is_of_seen(d, c.hypothesis) && !is_of_seen(d, first->hypothesis);
        if (first->also_count < ALSO_MOST)
            first->also[first->also_count++] = better ? first->hypothesis : c.hypothesis;
        first->hypothesis = better ? c.hypothesis : first->hypothesis;
        first->probability += c.probability;
    }
    d->count = kept;
}

static void gather(diagnosis *d, const double *likelihood)
{
    double best = -INFINITY, sum = 0;
    for (int i = 0; i < d->all.count; i++)
        best = fmax(best, likelihood[i]);
    gather_values(d, likelihood, best);
    gather_places(d);
    for (int i = 0; i < d->count; i++) {
        sum += d->causes[i].probability;
    }
    for (int i = 0; i < d->count; i++) {
        d->causes[i].probability /= sum;
        d->causes[i].alike = d->causes[i].likelihood >= -alike;
    }
    qsort(d->causes, (size_t)d->count, sizeof *d->causes, by_probability);
}

static int best_of(const diagnosis *d, const double *likelihood)
{
    int best = 0;
    for (int i = 1; i < d->all.count; i++)
        best = likelihood[i] > likelihood[best] ? i : best;
    return best;
}

/* Nothing wrong comes first where nothing that was seen says otherwise. */
static void put_sound_first(diagnosis *d)
{
    int at = 0;
    while (d->causes[at].hypothesis != SOUND)
        at++;
    const ranked_cause sound = d->causes[at];
    memmove(d->causes + 1, d->causes, (size_t)at * sizeof *d->causes);
    d->causes[0] = sound;
}

static int rising(const void *one, const void *other)
{
    const double a = *(const double *)one, b = *(const double *)other;
    return a < b ? -1 : a > b;
}

/* What a glance must promise for more: to be near the best, and among the first. */
static double worth_more(const double *likelihood, int count)
{
    double *sorted = tl_alloc((size_t)count, sizeof *sorted);
    memcpy(sorted, likelihood, (size_t)count * sizeof *sorted);
    qsort(sorted, (size_t)count, sizeof *sorted, rising);
    const double best = sorted[count - 1], last = sorted[count > LOOKED_AT ? count - LOOKED_AT : 0];
    free(sorted);
    return fmax(best - hopeless, last);
}

static unsigned long bucket_of(const tl_scene_fault *fault, int buckets)
{
    const unsigned char *bytes = (const unsigned char *)fault;
    unsigned long sum = 5381;
    for (size_t i = 0; i < sizeof *fault; i++)
        sum = 33 * sum + bytes[i];
    return sum % (unsigned long)buckets;
}

/* Of each the first hypothesis with just its fault: a line has a name at each multiplexer that it selects. */
static int *first_of_same(const hypotheses *all)
{
    int *same = tl_alloc((size_t)all->count, sizeof *same),
        *first = tl_alloc((size_t)all->count, sizeof *first),
        *next = tl_alloc((size_t)all->count, sizeof *next);
    for (int i = 0; i < all->count; i++)
        first[i] = TL_NONE;
    for (int i = 0; i < all->count; i++) {
        const unsigned long bucket = bucket_of(&all->list[i].fault, all->count);
        int at = i < FIRST_FAULT ? TL_NONE : first[bucket];
        while (at != TL_NONE && !hypotheses_same(&all->list[at], &all->list[i]))
            at = next[at];
        same[i] = at != TL_NONE ? at : i;
        if (at != TL_NONE)
            continue;
        next[i] = first[bucket];
        first[bucket] = i;
    }
    free(first);
    free(next);
    return same;
}

static void look_closer(diagnosis *d, int i, double *likelihood)
{
    question *q = &d->asked;
    prediction_free(&d->predictions[i]);
    predict(q, &d->all.list[i], DRAWS, &d->predictions[i]);
    *likelihood = likelihood_of(q, &d->predictions[0], &d->predictions[i]);
    if (is_any(&d->all.list[i]))
        *likelihood = fmax(*likelihood, likelihood_of_draws(q, &d->predictions[0], &d->predictions[i]));
}

/* A draw of every cause; the rest of them only of those that may be it. A glance is less sure of each figure:
 * of all causes by as much as of sound parts. */
static void predict_all(diagnosis *d, double *likelihood)
{
    question *q = &d->asked;
    const int count = d->all.count;
    int *same = first_of_same(&d->all);
    predict(q, &d->all.list[SOUND], DRAWS, &d->predictions[SOUND]);
    (void)glance(q, &d->predictions[SOUND], &d->predictions[SOUND], &likelihood[SOUND]);
    for (int i = 1; i < count; i++) {
        likelihood[i] = -INFINITY;
        if (same[i] < i || !shows_anywhere(q, &d->all.list[i]))
            continue;
        predict_at_a_glance(q, &d->all.list[i], &d->predictions[i]);
        if (!glance(q, &d->predictions[0], &d->predictions[i], &likelihood[i]) && i != OTHER_SOURCE)
            likelihood[i] = -INFINITY;
    }
    const double worth = worth_more(likelihood, count),
                 surer = likelihood_of(q, &d->predictions[SOUND], &d->predictions[SOUND]) - likelihood[SOUND];
    likelihood[SOUND] += surer;
    for (int i = 1; i < count; i++) {
        if (d->predictions[same[i]].all == NULL)
            continue;
        if (same[i] < i) {
            likelihood[i] = likelihood[same[i]];
            prediction_copy(q, &d->predictions[same[i]], &d->predictions[i]);
        } else if (likelihood[i] >= worth || (is_any(&d->all.list[i]) && isfinite(likelihood[i]))) {
            look_closer(d, i, &likelihood[i]);
        } else {
            likelihood[i] += surer;
        }
    }
    free(same);
}

/* Two at once: of those that alone agree best, none with the same part as the other. */
static double *try_pairs(diagnosis *d, double *likelihood)
{
    enum { ALONE = 16 };
    int best[ALONE], count = 0;
    for (int i = FIRST_FAULT; i < d->all.count; i++) {
        int at = count < ALONE ? count++ : ALONE;
        for (; at > 0 && likelihood[i] > likelihood[best[at - 1]]; at--) {
            if (at < ALONE)
                best[at] = best[at - 1];
        }
        if (at < ALONE)
            best[at] = i;
    }
    const int alone = d->all.count;
    for (int i = 0; i < count; i++) {
        for (int k = i + 1; k < count; k++) {
            if (isfinite(likelihood[best[k]]) &&
                strcmp(d->all.list[best[i]].part, d->all.list[best[k]].part) != 0)
                hypotheses_add_pair(&d->all, best[i], best[k]);
        }
    }
    const size_t all = (size_t)d->all.count;
    prediction *predictions = tl_alloc(all, sizeof *predictions);
    double *values = tl_alloc(all, sizeof *values);
    memcpy(predictions, d->predictions, (size_t)alone * sizeof *predictions);
    memcpy(values, likelihood, (size_t)alone * sizeof *values);
    free(d->predictions);
    free(likelihood);
    free(d->causes);
    d->predictions = predictions;
    d->causes = tl_alloc(all + 1, sizeof *d->causes);
    for (int i = alone; i < d->all.count; i++) {
        predict(&d->asked, &d->all.list[i], DRAWS, &d->predictions[i]);
        values[i] = likelihood_of(&d->asked, &d->predictions[0], &d->predictions[i]);
    }
    return values;
}

static bool says_a_source(const observed *seen)
{
    for (int k = 0; k < seen->count; k++) {
        if (seen->situations[k].source_count > 0)
            return true;
    }
    return false;
}

bool diagnose(diagnosis *d, tl_circuit *circuit, const observed *seen, const diagnose_options *o,
              tl_report *report)
{
    prediction sound;
    *d = (diagnosis){.seen = seen, .within = true};
    d->compared = focus_on(circuit, seen, &d->were_seen, &d->are_compared);
    tl_fault_list faults = faults_near(circuit, &d->compared, &d->parts);
    question_of(&d->asked, circuit, &d->compared, &d->parts);
    d->all = hypotheses_of(circuit, &faults);
    tl_fault_list_free(&faults);
    for (int i = 0; i < tl_circuit_plan(circuit)->signal_count; i++)
        hypotheses_add_factor(&d->all, circuit, tl_circuit_plan(circuit)->signals[i].name,
                              question_factor(&d->asked, i));
    if (o->priors != NULL && !priors_load(&d->all, o->priors, report)) {
        hypotheses_free(&d->all);
        question_free(&d->asked);
        bench_parts_free(&d->parts);
        observed_free(&d->compared);
        return false;
    }
    d->predictions = tl_alloc((size_t)d->all.count, sizeof *d->predictions);
    d->causes = tl_alloc((size_t)d->all.count + 1, sizeof *d->causes);
    double *likelihood = tl_alloc((size_t)d->all.count, sizeof *likelihood);
    predict_all(d, likelihood);
    if (o->two)
        likelihood = try_pairs(d, likelihood);
    predict(&d->asked, &d->all.list[0], SOUND_DRAWS, &sound);
    for (int i = 0; i < d->asked.count; i++) {
        d->within = is_within(&d->asked, &sound, i) && d->within;
        if (is_beyond_source(&d->asked, &sound, i))
            likelihood[SOUND] = likelihood[OTHER_SOURCE] = -INFINITY;
    }
    prediction_free(&sound);
    d->impossible =
        !d->within && is_wild(&d->asked, &d->predictions[0], &d->predictions[best_of(d, likelihood)]);
    for (int i = SOUND; i < FIRST_FAULT; i++) { /* "a little off" is no name for what is far off */
        if (d->impossible || (!d->within && is_wild(&d->asked, &d->predictions[0], &d->predictions[i])))
            likelihood[i] = -INFINITY;
    }
    if (!says_a_source(seen))
        likelihood[OTHER_SOURCE] = -INFINITY;
    gather(d, likelihood);
    if (d->within)
        put_sound_first(d);
    free(likelihood);
    return true;
}

void diagnosis_free(diagnosis *d)
{
    for (int i = 0; i < d->all.count; i++)
        prediction_free(&d->predictions[i]);
    free(d->predictions);
    free(d->causes);
    hypotheses_free(&d->all);
    question_free(&d->asked);
    bench_parts_free(&d->parts);
    observed_free(&d->compared);
}
