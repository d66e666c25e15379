/* SPDX-License-Identifier: MIT */
/* Which signals a fault may change at all. */
#ifndef TL_TOUCH_H
#define TL_TOUCH_H

#include "tinyladder/design/scene.h"

/* fault: NULL for none, which touches all (the source may be another). */
bool touches(tl_circuit *circuit, const tl_scene_fault *fault, int signal);
/* A fault of a supply: it changes what all signals show. */
bool touches_all(const tl_circuit *circuit, const tl_scene_fault *fault);
/* A node of its chain, whatever stands between it and the pin, or of the network around its pin. */
bool is_of_signal(const tl_circuit *circuit, int signal, int node);
/* A value of either. */
bool has_param_of(const tl_circuit *circuit, int signal, int param);
/* A line of the board that the way of a signal depends on. */
bool is_on_way(const tl_plan *plan, int signal, int line);

#endif
