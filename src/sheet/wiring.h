/* SPDX-License-Identifier: MIT */
/* The list that one wires by. */
#ifndef TL_WIRING_H
#define TL_WIRING_H

#include "printing/printing.h"

enum { WIRE_END = 64, WIRE_PART = 96, WIRE_PATH = 160 };

/* What a row belongs to, in the order in which a sheet has them: one wires supplies and chips first. */
typedef enum {
    WIRED_SUPPLY,
    WIRED_MUX,
    WIRED_CONVERTER,
    WIRED_MODULE,
    WIRED_SHARED,
    WIRED_SIGNAL,
    WIRED_OUTPUT,
    WIRED_BUS
} wired_kind;

/* What an end is; its name alone does not tell: a supply may be called `output`. */
typedef enum {
    END_POINT,  /* of its group: a leg of what is not a plain part */
    END_BEHIND, /* behind a stage: parts alone meet there */
    END_RAIL,   /* index: of the plan's, TL_TO_GROUND among them */
    END_PIN,    /* of the plan: the board's, or an input of a chip */
    END_CHIP,   /* another pin of a converter: which */
    END_NOWHERE
} end_kind;
typedef struct {
    end_kind kind;
    int index;
    char name[WIRE_END];
} wire_end;

/* One connection: a wire, or a part between two ends. */
typedef struct {
    wired_kind kind;
    int index;            /* of the plan's */
    char group[WIRE_END]; /* its name */
    wire_end from, to;
    char part[WIRE_PART];  /* `wire`, `resistor 47k`, ... */
    char bands[WIRE_PART]; /* of a resistor; empty for none */
    char path[WIRE_PATH];  /* of the part in the plan; empty for a wire */
    char word[40];         /* what it is there for, such as `pull-up`; `wire` */
    char value[40];        /* `47k`; empty for none */
    bool fitted;           /* it came with a module: nothing to do */
} wire;

typedef struct {
    wire *wires;
    int count;
} wiring;

/* In the order of the hands: rails, signals from source to pin, outputs, buses, multiplexers and converters
 * pin by pin, what stays open and what is tied. Free wires. */
wiring wiring_of(const tl_plan *plan);
bool wires_belong_together(const wire *a, const wire *b);

/* Whether two ends are one by what they are called: pins and supplies everywhere, points in their group. */
bool wire_ends_alike(const wire *a, const wire_end *one, const wire *b, const wire_end *other);

/* A rail as an end: called after the board's pin that is it, with its position, or by its name. */
wire_end wiring_rail_end(const tl_plan *plan, int rail);

typedef enum { WIRING_TABLE, WIRING_CSV, WIRING_JSON } wiring_form;
void wiring_print(const tl_plan *plan, wiring_form form);

#endif
