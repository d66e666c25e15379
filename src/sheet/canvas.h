/* SPDX-License-Identifier: MIT */
/*
 * A page to draw on, in millimetres from its upper left corner. It keeps what was drawn: the box of every
 * text and symbol, and every wire with its net, so that a page can be proven to have nothing on anything
 * else.
 */
#ifndef TL_CANVAS_H
#define TL_CANVAS_H

#include "sheet/pen.h"
#include <stdio.h>

typedef enum { ALIGN_LEFT, ALIGN_MIDDLE, ALIGN_RIGHT } alignment;
typedef enum { BOX_TEXT, BOX_SYMBOL, BOX_INSIDE /* has to lie within a symbol */ } box_kind;

enum { BOX_NAME = 80 };
typedef struct {
    box_kind kind;
    char name[BOX_NAME];
    area at;
} drawn_box;

typedef struct {
    place a, b; /* along one axis, a before b */
    int net;
} drawn_wire;

typedef struct {
    pen *with;
    area frame; /* what has to stay inside */
    bool plain; /* without the numbers of rows and checkpoints, where no list is beside it */
    drawn_box *boxes;
    int box_count;
    drawn_wire *wires;
    int wire_count;
    int net, nets;            /* of the wires that are drawn now, and how many there are */
    int net_above, net_below; /* of the leads of an upright symbol */
} canvas;

extern const double wire_width, body_width, hair_width, bar_width;

/* It owns the pen. */
canvas *canvas_new(pen *with, area frame);
void canvas_free(canvas *c);
/* Draws what was kept of wires, and forgets everything: for the next page. */
void canvas_flush(canvas *c);

double text_width(const canvas *c, type how, const char *text);
/* y is the baseline; the width. */
double text_at(canvas *c, place at, type how, alignment align, const char *text);
/* As much of it as there is room for, from the left. */
double text_within(canvas *c, place at, type how, double room, const char *text);
/* In the middle of a symbol, where so much room is: smaller if need be, then cut. */
void text_inside(canvas *c, place at, type how, pen_ink ink, double room, const char *text);
/* Reads upward from `at`, or ends there. */
void text_upright(canvas *c, place at, type how, alignment align, const char *text);
void box_keep(canvas *c, box_kind kind, const char *name, area at);

void line_draw(canvas *c, place a, place b, double width, pen_ink ink);
void frame_draw(canvas *c, area at, double width, double corner);
void frame_dotted(canvas *c, area at, double width);
/* Along its points; filled with INK_NONE: not. */
void outline_draw(canvas *c, const place *points, int count, pen_ink fill, double width);
/* Dashed. */
void oval_draw(canvas *c, area at, double width);
void band_draw(canvas *c, area at, pen_ink ink);
void area_fill(canvas *c, area at, pen_ink ink);
void disc_fill(canvas *c, place at, double radius, pen_ink ink);
/* What is drawn until number 0 stands for this row or checkpoint. */
void mark_draw(canvas *c, pen_mark mark, int number);
/* A wire of the current net. */
void wire_draw(canvas *c, place a, place b);
void dot_draw(canvas *c, place at);

/* What lies on what: says each on `to`, where that is not NULL. How many. */
int canvas_faults(const canvas *c, const char *page, FILE *to);

#endif
