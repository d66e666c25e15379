/* SPDX-License-Identifier: MIT */
/*
 * How long the level of a line certainly stays as it is, so that no look is needed meanwhile: until the next
 * edge of its island, where that is at rest, and as long as no source that moves can bring it to its
 * threshold.
 */
#include "bench/bench_internal.h"
#include <math.h>

/* This many time constants after its last edge an island is where it goes. */
enum { AT_REST = 20 };

static const double turn = 6.283185307179586;

/* Most that a source moves in this many seconds from now on, volts; INFINITY where that is not known. */
static double most_moved(const bench_stimulus *stimulus, double seconds)
{
    const tl_waveform *waveform = stimulus->waveform;
    if (stimulus->held)
        return 0;
    if (!stimulus->exact)
        return INFINITY;
    if (waveform == NULL)
        return 2 * stimulus->swing;
    if (waveform->shape == TL_WAVEFORM_WAVE)
        return fmin(2, turn * seconds / waveform->period) * fabs(waveform->swing);
    double steepest = 0;
    for (int i = 0; i + 1 < waveform->count; i++) {
        const tl_moment *a = &waveform->moments[i], *b = a + 1;
        if (waveform->shape == TL_WAVEFORM_STEPS)
            return INFINITY;
        steepest = fmax(steepest, fabs(b->value - a->value) / (b->at - a->at));
    }
    return steepest * seconds;
}

/* Where sources move, a level stays while all of them together, at the pin and at its threshold, do less than
 * takes it there. */
static int64_t calm_until(const bench_island *s, double margin, int64_t now_ns, int64_t end_ns)
{
    static const double tries[] = {INFINITY, 10, 0.3, 0.01};
    for (int i = 0; i < 4; i++) {
        const double seconds = fmin(tries[i], seconds_of(end_ns - now_ns));
        double moved = 0;
        for (int k = 0; k < s->stimulus_count; k++)
            moved += most_moved(&s->stimuli[k], seconds);
        if (2 * moved < margin)
            return now_ns + (int64_t)(1e9 * seconds);
    }
    return now_ns;
}

/* A stuck line, swapped lines: each may change at either end of its time. */
static int64_t fault_turns(const tl_bench *bench, int64_t end_ns)
{
    const double now = seconds_of(bench->now_ns);
    for (int i = 0; bench->scene != NULL && i < bench->scene->fault_count; i++) {
        const tl_scene_fault *fault = &bench->scene->faults[i];
        if (fault->line[0] == TL_NONE)
            continue;
        const double next = fault->from > now ? fault->from : fault->until > now ? fault->until : INFINITY;
        if (next * 1e9 < (double)end_ns)
            end_ns = (int64_t)ceil(1e9 * next);
    }
    return end_ns;
}

int64_t line_quiet_until(tl_bench *bench, int line, int64_t end_ns)
{
    int stuck;
    const int pin = line_really(bench, line, &stuck);
    bench_pin *p = &bench->pins[pin];
    bench_island *s = p->island;
    if (s == NULL && bench->lines[pin].use != TL_LINE_OUTPUT)
        return bench->now_ns;
    end_ns = fault_turns(bench, end_ns);
    if (s == NULL || stuck >= 0)
        return end_ns;
    island_advance(bench, s, bench->now_ns);
    const bench_system *system = system_now(bench, s);
    if (system == NULL || system->floats || s->drifts)
        return bench->now_ns;
    const bench_edge *edge = events_first(bench, s, end_ns);
    if (edge != NULL)
        end_ns = edge->at_ns > bench->now_ns ? edge->at_ns : bench->now_ns;
    if (s->settled)
        return end_ns;
    if (seconds_of(bench->now_ns - s->touched_ns) < AT_REST * tl_transient_slowest(system->transient))
        return bench->now_ns;
    const double volts = signal_volts(bench, p->signal), margin = p->level ? volts - p->vil : p->vih - volts;
    return calm_until(s, margin, bench->now_ns, end_ns);
}
