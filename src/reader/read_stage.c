/* SPDX-License-Identifier: MIT */
/* Reading what stands between source and pin: one function for each kind of stage. */
#include "base/memory.h"
#include "reader/read_plan.h"
#include <math.h>
#include <stdio.h>
#include <string.h>

static bool read_divider(reader *r, const yaml_tree *node, tl_stage *stage)
{
    return take_keys(r, node, &keys_divider, stage);
}

/* Of two keys the existing one; NULL where there is none, or both. */
static const yaml_tree *one_of(const yaml_tree *node, const char *first, const char *second)
{
    const yaml_tree *a = yaml_get(node, first), *b = yaml_get(node, second);
    return a == NULL ? b : b == NULL ? a : NULL;
}

static bool read_pull(reader *r, const yaml_tree *node, tl_stage *stage)
{
    if (!take_keys(r, node, &keys_pull, stage))
        return false;
    const yaml_tree *value = one_of(node, "up", "down"), *to = yaml_get(node, "to");
    if (value == NULL) {
        report_error(r, "missing-key", node->place, "a pull is either 'up' or 'down', and one of them");
        return false;
    }
    stage->up = yaml_get(node, "up") != NULL;
    stage->internal = value->kind == YAML_TEXT && strcmp(value->text, "internal") == 0;
    if (stage->internal ? to != NULL : stage->up && to == NULL) {
        report_error(r, "missing-key", node->place,
                     stage->internal ? "the chip's own pull knows its rail: no 'to'"
                                     : "a pull-up needs 'to': its rail");
        return false;
    }
    return stage->internal || read_part(r, value, TL_DIM_OHM, "a pull", &stage->first);
}

/* The fixed resistor of a resistance sensor: the lower leg goes to ground unless it is said, the upper one
 * must say it. */
static bool read_partner(reader *r, const yaml_tree *node, tl_stage *stage)
{
    if (!take_keys(r, node, &keys_partner, stage))
        return false;
    const yaml_tree *value = one_of(node, "upper", "lower");
    if (value == NULL) {
        report_error(r, "missing-key", node->place,
                     "a partner is either the 'upper' leg or the 'lower', and one of them");
        return false;
    }
    stage->up = yaml_get(node, "upper") != NULL;
    if (stage->up && yaml_get(node, "to") == NULL) {
        report_error(r, "missing-key", node->place,
                     "an upper partner needs 'to': which rail is what people get wrong");
        return false;
    }
    return read_part(r, value, TL_DIM_OHM, "a partner", &stage->first);
}

static bool read_filter(reader *r, const yaml_tree *node, tl_stage *stage)
{
    return take_keys(r, node, &keys_filter, stage);
}

static bool read_ohms(reader *r, const yaml_tree *node, tl_stage *stage)
{
    return read_part(r, node, TL_DIM_OHM, "a resistor", &stage->first);
}

static bool read_farads(reader *r, const yaml_tree *node, tl_stage *stage)
{
    return read_part(r, node, TL_DIM_FARAD, "a capacitor", &stage->first);
}

/* `capacitor: 100n`, or `{capacitance, resistance}` with its own series resistance. */
static bool read_capacitor(reader *r, const yaml_tree *node, tl_stage *stage)
{
    return node->kind == YAML_MAP && yaml_get(node, "range") == NULL
               ? take_keys(r, node, &keys_capacitor, stage)
               : read_farads(r, node, stage);
}

static bool read_follower(reader *r, const yaml_tree *node, tl_stage *stage)
{
    stage->bandwidth = stage->gain = INFINITY;
    return take_keys(r, node, &keys_follower, stage);
}

/* Each way has keys of its own, and needs them all; keys of another way are refused. */
static bool check_way(reader *r, const yaml_tree *node, tl_shift_way way)
{
    static const char *const names[] = {"diode", "inverter", "n-channel", "buffer"};
    static const char *const keys[][4] = {
        {"drop"}, {"base"}, {"gate", "threshold", "diode"}, {"supply", "vil", "vih", "limits"}};
    bool good = true;
    for (int i = 0; i < 4 && keys[way][i] != NULL; i++) {
        if (yaml_get(node, keys[way][i]) == NULL) {
            report_error(r, "missing-key", node->place, "a shifter of the way '%s' needs '%s'", names[way],
                         keys[way][i]);
            good = false;
        }
    }
    for (int i = 0; i < node->count; i++) {
        const char *key = node->items[2 * i].text;
        bool known = strcmp(key, "way") == 0 || strcmp(key, "fitted") == 0;
        for (int j = 0; j < 4 && keys[way][j] != NULL; j++)
            known = known || strcmp(key, keys[way][j]) == 0;
        if (!known) {
            report_error(r, "unknown-key", node->items[2 * i].place, "a shifter of the way '%s' has no '%s'",
                         names[way], key);
            good = false;
        }
    }
    return good;
}

static bool read_shifter(reader *r, const yaml_tree *node, tl_stage *stage)
{
    return take_keys(r, node, &keys_shifter, stage) && check_way(r, node, stage->way) &&
           (stage->way != TL_SHIFT_BUFFER || levels_rise(r, node, "vil", &stage->vil, "vih", &stage->vih));
}

/* `clamp: pin`, or a part to a rail. */
static bool read_clamp(reader *r, const yaml_tree *node, tl_stage *stage)
{
    stage->to_pin = node->kind == YAML_TEXT && strcmp(node->text, "pin") == 0;
    return stage->to_pin || take_keys(r, node, &keys_clamp, stage);
}

static const struct {
    const char *key;
    tl_stage_kind kind;
    bool (*read)(reader *r, const yaml_tree *node, tl_stage *stage);
} stage_kinds[] = {
    {"series", TL_STAGE_SERIES, read_ohms},
    {"guard", TL_STAGE_GUARD, read_ohms},
    {"divider", TL_STAGE_DIVIDER, read_divider},
    {"pull", TL_STAGE_PULL, read_pull},
    {"partner", TL_STAGE_PARTNER, read_partner},
    {"load", TL_STAGE_LOAD, read_ohms},
    {"capacitor", TL_STAGE_CAPACITOR, read_capacitor},
    {"cable", TL_STAGE_CABLE, read_farads},
    {"filter", TL_STAGE_FILTER, read_filter},
    {"follower", TL_STAGE_FOLLOWER, read_follower},
    {"shifter", TL_STAGE_SHIFTER, read_shifter},
    {"clamp", TL_STAGE_CLAMP, read_clamp},
};

static const char *stage_kind_name(const void *list, int i)
{
    (void)list;
    return stage_kinds[i].key;
}

/* `pull`, and `pull-2` for the second of its kind. */
static char *name_stage(const tl_stage *stages, int count, const char *kind_name, tl_stage_kind kind)
{
    char name[40];
    int same = 1;
    for (int i = 0; i < count; i++)
        same += stages[i].kind == kind;
    if (same == 1)
        return tl_copy_text(kind_name);
    snprintf(name, sizeof name, "%s-%d", kind_name, same);
    return tl_copy_text(name);
}

static bool read_stage(reader *r, const yaml_tree *node, tl_stage **stages, int *count)
{
    enum { KINDS = (int)(sizeof stage_kinds / sizeof stage_kinds[0]) };
    if (node->kind != YAML_MAP || node->count != 1 || node->items[0].kind != YAML_TEXT) {
        report_error(r, "wrong-shape", node->place, "a stage is one key with its value: 'guard: 1k'");
        return false;
    }
    const yaml_tree *key = &node->items[0];
    for (int i = 0; i < KINDS; i++) {
        if (strcmp(stage_kinds[i].key, key->text) != 0)
            continue;
        tl_stage stage = {.kind = stage_kinds[i].kind, .place = key->place, .to = TL_TO_GROUND};
        if (!stage_kinds[i].read(r, &node->items[1], &stage))
            return false;
        stage.name = name_stage(*stages, *count, stage_kinds[i].key, stage.kind);
        *stages = tl_grow(*stages, (size_t)*count, sizeof stage);
        (*stages)[(*count)++] = stage;
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
            "cable, filter, follower, shifter, clamp",
            key->text);
    return false;
}

bool read_stages(reader *r, const yaml_tree *node, tl_stage **stages, int *count)
{
    bool good = check_list(r, node, "stages");
    if (!good)
        return false;
    for (int i = 0; i < node->count; i++)
        good = read_stage(r, &node->items[i], stages, count) && good;
    return good;
}
