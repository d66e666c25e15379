/* SPDX-License-Identifier: MIT */
/* Sensors with tolerances of their own: each is drawn by itself. */
#include "bench/bench_internal.h"

double sensor_share(const tl_bench *bench, int signal)
{
    const tl_response *curve = &bench->circuit->plan->signals[signal].source.curve;
    random_source own = random_stream(bench->seed, RANDOM_SENSORS + (unsigned)signal);
    if (bench->seed == TL_BENCH_IDEAL || curve->law == TL_LAW_NONE)
        return 1;
    return curve->share_low + (curve->share_high - curve->share_low) * random_even(&own);
}
