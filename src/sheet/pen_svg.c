/*
 * Shapes and texts as elements of an SVG drawing. Nothing measures texts here, so every text is given the
 * length that the table says: the browser fits its letters into it, whatever faces it has.
 */
#include "base/memory.h"
#include "sheet/pen.h"
#include <math.h>
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

typedef struct {
    pen is;
    drawn_text *to;
} svg_pen;

void drawn_add(drawn_text *to, const char *format, ...)
{
    va_list args, again;
    va_start(args, format);
    va_copy(again, args);
    const size_t more = (size_t)vsnprintf(NULL, 0, format, args);
    va_end(args);
    if (to->length + more + 1 > to->room) {
        const size_t room = 2 * (to->length + more + 1);
        char *text = tl_alloc(room, 1);
        if (to->length > 0)
            memcpy(text, to->text, to->length);
        free(to->text);
        to->text = text;
        to->room = room;
    }
    (void)vsnprintf(to->text + to->length, more + 1, format, again);
    va_end(again);
    to->length += more;
}

void drawn_add_escaped(drawn_text *to, const char *text)
{
    for (; *text != '\0'; text++) {
        switch (*text) {
        case '&':
            drawn_add(to, "&amp;");
            break;
        case '<':
            drawn_add(to, "&lt;");
            break;
        case '>':
            drawn_add(to, "&gt;");
            break;
        case '"':
            drawn_add(to, "&quot;");
            break;
        case '\'':
            drawn_add(to, "&#39;");
            break;
        default:
            if ((unsigned char)*text >= ' ') /* no page may hold the others */
                drawn_add(to, "%c", *text);
        }
    }
}

/* Of a condensed sans face, in thousandths of its size: from the space on; plain and bold. */
static const short widths[2][95] = {
    {286, 360, 414, 754, 572, 855, 702, 247, 351, 351, 450, 754, 286, 325, 286, 303, 572, 572, 572,
     572, 572, 572, 572, 572, 572, 572, 303, 303, 754, 754, 754, 478, 900, 615, 617, 628, 693, 568,
     518, 697, 677, 265, 265, 590, 501, 776, 673, 708, 542, 708, 625, 571, 549, 659, 615, 890, 616,
     549, 616, 351, 303, 351, 754, 450, 450, 551, 571, 495, 571, 554, 316, 571, 570, 250, 250, 521,
     250, 876, 570, 550, 571, 571, 370, 469, 353, 570, 532, 736, 532, 532, 472, 572, 303, 572, 754},
    {313, 410, 469, 754, 626, 901, 785, 275, 411, 411, 470, 754, 342, 374, 342, 329, 626, 626, 626,
     626, 626, 626, 626, 626, 626, 626, 360, 360, 754, 754, 754, 522, 900, 696, 686, 660, 747, 615,
     615, 738, 753, 334, 334, 697, 573, 896, 753, 765, 659, 765, 693, 648, 614, 730, 696, 993, 694,
     651, 652, 411, 329, 411, 754, 450, 450, 607, 644, 533, 644, 610, 391, 644, 641, 308, 308, 598,
     308, 938, 641, 618, 644, 644, 444, 536, 430, 641, 586, 831, 580, 586, 523, 641, 329, 641, 754}};
enum { OTHER_LETTERS = 760 };

static double width_of(pen *is, type how, const char *text)
{
    double sum = 0;
    (void)is;
    for (const unsigned char *c = (const unsigned char *)text; *c != '\0'; c++) {
        if (*c >= ' ' && *c < 127)
            sum += widths[type_bold(how)][*c - ' '];
        else if ((*c & 0xc0) != 0x80)
            sum += OTHER_LETTERS;
    }
    return sum / 1000 * type_height(how);
}

static const char *class_of(pen_ink ink)
{
    static const char *const names[] = {"k", "g", "p", "w", "m", "r"};
    return ink < BAND_BLACK ? names[ink] : NULL;
}

/* `what`: f for filled, s for drawn along; of the page's style, but for bands, which keep their colours. */
static void add_ink(drawn_text *to, pen_ink fill, pen_ink stroke)
{
    const pen_colour band = fill != INK_NONE && fill >= BAND_BLACK ? ink_colour(fill) : (pen_colour){0, 0, 0};
    drawn_add(to, " class=\"");
    if (fill == INK_NONE)
        drawn_add(to, "n");
    else if (fill < BAND_BLACK)
        drawn_add(to, "f%s", class_of(fill));
    if (stroke != INK_NONE)
        drawn_add(to, " s%s", class_of(stroke));
    drawn_add(to, "\"");
    if (fill != INK_NONE && fill >= BAND_BLACK)
        drawn_add(to, " fill=\"#%02x%02x%02x\"", (unsigned)lround(255 * band.red),
                  (unsigned)lround(255 * band.green), (unsigned)lround(255 * band.blue));
}

static void put_text(pen *is, place at, type how, pen_ink ink, bool upright, const char *text)
{
    drawn_text *to = ((svg_pen *)is)->to;
    drawn_add(to, "<text x=\"%.2f\" y=\"%.2f\" font-size=\"%.2f\" textLength=\"%.2f\"", at.x, at.y,
              type_height(how), width_of(is, how, text));
    if (upright)
        drawn_add(to, " transform=\"rotate(-90 %.2f %.2f)\"", at.x, at.y);
    drawn_add(to, " class=\"f%s%s\">", class_of(ink), type_bold(how) ? " b" : "");
    drawn_add_escaped(to, text);
    drawn_add(to, "</text>");
}

static void add_lines(drawn_text *to, const pen_shape *s)
{
    drawn_add(to, "<path d=\"");
    for (int i = 0; i < s->points; i++)
        drawn_add(to, "%c%.2f %.2f", i == 0 ? 'M' : 'L', s->point[i].x, s->point[i].y);
    drawn_add(to, "%s\"", s->closed ? "Z" : "");
}

static void put_shape(pen *is, const pen_shape *s)
{
    drawn_text *to = ((svg_pen *)is)->to;
    const double w = s->at.x1 - s->at.x0, h = s->at.y1 - s->at.y0;
    if (s->kind == SHAPE_LINES)
        add_lines(to, s);
    else if (s->kind == SHAPE_BOX)
        drawn_add(to, "<rect x=\"%.2f\" y=\"%.2f\" width=\"%.2f\" height=\"%.2f\" rx=\"%.2f\"", s->at.x0,
                  s->at.y0, w, h, s->corner);
    else
        drawn_add(to, "<ellipse cx=\"%.2f\" cy=\"%.2f\" rx=\"%.2f\" ry=\"%.2f\"", s->at.x0 + w / 2,
                  s->at.y0 + h / 2, w / 2, h / 2);
    add_ink(to, s->fill, s->stroke);
    if (s->stroke != INK_NONE)
        drawn_add(to, " stroke-width=\"%.2f\"", s->width);
    if (s->dash[0] > 0)
        drawn_add(to, " stroke-dasharray=\"%.1f %.1f\"", s->dash[0], s->dash[1]);
    drawn_add(to, "%s/>", s->square ? " stroke-linecap=\"square\"" : "");
}

static void put_mark(pen *is, pen_mark mark, int number)
{
    drawn_text *to = ((svg_pen *)is)->to;
    if (number > 0 && mark == MARK_ROW)
        drawn_add(to, "<a href=\"#w%d\" class=\"row\" data-row=\"%d\">", number, number);
    else if (number > 0)
        drawn_add(to, "<a href=\"#c%d\" class=\"check\" data-check=\"%d\">", number, number);
    else
        drawn_add(to, "</a>");
}

static void free_pen(pen *is)
{
    free(is);
}

pen *pen_svg(drawn_text *to)
{
    svg_pen *p = tl_alloc(1, sizeof *p);
    p->is = (pen){width_of, put_text, put_shape, put_mark, free_pen};
    p->to = to;
    return &p->is;
}
