/* SPDX-License-Identifier: MIT */
/*
 * The equations of an island in one state of its contacts, worked out once and kept. Sources of volts and
 * amperes may go anywhere without touching them. Ohms that move have a grid, each cell a hundredth of their
 * value wide, with equations of its own: where the island comes to rest follows them in a parabola inside it,
 * and its speed is that of the middle.
 */
#include "base/memory.h"
#include "bench/bench_internal.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

static const double cell = 0.01;

void systems_drop(bench_island *s)
{
    for (int i = 0; i < SYSTEMS_MOST; i++) {
        if (!s->systems[i].known)
            continue;
        tl_transient_free(s->systems[i].transient);
        s->systems[i] = (bench_system){0};
    }
    s->settled = false;
    s->last = NULL;
}

/* One bit pattern for each contact; the state's is that of all closed ones together. */
static uint64_t pattern_of(uint64_t number)
{
    random_source source = {.state = number};
    return random_bits(&source);
}

void contact_set(tl_bench *bench, int contact, bool closed)
{
    bench_island *s = bench->island_of_contact[contact];
    if (bench->closed[contact] == closed)
        return;
    bench->closed[contact] = closed;
    if (s == NULL)
        return;
    s->key ^= pattern_of((uint64_t)contact);
    s->touched_ns = s->at_ns;
    s->changed = true;
    s->settled = false;
}

/* Travel is placed by the ratio of its two legs, so that its cells are finer towards both ends; ohms by
 * themselves. */
static double place_of(bool travel, double value)
{
    const double least = 1e-8, within = fmin(fmax(value, least), 1 - least);
    return travel ? log(within / (1 - within)) / 4 : log(fmax(value, 1e-6));
}

/* Which cell of its grid a stimulus stands in, and where that has its middle. What stands still is a cell of
 * its own. */
static void take_cell(bench_stimulus *stimulus, int index, double value)
{
    if (stimulus->placed == value && stimulus->placed_still == stimulus->still)
        return;
    stimulus->placed = value;
    stimulus->placed_still = stimulus->still;
    stimulus->base = value;
    stimulus->by = 1;
    if (stimulus->exact)
        return;
    const bool travel = stimulus->source->kind == TL_SOURCE_POTENTIOMETER;
    const double middle = cell * round(place_of(travel, value) / cell);
    const double base = travel ? 1 / (1 + exp(-4 * middle)) : exp(middle);
    stimulus->by = travel ? 2 * cell * base * (1 - base) : base * cell / 2;
    stimulus->base = stimulus->still ? value : base;
    uint64_t bits;
    memcpy(&bits, &stimulus->base, sizeof bits);
    stimulus->pattern = pattern_of(bits + (uint64_t)index * UINT64_C(0x9e3779b97f4a7c15) + stimulus->still);
}

/* The contacts' state, and where ohms stand. */
static uint64_t key_of(bench_island *s)
{
    uint64_t key = s->key;
    for (int i = 0; i < s->stimulus_count; i++) {
        bench_stimulus *stimulus = &s->stimuli[i];
        take_cell(stimulus, i, s->values[stimulus->param]);
        key ^= stimulus->pattern; /* 0 of those that need no cell */
    }
    return key;
}

static tl_transient *work_out(tl_bench *bench, bench_island *s)
{
    int count = 0;
    int *params = tl_alloc((size_t)s->stimulus_count, sizeof *params);
    double *by = tl_alloc(2 * (size_t)s->stimulus_count, sizeof *by), *now = by + s->stimulus_count;
    const tl_net_state state = {s->values, bench->closed};
    for (int i = 0; i < s->stimulus_count; i++) {
        if (s->stimuli[i].still)
            continue;
        params[count] = s->stimuli[i].param;
        by[count] = s->stimuli[i].by;
        now[count] = s->values[params[count]];
        s->values[params[count++]] = s->stimuli[i].base;
    }
    tl_transient *transient = tl_transient_new(s->island, &state);
    if (transient != NULL && count > 0 && !tl_transient_track(transient, &state, params, by, count)) {
        tl_transient_free(transient);
        transient = NULL;
    }
    for (int i = 0; i < count; i++)
        s->values[params[i]] = now[i];
    free(params);
    free(by);
    return transient;
}

void trouble_note(tl_bench *bench, bench_island *s, const char *what)
{
    s->in_trouble = true;
    if (bench->trouble[0] == '\0')
        snprintf(bench->trouble, sizeof bench->trouble, "at %.6g s: %s", fmax(seconds_of(s->at_ns), 0), what);
}

static void note_unsolved(tl_bench *bench, bench_island *s)
{
    char what[120];
    const tl_net_state state = {s->values, bench->closed};
    tl_island_blame(s->island, &state, what, sizeof what);
    trouble_note(bench, s, what);
}

/* Whether any pin floats. */
static bool has_loose_pin(const tl_bench *bench, const bench_island *s, const tl_transient *transient)
{
    for (int i = 0; i < s->signal_count && transient != NULL; i++) {
        if (tl_transient_floats(transient,
                                tl_island_index(s->island, bench->circuit->signals[s->signals[i]].pin)))
            return true;
    }
    return false;
}

double param_volts(const tl_bench *bench, const bench_island *s, int param)
{
    for (int i = 0; i < bench->lift_count; i++) {
        const bench_lift *lift = &bench->lifts[i];
        const int index = lift->param == param && bench->closed[lift->cut]
                              ? tl_island_index(s->island, lift->node)
                              : TL_NET_NONE;
        if (index != TL_NET_NONE)
            return s->volts[index];
    }
    return s->values[param];
}

static bool has_loose_node(const bench_island *s, const tl_transient *transient)
{
    for (int node = 0; node < s->size && transient != NULL; node++) {
        if (tl_transient_floats(transient, node))
            return true;
    }
    return false;
}

/* The place of a key: where it is, or an empty one, or the oldest of the few that it can have. */
static bench_system *find_place(bench_island *s, uint64_t key)
{
    enum { TRIES = 4 };
    for (uint64_t i = 0; i < TRIES; i++) {
        bench_system *place = &s->systems[(key + i) % SYSTEMS_MOST];
        if (!place->known || place->key == key)
            return place;
    }
    return &s->systems[(key + s->replaced++ % TRIES) % SYSTEMS_MOST];
}

bench_system *system_now(tl_bench *bench, bench_island *s)
{
    const uint64_t key = key_of(s);
    if (s->last != NULL && s->last->key == key)
        return s->last;
    bench_system *place = find_place(s, key);
    s->last = NULL;
    if (place->known && place->key == key)
        return place->transient != NULL ? (s->last = place) : NULL;
    tl_transient_free(place->transient);
    *place = (bench_system){.key = key, .transient = work_out(bench, s), .known = true};
    place->floats = has_loose_pin(bench, s, place->transient);
    place->loose = has_loose_node(s, place->transient);
    if (place->transient != NULL)
        return place;
    note_unsolved(bench, s);
    return NULL;
}
