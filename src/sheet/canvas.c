/* SPDX-License-Identifier: MIT */
/* Texts and lines, each kept with the room that it takes. */
#include "sheet/canvas.h"
#include "base/memory.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

const double wire_width = 0.25, body_width = 0.4, hair_width = 0.12, bar_width = 0.7;

canvas *canvas_new(pen *with, area frame)
{
    canvas *c = tl_alloc(1, sizeof *c);
    c->with = with;
    c->frame = frame;
    return c;
}

void canvas_free(canvas *c)
{
    c->with->free(c->with);
    free(c->boxes);
    free(c->wires);
    free(c);
}

/* --- what is kept --- */

void box_keep(canvas *c, box_kind kind, const char *name, area at)
{
    c->boxes = tl_grow(c->boxes, (size_t)c->box_count, sizeof *c->boxes);
    drawn_box *box = &c->boxes[c->box_count++];
    *box = (drawn_box){.kind = kind, .at = at};
    snprintf(box->name, sizeof box->name, "%.79s", name);
}

/* --- texts --- */

/* Of a type's height above its baseline, and below. */
static const double rises = 0.76, falls = 0.22;

double text_width(const canvas *c, type how, const char *text)
{
    return c->with->width(c->with, how, text);
}

static double before(alignment align, double width)
{
    return align == ALIGN_LEFT ? 0 : align == ALIGN_MIDDLE ? width / 2 : width;
}

double text_at(canvas *c, place at, type how, alignment align, const char *text)
{
    if (text[0] == '\0')
        return 0;
    const double width = text_width(c, how, text), up = rises * type_height(how),
                 down = falls * type_height(how), x = at.x - before(align, width);
    c->with->text(c->with, (place){x, at.y}, how, INK_BLACK, false, text);
    box_keep(c, BOX_TEXT, text, (area){x, at.y - up, x + width, at.y + down});
    return width;
}

/* Where the last letter begins, of one or more bytes. */
static size_t last_letter(const char *text, size_t length)
{
    while (length > 0 && ((unsigned char)text[--length] & 0xc0) == 0x80)
        ;
    return length;
}

static void cut_to(const canvas *c, type how, double room, const char *text, char cut[300])
{
    snprintf(cut, 300, "%.290s", text);
    for (size_t length = strlen(cut); length > 0 && text_width(c, how, cut) > room;) {
        length = last_letter(cut, length);
        snprintf(cut + length, 300 - length, "…");
    }
}

double text_within(canvas *c, place at, type how, double room, const char *text)
{
    char cut[300];
    cut_to(c, how, room, text, cut);
    return text_at(c, at, how, ALIGN_LEFT, cut);
}

void text_inside(canvas *c, place at, type how, pen_ink ink, double room, const char *text)
{
    char cut[300];
    const type fits = text_width(c, how, text) > room ? TYPE_TINY : how;
    cut_to(c, fits, room, text, cut);
    const double half = text_width(c, fits, cut) / 2, up = rises * type_height(fits);
    if (cut[0] != '\0')
        c->with->text(c->with, (place){at.x - half, at.y}, fits, ink, false, cut);
    if (cut[0] != '\0')
        box_keep(c, BOX_INSIDE, cut, (area){at.x - half, at.y - up, at.x + half, at.y});
}

void text_upright(canvas *c, place at, type how, alignment align, const char *text)
{
    const double width = text_width(c, how, text), up = rises * type_height(how),
                 down = falls * type_height(how), y = at.y + before(align, width);
    c->with->text(c->with, (place){at.x, y}, how, INK_BLACK, true, text);
    box_keep(c, BOX_TEXT, text, (area){at.x - up, y - width, at.x + down, y});
}

/* --- lines --- */

static void shape_draw(const canvas *c, const pen_shape *is)
{
    c->with->shape(c->with, is);
}

void line_draw(canvas *c, place a, place b, double width, pen_ink ink)
{
    shape_draw(c,
               &(pen_shape){.point = {a, b}, .points = 2, .fill = INK_NONE, .stroke = ink, .width = width});
}

void frame_draw(canvas *c, area at, double width, double corner)
{
    shape_draw(c, &(pen_shape){SHAPE_BOX, .at = at, .corner = corner, .fill = INK_WHITE, .width = width});
}

void frame_dotted(canvas *c, area at, double width)
{
    shape_draw(c, &(pen_shape){SHAPE_BOX, .at = at, .fill = INK_WHITE, .width = width, .dash = {0.4, 0.9}});
}

void outline_draw(canvas *c, const place *points, int count, pen_ink fill, double width)
{
    pen_shape is = {.points = count, .closed = true, .fill = fill, .width = width};
    memcpy(is.point, points, (size_t)count * sizeof *points);
    shape_draw(c, &is);
}

void oval_draw(canvas *c, area at, double width)
{
    shape_draw(c, &(pen_shape){SHAPE_OVAL, .at = at, .fill = INK_NONE, .width = width, .dash = {0.8, 0.6}});
}

void band_draw(canvas *c, area at, pen_ink ink)
{
    shape_draw(c, &(pen_shape){SHAPE_BOX, .at = at, .fill = ink, .width = hair_width});
}

void area_fill(canvas *c, area at, pen_ink ink)
{
    shape_draw(c, &(pen_shape){SHAPE_BOX, .at = at, .fill = ink, .stroke = INK_NONE});
}

void disc_fill(canvas *c, place at, double radius, pen_ink ink)
{
    const area around = {at.x - radius, at.y - radius, at.x + radius, at.y + radius};
    shape_draw(c, &(pen_shape){SHAPE_OVAL, .at = around, .fill = ink, .stroke = INK_NONE});
}

void mark_draw(canvas *c, pen_mark mark, int number)
{
    c->with->mark(c->with, mark, number);
}

void dot_draw(canvas *c, place at)
{
    disc_fill(c, at, 0.55, INK_BLACK);
}

void wire_draw(canvas *c, place a, place b)
{
    const bool turned = a.x > b.x || a.y > b.y;
    if (hypot(b.x - a.x, b.y - a.y) < 1e-9)
        return;
    c->wires = tl_grow(c->wires, (size_t)c->wire_count, sizeof *c->wires);
    c->wires[c->wire_count++] = (drawn_wire){turned ? b : a, turned ? a : b, c->net};
}

void canvas_flush(canvas *c)
{
    for (int i = 0; i < c->wire_count; i++)
        shape_draw(c, &(pen_shape){.point = {c->wires[i].a, c->wires[i].b},
                                   .points = 2,
                                   .fill = INK_NONE,
                                   .width = wire_width,
                                   .square = true});
    c->wire_count = c->box_count = 0;
}

/* --- the proof --- */

static bool meet(area a, area b, double slack)
{
    return a.x0 + slack < b.x1 && b.x0 + slack < a.x1 && a.y0 + slack < b.y1 && b.y0 + slack < a.y1;
}

static void say(FILE *to, const char *page, const char *what, const char *one, const char *other)
{
    if (to != NULL)
        fprintf(to, "%s: %s: '%s' '%s'\n", page, what, one, other);
}

static bool lies_within(const canvas *c, area is)
{
    for (int i = 0; i < c->box_count; i++) {
        const area *at = &c->boxes[i].at;
        if (c->boxes[i].kind == BOX_SYMBOL && is.x0 >= at->x0 && is.x1 <= at->x1 && is.y0 >= at->y0 &&
            is.y1 <= at->y1)
            return true;
    }
    return false;
}

/* What is inside of a symbol may lie on it, and on nothing else. */
static bool may_meet(const drawn_box *a, const drawn_box *b)
{
    return (a->kind == BOX_INSIDE && b->kind == BOX_SYMBOL) ||
           (a->kind == BOX_SYMBOL && b->kind == BOX_INSIDE);
}

static int box_faults(const canvas *c, const char *page, FILE *to)
{
    int faults = 0;
    for (int i = 0; i < c->box_count; i++) {
        const drawn_box *a = &c->boxes[i];
        const bool beyond = a->at.x0 < c->frame.x0 - 0.3 || a->at.x1 > c->frame.x1 + 0.3 ||
                            a->at.y0 < c->frame.y0 - 0.3 || a->at.y1 > c->frame.y1 + 0.3,
                   loose = a->kind == BOX_INSIDE && !lies_within(c, a->at);
        if (beyond || loose)
            say(to, page, beyond ? "beyond the frame" : "not within its symbol", a->name, "");
        faults += beyond + loose;
        for (int k = i + 1; k < c->box_count; k++) {
            const drawn_box *b = &c->boxes[k];
            if (may_meet(a, b) || !meet(a->at, b->at, 0.05))
                continue;
            say(to, page, "one on the other", a->name, b->name);
            faults++;
        }
    }
    return faults;
}

static int wire_faults(const canvas *c, const char *page, FILE *to)
{
    int faults = 0;
    for (int i = 0; i < c->wire_count; i++) {
        const drawn_wire *w = &c->wires[i];
        const area along = {w->a.x, w->a.y, w->b.x + 1e-9, w->b.y + 1e-9};
        for (int k = 0; k < c->box_count; k++) {
            area box = c->boxes[k].at;
            box = (area){box.x0 + 0.35, box.y0 + 0.35, box.x1 - 0.35, box.y1 - 0.35};
            if (c->boxes[k].kind == BOX_INSIDE || !meet(along, box, 0))
                continue;
            say(to, page, "a wire runs through", c->boxes[k].name, "");
            faults++;
        }
        for (int k = i + 1; k < c->wire_count; k++) {
            const drawn_wire *v = &c->wires[k];
            if (w->net == v->net || !meet((area){w->a.x - 0.2, w->a.y - 0.2, w->b.x + 0.2, w->b.y + 0.2},
                                          (area){v->a.x, v->a.y, v->b.x + 1e-9, v->b.y + 1e-9}, 0))
                continue;
            say(to, page, "wires of two nets touch", "", "");
            faults++;
        }
    }
    return faults;
}

int canvas_faults(const canvas *c, const char *page, FILE *to)
{
    return box_faults(c, page, to) + wire_faults(c, page, to);
}
