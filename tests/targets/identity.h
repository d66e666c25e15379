/* SPDX-License-Identifier: MIT */
#ifndef TL_IDENTITY_H
#define TL_IDENTITY_H

#include <stdint.h>

/* Does it all; hands out ten numbers of four bytes, lowest byte first. */
void identity_run(void);
/* Each target's own way out. */
void identity_emit(uint8_t byte);

#endif
