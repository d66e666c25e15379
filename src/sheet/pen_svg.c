/* SPDX-License-Identifier: MIT */
/*
 * Shapes and texts as elements of an SVG drawing. Nothing measures texts here, so every text is given the
 * length that the table says: the browser fits its letters into it, whatever faces it has.
 */
#include "base/memory.h"
#include "sheet/pen.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

typedef struct {
    pen is;
    FILE *to;
} svg_pen;

void svg_escape(FILE *to, const char *text)
{
    for (; *text != '\0'; text++) {
        switch (*text) {
        case '&':
            fputs("&amp;", to);
            break;
        case '<':
            fputs("&lt;", to);
            break;
        case '>':
            fputs("&gt;", to);
            break;
        case '"':
            fputs("&quot;", to);
            break;
        case '\'':
            fputs("&#39;", to);
            break;
        default:
            if ((unsigned char)*text >= ' ') /* no page may hold the others */
                fputc(*text, to);
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
static void add_ink(FILE *to, pen_ink fill, pen_ink stroke)
{
    const pen_colour band = fill != INK_NONE && fill >= BAND_BLACK ? ink_colour(fill) : (pen_colour){0, 0, 0};
    fprintf(to, " class=\"");
    if (fill == INK_NONE)
        fprintf(to, "n");
    else if (fill < BAND_BLACK)
        fprintf(to, "f%s", class_of(fill));
    if (stroke != INK_NONE)
        fprintf(to, " s%s", class_of(stroke));
    fprintf(to, "\"");
    if (fill != INK_NONE && fill >= BAND_BLACK)
        fprintf(to, " fill=\"#%02x%02x%02x\"", (unsigned)lround(255 * band.red),
                (unsigned)lround(255 * band.green), (unsigned)lround(255 * band.blue));
}

static void put_text(pen *is, place at, type how, pen_ink ink, bool upright, const char *text)
{
    FILE *to = ((svg_pen *)is)->to;
    if (to == NULL)
        return;
    fprintf(to, "<text x=\"%.2f\" y=\"%.2f\" font-size=\"%.2f\" textLength=\"%.2f\"", at.x, at.y,
            type_height(how), width_of(is, how, text));
    if (upright)
        fprintf(to, " transform=\"rotate(-90 %.2f %.2f)\"", at.x, at.y);
    fprintf(to, " class=\"f%s%s\">", class_of(ink), type_bold(how) ? " b" : "");
    svg_escape(to, text);
    fprintf(to, "</text>");
}

static void add_lines(FILE *to, const pen_shape *s)
{
    fprintf(to, "<path d=\"");
    for (int i = 0; i < s->points; i++)
        fprintf(to, "%c%.2f %.2f", i == 0 ? 'M' : 'L', s->point[i].x, s->point[i].y);
    fprintf(to, "%s\"", s->closed ? "Z" : "");
}

static void put_shape(pen *is, const pen_shape *s)
{
    FILE *to = ((svg_pen *)is)->to;
    if (to == NULL)
        return;
    const double w = s->at.x1 - s->at.x0, h = s->at.y1 - s->at.y0;
    if (s->kind == SHAPE_LINES)
        add_lines(to, s);
    else if (s->kind == SHAPE_BOX)
        fprintf(to, "<rect x=\"%.2f\" y=\"%.2f\" width=\"%.2f\" height=\"%.2f\" rx=\"%.2f\"", s->at.x0,
                s->at.y0, w, h, s->corner);
    else
        fprintf(to, "<ellipse cx=\"%.2f\" cy=\"%.2f\" rx=\"%.2f\" ry=\"%.2f\"", s->at.x0 + w / 2,
                s->at.y0 + h / 2, w / 2, h / 2);
    add_ink(to, s->fill, s->stroke);
    if (s->stroke != INK_NONE)
        fprintf(to, " stroke-width=\"%.2f\"", s->width);
    if (s->dash[0] > 0)
        fprintf(to, " stroke-dasharray=\"%.1f %.1f\"", s->dash[0], s->dash[1]);
    fprintf(to, "%s/>", s->square ? " stroke-linecap=\"square\"" : "");
}

static void put_mark(pen *is, pen_mark mark, int number)
{
    FILE *to = ((svg_pen *)is)->to;
    if (to == NULL)
        return;
    if (number > 0 && mark == MARK_ROW)
        fprintf(to, "<a href=\"#w%d\" class=\"row\" data-row=\"%d\">", number, number);
    else if (number > 0)
        fprintf(to, "<a href=\"#c%d\" class=\"check\" data-check=\"%d\">", number, number);
    else
        fprintf(to, "</a>");
}

static void free_pen(pen *is)
{
    free(is);
}

pen *pen_svg(FILE *to)
{
    svg_pen *p = tl_alloc(1, sizeof *p);
    p->is = (pen){width_of, put_text, put_shape, put_mark, free_pen};
    p->to = to;
    return &p->is;
}
