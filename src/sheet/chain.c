/* SPDX-License-Identifier: MIT */
/* Sources and stages become cells: what stands in the way lies on the line, what leads to a rail branches off
 * from a node. */
#include "sheet/chain.h"
#include "sheet/wiring_rows.h"
#include <math.h>
#include <string.h>

void chain_rail(const tl_plan *plan, int rail, char text[CHAIN_WORD])
{
    text[0] = '\0';
    if (rail == TL_TO_GROUND)
        return;
    const wire_end end = wiring_rail_end(plan, rail);
    snprintf(text, CHAIN_WORD, "%.*s", (int)strcspn(end.name, " "), end.name);
}

static int row_of(const chain_maker *m, const char *path, bool *fitted)
{
    for (int i = 0; i < m->list->count; i++) {
        if (path[0] != '\0' && strcmp(m->list->wires[i].path, path) == 0) {
            *fitted = m->list->wires[i].fitted;
            return i + 1;
        }
    }
    return 0;
}

static cell *add_cell(chain *c, cell_kind kind)
{
    if (c->count == CELLS_MOST)
        c->count--; /* beyond what a plan's stages come to */
    cell *is = &c->cells[c->count++];
    *is = (cell){.kind = kind};
    return is;
}

/* At the node before it, if that side is free there; else at one of its own. */
static branch *add_branch(chain *c, bool up)
{
    cell *last = c->count > 0 ? &c->cells[c->count - 1] : NULL;
    if (last == NULL || last->kind != CELL_NODE || (up ? last->up : last->down).used)
        last = add_cell(c, CELL_NODE);
    branch *b = up ? &last->up : &last->down;
    b->used = true;
    return b;
}

static void put_value(char text[CHAIN_WORD], const tl_located *value, tl_dimension dimension)
{
    const tl_quantity *q = &value->value;
    char low[32], high[32];
    if (dimension == TL_DIM_OHM && q->low >= 0.8 * q->nominal)
        snprintf(text, CHAIN_WORD, "%s", show_code(q->nominal).text);
    else if (q->low < 0.8 * q->nominal || q->high > 1.2 * q->nominal)
        snprintf(text, CHAIN_WORD, "%s .. %s", tl_quantity_write(q->low, dimension, TL_ROUND_NEAREST, low),
                 tl_quantity_write(q->high, dimension, TL_ROUND_NEAREST, high));
    else
        snprintf(text, CHAIN_WORD, "%s", show(q->nominal, dimension).text);
}

/* --- sources --- */

static void add_box(const chain_maker *m, chain *c, const char *name, const char *value, int supply)
{
    cell *box = add_cell(c, CELL_BOX);
    snprintf(box->name, sizeof box->name, "%s", name);
    snprintf(box->value, sizeof box->value, "%s", value);
    box->up.used = supply != TL_TO_GROUND && supply != TL_NONE;
    chain_rail(m->plan, box->up.used ? supply : TL_TO_GROUND, box->up.rail);
    box->down.used = true;
}

static void add_sensor(const chain_maker *m, chain *c, const tl_source *s)
{
    const bool up = s->supply != TL_TO_GROUND && !s->ground_side;
    branch *b = add_branch(c, up);
    b->symbol = s->curve.law != TL_LAW_NONE ? SYMBOL_THERMISTOR : SYMBOL_VARIABLE;
    if (s->curve.law != TL_LAW_NONE && strcmp(s->curve.unit, "degC") == 0) {
        snprintf(b->value, sizeof b->value, "%s", show_code(round(tl_response_ohms(&s->curve, 25))).text);
        snprintf(b->name, sizeof b->name, "at 25 °C");
    } else {
        put_value(b->value, &s->value, TL_DIM_OHM);
        snprintf(b->name, sizeof b->name, "sensor");
    }
    chain_rail(m->plan, s->supply, b->rail);
}

static void add_contact(const chain_maker *m, chain *c, const tl_source *s, const char *name)
{
    branch *b = add_branch(c, s->supply != TL_TO_GROUND && !s->ground_side);
    b->symbol = SYMBOL_CONTACT;
    snprintf(b->name, sizeof b->name, "%s", name);
    chain_rail(m->plan, s->supply, b->rail);
}

static void rung_row(const chain_maker *m, const char *signal, const char *button, int *row)
{
    char path[WIRE_PATH];
    bool fitted = false;
    snprintf(path, sizeof path, "%.60s.source.%.60s", signal, button);
    *row = row_of(m, path, &fitted);
}

/* Drawn from the farthest button to the common point. */
static void add_buttons(const chain_maker *m, chain *c, const tl_signal *signal)
{
    const tl_source *s = &signal->source;
    const bool star = s->kind == TL_SOURCE_STAR, up = s->supply != TL_TO_GROUND && !s->ground_side;
    for (int i = s->button_count - 1; i >= 0; i--) {
        const tl_source_button *button = &s->buttons[i];
        const bool has_ohms = button->ohms.value.nominal > 0;
        cell *node = add_cell(c, CELL_NODE);
        branch *b = up ? &node->up : &node->down;
        b->used = true;
        chain_rail(m->plan, s->supply, b->rail);
        if (star && has_ohms) {
            b->symbol = SYMBOL_RESISTOR;
            put_value(b->value, &button->ohms, TL_DIM_OHM);
            snprintf(b->contact, sizeof b->contact, "%.60s", button->name);
            rung_row(m, signal->name, button->name, &b->row);
            continue;
        }
        b->symbol = SYMBOL_CONTACT;
        snprintf(b->name, sizeof b->name, "%.60s", button->name);
        if (!has_ohms || (i == 0 && star))
            continue;
        cell *rung = add_cell(c, CELL_SERIES);
        put_value(rung->value, &button->ohms, TL_DIM_OHM);
        snprintf(rung->name, sizeof rung->name, "to %.50s", button->name);
        rung_row(m, signal->name, button->name, &rung->row);
    }
}

static void add_source(const chain_maker *m, chain *c, const tl_signal *signal)
{
    const tl_source *s = &signal->source;
    char value[CHAIN_WORD] = "";
    branch *b;
    cell *track;
    switch (s->kind) {
    case TL_SOURCE_RAIL:
        b = add_branch(c, true);
        chain_rail(m->plan, s->supply, b->rail);
        if (m->plan->supplies[s->supply].volts.high > 1.1 * m->plan->supplies[s->supply].volts.low)
            snprintf(b->extra, sizeof b->extra, "%.4g V .. %.4g V", m->plan->supplies[s->supply].volts.low,
                     m->plan->supplies[s->supply].volts.high);
        return;
    case TL_SOURCE_VOLTAGE:
        put_value(value, &s->value, TL_DIM_VOLT);
        add_box(m, c, "sensor", value, s->follows);
        return;
    case TL_SOURCE_CURRENT:
        put_value(value, &s->value, TL_DIM_AMPERE);
        add_box(m, c, "loop", value, s->supply);
        return;
    case TL_SOURCE_BRIDGE:
        put_value(value, &s->ohms, TL_DIM_OHM);
        add_box(m, c, "bridge", value, s->supply);
        return;
    case TL_SOURCE_LOGIC:
        add_box(m, c, "logic output", "", s->supply);
        return;
    case TL_SOURCE_RESISTANCE:
        add_sensor(m, c, s);
        return;
    case TL_SOURCE_POTENTIOMETER:
        track = add_cell(c, CELL_TRACK);
        put_value(track->value, &s->value, TL_DIM_OHM);
        track->up.used = track->down.used = true;
        chain_rail(m->plan, s->supply, track->up.rail);
        chain_rail(m->plan, s->bottom, track->down.rail);
        return;
    case TL_SOURCE_CHAIN:
    case TL_SOURCE_STAR:
        add_buttons(m, c, signal);
        return;
    case TL_SOURCE_CONTACT:
        add_contact(m, c, s, "contact");
        return;
    case TL_SOURCE_OPEN_COLLECTOR:
        add_contact(m, c, s, "open collector");
        return;
    }
}

/* --- stages --- */

static const char *name_of(const tl_plan_part *part)
{
    const char *leg = tl_stage_shape_of(part->of->kind)->part[part->leg].leg;
    switch (part->role) {
    case TL_PART_UPPER:
    case TL_PART_LOWER:
        return leg != NULL ? leg : part->of->name;
    case TL_PART_PULL:
        return part->up ? "pull-up" : "pull-down";
    default:
        return part->of->name;
    }
}

static void add_series(const chain_maker *m, chain *c, const tl_plan_part *part)
{
    bool fitted = false;
    cell *is = add_cell(c, CELL_SERIES);
    put_value(is->value, part->value, TL_DIM_OHM);
    is->row = row_of(m, part->path, &fitted);
    snprintf(is->name, sizeof is->name, "%.40s%s", name_of(part), fitted ? ", fitted" : "");
    is->row = fitted ? 0 : is->row;
}

static void add_to_rail(const chain_maker *m, chain *c, const tl_plan_part *part)
{
    bool fitted = false;
    const bool capacitor = part->role == TL_PART_CAPACITOR,
               up = part->rail >= 0 && part->rail != TL_TO_GROUND && part->up;
    branch *b = add_branch(c, up);
    b->symbol = capacitor ? SYMBOL_CAPACITOR : SYMBOL_RESISTOR;
    if (part->own)
        snprintf(b->value, sizeof b->value, "in the chip");
    else
        put_value(b->value, part->value, capacitor ? TL_DIM_FARAD : TL_DIM_OHM);
    b->row = row_of(m, part->path, &fitted);
    b->row = fitted ? 0 : b->row;
    snprintf(b->name, sizeof b->name, "%.40s%s", name_of(part), fitted ? ", fitted" : "");
    chain_rail(m->plan, part->rail >= 0 ? part->rail : TL_TO_GROUND, b->rail);
}

static void add_chip(const chain_maker *m, chain *c, const tl_stage *stage)
{
    static const char *const ways[] = {[TL_SHIFT_DIODE] = "diode",
                                       [TL_SHIFT_INVERTER] = "inverter",
                                       [TL_SHIFT_N_CHANNEL] = "n-channel",
                                       [TL_SHIFT_BUFFER] = "buffer"};
    const bool follower = tl_stage_has(stage, TL_PART_FOLLOWER);
    const bool fed = follower || stage->way == TL_SHIFT_BUFFER || stage->way == TL_SHIFT_N_CHANNEL;
    char base[CHAIN_WORD] = "";
    if (!follower && stage->way == TL_SHIFT_INVERTER)
        snprintf(base, sizeof base, "base %s", show_code(stage->first.value.nominal).text);
    add_box(m, c, follower ? "follower" : ways[stage->way], base, fed ? stage->to : TL_TO_GROUND);
    cell *box = &c->cells[c->count - 1];
    box->down.used = follower || stage->way == TL_SHIFT_BUFFER || stage->way == TL_SHIFT_INVERTER;
}

static void add_clamp(const chain_maker *m, chain *c, const tl_stage *stage)
{
    for (int up = 1; up >= 0; up--) {
        branch *b = add_branch(c, up == 1);
        b->symbol = SYMBOL_DIODE;
        snprintf(b->name, sizeof b->name, "clamp");
        chain_rail(m->plan, up == 1 ? stage->to : TL_TO_GROUND, b->rail);
    }
}

/* twin: as it is in the other leg of a bridge. */
static void add_stage(const chain_maker *m, chain *c, int line, int index, bool twin)
{
    const tl_stage *stage = &m->plan->signals[line].stages[index];
    if (tl_stage_has(stage, TL_PART_FOLLOWER) || tl_stage_has(stage, TL_PART_SHIFTER)) {
        add_chip(m, c, stage);
        return;
    }
    if (tl_stage_has(stage, TL_PART_CLAMP) && !stage->to_pin)
        add_clamp(m, c, stage);
    for (int i = m->parts->first[line]; i < m->parts->first[line + 1]; i++) {
        const tl_plan_part *part = &m->parts->part[i];
        if (part->stage != index || part->twin != twin || part->value == NULL || part->role == TL_PART_PLATE)
            continue;
        if (part->role == TL_PART_CABLE)
            put_value(add_cell(c, CELL_CABLE)->value, part->value, TL_DIM_FARAD);
        else if (tl_part_in_the_way(part))
            add_series(m, c, part);
        else
            add_to_rail(m, c, part);
    }
}

static void put_tag(const tl_plan *plan, int pin, chain *c)
{
    snprintf(c->tag, sizeof c->tag, "%.60s", plan->pins[pin].name);
    if (pin < plan->board->pin_count && plan->pins[pin].position >= 0)
        snprintf(c->position, sizeof c->position, "%d", plan->pins[pin].position % 10000);
}

chain chain_of_signal(const chain_maker *m, int signal)
{
    const tl_signal *s = &m->plan->signals[signal];
    chain c = {.count = 0};
    snprintf(c.title, sizeof c.title, "%.60s", s->name);
    if (s->source.button_count > 0)
        snprintf(c.note, sizeof c.note, "%d buttons on one pin", s->source.button_count);
    else if (s->analog && s->reading.unit[0] != '\0')
        snprintf(c.note, sizeof c.note, "reads %s",
                 strcmp(s->reading.unit, "degC") == 0  ? "°C"
                 : strcmp(s->reading.unit, "ohm") == 0 ? "Ω"
                                                       : s->reading.unit);
    else if (!s->analog && s->reading.steady > 0)
        snprintf(c.note, sizeof c.note, "steady for %s", show(s->reading.steady, TL_DIM_SECOND).text);
    add_source(m, &c, s);
    for (int i = 0; i < s->stage_count; i++)
        add_stage(m, &c, signal, i, false);
    put_tag(m->plan, s->pin, &c);
    if (m->plan->pins[s->pin].second != TL_NONE)
        put_tag(m->plan, wire_positive_of(m->plan, s->pin), &c);
    return c;
}

bool chain_of_other_leg(const chain_maker *m, int signal, chain *is)
{
    const tl_signal *s = &m->plan->signals[signal];
    const int pin = m->plan->pins[s->pin].second;
    *is = (chain){.count = 0};
    if (pin == TL_NONE)
        return false;
    snprintf(is->title, sizeof is->title, "%.50s, other leg", s->name);
    add_source(m, is, s);
    for (int i = 0; i < s->stage_count; i++)
        add_stage(m, is, signal, i, true);
    put_tag(m->plan, pin, is);
    return true;
}

bool chain_of_bus(const chain_maker *m, int bus, int line, chain *is)
{
    const tl_bus *of = &m->plan->buses[bus];
    *is = (chain){.count = 0};
    if (of->pins[line] == TL_NONE || of->stage_count == 0)
        return false;
    snprintf(is->title, sizeof is->title, "%.40s %s", of->name, of->line_name[line]);
    cell *box = add_cell(is, CELL_BOX);
    for (int i = 1; i < m->plan->converter_count; i++) {
        const size_t used = strlen(box->name);
        if (m->plan->converters[i].bus == bus)
            snprintf(box->name + used, sizeof box->name - used, "%s%.30s", used > 0 ? ", " : "",
                     m->plan->converters[i].name);
    }
    snprintf(box->value, sizeof box->value, "%s", of->line_name[line]);
    for (int i = 0; i < of->stage_count; i++)
        add_stage(m, is, of->first_line + line, i, false);
    put_tag(m->plan, of->pins[line], is);
    return true;
}

bool chain_of_shared(const chain_maker *m, int supply, chain *is)
{
    const tl_supply *node = &m->plan->supplies[supply];
    char path[WIRE_PATH];
    bool fitted = false;
    *is = (chain){.count = 0};
    if (node->kind != TL_RAIL_SHARED)
        return false;
    snprintf(path, sizeof path, "%.60s.series", node->name);
    const int row = row_of(m, path, &fitted);
    if (row == 0)
        return false;
    snprintf(is->title, sizeof is->title, "%.60s", node->name);
    snprintf(is->note, sizeof is->note, "shared");
    branch *b = add_branch(is, node->from != TL_TO_GROUND);
    b->symbol = SYMBOL_WIRE;
    chain_rail(m->plan, node->from, b->rail);
    cell *series = add_cell(is, CELL_SERIES);
    put_value(series->value, &node->ohms, TL_DIM_OHM);
    snprintf(series->name, sizeof series->name, "%s", fitted ? "fitted" : "");
    series->row = fitted ? 0 : row;
    snprintf(is->tag, sizeof is->tag, "%.60s", node->name);
    return true;
}

/* --- outputs --- */

static const tl_plan_part *part_called(const chain_maker *m, const char *path)
{
    for (int i = 0; i < m->parts->count; i++) {
        if (strcmp(m->parts->part[i].path, path) == 0)
            return &m->parts->part[i];
    }
    return NULL;
}

static void add_output_series(const chain_maker *m, chain *c, const char *path, const char *name)
{
    const tl_plan_part *part = part_called(m, path);
    bool fitted = false;
    if (part == NULL || part->value == NULL || !(part->value->value.nominal > 0))
        return;
    cell *is = add_cell(c, CELL_SERIES);
    put_value(is->value, part->value, TL_DIM_OHM);
    is->row = row_of(m, path, &fitted);
    snprintf(is->name, sizeof is->name, "%s", name);
}

static void add_driver(const chain_maker *m, chain *c, const tl_plan_output *o)
{
    const tl_driver *d = &o->driver;
    char path[WIRE_PATH];
    bool fitted = false;
    snprintf(path, sizeof path, "%.60s.control", o->name);
    add_output_series(m, c, path, d->way == TL_DRIVER_BIPOLAR ? "base" : "gate");
    if (d->pull.given) {
        branch *b = add_branch(c, false);
        b->symbol = SYMBOL_RESISTOR;
        put_value(b->value, &d->pull, TL_DIM_OHM);
        snprintf(b->name, sizeof b->name, "pull-down");
        snprintf(path, sizeof path, "%.60s.pull", o->name);
        b->row = row_of(m, path, &fitted);
    }
    cell *box = add_cell(c, CELL_BOX);
    snprintf(box->name, sizeof box->name, "%s", d->way == TL_DRIVER_BIPOLAR ? "transistor" : "n-channel");
    box->down.used = true;
    box->up.used = true;
    box->up.symbol = SYMBOL_RESISTOR;
    put_value(box->up.value, &d->load, TL_DIM_OHM);
    snprintf(box->up.name, sizeof box->up.name, "%s",
             d->lamp.given ? "lamp and resistor"
             : d->flyback  ? "load, diode across it"
                           : "load");
    chain_rail(m->plan, d->supply, box->up.rail);
    box->ends = true;
}

chain chain_of_output(const chain_maker *m, int output, int number)
{
    const tl_plan_output *o = &m->plan->outputs[output];
    chain c = {.count = 0, .out = true};
    char path[WIRE_PATH];
    snprintf(c.title, sizeof c.title, "%.60s", o->name);
    if (o->shows != TL_NONE)
        snprintf(c.note, sizeof c.note, "shows %.50s", m->plan->signals[o->shows].name);
    if (o->pin_count > 0)
        put_tag(m->plan, o->pins[number], &c);
    if (o->driver.way != TL_DRIVER_NONE) {
        add_driver(m, &c, o);
    } else if (o->lamp.given) {
        snprintf(path, sizeof path, o->pin_count > 1 ? "%.60s.series-%d" : "%.60s.series", o->name,
                 number + 1);
        add_output_series(m, &c, path, o->wired || o->fitted ? "series, fitted" : "series");
        const bool up = o->to != TL_TO_GROUND && !tl_plan_rail_is_low(m->plan, o->to);
        branch *b = add_branch(&c, up);
        b->symbol = up ? SYMBOL_DIODE : SYMBOL_LAMP;
        snprintf(b->name, sizeof b->name, "lamp");
        put_value(b->value, &o->lamp, TL_DIM_VOLT);
        chain_rail(m->plan, up ? o->to : TL_TO_GROUND, b->rail);
        c.cells[c.count - 1].ends = true;
    } else if (o->has_into) {
        for (int i = 0; i < m->plan->signals[o->first_line + number].stage_count; i++)
            add_stage(m, &c, o->first_line + number, i, false);
        cell *box = add_cell(&c, CELL_BOX);
        snprintf(box->name, sizeof box->name, "other board");
        box->ends = true;
    }
    return c;
}

/* --- alike --- */

static bool same_branch(const branch *a, const branch *b)
{
    return a->used == b->used && a->symbol == b->symbol && strcmp(a->value, b->value) == 0 &&
           strcmp(a->rail, b->rail) == 0 && strcmp(a->name, b->name) == 0;
}

bool chains_alike(const chain *a, const chain *b)
{
    bool same =
        a->count == b->count && a->out == b->out && (a->position[0] != '\0') == (b->position[0] != '\0');
    for (int i = 0; i < a->count && same; i++)
        same = a->cells[i].kind == b->cells[i].kind && strcmp(a->cells[i].value, b->cells[i].value) == 0 &&
               same_branch(&a->cells[i].up, &b->cells[i].up) &&
               same_branch(&a->cells[i].down, &b->cells[i].down);
    return same;
}
