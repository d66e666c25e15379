/* Rows of the list that one wires by: their ends, their parts, and the stages of a line. An end is a pin with
 * its position, a rail, or a point between parts that has a name here. */
#include "sheet/wiring_rows.h"
#include "model/parts.h"
#include "tinyladder/design/preferred.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

/* --- ends --- */

void wire_pin_end(const tl_plan *plan, int pin, char text[WIRE_END])
{
    const tl_pin *p = &plan->pins[pin];
    if (pin < plan->board->pin_count && p->position >= 0)
        snprintf(text, WIRE_END, "%.40s (%d)", p->name, p->position);
    else
        snprintf(text, WIRE_END, "%.60s", p->name);
}

/* The board's pin that is this rail, or its name. */
void wiring_rail_end(const tl_plan *plan, int rail, char text[WIRE_END])
{
    const int wanted = rail == TL_TO_GROUND ? TL_PIN_IS_GROUND : rail;
    if (rail >= 0 && plan->supplies[rail].kind == TL_RAIL_PIN) {
        wire_pin_end(plan, plan->supplies[rail].pin, text);
        return;
    }
    for (int i = 0; i < plan->board->pin_count; i++) {
        if (plan->board->pins[i].rail == wanted) {
            wire_pin_end(plan, i, text);
            return;
        }
    }
    snprintf(text, WIRE_END, "%.60s", rail == TL_TO_GROUND ? "ground" : plan->supplies[rail].name);
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

wire *wire_add(wirer *w, const char *from, const char *to, const char *part)
{
    w->list.wires = must(realloc(w->list.wires, ((size_t)w->list.count + 1) * sizeof *w->list.wires));
    wire *row = &w->list.wires[w->list.count++];
    *row = (wire){.kind = w->kind, .index = w->index};
    snprintf(row->group, sizeof row->group, "%.60s", w->group);
    snprintf(row->from, sizeof row->from, "%s", from);
    snprintf(row->to, sizeof row->to, "%s", to);
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

void wire_add_to_rail(wirer *w, const char *from, int rail, const char *part)
{
    char to[WIRE_END];
    wiring_rail_end(w->plan, rail, to);
    wire_add(w, from, to, part);
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
void wire_add_resistor(wirer *w, const char *from, const char *to, const char *name, const tl_located *ohms)
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

void wire_add_resistor_to_rail(wirer *w, const char *from, int rail, const char *name, const tl_located *ohms)
{
    char to[WIRE_END];
    wiring_rail_end(w->plan, rail, to);
    wire_add_resistor(w, from, to, name, ohms);
}

static void add_valued(wirer *w, const char *from, const char *to, const char *word, const tl_located *value,
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
static void add_parts(wirer *w, char at[WIRE_END], const tl_stage *stage)
{
    const tl_stage_shape *shape = tl_stage_shape_of(stage->kind);
    for (int leg = 0; leg < shape->parts && !stage->internal; leg++) {
        const tl_part_shape *part = &shape->part[leg];
        const tl_located *value = tl_shape_value(part, stage);
        const char *word =
            part->role == TL_PART_PULL ? (stage->up ? "pull-up" : "pull-down") : tl_role_of(part->role)->word;
        char to[WIRE_END];
        if (word == NULL)
            continue;
        if (part->to == TL_END_NEXT)
            snprintf(to, sizeof to, "behind %.40s%s", stage->name, w->leg);
        else
            wiring_rail_end(w->plan, part->to == TL_END_RAIL ? stage->to : TL_TO_GROUND, to);
        wire_name_part(w, w->owner, stage->name, part->leg, stage->fitted);
        if (tl_role_of(part->role)->dimension == TL_DIM_OHM)
            wire_add_resistor(w, at, to, word, value);
        else
            add_valued(w, at, to, word, value, tl_role_of(part->role)->dimension);
        if (part->to == TL_END_NEXT)
            snprintf(at, WIRE_END, "%s", to);
    }
}

static void add_follower(wirer *w, char at[WIRE_END], const tl_stage *stage)
{
    wire_add(w, at, "follower input +", "wire");
    wire_add(w, "follower input -", "follower output", "wire");
    wire_add_to_rail(w, "follower supply +", stage->to, "wire");
    wire_add_to_rail(w, "follower supply -", TL_TO_GROUND, "wire");
    snprintf(at, WIRE_END, "follower output");
}

/* at_low: this side is the one of the lower supply, where a transistor in the line has its source. */
static void add_shifter(wirer *w, char at[WIRE_END], const tl_stage *stage, bool at_low)
{
    switch (stage->way) {
    case TL_SHIFT_DIODE:
        wire_add(w, at, "diode cathode", "wire");
        snprintf(at, WIRE_END, "diode anode");
        return;
    case TL_SHIFT_INVERTER:
        wire_add_resistor(w, at, "transistor base", "resistor", &stage->first);
        wire_add_to_rail(w, "transistor emitter", TL_TO_GROUND, "wire");
        snprintf(at, WIRE_END, "transistor collector");
        return;
    case TL_SHIFT_N_CHANNEL:
        wire_add(w, at, at_low ? "transistor source" : "transistor drain", "wire");
        wire_add_to_rail(w, "transistor gate", stage->to, "wire");
        snprintf(at, WIRE_END, at_low ? "transistor drain" : "transistor source");
        return;
    case TL_SHIFT_BUFFER:
        wire_add(w, at, "buffer input", "wire");
        wire_add_to_rail(w, "buffer supply", stage->to, "wire");
        wire_add_to_rail(w, "buffer ground", TL_TO_GROUND, "wire");
        snprintf(at, WIRE_END, "buffer output");
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
void wire_add_stage(wirer *w, char at[WIRE_END], const tl_stage *stages, int count, int index, bool backwards)
{
    const tl_stage *stage = &stages[index];
    char rail[WIRE_END];
    if (tl_stage_has(stage, TL_PART_FOLLOWER)) {
        add_follower(w, at, stage);
    } else if (tl_stage_has(stage, TL_PART_SHIFTER)) {
        add_shifter(w, at, stage, is_low_behind(stages, count, index) == backwards);
    } else if (!tl_stage_has(stage, TL_PART_CLAMP)) {
        add_parts(w, at, stage);
    } else if (!stage->to_pin) {
        wiring_rail_end(w->plan, stage->to, rail);
        wire_add(w, at, rail, "diode, its cathode at the rail");
        wire_add_to_rail(w, at, TL_TO_GROUND, "diode, its anode at ground");
    }
}
