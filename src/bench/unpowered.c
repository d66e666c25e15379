/* SPDX-License-Identifier: MIT */
/*
 * What a missing supply no longer feeds: logic outputs and current loops release their wires, a bridge has no
 * difference, converters do not answer, multiplexers connect nothing, followers and buffers drive nothing.
 * What else the supply feeds (pulls, dividers, sensors, ratiometric voltages) is in the circuit already.
 */
#include "bench/bench_internal.h"
#include "elaborate/elaborate.h"
#include <string.h>

/* The supply behind a shared node, by its wires. */
static int supply_behind(const tl_plan *plan, int rail)
{
    while (rail >= 0 && plan->supplies[rail].kind == TL_RAIL_SHARED)
        rail = plan->supplies[rail].from;
    return rail;
}

static void add_part(const tl_bench *bench, const char *signal, const char *end, unpowered *of)
{
    char path[TL_PATH_LONGEST];
    const int part = tl_net_find_part(bench->net, TL_VIEW_SOLDERED, path_of(path, signal, "source", end));
    if (part != TL_NET_NONE && of->count < UNPOWERED_MOST)
        of->parts[of->count++] = part;
}

static void take_source(const tl_bench *bench, int signal, unpowered *of)
{
    const tl_signal *s = &bench->circuit->plan->signals[signal];
    if (s->source.kind == TL_SOURCE_LOGIC) {
        add_part(bench, s->name, "low", of);
        add_part(bench, s->name, "high", of);
    } else if (s->source.kind == TL_SOURCE_CURRENT) {
        add_part(bench, s->name, "current", of);
    } else if (s->source.kind == TL_SOURCE_BRIDGE) {
        of->param = bench->circuit->signals[signal].unknown;
    }
}

/* What a chip in the chain drives. */
static void take_stage(const tl_bench *bench, const char *signal, const tl_stage *stage, unpowered *of)
{
    char path[TL_PATH_LONGEST];
    path_of(path, signal, stage->name, NULL);
    const size_t length = strlen(path);
    for (int i = 0; i < tl_net_part_count(bench->net) && of->count < UNPOWERED_MOST; i++) {
        const char *name = tl_net_part_name(bench->net, i);
        if (tl_net_part_in(bench->net, TL_VIEW_SOLDERED, i) && strncmp(name, path, length) == 0 &&
            (name[length] == '\0' || name[length] == '.'))
            of->parts[of->count++] = i;
    }
}

unpowered unpowered_signal(const tl_bench *bench, int signal, int supply)
{
    const tl_plan *plan = bench->circuit->plan;
    const tl_signal *s = &plan->signals[signal];
    unpowered of = {.count = 0, .param = TL_NET_NONE};
    if (supply_behind(plan, s->source.supply) == supply)
        take_source(bench, signal, &of);
    for (int i = 0; i < s->stage_count; i++) {
        const tl_stage *stage = &s->stages[i];
        const bool chip = tl_stage_has(stage, TL_PART_FOLLOWER) ||
                          (tl_stage_has(stage, TL_PART_SHIFTER) && stage->way == TL_SHIFT_BUFFER);
        if (chip && supply_behind(plan, stage->to) == supply)
            take_stage(bench, s->name, stage, &of);
    }
    return of;
}

bool supply_is_missing(const tl_bench *bench, int rail)
{
    const int supply = supply_behind(bench->circuit->plan, rail);
    for (int i = 0; bench->scene != NULL && supply >= 0 && i < bench->scene->fault_count; i++) {
        const tl_scene_fault *fault = &bench->scene->faults[i];
        if (fault->kind == TL_SCENE_MISSING && fault->supply == supply && fault_is_on(bench, fault))
            return true;
    }
    return false;
}
