/* SPDX-License-Identifier: MIT */
/* Text that a terminal shows as it stands, and nothing else: no control character moves its cursor, changes
 * its colours or hides what follows. */
#ifndef TL_PLAIN_TEXT_H
#define TL_PLAIN_TEXT_H

#include <stddef.h>

/*
 * Where a text stops being plain: the offset of the first byte of a control character (C0, DEL, C1 of ISO/IEC
 * 6429, the characters of Unicode that turn the direction of writing), of a byte sequence that is no UTF-8,
 * or `size`. `allowed`: control characters that are fine here, such as "\n\t"; NULL for none.
 */
size_t plain_text_length(const char *text, size_t size, const char *allowed);

/* Copies with a question mark for every byte that is not plain; always closed by a 0. */
void plain_text_copy(char *to, size_t room, const char *text);

#endif
