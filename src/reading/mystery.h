/* SPDX-License-Identifier: MIT */
/* A fault that is hidden in a scene, drawn by its seed. */
#ifndef TL_MYSTERY_H
#define TL_MYSTERY_H

#include "reading/playing.h"

enum { MYSTERY_LINE = 300 };

/* Adds one of the plan's faults, the same for each seed whatever the time and the scene are: one that a
 * reading, an output or a meter can tell from a sound bench. line: what it is. False where the plan has none.
 */
bool mystery_hide(play *p, unsigned long seed, char line[MYSTERY_LINE]);

#endif
