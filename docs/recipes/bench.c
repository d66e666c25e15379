/* SPDX-License-Identifier: MIT */
/* Puts a recipe's program on the bench: `./program PLAN SCENE`. On a board its own start-up opens the port
 * instead. */
#include <stdio.h>
#include <tinyladder/bench.h>

tl_status program(const tl_port *port);

int main(int argc, char **argv)
{
    tl_bench *bench = tl_bench_open(argc > 1 ? argv[1] : "", argc > 2 ? argv[2] : NULL, NULL);
    if (bench == NULL) {
        fprintf(stderr, "the plan or its scene cannot be read\n");
        return 3;
    }
    char why[32];
    const tl_status status = program(tl_bench_port(bench));
    tl_bench_free(bench);
    tl_status_text(status, why, sizeof why);
    if (status != TL_OK)
        fprintf(stderr, "%s\n", why);
    return status == TL_OK ? 0 : 4;
}
