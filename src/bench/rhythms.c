/* SPDX-License-Identifier: MIT */
/*
 * Frequency, duty and period of lines, as firmware measures them with an interrupt at every edge: wherever
 * virtual time goes on, it goes from one moment at which such a line may change to the next.
 */
#include "bench/bench_internal.h"

/* Where nothing is sure until when it stays, it is looked at so often, and less often the longer that lasts.
 */
enum { LOOK_NS = 1000, LOOK_LONGEST_NS = 100000 };

uint32_t rhythm_clock(const tl_bench *bench)
{
    return (uint32_t)(uint64_t)(bench->now_ns / 1000);
}

void rhythm_feed(bench_rhythm *r, uint32_t at_us)
{
    (void)tl_button_feed(&r->button, r->high, at_us);
    (void)tl_rhythm_feed(&r->rhythm, r->button.closed != r->rhythm.of_open, at_us);
}

void rhythm_go_on(bench_rhythm *r, uint32_t at_us)
{
    if (r->button.seen != r->button.closed && at_us - r->edge_us >= r->button.needed)
        rhythm_feed(r, r->edge_us + r->button.needed);
    rhythm_feed(r, at_us);
}

static void look(tl_bench *bench, bench_rhythm *r, int64_t step_ns)
{
    const bool high = pin_level(bench, r->button.line);
    if (high == r->high)
        return;
    rhythm_go_on(r, rhythm_clock(bench));
    r->high = high;
    r->edge_us = rhythm_clock(bench);
    r->late_ns = step_ns > r->late_ns ? step_ns : r->late_ns;
    rhythm_feed(r, r->edge_us);
}

void rhythms_follow(tl_bench *bench, int64_t to_ns)
{
    int64_t look_ns = LOOK_NS;
    while (bench->now_ns < to_ns) {
        int64_t next_ns = to_ns;
        for (int i = 0; i < bench->rhythm_count && next_ns > bench->now_ns; i++)
            next_ns = line_quiet_until(bench, bench->rhythms[i].button.line, next_ns);
        const bool sure = next_ns > bench->now_ns;
        if (!sure) {
            next_ns = bench->now_ns + look_ns < to_ns ? bench->now_ns + look_ns : to_ns;
            look_ns = 2 * look_ns < LOOK_LONGEST_NS ? 2 * look_ns : LOOK_LONGEST_NS;
        } else {
            look_ns = LOOK_NS;
        }
        const int64_t step_ns = sure ? 0 : next_ns - bench->now_ns;
        bench->now_ns = next_ns;
        for (int i = 0; i < bench->rhythm_count; i++)
            look(bench, &bench->rhythms[i], step_ns);
    }
}
