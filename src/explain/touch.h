/* SPDX-License-Identifier: MIT */
/* Which signals a fault may change at all. */
#ifndef TL_TOUCH_H
#define TL_TOUCH_H

#include "tinyladder/design/scene.h"

/* touched: of each signal of the plan. fault: NULL for none, which touches all (the source may be another).
 */
void touch(tl_circuit *circuit, const tl_scene_fault *fault, bool *touched);
/* The same for a second one: what either touches. */
void touch_also(tl_circuit *circuit, const tl_scene_fault *fault, bool *touched);
void touch_all(tl_circuit *circuit, bool *touched);
/* A node of its chain, whatever stands between it and the pin, or of the network around its pin. */
bool is_of_signal(const tl_circuit *circuit, int signal, int node);

#endif
