/* SPDX-License-Identifier: MIT */
/* The circuits of a sheet, one drawing each. */
#ifndef TL_DRAWINGS_H
#define TL_DRAWINGS_H

#include "sheet/chip.h"
#include "sheet/sheet.h"
#include "sheet/strip.h"

typedef struct {
    chain is;
    chip *chip;         /* or a chip; NULL */
    int signal, output; /* of the plan; TL_NONE */
    double width;
    strip_room room;
} drawing;

typedef struct {
    drawing *list;
    int count;
} drawings;

/* In the order of the sheet, measured with its canvas: signals, nodes that they share, chips, outputs. */
drawings drawings_of(sheet *s);
void drawings_free(drawings *all);
const char *drawing_title(const drawing *d);
/* Of its rows, when it is so wide. */
double drawing_height(const sheet *s, const drawing *d, double width);
/* y: of its first line. */
void drawing_draw(sheet *s, const drawing *d, double x, double y, double width);
/* What stands beside its name. */
void drawing_note(const drawing *d, char note[160]);

#endif
