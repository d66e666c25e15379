/* SPDX-License-Identifier: MIT */
/* A chain on paper: how much room it takes, and its drawing. */
#ifndef TL_STRIP_H
#define TL_STRIP_H

#include "sheet/chain.h"

/* Room above and below its line. */
typedef struct {
    double up, down;
} strip_room;

/* Works out the width of every cell; the whole, tag included. */
double strip_measure(const canvas *c, chain *is);
strip_room strip_room_of(const chain *is);
/* The line at the height of `left`; a tag's end is at `right`. */
void strip_draw(canvas *c, const chain *is, place left, double right);

/* One that is wider than this is cut: rows of it, each with the cells from first[i] on. How many; a letter
 * joins their ends. */
enum { STRIP_ROWS_MOST = 12 };
int strip_fold(const canvas *c, const chain *is, double width, int first[STRIP_ROWS_MOST + 1]);
/* A row of a folded one: cells `from` to before `to`. */
void strip_draw_row(canvas *c, const chain *is, place left, double right, const int cells[2]);

#endif
