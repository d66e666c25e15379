/* SPDX-License-Identifier: MIT */
/* `new board --supply .. --bits ..`: a whole board by what is known of it. */
#ifndef TL_NEW_BOARD_H
#define TL_NEW_BOARD_H

#include "tinyladder/design/quantity.h"
#include <stdio.h>

/* What was typed; NULL, or -1, for what was not. */
typedef struct {
    const char *title, *supply, *reference; /* as a plan has them */
    long bits, analog, digital;
} new_board;

/* Writes the file; every value that was not typed is marked, and named in its list `template`. */
void new_board_write(FILE *to, const new_board *b);

#endif
