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
        char at[WIRE_END], name[WIRE_END];
        if (bus->pins[line] == TL_NONE)
            continue;
        snprintf(name, sizeof name, "%.40s %s", bus->name, bus->line_name[line]);
        wire_begin(w, WIRED_BUS, index, name);
        if (bus->stage_count > 0) /* a bus of wires alone has no lines */
            w->owner = w->plan->signals[bus->first_line + line].name;
        wire_pin_end(w->plan, bus->pins[line], at);
        for (int s = bus->stage_count; s-- > 0;) /* the plan lists them from the device on */
            wire_add_stage(w, at, bus->stages, bus->stage_count, s, true);
        for (int i = 1; i < w->plan->converter_count; i++) {
            char to[WIRE_END];
            if (w->plan->converters[i].bus != index)
                continue;
            snprintf(to, sizeof to, "%.40s %s", w->plan->converters[i].name, far_name(bus, line));
            wire_add(w, at, to, "wire");
        }
    }
}

static void add_held(wirer *w, const char *from, const tl_line_holder *holder)
{
    char to[WIRE_END];
    if (!holder->given)
        return;
    if (holder->pin != TL_NONE)
        wire_pin_end(w->plan, holder->pin, to);
    else
        wiring_rail_end(w->plan, holder->rail, to);
    wire_add(w, from, to, holder->pin != TL_NONE ? "wire" : "wire, permanently");
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
    wire_add_to_rail(w, "supply", mux->supply, "wire");
    wire_add_to_rail(w, "ground", TL_TO_GROUND, "wire");
    for (int i = 0; i < mux->select_count; i++) {
        snprintf(end, sizeof end, "select %d", i);
        add_held(w, end, &mux->select[i]);
    }
    add_held(w, "enable", &mux->enable);
    wire_pin_end(w->plan, mux->common, end);
    wire_add(w, "common", end, "wire");
    for (int i = 0; i < mux->part->inputs; i++) {
        if (is_used(w->plan, mux->first_pin + i))
            continue;
        snprintf(input, sizeof input, "input %d", i);
        if (mux->tied[i] == TL_OPEN)
            wire_add(w, input, "-", "stays open");
        else
            wire_add_to_rail(w, input, mux->tied[i], "wire, unused");
    }
}

void wire_add_converter(wirer *w, int index)
{
    const tl_plan_converter *c = &w->plan->converters[index];
    char note[WIRE_PART];
    wire_begin(w, WIRED_CONVERTER, index, c->name);
    wire_add_to_rail(w, "supply", c->supply, "wire");
    wire_add_to_rail(w, "ground", TL_TO_GROUND, "wire");
    if (c->select_pin != TL_NONE) {
        char pin[WIRE_END];
        wire_pin_end(w->plan, c->select_pin, pin);
        wire_add(w, "select", pin, "wire");
    }
    if (c->address >= 0) {
        snprintf(note, sizeof note, "so that it is 0x%02lx", (unsigned long)c->address);
        wire_add(w, "address pins", "-", note);
    }
    for (int i = 0; i < w->plan->pin_count; i++) {
        const tl_pin *p = &w->plan->pins[i];
        if (i < w->plan->board->pin_count || p->converter != index || p->mux != TL_NONE ||
            p->second != TL_NONE || is_used(w->plan, i))
            continue;
        char name[WIRE_END];
        wire_pin_end(w->plan, i, name);
        wire_add(w, name, "-", "stays open");
    }
}

void wire_add_module(wirer *w, int index)
{
    const tl_module *module = &w->plan->modules[index];
    wire_begin(w, WIRED_MODULE, index, module->name);
    for (int i = 0; i < module->pin_count; i++) {
        const tl_module_pin *p = &module->pins[i];
        char to[WIRE_END] = "-";
        if (p->pin != TL_NONE)
            wire_pin_end(w->plan, p->pin, to);
        else if (p->rail != TL_OPEN)
            wiring_rail_end(w->plan, p->rail, to);
        if (p->rail == TL_OPEN)
            wire_add(w, p->name, to, "stays open");
        else
            wire_add_resistor(w, p->name, to, "resistor", &p->series);
    }
}
