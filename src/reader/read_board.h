/* SPDX-License-Identifier: MIT */
/* What the readers of boards, converters and multiplexers share. */
#ifndef TL_READ_BOARD_H
#define TL_READ_BOARD_H

#include "reader/reader.h"

/* All its errors in counts, times this. */
void scale_errors(tl_converter *part, double factor);
/* The keys that a converter takes wherever it is described, without those that are read elsewhere. */
bool read_converter_parts(reader *r, const yaml_tree *node, tl_converter *converter);

/* read_limits.c. What of every-pin and a pin's own entry the rows do not take: the supply, and pulls of its
 * own. */
bool read_limits(reader *r, const yaml_tree *node, tl_pin_limits *limits);
/* Whether thresholds and levels are the right way round. */
bool limits_rise(reader *r, const yaml_tree *node, const tl_pin_limits *limits);
/* Limits of which nothing is known yet. */
tl_pin_limits unknown_limits(void);

/* Files that a plan names: where one cannot be read, that place is blamed. */
tl_converter *converter_load_from(const char *path, tl_place asked_from, tl_report *report);
tl_mux_part *mux_part_load_from(const char *path, tl_place asked_from, tl_report *report);

#endif
