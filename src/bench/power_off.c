/* SPDX-License-Identifier: MIT */
/*
 * The bench with its supplies off, for an ohmmeter: contacts stand as they do at this time, electronics and
 * diodes conduct nothing, and what a supply feeds beside the plan's own parts has a resistance that no file
 * states: on each bench another.
 */
#include "base/memory.h"
#include "bench/bench_internal.h"
#include "circuit/resistances.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

static const double least_load = 300, most_load = 300e3;

/* As the islands have them, which know what moves and what is wrong. */
static double *values_now(tl_bench *bench)
{
    const size_t all = (size_t)tl_net_param_count(bench->net);
    double *values = tl_alloc(all, sizeof *values);
    memcpy(values, bench->values, all * sizeof *values);
    for (int k = 0; k < bench->island_count; k++) {
        int count;
        bench_island *s = &bench->islands[k];
        island_advance(bench, s, bench->now_ns);
        island_wire(bench, s);
        const int *params = tl_island_params(s->island, &count);
        for (int i = 0; i < count; i++)
            values[params[i]] = s->values[params[i]];
    }
    return values;
}

static void add_loads(const tl_bench *bench, resistances *r)
{
    const tl_circuit *c = bench->circuit;
    for (int i = 0; i < c->plan->supply_count; i++) {
        random_source own = random_stream(bench->seed, RANDOM_LOADS + 5000u + (unsigned)i);
        if (c->plan->supplies[i].kind == TL_RAIL_SUPPLY)
            resistances_add(r, c->supply_rail[i], TL_NET_GROUND,
                            least_load * pow(most_load / least_load, random_even(&own)));
    }
    for (int i = 0; bench->scene != NULL && i < bench->scene->fault_count; i++) {
        const tl_scene_fault *fault = &bench->scene->faults[i];
        if (fault->kind == TL_SCENE_MISSING && fault->shorted)
            resistances_add(r, c->supply_rail[fault->supply], TL_NET_GROUND, 0);
    }
}

void tl_bench_ohms(tl_bench *bench, const int (*pairs)[2], int count, double *ohms)
{
    const size_t contacts = (size_t)tl_net_contact_count(bench->net);
    double *values = values_now(bench);
    bool *by_voltage = tl_alloc(contacts + 1, sizeof *by_voltage),
         *closed = tl_alloc(contacts + 1, sizeof *closed);
    circuit_mark_by_voltage(bench->circuit, by_voltage);
    for (int i = 0; i < bench->switch_count; i++) /* leaks among them */
        by_voltage[bench->switches[i].contact] = true;
    memcpy(closed, bench->closed, contacts * sizeof *closed);
    for (int i = 0; i < bench->feed_count; i++)
        closed[bench->feeds[i].cut] = true; /* no pin feeds anything */
    resistances *r = resistances_of(bench->net, &(tl_net_state){values, closed}, by_voltage);
    add_loads(bench, r);
    resistances_between(r, pairs, count, ohms);
    resistances_free(r);
    free(closed);
    free(by_voltage);
    free(values);
}
