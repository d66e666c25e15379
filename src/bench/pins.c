/* SPDX-License-Identifier: MIT */
/* What pins see, and what they suffer. */
#include "base/memory.h"
#include "bench/bench_internal.h"
#include "elaborate/elaborate.h"
#include <stdlib.h>
#include <string.h>

double signal_volts(tl_bench *bench, int signal)
{
    const tl_signal_nodes *nodes = &bench->circuit->signals[signal];
    bench_island *s = bench->signals[signal].island;
    island_advance(bench, s, bench->now_ns);
    const double negative =
        nodes->negative == TL_NET_GROUND ? 0 : s->volts[tl_island_index(s->island, nodes->negative)];
    return s->volts[bench->signals[signal].node] - negative;
}

bool signal_floats(tl_bench *bench, int signal)
{
    bench_island *s = bench->signals[signal].island;
    const bench_system *system = system_now(bench, s);
    return system != NULL && system->floats &&
           tl_transient_floats(system->transient,
                               tl_island_index(s->island, bench->circuit->signals[signal].pin));
}

/* The contact of a fault that hums on an island now; TL_NET_NONE where it does not. */
static int humming_contact(const tl_bench *bench, const bench_island *s, int fault)
{
    const int contact = bench->hum[fault] != TL_NET_NONE ? bench->fault_contact[fault] : TL_NET_NONE;
    const bool here = contact != TL_NET_NONE && bench->island_of_contact[contact] == s;
    return here && bench->closed[contact] ? contact : TL_NET_NONE;
}

bool only_hums(tl_bench *bench, int signal)
{
    bench_island *s = bench->signals[signal].island;
    const int faults = bench->scene != NULL ? bench->scene->fault_count : 0;
    bool *closed = NULL, floats = false;
    for (int i = 0; i < faults; i++) {
        const int contact = humming_contact(bench, s, i);
        if (contact == TL_NET_NONE)
            continue;
        if (closed == NULL) {
            const size_t count = (size_t)tl_net_contact_count(bench->net);
            closed = memcpy(tl_alloc(count, sizeof *closed), bench->closed, count * sizeof *closed);
        }
        closed[contact] = false;
    }
    if (closed != NULL) { /* leakage and clamps carry what is picked up, but define no level either */
        const tl_signal_nodes *nodes = &bench->circuit->signals[signal];
        for (int i = 0; i < bench->leaking_count; i++)
            closed[bench->leaking[i]] = false;
        if (nodes->clamp_high != TL_NET_NONE)
            closed[nodes->clamp_high] = false;
        if (nodes->clamp_low != TL_NET_NONE)
            closed[nodes->clamp_low] = false;
        const tl_net_state state = {s->values, closed};
        tl_transient *quiet = tl_transient_new(s->island, &state);
        floats = quiet != NULL && tl_transient_floats(quiet, bench->signals[signal].node);
        tl_transient_free(quiet);
        free(closed);
    }
    return floats;
}

/* What an input that is neither low nor high after power-up takes itself for. */
static bool starts_high(const tl_bench *bench, int pin)
{
    random_source own = random_stream(bench->seed, RANDOM_LEVELS + (unsigned)pin);
    return bench->seed != TL_BENCH_IDEAL && random_even(&own) < 0.5;
}

bool pin_level(tl_bench *bench, int line)
{
    int stuck;
    const int pin = line_really(bench, line, &stuck);
    bench_pin *p = &bench->pins[pin];
    if (stuck >= 0)
        return stuck == 1;
    if (bench->strict && p->damage != TL_NONE)
        return p->level; /* what is broken stays as it was */
    if (p->island == NULL && bench->lines[pin].use == TL_LINE_OUTPUT)
        return bench->lines[pin].high;
    const double volts = p->island != NULL ? signal_volts(bench, p->signal) : stray_volts(bench, p->rail);
    if (volts >= p->vih || volts <= p->vil)
        p->level = volts >= p->vih;
    else if (!p->looked) /* neither, and nothing before it */
        p->level = starts_high(bench, pin);
    p->looked = true;
    return p->level;
}

void pin_use(tl_bench *bench, int pin)
{
    const tl_pin_contacts *own = &bench->circuit->pins[pin];
    const bench_line line = line_state(bench, pin);
    const bool drives = line.use == TL_LINE_OUTPUT;
    bench->pins[pin].drives = drives;
    const struct {
        int contact;
        bool closed;
    } wanted[] = {{own->drive_low, drives && !line.high},
                  {own->drive_high, drives && line.high},
                  {own->pull_up, line.use == TL_LINE_INPUT_PULL_UP},
                  {own->pull_down, line.use == TL_LINE_INPUT_PULL_DOWN}};
    for (int opens = 1; opens >= 0; opens--) { /* break before make */
        for (int i = 0; i < 4; i++) {
            if (wanted[i].contact != TL_NET_NONE && wanted[i].closed == (opens == 0))
                island_set_contact(bench, wanted[i].contact, wanted[i].closed);
        }
    }
}

void pins_init(tl_bench *bench)
{
    const tl_plan *plan = bench->circuit->plan;
    bench->pins = tl_alloc((size_t)plan->pin_count, sizeof *bench->pins);
    for (int i = 0; i < plan->pin_count; i++)
        bench->pins[i] = (bench_pin){
            .loose_ns = PIN_DEFINED, .damage = TL_NONE, .stray = 0.2 + 0.6 * random_even(&bench->parts)};
    for (int i = plan->line_count; i-- > 0;) { /* the first signal of a pin comes last, and stays */
        bench_pin *pin = &bench->pins[plan->signals[i].pin];
        pin->signal = i;
        pin->island = bench->signals[i].island;
        pin->node = bench->signals[i].node;
    }
    for (int i = 0; i < plan->pin_count; i++)
        pin_levels_update(bench, i);
    for (int k = 0; k < bench->island_count; k++)
        levels_update(bench, &bench->islands[k]);
}
