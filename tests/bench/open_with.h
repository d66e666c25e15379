/* SPDX-License-Identifier: MIT */
/* A bench of the signals and the scene that a test writes, on the demo's board. */
#ifndef TL_OPEN_WITH_H
#define TL_OPEN_WITH_H

#include "support.h"
#include "tinyladder/bench.h"
#include <stdio.h>
#include <string.h>

#define HEAD "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\n"
#define SCENE "tinyladder: scene 1\nlength: 1 min\n"

static inline tl_bench *open_with(const char *plan, const char *scene)
{
    static char whole[4000];
    snprintf(whole, sizeof whole, HEAD "%s", plan);
    const char *plan_path = scratch_file("wired.plan.yaml", whole, strlen(whole));
    snprintf(whole, sizeof whole, SCENE "%s", scene != NULL ? scene : "");
    tl_bench *bench = tl_bench_open(plan_path, scratch_file("wired.scene.yaml", whole, strlen(whole)), NULL);
    CU_ASSERT_FATAL(bench != NULL);
    return bench;
}

#endif
