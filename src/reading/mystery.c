/* tinyladder read --mystery SEED: one fault, hidden on the bench, to be found by reading. */
#include "reading/mystery.h"
#include "reading/taker.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

/* The same draw on every machine: splitmix64. */
static unsigned long long next_draw(unsigned long long *state)
{
    unsigned long long z = *state += 0x9e3779b97f4a7c15ull;
    z = (z ^ z >> 30) * 0xbf58476d1ce4e5b9ull;
    z = (z ^ z >> 27) * 0x94d049bb133111ebull;
    return z ^ z >> 31;
}

static void read_ideal(play *p, double at, taken *readings, int *signals)
{
    tl_bench *bench = tl_bench_new(p->circuit, p->scene, TL_BENCH_IDEAL);
    take_once(bench, signals, p->plan->signal_count, at, 0, readings);
    tl_bench_free(bench);
}

static bool differs(const taken *a, const taken *b)
{
    if (a->net != b->net || a->is.status != b->is.status || a->is.undriven != b->is.undriven)
        return true;
    if (!a->is.analog && fabs(a->is.is.value - b->is.is.value) > 0.02 * fabs(a->is.is.value))
        return true;
    return a->is.analog ? labs(a->is.count - b->is.count) > 4 : a->is.closed != b->is.closed;
}

/* Whether anything reads otherwise with it: a fault without an effect cannot be found. Of a loose joint that
 * depends on the moment. */
static bool shows(play *p, double at, const char *line, const taken *sound, taken *readings, int *signals)
{
    bool seen = strncmp(line, "{loose", 6) == 0;
    if (seen)
        return true;
    read_ideal(p, at, readings, signals);
    for (int i = 0; i < p->plan->signal_count && !seen; i++)
        seen = differs(&sound[i], &readings[i]);
    return seen;
}

bool mystery_hide(play *p, double at, unsigned long seed, char line[MYSTERY_LINE])
{
    tl_fault_list all = tl_faults_of_plan(p->plan);
    const size_t room = (size_t)p->plan->signal_count + 1;
    taken *sound = must(calloc(room, sizeof *sound)), *readings = must(calloc(room, sizeof *readings));
    int *signals = must(calloc(room, sizeof *signals));
    unsigned long long state = seed;
    bool hidden = false;
    for (int i = 0; i < p->plan->signal_count; i++)
        signals[i] = i;
    read_ideal(p, at, sound, signals);
    for (int tries = 0; tries < 200 && !hidden && all.count > 0; tries++) {
        const char *drawn = all.line[next_draw(&state) % (unsigned)all.count];
        tl_report *report = tl_report_new();
        const bool added = tl_scene_add_fault(p->scene, drawn, p->circuit, report);
        hidden = added && shows(p, at, drawn, sound, readings, signals);
        if (added && !hidden)
            p->scene->fault_count--;
        if (hidden)
            snprintf(line, MYSTERY_LINE, "%s", drawn);
        tl_report_free(report);
    }
    free(signals);
    free(readings);
    free(sound);
    tl_fault_list_free(&all);
    return hidden;
}
