/* SPDX-License-Identifier: MIT */
/* Pins and lines that a plan has of its own, behind the board's pins and its signals. */
#include "base/memory.h"
#include "reader/read_plan.h"
#include <stdio.h>

int add_pin(tl_plan *plan, const char *owner, const char *name, const tl_pin *like)
{
    char whole[2 * TL_QUANTITY_LONGEST + 8];
    snprintf(whole, sizeof whole, "%.64s.%.64s", owner, name);
    plan->pins = tl_grow(plan->pins, (size_t)plan->pin_count, sizeof *plan->pins);
    tl_pin *pin = &plan->pins[plan->pin_count];
    *pin = *like;
    pin->name = tl_copy_text(whole);
    pin->port = NULL;
    pin->position = -1;
    pin->rail = TL_PIN_NO_RAIL;
    return plan->pin_count++;
}

tl_signal *add_line(tl_plan *plan, const char *name, tl_place place)
{
    plan->signals = tl_grow(plan->signals, (size_t)plan->line_count, sizeof *plan->signals);
    tl_signal *line = &plan->signals[plan->line_count++];
    *line = (tl_signal){.name = tl_copy_text(name), .place = place, .channel = -1};
    line->reading.decimals = line->reading.active = line->reading.steps = -1;
    line->reading.word_align = line->reading.word_sign = line->reading.word_bytes = -1;
    line->reading.meter = line->reading.second_line = TL_NONE;
    return line;
}

bool read_named(reader *r, const yaml_tree *node, const char *what, read_one *read, tl_plan *plan)
{
    bool good = node->kind == YAML_MAP;
    if (!good)
        report_error(r, "wrong-shape", node->place, "%s are written as names with what they are", what);
    for (int i = 0; good && i < node->count; i++)
        good = read(r, &node->items[2 * i], &node->items[2 * i + 1], plan) && good;
    return good;
}
