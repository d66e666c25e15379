/* SPDX-License-Identifier: MIT */
/* Shapes by cairo, texts by pango. */
#include "sheet/pen_cairo.h"
#include "base/memory.h"
#include <pango/pangocairo.h>
#include <stdlib.h>

static const double text_scale = 100, turn = 2 * G_PI;

typedef struct {
    pen is;
    cairo_t *c;
    PangoLayout *layout;
} cairo_pen;

static void set_text(const cairo_pen *p, type how, const char *text)
{
    PangoFontDescription *font = pango_font_description_new();
    pango_font_description_set_family(font, "DejaVu Sans Condensed");
    pango_font_description_set_absolute_size(font, type_height(how) * text_scale * PANGO_SCALE);
    pango_font_description_set_weight(font, type_bold(how) ? PANGO_WEIGHT_BOLD : PANGO_WEIGHT_NORMAL);
    pango_layout_set_font_description(p->layout, font);
    pango_layout_set_text(p->layout, text, -1);
    pango_font_description_free(font);
}

static double width_of(pen *is, type how, const char *text)
{
    const cairo_pen *p = (cairo_pen *)is;
    int width = 0;
    set_text(p, how, text);
    pango_layout_get_size(p->layout, &width, NULL);
    return width / (double)PANGO_SCALE / text_scale;
}

static void ink_set(const cairo_pen *p, pen_ink ink)
{
    const pen_colour is = ink_colour(ink);
    cairo_set_source_rgb(p->c, is.red, is.green, is.blue);
}

static void put_text(pen *is, place at, type how, pen_ink ink, bool upright, const char *text)
{
    const cairo_pen *p = (cairo_pen *)is;
    set_text(p, how, text);
    cairo_save(p->c);
    cairo_translate(p->c, at.x, at.y);
    if (upright)
        cairo_rotate(p->c, -turn / 4);
    cairo_translate(p->c, 0, -pango_layout_get_baseline(p->layout) / (double)PANGO_SCALE / text_scale);
    cairo_scale(p->c, 1 / text_scale, 1 / text_scale);
    ink_set(p, ink);
    pango_cairo_show_layout(p->c, p->layout);
    cairo_restore(p->c);
}

static void box_path(cairo_t *c, area at, double r)
{
    cairo_new_sub_path(c);
    if (r > 0) {
        cairo_arc(c, at.x1 - r, at.y0 + r, r, -turn / 4, 0);
        cairo_arc(c, at.x1 - r, at.y1 - r, r, 0, turn / 4);
        cairo_arc(c, at.x0 + r, at.y1 - r, r, turn / 4, turn / 2);
        cairo_arc(c, at.x0 + r, at.y0 + r, r, turn / 2, 3 * turn / 4);
        cairo_close_path(c);
    } else {
        cairo_rectangle(c, at.x0, at.y0, at.x1 - at.x0, at.y1 - at.y0);
    }
}

static void oval_path(cairo_t *c, area at)
{
    cairo_save(c);
    cairo_translate(c, (at.x0 + at.x1) / 2, (at.y0 + at.y1) / 2);
    cairo_scale(c, (at.x1 - at.x0) / 2, (at.y1 - at.y0) / 2);
    cairo_new_sub_path(c);
    cairo_arc(c, 0, 0, 1, 0, turn);
    cairo_restore(c);
}

static void put_shape(pen *is, const pen_shape *s)
{
    const cairo_pen *p = (cairo_pen *)is;
    if (s->kind == SHAPE_BOX)
        box_path(p->c, s->at, s->corner);
    else if (s->kind == SHAPE_OVAL)
        oval_path(p->c, s->at);
    for (int i = 0; s->kind == SHAPE_LINES && i < s->points; i++)
        (i == 0 ? cairo_move_to : cairo_line_to)(p->c, s->point[i].x, s->point[i].y);
    if (s->kind == SHAPE_LINES && s->closed)
        cairo_close_path(p->c);
    if (s->fill != INK_NONE) {
        ink_set(p, s->fill);
        cairo_fill_preserve(p->c);
    }
    if (s->stroke != INK_NONE) {
        ink_set(p, s->stroke);
        cairo_set_line_width(p->c, s->width);
        cairo_set_line_cap(p->c, s->square ? CAIRO_LINE_CAP_SQUARE : CAIRO_LINE_CAP_BUTT);
        cairo_set_dash(p->c, s->dash, s->dash[0] > 0 ? 2 : 0, 0);
        cairo_stroke_preserve(p->c);
    }
    cairo_new_path(p->c);
}

/* On paper nothing can be followed. */
static void put_mark(pen *is, pen_mark mark, int number)
{
    (void)is;
    (void)mark;
    (void)number;
}

static void free_pen(pen *is)
{
    cairo_pen *p = (cairo_pen *)is;
    g_object_unref(p->layout);
    cairo_destroy(p->c);
    free(p);
}

pen *pen_cairo(cairo_surface_t *surface, double scale)
{
    cairo_pen *p = tl_alloc(1, sizeof *p);
    p->is = (pen){width_of, put_text, put_shape, put_mark, free_pen};
    p->c = cairo_create(surface);
    cairo_set_source_rgb(p->c, 1, 1, 1);
    cairo_paint(p->c);
    cairo_scale(p->c, scale, scale);
    p->layout = pango_cairo_create_layout(p->c);
    cairo_font_options_t *plain = cairo_font_options_create();
    cairo_font_options_set_hint_style(plain, CAIRO_HINT_STYLE_NONE);
    cairo_font_options_set_hint_metrics(plain, CAIRO_HINT_METRICS_OFF);
    pango_cairo_context_set_font_options(pango_layout_get_context(p->layout), plain);
    pango_cairo_context_set_resolution(pango_layout_get_context(p->layout), 72);
    cairo_font_options_destroy(plain);
    return &p->is;
}
