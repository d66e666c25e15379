/* SPDX-License-Identifier: MIT */
/* Of very many signals that were seen those that tell most. */
#ifndef TL_FOCUS_H
#define TL_FOCUS_H

#include "explain/observed.h"

/* Of very many signals those that sound parts explain least, with the one that was converted before each, and
 * those that tell of its select lines; of very many samples some around the one that is furthest from the
 * others. Sources, loads and meters are kept. were, are: how many signals were seen, and are left. To be
 * freed with observed_free(). */
observed focus_on(tl_circuit *circuit, const observed *seen, int *were, int *are);

#endif
