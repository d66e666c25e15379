/* SPDX-License-Identifier: MIT */
/* What buses, multiplexers, converters and modules need, pin by pin. */
#include "sheet/wiring_rows.h"
#include <string.h>

/* --- buses, multiplexers, converters --- */

/* What a device calls the line that the board calls so. */
static const char *far_name(const tl_bus *bus, int line)
{
    return !bus->spi ? bus->line_name[line] : line == 0 ? "clock" : line == 1 ? "data out" : "data in";
}

void wire_add_bus(wirer *w, int index)
{
    const tl_bus *bus = &w->plan->buses[index];
    for (int line = 0; line < bus->line_count; line++) {
        char name[WIRE_END];
        if (bus->pins[line] == TL_NONE)
            continue;
        snprintf(name, sizeof name, "%.40s %s", bus->name, bus->line_name[line]);
        wire_begin(w, WIRED_BUS, index, name);
        if (bus->stage_count > 0) /* a bus of wires alone has no lines */
            w->owner = w->plan->signals[bus->first_line + line].name;
        wire_end at = wire_pin_end(w->plan, bus->pins[line]);
        for (int s = bus->stage_count; s-- > 0;) /* the plan lists them from the device on */
            wire_add_stage(w, &at, bus->stages, bus->stage_count, s, true);
        for (int i = 1; i < w->plan->converter_count; i++) {
            wire_end to = {.kind = END_CHIP, .index = i};
            if (w->plan->converters[i].bus != index)
                continue;
            snprintf(to.name, sizeof to.name, "%.40s %s", w->plan->converters[i].name, far_name(bus, line));
            wire_add(w, at, to, "wire");
        }
    }
}

static void add_held(wirer *w, const char *from, const tl_line_holder *holder)
{
    if (holder->given && holder->pin != TL_NONE)
        wire_add(w, wire_point(from), wire_pin_end(w->plan, holder->pin), "wire");
    else if (holder->given)
        wire_add_to_rail(w, wire_point(from), holder->rail, "wire, permanently");
}

static bool is_used(const tl_plan *plan, int pin)
{
    for (int i = 0; i < plan->signal_count; i++) {
        if (wire_positive_of(plan, plan->signals[i].pin) == pin ||
            plan->pins[plan->signals[i].pin].second == pin)
            return true;
    }
    for (int i = 0; i < plan->mux_count; i++) {
        if (plan->muxes[i].common == pin)
            return true;
    }
    return false;
}

void wire_add_mux(wirer *w, int index)
{
    const tl_mux *mux = &w->plan->muxes[index];
    char end[WIRE_END], input[WIRE_END];
    wire_begin(w, WIRED_MUX, index, mux->name);
    wire_add_to_rail(w, wire_point("supply"), mux->supply, "wire");
    wire_add_to_rail(w, wire_point("ground"), TL_TO_GROUND, "wire");
    for (int i = 0; i < mux->select_count; i++) {
        snprintf(end, sizeof end, "select %d", i);
        add_held(w, end, &mux->select[i]);
    }
    add_held(w, "enable", &mux->enable);
    wire_add(w, wire_point("common"), wire_pin_end(w->plan, mux->common), "wire");
    for (int i = 0; i < mux->part->inputs; i++) {
        if (is_used(w->plan, mux->first_pin + i))
            continue;
        snprintf(input, sizeof input, "input %d", i);
        if (mux->tied[i] == TL_OPEN)
            wire_add(w, wire_point(input), wire_nowhere(), "stays open");
        else
            wire_add_to_rail(w, wire_point(input), mux->tied[i], "wire, unused");
    }
}

void wire_add_converter(wirer *w, int index)
{
    const tl_plan_converter *c = &w->plan->converters[index];
    char note[WIRE_PART];
    wire_begin(w, WIRED_CONVERTER, index, c->name);
    wire_add_to_rail(w, wire_point("supply"), c->supply, "wire");
    wire_add_to_rail(w, wire_point("ground"), TL_TO_GROUND, "wire");
    if (c->select_pin != TL_NONE)
        wire_add(w, wire_point("select"), wire_pin_end(w->plan, c->select_pin), "wire");
    if (c->address >= 0) {
        snprintf(note, sizeof note, "so that it is 0x%02lx", (unsigned long)c->address);
        wire_add(w, wire_point("address pins"), wire_nowhere(), note);
    }
    for (int i = 0; i < w->plan->pin_count; i++) {
        const tl_pin *p = &w->plan->pins[i];
        if (i < w->plan->board->pin_count || p->converter != index || p->mux != TL_NONE ||
            p->second != TL_NONE || is_used(w->plan, i))
            continue;
        wire_add(w, wire_pin_end(w->plan, i), wire_nowhere(), "stays open");
    }
}

void wire_add_module(wirer *w, int index)
{
    const tl_module *module = &w->plan->modules[index];
    wire_begin(w, WIRED_MODULE, index, module->name);
    for (int i = 0; i < module->pin_count; i++) {
        const tl_module_pin *p = &module->pins[i];
        const wire_end from = wire_point(p->name);
        if (p->rail == TL_OPEN && p->pin == TL_NONE)
            wire_add(w, from, wire_nowhere(), "stays open");
        else
            wire_add_resistor(w, from,
                              p->pin != TL_NONE ? wire_pin_end(w->plan, p->pin)
                                                : wiring_rail_end(w->plan, p->rail),
                              "resistor", &p->series);
    }
}
