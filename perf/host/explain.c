/* SPDX-License-Identifier: MIT */
/* explain.c ROUNDS PLAN...: how good a diagnosis is, on benches with parts of their own. Faults are drawn by
 * how often they happen; in a fifth of the rounds the sources are up to twice as far off as was said; a sixth
 * of the rounds is sound. After that one measurement as proposed, and a second, are made on the same bench.
 */
#include "explain/next.h"
#include "explain/rehearsal.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

enum { TENTHS = 10 };

typedef struct {
    int told, first, three, alike, one_first, sound, sound_said, dull;
    int measured, after_one, after_two, alone_after_two;
    int said[TENTHS], came_true[TENTHS];
} tally;

static const diagnose_options usual = {NULL, false};

static unsigned long long state = 20261201;

static double even(void)
{
    unsigned long long z = state += 0x9e3779b97f4a7c15ull;
    z = (z ^ z >> 30) * 0xbf58476d1ce4e5b9ull;
    z = (z ^ z >> 27) * 0x94d049bb133111ebull;
    return (double)((z ^ z >> 31) >> 11) * 0x1p-53;
}

static int draw(const hypotheses *all)
{
    double sum = 0;
    for (int i = FIRST_FAULT; i < all->count; i++)
        sum += all->list[i].prior;
    double at = even() * sum;
    for (int i = FIRST_FAULT; i < all->count; i++) {
        at -= all->list[i].prior;
        if (at < 0)
            return i;
    }
    return all->count - 1;
}

static bool is_one(const hypothesis *h, const hypothesis *truth)
{
    return strcmp(h->kind, truth->kind) == 0 && strcmp(h->part, truth->part) == 0;
}

/* By name, wherever on its network. */
static bool is_it(const diagnosis *d, const ranked_cause *c, const hypothesis *truth)
{
    bool same = is_one(&d->all.list[c->hypothesis], truth);
    for (int i = 0; i < c->also_count; i++)
        same = same || is_one(&d->all.list[c->also[i]], truth);
    return same;
}

static int place_of(const diagnosis *d, const hypothesis *truth)
{
    for (int i = 0; i < d->count; i++) {
        if (is_it(d, &d->causes[i], truth))
            return i;
    }
    return d->count;
}

/* One of those whose likelihood is within 3 of the best, the truth among them. */
static void count_fault(tally *t, const diagnosis *d, const hypothesis *truth)
{
    const int place = place_of(d, truth);
    const bool alike = place < d->count && d->causes[place].alike;
    const int tenth = (int)fmin(TENTHS - 1, TENTHS * d->causes[0].probability);
    t->told++;
    t->first += place == 0;
    t->three += place < 3;
    t->alike += alike;
    t->one_first += alike && d->causes[0].alike;
    t->said[tenth]++;
    t->came_true[tenth] += place == 0;
}

static void go_on(const rehearsal *r, observed *seen, diagnosis *d, tally *t)
{
    next_measurement next;
    t->measured++;
    for (int n = 1; n <= 2; n++) {
        if (!(d->causes[0].probability > 0.97) && next_of(d, &next)) {
            next.meter.shows = rehearsal_measure(r, seen, &next.meter, next.situation);
            observed_add_meter(seen, next.situation, &next.meter);
            diagnosis_free(d);
            (void)diagnose(d, r->circuit, seen, &usual, NULL);
        }
        const bool first = place_of(d, r->fault) == 0;
        t->after_one += n == 1 && first;
        t->after_two += n == 2 && first;
        int alike = 0;
        for (int i = 0; i < d->count; i++)
            alike += d->causes[i].alike && d->causes[i].probability >= 0.05;
        t->alone_after_two += n == 2 && alike <= 1;
    }
}

static void play(tl_circuit *circuit, const hypotheses *all, bool further, tally *t)
{
    diagnosis d;
    const bool sound = even() < 1 / 6.0;
    const double wider = even() < 0.2 ? 2 : 1;
    const hypothesis *truth = &all->list[sound ? 0 : draw(all)];
    const unsigned long seed = 100000 + (unsigned long)(1e8 * even());
    observed seen = rehearsal_situations(circuit, 8);
    const rehearsal r = {circuit, truth, seed, wider};
    rehearsal_observe(&r, &seen);
    if (!diagnose(&d, circuit, &seen, &usual, NULL))
        exit(1);
    if (sound) {
        t->sound++;
        t->sound_said += d.causes[0].hypothesis == SOUND;
    } else if (d.within) {
        t->dull++;
    } else {
        count_fault(t, &d, truth);
        if (further)
            go_on(&r, &seen, &d, t);
    }
    diagnosis_free(&d);
    observed_free(&seen);
}

static double share(int part, int of)
{
    return of > 0 ? 100.0 * part / of : 0;
}

static void print(const tally *t)
{
    printf("  faults that can be told from sound: %d; within tolerance: %d\n", t->told, t->dull);
    printf("  one of those alike first %5.1f %%   the truth among them %5.1f %%   the truth itself first "
           "%5.1f %%   among three %5.1f %%\n",
           share(t->one_first, t->told), share(t->alike, t->told), share(t->first, t->told),
           share(t->three, t->told));
    printf("  sound called sound %5.1f %% of %d\n", share(t->sound_said, t->sound), t->sound);
    if (t->measured > 0)
        printf("  the truth first after one measurement %5.1f %%, after two %5.1f %%; one cause alone is "
               "left after two %5.1f %% of %d\n",
               share(t->after_one, t->measured), share(t->after_two, t->measured),
               share(t->alone_after_two, t->measured), t->measured);
    for (int i = 5; i < TENTHS; i++)
        printf("  said %d0 %% or more: true %5.1f %% of %d\n", i, share(t->came_true[i], t->said[i]),
               t->said[i]);
}

int main(int argc, char **argv)
{
    tally t = {0};
    const int rounds = argc > 2 ? atoi(argv[1]) : 0, measured = argc > 2 ? rounds / 5 : 0;
    for (int p = 2; p < argc; p++) {
        tl_report *report = tl_report_new();
        tl_report_allow_outside(report, true);
        tl_plan *plan = tl_plan_load(argv[p], report);
        if (plan == NULL) {
            tl_report_tell(report, stderr);
            return 1;
        }
        tl_circuit *circuit = tl_circuit_new(plan);
        hypotheses all = hypotheses_of_plan(circuit);
        for (int i = 0; i < rounds; i++)
            play(circuit, &all, i < measured, &t);
        hypotheses_free(&all);
        tl_circuit_free(circuit);
        tl_plan_free(plan);
        tl_report_free(report);
    }
    print(&t);
    return 0;
}
