/* SPDX-License-Identifier: MIT */
/* What every reader of a plan or a board needs: rails and pins by their names, supplies, shared nodes. */
#ifndef TL_READER_H
#define TL_READER_H

#include "model/take.h"
#include "tinyladder/design/plan.h"

/* Adds supplies; one that stands in the file with index replaceable (-1: none) may be replaced by one of its
 * name. board: whose pins may be rails, or NULL. */
bool read_supplies(reader *r, const yaml_tree *node, const tl_board *board, tl_supply **supplies, int *count,
                   int replaceable);
/* Adds shared nodes behind the supplies. */
bool read_shared(reader *r, const yaml_tree *node, tl_supply **supplies, int *count);

/* A pin of the board by name, other than a supply's. text: the name where it is not that of the node (a
 * range). */
bool read_pin_name(reader *r, const yaml_tree *node, const char *text, const tl_board *board, int *pin);

/* A board named by another file: where it cannot be read, that place is blamed. */
tl_board *board_load_from(const char *path, tl_place asked_from, tl_report *report);

#endif
