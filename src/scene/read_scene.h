/* SPDX-License-Identifier: MIT */
/* The parts of reading a scene, one file each; read_scene.c puts them together. */
#ifndef TL_READ_SCENE_H
#define TL_READ_SCENE_H

#include "elaborate/circuit_struct.h"
#include "reader/reader.h"
#include "tinyladder/design/scene.h"

/* The signal that a key names, or NULL with the name that was likely meant. */
const tl_signal *scene_signal(reader *r, const yaml_tree *key, const tl_plan *plan, int *index);

/* read_waveform.c: one entry of `values`. */
bool read_scene_value(reader *r, const yaml_tree *key, const yaml_tree *node, const tl_plan *plan,
                      tl_scene *scene);
/* read_levels.c: the same of a digital signal, from a file of recorded levels. */
bool read_scene_levels(reader *r, const yaml_tree *node, const tl_plan *plan, int index, tl_scene *scene);

/* read_fault.c: the sections `faults` and `meter`; either may be NULL. */
bool read_scene_faults(reader *r, const yaml_tree *faults, const yaml_tree *meter, tl_circuit *circuit,
                       tl_scene *scene);

#endif
