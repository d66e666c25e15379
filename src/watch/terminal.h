/* SPDX-License-Identifier: MIT */
/* The terminal, before a screen is made on it. */
#ifndef TL_TERMINAL_H
#define TL_TERMINAL_H

#include <stdbool.h>

/* Asked first, because a screen that cannot be made is not given back whole. */
bool terminal_is_known(void);

#endif
