/* SPDX-License-Identifier: MIT */
/* The faults that may be why something was seen. */
#ifndef TL_NEAR_H
#define TL_NEAR_H

#include "explain/observed.h"
#include "tinyladder/design/scene.h"

/* All of the plan that may change what was seen, and some that do not. wired: the signals that a bench for
 * them needs, which the caller frees; NULL: all. */
tl_fault_list faults_near(tl_circuit *circuit, const observed *seen, bool **wired);

#endif
