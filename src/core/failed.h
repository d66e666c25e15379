/* SPDX-License-Identifier: MIT */
/* What could not be read keeps its value of before, and says why it is not fresh. */
#ifndef TL_FAILED_H
#define TL_FAILED_H

#include "tinyladder/scale.h"

static inline tl_status tl_failed(tl_sample *sample, tl_status why)
{
    sample->flags &= (uint8_t)~TL_READING_FRESH;
    sample->reason = (int8_t)why;
    return why;
}

#endif
