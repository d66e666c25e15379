/* SPDX-License-Identifier: MIT */
/* Reading rails: supplies, output pins used as such, and nodes that several chains share. */
#include "base/memory.h"
#include "reader/reader.h"
#include <math.h>
#include <stdio.h>
#include <string.h>

/* Ripple, peak to peak, widens the span of the supply. */
static bool add_ripple(reader *r, const yaml_tree *node, tl_supply *supply)
{
    if (supply->ripple < 0) {
        report_error(r, "bad-quantity", yaml_get(node, "ripple")->place,
                     "ripple is given peak to peak, so it cannot be negative");
        return false;
    }
    supply->volts.low -= supply->ripple / 2;
    supply->volts.high += supply->ripple / 2;
    return true;
}

static bool read_supply(reader *r, const yaml_tree *node, tl_supply *supply)
{
    const bool in_full = node->kind == YAML_MAP && yaml_get(node, "range") == NULL;
    tl_located volts = {0};
    supply->most_amperes = INFINITY;
    if (in_full && !check_map(r, node, &keys_supply))
        return false;
    bool good = read_quantity(r, in_full ? yaml_get(node, "voltage") : node, TL_DIM_VOLT, &volts);
    supply->volts = volts.value;
    if (good && volts.value.low < 0) {
        report_error(r, "bad-quantity", volts.place,
                     "a supply lies above ground; below it is no part of the language");
        return false;
    }
    if (!in_full)
        return good;
    good = take_present(r, node, &keys_supply, supply) && good;
    if (good && supply->most_amperes <= 0) {
        report_error(r, "bad-quantity", yaml_get(node, "current")->place,
                     "a supply must be able to give something");
        good = false;
    }
    return add_ripple(r, node, supply) && good;
}

/* `{pin: L40, level: high}`: the pin's own supply behind what its output transistor has left at its current.
 */
static bool read_pin_rail(reader *r, const yaml_tree *node, const tl_board *board, const tl_supply *supplies,
                          tl_supply *supply)
{
    if (!take_keys(r, node, &keys_pin_rail, supply) ||
        !read_pin_name(r, yaml_get(node, "pin"), NULL, board, &supply->pin))
        return false;
    const tl_pin_limits *limits = &board->pins[supply->pin].limits;
    const tl_quantity rail = supplies[limits->supply].volts;
    supply->kind = TL_RAIL_PIN;
    supply->most_amperes = limits->most_amperes;
    if (!board->pins[supply->pin].digital) {
        report_error(r, "unknown-pin", yaml_get(node, "pin")->place, "%s cannot be an output",
                     board->pins[supply->pin].name);
        return false;
    }
    if (isnan(limits->drives)) {
        report_error(r, "missing-key", node->place,
                     "the board does not say what %s drives: 'drives' with 'vol' and 'voh' belong there",
                     board->pins[supply->pin].name);
        return false;
    }
    const double lost = supply->high ? fmax(rail.low - tl_level_volts(limits->voh, rail.low),
                                            rail.high - tl_level_volts(limits->voh, rail.high))
                                     : tl_level_volts(limits->vol, rail.high);
    supply->volts = supply->high ? rail : (tl_quantity){0};
    supply->ohms =
        (tl_located){.value = {0, lost / limits->drives / 2, lost / limits->drives, true}, .given = true};
    return true;
}

/* The place of a new rail: behind all others, or that of the board's supply which it replaces. NULL where the
 * name is taken. */
static tl_supply *place_for(reader *r, const yaml_tree *key, tl_supply **supplies, int *count,
                            int replaceable)
{
    int names = 0, at = 0;
    if (!read_name_range(r, key, &names))
        return NULL;
    if (names != 1 || strcmp(key->text, "ground") == 0 || strcmp(key->text, "rail") == 0) {
        report_error(r, "bad-name", key->place, "this cannot be the name of a supply");
        return NULL;
    }
    while (at < *count && strcmp((*supplies)[at].name, key->text) != 0)
        at++;
    if (at < *count && (*supplies)[at].place.file != replaceable) {
        report_error(r, "key-twice", key->place, "the supply '%.60s' stands here twice", key->text);
        return NULL;
    }
    if (at == *count) {
        *supplies = tl_grow(*supplies, (size_t)*count, sizeof **supplies);
        (*supplies)[at] = (tl_supply){.name = tl_copy_text(key->text)};
        ++*count;
    }
    tl_supply *supply = &(*supplies)[at];
    *supply = (tl_supply){.name = supply->name, .place = key->place, .from = TL_TO_GROUND};
    return supply;
}

bool read_supplies(reader *r, const yaml_tree *node, const tl_board *board, tl_supply **supplies, int *count,
                   int replaceable)
{
    if (node->kind != YAML_MAP) {
        report_error(r, "wrong-shape", node->place,
                     "supplies are written as names with voltages: 'logic: 3.3 V'");
        return false;
    }
    bool good = true;
    for (int i = 0; i < node->count; i++) {
        const yaml_tree *value = &node->items[2 * i + 1];
        const int before = *count;
        tl_supply *supply = place_for(r, &node->items[2 * i], supplies, count, replaceable);
        if (supply == NULL) {
            good = false;
            continue;
        }
        if (board != NULL && value->kind == YAML_MAP && yaml_get(value, "pin") != NULL)
            good = read_pin_rail(r, value, board, *supplies, supply) && good;
        else
            good = read_supply(r, value, supply) && good;
        if (*count == before && board != NULL && (supply->ohms.given || supply->kind == TL_RAIL_PIN)) {
            report_error(
                r, "bad-quantity", supply->place,
                "the supply of the board's pins has a range, not a resistance");
            good = false;
        }
    }
    return good;
}

static bool read_shared_node(reader *r, const yaml_tree *node, tl_supply *supplies, int count,
                             tl_supply *shared)
{
    /* It is connected to what stands before it, so that there are no rings. */
    reader before = {.report = r->report, .path = r->path, .rails = &supplies, .rail_count = &count};
    shared->kind = TL_RAIL_SHARED;
    shared->most_amperes = INFINITY;
    if (!take_keys(&before, node, &keys_shared, shared))
        return false;
    const yaml_tree *carries = yaml_get(node, "carries");
    if (carries != NULL &&
        yaml_get(carries, "typical") == NULL) /* a reading assumes none, or as little as may be */
        shared->carries.nominal = fmin(fmax(0, shared->carries.low), shared->carries.high);
    if (shared->from != TL_TO_GROUND)
        shared->volts = supplies[shared->from].volts;
    return true;
}

bool read_shared(reader *r, const yaml_tree *node, tl_supply **supplies, int *count)
{
    if (node->kind != YAML_MAP) {
        report_error(r, "wrong-shape", node->place,
                     "shared nodes are written as names: 'paddle-top: {from: sensor, series: 4k7}'");
        return false;
    }
    bool good = true;
    for (int i = 0; i < node->count; i++) {
        tl_supply *shared = place_for(r, &node->items[2 * i], supplies, count, TL_NONE - 1);
        if (shared != NULL)
            good = read_shared_node(r, &node->items[2 * i + 1], *supplies, *count - 1, shared) && good;
        else
            good = false;
    }
    return good;
}
