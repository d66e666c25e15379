#include "tinyladder/word.h"

static bool is_possible(const tl_word *f)
{
    return f != NULL && f->bits >= 6 && f->bits <= 24 && f->width >= f->bits && f->width <= 32 &&
           f->align <= TL_WORD_STRETCHED && f->sign <= TL_WORD_OFFSET_BINARY &&
           (f->align != TL_WORD_STRETCHED || f->sign == TL_WORD_UNSIGNED);
}

static uint32_t ones(uint8_t count)
{
    return count >= 32 ? UINT32_MAX : (UINT32_C(1) << count) - 1u;
}

/* The word that holds these bits of a code: every format has exactly one. */
static uint32_t spread(const tl_word *f, uint32_t raw)
{
    if (f->align == TL_WORD_RIGHT) {
        const bool filled =
            f->sign == TL_WORD_TWOS_COMPLEMENT && f->sign_filled && (raw >> (f->bits - 1) & 1u) != 0;
        return filled ? (raw | ~ones(f->bits)) & ones(f->width) : raw;
    }
    const uint32_t top = raw << (uint8_t)(f->width - f->bits);
    uint32_t word = top;
    for (uint8_t below = f->bits; f->align == TL_WORD_STRETCHED && below < f->width;
         below = (uint8_t)(below + f->bits))
        word |= top >> below;
    return word;
}

/* Two's complement and offset binary differ in their top bit. */
static uint32_t flip_of(const tl_word *f)
{
    return f->sign == TL_WORD_OFFSET_BINARY ? UINT32_C(1) << (f->bits - 1) : 0;
}

tl_status tl_word_code(const tl_word *format, uint32_t word, int32_t *code)
{
    if (!is_possible(format) || code == NULL)
        return TL_ERR_ARG;
    const uint8_t shift = format->align == TL_WORD_RIGHT ? 0 : (uint8_t)(format->width - format->bits);
    const uint32_t raw = word >> shift & ones(format->bits);
    if (spread(format, raw) != word)
        return TL_ERR_WORD;
    const uint32_t signed_raw = raw ^ flip_of(format), top = UINT32_C(1) << (format->bits - 1);
    if (format->sign == TL_WORD_UNSIGNED || (signed_raw & top) == 0)
        *code = (int32_t)signed_raw;
    else
        *code = (int32_t)(signed_raw & ~top) - (int32_t)top;
    return TL_OK;
}

tl_status tl_word_make(const tl_word *format, int32_t code, uint32_t *word)
{
    if (!is_possible(format) || word == NULL)
        return TL_ERR_ARG;
    const bool is_signed = format->sign != TL_WORD_UNSIGNED;
    const int32_t half = INT32_C(1) << (format->bits - 1);
    if (code < (is_signed ? -half : 0) || code > (is_signed ? half - 1 : 2 * half - 1))
        return TL_ERR_RANGE;
    *word = spread(format, ((uint32_t)code & ones(format->bits)) ^ flip_of(format));
    return TL_OK;
}

tl_status tl_word_join(const uint8_t *bytes, uint8_t count, tl_byte_order order, uint32_t *word)
{
    uint32_t joined = 0;
    if (bytes == NULL || word == NULL || count < 1 || count > 4)
        return TL_ERR_ARG;
    for (uint8_t i = 0; i < count; i++)
        joined = joined << 8 | bytes[order == TL_BYTES_HIGH_FIRST ? i : count - 1 - i];
    *word = joined;
    return TL_OK;
}
