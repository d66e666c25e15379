/* SPDX-License-Identifier: MIT */
/* Reading modules: what is wired and is no signal. */
#include "base/memory.h"
#include "reader/read_plan.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

static bool is_rail(const reader *r, const char *name)
{
    for (int i = 0; i < *r->rail_count; i++) {
        if (strcmp((*r->rails)[i].name, name) == 0)
            return true;
    }
    return strcmp(name, "ground") == 0;
}

/* Where the i-th of this many pins of one entry goes: a rail for all of them, or pins that count along. */
static bool read_goal(reader *r, const yaml_tree *node, int names, int i, const tl_plan *plan,
                      tl_module_pin *pin)
{
    int ends = 0;
    if (!read_end_range(r, node, &ends))
        return false;
    pin->rail = pin->pin = TL_NONE;
    if (ends == 1 && strcmp(node->text, "open") == 0) {
        pin->rail = TL_OPEN;
        return true;
    }
    if (ends == 1 && is_rail(r, node->text))
        return read_rail(r, node, true, &pin->rail);
    if (ends != names) {
        report_error(r, "bad-name", node->place, "%d pin%s for %d of the module", ends, ends == 1 ? "" : "s",
                     names);
        return false;
    }
    char *name = name_of_range(node->text, i);
    const bool good = read_pin_name(r, node, name, plan->board, &pin->pin);
    free(name);
    return good;
}

static bool read_pins(reader *r, const yaml_tree *key, const yaml_tree *node, const tl_plan *plan,
                      tl_module *module)
{
    int names = 0;
    const bool full = node->kind == YAML_MAP;
    if (!read_name_range(r, key, &names) || (full && !check_map(r, node, &keys_module_pin)))
        return false;
    bool good = true;
    for (int i = 0; i < names && good; i++) {
        tl_module_pin pin = {.name = NULL};
        good = read_goal(r, full ? yaml_get(node, "to") : node, names, i, plan, &pin) &&
               (!full || take_present(r, node, &keys_module_pin, &pin));
        pin.name = name_of_range(key->text, i);
        module->pins = tl_grow(module->pins, (size_t)module->pin_count, sizeof pin);
        module->pins[module->pin_count++] = pin;
    }
    return good;
}

/* What it takes passes the resistance of its supply, and of the wire back. */
static void add_carried(tl_supply *rail, const tl_quantity *amperes, double sign)
{
    const double least = fmax(0, amperes->low);
    rail->carries.low += sign > 0 ? least : -amperes->high;
    rail->carries.high += sign > 0 ? amperes->high : -least;
    rail->carries.nominal += sign * least; /* a reading assumes as little as may be */
}

static bool read_current(reader *r, const yaml_tree *node, tl_plan *plan, const tl_module *module)
{
    const yaml_tree *current = yaml_get(node, "current"), *back = yaml_get(node, "return");
    if (current == NULL)
        return true;
    if (module->supply == TL_NONE || module->amperes.low < 0) {
        report_error(r, module->supply == TL_NONE ? "missing-key" : "bad-quantity", current->place,
                     "a module's current is 0 A or more, and comes from its 'supply'");
        return false;
    }
    if (back != NULL && !tl_plan_rail_is_low(plan, module->back)) {
        report_error(r, "unknown-rail", back->place,
                     "a current goes back to ground, or to a wire that leads there");
        return false;
    }
    add_carried(&plan->supplies[module->supply], &module->amperes, -1);
    if (module->back != TL_TO_GROUND)
        add_carried(&plan->supplies[module->back], &module->amperes, 1);
    return true;
}

static bool read_module(reader *r, const yaml_tree *key, const yaml_tree *node, tl_plan *plan)
{
    int names = 0;
    if (!read_name_range(r, key, &names) || !check_map(r, node, &keys_module))
        return false;
    tl_module module = {
        .name = tl_copy_text(key->text), .place = key->place, .supply = TL_NONE, .back = TL_TO_GROUND};
    bool good = take_present(r, node, &keys_module, &module);
    const yaml_tree *pins = yaml_get(node, "pins");
    if (pins->kind != YAML_MAP) {
        report_error(r, "wrong-shape", pins->place,
                     "pins are written as names with where they go: {VDD: logic}");
        good = false;
    }
    for (int i = 0; pins->kind == YAML_MAP && i < pins->count; i++)
        good = read_pins(r, &pins->items[2 * i], &pins->items[2 * i + 1], plan, &module) && good;
    good = good && read_current(r, node, plan, &module);
    plan->modules = tl_grow(plan->modules, (size_t)plan->module_count, sizeof module);
    plan->modules[plan->module_count++] = module;
    return good;
}

bool read_modules(reader *r, const yaml_tree *node, tl_plan *plan)
{
    return read_named(r, node, "modules", read_module, plan);
}
