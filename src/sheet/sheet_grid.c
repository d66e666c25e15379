/* SPDX-License-Identifier: MIT */
/* The holes of the plug-in board: free ones are rings, used ones discs, parts lie over theirs with the number
 * of their row; below it the wires that the list has not, and where the legs go of what is not on the board.
 */
#include "sheet/sheet.h"
#include <math.h>
#include <string.h>

static const double row_pitch = 3.2, groove = 5, rail_gap = 4.5, left_room = 6, line_height = 4;

static double pitch_of(const sheet *s)
{
    return fmin(row_pitch, (s->right - s->left - left_room) / s->plan->plug_in->columns);
}

static double side_height(const sheet *s)
{
    const tl_plug_in *on = s->plan->plug_in;
    return (on->rails > 0 ? (on->rails - 1) * row_pitch + rail_gap : 0) + (on->rows - 1) * row_pitch;
}

static double grid_height(const sheet *s)
{
    return 4 + 2 * side_height(s) + groove + 4;
}

static int lines_below(const sheet *s)
{
    return (s->on_board.link_count + s->on_board.lead_count + 2) / 3;
}

double sheet_grid_height(const sheet *s)
{
    return grid_height(s) + (lines_below(s) > 0 ? (lines_below(s) + 2) * line_height : 0);
}

/* y: of the upper edge of all holes. */
static place place_of(const sheet *s, double y, const hole *h)
{
    const tl_plug_in *on = s->plan->plug_in;
    const double x = s->left + left_room + pitch_of(s) * (h->column + 0.5);
    const double in = h->kind == HOLE_RAIL
                          ? h->row * row_pitch
                          : (on->rails > 0 ? (on->rails - 1) * row_pitch + rail_gap : 0) + h->row * row_pitch;
    return (place){x, h->half == 0 ? y + in : y + 2 * side_height(s) + groove - in};
}

static void rings(sheet *s, double y)
{
    const tl_plug_in *on = s->plan->plug_in;
    for (int half = 0; half < 2; half++) {
        for (int column = 0; column < on->columns; column++) {
            for (int row = 0; row < on->rows + on->rails; row++) {
                const hole h = {row < on->rows ? HOLE_STRIP : HOLE_RAIL, 0, half, column,
                                row < on->rows ? row : row - on->rows};
                const place at = place_of(s, y, &h);
                disc_fill(s->c, at, 0.5, INK_PALE);
                disc_fill(s->c, at, 0.32, INK_WHITE);
            }
        }
    }
}

static void names(sheet *s, double y)
{
    const tl_plug_in *on = s->plan->plug_in;
    for (int half = 0; half < 2; half++) {
        for (int row = 0; row < on->rows; row++) {
            const char text[2] = {(char)('a' + (half == 0 ? row : 2 * on->rows - 1 - row)), '\0'};
            const place at = place_of(s, y, &(hole){HOLE_STRIP, 0, half, 0, row});
            (void)text_at(s->c, (place){s->left + 3.5, at.y + 0.8}, TYPE_TINY, ALIGN_RIGHT, text);
        }
        for (int row = 0; row < on->rails; row++) {
            char text[WIRE_END];
            const place at = place_of(s, y, &(hole){HOLE_RAIL, 0, half, 0, row});
            snprintf(text, sizeof text, "%.*s", (int)strcspn(s->on_board.rail[half][row].name, " "),
                     s->on_board.rail[half][row].name);
            (void)text_within(s->c, (place){s->left, at.y + 0.8}, TYPE_TINY, left_room - 0.5, text);
        }
    }
    for (int column = 4; column < on->columns; column += 5) {
        char text[8];
        snprintf(text, sizeof text, "%d", (column + 1) % 1000);
        const place at = place_of(s, y, &(hole){HOLE_STRIP, 0, 0, column, on->rows - 1});
        (void)text_at(s->c, (place){at.x, at.y + groove / 2 + 0.8}, TYPE_TINY, ALIGN_MIDDLE, text);
    }
}

static void use(sheet *s, double y, int board, const hole *h)
{
    if (h->kind != HOLE_NONE && h->board == board)
        disc_fill(s->c, place_of(s, y, h), 0.62, INK_BLACK);
}

/* A body between two legs, with its number in it, or beside it where it is upright. */
static void part_draw(sheet *s, place a, place b, int number)
{
    char text[12];
    snprintf(text, sizeof text, "%d", number);
    const bool lying = fabs(a.y - b.y) < 1e-6;
    /* Upright it lies between its strip and the rails, where no holes are. */
    const double up = a.y > b.y ? -1 : 1;
    const place middle = {(a.x + b.x) / 2, lying ? a.y : a.y + up * rail_gap / 2};
    line_draw(s->c, a, b, body_width, INK_BLACK);
    const double half = lying ? fmin(3.4, fabs(b.x - a.x) / 2 - 0.8) : 1.1, high = lying ? 1.25 : 1.3;
    const area body = {middle.x - half, middle.y - high, middle.x + half, middle.y + high};
    frame_draw(s->c, body, wire_width, 0.5);
    if (lying) {
        text_inside(s->c, (place){middle.x, middle.y + 0.75}, TYPE_TINY, INK_BLACK, 2 * half - 0.3, text);
        box_keep(s->c, BOX_SYMBOL, text, body);
    } else {
        box_keep(s->c, BOX_SYMBOL, text, body);
        (void)text_at(s->c, (place){middle.x + half + 0.5, middle.y + 0.7}, TYPE_TINY, ALIGN_LEFT, text);
    }
}

static void below(sheet *s)
{
    const double column = (s->right - s->left) / 3;
    const int count = s->on_board.link_count + s->on_board.lead_count;
    if (count == 0)
        return;
    (void)text_at(
        s->c, (place){s->left, s->y + 3}, TYPE_BOLD, ALIGN_LEFT,
        "Beside the list: supplies to their rails, strips that are one, and the legs of what is not on it");
    s->y += line_height;
    for (int i = 0; i < count; i++) {
        const placed *is = i < s->on_board.link_count ? &s->on_board.links[i]
                                                      : &s->on_board.leads[i - s->on_board.link_count];
        char from[16], to[16], text[120];
        hole_in_words(&s->on_board, s->plan->plug_in, &is->from, from);
        hole_in_words(&s->on_board, s->plan->plug_in, &is->to, to);
        snprintf(text, sizeof text, "%s%s%s  %s", from, from[0] != '\0' && to[0] != '\0' ? " – " : "", to,
                 is->what);
        (void)text_within(s->c, (place){s->left + (i % 3) * column, s->y + (i / 3 + 1) * line_height - 1},
                          TYPE_SMALL, column - 2, text);
    }
    s->y += lines_below(s) * line_height;
}

void sheet_put_grid(sheet *s, int board)
{
    const double y = s->y + 4;
    rings(s, y);
    names(s, y);
    for (int i = 0; i < s->on_board.count; i++) {
        const placed *is = &s->on_board.rows[i];
        use(s, y, board, &is->from);
        use(s, y, board, &is->to);
        if (is->lies && is->from.board == board)
            part_draw(s, place_of(s, y, is->from.kind == HOLE_STRIP ? &is->from : &is->to),
                      place_of(s, y, is->from.kind == HOLE_STRIP ? &is->to : &is->from), i + 1);
    }
    for (int i = 0; i < s->on_board.link_count; i++) {
        use(s, y, board, &s->on_board.links[i].from);
        use(s, y, board, &s->on_board.links[i].to);
    }
    for (int i = 0; i < s->on_board.lead_count; i++)
        use(s, y, board, &s->on_board.leads[i].from);
    s->y += grid_height(s);
    if (board == s->on_board.boards - 1)
        below(s);
}

void sheet_draw_grids(sheet *s)
{
    for (int board = 0; s->plan->plug_in != NULL && board < s->on_board.boards; board++) {
        char title[40];
        snprintf(title, sizeof title, s->on_board.boards > 1 ? "Plug-in board %d" : "Plug-in board",
                 board + 1);
        sheet_heading(s, title, "ring: free   ·   disc: used   ·   with a number: the part of that row",
                      board == s->on_board.boards - 1 ? sheet_grid_height(s) : grid_height(s));
        sheet_put_grid(s, board);
    }
}
