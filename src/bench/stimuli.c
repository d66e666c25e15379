/* SPDX-License-Identifier: MIT */
/* Sources that move by themselves: waveforms of the scene, ripple of supplies. */
#include "base/memory.h"
#include "bench/bench_internal.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

/* What follows a wave with a time constant of many periods is off by no more than (period / (2 pi tau))^2 of
 * its swing when the wave begins at a peak, and that dies away with tau: 5e-5 behind 20 waves, whatever tau
 * is. */
enum { PIECES_OF_A_PERIOD = 32, WAVES_BEFORE_A_LOOK = 20 };
static const double turn = 6.283185307179586;

static double value_at(const bench_stimulus *stimulus, double seconds)
{
    if (stimulus->resting)
        return stimulus->waveform != NULL ? stimulus->waveform->middle : stimulus->middle;
    if (stimulus->waveform == NULL)
        return stimulus->middle + stimulus->swing * sin(turn * fmod(seconds * stimulus->hertz, 1));
    const double value = tl_waveform_at(stimulus->waveform, seconds);
    if (stimulus->source->kind == TL_SOURCE_POTENTIOMETER)
        return value / 100;
    return stimulus->waveform->of_quantity
               ? stimulus->share * tl_response_ohms(&stimulus->source->curve, value)
               : value;
}

/* The ends of a step are asked for again and again. */
double stimulus_value(bench_stimulus *stimulus, int64_t at_ns)
{
    for (int i = 0; i < 2; i++) {
        if (stimulus->known_ns[i] == at_ns)
            return stimulus->known[i];
    }
    const int place = stimulus->known_next;
    stimulus->known_next = 1 - place;
    stimulus->known_ns[place] = at_ns;
    stimulus->known[place] = value_at(stimulus, seconds_of(at_ns));
    return stimulus->known[place];
}

/* Whether it stays as it is from then on, until it turns next. */
static bool stands_still(const bench_stimulus *stimulus, double seconds)
{
    const tl_waveform *w = stimulus->waveform;
    if (stimulus->held || stimulus->resting || w == NULL || w->shape == TL_WAVEFORM_STEPS)
        return true;
    if (w->shape == TL_WAVEFORM_WAVE)
        return w->swing == 0;
    for (int i = 0; i < w->count; i++) {
        if (w->moments[i].at > seconds)
            return i == 0 || w->moments[i].value == w->moments[i - 1].value;
    }
    return true;
}

void stimuli_set(tl_bench *bench, bench_island *s, int64_t at_ns)
{
    for (int i = 0; i < s->stimulus_count; i++) {
        bench_stimulus *stimulus = &s->stimuli[i];
        stimulus->still = !stimulus->exact && stands_still(stimulus, seconds_of(at_ns));
        if (!stimulus->held)
            s->values[stimulus->param] = stimulus_value(stimulus, at_ns);
    }
    if (s->rails_move)
        levels_update(bench, s);
}

void stimuli_aim(tl_bench *bench, bench_island *s, int64_t from_ns, int64_t to_ns)
{
    for (int i = 0; i < s->stimulus_count; i++) {
        bench_stimulus *stimulus = &s->stimuli[i];
        const bool jumps = stimulus->waveform != NULL && stimulus->waveform->shape == TL_WAVEFORM_STEPS;
        if (!stimulus->held)
            s->values[stimulus->param] = stimulus_value(stimulus, jumps ? from_ns : to_ns);
    }
    if (s->rails_move)
        levels_update(bench, s);
}

static int64_t next_of_wave(double period, int64_t after_ns)
{
    const double piece = period / PIECES_OF_A_PERIOD;
    const int64_t next = (int64_t)llround(1e9 * piece * (floor(seconds_of(after_ns) / piece + 1e-6) + 1));
    return next > after_ns ? next : after_ns + 1;
}

static int64_t next_of_waveform(const tl_waveform *waveform, int64_t after_ns)
{
    int low = 0, high = waveform->count; /* the first moment after it */
    while (low < high) {
        const int middle = (low + high) / 2;
        if ((int64_t)llround(1e9 * waveform->moments[middle].at) > after_ns)
            high = middle;
        else
            low = middle + 1;
    }
    return low < waveform->count ? (int64_t)llround(1e9 * waveform->moments[low].at) : INT64_MAX;
}

/* Its values known so far are void. */
static void set_resting(bench_island *s, bench_stimulus *stimulus, bool resting)
{
    stimulus->resting = resting;
    stimulus->known_ns[0] = stimulus->known_ns[1] = INT64_MIN;
    s->changed = true;
}

/* The nearest peak, a quarter of a period behind a zero. */
static int64_t peak_near(const bench_stimulus *stimulus, double at_ns)
{
    const double period = 1e9 * stimulus->period;
    return (int64_t)llround((round(at_ns / period - 0.25) + 0.25) * period);
}

void stimuli_rest(bench_island *s, int64_t from_ns, int64_t to_ns)
{
    for (int i = 0; i < s->stimulus_count; i++) {
        bench_stimulus *stimulus = &s->stimuli[i];
        const double period = 1e9 * stimulus->period, way = (double)(to_ns - s->at_ns);
        if (stimulus->resting && (s->at_ns >= stimulus->rest_ns[1] || s->touched_ns > stimulus->rest_ns[0]))
            set_resting(s, stimulus, false);
        if (!stimulus->exact || !(period > 0) || way < 2 * WAVES_BEFORE_A_LOOK * period ||
            (double)(s->at_ns - from_ns) < period || (double)(s->at_ns - s->touched_ns) < period ||
            llabs(peak_near(stimulus, (double)s->at_ns) - s->at_ns) > 2)
            continue;
        stimulus->rest_ns[0] = s->at_ns;
        stimulus->rest_ns[1] = peak_near(stimulus, (double)to_ns - WAVES_BEFORE_A_LOOK * period);
        set_resting(s, stimulus, true);
    }
}

int64_t stimuli_next_turn(const bench_island *s, int64_t after_ns, int64_t to_ns)
{
    int64_t next = to_ns;
    for (int i = 0; i < s->stimulus_count; i++) {
        const bench_stimulus *stimulus = &s->stimuli[i];
        const int64_t at = stimulus->resting      ? stimulus->rest_ns[1]
                           : stimulus->period > 0 ? next_of_wave(stimulus->period, after_ns)
                                                  : next_of_waveform(stimulus->waveform, after_ns);
        next = at < next ? at : next;
    }
    return next;
}

int64_t stimuli_next_knot(const bench_island *s, int64_t after_ns, int64_t to_ns)
{
    int64_t next = to_ns;
    for (int i = 0; i < s->stimulus_count; i++) {
        const bench_stimulus *stimulus = &s->stimuli[i];
        const int64_t at = stimulus->period > 0 ? to_ns : next_of_waveform(stimulus->waveform, after_ns);
        next = at < next ? at : next;
    }
    return next;
}

/* Shares of its own largest value, or of 1 where that is more, that it changes in a second at most. */
static double steepness_of(const bench_stimulus *stimulus)
{
    const tl_waveform *waveform = stimulus->waveform;
    double most = 1, steepest = 0;
    if (waveform == NULL)
        return turn * stimulus->hertz * stimulus->swing / fmax(fabs(stimulus->middle), 1);
    if (waveform->shape == TL_WAVEFORM_STEPS)
        return 0; /* it jumps at moments of its own, and stands still in between */
    if (waveform->shape == TL_WAVEFORM_WAVE)
        return turn / waveform->period * fabs(waveform->swing) /
               (waveform->of_quantity ? 1 : fmax(fabs(waveform->middle), 1));
    for (int i = 0; i + 1 < waveform->count; i++) {
        const tl_moment *a = &waveform->moments[i], *b = a + 1;
        most = fmax(most, fmax(fabs(a->value), fabs(b->value)));
        steepest = fmax(steepest, fabs(b->value - a->value) / (b->at - a->at));
    }
    /* A quantity's ohms go by less than a tenth of themselves a degree. */
    return steepest / (waveform->of_quantity ? 1 : most);
}

static void add_stimulus(bench_island *s, bench_stimulus stimulus)
{
    s->steepest = fmax(s->steepest, steepness_of(&stimulus));
    stimulus.known_ns[0] = stimulus.known_ns[1] = INT64_MIN;
    stimulus.placed = NAN;
    const bool jumps = stimulus.waveform != NULL && stimulus.waveform->shape == TL_WAVEFORM_STEPS;
    s->ohms_move = s->ohms_move || (!stimulus.exact && !jumps);
    s->jumps = s->jumps || jumps;
    if (stimulus.waveform == NULL)
        stimulus.period = 1 / stimulus.hertz;
    else if (stimulus.waveform->shape == TL_WAVEFORM_WAVE)
        stimulus.period = stimulus.waveform->period;
    s->period = fmax(s->period, stimulus.period);
    s->rails_move = s->rails_move || stimulus.exact;
    s->stimuli = tl_grow(s->stimuli, (size_t)s->stimulus_count, sizeof *s->stimuli);
    s->stimuli[s->stimulus_count++] = stimulus;
}

/* A source that is measured as a rail moves the rail for everybody who is connected to it. */
static void add_waveform(tl_bench *bench, const tl_waveform *waveform)
{
    const int param = bench->circuit->signals[waveform->signal].unknown;
    const tl_source *source = &bench->circuit->plan->signals[waveform->signal].source;
    for (int k = 0; k < bench->island_count; k++) {
        if (tl_island_has_param(bench->islands[k].island, param) ||
            bench->signals[waveform->signal].island == &bench->islands[k])
            add_stimulus(&bench->islands[k],
                         (bench_stimulus){.param = param,
                                          .waveform = waveform,
                                          .source = source,
                                          .share = sensor_share(bench, waveform->signal),
                                          .exact = source->kind != TL_SOURCE_RESISTANCE &&
                                                   source->kind != TL_SOURCE_POTENTIOMETER});
    }
}

static bool has_waveform(const tl_bench *bench, int param)
{
    for (int i = 0; bench->scene != NULL && i < bench->scene->waveform_count; i++) {
        if (bench->circuit->signals[bench->scene->waveforms[i].signal].unknown == param)
            return true;
    }
    return false;
}

static void add_ripple(tl_bench *bench, int supply)
{
    const tl_supply *of = &bench->circuit->plan->supplies[supply];
    const int param = bench->circuit->supply_param[supply];
    if (!(of->ripple > 0) || !(of->ripple_hertz > 0) || of->kind != TL_RAIL_SUPPLY ||
        has_waveform(bench, param))
        return;
    for (int k = 0; k < bench->island_count; k++) {
        if (tl_island_has_param(bench->islands[k].island, param))
            add_stimulus(&bench->islands[k], (bench_stimulus){.param = param,
                                                              .middle = bench->values[param],
                                                              .swing = of->ripple / 2,
                                                              .hertz = of->ripple_hertz,
                                                              .exact = true});
    }
}

static void add_hum(tl_bench *bench, const tl_scene_fault *fault, int param)
{
    for (int k = 0; k < bench->island_count && param != TL_NET_NONE; k++) {
        if (tl_island_has_param(bench->islands[k].island, param))
            add_stimulus(&bench->islands[k],
                         (bench_stimulus){
                             .param = param, .swing = fault->volts, .hertz = fault->hertz, .exact = true});
    }
}

void stimuli_init(tl_bench *bench)
{
    for (int i = 0; bench->scene != NULL && i < bench->scene->fault_count; i++)
        add_hum(bench, &bench->scene->faults[i], bench->hum[i]);
    for (int i = 0; bench->scene != NULL && i < bench->scene->waveform_count; i++)
        add_waveform(bench, &bench->scene->waveforms[i]);
    for (int i = 0; i < bench->circuit->plan->supply_count; i++)
        add_ripple(bench, i);
}
