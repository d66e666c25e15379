/* SPDX-License-Identifier: MIT */
/*
 * What a terminal shows and does not obey: UTF-8 after RFC 3629, taken apart by hand because the first bad
 * byte is required, not just a yes or no; control characters after ISO/IEC 6429, and those of Unicode that
 * turn the direction of writing.
 */
#include "base/plain_text.h"
#include <stdbool.h>
#include <stdint.h>
#include <string.h>

/* Bytes of the character that begins here; 0 where none does. RFC 3629: no overlong forms, no surrogates. */
static size_t character_at(const unsigned char *at, size_t left, uint32_t *code)
{
    const unsigned char lead = at[0];
    const size_t length = lead < 0x80 ? 1 : lead >= 0xf0 ? 4 : lead >= 0xe0 ? 3 : 2;
    static const uint32_t least[] = {0, 0, 0x80, 0x800, 0x10000};
    if (lead < 0x80) {
        *code = lead;
        return 1;
    }
    if (lead < 0xc2 || lead > 0xf4 || length > left)
        return 0;
    *code = lead & (0x7fU >> length);
    for (size_t i = 1; i < length; i++) {
        if ((at[i] & 0xc0) != 0x80)
            return 0;
        *code = *code << 6 | (at[i] & 0x3f);
    }
    const bool surrogate = *code >= 0xd800 && *code < 0xe000;
    return *code < least[length] || *code > 0x10ffff || surrogate ? 0 : length;
}

static bool is_control(uint32_t code, const char *allowed)
{
    if (code < 0x20 || code == 0x7f)
        return code == 0 || allowed == NULL || strchr(allowed, (int)code) == NULL;
    return (code >= 0x80 && code < 0xa0) || (code >= 0x202a && code <= 0x202e) ||
           (code >= 0x2066 && code <= 0x2069) || code == 0x200e || code == 0x200f;
}

size_t plain_text_length(const char *text, size_t size, const char *allowed)
{
    size_t at = 0;
    while (at < size) {
        uint32_t code = 0;
        const size_t length = character_at((const unsigned char *)text + at, size - at, &code);
        if (length == 0 || is_control(code, allowed))
            return at;
        at += length;
    }
    return size;
}

void plain_text_copy(char *to, size_t room, const char *text)
{
    size_t left = strlen(text), used = 0;
    while (left > 0 && used + 1 < room) {
        size_t plain = plain_text_length(text, left, NULL);
        if (plain > room - 1 - used) { /* no half character at the end */
            plain = room - 1 - used;
            while (plain > 0 && ((unsigned char)text[plain] & 0xc0) == 0x80)
                plain--;
            memcpy(to + used, text, plain);
            used += plain;
            break;
        }
        memcpy(to + used, text, plain);
        used += plain;
        text += plain;
        left -= plain;
        if (left > 0 && used + 1 < room) {
            to[used++] = '?';
            text++;
            left--;
        }
    }
    if (room > 0)
        to[used] = '\0';
}
