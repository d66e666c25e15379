/* SPDX-License-Identifier: MIT */
/* What firmware with a mistake in it makes of counts. */
#include "bench/bench_internal.h"
#include "tinyladder/word.h"
#include <math.h>

static int converter_at(const tl_bench *bench, int signal)
{
    const tl_plan *plan = bench->circuit->plan;
    return plan->pins[plan->signals[signal].pin].converter;
}

static const tl_scene_fault *mistake_of(const tl_bench *bench, int signal)
{
    for (int i = 0; bench->scene != NULL && i < bench->scene->fault_count; i++) {
        const tl_scene_fault *fault = &bench->scene->faults[i];
        const bool own = fault->signal == signal ||
                         (fault->signal == TL_NONE && fault->setting.converter == converter_at(bench, signal));
        if (fault->kind == TL_SCENE_MISREAD && own && fault_is_on(bench, fault))
            return fault;
    }
    return NULL;
}

static const tl_converter *converter_of(const tl_bench *bench, int signal)
{
    return bench->circuit->plan->converters[converter_at(bench, signal)].part;
}

/* The word with its bytes in the other order, and the code that this is then: what has bits where none
 * belong keeps those that do. */
static long swap_bytes(const tl_word *word, long code)
{
    const int bytes = (word->width + 7) / 8;
    uint32_t is = 0, swapped = 0;
    int32_t taken;
    if (tl_word_make(word, (int32_t)code, &is) != TL_OK)
        return code;
    for (int i = 0; i < bytes; i++)
        swapped |= (is >> 8 * i & 0xff) << 8 * (bytes - 1 - i);
    if (word->width < 32)
        swapped &= (UINT32_C(1) << word->width) - 1;
    if (tl_word_code(word, swapped, &taken) == TL_OK)
        return taken;
    return (long)(swapped & ((UINT32_C(1) << word->bits) - 1));
}

long misread_count(const tl_bench *bench, int signal, long code)
{
    const tl_scene_fault *fault = mistake_of(bench, signal);
    const tl_word *word = &converter_of(bench, signal)->word;
    const long codes = 1l << word->bits, bits = code & (codes - 1);
    switch (fault != NULL ? fault->misread : TL_MISREAD_FACTOR) {
    case TL_MISREAD_SWAPPED_BYTES:
        return swap_bytes(word, code);
    case TL_MISREAD_OTHER_SIGN:
        if (word->sign != TL_WORD_UNSIGNED)
            return bits;
        return bits >= codes / 2 ? bits - codes : bits;
    case TL_MISREAD_LOW_BYTE:
        return bits & 0xff;
    case TL_MISREAD_HIGH_BYTE:
        return bits >> (word->bits - 8);
    case TL_MISREAD_INVERTED:
        return word->sign != TL_WORD_UNSIGNED ? -1 - code : codes - 1 - code;
    default:
        return code;
    }
}

/* Millivolts per count, without what stands behind the point, as a share of what they are. */
static double whole_millivolts(tl_bench *bench, int signal)
{
    const tl_word *word = &converter_of(bench, signal)->word;
    const int reference = bench->circuit->signals[signal].reference;
    const double millivolts = 1e3 * tl_net_param_nominal(bench->circuit->net, reference) /
                              ldexp(1, word->bits - (word->sign != TL_WORD_UNSIGNED));
    return floor(millivolts) / millivolts;
}

double misread_factor(tl_bench *bench, int signal)
{
    const tl_scene_fault *fault = mistake_of(bench, signal);
    const double codes = ldexp(1, converter_of(bench, signal)->word.bits);
    if (fault == NULL)
        return 1;
    switch (fault->misread) {
    case TL_MISREAD_BIT_LESS:
        return 2;
    case TL_MISREAD_BIT_MORE:
        return 0.5;
    case TL_MISREAD_OTHER_STEPS:
        return codes / (codes - 1);
    case TL_MISREAD_WHOLE_DIVISION:
        return whole_millivolts(bench, signal);
    case TL_MISREAD_WHOLE_RATIO:
        return 0;
    case TL_MISREAD_FACTOR:
        return fault->factor;
    default:
        return 1;
    }
}
