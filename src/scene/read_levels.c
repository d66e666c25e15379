/* SPDX-License-Identifier: MIT */
/* Levels of a line that were recorded, as presses of its source. */
#include "base/memory.h"
#include "base/report_struct.h"
#include "base/vcd_read.h"
#include "model/csv_file.h"
#include "scene/read_scene.h"

/* The last level stays; the first was there before the beginning. */
static const double for_ever = 1e6, long_before = -2000;

/* A logic source is pressed while it is low. */
static bool is_pressed(const tl_signal *signal, bool high)
{
    return high != (signal->source.kind == TL_SOURCE_LOGIC || tl_signal_closes_low(signal));
}

static void add_presses(const vcd_levels *levels, const tl_signal *signal, int index, tl_scene *scene)
{
    for (int i = 0; i < levels->count; i++) {
        if (!is_pressed(signal, levels->levels[i].high))
            continue;
        const double at = i > 0 ? levels->levels[i].at : long_before,
                     until = i + 1 < levels->count ? levels->levels[i + 1].at : for_ever;
        scene->presses = tl_grow(scene->presses, (size_t)scene->press_count, sizeof *scene->presses);
        scene->presses[scene->press_count++] =
            (tl_press){.signal = index, .button = -1, .at = at, .length = until - at, .recorded = true};
    }
}

bool read_scene_levels(reader *r, const yaml_tree *node, const tl_plan *plan, int index, tl_scene *scene)
{
    const yaml_tree *file_node = yaml_get(node, "file");
    const char *name, *column = NULL;
    vcd_levels levels;
    char why[200];
    int line;
    if (!check_map(r, node, &keys_values_file) || !read_text(r, file_node, "a file's name", &name) ||
        (yaml_get(node, "column") != NULL &&
         !read_text(r, yaml_get(node, "column"), "the name of a variable", &column)))
        return false;
    const int file = joined_file(r, file_node);
    if (file < 0)
        return false;
    if (!vcd_read(r->report->files[file].text, r->report->files[file].size, column, &levels, &line, why)) {
        report_error(r, "bad-table", (tl_place){file, line, 1}, "%s", why);
        return false;
    }
    add_presses(&levels, &plan->signals[index], index, scene);
    vcd_free(&levels);
    return true;
}
