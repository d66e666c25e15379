/* SPDX-License-Identifier: MIT */
/* Figures as text, without printf: digits from the last to the first, then the point and the sign. */
#include "tinyladder/text.h"
#include <stdbool.h>
#include <stddef.h>

tl_status tl_text_fixed(int32_t value, uint8_t decimals, uint8_t width, char *text)
{
    uint32_t left = value < 0 ? 0u - (uint32_t)value : (uint32_t)value;
    uint8_t at = width, digits = 0;
    if (text == NULL || width == 0 || decimals > TL_TEXT_DECIMALS_MOST)
        return TL_ERR_ARG;
    text[width] = '\0';
    bool fits = true;
    while (fits && (left > 0 || digits <= decimals)) {
        const bool point = decimals > 0 && digits == decimals;
        fits = at >= (point ? 2 : 1);
        if (!fits)
            break;
        if (point)
            text[--at] = '.';
        text[--at] = (char)('0' + left % 10u);
        left /= 10u;
        digits++;
    }
    if (fits && value < 0 && (fits = at > 0))
        text[--at] = '-';
    for (uint8_t i = 0; i < (fits ? at : width); i++)
        text[i] = fits ? ' ' : '#';
    return fits ? TL_OK : TL_ERR_RANGE;
}

tl_status tl_text_hex(uint32_t word, uint8_t digits, char *text)
{
    if (text == NULL || digits == 0 || digits > 8)
        return TL_ERR_ARG;
    text[digits] = '\0';
    const bool fits = digits == 8 || word >> 4 * digits == 0;
    for (uint8_t at = digits; at-- > 0; word >>= 4) {
        const uint8_t nibble = word & 15;
        text[at] = !fits ? '#' : (char)(nibble < 10 ? '0' + nibble : 'A' + nibble - 10);
    }
    return fits ? TL_OK : TL_ERR_RANGE;
}
