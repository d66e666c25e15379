/* SPDX-License-Identifier: MIT */
/* The board's header from above: who uses each pin. */
#include "sheet/sheet.h"
#include <math.h>
#include <string.h>

typedef enum { PIN_FREE, PIN_OTHER, PIN_OURS, PIN_SUPPLY } pin_state;

static int pin_called(const tl_board *board, const char *name)
{
    for (int i = 0; i < board->pin_count; i++) {
        if (strcmp(board->pins[i].name, name) == 0)
            return i;
    }
    return TL_NONE;
}

static bool is_ours(const sheet *s, int pin)
{
    for (int i = 0; i < s->list.count; i++) {
        const wire *w = &s->list.wires[i];
        if ((w->to.kind == END_PIN && w->to.index == pin) ||
            (w->from.kind == END_PIN && w->from.index == pin))
            return true;
    }
    return false;
}

static pin_state state_of(const sheet *s, int pin, const tl_pin_use *use)
{
    if (s->plan->board->pins[pin].rail != TL_PIN_NO_RAIL)
        return PIN_SUPPLY;
    return use->what == NULL ? PIN_FREE : is_ours(s, pin) ? PIN_OURS : PIN_OTHER;
}

static void label_of(const tl_pin_use *use, char text[80])
{
    text[0] = '\0';
    if (use->what != NULL)
        snprintf(text, 80, "%.40s%s", use->owner,
                 strcmp(use->what, "select line") == 0   ? " select"
                 : strcmp(use->what, "enable line") == 0 ? " enable"
                                                         : "");
}

static void header_hole(sheet *s, int pin, area at, pin_state state)
{
    char position[16];
    const tl_pin *is = &s->plan->board->pins[pin];
    const double middle = (at.x0 + at.x1) / 2, y = (at.y0 + at.y1) / 2;
    const pen_ink letters = state == PIN_SUPPLY ? INK_WHITE : INK_BLACK;
    if (state == PIN_FREE)
        frame_dotted(s->c, at, wire_width);
    else
        frame_draw(s->c, at, state == PIN_OURS ? 0.75 : wire_width, 0);
    if (state == PIN_SUPPLY)
        area_fill(s->c, at, INK_BLACK);
    snprintf(position, sizeof position, "%d", is->position);
    text_inside(s->c, (place){middle, y + 0.1}, TYPE_SMALL, letters, at.x1 - at.x0 - 0.8, is->name);
    text_inside(s->c, (place){middle, y + 2.6}, TYPE_TINY, letters, at.x1 - at.x0 - 0.8, position);
    box_keep(s->c, BOX_SYMBOL, is->name, at);
}

static double longest_label(const sheet *s, int row)
{
    double longest = 0;
    for (int i = 0; i < s->plan->board->header_columns; i++) {
        const char *name = s->plan->board->header[row * s->plan->board->header_columns + i];
        const int pin = name != NULL ? pin_called(s->plan->board, name) : TL_NONE;
        char text[80] = "";
        if (pin != TL_NONE && s->plan->board->pins[pin].rail == TL_PIN_NO_RAIL) {
            const tl_pin_use use = tl_plan_pin_use(s->plan, pin, 0);
            label_of(&use, text);
        }
        longest = fmax(longest, text[0] != '\0' ? text_width(s->c, TYPE_BOLD, text) : 0);
    }
    return longest;
}

static void draw_row(sheet *s, int row, double y, double size)
{
    const tl_board *board = s->plan->board;
    const double pitch = (s->right - s->left) / board->header_columns;
    for (int i = 0; i < board->header_columns; i++) {
        const char *name = board->header[row * board->header_columns + i];
        const int pin = name != NULL ? pin_called(board, name) : TL_NONE;
        char text[80];
        if (pin == TL_NONE)
            continue;
        const tl_pin_use use = tl_plan_pin_use(s->plan, pin, 0);
        const pin_state state = state_of(s, pin, &use);
        const double x = s->left + i * pitch + (pitch - size) / 2;
        header_hole(s, pin, (area){x, y, x + size, y + size}, state);
        label_of(&use, text);
        if (text[0] != '\0' && state != PIN_SUPPLY)
            text_upright(s->c, (place){x + size / 2 + 0.95, row == 0 ? y - 1.6 : y + size + 1.6},
                         state == PIN_OURS ? TYPE_BOLD : TYPE_TEXT, row == 0 ? ALIGN_LEFT : ALIGN_RIGHT,
                         text);
    }
}

static bool has_header(const tl_board *board)
{
    return board->header != NULL && board->header_rows >= 1 && board->header_rows <= 2 &&
           board->header_columns >= 1;
}

static double hole_size(const sheet *s)
{
    return fmin(9, (s->right - s->left) / s->plan->board->header_columns - 1);
}

double sheet_header_height(const sheet *s)
{
    const tl_board *board = s->plan->board;
    if (!has_header(board))
        return 0;
    return 6 + longest_label(s, 0) + (board->header_rows > 1 ? longest_label(s, 1) : 0) +
           board->header_rows * (hole_size(s) + 1.2);
}

void sheet_put_header(sheet *s)
{
    const tl_board *board = s->plan->board;
    const double size = hole_size(s), below = board->header_rows > 1 ? longest_label(s, 1) : 0;
    s->y += 3 + longest_label(s, 0);
    for (int row = 0; row < board->header_rows; row++)
        draw_row(s, row, s->y + row * (size + 1.2), size);
    s->y += board->header_rows * (size + 1.2) + below + 3;
}

void sheet_draw_header(sheet *s)
{
    const double height = sheet_header_height(s);
    if (height <= 0)
        return;
    sheet_heading(s, "Header, from above", SHEET_HEADER_KEY, height + 4);
    sheet_put_header(s);
}
