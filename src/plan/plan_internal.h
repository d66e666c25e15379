/* The parts of reading a plan file: source.c, stage.c, and plan.c for the rest. */
#ifndef TL_PLAN_INTERNAL_H
#define TL_PLAN_INTERNAL_H

#include "reader.h"

bool read_source(reader *r, const tree *node, const tl_plan *plan, tl_source *source);
bool read_stages(reader *r, const tree *node, const tl_plan *plan, tl_signal *signal);
/* A part that must be there: 0 ohm or 0 F is refused. */
bool read_part(reader *r, const tree *node, tl_dimension dimension, const char *what, tl_written *written);

/* drawer.c: parts without a tolerance of their own take that of their value in the plan's drawers. */
void plan_take_tolerances(tl_plan *plan);
bool drawer_load_from(const char *path, tl_place asked_from, tl_stock *resistors, tl_stock *capacitors,
                      tl_report *report);

#endif
