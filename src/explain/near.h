/* SPDX-License-Identifier: MIT */
/* The faults that may be why something was seen, and what a bench for one of them needs. */
#ifndef TL_NEAR_H
#define TL_NEAR_H

#include "explain/observed.h"
#include "tinyladder/design/scene.h"

typedef struct {
    bool
        *wired; /* the signals that a bench for any of the faults needs; NULL in a plan of few signals: all */
    int *
        network; /* of each signal the first that it has a network in common with; NULL: each bench has all */
} bench_parts;

/* All of the plan that may change what was seen, and some that do not. */
tl_fault_list faults_near(tl_circuit *circuit, const observed *seen, bench_parts *parts);
void bench_parts_free(bench_parts *parts);

/* Of each signal the first that it has a network in common with; the caller frees it. */
int *networks_of(tl_circuit *circuit);
/* Those that have a network in common with one of `wired` are wired, too. */
void signals_wired(const int *network, int count, bool *wired);
/* The signals on whose networks a meter or a load is. */
bool *signals_of_meters(tl_circuit *circuit, const observed *seen);

/* The signals that a line of a scene names: one, or two that change places; TL_NONE. */
void owners_of(const tl_plan *plan, const char *line, int owner[2]);

#endif
