/*
 * The list that one wires by, out of the plan: each signal from its source through its stages to its pin,
 * then what outputs, buses, multiplexers and converters need. An end is a pin with its position, a rail, or a
 * point between parts that has a name here.
 */
#include "sheet/wiring.h"
#include "model/parts.h"
#include "tinyladder/design/preferred.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

typedef struct {
    const tl_plan *plan;
    wiring list;
    const char *group; /* that rows belong to now */
    const char *leg;   /* what names of points end in, in the other leg of a bridge */
} wirer;

/* --- ends --- */

static void pin_end(const tl_plan *plan, int pin, char text[WIRE_END])
{
    const tl_pin *p = &plan->pins[pin];
    if (pin < plan->board->pin_count && p->position >= 0)
        snprintf(text, WIRE_END, "%.40s (%d)", p->name, p->position);
    else
        snprintf(text, WIRE_END, "%.60s", p->name);
}

/* The board's pin that is this rail, or its name. */
static void rail_end(const tl_plan *plan, int rail, char text[WIRE_END])
{
    const int wanted = rail == TL_TO_GROUND ? TL_PIN_IS_GROUND : rail;
    if (rail >= 0 && plan->supplies[rail].kind == TL_RAIL_PIN) {
        pin_end(plan, plan->supplies[rail].pin, text);
        return;
    }
    for (int i = 0; i < plan->board->pin_count; i++) {
        if (plan->board->pins[i].rail == wanted) {
            pin_end(plan, i, text);
            return;
        }
    }
    snprintf(text, WIRE_END, "%.60s", rail == TL_TO_GROUND ? "ground" : plan->supplies[rail].name);
}

/* Of a pair the pin of its positive input, of any other pin itself. */
static int positive_of(const tl_plan *plan, int pin)
{
    const tl_pin *p = &plan->pins[pin];
    return p->second == TL_NONE ? pin : p->second - plan->pins[p->second].channel + p->channel;
}

/* --- rows --- */

static wire *add(wirer *w, const char *from, const char *to, const char *part)
{
    w->list.wires = must(realloc(w->list.wires, ((size_t)w->list.count + 1) * sizeof *w->list.wires));
    wire *row = &w->list.wires[w->list.count++];
    *row = (wire){.bands = ""};
    snprintf(row->group, sizeof row->group, "%.60s", w->group);
    snprintf(row->from, sizeof row->from, "%s", from);
    snprintf(row->to, sizeof row->to, "%s", to);
    snprintf(row->part, sizeof row->part, "%s", part);
    return row;
}

static void add_to_rail(wirer *w, const char *from, int rail, const char *part)
{
    char to[WIRE_END];
    rail_end(w->plan, rail, to);
    add(w, from, to, part);
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
static void add_resistor(wirer *w, const char *from, const char *to, const char *name, const tl_located *ohms)
{
    char part[WIRE_PART], one[TL_QUANTITY_LONGEST], other[TL_QUANTITY_LONGEST];
    if (!(ohms->value.nominal > 0)) {
        add(w, from, to, "wire");
        return;
    }
    const bool two = ohms->parts[1] > 0,
               in_series = two && ohms->value.nominal > fmax(ohms->parts[0], ohms->parts[1]);
    const double first = two ? ohms->parts[0] : ohms->value.nominal;
    snprintf(part, sizeof part, "%s %s%s%s", name, tl_letter_code_write(first, one),
             two ? in_series ? " + " : " || " : "", two ? tl_letter_code_write(ohms->parts[1], other) : "");
    wire *row = add(w, from, to, part);
    append_bands(row, first, tolerance_of(&ohms->value));
    if (two)
        append_bands(row, ohms->parts[1], tolerance_of(&ohms->value));
}

static void add_resistor_to_rail(wirer *w, const char *from, int rail, const char *name,
                                 const tl_located *ohms)
{
    char to[WIRE_END];
    rail_end(w->plan, rail, to);
    add_resistor(w, from, to, name, ohms);
}

static void add_valued(wirer *w, const char *from, const char *to, const char *word, const tl_located *value,
                       tl_dimension dimension)
{
    char part[WIRE_PART];
    snprintf(part, sizeof part, "%s %s", word, show(value->value.nominal, dimension).text);
    add(w, from, to, part);
}

/* --- sources --- */

static void add_buttons(wirer *w, const tl_source *s, char at[WIRE_END])
{
    char tap[WIRE_END], before[WIRE_END], leg[WIRE_END];
    snprintf(before, sizeof before, "%s", at);
    for (int i = 0; i < s->button_count; i++) {
        const tl_source_button *b = &s->buttons[i];
        snprintf(leg, sizeof leg, "%.30s leg 1", b->name);
        snprintf(tap, sizeof tap, "%.30s other leg", b->name);
        add_resistor(w, s->kind == TL_SOURCE_STAR ? at : before, leg, "resistor", &b->ohms);
        add_to_rail(w, tap, s->supply, "wire");
        snprintf(before, sizeof before, "%s", leg);
    }
}

static void add_source(wirer *w, const tl_signal *signal, char at[WIRE_END])
{
    const tl_source *s = &signal->source;
    switch (s->kind) {
    case TL_SOURCE_RAIL:
        rail_end(w->plan, s->supply, at);
        return;
    case TL_SOURCE_VOLTAGE:
        snprintf(at, WIRE_END, "source +");
        add_to_rail(w, "source -", s->bottom, "wire");
        return;
    case TL_SOURCE_CURRENT:
        snprintf(at, WIRE_END, "loop -");
        if (s->supply != TL_TO_GROUND)
            add_to_rail(w, "loop +", s->supply, "wire");
        return;
    case TL_SOURCE_RESISTANCE:
        snprintf(at, WIRE_END, "sensor leg 1");
        add_to_rail(w, "sensor leg 2", s->supply, "wire");
        return;
    case TL_SOURCE_POTENTIOMETER:
        snprintf(at, WIRE_END, "wiper");
        add_to_rail(w, "track end 100 %", s->supply, "wire");
        add_to_rail(w, "track end 0 %", s->bottom, "wire");
        return;
    case TL_SOURCE_BRIDGE:
        snprintf(at, WIRE_END, "signal +");
        if (s->supply != TL_TO_GROUND) {
            add_to_rail(w, "excitation +", s->supply, "wire");
            add_to_rail(w, "excitation -", TL_TO_GROUND, "wire");
        }
        return;
    case TL_SOURCE_CHAIN:
    case TL_SOURCE_STAR:
        snprintf(at, WIRE_END, "common point");
        add_buttons(w, s, at);
        return;
    case TL_SOURCE_CONTACT:
        snprintf(at, WIRE_END, "contact leg 1");
        add_to_rail(w, "contact leg 2", s->supply, "wire");
        return;
    case TL_SOURCE_OPEN_COLLECTOR:
        snprintf(at, WIRE_END, "collector");
        add_to_rail(w, "emitter", s->supply, "wire");
        return;
    case TL_SOURCE_LOGIC:
        snprintf(at, WIRE_END, "output");
        add_to_rail(w, "its ground", TL_TO_GROUND, "wire");
        return;
    }
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
            rail_end(w->plan, part->to == TL_END_RAIL ? stage->to : TL_TO_GROUND, to);
        if (tl_role_of(part->role)->dimension == TL_DIM_OHM)
            add_resistor(w, at, to, word, value);
        else
            add_valued(w, at, to, word, value, tl_role_of(part->role)->dimension);
        if (part->to == TL_END_NEXT)
            snprintf(at, WIRE_END, "%s", to);
    }
}

static void add_follower(wirer *w, char at[WIRE_END], const tl_stage *stage)
{
    add(w, at, "follower input +", "wire");
    add(w, "follower input -", "follower output", "wire");
    add_to_rail(w, "follower supply +", stage->to, "wire");
    add_to_rail(w, "follower supply -", TL_TO_GROUND, "wire");
    snprintf(at, WIRE_END, "follower output");
}

/* at_low: this side is the one of the lower supply, where a transistor in the line has its source. */
static void add_shifter(wirer *w, char at[WIRE_END], const tl_stage *stage, bool at_low)
{
    switch (stage->way) {
    case TL_SHIFT_DIODE:
        add(w, at, "diode cathode", "wire");
        snprintf(at, WIRE_END, "diode anode");
        return;
    case TL_SHIFT_INVERTER:
        add_resistor(w, at, "transistor base", "resistor", &stage->first);
        add_to_rail(w, "transistor emitter", TL_TO_GROUND, "wire");
        snprintf(at, WIRE_END, "transistor collector");
        return;
    case TL_SHIFT_N_CHANNEL:
        add(w, at, at_low ? "transistor source" : "transistor drain", "wire");
        add_to_rail(w, "transistor gate", stage->to, "wire");
        snprintf(at, WIRE_END, at_low ? "transistor drain" : "transistor source");
        return;
    case TL_SHIFT_BUFFER:
        add(w, at, "buffer input", "wire");
        add_to_rail(w, "buffer supply", stage->to, "wire");
        add_to_rail(w, "buffer ground", TL_TO_GROUND, "wire");
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
static void add_stage(wirer *w, char at[WIRE_END], const tl_stage *stages, int count, int index,
                      bool backwards)
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
        rail_end(w->plan, stage->to, rail);
        add(w, at, rail, "diode, its cathode at the rail");
        add_to_rail(w, at, TL_TO_GROUND, "diode, its anode at ground");
    }
}

static void add_signal(wirer *w, const tl_signal *signal)
{
    char at[WIRE_END], pin[WIRE_END];
    w->group = signal->name;
    add_source(w, signal, at);
    for (int i = 0; i < signal->stage_count; i++)
        add_stage(w, at, signal->stages, signal->stage_count, i, false);
    pin_end(w->plan, positive_of(w->plan, signal->pin), pin);
    add(w, at, pin, "wire");
    const int second = w->plan->pins[signal->pin].second;
    if (second == TL_NONE)
        return;
    const bool bridge = signal->source.kind == TL_SOURCE_BRIDGE;
    snprintf(at, sizeof at, bridge ? "signal -" : "source -");
    w->leg = " -";
    for (int i = 0; i < signal->stage_count && bridge; i++) /* the same in both legs */
        add_stage(w, at, signal->stages, signal->stage_count, i, false);
    w->leg = "";
    pin_end(w->plan, second, pin);
    add(w, at, pin, "wire");
}

/* --- rails, outputs --- */

static void add_shared(wirer *w)
{
    for (int i = 0; i < w->plan->supply_count; i++) {
        const tl_supply *supply = &w->plan->supplies[i];
        w->group = supply->name;
        if (supply->kind == TL_RAIL_SHARED)
            add_resistor_to_rail(w, supply->name, supply->from, "resistor", &supply->ohms);
        /* What is fed from elsewhere has its other pole at the board's ground. */
        if (supply->kind == TL_RAIL_SUPPLY && i >= w->plan->board->supply_count) {
            char pole[WIRE_END];
            snprintf(pole, sizeof pole, "%.50s -", supply->name);
            add_to_rail(w, pole, TL_TO_GROUND, "wire");
        }
    }
}

static void add_driver(wirer *w, const tl_plan_output *o, const char *pin)
{
    const tl_driver *d = &o->driver;
    const bool bipolar = d->way == TL_DRIVER_BIPOLAR;
    const char *control = bipolar ? "transistor base" : "transistor gate";
    add_resistor(w, pin, control, "resistor", &d->series);
    if (d->pull.given)
        add_resistor_to_rail(w, control, TL_TO_GROUND, "pull-down", &d->pull);
    add_to_rail(w, bipolar ? "transistor emitter" : "transistor source", TL_TO_GROUND, "wire");
    add(w, bipolar ? "transistor collector" : "transistor drain", d->lamp.given ? "lamp cathode" : "load -",
        "wire");
    if (d->lamp.given) {
        add_resistor_to_rail(w, "lamp anode", d->supply, "resistor", &d->load);
    } else {
        add_to_rail(w, "load +", d->supply, "wire");
    }
    if (d->flyback)
        add(w, "load -", "load +", "diode, its cathode at +");
}

static void add_lamp(wirer *w, const tl_plan_output *o, const char *pin)
{
    const bool lights_high = o->to == TL_TO_GROUND || tl_plan_rail_is_low(w->plan, o->to);
    add_resistor(w, pin, lights_high ? "lamp anode" : "lamp cathode", "resistor", &o->series);
    add_to_rail(w, lights_high ? "lamp cathode" : "lamp anode", o->to, "wire");
}

static void add_output(wirer *w, const tl_plan_output *o)
{
    char pin[WIRE_END], name[WIRE_END];
    if (o->pin_count == 0) {
        w->group = o->name;
        add_resistor_to_rail(w, "lamp anode", o->from, "resistor", &o->series);
        add_to_rail(w, "lamp cathode", o->to, "wire");
    }
    for (int i = 0; i < o->pin_count; i++) {
        pin_end(w->plan, o->pins[i], pin);
        snprintf(name, sizeof name, o->pin_count > 1 ? "%.50s %d" : "%.50s", o->name, i + 1);
        w->group = name;
        if (o->wired) {
            add(w, pin, "-", "the board's own lamp");
        } else if (o->driver.way != TL_DRIVER_NONE) {
            add_driver(w, o, pin);
        } else if (o->lamp.given) {
            add_lamp(w, o, pin);
        } else if (o->has_into) {
            const tl_signal *line = &w->plan->signals[o->first_line + i];
            for (int s = 0; s < line->stage_count; s++)
                add_stage(w, pin, line->stages, line->stage_count, s, false);
            add(w, pin, "input of another board", "wire");
        }
    }
}

/* --- buses, multiplexers, converters --- */

/* What a device calls the line that the board calls so. */
static const char *far_name(const tl_bus *bus, int line)
{
    return !bus->spi ? bus->line_name[line] : line == 0 ? "clock" : line == 1 ? "data out" : "data in";
}

static void add_bus(wirer *w, int index)
{
    const tl_bus *bus = &w->plan->buses[index];
    for (int line = 0; line < bus->line_count; line++) {
        char at[WIRE_END], name[WIRE_END];
        if (bus->pins[line] == TL_NONE)
            continue;
        snprintf(name, sizeof name, "%.40s %s", bus->name, bus->line_name[line]);
        w->group = name;
        pin_end(w->plan, bus->pins[line], at);
        for (int s = bus->stage_count; s-- > 0;) /* the plan lists them from the device on */
            add_stage(w, at, bus->stages, bus->stage_count, s, true);
        for (int i = 1; i < w->plan->converter_count; i++) {
            char to[WIRE_END];
            if (w->plan->converters[i].bus != index)
                continue;
            snprintf(to, sizeof to, "%.40s %s", w->plan->converters[i].name, far_name(bus, line));
            add(w, at, to, "wire");
        }
    }
}

static void add_held(wirer *w, const char *from, const tl_line_holder *holder)
{
    char to[WIRE_END];
    if (!holder->given)
        return;
    if (holder->pin != TL_NONE)
        pin_end(w->plan, holder->pin, to);
    else
        rail_end(w->plan, holder->rail, to);
    add(w, from, to, holder->pin != TL_NONE ? "wire" : "wire, permanently");
}

static bool is_used(const tl_plan *plan, int pin)
{
    for (int i = 0; i < plan->signal_count; i++) {
        if (positive_of(plan, plan->signals[i].pin) == pin || plan->pins[plan->signals[i].pin].second == pin)
            return true;
    }
    for (int i = 0; i < plan->mux_count; i++) {
        if (plan->muxes[i].common == pin)
            return true;
    }
    return false;
}

static void add_mux(wirer *w, const tl_mux *mux)
{
    char end[WIRE_END], input[WIRE_END];
    w->group = mux->name;
    add_to_rail(w, "supply", mux->supply, "wire");
    add_to_rail(w, "ground", TL_TO_GROUND, "wire");
    for (int i = 0; i < mux->select_count; i++) {
        snprintf(end, sizeof end, "select %d", i);
        add_held(w, end, &mux->select[i]);
    }
    add_held(w, "enable", &mux->enable);
    pin_end(w->plan, mux->common, end);
    add(w, "common", end, "wire");
    for (int i = 0; i < mux->part->inputs; i++) {
        if (is_used(w->plan, mux->first_pin + i))
            continue;
        snprintf(input, sizeof input, "input %d", i);
        if (mux->tied[i] == TL_OPEN)
            add(w, input, "-", "stays open");
        else
            add_to_rail(w, input, mux->tied[i], "wire, unused");
    }
}

static void add_converter(wirer *w, int index)
{
    const tl_plan_converter *c = &w->plan->converters[index];
    char note[WIRE_PART];
    w->group = c->name;
    add_to_rail(w, "supply", c->supply, "wire");
    add_to_rail(w, "ground", TL_TO_GROUND, "wire");
    if (c->select_pin != TL_NONE) {
        char pin[WIRE_END];
        pin_end(w->plan, c->select_pin, pin);
        add(w, "select", pin, "wire");
    }
    if (c->address >= 0) {
        snprintf(note, sizeof note, "so that it is 0x%02lx", (unsigned long)c->address);
        add(w, "address pins", "-", note);
    }
    for (int i = 0; i < w->plan->pin_count; i++) {
        const tl_pin *p = &w->plan->pins[i];
        if (i < w->plan->board->pin_count || p->converter != index || p->mux != TL_NONE ||
            p->second != TL_NONE || is_used(w->plan, i))
            continue;
        char name[WIRE_END];
        pin_end(w->plan, i, name);
        add(w, name, "-", "stays open");
    }
}

static void add_module(wirer *w, const tl_module *module)
{
    w->group = module->name;
    for (int i = 0; i < module->pin_count; i++) {
        const tl_module_pin *p = &module->pins[i];
        char to[WIRE_END] = "-";
        if (p->pin != TL_NONE)
            pin_end(w->plan, p->pin, to);
        else if (p->rail != TL_OPEN)
            rail_end(w->plan, p->rail, to);
        if (p->rail == TL_OPEN)
            add(w, p->name, to, "stays open");
        else
            add_resistor(w, p->name, to, "resistor", &p->series);
    }
}

wiring wiring_of(const tl_plan *plan)
{
    wirer w = {.plan = plan, .group = "", .leg = ""};
    add_shared(&w);
    for (int i = 0; i < plan->signal_count; i++)
        add_signal(&w, &plan->signals[i]);
    for (int i = 0; i < plan->output_count; i++)
        add_output(&w, &plan->outputs[i]);
    for (int i = 0; i < plan->bus_count; i++)
        add_bus(&w, i);
    for (int i = 0; i < plan->mux_count; i++)
        add_mux(&w, &plan->muxes[i]);
    for (int i = 1; i < plan->converter_count; i++)
        add_converter(&w, i);
    for (int i = 0; i < plan->module_count; i++)
        add_module(&w, &plan->modules[i]);
    return w.list;
}
