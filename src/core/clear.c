/* SPDX-License-Identifier: MIT */
/* Byte by byte through volatile: otherwise compilers make the library's routine of it again. */
#include "clear.h"

void tl_clear(void *object, uint8_t size)
{
    for (volatile uint8_t *at = object; size > 0; size--)
        *at++ = 0;
}
