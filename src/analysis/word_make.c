/* The other way round than the core: the word that a converter gives for a code. */
#include "core/word_internal.h"
#include "tinyladder/design/board.h"

tl_status tl_word_make(const tl_word *format, int32_t code, uint32_t *word)
{
    if (!tl_word_is_possible(format) || word == NULL)
        return TL_ERR_ARG;
    const bool is_signed = format->sign != TL_WORD_UNSIGNED;
    const int32_t half = INT32_C(1) << (format->bits - 1);
    if (code < (is_signed ? -half : 0) || code > (is_signed ? half - 1 : 2 * half - 1))
        return TL_ERR_RANGE;
    *word = tl_word_spread(format, ((uint32_t)code & tl_word_ones(format->bits)) ^ tl_word_flip(format));
    return TL_OK;
}
