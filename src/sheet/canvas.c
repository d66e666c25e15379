/* Texts by pango, lines by cairo, each kept with the room that it takes. */
#include "sheet/canvas.h"
#include "base/memory.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

const double wire_width = 0.25, body_width = 0.4, hair_width = 0.12, bar_width = 0.7;
static const double point_mm = 0.3528, text_scale = 100;
static const double turn = 2 * G_PI;

static const struct {
    double size;
    bool bold;
} types[] = {[TYPE_TITLE] = {15, true}, [TYPE_BLOCK] = {13, true},  [TYPE_SIGNAL] = {10, true},
             [TYPE_VALUE] = {8, true},  [TYPE_TEXT] = {7.5, false}, [TYPE_BOLD] = {7.5, true},
             [TYPE_SMALL] = {7, false}, [TYPE_ROW] = {6.5, false},  [TYPE_TINY] = {5.5, false}};

static const double inks[][3] = {
    [INK_BLACK] = {0, 0, 0}, [INK_GREY] = {0.35, 0.35, 0.35}, [INK_PALE] = {0.72, 0.72, 0.72},
    [INK_WHITE] = {1, 1, 1}, [INK_METER] = {0, 0.3, 0.5},     [INK_BAR] = {0.9, 0.9, 0.9}};

canvas *canvas_new(cairo_surface_t *surface, double scale, area frame)
{
    canvas *c = tl_alloc(1, sizeof *c);
    c->c = cairo_create(surface);
    cairo_scale(c->c, scale, scale);
    c->frame = frame;
    c->layout = pango_cairo_create_layout(c->c);
    cairo_font_options_t *plain = cairo_font_options_create();
    cairo_font_options_set_hint_style(plain, CAIRO_HINT_STYLE_NONE);
    cairo_font_options_set_hint_metrics(plain, CAIRO_HINT_METRICS_OFF);
    pango_cairo_context_set_font_options(pango_layout_get_context(c->layout), plain);
    pango_cairo_context_set_resolution(pango_layout_get_context(c->layout), 72);
    cairo_font_options_destroy(plain);
    return c;
}

void canvas_free(canvas *c)
{
    g_object_unref(c->layout);
    cairo_destroy(c->c);
    free(c->boxes);
    free(c->wires);
    free(c);
}

static void ink_set(const canvas *c, pen_ink ink)
{
    cairo_set_source_rgb(c->c, inks[ink][0], inks[ink][1], inks[ink][2]);
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

static void set_text(const canvas *c, type how, const char *text)
{
    PangoFontDescription *font = pango_font_description_new();
    pango_font_description_set_family(font, "DejaVu Sans Condensed");
    pango_font_description_set_absolute_size(font, types[how].size * point_mm * text_scale * PANGO_SCALE);
    pango_font_description_set_weight(font, types[how].bold ? PANGO_WEIGHT_BOLD : PANGO_WEIGHT_NORMAL);
    pango_layout_set_font_description(c->layout, font);
    pango_layout_set_text(c->layout, text, -1);
    pango_font_description_free(font);
}

double text_width(const canvas *c, type how, const char *text)
{
    int width = 0;
    set_text(c, how, text);
    pango_layout_get_size(c->layout, &width, NULL);
    return width / (double)PANGO_SCALE / text_scale;
}

static void show_text(canvas *c, place at, type how, pen_ink ink, const char *text)
{
    set_text(c, how, text);
    cairo_save(c->c);
    cairo_translate(c->c, at.x, at.y);
    cairo_translate(c->c, 0, -pango_layout_get_baseline(c->layout) / (double)PANGO_SCALE / text_scale);
    cairo_scale(c->c, 1 / text_scale, 1 / text_scale);
    ink_set(c, ink);
    pango_cairo_show_layout(c->c, c->layout);
    cairo_restore(c->c);
}

static double before(alignment align, double width)
{
    return align == ALIGN_LEFT ? 0 : align == ALIGN_MIDDLE ? width / 2 : width;
}

double text_at(canvas *c, place at, type how, alignment align, const char *text)
{
    if (text[0] == '\0')
        return 0;
    const double width = text_width(c, how, text), up = types[how].size * point_mm * 0.76,
                 down = types[how].size * point_mm * 0.22, x = at.x - before(align, width);
    show_text(c, (place){x, at.y}, how, INK_BLACK, text);
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
    const double half = text_width(c, fits, cut) / 2, up = types[fits].size * point_mm * 0.76;
    show_text(c, (place){at.x - half, at.y}, fits, ink, cut);
    if (cut[0] != '\0')
        box_keep(c, BOX_INSIDE, cut, (area){at.x - half, at.y - up, at.x + half, at.y});
}

void text_upright(canvas *c, place at, type how, alignment align, const char *text)
{
    const double width = text_width(c, how, text), up = types[how].size * point_mm * 0.76,
                 down = types[how].size * point_mm * 0.22, y = at.y + before(align, width);
    cairo_save(c->c);
    cairo_translate(c->c, at.x, y);
    cairo_rotate(c->c, -turn / 4);
    show_text(c, (place){0, 0}, how, INK_BLACK, text);
    cairo_restore(c->c);
    box_keep(c, BOX_TEXT, text, (area){at.x - up, y - width, at.x + down, y});
}

/* --- lines --- */

void line_draw(canvas *c, place a, place b, double width, pen_ink ink)
{
    cairo_set_line_width(c->c, width);
    cairo_set_line_cap(c->c, CAIRO_LINE_CAP_BUTT);
    ink_set(c, ink);
    cairo_move_to(c->c, a.x, a.y);
    cairo_line_to(c->c, b.x, b.y);
    cairo_stroke(c->c);
}

void frame_draw(canvas *c, area at, double width, double corner)
{
    const double r = corner, w = at.x1 - at.x0, h = at.y1 - at.y0;
    cairo_new_sub_path(c->c);
    if (r > 0) {
        cairo_arc(c->c, at.x0 + w - r, at.y0 + r, r, -turn / 4, 0);
        cairo_arc(c->c, at.x0 + w - r, at.y0 + h - r, r, 0, turn / 4);
        cairo_arc(c->c, at.x0 + r, at.y0 + h - r, r, turn / 4, turn / 2);
        cairo_arc(c->c, at.x0 + r, at.y0 + r, r, turn / 2, 3 * turn / 4);
        cairo_close_path(c->c);
    } else {
        cairo_rectangle(c->c, at.x0, at.y0, w, h);
    }
    ink_set(c, INK_WHITE);
    cairo_fill_preserve(c->c);
    ink_set(c, INK_BLACK);
    cairo_set_line_width(c->c, width);
    cairo_stroke(c->c);
}

void area_fill(canvas *c, area at, pen_ink ink)
{
    ink_set(c, ink);
    cairo_rectangle(c->c, at.x0, at.y0, at.x1 - at.x0, at.y1 - at.y0);
    cairo_fill(c->c);
}

void disc_fill(canvas *c, place at, double radius, pen_ink ink)
{
    ink_set(c, ink);
    cairo_arc(c->c, at.x, at.y, radius, 0, turn);
    cairo_fill(c->c);
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

/* As one stroke where they meet in one line: no bumps. */
void canvas_flush(canvas *c)
{
    cairo_set_line_cap(c->c, CAIRO_LINE_CAP_SQUARE);
    cairo_set_line_width(c->c, wire_width);
    ink_set(c, INK_BLACK);
    for (int i = 0; i < c->wire_count; i++) {
        cairo_move_to(c->c, c->wires[i].a.x, c->wires[i].a.y);
        cairo_line_to(c->c, c->wires[i].b.x, c->wires[i].b.y);
    }
    cairo_stroke(c->c);
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
