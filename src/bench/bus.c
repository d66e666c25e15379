/* SPDX-License-Identifier: MIT */
/* Converters on buses: what they do with what they receive. */
#include "bench/bus_internal.h"
#include <math.h>
#include <stddef.h>
#include <string.h>

/* --- what a converter was asked for --- */

static int signal_at(const tl_bench *bench, int converter, const char *input)
{
    const tl_plan *plan = bench->circuit->plan;
    const size_t length = strlen(plan->converters[converter].name);
    for (int i = 0; i < plan->signal_count; i++) {
        const tl_pin *pin = &plan->pins[plan->signals[i].pin];
        /* A pin of it is called NAME.INPUT. */
        if (pin->converter == converter && pin->mux == TL_NONE && strcmp(pin->name + length + 1, input) == 0)
            return i;
    }
    return -1;
}

void chip_convert(tl_bench *bench, int converter, const char *input)
{
    bench_chip *chip = &bench->chips[converter];
    const tl_converter *part = bench->circuit->plan->converters[converter].part;
    const int signal = input != NULL ? signal_at(bench, converter, input) : -1;
    const int32_t lowest = part->word.sign == TL_WORD_UNSIGNED ? 0 : -(INT32_C(1) << (part->word.bits - 1));
    random_source noise = noise_at(bench, NOISE_BUS, converter, bench->now_ns);
    /* An input that nothing is connected to reads somewhere. */
    const int32_t code = signal >= 0 ? (int32_t)converter_code(bench, signal)
                                     : lowest + (int32_t)(random_even(&noise) * ldexp(1, part->word.bits));
    (void)tl_word_make(&part->word, code, &chip->word);
    chip->end_ns = bench->now_ns + (int64_t)llround(1e9 * part->conversion);
}

const char *chip_input(const tl_converter *part, const unsigned long *words)
{
    static const char *const names[] = {"input", "channel"};
    for (size_t i = 0; i < sizeof names / sizeof names[0]; i++) {
        int index = 0;
        const tl_field *field = tl_converter_field(part, names[i], &index);
        if (field == NULL)
            continue;
        const unsigned long code = tl_field_get(field, words[index]);
        if (field->value_count > 0)
            return tl_field_value_name(field, code);
        return code < (unsigned long)part->input_count ? part->inputs[code] : NULL;
    }
    return part->inputs[0];
}
