/* SPDX-License-Identifier: MIT */
/* Rows of the list that one wires by: their ends, their parts, and the stages of a line. An end is a pin with
 * its position, a rail, or a point between parts that has a name here. */
#include "sheet/wiring_rows.h"
#include "model/parts.h"
#include "tinyladder/design/preferred.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

/* --- ends --- */

wire_end wire_point(const char *name)
{
    wire_end end = {.kind = END_POINT};
    snprintf(end.name, sizeof end.name, "%.63s", name);
    return end;
}

wire_end wire_nowhere(void)
{
    return (wire_end){.kind = END_NOWHERE, .name = "-"};
}

wire_end wire_pin_end(const tl_plan *plan, int pin)
{
    const tl_pin *p = &plan->pins[pin];
    wire_end end = {.kind = END_PIN, .index = pin};
    if (pin < plan->board->pin_count && p->position >= 0)
        snprintf(end.name, sizeof end.name, "%.40s (%d)", p->name, p->position);
    else
        snprintf(end.name, sizeof end.name, "%.60s", p->name);
    return end;
}

/* The pin of the board that is a rail, or is held at it; TL_NONE. */
static int pin_of_rail(const tl_plan *plan, int rail)
{
    const int wanted = rail == TL_TO_GROUND ? TL_PIN_IS_GROUND : rail;
    if (rail >= 0 && plan->supplies[rail].kind == TL_RAIL_PIN)
        return plan->supplies[rail].pin;
    for (int i = 0; i < plan->board->pin_count; i++) {
        if (plan->board->pins[i].rail == wanted)
            return i;
    }
    return TL_NONE;
}

wire_end wiring_rail_end(const tl_plan *plan, int rail)
{
    const int pin = pin_of_rail(plan, rail);
    wire_end end = pin != TL_NONE ? wire_pin_end(plan, pin)
                                  : wire_point(rail == TL_TO_GROUND ? "ground" : plan->supplies[rail].name);
    end.kind = END_RAIL;
    end.index = rail;
    return end;
}

/* Of a pair the pin of its positive input, of any other pin itself. */
int wire_positive_of(const tl_plan *plan, int pin)
{
    const tl_pin *p = &plan->pins[pin];
    return p->second == TL_NONE ? pin : p->second - plan->pins[p->second].channel + p->channel;
}

/* --- rows --- */

void wire_begin(wirer *w, wired_kind kind, int index, const char *name)
{
    w->kind = kind;
    w->index = index;
    w->group = w->owner = name;
}

bool wires_belong_together(const wire *a, const wire *b)
{
    return a->kind == b->kind && a->index == b->index && strcmp(a->group, b->group) == 0;
}

bool wire_ends_alike(const wire *a, const wire_end *one, const wire *b, const wire_end *other)
{
    if (one->kind != other->kind || one->kind == END_NOWHERE)
        return false;
    if (one->kind == END_RAIL || one->kind == END_PIN)
        return one->index == other->index;
    return strcmp(one->name, other->name) == 0 && (one->kind == END_CHIP || wires_belong_together(a, b));
}

wire *wire_add(wirer *w, wire_end from, wire_end to, const char *part)
{
    w->list.wires = must(realloc(w->list.wires, ((size_t)w->list.count + 1) * sizeof *w->list.wires));
    wire *row = &w->list.wires[w->list.count++];
    *row = (wire){.kind = w->kind, .index = w->index, .from = from, .to = to};
    snprintf(row->group, sizeof row->group, "%.60s", w->group);
    snprintf(row->part, sizeof row->part, "%s", part);
    snprintf(row->word, sizeof row->word, "%.39s", part);
    snprintf(row->path, sizeof row->path, "%s", w->path);
    row->fitted = w->fitted;
    w->path[0] = '\0';
    w->fitted = false;
    return row;
}

/* The part that comes next. */
void wire_name_part(wirer *w, const char *of, const char *end, const char *leg, bool fitted)
{
    snprintf(w->path, sizeof w->path, "%.60s.%.40s%s%.40s", of, end, leg != NULL ? "." : "",
             leg != NULL ? leg : "");
    w->fitted = fitted;
}

void wire_add_to_rail(wirer *w, wire_end from, int rail, const char *part)
{
    wire_add(w, from, wiring_rail_end(w->plan, rail), part);
}

static double tolerance_of(const tl_quantity *q)
{
    return q->nominal > 0 ? fmax(q->high / q->nominal - 1, 1 - q->low / q->nominal) : 0;
}

/* Without a tolerance in the plan no band speaks of one. */
static void append_bands(wire *row, double ohms, double tolerance)
{
    const char *bands[TL_BANDS_MOST];
    const int all = tl_colour_bands(ohms, tolerance > 0 ? tolerance : 0.05, bands),
              count = tolerance > 0 ? all : all - 1;
    for (int i = 0; i < count; i++) {
        const size_t used = strlen(row->bands);
        snprintf(row->bands + used, sizeof row->bands - used, "%s%s",
                 i > 0      ? " "
                 : used > 0 ? "; "
                            : "",
                 bands[i]);
    }
}

/* A resistor, or two of them. */
void wire_add_resistor(wirer *w, wire_end from, wire_end to, const char *name, const tl_located *ohms)
{
    char part[WIRE_PART], one[TL_QUANTITY_LONGEST], other[TL_QUANTITY_LONGEST];
    if (!(ohms->value.nominal > 0)) {
        w->path[0] = '\0';
        wire_add(w, from, to, "wire");
        return;
    }
    const bool two = ohms->parts[1] > 0,
               in_series = two && ohms->value.nominal > fmax(ohms->parts[0], ohms->parts[1]);
    const double first = two ? ohms->parts[0] : ohms->value.nominal;
    snprintf(part, sizeof part, "%s %s%s%s", name, tl_letter_code_write(first, one),
             two ? in_series ? " + " : " || " : "", two ? tl_letter_code_write(ohms->parts[1], other) : "");
    wire *row = wire_add(w, from, to, part);
    snprintf(row->word, sizeof row->word, "%.39s", name);
    snprintf(row->value, sizeof row->value, "%.39s", part + strlen(name) + 1);
    append_bands(row, first, tolerance_of(&ohms->value));
    if (two)
        append_bands(row, ohms->parts[1], tolerance_of(&ohms->value));
}

void wire_add_resistor_to_rail(wirer *w, wire_end from, int rail, const char *name, const tl_located *ohms)
{
    wire_add_resistor(w, from, wiring_rail_end(w->plan, rail), name, ohms);
}

static void add_valued(wirer *w, wire_end from, wire_end to, const char *word, const tl_located *value,
                       tl_dimension dimension)
{
    char part[WIRE_PART];
    const shown value_text = show(value->value.nominal, dimension);
    snprintf(part, sizeof part, "%s %s", word, value_text.text);
    wire *row = wire_add(w, from, to, part);
    snprintf(row->word, sizeof row->word, "%.39s", word);
    snprintf(row->value, sizeof row->value, "%.39s", value_text.text);
}

/* --- stages --- */

/* The parts of a stage, each between its ends; what goes on has a new point behind it. */
static void add_parts(wirer *w, wire_end *at, const tl_stage *stage)
{
    const tl_stage_shape *shape = tl_stage_shape_of(stage->kind);
    for (int leg = 0; leg < shape->parts && !stage->internal; leg++) {
        const tl_part_shape *part = &shape->part[leg];
        const tl_located *value = tl_shape_value(part, stage);
        const char *word =
            part->role == TL_PART_PULL ? (stage->up ? "pull-up" : "pull-down") : tl_role_of(part->role)->word;
        char behind[WIRE_END];
        if (word == NULL)
            continue;
        snprintf(behind, sizeof behind, "behind %.40s%s", stage->name, w->leg);
        wire_end to = wiring_rail_end(w->plan, part->to == TL_END_RAIL ? stage->to : TL_TO_GROUND);
        if (part->to == TL_END_NEXT) {
            to = wire_point(behind);
            to.kind = END_BEHIND;
        }
        wire_name_part(w, w->owner, stage->name, part->leg, stage->fitted);
        if (tl_role_of(part->role)->dimension == TL_DIM_OHM)
            wire_add_resistor(w, *at, to, word, value);
        else
            add_valued(w, *at, to, word, value, tl_role_of(part->role)->dimension);
        if (part->to == TL_END_NEXT)
            *at = to;
    }
}

/* `transistor gate`; of the second of its kind in a chain `transistor-2 gate`. */
static wire_end chip_end(const tl_stage *stage, const char *chip, const char *pin)
{
    char name[WIRE_END];
    snprintf(name, sizeof name, "%.20s%.20s %.20s", chip, stage->name + strcspn(stage->name, "-"), pin);
    return wire_point(name);
}

static void add_follower(wirer *w, wire_end *at, const tl_stage *stage)
{
    static const char *const chip = "follower";
    wire_add(w, *at, chip_end(stage, chip, "input +"), "wire");
    *at = chip_end(stage, chip, "output");
    wire_add(w, chip_end(stage, chip, "input -"), *at, "wire");
    wire_add_to_rail(w, chip_end(stage, chip, "supply +"), stage->to, "wire");
    wire_add_to_rail(w, chip_end(stage, chip, "supply -"), TL_TO_GROUND, "wire");
}

/* at_low: this side is the one of the lower supply, where a transistor in the line has its source. */
static void add_shifter(wirer *w, wire_end *at, const tl_stage *stage, bool at_low)
{
    static const char *const transistor = "transistor", *const buffer = "buffer";
    switch (stage->way) {
    case TL_SHIFT_DIODE:
        wire_add(w, *at, chip_end(stage, "diode", "cathode"), "wire");
        *at = chip_end(stage, "diode", "anode");
        return;
    case TL_SHIFT_INVERTER:
        wire_add_resistor(w, *at, chip_end(stage, transistor, "base"), "resistor", &stage->first);
        wire_add_to_rail(w, chip_end(stage, transistor, "emitter"), TL_TO_GROUND, "wire");
        *at = chip_end(stage, transistor, "collector");
        return;
    case TL_SHIFT_N_CHANNEL:
        wire_add(w, *at, chip_end(stage, transistor, at_low ? "source" : "drain"), "wire");
        wire_add_to_rail(w, chip_end(stage, transistor, "gate"), stage->to, "wire");
        *at = chip_end(stage, transistor, at_low ? "drain" : "source");
        return;
    case TL_SHIFT_BUFFER:
        wire_add(w, *at, chip_end(stage, buffer, "input"), "wire");
        wire_add_to_rail(w, chip_end(stage, buffer, "supply"), stage->to, "wire");
        wire_add_to_rail(w, chip_end(stage, buffer, "ground"), TL_TO_GROUND, "wire");
        *at = chip_end(stage, buffer, "output");
        return;
    }
}

/* Whether what stands behind a shifter, in the plan's order, is pulled up to its gate's supply: the lower
 * one. */
static bool is_low_behind(const tl_stage *stages, int count, int shifter)
{
    bool pulled = false;
    for (int i = shifter + 1; i < count; i++)
        pulled = pulled || (tl_stage_has(&stages[i], TL_PART_PULL) && stages[i].to == stages[shifter].to);
    return pulled;
}

/* backwards: from the pin on. */
void wire_add_stage(wirer *w, wire_end *at, const tl_stage *stages, int count, int index, bool backwards)
{
    const tl_stage *stage = &stages[index];
    if (tl_stage_has(stage, TL_PART_FOLLOWER)) {
        add_follower(w, at, stage);
    } else if (tl_stage_has(stage, TL_PART_SHIFTER)) {
        add_shifter(w, at, stage, is_low_behind(stages, count, index) == backwards);
    } else if (!tl_stage_has(stage, TL_PART_CLAMP)) {
        add_parts(w, at, stage);
    } else if (!stage->to_pin) {
        wire_add_to_rail(w, *at, stage->to, "diode, its cathode at the rail");
        wire_add_to_rail(w, *at, TL_TO_GROUND, "diode, its anode at ground");
    }
}
