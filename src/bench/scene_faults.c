/* SPDX-License-Identifier: MIT */
/* What the scene's faults make of lines and converters, now. */
#include "bench/bench_internal.h"

bool fault_is_on(const tl_bench *bench, const tl_scene_fault *fault)
{
    const double now = seconds_of(bench->now_ns);
    return now >= fault->from && now < fault->until;
}

/* A wire that is off leaves its input somewhere, and there it stays. */
static int drifts_to(const tl_bench *bench, int fault)
{
    random_source own = random_stream(bench->seed, RANDOM_LINES + (unsigned)fault);
    return bench->seed == TL_BENCH_IDEAL ? 0 : random_even(&own) < 0.5;
}

int line_really(const tl_bench *bench, int line, int *stuck)
{
    *stuck = -1;
    for (int i = 0; bench->scene != NULL && i < bench->scene->fault_count; i++) {
        const tl_scene_fault *fault = &bench->scene->faults[i];
        if (fault->line[0] == TL_NONE || !fault_is_on(bench, fault))
            continue;
        if (fault->kind == TL_SCENE_STUCK && fault->line[0] == line)
            *stuck = fault->level;
        if (fault->kind == TL_SCENE_OPEN && fault->line[0] == line)
            *stuck = drifts_to(bench, i);
        if (fault->kind == TL_SCENE_SWAP && (fault->line[0] == line || fault->line[1] == line))
            line = fault->line[fault->line[0] == line];
    }
    return line;
}

bench_line line_state(const tl_bench *bench, int pin)
{
    int stuck;
    bench_line line = bench->lines[line_really(bench, pin, &stuck)];
    if (stuck >= 0 && line.use == TL_LINE_OUTPUT) {
        line.high = stuck == 1;
        line.duty = line.high ? UINT16_MAX : 0;
    }
    return line;
}

const tl_scene_setting *setting_of(const tl_bench *bench, int converter)
{
    for (int i = 0; bench->scene != NULL && i < bench->scene->fault_count; i++) {
        const tl_scene_fault *fault = &bench->scene->faults[i];
        if (fault->kind == TL_SCENE_SETTING && fault->setting.converter == converter &&
            fault_is_on(bench, fault))
            return &fault->setting;
    }
    return NULL;
}
