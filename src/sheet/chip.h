/* SPDX-License-Identifier: MIT */
/* A multiplexer, a converter or a module as a box with its pins, as the wiring list has them. */
#ifndef TL_CHIP_H
#define TL_CHIP_H

#include "sheet/chain.h"

enum { CHIP_PINS = 96 };

typedef struct {
    char name[CHAIN_WORD];
    char end[CHAIN_WORD]; /* what is connected */
    char position[8];     /* of a pin of the board */
    int row;
    bool right, open; /* open: nothing is connected */
} chip_pin;

typedef struct {
    char title[CHAIN_WORD], note[CHAIN_WORD];
    char supply[CHAIN_WORD]; /* its rail; empty */
    bool grounded;
    int supply_row, ground_row;
    chip_pin pins[CHIP_PINS];
    int count;
    double left, inside, right; /* widths: what stands at its left, the box, and at its right */
} chip;

/* Of a kind of row, WIRED_MUX, WIRED_CONVERTER or WIRED_MODULE; false: nothing of it is in the list. */
bool chip_of(const chain_maker *m, wired_kind kind, int index, chip *is);
/* The whole width. */
double chip_measure(const canvas *c, chip *is);
/* Above and below the middle of its first pins. */
double chip_up(const chip *is);
double chip_down(const chip *is);
/* at: its left end, at the height of its first pins. */
void chip_draw(canvas *c, const chip *is, place at);

#endif
