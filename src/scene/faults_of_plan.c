/* SPDX-License-Identifier: MIT */
/*
 * Every single fault that a plan's hardware can have, each as a line of a scene: parts that come off, touch,
 * have ten times the value, a tenth, or their neighbour's; legs that changed places; wires that come off or
 * come loose; contacts and lines that stick; supplies that are missing; converters that are set otherwise.
 */
#include "base/memory.h"
#include "model/parts.h"
#include "tinyladder/design/preferred.h"
#include "tinyladder/design/scene.h"
#include <math.h>
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

static void add(tl_fault_list *list, const char *format, ...) __attribute__((format(printf, 2, 3)));
static void add(tl_fault_list *list, const char *format, ...)
{
    char line[300];
    va_list arguments;
    va_start(arguments, format);
    vsnprintf(line, sizeof line, format, arguments);
    va_end(arguments);
    list->line = tl_grow(list->line, (size_t)list->count, sizeof *list->line);
    list->line[list->count++] = tl_copy_text(line);
}

static void add_wrong(tl_fault_list *list, const char *path, double ohms)
{
    char value[32];
    add(list, "{wrong: %s, value: %s}", path, tl_letter_code_write(ohms, value));
}

/* A resistor: off, bridged, off by a decade, or by one place in the box. */
static void add_resistor_faults(tl_fault_list *list, const char *path, double ohms)
{
    double next[4];
    add(list, "{open: %s}", path);
    add(list, "{short: %s}", path);
    add_wrong(list, path, 10 * ohms);
    add_wrong(list, path, ohms / 10);
    if (tl_series_over(TL_E12, 1.05 * ohms, 2 * ohms, next, 4) > 0)
        add_wrong(list, path, next[0]);
    const size_t below = tl_series_over(TL_E12, ohms / 1.6, 0.95 * ohms, next, 4);
    if (below > 0)
        add_wrong(list, path, next[below - 1]);
}

/* On ground instead of its supply, or on the first supply that is not its own instead of either. */
static void add_moved(tl_fault_list *list, const tl_plan *plan, const char *path, int rail)
{
    if (rail != TL_TO_GROUND)
        add(list, "{moved: %s, to: ground}", path);
    for (int i = 0; i < plan->supply_count; i++) {
        if (i == rail || plan->supplies[i].kind == TL_RAIL_SHARED)
            continue;
        add(list, "{moved: %s, to: %s}", path, plan->supplies[i].name);
        return;
    }
}

static void add_part_faults(tl_fault_list *list, const tl_plan *plan, const tl_plan_part *part)
{
    const bool ohms = tl_role_of(part->role)->dimension == TL_DIM_OHM;
    if (ohms) {
        add_resistor_faults(list, part->path, part->value->value.nominal);
    } else {
        add(list, "{open: %s}", part->path);
        add(list, "{short: %s}", part->path);
    }
    if (part->role == TL_PART_LAMP)
        add(list, "{reversed: %s}", part->path);
    if (ohms && part->owner == TL_OWNED_BY_LINE && part->of != NULL &&
        tl_stage_shape_of(part->of->kind)->part[part->leg].to == TL_END_RAIL && part->rail >= TL_TO_GROUND)
        add_moved(list, plan, part->path, part->rail);
}

/* What a line consists of, from source to pin. */
static void add_line_parts(tl_fault_list *list, const tl_plan *plan, const tl_parts *parts, int line)
{
    const tl_plan_part *upper = NULL;
    for (int i = parts->first[line]; i < parts->first[line + 1]; i++) {
        const tl_plan_part *part = &parts->part[i];
        if (part->own || (tl_role_of(part->role)->traits & TL_FAILS) == 0)
            continue;
        add_part_faults(list, plan, part);
        if (part->role == TL_PART_LOWER && upper != NULL)
            add(list, "{swap: [%s, %s]}", upper->path, part->path);
        upper = part->role == TL_PART_UPPER ? part : NULL;
    }
}

/* Its source is a rail: what happens to that is said of the supply. */
static bool is_rail(const tl_source *source)
{
    return source->kind == TL_SOURCE_RAIL || (source->kind == TL_SOURCE_VOLTAGE && !source->ohms.given);
}

/* A point that touches ground or a supply, and one that leaks there. */
static void add_touches(tl_fault_list *list, const tl_plan *plan, const tl_signal *s, const char *point)
{
    static const char *const leaks[] = {"10k", "47k", "220k"};
    const size_t count = sizeof leaks / sizeof leaks[0];
    add(list, "{short: %s.%s, to: ground}", s->name, point);
    for (size_t k = 0; k < count; k++)
        add(list, "{leak: %s.%s, to: ground, ohms: %s}", s->name, point, leaks[k]);
    for (int i = 0; i < plan->supply_count; i++) {
        if (plan->supplies[i].kind != TL_RAIL_SUPPLY)
            continue;
        add(list, "{short: %s.%s, to: %s}", s->name, point, plan->supplies[i].name);
        for (size_t k = 0; k < count && i == 0; k++)
            add(list, "{leak: %s.%s, to: %s, ohms: %s}", s->name, point, plan->supplies[i].name, leaks[k]);
    }
}

/* What a wire has on it: resistance in its joint, damp, a hand's hum. */
static void add_wire_faults(tl_fault_list *list, const tl_plan *plan, const tl_signal *s)
{
    add(list, "{open: %s.source}", s->name);
    add(list, "{open: %s.pin}", s->name);
    add(list, "{loose: %s.source, every: 500 ms}", s->name);
    add(list, "{joint: %s.source, ohms: 2k2}", s->name);
    add(list, "{joint: %s.source, ohms: 22k}", s->name);
    add_touches(list, plan, s, "pin");
    if (!is_rail(&s->source))
        add_touches(list, plan, s, "source");
    if (s->analog)
        add(list, "{noise: %s.pin, volts: 100 V, frequency: 50 Hz}", s->name);
    if (s->analog && plan->meter_count > 0)
        add(list, "{meter: %s, on: %s.pin}", plan->meters[0].name, s->name);
}

static void add_source_faults(tl_fault_list *list, const tl_plan *plan, const tl_signal *s)
{
    const tl_source_kind kind = s->source.kind;
    char path[TL_PART_PATH];
    snprintf(path, sizeof path, "%.80s.source", s->name);
    if (kind == TL_SOURCE_CONTACT) {
        add(list, "{stuck: %s.source, at: closed}", s->name);
        add(list, "{stuck: %s.source, at: open}", s->name);
        add_moved(list, plan, path, s->source.supply);
    }
    for (int i = 0; i < s->source.button_count; i++)
        add(list, "{open: %s.%s}", path, s->source.buttons[i].name);
    if (kind == TL_SOURCE_POTENTIOMETER) {
        add(list, "{open: %s.upper}", path);
        add(list, "{open: %s.lower}", path);
    }
    if (kind == TL_SOURCE_POTENTIOMETER || kind == TL_SOURCE_CURRENT ||
        (kind == TL_SOURCE_BRIDGE && plan->pins[s->pin].second != TL_NONE))
        add(list, "{reversed: %s.source}", s->name);
}

/* Firmware that takes the counts for something else. */
static void add_misreadings(tl_fault_list *list, const tl_plan *plan, const tl_signal *s)
{
    static const char *const ways[] = {"other-sign", "inverted", "bit-less", "bit-more", "whole-division", "whole-ratio", "other-steps"},
                             *const of_bytes[] = {"swapped-bytes", "low-byte", "high-byte"};
    for (size_t i = 0; i < sizeof ways / sizeof ways[0]; i++)
        add(list, "{misread: %s, as: %s}", s->name, ways[i]);
    for (size_t i = 0; i < sizeof of_bytes / sizeof of_bytes[0]; i++) {
        if (plan->converters[plan->pins[s->pin].converter].part->word.bits > 8)
            add(list, "{misread: %s, as: %s}", s->name, of_bytes[i]);
    }
    add(list, "{misread: %s, factor: 110 %%}", s->name);
}

static void add_signal_faults(tl_fault_list *list, const tl_plan *plan, const tl_parts *parts, int line)
{
    const tl_signal *s = &plan->signals[line];
    const tl_pin *pin = &plan->pins[s->pin];
    add_wire_faults(list, plan, s);
    add_source_faults(list, plan, s);
    if (!s->analog && s->pin < plan->board->pin_count) {
        add(list, "{stuck: %s, at: low}", pin->name);
        add(list, "{stuck: %s, at: high}", pin->name);
    }
    add_line_parts(list, plan, parts, line);
    if (s->analog && pin->converter >= 0 && plan->converters[pin->converter].part != NULL)
        add_misreadings(list, plan, s);
}

/* Two plugs in each other's places: of one kind, beside each other, or near each other at a multiplexer. */
static void add_neighbour_faults(tl_fault_list *list, const tl_plan *plan)
{
    for (int i = 0; i < plan->signal_count; i++) {
        for (int k = i + 1; k < plan->signal_count; k++) {
            const tl_signal *a = &plan->signals[i], *b = &plan->signals[k];
            const int mux = plan->pins[a->pin].mux;
            const bool near = k == i + 1 || (mux != TL_NONE && plan->pins[b->pin].mux == mux && k < i + 4);
            if (near && a->analog == b->analog && a->pin != b->pin && a->source.kind != TL_SOURCE_BRIDGE &&
                b->source.kind != TL_SOURCE_BRIDGE)
                add(list, "{swap: [%s.pin, %s.pin]}", a->name, b->name);
        }
    }
}

static void add_supply_faults(tl_fault_list *list, const tl_supply *supply)
{
    if (supply->kind != TL_RAIL_SUPPLY)
        return;
    add(list, "{missing: %s}", supply->name);
    add(list, "{missing: %s, off: shorted}", supply->name);
    add(list, "{wrong: %s, value: %.9g V}", supply->name, 0.8 * supply->volts.nominal);
    add(list, "{wrong: %s, value: %.9g V}", supply->name, 1.2 * supply->volts.nominal);
}

static void add_mux_faults(tl_fault_list *list, const tl_plan *plan, const tl_mux *mux)
{
    for (int line = 0; line < mux->select_count; line++) {
        if (mux->select[line].pin == TL_NONE)
            continue;
        add(list, "{stuck: %s.select-%d, at: low}", mux->name, line);
        add(list, "{stuck: %s.select-%d, at: high}", mux->name, line);
        add(list, "{open: %s.select-%d}", mux->name, line);
    }
    if (mux->select_count > 1 && mux->select[0].pin != TL_NONE && mux->select[1].pin != TL_NONE)
        add(list, "{swap: [%s.select-0, %s.select-1]}", mux->name, mux->name);
    if (mux->enable.given && mux->enable.pin != TL_NONE)
        add(list, "{stuck: %s.enable, at: %s}", mux->name, mux->part->enable == 2 ? "low" : "high");
    for (int i = 0; i < plan->signal_count; i++) {
        if (plan->pins[plan->signals[i].pin].mux == (int)(mux - plan->muxes)) {
            add(list, "{open: %s.common}", mux->name);
            return;
        }
    }
}

static void add_bus_faults(tl_fault_list *list, const tl_bus *bus)
{
    static const char *const of_spi[] = {"clock", "in", "out"};
    for (int i = 0; i < bus->line_count && !bus->spi; i++) {
        add(list, "{open: %s.%s}", bus->name, bus->line_name[i]);
        add(list, "{short: %s.%s.pin, to: ground}", bus->name, bus->line_name[i]);
    }
    for (int i = 0; i < TL_BUS_LINES && bus->spi; i++) {
        if (bus->pins[i] != TL_NONE)
            add(list, "{open: %s.%s}", bus->name, of_spi[i]);
    }
    if (bus->spi && bus->pins[1] != TL_NONE && bus->pins[2] != TL_NONE)
        add(list, "{swap: [%s.in, %s.out]}", bus->name, bus->name);
}

/* Firmware that takes all words of a converter for something else. */
static void add_misread_words(tl_fault_list *list, const tl_plan *plan, int index)
{
    static const char *const ways[] = {"other-sign", "swapped-bytes", "low-byte", "high-byte"};
    const tl_plan_converter *converter = &plan->converters[index];
    int signals = 0;
    for (int i = 0; i < plan->signal_count; i++)
        signals += plan->signals[i].analog && plan->pins[plan->signals[i].pin].converter == index;
    for (size_t i = 0; i < sizeof ways / sizeof ways[0] && signals > 1; i++) {
        if (i == 0 || converter->part->word.bits > 8)
            add(list, "{misread: %s, as: %s}", converter->name, ways[i]);
    }
}

static void add_converter_faults(tl_fault_list *list, const tl_plan *plan, int index)
{
    const tl_plan_converter *converter = &plan->converters[index];
    const tl_converter *part = converter->part;
    for (int i = 0; i < part->reference_count; i++) {
        if (i == converter->reference)
            continue;
        add(list, "{setting: %s, reference: %s}", converter->name, part->references[i].name);
    }
    for (int i = 0; i < part->range_count; i++)
        add(list, "{setting: %s, range: %.9g V .. %.9g V}", converter->name, part->ranges[i].low,
            part->ranges[i].high);
    add_misread_words(list, plan, index);
    if (part->align_count > 1)
        add(list, "{setting: %s, align: left}", converter->name);
    if (part->acquisition_count > 1)
        add(list, "{setting: %s, acquisition: %.9g us}", converter->name, 1e6 * part->acquisition[0]);
    if (index > 0 && plan->buses[converter->bus].spi)
        add(list, "{open: %s.select}", converter->name);
    if (index > 0 && !plan->buses[converter->bus].spi)
        add(list, "{setting: %s, address: 0x%02lx}", converter->name, (converter->address ^ 1) & 0x7f);
}

/* A shared node that comes from another supply than its own. */
static void add_moved_feeds(tl_fault_list *list, const tl_plan *plan, const tl_plan_part *part)
{
    for (int i = 0; i < plan->supply_count; i++) {
        const tl_supply *feed = &plan->supplies[i];
        const size_t length = strlen(feed->name);
        if (feed->kind == TL_RAIL_SHARED && feed->from >= 0 && strncmp(part->path, feed->name, length) == 0 &&
            strcmp(part->path + length, ".series") == 0)
            add_moved(list, plan, part->path, feed->from);
    }
}

/* What outputs are made of, and wires that several signals share. */
static void add_other_parts(tl_fault_list *list, const tl_plan *plan, const tl_parts *parts)
{
    for (int i = parts->first[plan->line_count]; i < parts->count; i++) {
        const tl_plan_part *part = &parts->part[i];
        if (part->value != NULL)
            add_part_faults(list, plan, part);
        add_moved_feeds(list, plan, part);
    }
    for (int i = 0; i < plan->output_count; i++) {
        if (plan->outputs[i].driver.way != TL_DRIVER_NONE && plan->outputs[i].pin_count == 1) {
            add(list, "{open: %s.transistor}", plan->outputs[i].name);
            add(list, "{short: %s.transistor}", plan->outputs[i].name);
        }
        for (int k = 0; k < plan->outputs[i].pin_count; k++) {
            add(list, "{stuck: %s, at: low}", plan->pins[plan->outputs[i].pins[k]].name);
            add(list, "{stuck: %s, at: high}", plan->pins[plan->outputs[i].pins[k]].name);
        }
    }
}

tl_fault_list tl_faults_of_plan(const tl_plan *plan)
{
    tl_fault_list list = {NULL, 0};
    tl_parts parts = tl_plan_parts(plan);
    for (int i = 0; i < plan->signal_count; i++)
        add_signal_faults(&list, plan, &parts, i);
    for (int i = plan->signal_count; i < plan->line_count; i++) /* of buses and outputs */
        add_line_parts(&list, plan, &parts, i);
    add_other_parts(&list, plan, &parts);
    tl_parts_free(&parts);
    add_neighbour_faults(&list, plan);
    for (int i = 0; i < plan->supply_count; i++)
        add_supply_faults(&list, &plan->supplies[i]);
    for (int i = 0; i < plan->mux_count; i++)
        add_mux_faults(&list, plan, &plan->muxes[i]);
    for (int i = 0; i < plan->bus_count; i++)
        add_bus_faults(&list, &plan->buses[i]);
    for (int i = 0; i < plan->converter_count; i++) {
        if (plan->converters[i].part != NULL)
            add_converter_faults(&list, plan, i);
    }
    return list;
}

void tl_fault_list_free(tl_fault_list *list)
{
    for (int i = 0; i < list->count; i++)
        free(list->line[i]);
    free(list->line);
    *list = (tl_fault_list){NULL, 0};
}
