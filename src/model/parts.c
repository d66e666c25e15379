/* SPDX-License-Identifier: MIT */
/* What a plan's hardware is made of. */
#include "model/parts.h"
#include "base/memory.h"
#include <stddef.h>
#include <stdio.h>
#include <stdlib.h>

static const tl_role_traits roles[] = {
    [TL_PART_SERIES] = {"series", TL_DIM_OHM, "resistor", NULL, TL_BOUGHT | TL_FAILS},
    [TL_PART_GUARD] = {"guard", TL_DIM_OHM, "guard resistor", "guard", TL_BOUGHT | TL_FAILS},
    [TL_PART_UPPER] = {"upper", TL_DIM_OHM, "upper resistor", NULL, TL_BOUGHT | TL_FAILS},
    [TL_PART_LOWER] = {"lower", TL_DIM_OHM, "lower resistor", NULL, TL_BOUGHT | TL_FAILS | TL_SHIFTS},
    [TL_PART_FILTER] = {"filter", TL_DIM_OHM, "resistor", NULL, TL_BOUGHT | TL_FAILS},
    [TL_PART_PULL] = {"pull", TL_DIM_OHM, "pull", "pull", TL_BOUGHT | TL_FAILS},
    [TL_PART_PARTNER] = {"partner", TL_DIM_OHM, "resistor", "partner", TL_BOUGHT | TL_FAILS},
    [TL_PART_LOAD] = {"load", TL_DIM_OHM, "load", "load", TL_BOUGHT | TL_FAILS},
    [TL_PART_CAPACITOR] = {"capacitor", TL_DIM_FARAD, "capacitor", "capacitor", TL_BOUGHT},
    [TL_PART_PLATE] = {"plate", TL_DIM_OHM, NULL, NULL, 0},
    [TL_PART_CABLE] = {"cable", TL_DIM_FARAD, NULL, NULL, 0},
    [TL_PART_BASE] = {"base", TL_DIM_OHM, "resistor", NULL, TL_BOUGHT},
    [TL_PART_RUNG] = {"rung", TL_DIM_OHM, "resistor", NULL, TL_BOUGHT},
    [TL_PART_SHARED] = {"shared", TL_DIM_OHM, "resistor", NULL, TL_BOUGHT},
    [TL_PART_LAMP] = {"lamp", TL_DIM_VOLT, "lamp", NULL, 0},
    [TL_PART_LAMP_SERIES] = {"lamp series", TL_DIM_OHM, "resistor", NULL, TL_BOUGHT},
    [TL_PART_CONTROL] = {"control", TL_DIM_OHM, "resistor", NULL, TL_BOUGHT},
    [TL_PART_CONTROL_PULL] = {"control pull", TL_DIM_OHM, "pull-down", NULL, TL_BOUGHT},
    [TL_PART_DRIVEN] = {"driven", TL_DIM_OHM, "load", NULL, 0},
    [TL_PART_SHIFTER] = {"shifter", TL_DIM_NUMBER, NULL, NULL, TL_SHIFTS},
    [TL_PART_FOLLOWER] = {"follower", TL_DIM_NUMBER, NULL, NULL, 0},
    [TL_PART_CLAMP] = {"clamp", TL_DIM_NUMBER, NULL, NULL, TL_SHIFTS | TL_HOLDS},
    [TL_PART_PIN_CLAMP] = {"pin clamp", TL_DIM_NUMBER, NULL, NULL, TL_SHIFTS | TL_HOLDS},
};

const tl_role_traits *tl_role_of(tl_part_role role)
{
    return &roles[role];
}

#define FIRST ((int)offsetof(tl_stage, first))
#define SECOND ((int)offsetof(tl_stage, second))

static const tl_stage_shape shapes[] = {
    [TL_STAGE_SERIES] = {NULL, true, 1, {{TL_PART_SERIES, NULL, TL_END_AT, TL_END_NEXT, FIRST}}},
    [TL_STAGE_GUARD] = {"guard", true, 1, {{TL_PART_GUARD, NULL, TL_END_AT, TL_END_NEXT, FIRST}}},
    [TL_STAGE_DIVIDER] = {"divider",
                          true,
                          2,
                          {{TL_PART_UPPER, "upper", TL_END_AT, TL_END_NEXT, FIRST},
                           {TL_PART_LOWER, "lower", TL_END_NEXT, TL_END_RAIL, SECOND}}},
    [TL_STAGE_PULL] = {"pull", false, 1, {{TL_PART_PULL, NULL, TL_END_AT, TL_END_RAIL, FIRST}}},
    [TL_STAGE_PARTNER] = {"partner", false, 1, {{TL_PART_PARTNER, NULL, TL_END_AT, TL_END_RAIL, FIRST}}},
    [TL_STAGE_LOAD] = {"loop", false, 1, {{TL_PART_LOAD, NULL, TL_END_AT, TL_END_GROUND, FIRST}}},
    [TL_STAGE_CAPACITOR] = {"reservoir",
                            false,
                            2,
                            {{TL_PART_PLATE, "resistance", TL_END_AT, TL_END_INSIDE, SECOND},
                             {TL_PART_CAPACITOR, NULL, TL_END_INSIDE, TL_END_GROUND, FIRST}}},
    [TL_STAGE_CABLE] = {NULL, false, 1, {{TL_PART_CABLE, NULL, TL_END_AT, TL_END_GROUND, FIRST}}},
    [TL_STAGE_FILTER] = {"filter",
                         true,
                         2,
                         {{TL_PART_FILTER, "series", TL_END_AT, TL_END_NEXT, FIRST},
                          {TL_PART_CAPACITOR, "capacitor", TL_END_NEXT, TL_END_GROUND, SECOND}}},
    [TL_STAGE_FOLLOWER] = {NULL, true, 1, {{TL_PART_FOLLOWER, NULL, TL_END_AT, TL_END_NEXT, TL_NO_VALUE}}},
    [TL_STAGE_SHIFTER] = {NULL,
                          true,
                          2,
                          {{TL_PART_BASE, "base", TL_END_AT, TL_END_INSIDE, FIRST},
                           {TL_PART_SHIFTER, NULL, TL_END_AT, TL_END_NEXT, TL_NO_VALUE}}},
    [TL_STAGE_CLAMP] = {NULL, false, 1, {{TL_PART_CLAMP, NULL, TL_END_AT, TL_END_RAIL, TL_NO_VALUE}}},
};

const tl_located *tl_shape_value(const tl_part_shape *shape, const tl_stage *stage)
{
    return shape->value == TL_NO_VALUE ? NULL : (const tl_located *)((const char *)stage + shape->value);
}

const tl_stage_shape *tl_stage_shape_of(tl_stage_kind kind)
{
    return &shapes[kind];
}

bool tl_stage_has(const tl_stage *stage, tl_part_role role)
{
    const tl_stage_shape *shape = &shapes[stage->kind];
    for (int leg = 0; leg < shape->parts; leg++) {
        if (shape->part[leg].role == role)
            return true;
    }
    return false;
}

static tl_plan_part *add(tl_parts *parts, tl_part_role role, const tl_located *value)
{
    parts->part = tl_grow(parts->part, (size_t)parts->count, sizeof *parts->part);
    tl_plan_part *part = &parts->part[parts->count++];
    *part = (tl_plan_part){.role = role,
                           .value = value,
                           .stage = TL_NONE,
                           .rail = TL_NONE,
                           .a = TL_NONE,
                           .b = TL_NONE,
                           .net = TL_NONE,
                           .param = TL_NONE,
                           .contact = TL_NONE};
    return part;
}

static void list_stage(tl_parts *parts, const tl_plan *plan, int line, int index, int side, bool twin)
{
    const tl_signal *s = &plan->signals[line];
    tl_stage *stage = &s->stages[index];
    const tl_stage_shape *shape = tl_stage_shape_of(stage->kind);
    for (int leg = 0; leg < shape->parts; leg++) {
        const tl_part_shape *of = &shape->part[leg];
        const tl_located *value = tl_shape_value(of, stage);
        if (value != NULL && !value->given && !stage->internal)
            continue;
        tl_plan_part *part = add(parts, stage->to_pin ? TL_PART_PIN_CLAMP : of->role, value);
        part->of = stage;
        snprintf(part->path, sizeof part->path, "%.70s.%.40s%s%s%s", s->name, stage->name,
                 twin ? "-negative" : "", of->leg != NULL ? "." : "", of->leg != NULL ? of->leg : "");
        part->twin = twin;
        part->owner = TL_OWNED_BY_LINE;
        part->index = line;
        part->stage = index;
        part->leg = leg;
        part->side = side;
        part->rail = of->to != TL_END_RAIL ? TL_NONE
                     : !stage->internal    ? stage->to
                     : stage->up           ? plan->pins[s->pin].limits.supply
                                           : TL_TO_GROUND;
        part->up = (tl_role_of(part->role)->traits & TL_HOLDS) != 0
                       ? of->to == TL_END_GROUND || stage->to != TL_TO_GROUND
                       : stage->up;
        part->own = stage->internal;
        part->fitted = stage->fitted;
    }
}

static void list_line(tl_parts *parts, const tl_plan *plan, int line)
{
    tl_signal *s = &plan->signals[line];
    int side = 0;
    for (int b = 0; b < s->source.button_count; b++) {
        tl_plan_part *part = add(parts, TL_PART_RUNG, &s->source.buttons[b].ohms);
        snprintf(part->path, sizeof part->path, "%.70s.source.%.40s", s->name, s->source.buttons[b].name);
        part->owner = TL_OWNED_BY_LINE;
        part->index = line;
        part->leg = b;
    }
    for (int j = 0; j < s->stage_count; j++) {
        side += s->stages[j].kind == TL_STAGE_SHIFTER;
        list_stage(parts, plan, line, j, side, false);
        if (s->source.kind == TL_SOURCE_BRIDGE)
            list_stage(parts, plan, line, j, side, true);
    }
}

static void list_rail(tl_parts *parts, const tl_plan *plan, int rail)
{
    tl_supply *supply = &plan->supplies[rail];
    if (supply->kind != TL_RAIL_SHARED || !supply->ohms.given)
        return;
    tl_plan_part *part = add(parts, TL_PART_SHARED, &supply->ohms);
    snprintf(part->path, sizeof part->path, "%.70s.series", supply->name);
    part->owner = TL_OWNED_BY_RAIL;
    part->index = rail;
    part->rail = supply->from;
    part->fitted = supply->fitted;
}

/* A part that an output may have, once for each of its pins. */
typedef struct {
    tl_part_role role;
    const tl_located *value;
    const char *name;
    bool fitted;
} output_part;

static void list_of_output(tl_parts *parts, const tl_plan *plan, int output, int pin, output_part of)
{
    const tl_plan_output *o = &plan->outputs[output];
    if (!of.value->given)
        return;
    tl_plan_part *part = add(parts, of.role, of.value);
    if (o->pin_count > 1)
        snprintf(part->path, sizeof part->path, "%.70s.%s-%d", o->name, of.name, pin + 1);
    else
        snprintf(part->path, sizeof part->path, "%.70s.%s", o->name, of.name);
    part->owner = TL_OWNED_BY_OUTPUT;
    part->index = output;
    part->leg = pin;
    part->fitted = of.fitted;
    part->rail = o->driver.way != TL_DRIVER_NONE ? o->driver.supply : o->to;
}

static void list_output(tl_parts *parts, const tl_plan *plan, int output)
{
    const tl_plan_output *o = &plan->outputs[output];
    const tl_driver *d = &o->driver;
    const output_part of_pins[] = {{TL_PART_LAMP, &o->lamp, "lamp", true},
                                   {TL_PART_LAMP_SERIES, &o->series, "series", o->wired || o->fitted}},
                      of_driver[] = {{TL_PART_LAMP, &d->lamp, "lamp", true},
                                     {d->lamp.given ? TL_PART_LAMP_SERIES : TL_PART_DRIVEN, &d->load, "load",
                                      !d->lamp.given},
                                     {TL_PART_CONTROL, &d->series, "control", false},
                                     {TL_PART_CONTROL_PULL, &d->pull, "pull", false}};
    for (int pin = 0; pin < (o->pin_count == 0 ? 1 : o->pin_count); pin++) {
        for (size_t i = 0; i < sizeof of_pins / sizeof of_pins[0]; i++)
            list_of_output(parts, plan, output, pin, of_pins[i]);
    }
    for (size_t i = 0; d->way != TL_DRIVER_NONE && i < sizeof of_driver / sizeof of_driver[0]; i++)
        list_of_output(parts, plan, output, 0, of_driver[i]);
}

tl_parts tl_plan_parts(const tl_plan *plan)
{
    tl_parts parts = {NULL, 0, tl_alloc((size_t)plan->line_count + 1, sizeof *parts.first)};
    for (int i = 0; i < plan->line_count; i++) {
        parts.first[i] = parts.count;
        list_line(&parts, plan, i);
    }
    parts.first[plan->line_count] = parts.count;
    for (int i = 0; i < plan->supply_count; i++)
        list_rail(&parts, plan, i);
    for (int i = 0; i < plan->output_count; i++)
        list_output(&parts, plan, i);
    return parts;
}

void tl_parts_free(tl_parts *parts)
{
    free(parts->part);
    free(parts->first);
    *parts = (tl_parts){NULL, 0, NULL};
}

const tl_plan_part *tl_parts_next(const tl_parts *parts, int line, tl_part_role role,
                                  const tl_plan_part *after)
{
    const int from = after == NULL ? parts->first[line] : (int)(after - parts->part) + 1;
    for (int i = from; i < parts->first[line + 1]; i++) {
        if (parts->part[i].role == role)
            return &parts->part[i];
    }
    return NULL;
}

const tl_plan_part *tl_parts_with(const tl_parts *parts, int line, unsigned traits, const tl_plan_part *after)
{
    const int from = after != NULL     ? (int)(after - parts->part) + 1
                     : line == TL_NONE ? 0
                                       : parts->first[line],
              end = line == TL_NONE ? parts->count : parts->first[line + 1];
    for (int i = from; i < end; i++) {
        if ((tl_role_of(parts->part[i].role)->traits & traits) != 0)
            return &parts->part[i];
    }
    return NULL;
}

bool tl_part_is_bought(const tl_plan_part *part)
{
    return (tl_role_of(part->role)->traits & TL_BOUGHT) != 0 && part->value->given &&
           part->value->value.nominal > 0 &&
           part->value->value.nominal >= (part->role == TL_PART_SHARED ? 1 : 0);
}

bool tl_part_in_the_way(const tl_plan_part *part)
{
    if (part->of == NULL || part->value == NULL || tl_role_of(part->role)->dimension != TL_DIM_OHM)
        return false;
    const tl_part_shape *shape = &tl_stage_shape_of(part->of->kind)->part[part->leg];
    return shape->from == TL_END_AT && shape->to == TL_END_NEXT;
}
