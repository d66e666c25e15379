/* SPDX-License-Identifier: MIT */
/* Lines of the board: what is connected to them follows what the firmware drives, and what faults make of
 * that. */
#include "bench/bench_internal.h"
#include <math.h>

static void follow(tl_bench *bench, int pin)
{
    pin_use(bench, pin);
    feeds_follow(bench, pin);
    loads_follow(bench, pin);
}

void line_moved(tl_bench *bench, int line)
{
    follow(bench, line);
    for (int i = 0; bench->scene != NULL && i < bench->scene->fault_count; i++) {
        const tl_scene_fault *fault = &bench->scene->faults[i];
        const bool swapped = fault->kind == TL_SCENE_SWAP && fault_is_on(bench, fault);
        for (int k = 0; k < 2 && swapped; k++) {
            if (fault->line[k] == line)
                follow(bench, fault->line[1 - k]);
        }
    }
    muxes_update(bench);
}

void lines_turn(tl_bench *bench)
{
    for (int pin = 0; pin < bench->circuit->plan->board->pin_count; pin++) {
        if (bench->lines[pin].use == TL_LINE_OUTPUT)
            line_moved(bench, pin);
    }
    muxes_update(bench);
}

int64_t lines_turn_after(const tl_bench *bench, int64_t after_ns)
{
    int64_t next = INT64_MAX;
    for (int i = 0; bench->scene != NULL && i < bench->scene->fault_count; i++) {
        const tl_scene_fault *fault = &bench->scene->faults[i];
        const double ends[2] = {fault->from, fault->until};
        if (fault->kind != TL_SCENE_MISSING && fault->line[0] == TL_NONE)
            continue;
        for (int end = 0; end < 2; end++) {
            const int64_t at = isfinite(ends[end]) ? (int64_t)llround(1e9 * ends[end]) : INT64_MAX;
            next = at > after_ns && at < next ? at : next;
        }
    }
    return next;
}
