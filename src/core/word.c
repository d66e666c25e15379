/* SPDX-License-Identifier: MIT */
/*
 * Words of converters to codes. A format says where the bits stand, how a sign is coded and what fills the
 * rest; a word whose rest is not as promised is an error. Right: code; left: code << (width - bits);
 * stretched: the bits again and again from the top.
 */
#include "port_calls.h"
#include "word_internal.h"

bool tl_word_is_possible(const tl_word *f)
{
    return f->bits >= 4 && f->bits <= 24 && f->width >= f->bits && f->width <= 32 &&
           f->align <= TL_WORD_STRETCHED && f->sign <= TL_WORD_OFFSET_BINARY &&
           (f->align != TL_WORD_STRETCHED || f->sign == TL_WORD_UNSIGNED);
}

tl_raw tl_word_ones(uint8_t count)
{
    return count >= 8 * sizeof(tl_raw) ? (tl_raw) ~(tl_raw)0 : (tl_raw)(((tl_raw)1 << count) - 1u);
}

tl_raw tl_word_half(const tl_word *f)
{
    return f->sign == TL_WORD_UNSIGNED ? 0 : (tl_raw)((tl_raw)1 << (f->bits - 1));
}

/* The bits as they stand, and whether all others are as promised. */
static bool has_bits(const tl_word *f, tl_raw word, tl_raw *raw)
{
    const tl_raw gap = tl_word_ones((uint8_t)(f->width - f->bits));
    tl_raw rest, wanted = 0;
    if (f->align == TL_WORD_RIGHT) {
        rest = f->bits >= 8 * sizeof(tl_raw) ? 0 : (tl_raw)(word >> f->bits);
        *raw = (tl_raw)(word & tl_word_ones(f->bits));
        if (f->sign == TL_WORD_TWOS_COMPLEMENT && f->sign_filled && (*raw & tl_word_half(f)) != 0)
            wanted = gap;
        return rest == wanted;
    }
    if (word > tl_word_ones(f->width))
        return false;
    *raw = (tl_raw)(word >> (f->width - f->bits));
    /* Stretched, each bit of the word comes again this many bits below. */
    rest = (tl_raw)(f->align == TL_WORD_STRETCHED ? word ^ word >> f->bits : word);
    return (rest & gap) == 0;
}

/* The bits as a count from 0 for the lowest code. */
static tl_status count_in(const tl_word *f, tl_raw word, tl_raw *count)
{
    if (MISTAKEN(!tl_word_is_possible(f)))
        return TL_ERR_ARG;
    if (!has_bits(f, word, count))
        return TL_ERR_WORD;
    if (f->sign == TL_WORD_TWOS_COMPLEMENT)
        *count = (tl_raw)(*count ^ tl_word_half(f));
    return TL_OK;
}

tl_status tl_word_code(const tl_word *format, tl_raw word, int32_t *code)
{
    tl_raw count = 0;
    const tl_status status = count_in(format, word, &count);
    if (status == TL_OK)
        *code = (int32_t)count - (int32_t)tl_word_half(format);
    return status;
}

uint32_t tl_word_count(const tl_word *format, int32_t code)
{
    return (uint32_t)code + tl_word_half(format);
}

tl_status tl_word_sample(const tl_word *format, tl_raw word, tl_sample *sample)
{
    tl_raw count = 0;
    const tl_status status = count_in(format, word, &count);
    if (status != TL_OK)
        return status;
    sample->value = (tl_number)((tl_number)count - (tl_number)tl_word_half(format));
    sample->flags = TL_READING_FRESH;
    sample->reason = TL_OK;
    if (count == 0)
        sample->flags |= TL_READING_CLIPPED_LOW;
    else if (count == tl_word_ones(format->bits))
        sample->flags |= TL_READING_CLIPPED_HIGH;
    return TL_OK;
}

tl_status tl_word_join(const uint8_t *bytes, uint8_t count, tl_byte_order order, tl_raw *word)
{
    tl_raw joined = 0;
    if (count < 1 || count > sizeof joined)
        return TL_ERR_ARG;
    for (uint8_t i = 0; i < count; i++)
        joined = (tl_raw)(joined << 8 | bytes[order == TL_BYTES_HIGH_FIRST ? i : count - 1 - i]);
    *word = joined;
    return TL_OK;
}
