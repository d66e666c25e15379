/* Reading what stands between source and pin: one function for each kind of stage. */
#include "../net/memory.h"
#include "plan_internal.h"
#include <stdio.h>
#include <string.h>

static const known_key divider_keys[] = {
    {"upper", true}, {"lower", true}, {"to", false}, {"fitted", false}, {NULL, false}};
static const known_key pull_keys[] = {
    {"up", false}, {"down", false}, {"to", false}, {"fitted", false}, {NULL, false}};
static const known_key partner_keys[] = {
    {"upper", false}, {"lower", false}, {"to", false}, {"fitted", false}, {NULL, false}};
static const known_key filter_keys[] = {
    {"series", true}, {"capacitor", true}, {"fitted", false}, {NULL, false}};

/* A resistance that must be there: a divider leg of 0 ohm is a short, and no pull at all. */
bool read_part(reader *r, const tree *node, tl_dimension dimension, const char *what, tl_written *written)
{
    if (!read_quantity(r, node, dimension, written))
        return false;
    if (written->value.low > 0)
        return true;
    report_error(r, "zero-part", node->place, "%s must be above 0", what);
    return false;
}

static bool read_divider(reader *r, const tree *node, const tl_plan *plan, tl_stage *stage)
{
    stage->to = TL_TO_GROUND;
    if (!check_map(r, node, "a divider", divider_keys))
        return false;
    bool good = read_part(r, tree_get(node, "upper"), TL_DIM_OHM, "the upper leg", &stage->first);
    good = read_part(r, tree_get(node, "lower"), TL_DIM_OHM, "the lower leg", &stage->second) && good;
    if (tree_get(node, "to") != NULL)
        good =
            read_rail(r, tree_get(node, "to"), plan->supplies, plan->supply_count, true, &stage->to) && good;
    return good;
}

static bool read_pull(reader *r, const tree *node, const tl_plan *plan, tl_stage *stage)
{
    if (!check_map(r, node, "a pull", pull_keys))
        return false;
    const tree *up = tree_get(node, "up"), *down = tree_get(node, "down"), *to = tree_get(node, "to");
    const tree *value = up != NULL ? up : down;
    if ((up == NULL) == (down == NULL)) {
        report_error(r, "missing-key", node->place, "a pull is either 'up' or 'down', and one of them");
        return false;
    }
    stage->up = up != NULL;
    stage->internal = value->kind == TREE_TEXT && strcmp(value->text, "internal") == 0;
    if (stage->internal == (to != NULL)) {
        report_error(r, "missing-key", node->place,
                     stage->internal ? "the chip's own pull knows its rail: no 'to'" : "a pull needs 'to'");
        return false;
    }
    if (stage->internal)
        return true;
    bool good = read_part(r, value, TL_DIM_OHM, "a pull", &stage->first);
    return read_rail(r, to, plan->supplies, plan->supply_count, true, &stage->to) && good;
}

/* The fixed resistor of a resistance sensor: the lower leg goes to ground unless it is said, the upper one
 * must say it. */
static bool read_partner(reader *r, const tree *node, const tl_plan *plan, tl_stage *stage)
{
    if (!check_map(r, node, "a partner", partner_keys))
        return false;
    const tree *upper = tree_get(node, "upper"), *lower = tree_get(node, "lower"), *to = tree_get(node, "to");
    if ((upper == NULL) == (lower == NULL)) {
        report_error(r, "missing-key", node->place,
                     "a partner is either the 'upper' leg or the 'lower', and one of them");
        return false;
    }
    stage->up = upper != NULL;
    if (upper != NULL && to == NULL) {
        report_error(r, "missing-key", node->place,
                     "an upper partner needs 'to': which rail is what people get wrong");
        return false;
    }
    bool good = read_part(r, upper != NULL ? upper : lower, TL_DIM_OHM, "a partner", &stage->first);
    if (to != NULL)
        good = read_rail(r, to, plan->supplies, plan->supply_count, true, &stage->to) && good;
    return good;
}

static bool read_filter(reader *r, const tree *node, const tl_plan *plan, tl_stage *stage)
{
    (void)plan;
    if (!check_map(r, node, "a filter", filter_keys))
        return false;
    bool good = read_part(r, tree_get(node, "series"), TL_DIM_OHM, "a filter's resistor", &stage->first);
    return read_part(r, tree_get(node, "capacitor"), TL_DIM_FARAD, "a filter's capacitor", &stage->second) &&
           good;
}

static bool read_ohms(reader *r, const tree *node, const tl_plan *plan, tl_stage *stage)
{
    (void)plan;
    return read_part(r, node, TL_DIM_OHM, "a resistor", &stage->first);
}

static bool read_farads(reader *r, const tree *node, const tl_plan *plan, tl_stage *stage)
{
    (void)plan;
    return read_part(r, node, TL_DIM_FARAD, "a capacitor", &stage->first);
}

static const struct {
    const char *key;
    tl_stage_kind kind;
    bool (*read)(reader *r, const tree *node, const tl_plan *plan, tl_stage *stage);
} stage_kinds[] = {
    {"series", TL_STAGE_SERIES, read_ohms},         {"guard", TL_STAGE_GUARD, read_ohms},
    {"divider", TL_STAGE_DIVIDER, read_divider},    {"pull", TL_STAGE_PULL, read_pull},
    {"partner", TL_STAGE_PARTNER, read_partner},    {"load", TL_STAGE_LOAD, read_ohms},
    {"capacitor", TL_STAGE_CAPACITOR, read_farads}, {"cable", TL_STAGE_CABLE, read_farads},
    {"filter", TL_STAGE_FILTER, read_filter},
};

static const char *stage_kind_name(const void *list, int i)
{
    (void)list;
    return stage_kinds[i].key;
}

/* `pull`, and `pull-2` for the second of its kind. */
static char *name_stage(const tl_signal *signal, const char *kind_name, tl_stage_kind kind)
{
    char name[40];
    int same = 1;
    for (int i = 0; i < signal->stage_count; i++)
        same += signal->stages[i].kind == kind;
    if (same == 1)
        return tl_copy_text(kind_name);
    snprintf(name, sizeof name, "%s-%d", kind_name, same);
    return tl_copy_text(name);
}

static bool read_fitted(reader *r, const tree *node, tl_stage *stage)
{
    static const char *const words[] = {"no", "yes", NULL};
    int choice = 0;
    const tree *at = tree_get(node, "fitted");
    const bool good = at == NULL || read_choice(r, at, "fitted", words, &choice);
    stage->fitted = choice == 1;
    return good;
}

static bool read_stage(reader *r, const tree *node, const tl_plan *plan, tl_signal *signal)
{
    enum { KINDS = (int)(sizeof stage_kinds / sizeof stage_kinds[0]) };
    if (node->kind != TREE_MAP || node->count != 1 || node->items[0].kind != TREE_TEXT) {
        report_error(r, "wrong-shape", node->place, "a stage is one key with its value: 'guard: 1k'");
        return false;
    }
    const tree *key = &node->items[0];
    for (int i = 0; i < KINDS; i++) {
        if (strcmp(stage_kinds[i].key, key->text) != 0)
            continue;
        tl_stage stage = {.kind = stage_kinds[i].kind, .place = key->place, .to = TL_TO_GROUND};
        if (!stage_kinds[i].read(r, &node->items[1], plan, &stage) ||
            !read_fitted(r, &node->items[1], &stage))
            return false;
        stage.name = name_stage(signal, stage_kinds[i].key, stage.kind);
        signal->stages = tl_grow(signal->stages, (size_t)signal->stage_count, sizeof stage);
        signal->stages[signal->stage_count++] = stage;
        return true;
    }
    const char *meant = nearest_name(key->text, stage_kind_name, NULL, KINDS);
    if (meant != NULL)
        report_error(r, "unknown-key", key->place, "there is no stage '%.40s': did you mean '%s'?", key->text,
                     meant);
    else
        report_error(
            r, "unknown-key", key->place,
            "there is no stage '%.40s'; there are: series, guard, divider, pull, partner, load, capacitor, "
            "cable, filter",
            key->text);
    return false;
}

bool read_stages(reader *r, const tree *node, const tl_plan *plan, tl_signal *signal)
{
    bool good = check_list(r, node, "stages");
    if (!good)
        return false;
    for (int i = 0; i < node->count; i++)
        good = read_stage(r, &node->items[i], plan, signal) && good;
    return good;
}
