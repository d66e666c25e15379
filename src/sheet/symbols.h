/* SPDX-License-Identifier: MIT */
/* Symbols of IEC 60617 and the sheet's own marks, drawn on a canvas. Upright ones go down from where they
 * begin. */
#ifndef TL_SYMBOLS_H
#define TL_SYMBOLS_H

#include "sheet/canvas.h"

/* The module, in millimetres: a body, its lead, and from a wire to the rail behind both leads. */
#define MODULE 2.5
#define BODY (3 * MODULE)
#define THICK (1.1 * MODULE)
#define LEAD (0.9 * MODULE)
#define REACH (LEAD + BODY + LEAD)
#define TAG_WIDTH 9.5 /* at least, and at most; and the box of the position behind it */
#define TAG_MOST 34
#define TAG_POSITION 6

typedef enum {
    SYMBOL_WIRE, /* none: straight to its rail */
    SYMBOL_RESISTOR,
    SYMBOL_THERMISTOR,
    SYMBOL_VARIABLE, /* a sensor that is a resistance */
    SYMBOL_CAPACITOR,
    SYMBOL_CONTACT,
    SYMBOL_LAMP,
    SYMBOL_DIODE /* its cathode is up */
} symbol;

void resistor_lying(canvas *c, place left, const char *name);
void symbol_upright(canvas *c, symbol which, place top, const char *name);
void ground_draw(canvas *c, place at);
/* A bar with its name, and what it is in small. */
void rail_draw(canvas *c, place at, const char *name, const char *extra);
double rail_width(const canvas *c, const char *name, const char *extra);
void cable_draw(canvas *c, place at);
void arrow_draw(canvas *c, place from, place to);
/* A pin of the board with its position; of another part a hollow one without. The tip is at `at`. out: the
 * tip points to the right. */
void tag_draw(canvas *c, place at, const char *pin, const char *position, bool out);
double tag_length(const canvas *c, const char *pin, const char *position);
/* Where the meter goes: a numbered disc, on a wire; and in a list. */
void check_draw(canvas *c, place at, int number);
void check_disc(canvas *c, place middle, int number);
/* The row of the wiring list, in a little box; 0: none. */
void row_draw(canvas *c, place middle, int number);
/* A resistor with its bands, as words with spaces. */
void bands_draw(canvas *c, place at, const char *words);
/* From a square that has `letter` in it: where a chain goes on. */
void cut_draw(canvas *c, place at, char letter);

#endif
