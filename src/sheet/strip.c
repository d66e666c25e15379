/* SPDX-License-Identifier: MIT */
/*
 * Widths are measured, never guessed; what is left over is spread, at most 5 mm a cell, and the rest goes
 * into the last wire. Rails are up, ground is down, all bars of a strip in one line.
 */
#include "sheet/strip.h"
#include <math.h>
#include <string.h>

static const double tag_gap = 7, most_spread = 5, box_half = 4, row_pitch = 3.05;
static const double rail_text = 4.3, check_room = 4.6;

/* --- room --- */

static double stack_width(const canvas *c, const branch *b)
{
    double width = fmax(text_width(c, TYPE_VALUE, b->value), text_width(c, TYPE_SMALL, b->name));
    width = fmax(width, b->contact[0] != '\0' ? text_width(c, TYPE_BOLD, b->contact) : 0);
    const double beside = b->symbol == SYMBOL_LAMP ? 4.2 : 2.5;
    return b->used && b->symbol != SYMBOL_WIRE ? beside + width + 1.5 : 0;
}

static double left_of(const branch *b)
{
    return !b->used                                               ? 1.9
           : b->symbol == SYMBOL_THERMISTOR                       ? 7.2
           : b->symbol == SYMBOL_VARIABLE                         ? 4.4
           : b->symbol == SYMBOL_CONTACT || b->contact[0] != '\0' ? 2.6
                                                                  : 1.9;
}

static void measure_cell(const canvas *c, cell *is)
{
    switch (is->kind) {
    case CELL_SERIES:
        is->width =
            fmax(BODY + 2 * LEAD,
                 fmax(text_width(c, TYPE_VALUE, is->value), text_width(c, TYPE_SMALL, is->name)) + 2.5);
        break;
    case CELL_NODE:
        is->left = fmax(left_of(&is->up), left_of(&is->down));
        is->own = is->left + fmax(fmax(stack_width(c, &is->up), stack_width(c, &is->down)), 2.2);
        is->width = is->own + (is->check > 0 ? check_room : 0);
        break;
    case CELL_CABLE:
        is->width = fmax(8, text_width(c, TYPE_SMALL, is->value) + text_width(c, TYPE_SMALL, "cable ") + 2);
        break;
    case CELL_TRACK:
        is->left = text_width(c, TYPE_SMALL, "100 %") + THICK / 2 + 1.4;
        is->width = is->left + 7 + text_width(c, TYPE_VALUE, is->value);
        break;
    case CELL_BOX:
        is->own =
            fmax(fmax(text_width(c, TYPE_TEXT, is->name), text_width(c, TYPE_SMALL, is->value)) + 3, 12);
        is->left = 2.5 + is->own / 2;
        is->width = is->own + 5;
        if (is->up.symbol == SYMBOL_RESISTOR)
            is->width = fmax(is->width, is->left + stack_width(c, &is->up));
        break;
    }
}

/* Names of rails may be wide: a later rail is pushed right until its name is clear. */
static double clear_rails(const canvas *c, chain *is)
{
    double x = 0, edge[2] = {-9, -9};
    for (int i = 0; i < is->count; i++) {
        cell *now = &is->cells[i];
        for (int side = 0; side < 2; side++) {
            const branch *b = side == 0 ? &now->up : &now->down;
            if (!b->used || b->rail[0] == '\0')
                continue;
            const double axis = x + now->left, pushed = edge[side] + 1.5 - (axis - 1.7);
            if (pushed > 0 && i > 0) {
                is->cells[i - 1].width += pushed;
                x += pushed;
            }
            edge[side] = x + now->left + rail_width(c, b->rail, b->extra);
        }
        x += now->width;
    }
    if (is->count > 0) /* the last name may stand over the tag, not beyond it */
        is->cells[is->count - 1].width += fmax(0, fmax(edge[0], edge[1]) - x - 4);
    x += is->count > 0 ? fmax(0, fmax(edge[0], edge[1]) - x - 4) : 0;
    return x;
}

double strip_measure(const canvas *c, chain *is)
{
    for (int i = 0; i < is->count; i++)
        measure_cell(c, &is->cells[i]);
    return clear_rails(c, is) + tag_length(c, is->tag, is->position) + tag_gap;
}

static double reach_of(const branch *b)
{
    return b->contact[0] != '\0' ? REACH + BODY + LEAD : REACH;
}

strip_room strip_room_of(const chain *is)
{
    strip_room room = {7.5, 6.5};
    for (int i = 0; i < is->count; i++) {
        const cell *now = &is->cells[i];
        const double box = now->kind == CELL_BOX ? box_half : 0;
        if (now->kind == CELL_SERIES)
            room.up = fmax(room.up, THICK / 2 + 7.2);
        if (now->up.used)
            room.up =
                fmax(room.up, reach_of(&now->up) + (now->up.symbol != SYMBOL_WIRE ? box : 0) + rail_text);
        if (now->kind == CELL_TRACK)
            room.down = fmax(room.down, BODY / 2 + LEAD + 2 + (now->down.rail[0] != '\0' ? 3 : 0));
        else if (now->down.used && now->kind == CELL_BOX)
            room.down = fmax(room.down, box_half + LEAD + 2);
        else if (now->down.used)
            room.down = fmax(room.down, reach_of(&now->down) + 2 + (now->down.rail[0] != '\0' ? 3 : 0));
    }
    return room;
}

/* How far the names of a cell's rails reach, from where it begins. */
static double rail_edge(const canvas *c, const cell *is)
{
    double edge = 0;
    for (int side = 0; side < 2; side++) {
        const branch *b = side == 0 ? &is->up : &is->down;
        if (b->used && b->rail[0] != '\0')
            edge = fmax(edge, is->left + rail_width(c, b->rail, b->extra));
    }
    return edge;
}

/* --- drawing --- */

static void next_net(canvas *c)
{
    c->net = ++c->nets;
}

/* The net of now on the side of the line, the next on the other. */
static void set_leads(canvas *c, bool up)
{
    c->net_above = up ? c->nets + 1 : c->net;
    c->net_below = up ? c->net : c->nets + 1;
}

static void end_draw(canvas *c, const branch *b, place at, bool up)
{
    if (b->rail[0] == '\0')
        ground_draw(c, at);
    else if (up)
        rail_draw(c, at, b->rail, b->extra);
    else {
        line_draw(c, (place){at.x - 1.7, at.y}, (place){at.x + 1.7, at.y}, bar_width, INK_BLACK);
        (void)text_at(c, (place){at.x - 1.7, at.y + 3.2}, TYPE_VALUE, ALIGN_LEFT, b->rail);
    }
}

/* Value, name and row as a stack right of a part. */
static void stack_draw(canvas *c, const branch *b, place middle)
{
    const char *const lines[] = {b->value, b->name};
    int count = (b->row > 0) + (b->value[0] != '\0') + (b->name[0] != '\0');
    double y = middle.y - (count - 1) * row_pitch / 2 + 1;
    for (int i = 0; i < 2; i++) {
        if (lines[i][0] == '\0')
            continue;
        (void)text_at(c, (place){middle.x, y}, i == 0 ? TYPE_VALUE : TYPE_SMALL, ALIGN_LEFT, lines[i]);
        y += row_pitch;
    }
    if (b->row > 0)
        row_draw(c, (place){middle.x + 1.5, y - 0.75}, b->row);
}

/* away: from the line on, after so much that is there already. */
static void branch_draw(canvas *c, const branch *b, place at, bool up)
{
    const double way = up ? -1 : 1;
    const int net = c->net;
    if (!b->used)
        return;
    if (b->symbol == SYMBOL_WIRE) {
        wire_draw(c, at, (place){at.x, at.y + way * REACH});
        end_draw(c, b, (place){at.x, at.y + way * REACH}, up);
        return;
    }
    const double top = up ? at.y - LEAD - BODY : at.y + LEAD;
    wire_draw(c, at, (place){at.x, at.y + way * LEAD});
    set_leads(c, up);
    symbol_upright(c, b->symbol, (place){at.x, top}, b->value[0] != '\0' ? b->value : b->name);
    stack_draw(c, b, (place){at.x + (b->symbol == SYMBOL_LAMP ? 4.2 : 2.5), top + BODY / 2});
    next_net(c);
    double end = at.y + way * REACH;
    wire_draw(c, (place){at.x, at.y + way * (LEAD + BODY)}, (place){at.x, end});
    if (b->contact[0] != '\0') {
        const double from = up ? end - BODY : end;
        set_leads(c, up);
        symbol_upright(c, SYMBOL_CONTACT, (place){at.x, from}, b->contact);
        next_net(c);
        (void)text_at(c, (place){at.x + 2.5, from + BODY / 2 + 1}, TYPE_BOLD, ALIGN_LEFT, b->contact);
        end += way * (BODY + LEAD);
        wire_draw(c, (place){at.x, end - way * LEAD}, (place){at.x, end});
    }
    end_draw(c, b, (place){at.x, end}, up);
    c->net = net;
}

static void series_draw(canvas *c, const cell *is, place at, double width)
{
    const double left = at.x + (width - BODY) / 2, middle = left + BODY / 2;
    wire_draw(c, at, (place){left, at.y});
    resistor_lying(c, (place){left, at.y}, is->value);
    (void)text_at(c, (place){middle, at.y - THICK / 2 - 4.1}, TYPE_SMALL, ALIGN_MIDDLE, is->name);
    (void)text_at(c, (place){middle, at.y - THICK / 2 - 1}, TYPE_VALUE, ALIGN_MIDDLE, is->value);
    row_draw(c, (place){middle, at.y + THICK / 2 + 2.3}, is->row);
    next_net(c);
    wire_draw(c, (place){left + BODY, at.y}, (place){at.x + width, at.y});
}

static void node_draw(canvas *c, const cell *is, place at, double width, bool first)
{
    const place axis = {at.x + is->left, at.y};
    if (!first)
        wire_draw(c, at, axis);
    if (!is->ends)
        wire_draw(c, axis, (place){at.x + width, at.y});
    if (is->check > 0)
        check_draw(c, (place){at.x + is->own + 2, at.y}, is->check);
    branch_draw(c, &is->up, axis, true);
    branch_draw(c, &is->down, axis, false);
    if (!first + !is->ends + is->up.used + is->down.used >= 3)
        dot_draw(c, axis);
}

static void cable_cell_draw(canvas *c, const cell *is, place at, double width)
{
    char text[CHAIN_WORD + 8];
    wire_draw(c, at, (place){at.x + width, at.y});
    cable_draw(c, (place){at.x + width / 2, at.y});
    snprintf(text, sizeof text, "cable %s", is->value);
    (void)text_at(c, (place){at.x + width / 2, at.y + 5}, TYPE_SMALL, ALIGN_MIDDLE, text);
}

static void track_draw(canvas *c, const cell *is, place at, double width)
{
    const double axis = at.x + is->left, top = at.y - BODY / 2, low = top + BODY + LEAD;
    const int net = c->net;
    symbol_upright(c, SYMBOL_RESISTOR, (place){axis, top}, is->value);
    wire_draw(c, (place){axis + THICK / 2 + 1, at.y}, (place){at.x + width, at.y});
    arrow_draw(c, (place){at.x + width, at.y}, (place){axis + THICK / 2, at.y});
    (void)text_at(c, (place){axis + THICK / 2 + 1.6, top + 0.6}, TYPE_VALUE, ALIGN_LEFT, is->value);
    (void)text_at(c, (place){axis - THICK / 2 - 0.9, top + 2}, TYPE_SMALL, ALIGN_RIGHT, "100 %");
    (void)text_at(c, (place){axis - THICK / 2 - 0.9, top + BODY - 0.1}, TYPE_SMALL, ALIGN_RIGHT, "0 %");
    next_net(c);
    wire_draw(c, (place){axis, top}, (place){axis, at.y - REACH});
    end_draw(c, &is->up, (place){axis, at.y - REACH}, true);
    next_net(c);
    wire_draw(c, (place){axis, top + BODY}, (place){axis, low});
    end_draw(c, &is->down, (place){axis, low}, false);
    c->net = net;
}

static void box_draw(canvas *c, const cell *is, place at, double width, bool first)
{
    const double left = at.x + 2.5, right = left + is->own, axis = left + is->own / 2;
    const area room = {left, at.y - box_half, right, at.y + box_half};
    if (!first)
        wire_draw(c, at, (place){left, at.y});
    frame_draw(c, room, body_width, 0);
    box_keep(c, BOX_SYMBOL, is->name, room);
    text_inside(c, (place){axis, at.y + (is->value[0] != '\0' ? -0.5 : 0.9)}, TYPE_TEXT, INK_BLACK,
                is->own - 1, is->name);
    text_inside(c, (place){axis, at.y + 2.7}, TYPE_SMALL, INK_BLACK, is->own - 1, is->value);
    next_net(c);
    if (is->up.used && is->up.symbol == SYMBOL_WIRE) {
        wire_draw(c, (place){axis, at.y - box_half}, (place){axis, at.y - REACH});
        end_draw(c, &is->up, (place){axis, at.y - REACH}, true);
    } else if (is->up.used) {
        branch_draw(c, &is->up, (place){axis, at.y - box_half}, true);
    }
    next_net(c);
    if (is->down.used) {
        wire_draw(c, (place){axis, at.y + box_half}, (place){axis, at.y + box_half + LEAD});
        end_draw(c, &is->down, (place){axis, at.y + box_half + LEAD}, false);
    }
    next_net(c);
    if (!is->ends)
        wire_draw(c, (place){right, at.y}, (place){at.x + width, at.y});
}

static void cell_draw(canvas *c, const cell *is, place at, double width, bool first)
{
    switch (is->kind) {
    case CELL_SERIES:
        series_draw(c, is, at, width);
        break;
    case CELL_NODE:
        node_draw(c, is, at, width, first);
        break;
    case CELL_CABLE:
        cable_cell_draw(c, is, at, width);
        break;
    case CELL_TRACK:
        track_draw(c, is, at, width);
        break;
    case CELL_BOX:
        box_draw(c, is, at, width, first);
        break;
    }
}

/* With what a rail's name reaches beyond the last cell. */
static double width_of(const canvas *c, const chain *is, const int cells[2])
{
    double width = 0, edge = 0;
    for (int i = cells[0]; i < cells[1]; i++) {
        edge = fmax(edge, width + rail_edge(c, &is->cells[i]));
        width += is->cells[i].width;
    }
    return fmax(width, edge);
}

/* From where the cells end to the tag's tip, which the meter's disc stands before. */
static void end_at_tag(canvas *c, const chain *is, double x, place right)
{
    const place tip = {right.x - tag_length(c, is->tag, is->position), right.y};
    wire_draw(c, (place){x, right.y}, tip);
    tag_draw(c, tip, is->tag, is->position, false);
    if (is->check > 0)
        check_draw(c, (place){tip.x - 3.5, right.y}, is->check);
    (void)text_at(c, (place){right.x, right.y + 5.3}, TYPE_SMALL, ALIGN_RIGHT, is->span);
}

void strip_draw_row(canvas *c, const chain *is, place left, double right, const int cells[2])
{
    const bool begins = cells[0] == 0, ends = cells[1] == is->count;
    const double tag = tag_length(c, is->tag, is->position) + tag_gap, mark = 5;
    const double room = right - left.x - width_of(c, is, cells) - (begins && is->out ? tag : 0) -
                        (ends && !is->out ? tag : 0) - (begins ? 0 : mark) - (ends ? 0 : mark);
    const double give = fmax(0, fmin(room / fmax(1, cells[1] - cells[0]), most_spread));
    double x = left.x;
    next_net(c);
    if (begins && is->out) {
        x += tag_length(c, is->tag, is->position);
        tag_draw(c, (place){x, left.y}, is->tag, is->position, true);
        wire_draw(c, (place){x, left.y}, (place){x + 3, left.y});
        x += 3;
    } else if (!begins) {
        cut_draw(c, (place){x + 1.75, left.y}, (char)('a' + cells[0] % 26));
        wire_draw(c, (place){x + 3.5, left.y}, (place){x + mark, left.y});
        x += mark;
    }
    for (int i = cells[0]; i < cells[1]; i++) {
        const double width = is->cells[i].width + give;
        cell_draw(c, &is->cells[i], (place){x, left.y}, width, i == 0 && !is->out);
        x += width;
    }
    if (ends && !is->out) {
        end_at_tag(c, is, x, (place){right, left.y});
    } else if (!ends) {
        wire_draw(c, (place){x, left.y}, (place){x + mark - 3.5, left.y});
        cut_draw(c, (place){x + mark - 1.75, left.y}, (char)('a' + cells[1] % 26));
    }
}

void strip_draw(canvas *c, const chain *is, place left, double right)
{
    strip_draw_row(c, is, left, right, (int[]){0, is->count});
}

int strip_fold(const canvas *c, const chain *is, double width, int first[STRIP_ROWS_MOST + 1])
{
    int rows = 0;
    double used = 0;
    const double room = width - tag_length(c, is->tag, is->position) - tag_gap - 12;
    first[rows++] = 0;
    for (int i = 0; i < is->count; i++) {
        const double end = used + fmax(is->cells[i].width, rail_edge(c, &is->cells[i]));
        if (end > room && i > first[rows - 1] && rows < STRIP_ROWS_MOST) {
            first[rows++] = i;
            used = 0;
        }
        used += is->cells[i].width;
    }
    first[rows] = is->count;
    return rows;
}
