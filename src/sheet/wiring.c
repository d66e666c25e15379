/* SPDX-License-Identifier: MIT */
/*
 * The list that one wires by, out of the plan: each signal from its source through its stages to its pin,
 * then what outputs, buses, multiplexers and converters need.
 */
#include "sheet/wiring_rows.h"
#include "tinyladder/design/preferred.h"
#include <string.h>

/* --- sources --- */

static void add_buttons(wirer *w, const tl_source *s, const wire_end *at)
{
    wire_end before = *at;
    for (int i = 0; i < s->button_count; i++) {
        const tl_source_button *b = &s->buttons[i];
        char leg[WIRE_END], other[WIRE_END];
        snprintf(leg, sizeof leg, "%.30s leg 1", b->name);
        snprintf(other, sizeof other, "%.30s other leg", b->name);
        wire_name_part(w, w->group, "source", b->name, false);
        wire_add_resistor(w, s->kind == TL_SOURCE_STAR ? *at : before, wire_point(leg), "resistor", &b->ohms);
        wire_add_to_rail(w, wire_point(other), s->supply, "wire");
        before = wire_point(leg);
    }
}

static void add_source(wirer *w, const tl_signal *signal, wire_end *at)
{
    const tl_source *s = &signal->source;
    switch (s->kind) {
    case TL_SOURCE_RAIL:
        *at = wiring_rail_end(w->plan, s->supply);
        return;
    case TL_SOURCE_VOLTAGE:
        *at = wire_point("source +");
        wire_add_to_rail(w, wire_point("source -"), s->bottom, "wire");
        return;
    case TL_SOURCE_CURRENT:
        *at = wire_point("loop -");
        if (s->supply != TL_TO_GROUND)
            wire_add_to_rail(w, wire_point("loop +"), s->supply, "wire");
        return;
    case TL_SOURCE_RESISTANCE:
        *at = wire_point("sensor leg 1");
        wire_add_to_rail(w, wire_point("sensor leg 2"), s->supply, "wire");
        return;
    case TL_SOURCE_POTENTIOMETER:
        *at = wire_point("wiper");
        wire_add_to_rail(w, wire_point("track end 100 %"), s->supply, "wire");
        wire_add_to_rail(w, wire_point("track end 0 %"), s->bottom, "wire");
        return;
    case TL_SOURCE_BRIDGE:
        *at = wire_point("signal +");
        if (s->supply != TL_TO_GROUND) {
            wire_add_to_rail(w, wire_point("excitation +"), s->supply, "wire");
            wire_add_to_rail(w, wire_point("excitation -"), TL_TO_GROUND, "wire");
        }
        return;
    case TL_SOURCE_CHAIN:
    case TL_SOURCE_STAR:
        *at = wire_point("common point");
        add_buttons(w, s, at);
        return;
    case TL_SOURCE_CONTACT:
        *at = wire_point("contact leg 1");
        wire_add_to_rail(w, wire_point("contact leg 2"), s->supply, "wire");
        return;
    case TL_SOURCE_OPEN_COLLECTOR:
        *at = wire_point("collector");
        wire_add_to_rail(w, wire_point("emitter"), s->supply, "wire");
        return;
    case TL_SOURCE_LOGIC:
        *at = wire_point("output");
        wire_add_to_rail(w, wire_point("its ground"), TL_TO_GROUND, "wire");
        return;
    }
}

/* --- signals --- */

static void add_signal(wirer *w, int index)
{
    const tl_signal *signal = &w->plan->signals[index];
    wire_end at;
    wire_begin(w, WIRED_SIGNAL, index, signal->name);
    add_source(w, signal, &at);
    for (int i = 0; i < signal->stage_count; i++)
        wire_add_stage(w, &at, signal->stages, signal->stage_count, i, false);
    wire_add(w, at, wire_pin_end(w->plan, wire_positive_of(w->plan, signal->pin)), "wire");
    const int second = w->plan->pins[signal->pin].second;
    if (second == TL_NONE)
        return;
    const bool bridge = signal->source.kind == TL_SOURCE_BRIDGE;
    at = wire_point(bridge ? "signal -" : "source -");
    w->leg = " -";
    for (int i = 0; i < signal->stage_count && bridge; i++) /* the same in both legs */
        wire_add_stage(w, &at, signal->stages, signal->stage_count, i, false);
    w->leg = "";
    wire_add(w, at, wire_pin_end(w->plan, second), "wire");
}

/* --- rails, outputs --- */

static void add_shared(wirer *w)
{
    for (int i = 0; i < w->plan->supply_count; i++) {
        const tl_supply *supply = &w->plan->supplies[i];
        wire_begin(w, supply->kind == TL_RAIL_SHARED ? WIRED_SHARED : WIRED_SUPPLY, i, supply->name);
        if (supply->kind == TL_RAIL_SHARED)
            wire_name_part(w, supply->name, "series", NULL, false);
        if (supply->kind == TL_RAIL_SHARED)
            wire_add_resistor_to_rail(w, wiring_rail_end(w->plan, i), supply->from, "resistor",
                                      &supply->ohms);
        /* What is fed from elsewhere has its other pole at the board's ground. */
        if (supply->kind == TL_RAIL_SUPPLY && i >= w->plan->board->supply_count) {
            char pole[WIRE_END];
            snprintf(pole, sizeof pole, "%.50s -", supply->name);
            wire_add_to_rail(w, wire_point(pole), TL_TO_GROUND, "wire");
        }
    }
}

static void add_driver(wirer *w, const tl_plan_output *o, wire_end pin)
{
    const tl_driver *d = &o->driver;
    const bool bipolar = d->way == TL_DRIVER_BIPOLAR;
    const wire_end control = wire_point(bipolar ? "transistor base" : "transistor gate");
    wire_name_part(w, o->name, "control", NULL, false);
    wire_add_resistor(w, pin, control, "resistor", &d->series);
    if (d->pull.given)
        wire_name_part(w, o->name, "pull", NULL, false);
    if (d->pull.given)
        wire_add_resistor_to_rail(w, control, TL_TO_GROUND, "pull-down", &d->pull);
    wire_add_to_rail(w, wire_point(bipolar ? "transistor emitter" : "transistor source"), TL_TO_GROUND,
                     "wire");
    wire_add(w, wire_point(bipolar ? "transistor collector" : "transistor drain"),
             wire_point(d->lamp.given ? "lamp cathode" : "load -"), "wire");
    if (d->lamp.given) {
        wire_add_resistor_to_rail(w, wire_point("lamp anode"), d->supply, "resistor", &d->load);
    } else {
        wire_add_to_rail(w, wire_point("load +"), d->supply, "wire");
    }
    if (d->flyback)
        wire_add(w, wire_point("load -"), wire_point("load +"), "diode, its cathode at +");
}

static void name_lamp_series(wirer *w, const tl_plan_output *o, int number)
{
    char series[24];
    snprintf(series, sizeof series, o->pin_count > 1 ? "series-%d" : "series", number + 1);
    wire_name_part(w, o->name, series, NULL, false);
}

static void add_lamp(wirer *w, const tl_plan_output *o, wire_end pin, int pin_number)
{
    const bool lights_high = o->to == TL_TO_GROUND || tl_plan_rail_is_low(w->plan, o->to);
    name_lamp_series(w, o, pin_number);
    wire_add_resistor(w, pin, wire_point(lights_high ? "lamp anode" : "lamp cathode"), "resistor",
                      &o->series);
    wire_add_to_rail(w, wire_point(lights_high ? "lamp cathode" : "lamp anode"), o->to, "wire");
}

static void add_output(wirer *w, int index)
{
    const tl_plan_output *o = &w->plan->outputs[index];
    char name[WIRE_END];
    if (o->pin_count == 0) {
        wire_begin(w, WIRED_OUTPUT, index, o->name);
        wire_add_resistor_to_rail(w, wire_point("lamp anode"), o->from, "resistor", &o->series);
        wire_add_to_rail(w, wire_point("lamp cathode"), o->to, "wire");
    }
    for (int i = 0; i < o->pin_count; i++) {
        wire_end pin = wire_pin_end(w->plan, o->pins[i]);
        snprintf(name, sizeof name, o->pin_count > 1 ? "%.50s %d" : "%.50s", o->name, i + 1);
        wire_begin(w, WIRED_OUTPUT, index, name);
        if (o->wired) {
            wire_add(w, pin, wire_nowhere(), "the board's own lamp");
        } else if (o->driver.way != TL_DRIVER_NONE) {
            add_driver(w, o, pin);
        } else if (o->lamp.given) {
            add_lamp(w, o, pin, i);
        } else if (o->has_into) {
            const tl_signal *line = &w->plan->signals[o->first_line + i];
            w->owner = line->name;
            for (int s = 0; s < line->stage_count; s++)
                wire_add_stage(w, &pin, line->stages, line->stage_count, s, false);
            wire_add(w, pin, wire_point("the other board"), "wire");
        }
    }
}

wiring wiring_of(const tl_plan *plan)
{
    wirer w = {.plan = plan, .group = "", .leg = ""};
    add_shared(&w);
    for (int i = 0; i < plan->signal_count; i++)
        add_signal(&w, i);
    for (int i = 0; i < plan->output_count; i++)
        add_output(&w, i);
    for (int i = 0; i < plan->bus_count; i++)
        wire_add_bus(&w, i);
    for (int i = 0; i < plan->mux_count; i++)
        wire_add_mux(&w, i);
    for (int i = 1; i < plan->converter_count; i++)
        wire_add_converter(&w, i);
    for (int i = 0; i < plan->module_count; i++)
        wire_add_module(&w, i);
    return w.list;
}
