/* SPDX-License-Identifier: MIT */
/* Virtual time: it advances only by calls. */
#include "bench/bench_internal.h"
#include <math.h>

double tl_bench_time(const tl_bench *bench)
{
    return 1e-9 * (double)bench->now_ns;
}

void bench_pass_to(tl_bench *bench, int64_t to_ns)
{
    while (bench->line_turn_ns <= to_ns) { /* a fault begins or ends that may move a line */
        if (bench->line_turn_ns > bench->now_ns)
            bench->now_ns = bench->line_turn_ns;
        bench->line_turn_ns = lines_turn_after(bench, bench->line_turn_ns);
        lines_turn(bench);
    }
    if (bench->rhythm_count > 0)
        rhythms_follow(bench, to_ns);
    if (to_ns > bench->now_ns)
        bench->now_ns = to_ns;
}

void tl_bench_go_to(tl_bench *bench, double seconds)
{
    const int64_t to_ns = (int64_t)llround(1e9 * fmin(seconds, 1e9));
    bench_pass_to(bench, to_ns);
}
