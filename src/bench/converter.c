/* The converter: a sampling capacitor joined to the pin for the acquisition time, then a quantiser with its
 * errors. */
#include "bench_internal.h"
#include <math.h>

void converter_init(tl_bench *bench)
{
    const tl_converter *converter = &bench->circuit->plan->board->converter;
    bench->offset = converter->offset * (2 * random_even(&bench->random) - 1);
    bench->gain = converter->gain * (2 * random_even(&bench->random) - 1);
    bench->bow = converter->nonlinearity * (2 * random_even(&bench->random) - 1);
}

/* Joins the capacitor to a signal's pin for so long; it keeps what it then holds. */
static void sample_signal(tl_bench *bench, int signal, int64_t acquisition_ns)
{
    const tl_signal_nodes *nodes = &bench->circuit->signals[signal];
    bench_signal *s = &bench->signals[signal];
    const int sampled = tl_island_index(nodes->island, nodes->sampled);

    signal_advance(bench, signal, bench->now_ns);
    if (s->floating) {
        s->volts[tl_island_index(nodes->island, nodes->pin)] = bench->held_volts =
            stray_volts(bench, bench->values[bench->circuit->reference_param]);
        return;
    }
    s->volts[sampled] = bench->held_volts;
    bench->closed[nodes->sampling] = true;
    signal_advance(bench, signal, bench->now_ns + acquisition_ns);
    bench->closed[nodes->sampling] = false;
    bench->held_volts = s->volts[sampled];
}

static uint32_t quantise(tl_bench *bench, double volts)
{
    const tl_converter *converter = &bench->circuit->plan->board->converter;
    const double codes = ldexp(1, converter->word.bits);
    const double share = volts / bench->values[bench->circuit->reference_param];
    const double at = fmin(fmax(share, 0), 1);
    double exact = share * codes + bench->offset + bench->gain * at + bench->bow * 4 * at * (1 - at) +
                   converter->noise * random_normal(&bench->random);
    if (converter->steps == TL_STEPS_HALF)
        exact += 0.5;
    const double code = fmin(fmax(floor(exact), 0), codes - 1);
    const int shift =
        converter->word.align == TL_WORD_LEFT ? converter->word.width - converter->word.bits : 0;
    return (uint32_t)code << shift;
}

void converter_start(tl_bench *bench, uint8_t channel, uint32_t acquisition_ns)
{
    const tl_plan *plan = bench->circuit->plan;
    const tl_converter *converter = &plan->board->converter;
    int signal = -1;
    for (int i = 0; i < plan->board->pin_count; i++) {
        if (plan->board->pins[i].channel == channel)
            signal = signal_of_pin(bench, i);
    }
    if (!converter->starts_from_last)
        bench->held_volts = random_even(&bench->random) * bench->values[bench->circuit->reference_param];
    if (signal >= 0 && plan->signals[signal].analog)
        sample_signal(bench, signal, acquisition_ns);
    else
        bench->held_volts = stray_volts(bench, bench->values[bench->circuit->reference_param]);
    bench->word = quantise(bench, bench->held_volts);
    bench->end_ns = bench->now_ns + acquisition_ns + (int64_t)llround(1e9 * converter->conversion);
    bench->converting = true;
}
