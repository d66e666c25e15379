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

static void add_part_faults(tl_fault_list *list, const tl_parts *parts, int line)
{
    const tl_plan_part *upper = NULL;
    for (int i = 0; i < parts->count; i++) {
        const tl_plan_part *part = &parts->part[i];
        if (part->owner != TL_OWNED_BY_LINE || part->index != line || part->own ||
            (tl_role_of(part->role)->traits & TL_FAILS) == 0)
            continue;
        if (tl_role_of(part->role)->dimension == TL_DIM_OHM) {
            add_resistor_faults(list, part->path, part->value->value.nominal);
        } else {
            add(list, "{open: %s}", part->path);
            add(list, "{short: %s}", part->path);
        }
        if (part->role == TL_PART_LOWER && upper != NULL)
            add(list, "{swap: [%s, %s]}", upper->path, part->path);
        upper = part->role == TL_PART_UPPER ? part : NULL;
    }
}

static void add_signal_faults(tl_fault_list *list, const tl_plan *plan, const tl_parts *parts, int line)
{
    const tl_signal *s = &plan->signals[line];
    const tl_pin *pin = &plan->pins[s->pin];
    add(list, "{open: %s.source}", s->name);
    add(list, "{open: %s.pin}", s->name);
    add(list, "{loose: %s.source, every: 500 ms}", s->name);
    add(list, "{short: %s.pin, to: ground}", s->name);
    if (s->source.kind == TL_SOURCE_CONTACT) {
        add(list, "{stuck: %s.source, at: closed}", s->name);
        add(list, "{stuck: %s.source, at: open}", s->name);
    }
    if (!s->analog && s->pin < plan->board->pin_count) {
        add(list, "{stuck: %s, at: low}", pin->name);
        add(list, "{stuck: %s, at: high}", pin->name);
    }
    add_part_faults(list, parts, line);
}

static void add_converter_faults(tl_fault_list *list, const tl_plan_converter *converter)
{
    const tl_converter *part = converter->part;
    for (int i = 0; i < part->reference_count; i++)
        add(list, "{setting: %s, reference: %s}", converter->name, part->references[i].name);
    if (part->align_count > 1)
        add(list, "{setting: %s, align: left}", converter->name);
    if (part->acquisition_count > 1)
        add(list, "{setting: %s, acquisition: %.9g us}", converter->name, 1e6 * part->acquisition[0]);
}

tl_fault_list tl_faults_of_plan(const tl_plan *plan)
{
    tl_fault_list list = {NULL, 0};
    tl_parts parts = tl_plan_parts(plan);
    for (int i = 0; i < plan->signal_count; i++)
        add_signal_faults(&list, plan, &parts, i);
    tl_parts_free(&parts);
    for (int i = 0; i < plan->supply_count; i++) {
        if (plan->supplies[i].kind == TL_RAIL_SUPPLY)
            add(&list, "{missing: %s}", plan->supplies[i].name);
    }
    for (int i = 0; i < plan->mux_count; i++) {
        for (int line = 0; line < plan->muxes[i].select_count; line++) {
            add(&list, "{stuck: %s.select-%d, at: low}", plan->muxes[i].name, line);
            add(&list, "{stuck: %s.select-%d, at: high}", plan->muxes[i].name, line);
        }
    }
    for (int i = 0; i < plan->converter_count; i++) {
        if (plan->converters[i].part != NULL)
            add_converter_faults(&list, &plan->converters[i]);
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
