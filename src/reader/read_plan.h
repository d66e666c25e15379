/* SPDX-License-Identifier: MIT */
/* The parts of reading a plan file, one file each; read_plan.c puts them together. */
#ifndef TL_READ_PLAN_H
#define TL_READ_PLAN_H

#include "model/parts.h"
#include "reader/reader.h"

/* source.c, stage.c, reading.c: what a signal is made of. */
bool read_source(reader *r, const yaml_tree *node, const tl_plan *plan, tl_source *source);
bool read_stages(reader *r, const yaml_tree *node, tl_stage **stages, int *count);
bool read_reading(reader *r, const yaml_tree *node, const tl_plan *plan, tl_signal *signal);
tl_dimension dimension_of_reading(const tl_signal *signal, tl_reading_of of);
/* A sensor's table (table.c): node names a file beside the plan. */
bool read_table(reader *r, const yaml_tree *node, tl_response *curve);

/* read_wiring.c: what several signals share. Converters and multiplexers add their inputs to the plan's pins.
 */
bool read_converters(reader *r, const yaml_tree *node, tl_plan *plan);
bool read_muxes(reader *r, const yaml_tree *node, tl_plan *plan);
bool connect_muxes(reader *r, const yaml_tree *node, tl_plan *plan);
/* Once the common lines of all files are known: what their inputs lead to in the end. */
bool join_muxes(reader *r, const yaml_tree *node, tl_plan *plan);
bool read_buses(reader *r, const yaml_tree *node, tl_plan *plan);
/* Any pin of the plan that a chain can end at, by name. */
bool read_end(reader *r, const yaml_tree *node, const char *text, const tl_plan *plan, int *pin);
/* A converter's settings, by a converter or a signal: what is left out stays. */
/* Written into the converter's part, which is the plan's own copy. */
bool read_word_choice(reader *r, const yaml_tree *node, tl_plan_converter *converter, tl_converter *part);
bool read_span_choice(reader *r, const yaml_tree *node, const tl_plan_converter *converter, int *reference,
                      int *range);

/* read_output.c, read_sweep.c: what the firmware drives; what it reads in one go, and meters. */
bool read_outputs(reader *r, const yaml_tree *node, tl_plan *plan);
bool read_sweeps(reader *r, const yaml_tree *node, tl_plan *plan);
bool read_meters(reader *r, const yaml_tree *node, tl_plan *plan);
/* read_module.c */
bool read_modules(reader *r, const yaml_tree *node, tl_plan *plan);
bool read_signal_name(reader *r, const yaml_tree *node, const char *text, const tl_plan *plan, int *signal);

/* added.c. A section of names, each with what it is; `what` they are, in the message. */
typedef bool read_one(reader *r, const yaml_tree *key, const yaml_tree *node, tl_plan *plan);
bool read_named(reader *r, const yaml_tree *node, const char *what, read_one *read, tl_plan *plan);

/* A line of a bus or an output: checked like a signal, never read. Behind the signals, so call it
 * after them.
 */
tl_signal *add_line(tl_plan *plan, const char *name, tl_place place);
/* A pin of the plan's own, behind the board's; the name is copied. */
int add_pin(tl_plan *plan, const char *owner, const char *name, const tl_pin *like);

/* read_drawer.c: parts without a tolerance of their own take that of their value in the plan's drawers. */
void plan_take_tolerances(tl_plan *plan);
/* tl_plan_take_parts(), of parts that are listed already. */
void take_parts(const tl_parts *parts, tl_stock *resistors);
bool drawer_load_from(const char *path, tl_place asked_from, tl_stock *resistors, tl_stock *capacitors,
                      tl_report *report);

#endif
