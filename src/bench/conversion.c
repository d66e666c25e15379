/* SPDX-License-Identifier: MIT */
/* The converter: a sampling capacitor joined to the pin for the acquisition time, then a quantiser with its
 * errors. */
#include "base/memory.h"
#include "bench/bench_internal.h"
#include <math.h>

/* What changes by less than this share while a sample is taken stands still meanwhile. */
#define STILL_SHARE 1e-6

void converter_init(tl_bench *bench)
{
    const tl_plan *plan = bench->circuit->plan;
    bench->chip_volts = NAN;
    bench->errors = tl_alloc((size_t)plan->converter_count, sizeof *bench->errors);
    bench->filters = tl_alloc((size_t)plan->signal_count, sizeof *bench->filters);
    bench->read_last = tl_alloc((size_t)plan->converter_count, sizeof *bench->read_last);
    for (int i = 0; i < plan->converter_count; i++)
        bench->read_last[i] = TL_NONE;
    bench->chips = tl_alloc((size_t)plan->converter_count, sizeof *bench->chips);
    bench->told = tl_alloc((size_t)plan->signal_count, sizeof *bench->told);
    for (int i = 0; i < plan->signal_count; i++) {
        const int converter = plan->pins[plan->signals[i].pin].converter;
        bench_told *told = &bench->told[i];
        char why[160];
        told->sendable = converter > 0 && tl_plan_external(plan, converter, &told->external, why) &&
                         tl_plan_external_input(plan, i, &told->settings, why);
    }
    bench->buses = tl_alloc((size_t)plan->bus_count, sizeof *bench->buses);
    bench->first_at_channel = tl_alloc(UINT8_MAX + 1, sizeof *bench->first_at_channel);
    for (int i = 0; i <= UINT8_MAX; i++)
        bench->first_at_channel[i] = TL_NONE;
    for (int i = plan->signal_count; i-- > 0;) {
        const tl_pin *pin = &plan->pins[plan->signals[i].pin];
        if (plan->signals[i].analog && pin->converter == 0 && pin->channel >= 0 && pin->channel <= UINT8_MAX)
            bench->first_at_channel[pin->channel] = i;
    }
    for (int i = 0; i < plan->converter_count; i++) {
        const tl_converter *part = plan->converters[i].part;
        if (bench->seed == TL_BENCH_IDEAL)
            continue;
        bench->errors[i].noise = part->noise;
        bench->errors[i].offset = part->offset * (2 * random_even(&bench->parts) - 1);
        bench->errors[i].gain = part->gain * (2 * random_even(&bench->parts) - 1);
        bench->errors[i].bow = part->nonlinearity * (2 * random_even(&bench->parts) - 1);
    }
}

/* --- its full scale --- */

/* The range that it was told. */
static int chip_range(const tl_bench *bench, int converter)
{
    return tl_converter_range_of(bench->circuit->plan->converters[converter].part,
                                 bench->chips[converter].words);
}

void tl_bench_set_reference(tl_bench *bench, double volts)
{
    bench->chip_volts = volts;
}

/* The volts that its full scale really is now. */
static double full_scale(const tl_bench *bench, int signal, int converter, int reference)
{
    const bench_island *s = bench->signals[signal].island;
    const tl_scene_setting *setting = setting_of(bench, converter);
    const tl_converter *part = bench->circuit->plan->converters[converter].part;
    if (converter == 0 && !isnan(bench->chip_volts))
        return bench->chip_volts;
    if (setting != NULL && setting->range != TL_NONE)
        return part->ranges[setting->range].high;
    const int range = converter > 0 ? chip_range(bench, converter) : TL_NONE;
    if (range != TL_NONE)
        return part->ranges[range].high;
    if (setting != NULL && setting->reference != TL_NONE)
        reference = setting->reference;
    if (reference == TL_NONE || reference == bench->circuit->plan->signals[signal].reference)
        return param_volts(bench, s, bench->circuit->signals[signal].reference);
    const tl_reference *other = &part->references[reference];
    return other->supply >= 0 ? param_volts(bench, s, bench->circuit->supply_param[other->supply])
                              : other->volts.nominal;
}

/* --- sampling and quantising --- */

static double stray_at_converter(const tl_bench *bench)
{
    return stray_volts(bench, bench->values[bench->circuit->supply_param[0]]);
}

/* Joins the capacitor to a signal's pin for so long; it keeps what it then holds. */
static void sample_signal(tl_bench *bench, int signal, int64_t acquisition_ns)
{
    const tl_signal_nodes *nodes = &bench->circuit->signals[signal];
    bench_island *s = bench->signals[signal].island;
    if (!is_on_bench(bench, signal))
        return; /* no one asks what it holds then */
    const double at_pin = signal_volts(bench, signal);
    if (signal_floats(bench, signal) || nodes->sampled == TL_NET_NONE) {
        bench->held_volts = at_pin;
        return;
    }
    const int sampled = tl_island_index(s->island, nodes->sampled);
    if (s->settled && fabs(bench->held_volts - at_pin) < NOTHING_VOLTS)
        return; /* it holds what is there already: no charge flows */
    s->volts[sampled] = bench->held_volts;
    contact_set(bench, nodes->sampling, true);
    s->changed = false; /* no switch flips by that: its capacitor only shares charge */
    const bool quiet =
        s->edge_count == 0 && s->next_event * 1e9 > (double)(bench->now_ns + acquisition_ns) + 1;
    if (quiet && s->at_ns == bench->now_ns && s->steepest * 1e-9 * (double)acquisition_ns < STILL_SHARE)
        island_step_still(bench, s, bench->now_ns + acquisition_ns);
    else
        island_advance(bench, s, bench->now_ns + acquisition_ns);
    bench->held_volts = s->volts[sampled];
    const bool upset = s->changed;
    contact_set(bench, nodes->sampling, false);
    s->changed = upset; /* nothing else has moved by that */
}

/* The code of this many volts against a reference, with the converter's real errors and noise. */
static long quantise(tl_bench *bench, int converter, double volts, double reference)
{
    const tl_converter *part = bench->circuit->plan->converters[converter].part;
    const bench_errors *errors = &bench->errors[converter];
    random_source noise = noise_at(bench, NOISE_CODE, converter, bench->now_ns);
    const bool is_signed = part->word.sign != TL_WORD_UNSIGNED;
    const double codes = (double)(INT64_C(1) << (part->word.bits - is_signed)),
                 least = is_signed ? -codes : 0;
    const double share = reference > 0 ? volts / reference : volts > 0 ? 2 : -2;
    const double lowest = is_signed ? -1 : 0, at = share < lowest ? lowest : share > 1 ? 1 : share;
    const double exact = share * codes + errors->offset + errors->gain * at +
                         errors->bow * 4 * fabs(at) * (1 - fabs(at)) + errors->noise * random_normal(&noise);
    const double code = floor(exact + part->begin);
    return (long)(code < least ? least : code > codes - 1 ? codes - 1 : code);
}

/* --- the board's own --- */

/* Which signal the channel of the board's converter sees now: behind a multiplexer that leads none of its
 * signals to it the first one, which shares their common wire; -1 where there is none. */
static int signal_at_channel(const tl_bench *bench, uint8_t channel)
{
    const tl_plan *plan = bench->circuit->plan;
    if (bench->first_at_channel[channel] == TL_NONE)
        return -1;
    for (int i = bench->first_at_channel[channel]; i < plan->signal_count; i++) {
        const tl_pin *pin = &plan->pins[plan->signals[i].pin];
        if (pin->channel == channel && pin->converter == 0 && plan->signals[i].analog &&
            signal_is_routed(bench, i))
            return i;
    }
    return bench->first_at_channel[channel];
}

static void make_word(tl_bench *bench, long code)
{
    const tl_converter *part = bench->circuit->plan->converters[0].part;
    const tl_scene_setting *setting = setting_of(bench, 0);
    tl_word word = part->word;
    if (setting != NULL && setting->align != TL_NONE)
        word.align = (uint8_t)setting->align;
    (void)tl_word_make(&word, (int32_t)code, &bench->word);
}

void converter_start(tl_bench *bench, uint8_t channel, uint8_t reference, uint32_t acquisition_ns)
{
    const tl_plan *plan = bench->circuit->plan;
    const tl_converter *part = plan->converters[0].part;
    const tl_scene_setting *setting = setting_of(bench, 0);
    const int signal = signal_at_channel(bench, channel);
    double volts = bench->values[bench->circuit->supply_param[0]];
    int64_t acquisition = acquisition_ns;
    random_source left = noise_at(bench, NOISE_CAPACITOR, 0, bench->now_ns);
    if (setting != NULL && !isnan(setting->acquisition))
        acquisition = (int64_t)llround(1e9 * setting->acquisition);
    if (!isnan(part->precharge))
        bench->held_volts = part->precharge;
    else if (!part->starts_from_last)
        bench->held_volts = random_even(&left) * volts;
    bench->sampled_ns = bench->now_ns + acquisition;
    bench->end_ns = bench->now_ns + acquisition + (int64_t)llround(1e9 * part->conversion);
    bench->converting = true;
    const bool broken =
        signal >= 0 && bench->strict && bench->pins[plan->signals[signal].pin].damage != TL_NONE;
    if (broken)
        return; /* it delivers what it did before */
    if (signal >= 0) {
        sample_signal(bench, signal, acquisition);
        volts = full_scale(bench, signal, 0, reference);
    } else {
        bench->held_volts = stray_at_converter(bench);
    }
    make_word(bench, quantise(bench, 0, bench->held_volts, volts));
}

/* --- those on a bus --- */

long converter_code(tl_bench *bench, int signal)
{
    const tl_plan *plan = bench->circuit->plan;
    const int converter = plan->pins[plan->signals[signal].pin].converter;
    const double volts = signal_volts(bench, signal);
    bench->sampled_ns = bench->now_ns;
    return quantise(bench, converter, volts, full_scale(bench, signal, converter, TL_NONE));
}
