/* A fault that is hidden in a scene, drawn by its seed. */
#ifndef TL_MYSTERY_H
#define TL_MYSTERY_H

#include "reading/playing.h"
#include "reading/readings.h"

enum { MYSTERY_LINE = 300 };

/* Adds one that shows at this time in some reading; line: what it is. False where the plan has none that
 * does. */
bool mystery_hide(play *p, double at, unsigned long seed, char line[MYSTERY_LINE]);

#endif
