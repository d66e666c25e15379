/*
 * Words of converters to codes. A format says where the bits stand, how a sign is told and what fills the
 * rest; a word whose rest is not as promised is an error. Right: code; left: code << (width - bits);
 * stretched: the bits again and again from the top.
 */
#include "word_internal.h"

bool tl_word_is_possible(const tl_word *f)
{
    return f->bits >= 4 && f->bits <= 24 && f->width >= f->bits && f->width <= 32 &&
           f->align <= TL_WORD_STRETCHED && f->sign <= TL_WORD_OFFSET_BINARY &&
           (f->align != TL_WORD_STRETCHED || f->sign == TL_WORD_UNSIGNED);
}

uint32_t tl_word_ones(uint8_t count)
{
    return count >= 32 ? UINT32_MAX : (UINT32_C(1) << count) - 1u;
}

uint32_t tl_word_spread(const tl_word *f, uint32_t raw)
{
    if (f->align == TL_WORD_RIGHT) {
        const bool filled =
            f->sign == TL_WORD_TWOS_COMPLEMENT && f->sign_filled && (raw >> (f->bits - 1) & 1u) != 0;
        return filled ? (raw | ~tl_word_ones(f->bits)) & tl_word_ones(f->width) : raw;
    }
    const uint32_t top = raw << (uint8_t)(f->width - f->bits);
    uint32_t word = top;
    for (uint8_t below = f->bits; f->align == TL_WORD_STRETCHED && below < f->width;
         below = (uint8_t)(below + f->bits))
        word |= top >> below;
    return word;
}

uint32_t tl_word_flip(const tl_word *f)
{
    return f->sign == TL_WORD_OFFSET_BINARY ? UINT32_C(1) << (f->bits - 1) : 0;
}

tl_status tl_word_code(const tl_word *format, uint32_t word, int32_t *code)
{
    if (!tl_word_is_possible(format))
        return TL_ERR_ARG;
    const uint8_t shift = format->align == TL_WORD_RIGHT ? 0 : (uint8_t)(format->width - format->bits);
    const uint32_t raw = word >> shift & tl_word_ones(format->bits);
    if (tl_word_spread(format, raw) != word)
        return TL_ERR_WORD;
    const uint32_t signed_raw = raw ^ tl_word_flip(format), top = UINT32_C(1) << (format->bits - 1);
    if (format->sign == TL_WORD_UNSIGNED || (signed_raw & top) == 0)
        *code = (int32_t)signed_raw;
    else
        *code = (int32_t)(signed_raw & ~top) - (int32_t)top;
    return TL_OK;
}

uint32_t tl_word_count(const tl_word *format, int32_t code)
{
    const uint32_t half = format->sign == TL_WORD_UNSIGNED ? 0u : UINT32_C(1) << (format->bits - 1);
    return (uint32_t)code + half;
}

tl_status tl_word_sample(const tl_word *format, uint32_t word, tl_sample *sample)
{
    const tl_status status = tl_word_code(format, word, &sample->value);
    if (status != TL_OK)
        return status;
    const uint32_t count = tl_word_count(format, sample->value);
    sample->flags = TL_READING_FRESH;
    if (count == 0)
        sample->flags |= TL_READING_CLIPPED_LOW;
    else if (count == tl_word_ones(format->bits))
        sample->flags |= TL_READING_CLIPPED_HIGH;
    return TL_OK;
}

tl_status tl_word_join(const uint8_t *bytes, uint8_t count, tl_byte_order order, uint32_t *word)
{
    uint32_t joined = 0;
    if (count < 1 || count > 4)
        return TL_ERR_ARG;
    for (uint8_t i = 0; i < count; i++)
        joined = joined << 8 | bytes[order == TL_BYTES_HIGH_FIRST ? i : count - 1 - i];
    *word = joined;
    return TL_OK;
}
