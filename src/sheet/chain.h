/* SPDX-License-Identifier: MIT */
/* A signal or an output as cells on a line, from its source to its pin: what the drawing is made of. */
#ifndef TL_CHAIN_H
#define TL_CHAIN_H

#include "model/parts.h"
#include "sheet/symbols.h"
#include "sheet/wiring.h"

enum { CELLS_MOST = 40, CHAIN_WORD = 64 };

/* From the line up to a rail, or down to one. */
typedef struct {
    bool used;
    symbol symbol;
    char value[CHAIN_WORD], name[CHAIN_WORD];
    int row;                  /* of the wiring list; 0: none */
    char rail[CHAIN_WORD];    /* empty: ground */
    char extra[CHAIN_WORD];   /* beside the rail's name */
    char contact[CHAIN_WORD]; /* a contact behind the part; empty */
} branch;

typedef enum { CELL_SERIES, CELL_NODE, CELL_CABLE, CELL_TRACK, CELL_BOX } cell_kind;

typedef struct {
    cell_kind kind;
    char value[CHAIN_WORD], name[CHAIN_WORD];
    int row;
    branch up, down; /* of a node; of a track or a box its rails alone */
    double width, left, own;
    int check; /* behind it; 0: none */
    bool ends; /* nothing goes on behind it */
} cell;

typedef struct {
    cell cells[CELLS_MOST];
    int count;
    char title[CHAIN_WORD], note[CHAIN_WORD];
    char tag[CHAIN_WORD], position[8]; /* where it ends, or begins: empty where the board has no such pin */
    bool out;                          /* of an output: it begins at the pin */
    char span[CHAIN_WORD];             /* below the tag */
    int check;                         /* at the pin; 0: none */
    int alike;                         /* this many more are the same, */
    char others[200];                  /* at these pins */
} chain;

/* row: of a part by its path. */
typedef struct {
    const tl_plan *plan;
    const tl_parts *parts;
    const wiring *list;
} chain_maker;

chain chain_of_signal(const chain_maker *m, int signal);
/* The other leg of a bridge; false: it has none. */
bool chain_of_other_leg(const chain_maker *m, int signal, chain *is);
/* A line of a bus from its chips to the pin; false: it is a wire and no more. */
bool chain_of_bus(const chain_maker *m, int bus, int line, chain *is);
/* A node that several signals share, from its rail on; false: it is none, or not in the list. */
bool chain_of_shared(const chain_maker *m, int supply, chain *is);
/* number: of its pins. */
chain chain_of_output(const chain_maker *m, int output, int number);
/* The name of a rail as the drawing has it: the board's pin, or the supply. */
void chain_rail(const tl_plan *plan, int rail, char text[CHAIN_WORD]);
/* Whether both are drawn alike but for their names and pins. */
bool chains_alike(const chain *a, const chain *b);

#endif
