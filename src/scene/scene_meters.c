/* SPDX-License-Identifier: MIT */
/* Meters of a scene: they come from its file, and from the command. */
#include "base/memory.h"
#include "scene/read_scene.h"

void tl_scene_add_meter(tl_scene *scene, tl_scene_meter meter)
{
    scene->meters = tl_grow(scene->meters, (size_t)scene->meter_count, sizeof meter);
    scene->meters[scene->meter_count++] = meter;
}
