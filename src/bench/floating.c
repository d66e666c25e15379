/* SPDX-License-Identifier: MIT */
/* What nothing defines: a wire picks up what is around it, a pin drifts. */
#include "bench/bench_internal.h"
#include <math.h>

static const double turn = 6.283185307179586, mains = 50, drift_seconds = 0.05;

random_source noise_at(const tl_bench *bench, noise_kind kind, int which, int64_t at_ns)
{
    random_source own = random_stream(bench->seed, RANDOM_NOISE + (unsigned)kind + 16 * (unsigned)which);
    own.state += (uint64_t)at_ns * UINT64_C(0xd1342543de82ef95);
    return (random_source){.state = random_bits(&own)};
}

double stray_volts(const tl_bench *bench, double rail)
{
    random_source noise = noise_at(bench, NOISE_WIRE, 0, bench->now_ns);
    const double hum = 0.45 * sin(turn * fmod(mains * seconds_of(bench->now_ns), 1));
    return rail * fmin(fmax(0.5 + hum + 0.1 * random_normal(&noise), 0), 1);
}

/* What leaks into a pin that nothing defines takes it somewhere in the end, and it picks up what is around.
 */
static double drifted(const tl_bench *bench, bench_pin *pin, double rail, int64_t at_ns, double was)
{
    random_source noise = noise_at(bench, NOISE_PIN, (int)(pin - bench->pins), at_ns);
    if (pin->loose_ns == PIN_DEFINED) {
        pin->loose_ns = at_ns;
        pin->loose_volts = was;
    }
    const double gone = exp(-seconds_of(at_ns - pin->loose_ns) / drift_seconds), to = pin->stray * rail;
    const double hum = 0.45 * sin(turn * fmod(mains * seconds_of(at_ns), 1)) + 0.1 * random_normal(&noise);
    return fmin(fmax(to + (pin->loose_volts - to) * gone + (1 - gone) * rail * hum, 0), rail);
}

void pins_float(tl_bench *bench, bench_island *s, const tl_transient *transient)
{
    const bool any = tl_transient_any_floats(transient);
    s->drifts = false;
    for (int i = 0; i < s->signal_count; i++) {
        bench_pin *pin = &bench->pins[bench->circuit->plan->signals[s->signals[i]].pin];
        if (!any) {
            pin->loose_ns = PIN_DEFINED;
            continue;
        }
        const int node = tl_island_index(s->island, bench->circuit->signals[s->signals[i]].pin);
        if (!tl_transient_floats(transient, node)) {
            pin->loose_ns = PIN_DEFINED;
            continue;
        }
        const double volts = drifted(bench, pin, pin->rail, s->at_ns, s->volts[node]);
        for (int other = 0; other < s->size; other++) {
            if (tl_transient_float_together(transient, node, other))
                s->volts[other] = volts;
        }
        s->drifts = true;
    }
}
