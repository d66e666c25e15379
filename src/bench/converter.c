/* The converter: a sampling capacitor joined to the pin for the acquisition time, then a quantiser with its
 * errors. */
#include "../net/memory.h"
#include "bench_internal.h"
#include <math.h>

void converter_init(tl_bench *bench)
{
    const tl_plan *plan = bench->circuit->plan;
    bench->errors = tl_alloc((size_t)plan->converter_count, sizeof *bench->errors);
    bench->chips = tl_alloc((size_t)plan->converter_count, sizeof *bench->chips);
    for (int i = 0; i < plan->converter_count; i++) {
        const tl_converter *part = plan->converters[i].part;
        bench->errors[i].offset = part->offset * (2 * random_even(&bench->parts) - 1);
        bench->errors[i].gain = part->gain * (2 * random_even(&bench->parts) - 1);
        bench->errors[i].bow = part->nonlinearity * (2 * random_even(&bench->parts) - 1);
    }
}

static double stray_at_converter(tl_bench *bench)
{
    return stray_volts(bench, bench->values[bench->circuit->supply_param[0]]);
}

/* Joins the capacitor to a signal's pin for so long; it keeps what it then holds. */
static void sample_signal(tl_bench *bench, int signal, int64_t acquisition_ns)
{
    const tl_signal_nodes *nodes = &bench->circuit->signals[signal];
    bench_island *s = bench->signals[signal].island;
    signal_advance(bench, signal, bench->now_ns);
    if (bench->signals[signal].floating) {
        bench->held_volts = stray_at_converter(bench);
        return;
    }
    const int sampled = tl_island_index(s->island, nodes->sampled);
    s->volts[sampled] = bench->held_volts;
    island_set_contact(bench, s, nodes->sampling, true);
    island_advance(bench, s, bench->now_ns + acquisition_ns);
    bench->closed[nodes->sampling] = false;
    s->stale = true;
    bench->held_volts = s->volts[sampled];
}

/* The code of so many volts against a reference, with the converter's real errors and noise. */
static long quantise(tl_bench *bench, int converter, double volts, double reference)
{
    const tl_converter *part = bench->circuit->plan->converters[converter].part;
    const bench_errors *errors = &bench->errors[converter];
    const bool is_signed = part->word.sign != TL_WORD_UNSIGNED;
    const double codes = ldexp(1, part->word.bits) / (is_signed ? 2 : 1), least = is_signed ? -codes : 0;
    const double share = volts / reference, at = fmin(fmax(share, is_signed ? -1 : 0), 1);
    double exact = share * codes + errors->offset + errors->gain * at +
                   errors->bow * 4 * fabs(at) * (1 - fabs(at)) + part->noise * random_normal(&bench->noise);
    if (part->steps == TL_STEPS_HALF)
        exact += 0.5;
    return (long)fmin(fmax(floor(exact), least), codes - 1);
}

/* Which signal the channel of the board's converter sees now; -1 for none. */
static int signal_at_channel(const tl_bench *bench, uint8_t channel)
{
    const tl_plan *plan = bench->circuit->plan;
    for (int i = 0; i < plan->signal_count; i++) {
        const tl_pin *pin = &plan->pins[plan->signals[i].pin];
        if (plan->signals[i].analog && pin->converter == 0 && pin->channel == channel &&
            signal_is_routed(bench, i))
            return i;
    }
    return -1;
}

void converter_start(tl_bench *bench, uint8_t channel, uint32_t acquisition_ns)
{
    const tl_plan *plan = bench->circuit->plan;
    const tl_converter *part = plan->converters[0].part;
    const int signal = signal_at_channel(bench, channel);
    double reference = bench->values[bench->circuit->supply_param[0]];
    if (!isnan(part->precharge))
        bench->held_volts = part->precharge;
    else if (!part->starts_from_last)
        bench->held_volts = random_even(&bench->noise) * reference;
    if (signal >= 0) {
        reference = bench->values[bench->circuit->signals[signal].reference];
        sample_signal(bench, signal, acquisition_ns);
    } else {
        bench->held_volts = stray_at_converter(bench);
    }
    (void)tl_word_make(&part->word, (int32_t)quantise(bench, 0, bench->held_volts, reference), &bench->word);
    bench->end_ns = bench->now_ns + acquisition_ns + (int64_t)llround(1e9 * part->conversion);
    bench->converting = true;
}

long converter_code(tl_bench *bench, int signal)
{
    const tl_signal_nodes *nodes = &bench->circuit->signals[signal];
    const tl_plan *plan = bench->circuit->plan;
    const int converter = plan->pins[plan->signals[signal].pin].converter;
    signal_advance(bench, signal, bench->now_ns);
    const double volts =
        bench->signals[signal].floating ? stray_at_converter(bench) : signal_pin_volts(bench, signal);
    return quantise(bench, converter, volts, bench->values[nodes->reference]);
}
