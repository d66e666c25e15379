/* SPDX-License-Identifier: MIT */
/* What the lists of a sheet say, on paper as in a page. */
#ifndef TL_LIST_WORDS_H
#define TL_LIST_WORDS_H

#include "sheet/sheet.h"

/* Whether an end of a wire is a pin of the board that is no supply. */
bool end_is_pin(const sheet *s, const wire_end *end);
/* A pin behind a supply that is not the board's is wired last: the checkpoint that has to be right before;
 * 0. */
int check_before_wire(const sheet *s, const wire *row);
/* `upper resistor 47k` beside its value is `upper`. */
const char *word_beside_value(const wire *row, char text[120]);

#define POWER_OFF_WORDS "Power off; supplies, the board and sensors that give a voltage are not connected"
#define POWER_ON_WORDS "Power on, wires of the pins out of the header"
/* The hole of an end of row i; empty where there is none. */
void hole_of_end(const sheet *s, int i, bool to, char text[16]);

void figure_of_checkpoint(char text[40], double value, bool ohms);

typedef struct {
    char value[40], bands[WIRE_PART];
    int count;
} part_row;

/* What is to be fitted, a value once; free the rows. */
int parts_to_fit(const sheet *s, part_row **rows);
/* How many lie in the drawer; in words. */
void stock_of_part(const sheet *s, const part_row *row, char text[40]);

#endif
