/* SPDX-License-Identifier: MIT */
/* Inputs left, the board's side right, its supply up and ground down; what stays open ends in a cross. */
#include "sheet/chip.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

static const double pitch = 5, lead = 4, row_room = 6, edge = 3.2, up_lead = 4.5;

/* --- from the list --- */

static chip_pin *add_pin(chip *is, const char *name, int row)
{
    if (is->count == CHIP_PINS)
        is->count--;
    chip_pin *pin = &is->pins[is->count++];
    *pin = (chip_pin){.row = row};
    snprintf(pin->name, sizeof pin->name, "%s", name);
    return pin;
}

/* `L20 (23)`: the pin, and its position on the board; of a rail alone its name. */
static void put_end(const tl_plan *plan, chip_pin *pin, const wire_end *end)
{
    snprintf(pin->end, sizeof pin->end, "%.*s", (int)strcspn(end->name, " "), end->name);
    if (end->kind == END_PIN && end->index < plan->board->pin_count && plan->pins[end->index].position >= 0)
        snprintf(pin->position, sizeof pin->position, "%d", plan->pins[end->index].position % 10000);
}

static void add_own_row(const chain_maker *m, chip *is, const wire *w, int row)
{
    if (strcmp(w->from.name, "supply") == 0) {
        snprintf(is->supply, sizeof is->supply, "%.*s", (int)strcspn(w->to.name, " "), w->to.name);
        is->supply_row = row;
    } else if (strcmp(w->from.name, "ground") == 0) {
        is->grounded = true;
        is->ground_row = row;
    } else {
        const char *dot = strrchr(w->from.name, '.');
        chip_pin *pin = add_pin(is, dot != NULL ? dot + 1 : w->from.name, row);
        pin->open = w->to.kind == END_NOWHERE;
        if (pin->open)
            snprintf(pin->end, sizeof pin->end, "%.60s",
                     strcmp(w->part, "stays open") == 0 ? "open" : w->part);
        else
            put_end(m->plan, pin, &w->to);
        pin->right = pin->position[0] != '\0';
    }
}

/* Whether a row leads to it: to an input, or to another of its pins. */
static bool leads_to(const tl_plan *plan, const wire *w, wired_kind kind, int index)
{
    const wire_end *to = &w->to;
    if (to->kind == END_CHIP)
        return kind == WIRED_CONVERTER && to->index == index;
    if (to->kind != END_PIN || to->index < plan->board->pin_count)
        return false;
    const tl_pin *pin = &plan->pins[to->index];
    return kind == WIRED_MUX ? pin->mux == index
                             : kind == WIRED_CONVERTER && pin->mux == TL_NONE && pin->converter == index;
}

static int by_side(const void *one, const void *other)
{
    const chip_pin *a = one, *b = other;
    return a->right != b->right ? a->right - b->right : a->row - b->row;
}

bool chip_of(const chain_maker *m, wired_kind kind, int index, chip *is)
{
    const tl_plan *plan = m->plan;
    bool any = false;
    *is = (chip){.count = 0};
    snprintf(is->title, sizeof is->title, "%.60s",
             kind == WIRED_MUX         ? plan->muxes[index].name
             : kind == WIRED_CONVERTER ? plan->converters[index].name
                                       : plan->modules[index].name);
    if (kind == WIRED_MUX)
        snprintf(is->note, sizeof is->note, "%.60s", plan->muxes[index].part->title);
    else if (kind == WIRED_CONVERTER)
        snprintf(is->note, sizeof is->note, "ADC, %d bits", plan->converters[index].bits);
    for (int i = 0; i < m->list->count; i++) {
        const wire *w = &m->list->wires[i];
        if (w->kind == kind && w->index == index) {
            add_own_row(m, is, w, i + 1);
            any = true;
        } else if (leads_to(plan, w, kind, index)) { /* `fine scl`, `heaters.0`: without the chip's name */
            chip_pin *pin = add_pin(is, w->to.name + strlen(is->title) + 1, i + 1);
            if (w->kind == WIRED_BUS)
                put_end(plan, pin, &w->from);
            if (pin->position[0] == '\0')
                snprintf(pin->end, sizeof pin->end, "%.60s", w->group);
            pin->right = w->kind == WIRED_BUS;
        }
    }
    qsort(is->pins, (size_t)is->count, sizeof *is->pins, by_side);
    return any;
}

/* --- on paper --- */

static int pins_at(const chip *is, bool right)
{
    int count = 0;
    for (int i = 0; i < is->count; i++)
        count += is->pins[i].right == right;
    return count;
}

double chip_measure(const canvas *c, chip *is)
{
    double inside[2] = {0, 0}, outside[2] = {0, 0};
    for (int i = 0; i < is->count; i++) {
        const chip_pin *pin = &is->pins[i];
        const double end = pin->position[0] != '\0' ? tag_length(c, pin->end, pin->position)
                                                    : text_width(c, TYPE_TEXT, pin->end);
        inside[pin->right] = fmax(inside[pin->right], text_width(c, TYPE_SMALL, pin->name));
        outside[pin->right] = fmax(outside[pin->right], end);
    }
    is->left = outside[0] > 0 ? outside[0] + 1.2 + row_room + lead : 0;
    is->right = outside[1] > 0 ? outside[1] + 1.2 + row_room + lead : 0;
    is->inside = fmax(inside[0] + inside[1] + 6, 16);
    return is->left + is->inside + is->right;
}

double chip_up(const chip *is)
{
    return edge + (is->supply[0] != '\0' ? up_lead + 4.5 : 0);
}

double chip_down(const chip *is)
{
    const int rows = pins_at(is, false) > pins_at(is, true) ? pins_at(is, false) : pins_at(is, true);
    return (rows > 0 ? rows - 1 : 0) * pitch + edge + (is->grounded ? up_lead + 2 : 0);
}

static void next_wire(canvas *c)
{
    c->net = ++c->nets;
}

/* From the box outward: the wire, its row, and what is at its end. */
static void pin_draw(canvas *c, const chip_pin *pin, double box, double y)
{
    const double way = pin->right ? 1 : -1, row = box + way * (lead + row_room / 2),
                 end = box + way * (lead + row_room + 0.6);
    next_wire(c);
    wire_draw(c, (place){box, y},
              (place){box + way * (lead + (pin->row > 0 && !c->plain ? 0.6 : row_room)), y});
    row_draw(c, (place){row, y}, pin->row);
    text_inside(c, (place){box - way * (1.2 + text_width(c, TYPE_SMALL, pin->name) / 2), y + 0.85},
                TYPE_SMALL, INK_BLACK, 60, pin->name);
    if (pin->position[0] != '\0')
        tag_draw(c, (place){end, y}, pin->end, pin->position, !pin->right);
    else
        (void)text_at(c, (place){end, y + 0.95}, pin->open ? TYPE_SMALL : TYPE_TEXT,
                      pin->right ? ALIGN_LEFT : ALIGN_RIGHT, pin->end);
}

static void supplies_draw(canvas *c, const chip *is, area box)
{
    const double axis = (box.x0 + box.x1) / 2;
    if (is->supply[0] != '\0') {
        next_wire(c);
        wire_draw(c, (place){axis, box.y0}, (place){axis, box.y0 - up_lead});
        rail_draw(c, (place){axis, box.y0 - up_lead}, is->supply, "");
        row_draw(c, (place){axis + 3, box.y0 - up_lead / 2 + 0.3}, is->supply_row);
    }
    if (is->grounded) {
        next_wire(c);
        wire_draw(c, (place){axis, box.y1}, (place){axis, box.y1 + up_lead});
        ground_draw(c, (place){axis, box.y1 + up_lead});
        row_draw(c, (place){axis + 3, box.y1 + up_lead / 2 - 0.3}, is->ground_row);
    }
}

void chip_draw(canvas *c, const chip *is, place at)
{
    const int rows = pins_at(is, false) > pins_at(is, true) ? pins_at(is, false) : pins_at(is, true);
    const area box = {at.x + is->left, at.y - edge, at.x + is->left + is->inside,
                      at.y + (rows > 0 ? rows - 1 : 0) * pitch + edge};
    int drawn[2] = {0, 0};
    frame_draw(c, box, body_width, 0);
    for (int i = 0; i < is->count; i++) {
        const bool right = is->pins[i].right;
        pin_draw(c, &is->pins[i], right ? box.x1 : box.x0, at.y + drawn[right]++ * pitch);
    }
    supplies_draw(c, is, box);
    box_keep(c, BOX_SYMBOL, is->title, box);
}
