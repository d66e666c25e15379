/* SPDX-License-Identifier: MIT */
/* Names in a scene's faults, found in the plan's circuit as it is soldered. */
#ifndef TL_FAULT_NAMES_H
#define TL_FAULT_NAMES_H

#include "scene/read_scene.h"

typedef struct {
    reader *r;
    const tl_plan *plan;
    tl_circuit *circuit;
} finder;

/* Reports that the plan has no such thing; false. meant: the name that was likely meant, or NULL. */
bool unknown_name(const finder *f, const yaml_tree *node, const char *what, const char *meant);
/* Whether a key holds one name; else that is reported. */
bool is_a_name(const finder *f, const yaml_tree *node, const char *what);
/* `NAME.pin` or `NAME.source`: the signal; else NULL. */
const tl_signal *signal_before(const finder *f, const char *path, const char *end, int *index);
/* The wire to a signal's pin: behind a multiplexer its switch. */
int wire_of_pin(const finder *f, int signal);
/* All of one part, a wire to a pin, the wire from a source, or a multiplexer's common wire. */
bool find_parts(const finder *f, const yaml_tree *node, int *parts, int *count);
bool find_node(const finder *f, const yaml_tree *node, int *found);
/* A wire that only carries levels of the board: `MUX.select-0`, `MUX.enable`, `BUS.clock`, `BUS.in`,
 * `BUS.out` and `CONVERTER.select` on SPI. pin: TL_NONE where a rail holds it. */
bool level_wire_named(const finder *f, const char *text, int *pin);
/* One of those, a pin, or a digital signal's pin; TL_NONE for none of them. */
int line_named(const finder *f, const char *text);
/* The parameter that a part's value is; TL_NET_NONE. */
int param_of_part(const finder *f, int part);

/* read_setting.c: what a converter is set to, and what the firmware takes its counts for. */
bool read_setting(const finder *f, const yaml_tree *node, tl_scene_fault *fault);
bool read_misread(const finder *f, const yaml_tree *node, tl_scene_fault *fault);

/* read_rewired.c: joints, other rails, the wrong way round. */
bool read_joint(const finder *f, const yaml_tree *node, tl_scene_fault *fault);
bool read_moved(const finder *f, const yaml_tree *node, tl_scene_fault *fault);
bool read_reversed(const finder *f, const yaml_tree *node, tl_scene_fault *fault);
/* Two signals' plugs, `SIGNAL.pin` each: the wire of each pin goes to the other one's end. False where they
 * are none. */
bool swap_plugs(const finder *f, const yaml_tree *list, tl_scene_fault *fault);

#endif
