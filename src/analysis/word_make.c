/* SPDX-License-Identifier: MIT */
/* The other way round than the core, and in its own words: what a converter gives for a code. */
#include "core/word_internal.h"
#include "tinyladder/design/board.h"

tl_status tl_word_make(const tl_word *format, int32_t code, uint32_t *word)
{
    if (!tl_word_is_possible(format) || word == NULL)
        return TL_ERR_ARG;
    const tl_word *f = format;
    const bool is_signed = f->sign != TL_WORD_UNSIGNED;
    const int32_t half = INT32_C(1) << (f->bits - 1);
    if (code < (is_signed ? -half : 0) || code > (is_signed ? half - 1 : 2 * half - 1))
        return TL_ERR_RANGE;
    const uint32_t bits =
        f->sign == TL_WORD_OFFSET_BINARY ? (uint32_t)(code + half) : (uint32_t)code & tl_word_ones(f->bits);
    uint64_t made = bits;
    int width = f->bits;
    if (f->align == TL_WORD_RIGHT) {
        const bool filled = f->sign == TL_WORD_TWOS_COMPLEMENT && f->sign_filled && code < 0;
        *word = filled ? (uint32_t)code & tl_word_ones(f->width) : bits;
        return TL_OK;
    }
    while (width < f->width) { /* on the right: zeros, or the bits again */
        made = made << f->bits | (f->align == TL_WORD_STRETCHED ? bits : 0);
        width += f->bits;
    }
    *word = (uint32_t)(made >> (width - f->width));
    return TL_OK;
}
