/* SPDX-License-Identifier: MIT */
/* Other values for a part that stands in a plan, as good practice ranks them, as edits of the plan's text. */
#ifndef TL_RESIZE_H
#define TL_RESIZE_H

#include "tinyladder/design/proposals.h"

enum { RESIZED_MOST = 6 };

/* What a part can be chosen from: the plan's drawers less what the rest of the plan takes, or E24 and E6 with
 * the tolerance that the part is stated with. To be freed. */
void part_stock(const tl_circuit *circuit, const tl_part *part, tl_stock *resistors, tl_stock *capacitors);

/* The values of a choice, by the names that the part has for them; false where one is missing. */
bool part_values(const tl_part *part, const tl_size_result *result, const tl_choice *choice,
                 char value[2][64]);

/* The first choices for a part as edits, each to be freed; how many. What the part has already is no edit. */
int part_resized(const tl_report *report, tl_circuit *circuit, const tl_part *part,
                 tl_edit edits[RESIZED_MOST]);

/* The part of a signal that belongs to its i-th stage; false where none can be sized. */
bool part_of_stage(const tl_plan *plan, int signal, int stage, tl_part *part);

/* The part that has one of its values here, of a signal, bus, output or shared node. */
bool sized_part_at(const tl_plan *plan, const tl_place *place, tl_part *part);

#endif
