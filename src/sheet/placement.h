/* SPDX-License-Identifier: MIT */
/*
 * Where the ends of parts and wires go on a plug-in board: a strip is a node, parts lie between strips or
 * between a strip and a supply rail, and nothing lies on anything.
 */
#ifndef TL_PLACEMENT_H
#define TL_PLACEMENT_H

#include "sheet/wiring.h"

typedef enum {
    HOLE_NONE, /* not on the plug-in board: a pin of the header, a chip, a sensor */
    HOLE_STRIP,
    HOLE_RAIL
} hole_kind;

typedef struct {
    hole_kind kind;
    int board, half, column; /* from 0 on; half 1 is the lower one */
    int row;                 /* of a strip, from its supply rails inward; of rails which of a side */
} hole;

/* A wire or part between two holes. */
typedef struct {
    hole from, to;
    bool lies;     /* a part with a body: along a row, or from the outermost row to a rail */
    char what[64]; /* of a link or a lead: what it joins */
} placed;

typedef struct {
    placed *rows; /* of each row of the list */
    int count;
    placed *links; /* further wires: strips that are one node, supplies to their rails */
    int link_count;
    placed *leads; /* where legs of what is not on the board go: `from` alone */
    int lead_count;
    int boards;
    wire_end rail[2][2]; /* what each rail of each side is, the outer one first; END_NOWHERE: unused */
} placement;

/* For a plan that names a plug-in board. To be freed with placement_free(). */
placement placement_of(const tl_plan *plan, const wiring *list);
void placement_free(placement *of);
/* `e12`, `2:e12` where there are several boards, `+5`, `-5`, and below the groove `+5'`; empty. */
void hole_in_words(const placement *of, const tl_plug_in *on, const hole *at, char text[16]);

#endif
