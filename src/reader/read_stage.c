/* Reading what stands between source and pin: one function for each kind of stage. */
#include "base/memory.h"
#include "reader/read_plan.h"
#include <math.h>
#include <stdio.h>
#include <string.h>

static bool read_divider(reader *r, const yaml_tree *node, const tl_plan *plan, tl_stage *stage)
{
    stage->to = TL_TO_GROUND;
    if (!check_map(r, node, &keys_divider))
        return false;
    bool good = read_part(r, yaml_get(node, "upper"), TL_DIM_OHM, "the upper leg", &stage->first);
    good = read_part(r, yaml_get(node, "lower"), TL_DIM_OHM, "the lower leg", &stage->second) && good;
    if (yaml_get(node, "to") != NULL)
        good =
            read_rail(r, yaml_get(node, "to"), plan->supplies, plan->supply_count, true, &stage->to) && good;
    return good;
}

static bool read_pull(reader *r, const yaml_tree *node, const tl_plan *plan, tl_stage *stage)
{
    if (!check_map(r, node, &keys_pull))
        return false;
    const yaml_tree *up = yaml_get(node, "up"), *down = yaml_get(node, "down"), *to = yaml_get(node, "to");
    const yaml_tree *value = up != NULL ? up : down;
    if ((up == NULL) == (down == NULL)) {
        report_error(r, "missing-key", node->place, "a pull is either 'up' or 'down', and one of them");
        return false;
    }
    stage->up = up != NULL;
    stage->internal = value->kind == YAML_TEXT && strcmp(value->text, "internal") == 0;
    if (stage->internal ? to != NULL : stage->up && to == NULL) {
        report_error(r, "missing-key", node->place,
                     stage->internal ? "the chip's own pull knows its rail: no 'to'"
                                     : "a pull-up needs 'to': its rail");
        return false;
    }
    if (stage->internal)
        return true;
    const bool good = read_part(r, value, TL_DIM_OHM, "a pull", &stage->first);
    return (to == NULL || read_rail(r, to, plan->supplies, plan->supply_count, true, &stage->to)) && good;
}

/* The fixed resistor of a resistance sensor: the lower leg goes to ground unless it is said, the upper one
 * must say it. */
static bool read_partner(reader *r, const yaml_tree *node, const tl_plan *plan, tl_stage *stage)
{
    if (!check_map(r, node, &keys_partner))
        return false;
    const yaml_tree *upper = yaml_get(node, "upper"), *lower = yaml_get(node, "lower"),
                    *to = yaml_get(node, "to");
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

static bool read_filter(reader *r, const yaml_tree *node, const tl_plan *plan, tl_stage *stage)
{
    (void)plan;
    if (!check_map(r, node, &keys_filter))
        return false;
    bool good = read_part(r, yaml_get(node, "series"), TL_DIM_OHM, "a filter's resistor", &stage->first);
    return read_part(r, yaml_get(node, "capacitor"), TL_DIM_FARAD, "a filter's capacitor", &stage->second) &&
           good;
}

static bool read_ohms(reader *r, const yaml_tree *node, const tl_plan *plan, tl_stage *stage)
{
    (void)plan;
    return read_part(r, node, TL_DIM_OHM, "a resistor", &stage->first);
}

static bool read_farads(reader *r, const yaml_tree *node, const tl_plan *plan, tl_stage *stage)
{
    (void)plan;
    return read_part(r, node, TL_DIM_FARAD, "a capacitor", &stage->first);
}

/* `capacitor: 100n`, or `{capacitance, resistance}` with its own series resistance. */
static bool read_capacitor(reader *r, const yaml_tree *node, const tl_plan *plan, tl_stage *stage)
{
    if (node->kind != YAML_MAP || yaml_get(node, "range") != NULL)
        return read_farads(r, node, plan, stage);
    if (!check_map(r, node, &keys_capacitor))
        return false;
    const yaml_tree *ohms = yaml_get(node, "resistance");
    const bool good = read_part(r, yaml_get(node, "capacitance"), TL_DIM_FARAD, "a capacitor", &stage->first);
    return (ohms == NULL || read_quantity(r, ohms, TL_DIM_OHM, &stage->second)) && good;
}

/* The largest size of something written as a value or as `±5 mV`. */
static bool read_size(reader *r, const yaml_tree *node, tl_dimension dimension, double *size)
{
    tl_located written = {0};
    if (!read_quantity(r, node, dimension, &written))
        return false;
    *size = fmax(fabs(written.value.low), fabs(written.value.high));
    return true;
}

static bool read_follower(reader *r, const yaml_tree *node, const tl_plan *plan, tl_stage *stage)
{
    const yaml_tree *at;
    stage->out_high = stage->in_high = (tl_level){0, 1};
    stage->bandwidth = stage->gain = INFINITY;
    if (!check_map(r, node, &keys_follower))
        return false;
    bool good = read_rail(r, yaml_get(node, "supply"), plan->supplies, plan->supply_count, false, &stage->to);
    if ((at = yaml_get(node, "output")) != NULL)
        good = read_level_span(r, at, &stage->out_low, &stage->out_high) && good;
    if ((at = yaml_get(node, "input")) != NULL)
        good = read_level_span(r, at, &stage->in_low, &stage->in_high) && good;
    if ((at = yaml_get(node, "bias")) != NULL)
        good = read_size(r, at, TL_DIM_AMPERE, &stage->bias) && good;
    if ((at = yaml_get(node, "offset")) != NULL)
        good = read_size(r, at, TL_DIM_VOLT, &stage->offset) && good;
    if ((at = yaml_get(node, "bandwidth")) != NULL)
        good = read_value(r, at, TL_DIM_HERTZ, &stage->bandwidth) && good;
    if ((at = yaml_get(node, "gain")) != NULL) {
        long gain = 0;
        good = read_number(r, at, "a gain before feedback", 10, 1000000000, &gain) && good;
        stage->gain = (double)gain;
    }
    return good;
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

static bool read_shifter(reader *r, const yaml_tree *node, const tl_plan *plan, tl_stage *stage)
{
    static const char *const ways[] = {"diode", "inverter", "n-channel", "buffer", NULL};
    int way = 0;
    if (!check_map(r, node, &keys_shifter) || !read_choice(r, yaml_get(node, "way"), "way", ways, &way) ||
        !check_way(r, node, (tl_shift_way)way))
        return false;
    stage->way = (tl_shift_way)way;
    switch (stage->way) {
    case TL_SHIFT_DIODE:
        return read_value(r, yaml_get(node, "drop"), TL_DIM_VOLT, &stage->drop);
    case TL_SHIFT_INVERTER:
        return read_part(r, yaml_get(node, "base"), TL_DIM_OHM, "a base resistor", &stage->first);
    case TL_SHIFT_N_CHANNEL:
        return read_rail(r, yaml_get(node, "gate"), plan->supplies, plan->supply_count, false, &stage->to) &&
               read_value(r, yaml_get(node, "threshold"), TL_DIM_VOLT, &stage->threshold) &&
               read_value(r, yaml_get(node, "diode"), TL_DIM_VOLT, &stage->drop);
    case TL_SHIFT_BUFFER:
        return read_rail(r, yaml_get(node, "supply"), plan->supplies, plan->supply_count, false,
                         &stage->to) &&
               read_level(r, yaml_get(node, "vil"), &stage->vil) &&
               read_level(r, yaml_get(node, "vih"), &stage->vih) &&
               levels_rise(r, node, "vil", &stage->vil, "vih", &stage->vih) &&
               read_level_span(r, yaml_get(node, "limits"), &stage->lowest, &stage->highest);
    }
    return false;
}

/* `clamp: pin`, or a part to a rail. */
static bool read_clamp(reader *r, const yaml_tree *node, const tl_plan *plan, tl_stage *stage)
{
    stage->to_pin = node->kind == YAML_TEXT && strcmp(node->text, "pin") == 0;
    if (stage->to_pin)
        return true;
    return check_map(r, node, &keys_clamp) &&
           read_rail(r, yaml_get(node, "to"), plan->supplies, plan->supply_count, true, &stage->to) &&
           read_value(r, yaml_get(node, "drop"), TL_DIM_VOLT, &stage->drop) &&
           (yaml_get(node, "current") == NULL ||
            read_value(r, yaml_get(node, "current"), TL_DIM_AMPERE, &stage->most_amperes));
}

static const struct {
    const char *key;
    tl_stage_kind kind;
    bool (*read)(reader *r, const yaml_tree *node, const tl_plan *plan, tl_stage *stage);
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

static bool read_stage(reader *r, const yaml_tree *node, const tl_plan *plan, tl_stage **stages, int *count)
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
        if (!stage_kinds[i].read(r, &node->items[1], plan, &stage) ||
            !read_yes(r, &node->items[1], "fitted", &(&stage)->fitted))
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

bool read_stages(reader *r, const yaml_tree *node, const tl_plan *plan, tl_stage **stages, int *count)
{
    bool good = check_list(r, node, "stages");
    if (!good)
        return false;
    for (int i = 0; i < node->count; i++)
        good = read_stage(r, &node->items[i], plan, stages, count) && good;
    return good;
}
