/*
 * The equations of an island in one state of its contacts, worked out once and kept. Sources of volts and amperes
 * may go anywhere without touching them; ohms that move are followed in straight lines for a thousandth of their
 * value, and then all is worked out anew.
 */
#include "../net/memory.h"
#include "bench_internal.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

static const double share_followed = 1e-3;

void systems_drop(bench_island *s)
{
    for (int i = 0; i < s->system_count; i++)
        tl_transient_free(s->systems[i].transient);
    s->system_count = s->oldest = 0;
}

/* One bit pattern for each contact; the state's is that of all closed ones together. */
static uint64_t pattern_of(int contact)
{
    random_source source = {(uint64_t)contact};
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
    s->key ^= pattern_of(contact);
    s->changed = true;
}

/* Whether all that moves is still where the systems hold; if not, they start from where it is. */
static void keep_in_reach(bench_island *s)
{
    bool within = true;
    for (int i = 0; i < s->mover_count; i++) {
        const bench_mover *mover = &s->movers[i];
        within = within && (mover->exact || fabs(s->values[mover->param] - mover->base) <= fabs(mover->by));
    }
    if (within && s->system_count > 0)
        return;
    systems_drop(s);
    for (int i = 0; i < s->mover_count; i++) {
        bench_mover *mover = &s->movers[i];
        const double value = s->values[mover->param];
        mover->base = value;
        if (mover->exact)
            mover->by = 1;
        else if (mover->source->kind == TL_SOURCE_POTENTIOMETER)
            mover->by = value < 0.5 ? share_followed : -share_followed;
        else
            mover->by = fmax(share_followed * value, 1e-6);
    }
}

static tl_transient *work_out(tl_bench *bench, bench_island *s)
{
    int params[16];
    double by[16], now[16];
    const int count = s->mover_count < 16 ? s->mover_count : 16;
    const tl_net_state state = {s->values, bench->closed};
    for (int i = 0; i < count; i++) {
        params[i] = s->movers[i].param;
        by[i] = s->movers[i].by;
        now[i] = s->values[params[i]];
        s->values[params[i]] = s->movers[i].base;
    }
    tl_transient *transient = tl_transient_new(s->island, &state);
    if (transient != NULL && count > 0 && !tl_transient_track(transient, &state, params, by, count)) {
        tl_transient_free(transient);
        transient = NULL;
    }
    for (int i = 0; i < count; i++)
        s->values[params[i]] = now[i];
    return transient;
}

static void note_trouble(tl_bench *bench, bench_island *s)
{
    char what[120];
    const tl_net_state state = {s->values, bench->closed};
    s->in_trouble = true;
    if (bench->trouble[0] != '\0')
        return;
    tl_island_blame(s->island, &state, what, sizeof what);
    snprintf(bench->trouble, sizeof bench->trouble, "at %.6g s: %s", fmax(seconds_of(s->at_ns), 0), what);
}

/* Whether any pin floats. */
static bool has_loose_pin(const tl_bench *bench, const bench_island *s, const tl_transient *transient)
{
    for (int i = 0; i < s->signal_count && transient != NULL; i++) {
        if (tl_transient_floats(transient, tl_island_index(s->island, bench->wired->signals[s->signals[i]].pin)))
            return true;
    }
    return false;
}

bench_system *system_now(tl_bench *bench, bench_island *s)
{
    keep_in_reach(s);
    for (int i = 0; i < s->system_count; i++) {
        if (s->systems[i].key == s->key)
            return s->systems[i].transient != NULL ? &s->systems[i] : NULL;
    }
    bench_system *place = &s->systems[s->system_count < SYSTEMS_MOST ? s->system_count : s->oldest];
    if (s->system_count < SYSTEMS_MOST) {
        s->system_count++;
    } else {
        s->oldest = (s->oldest + 1) % SYSTEMS_MOST;
        tl_transient_free(place->transient);
    }
    *place = (bench_system){s->key, work_out(bench, s), false};
    place->floats = has_loose_pin(bench, s, place->transient);
    if (place->transient != NULL)
        return place;
    note_trouble(bench, s);
    return NULL;
}
