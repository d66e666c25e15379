/* Faults of converters' settings. */
#include "scene/fault_names.h"
#include <math.h>
#include <string.h>

static bool find_converter(const finder *f, const yaml_tree *node, int *found)
{
    if (!is_a_name(f, node, "an ADC's name"))
        return false;
    for (int i = 0; i < f->plan->converter_count; i++) {
        if (strcmp(f->plan->converters[i].name, node->text) == 0) {
            *found = i;
            return true;
        }
    }
    return unknown_name(f, node, "converter", NULL);
}

static bool read_reference(const finder *f, const yaml_tree *node, const tl_converter *part, int *reference)
{
    for (int i = 0; node->kind == YAML_TEXT && i < part->reference_count; i++) {
        if (strcmp(part->references[i].name, node->text) == 0) {
            *reference = i;
            return true;
        }
    }
    report_error(f->r, "unknown-name", node->place, "this ADC has no such reference");
    return false;
}

static bool read_range(const finder *f, const yaml_tree *node, const tl_converter *part, int *range)
{
    tl_located written = {0};
    if (!read_quantity(f->r, node, TL_DIM_VOLT, &written))
        return false;
    for (int i = 0; i < part->range_count; i++) {
        if (part->ranges[i].high == written.value.high && part->ranges[i].low == written.value.low) {
            *range = i;
            return true;
        }
    }
    report_error(f->r, "unknown-name", node->place, "this ADC has no such range");
    return false;
}

bool read_setting(const finder *f, const yaml_tree *node, tl_scene_fault *fault)
{
    static const char *const aligns[] = {"right", "left", NULL};
    tl_scene_setting *s = &fault->setting;
    const yaml_tree *at;
    bool good = find_converter(f, yaml_get(node, "setting"), &s->converter);
    if (!good)
        return false;
    const tl_converter *part = f->plan->converters[s->converter].part;
    if ((at = yaml_get(node, "reference")) != NULL)
        good = read_reference(f, at, part, &s->reference);
    if ((at = yaml_get(node, "range")) != NULL)
        good = read_range(f, at, part, &s->range) && good;
    if ((at = yaml_get(node, "align")) != NULL)
        good = read_choice(f->r, at, "an alignment", aligns, &s->align) && good;
    if ((at = yaml_get(node, "acquisition")) != NULL)
        good = read_value(f->r, at, TL_DIM_SECOND, &s->acquisition) && good;
    if ((at = yaml_get(node, "address")) != NULL)
        good = read_address(f->r, at, &s->address) && good;
    if ((at = yaml_get(node, "stretch")) != NULL)
        good = read_value(f->r, at, TL_DIM_SECOND, &s->stretch) && good;
    if (good && s->reference == TL_NONE && s->range == TL_NONE && s->align == TL_NONE &&
        isnan(s->acquisition) && s->address < 0 && s->stretch == 0) {
        report_error(f->r, "missing-key", node->place,
                     "say what is set: reference, range, align, acquisition, address or stretch");
        return false;
    }
    return good;
}
