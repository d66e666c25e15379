/* SPDX-License-Identifier: MIT */
/* Reading what several signals share: converters and their buses, and multiplexers. */
#include "base/memory.h"
#include "reader/read_board.h"
#include "reader/read_plan.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

/* --- converters --- */

static const char *bus_name(const void *list, int i)
{
    return ((const tl_plan *)list)->buses[i].name;
}

static bool read_bus_name(reader *r, const yaml_tree *node, const tl_plan *plan, int *bus)
{
    const char *name = NULL;
    if (!read_text(r, node, "the name of a bus", &name))
        return false;
    for (int i = 0; i < plan->bus_count; i++) {
        if (strcmp(plan->buses[i].name, name) == 0) {
            *bus = i;
            return true;
        }
    }
    const char *meant = nearest_name(name, bus_name, plan, plan->bus_count);
    report_error(r, "unknown-word", node->place, "there is no bus '%.40s'%s%s%s", name,
                 meant != NULL ? ": did you mean '" : "", meant != NULL ? meant : "",
                 meant != NULL ? "'?" : "");
    return false;
}

static bool read_seat(reader *r, const yaml_tree *node, const tl_plan *plan, tl_plan_converter *converter)
{
    const yaml_tree *address = yaml_get(node, "address"), *select = yaml_get(node, "select");
    if (!read_bus_name(r, yaml_get(node, "bus"), plan, &converter->bus))
        return false;
    const bool spi = plan->buses[converter->bus].spi;
    if (spi != (converter->part->bus == TL_BUS_SPI)) {
        report_error(r, "unknown-word", yaml_get(node, "bus")->place, "%s is no %s bus",
                     plan->buses[converter->bus].name, spi ? "I2C" : "SPI");
        return false;
    }
    if ((spi ? select : address) == NULL || (spi ? address : select) != NULL) {
        report_error(r, "missing-key", node->place,
                     spi ? "on SPI an ADC has a 'select' pin, and no address"
                         : "on I2C an ADC has an 'address', and no select pin");
        return false;
    }
    return (spi ? read_pin_name(r, select, NULL, plan->board, &converter->select_pin)
                : read_address(r, address, &converter->address));
}

/* Its inputs and pairs as pins that chains can end at. */
static void add_converter_pins(tl_plan *plan, int index)
{
    const tl_plan_converter *converter = &plan->converters[index];
    const tl_converter *part = converter->part;
    tl_pin like = {.place = converter->place,
                   .duty = TL_NONE,
                   .limits = part->limits,
                   .converter = index,
                   .second = TL_NONE,
                   .mux = TL_NONE,
                   .input = TL_NONE};
    const int first = plan->pin_count;
    like.limits.supply = converter->supply;
    for (int i = 0; i < part->input_count; i++) {
        like.channel = i;
        (void)add_pin(plan, converter->name, part->inputs[i], &like);
    }
    for (int i = 0; i < part->pair_count; i++) {
        like.channel = part->pair_of[i][0];
        like.second = first + part->pair_of[i][1];
        (void)add_pin(plan, converter->name, part->pairs[i], &like);
    }
}

static bool read_added_converter(reader *r, const yaml_tree *key, const yaml_tree *node, tl_plan *plan)
{
    const char *part = NULL;
    int names = 0;
    if (!read_name_range(r, key, &names) || !check_map(r, node, &keys_added_converter) ||
        !read_text(r, yaml_get(node, "part"), "the part's file name", &part))
        return false;
    char *path = beside(r->path, part);
    tl_converter *own = converter_load_from(path, yaml_get(node, "part")->place, r->report);
    free(path);
    if (own == NULL)
        return false;
    plan->converters = tl_grow(plan->converters, (size_t)plan->converter_count, sizeof *plan->converters);
    tl_plan_converter *converter = &plan->converters[plan->converter_count];
    *converter = (tl_plan_converter){.name = tl_copy_text(key->text),
                                     .place = key->place,
                                     .part = own,
                                     .own = own,
                                     .supply = TL_NONE,
                                     .bus = TL_NONE,
                                     .address = -1,
                                     .select_pin = TL_NONE};
    plan->converter_count++;
    bool good = take_present(r, node, &keys_added_converter, converter);
    good = read_seat(r, node, plan, converter) && good;
    good = read_span_choice(r, node, converter, &converter->reference, &converter->range) && good;
    good = read_word_choice(r, node, converter, own) && good;
    if (good)
        add_converter_pins(plan, plan->converter_count - 1);
    return good;
}

static bool read_own_converter(reader *r, const yaml_tree *node, tl_plan *plan)
{
    tl_plan_converter *own = &plan->converters[0];
    return check_map(r, node, &keys_own_converter) &&
           read_span_choice(r, node, own, &own->reference, &own->range) &&
           read_word_choice(r, node, own, &plan->board->converter);
}

bool read_converters(reader *r, const yaml_tree *node, tl_plan *plan)
{
    if (node->kind != YAML_MAP) {
        report_error(r, "wrong-shape", node->place, "converters are written as names with their settings");
        return false;
    }
    bool good = true;
    for (int i = 0; i < node->count; i++) {
        const yaml_tree *key = &node->items[2 * i], *value = &node->items[2 * i + 1];
        const bool own = key->kind == YAML_TEXT && strcmp(key->text, plan->board->converter.name) == 0;
        if (!own && key->kind == YAML_TEXT && yaml_get(value, "part") == NULL) {
            if (plan->board->has_converter)
                report_error(r, "unknown-key", key->place,
                             "the board's ADC is called '%s'; any other needs a 'part'",
                             plan->board->converter.name);
            else
                report_error(r, "unknown-key", key->place, "the board has no ADC: each here needs a 'part'");
            good = false;
            continue;
        }
        good = (own ? read_own_converter(r, value, plan) : read_added_converter(r, key, value, plan)) && good;
    }
    return good;
}

/* --- multiplexers --- */

/* A pin of the board, or a rail that holds the line permanently. */
static bool read_holder(reader *r, const yaml_tree *node, const tl_plan *plan, tl_line_holder *holder)
{
    const char *text = NULL;
    if (!read_text(r, node, "a pin or a rail", &text))
        return false;
    *holder = (tl_line_holder){TL_NONE, TL_TO_GROUND, true, node->place};
    if (strcmp(text, "ground") == 0)
        return true;
    for (int i = 0; i < plan->supply_count; i++) {
        if (strcmp(plan->supplies[i].name, text) == 0) {
            holder->rail = i;
            return true;
        }
    }
    return read_pin_name(r, node, NULL, plan->board, &holder->pin);
}

static bool read_selects(reader *r, const yaml_tree *node, const tl_plan *plan, tl_mux *mux)
{
    bool good = check_list(r, node, "the select lines, lowest bit first,");
    mux->select_place = node->place;
    if (good && node->count > TL_SELECTS_MOST) {
        report_error(r, "bad-number", node->place, "more than %d select lines", TL_SELECTS_MOST);
        return false;
    }
    for (int i = 0; good && i < node->count; i++)
        good = read_holder(r, &node->items[i], plan, &mux->select[mux->select_count++]);
    return good;
}

/* `5` or `5 .. 7` */
static bool read_inputs(reader *r, const yaml_tree *node, int inputs, int *from, int *to)
{
    char *end = NULL;
    const char *text = NULL;
    if (!read_text(r, node, "an input, or inputs LOW .. HIGH", &text))
        return false;
    *from = (int)strtol(text, &end, 10);
    *to = *from;
    const char *rest = end + strspn(end, " ");
    if (end != text && strncmp(rest, "..", 2) == 0)
        *to = (int)strtol(rest + 2, &end, 10);
    if (end != text && *end == '\0' && *from >= 0 && *from <= *to && *to < inputs)
        return true;
    report_error(r, "bad-number", node->place, "inputs are 0 to %d, the lower one first", inputs - 1);
    return false;
}

static bool read_tied(reader *r, const yaml_tree *node, tl_mux *mux)
{
    mux->tied_place = node->place;
    if (node->kind != YAML_MAP) {
        report_error(r, "wrong-shape", node->place,
                     "tied inputs are written with their rail: {5 .. 7: ground}");
        return false;
    }
    for (int i = 0; i < node->count; i++) {
        int from = 0, to = 0, rail = 0;
        if (!read_inputs(r, &node->items[2 * i], mux->part->inputs, &from, &to) ||
            !read_rail(r, &node->items[2 * i + 1], true, &rail))
            return false;
        for (int input = from; input <= to; input++)
            mux->tied[input] = rail;
    }
    return true;
}

static bool read_mux(reader *r, const yaml_tree *key, const yaml_tree *node, tl_plan *plan)
{
    const char *part = NULL;
    const yaml_tree *at;
    int names = 0;
    if (!read_name_range(r, key, &names) || !check_map(r, node, &keys_mux) ||
        !read_text(r, yaml_get(node, "part"), "the part's file name", &part))
        return false;
    char *path = beside(r->path, part);
    tl_mux_part *described = mux_part_load_from(path, yaml_get(node, "part")->place, r->report);
    free(path);
    if (described == NULL)
        return false;
    plan->muxes = tl_grow(plan->muxes, (size_t)plan->mux_count, sizeof *plan->muxes);
    const int index = plan->mux_count++;
    tl_mux *mux = &plan->muxes[index];
    *mux = (tl_mux){.name = tl_copy_text(key->text),
                    .place = key->place,
                    .part = described,
                    .dwell = NAN,
                    .common = TL_NONE,
                    .first_pin = plan->pin_count};
    for (int i = 0; i < described->inputs; i++)
        mux->tied[i] = TL_OPEN;
    bool good = take_present(r, node, &keys_mux, mux);
    good = read_selects(r, yaml_get(node, "select"), plan, mux) && good;
    if ((at = yaml_get(node, "enable")) != NULL)
        good = read_holder(r, at, plan, &mux->enable) && good;
    if ((at = yaml_get(node, "tied")) != NULL)
        good = read_tied(r, at, mux) && good;
    for (int i = 0; i < described->inputs; i++) {
        char number[12];
        const tl_pin like = {.place = key->place,
                             .duty = TL_NONE,
                             .channel = -1,
                             .converter = TL_NONE,
                             .second = TL_NONE,
                             .mux = index,
                             .input = i,
                             .limits = unknown_limits()};
        snprintf(number, sizeof number, "%d", i);
        (void)add_pin(plan, key->text, number, &like);
    }
    return good;
}

bool read_muxes(reader *r, const yaml_tree *node, tl_plan *plan)
{
    bool good = node->kind == YAML_MAP;
    if (!good)
        report_error(r, "wrong-shape", node->place, "multiplexers are written as names with what they are");
    for (int i = 0; good && i < node->count; i++)
        good = read_mux(r, &node->items[2 * i], &node->items[2 * i + 1], plan) && good;
    return good;
}

/* Where a multiplexer's common line ends in the end: a pin or a converter's input. TL_NONE in a ring. */
static int final_pin(const tl_plan *plan, int pin)
{
    for (int steps = 0; steps <= plan->mux_count; steps++) {
        if (pin == TL_NONE || plan->pins[pin].mux == TL_NONE)
            return pin;
        pin = plan->muxes[plan->pins[pin].mux].common;
    }
    return TL_NONE;
}

/* How many multiplexers are on the way from a common line, its own one counted. */
static int levels_of(const tl_plan *plan, int pin)
{
    int levels = 1;
    for (; plan->pins[pin].mux != TL_NONE; levels++)
        pin = plan->muxes[plan->pins[pin].mux].common;
    return levels;
}

/* A multiplexer's inputs are as good as the pin behind it. */
static void inherit_pin(tl_plan *plan, int pin, const tl_pin *last)
{
    tl_pin *input = &plan->pins[pin];
    input->limits = last->limits;
    input->channel = last->channel;
    input->converter = last->converter;
    input->digital = last->digital;
    input->second = last->second;
}

bool connect_muxes(reader *r, const yaml_tree *node, tl_plan *plan)
{
    bool good = true;
    for (int i = 0; i < node->count; i++) {
        const yaml_tree *common = yaml_get(&node->items[2 * i + 1], "common");
        for (int m = 0; m < plan->mux_count; m++) {
            if (strcmp(plan->muxes[m].name, node->items[2 * i].text) != 0)
                continue;
            plan->muxes[m].common_place = common->place;
            good = read_end(r, common, NULL, plan, &plan->muxes[m].common) && good;
        }
    }
    return good;
}

bool join_muxes(reader *r, const yaml_tree *node, tl_plan *plan)
{
    (void)node;
    for (int m = 0; m < plan->mux_count; m++) {
        const int last = final_pin(plan, plan->muxes[m].common);
        if (last == TL_NONE) {
            report_error(r, "wrong-shape", plan->muxes[m].common_place, "these multiplexers form a ring");
            return false;
        }
        if (levels_of(plan, plan->muxes[m].common) > TL_ROUTE_MOST) {
            report_error(r, "bad-number", plan->muxes[m].common_place,
                         "more than %d multiplexers one behind the other", TL_ROUTE_MOST);
            return false;
        }
        for (int i = 0; i < plan->muxes[m].part->inputs; i++)
            inherit_pin(plan, plan->muxes[m].first_pin + i, &plan->pins[last]);
    }
    return true;
}

/* --- buses --- */

static bool read_bus_pins(reader *r, const yaml_tree *node, const tl_plan *plan, tl_bus *bus)
{
    static const char *const i2c[] = {"scl", "sda", NULL}, *const spi[] = {"clock", "in", "out"};
    bool good = check_map(r, node, bus->spi ? &keys_spi_pins : &keys_i2c_pins);
    bus->line_count = bus->spi ? 3 : 2;
    for (int i = 0; i < bus->line_count; i++) {
        bus->line_name[i] = (bus->spi ? spi : i2c)[i];
        bus->pins[i] = TL_NONE;
        const yaml_tree *at = yaml_get(node, bus->line_name[i]);
        if (at != NULL)
            good = read_pin_name(r, at, NULL, plan->board, &bus->pins[i]) && good;
    }
    return good;
}

static bool read_bus(reader *r, const yaml_tree *key, const yaml_tree *node, tl_plan *plan)
{
    const yaml_tree *at;
    int names = 0, mode = 0;
    if (!read_name_range(r, key, &names) || !check_map(r, node, &keys_bus))
        return false;
    plan->buses = tl_grow(plan->buses, (size_t)plan->bus_count, sizeof *plan->buses);
    tl_bus *bus = &plan->buses[plan->bus_count++];
    *bus = (tl_bus){.name = tl_copy_text(key->text), .place = key->place, .low = NAN, .drives = NAN};
    bool good = (at = yaml_get(node, "mode")) == NULL || take_word(r, at, key_of(&keys_bus, "mode"), &mode);
    bus->spi = mode == 3;
    bus->mode = bus->spi ? TL_BUS_STANDARD : (tl_bus_mode)mode;
    good = read_bus_pins(r, yaml_get(node, "pins"), plan, bus) && good;
    good = take_present(r, node, &keys_bus, bus) && good;
    if ((at = yaml_get(node, "stages")) != NULL)
        good = read_stages(r, at, &bus->stages, &bus->stage_count) && good;
    return good;
}

bool read_buses(reader *r, const yaml_tree *node, tl_plan *plan)
{
    bool good = node->kind == YAML_MAP;
    if (!good)
        report_error(r, "wrong-shape", node->place, "buses are written as names with their pins");
    for (int i = 0; good && i < node->count; i++)
        good = read_bus(r, &node->items[2 * i], &node->items[2 * i + 1], plan) && good;
    return good;
}
