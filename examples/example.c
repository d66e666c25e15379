/* SPDX-License-Identifier: MIT */
#include "example.h"
#include <tinyladder/bench.h>

int example_main(int argc, char **argv, example_story *story)
{
    tl_bench *bench = tl_bench_open(argc > 1 ? argv[1] : "demo/fernhill.plan.yaml",
                                    argc > 2 ? argv[2] : "demo/evening.scene.yaml", NULL);
    char why[32];
    if (bench == NULL) {
        fprintf(stderr, "%s: cannot read the plan or its scene: run it from the project's folder\n", argv[0]);
        return 3;
    }
    const tl_status status = story(tl_bench_port(bench), stdout);
    tl_bench_free(bench);
    tl_status_text(status, why, sizeof why);
    if (status != TL_OK)
        fprintf(stderr, "%s: %s\n", argv[0], why);
    return status == TL_OK ? 0 : 4;
}
