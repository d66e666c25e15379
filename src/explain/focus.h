/* SPDX-License-Identifier: MIT */
/* Of very many signals that were seen those that tell most. */
#ifndef TL_FOCUS_H
#define TL_FOCUS_H

#include "explain/observed.h"

enum { FOCUS_MOST = 40 };

/* Of more signals than FOCUS_MOST those that sound parts explain least, with the one that was converted
 * before each, and those that tell of its select lines; else all. Sources, loads and meters are kept. were,
 * are: how many signals were seen, and are left. To be freed with observed_free(). */
observed focus_on(tl_circuit *circuit, const observed *seen, int *were, int *are);

#endif
