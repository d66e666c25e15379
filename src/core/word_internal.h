/* SPDX-License-Identifier: MIT */
/* What taking a word apart (here) and making one (on the host) share. */
#ifndef TL_WORD_INTERNAL_H
#define TL_WORD_INTERNAL_H

#include "tinyladder/rom.h"
#include "tinyladder/word.h"

bool tl_word_is_possible(const tl_word *f);
/* 0 .. 32 of them. */
tl_raw tl_word_ones(uint8_t count);
/* What stands between a code with a sign and its count; 0 without one. */
tl_raw tl_word_half(const tl_word *f);

/* tl_word_sample() of a format in read-only memory. */
static inline tl_status tl_word_in_rom(const TL_IN_ROM tl_word *format, tl_raw word, tl_sample *sample)
{
    tl_word own;
    own.bits = format->bits;
    own.width = format->width;
    own.align = format->align;
    own.sign = format->sign;
    own.sign_filled = format->sign_filled;
    return tl_word_sample(&own, word, sample);
}

#endif
