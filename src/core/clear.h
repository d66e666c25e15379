/* SPDX-License-Identifier: MIT */
/* Zeros and samples without the libraries' routines for memory, which are larger than all that the core
 * clears. */
#ifndef TL_CLEAR_H
#define TL_CLEAR_H

#include "tinyladder/scale.h"

void tl_clear(void *object, uint8_t size);

static inline void tl_copy(tl_sample *to, const tl_sample *from)
{
    to->value = from->value;
    to->flags = from->flags;
    to->reason = from->reason;
}

#endif
