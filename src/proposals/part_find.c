/* SPDX-License-Identifier: MIT */
/* Parts of a plan by their paths: of signals, buses, outputs and shared nodes, with the sizing of each. */
#include "base/nearest_name.h"
#include "elaborate/circuit_struct.h"
#include "proposals/resize.h"
#include <stdio.h>
#include <string.h>

static void add_value(tl_part *part, const tl_located *value, const char *name)
{
    const int n = part->value[0] != NULL;
    part->value[n] = value;
    part->name[n] = name;
}

/* --- of signals --- */

static const tl_stage *shifter_of(const tl_signal *s)
{
    for (int i = 0; i < s->stage_count; i++) {
        if (tl_stage_has(&s->stages[i], TL_PART_SHIFTER) && s->stages[i].way != TL_SHIFT_BUFFER)
            return &s->stages[i];
    }
    return NULL;
}

static bool is_clamped(const tl_signal *s, const tl_stage *series)
{
    for (const tl_stage *stage = series + 1; stage < s->stages + s->stage_count; stage++) {
        if (tl_stage_has(stage, TL_PART_CLAMP))
            return true;
    }
    return false;
}

/* Pulls beside a shifter, and its base resistor, are sized as what they are: a way from one world to another.
 */
static bool take_shift(const tl_signal *s, const tl_stage *stage, tl_part *part)
{
    static const char *const ways[] = {[TL_SHIFT_DIODE] = "diode and pull",
                                       [TL_SHIFT_INVERTER] = "transistor to ground, inverting",
                                       [TL_SHIFT_N_CHANNEL] = "N-channel transistor a line"};
    const tl_stage *shifter = shifter_of(s);
    if (shifter == NULL || s->source.kind != TL_SOURCE_LOGIC || s->source.supply < 0 ||
        (!tl_stage_has(stage, TL_PART_PULL) && stage != shifter) || (stage == shifter && !stage->first.given))
        return false;
    part->job = "shift";
    part->way = ways[shifter->way];
    if (stage == shifter)
        add_value(part, &stage->first, "base resistor");
    else if (shifter->way != TL_SHIFT_N_CHANNEL)
        add_value(part, &stage->first, "pull");
    else
        add_value(part, &stage->first, stage < shifter ? "pull, driver" : "pull, receiver");
    return true;
}

/* What a stage of a signal is sized by; false where nothing sizes it. */
static bool take_stage(const tl_signal *s, const tl_stage *stage, tl_part *part)
{
    const tl_stage_shape *shape = tl_stage_shape_of(stage->kind);
    part->job = shape->job;
    part->stage = stage;
    if (stage->internal)
        return false;
    if (take_shift(s, stage, part))
        return true;
    if (tl_stage_has(stage, TL_PART_SERIES) && is_clamped(s, stage)) {
        part->job = "injection";
        add_value(part, &stage->first, "series");
        return true;
    }
    for (int leg = 0; leg < shape->parts && part->job != NULL; leg++) {
        const tl_part_shape *of = &shape->part[leg];
        if ((tl_role_of(of->role)->traits & TL_BOUGHT) != 0)
            add_value(part, tl_shape_value(of, stage),
                      of->leg != NULL ? of->leg : tl_role_of(of->role)->sized);
    }
    return part->job != NULL;
}

/* --- of all that has parts --- */

/* Whoever looks at a plan's parts, one after the other; true ends it. */
typedef struct {
    const char *owner, *called; /* what is looked for; or */
    const tl_place *place;      /* the part with a value here: NULL for a name */
    char *list;                 /* the names that the owner has; or NULL */
    size_t room;
    bool owner_known, found;
    tl_part part;
} search;

/* A line of a bus is offered by its signal first, and then by the bus, which is sized for all that is
 * connected to it. */
static void offer_place(search *z, const tl_part *part)
{
    for (int i = 0; i < 2 && part->value[i] != NULL; i++) {
        const tl_place *at = &part->value[i]->place;
        if (at->file != z->place->file || at->line != z->place->line || at->column != z->place->column)
            continue;
        z->part = *part;
        z->found = true;
    }
}

static void offer(search *z, const tl_part *part)
{
    if (z->place != NULL) {
        offer_place(z, part);
        return;
    }
    if (strcmp(part->owner, z->owner) != 0)
        return;
    z->owner_known = true;
    const size_t used = strlen(z->list);
    snprintf(z->list + used, z->room - used, "%s%.40s", used > 0 ? ", " : "", part->called);
    if (strcmp(part->called, z->called) != 0 || z->found)
        return;
    z->part = *part;
    z->found = true;
}

static tl_part none(const char *owner, const char *called)
{
    return (tl_part){.owner = owner,
                     .called = called,
                     .signal = TL_NONE,
                     .bus = TL_NONE,
                     .output = TL_NONE,
                     .shared = TL_NONE};
}

static void offer_signals(const tl_plan *plan, search *z)
{
    for (int i = 0; i < plan->signal_count; i++) {
        const tl_signal *s = &plan->signals[i];
        z->owner_known = z->owner_known || strcmp(s->name, z->owner) == 0;
        for (int k = 0; k < s->stage_count; k++) {
            tl_part part = none(s->name, s->stages[k].name);
            part.signal = i;
            if (take_stage(s, &s->stages[k], &part))
                offer(z, &part);
        }
    }
}

static void offer_buses(const tl_plan *plan, search *z)
{
    for (int i = 0; i < plan->bus_count; i++) {
        const tl_bus *bus = &plan->buses[i];
        const tl_signal *line = &plan->signals[bus->first_line];
        z->owner_known = z->owner_known || strcmp(bus->name, z->owner) == 0;
        for (int k = 0; k < line->stage_count && !bus->spi; k++) {
            tl_part part = none(bus->name, line->stages[k].name);
            if (!tl_stage_has(&line->stages[k], TL_PART_PULL) || line->stages[k].internal)
                continue;
            part.signal = bus->first_line;
            part.bus = i;
            part.job = "bus-pull";
            part.stage = &line->stages[k];
            add_value(&part, &line->stages[k].first, "pull");
            offer(z, &part);
        }
    }
}

static void offer_outputs(const tl_plan *plan, search *z)
{
    for (int i = 0; i < plan->output_count; i++) {
        const tl_plan_output *o = &plan->outputs[i];
        tl_part part = none(o->name, "series");
        part.output = i;
        z->owner_known = z->owner_known || strcmp(o->name, z->owner) == 0;
        if (o->driver.way != TL_DRIVER_NONE && o->driver.series.given) {
            const bool bipolar = o->driver.way == TL_DRIVER_BIPOLAR;
            part.job = "driver";
            part.way = bipolar ? "bipolar transistor" : "N-channel transistor";
            add_value(&part, &o->driver.series, bipolar ? "base resistor" : "gate resistor");
            offer(z, &part);
        } else if (o->driver.way == TL_DRIVER_NONE && o->lamp.given && o->series.given) {
            part.job = "lamp";
            add_value(&part, &o->series, "series");
            offer(z, &part);
        }
    }
}

/* The first signal whose track is connected to a node. */
static int track_at(const tl_plan *plan, int rail)
{
    for (int i = 0; i < plan->signal_count; i++) {
        const tl_source *source = &plan->signals[i].source;
        if (source->kind == TL_SOURCE_POTENTIOMETER && source->supply == rail)
            return i;
    }
    return TL_NONE;
}

static void offer_shared(const tl_plan *plan, search *z)
{
    for (int i = 0; i < plan->supply_count; i++) {
        const tl_supply *node = &plan->supplies[i];
        tl_part part = none(node->name, "series");
        part.signal = track_at(plan, i);
        if (node->kind != TL_RAIL_SHARED)
            continue;
        z->owner_known = z->owner_known || strcmp(node->name, z->owner) == 0;
        if (!node->ohms.given || part.signal == TL_NONE || node->from < 0)
            continue;
        part.job = "feed";
        part.shared = i;
        add_value(&part, &node->ohms, "feed");
        offer(z, &part);
    }
}

static void offer_all(const tl_plan *plan, search *z)
{
    offer_signals(plan, z);
    offer_buses(plan, z);
    offer_outputs(plan, z);
    offer_shared(plan, z);
}

bool sized_part_at(const tl_plan *plan, const tl_place *place, tl_part *part)
{
    search z = {.owner = "", .place = place};
    offer_all(plan, &z);
    *part = z.found ? z.part : none(NULL, NULL);
    return z.found;
}

/* The i-th of all that may own a part. */
static const char *owner_name(const void *list, int i)
{
    const tl_plan *plan = list;
    if (i < plan->signal_count)
        return plan->signals[i].name;
    i -= plan->signal_count;
    if (i < plan->bus_count)
        return plan->buses[i].name;
    i -= plan->bus_count;
    return i < plan->output_count ? plan->outputs[i].name : plan->supplies[i - plan->output_count].name;
}

static void say_no_owner(const tl_plan *plan, const char *owner, const char *part, char why[TL_PART_WHY])
{
    const char *near =
        nearest_name(owner, owner_name, plan,
                     plan->signal_count + plan->bus_count + plan->output_count + plan->supply_count);
    const int length = snprintf(why, TL_PART_WHY, "nothing in the plan is called '%.80s': ", owner);
    if (near != NULL)
        snprintf(why + length, (size_t)(TL_PART_WHY - length), "did you mean '%.80s%s%.60s'?", near,
                 part != NULL ? "." : "", part != NULL ? part : "");
    else
        snprintf(why + length, (size_t)(TL_PART_WHY - length), "expected %s",
                 part != NULL ? "a signal, bus, output or shared node before the dot" : "SIGNAL.PART");
}

bool tl_part_find(const tl_plan *plan, const char *path, tl_part *part, char why[TL_PART_WHY])
{
    char owner[160] = "", list[200] = "";
    const char *dot = strrchr(path, '.');
    snprintf(owner, sizeof owner, "%.*s", (int)(dot != NULL ? (size_t)(dot - path) : strlen(path)), path);
    search z = {
        .owner = owner, .called = dot != NULL ? dot + 1 : "series", .list = list, .room = sizeof list};
    offer_all(plan, &z);
    *part = z.found ? z.part : none(NULL, NULL);
    if (!z.owner_known)
        say_no_owner(plan, owner, dot != NULL ? dot + 1 : NULL, why);
    else if (list[0] == '\0')
        snprintf(why, TL_PART_WHY, "%.80s has no part that can be sized", owner);
    else if (dot == NULL)
        snprintf(why, TL_PART_WHY, "expected SIGNAL.PART; %.80s has: %s", owner, list);
    else
        snprintf(why, TL_PART_WHY, "%.80s has no part '%.60s' that can be sized; it has: %s", owner, z.called,
                 list);
    return z.found;
}
