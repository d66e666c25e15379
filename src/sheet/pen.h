/* SPDX-License-Identifier: MIT */
/* What draws for a canvas, in millimetres: on paper with cairo, or as the text of an SVG drawing. */
#ifndef TL_PEN_H
#define TL_PEN_H

#include <stdbool.h>
#include <stdio.h>

typedef struct {
    double x, y;
} place;

typedef struct {
    double x0, y0, x1, y1;
} area;

typedef enum {
    TYPE_TITLE,
    TYPE_BLOCK,
    TYPE_SIGNAL,
    TYPE_VALUE,
    TYPE_TEXT,
    TYPE_BOLD,
    TYPE_SMALL,
    TYPE_ROW,
    TYPE_TINY
} type;
/* Points, bold, and in millimetres. */
double type_size(type how);
bool type_bold(type how);
double type_height(type how);

typedef enum {
    INK_BLACK,
    INK_GREY,
    INK_PALE,
    INK_WHITE,
    INK_METER,
    INK_BAR,
    BAND_BLACK, /* bands keep their colours on a dark page */
    BAND_BROWN,
    BAND_RED,
    BAND_ORANGE,
    BAND_YELLOW,
    BAND_GREEN,
    BAND_BLUE,
    BAND_VIOLET,
    BAND_GREY,
    BAND_WHITE,
    BAND_GOLD,
    BAND_SILVER,
    INK_NONE
} pen_ink;
typedef struct {
    double red, green, blue;
} pen_colour;
pen_colour ink_colour(pen_ink ink);

typedef enum { SHAPE_LINES, SHAPE_BOX, SHAPE_OVAL } shape_kind;
enum { SHAPE_POINTS = 6 };
typedef struct {
    shape_kind kind;
    place point[SHAPE_POINTS]; /* lines */
    int points;
    bool closed;
    area at; /* box, oval */
    double corner;
    pen_ink fill, stroke; /* INK_NONE: not */
    double width;
    double dash[2]; /* on, off; 0: none */
    bool square;    /* its ends reach half a width further */
} pen_shape;

/* What a part of a drawing stands for. */
typedef enum { MARK_ROW, MARK_CHECK } pen_mark;

typedef struct pen pen;
struct pen {
    double (*width)(pen *p, type how, const char *text);
    /* at: where the baseline begins; upright: it reads upward. */
    void (*text)(pen *p, place at, type how, pen_ink ink, bool upright, const char *text);
    void (*shape)(pen *p, const pen_shape *is);
    /* number > 0: what comes now is the mark of a row or of a checkpoint; 0: it ends. */
    void (*mark)(pen *p, pen_mark mark, int number);
    void (*free)(pen *p);
};

/* Elements of an SVG drawing, for a page whose style says what its classes look like (sheet_drawing.css).
 * NULL: it measures, and draws nothing. */
pen *pen_svg(FILE *to);
/* Text of a plan in SVG and HTML: what they would take for their own is escaped. */
void svg_escape(FILE *to, const char *text);

#endif
