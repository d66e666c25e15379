/* What hangs beside a signal on a node that it shares, taken together: a resistor, a voltage and a current.
 */
#ifndef TL_CIRCUIT_CUT_H
#define TL_CIRCUIT_CUT_H

#include "circuit/netlist_internal.h"

/* Least, nominal, largest of each. */
typedef struct {
    int at;            /* the node of the net where it is cut */
    bool *beyond;      /* of each part of the island: it lies beyond that */
    double ohms[3];    /* INFINITY throughout where nothing beyond leads to a rail */
    double volts[3];   /* behind those */
    double amperes[3]; /* that leak in besides */
    double rail;       /* nominal volts of all rails beyond; NAN where there are none */
} cut;

typedef struct {
    const bool *keep;   /* of each node of the net: it must stay */
    const bool *closed; /* of each contact, */
    const bool *free;   /* unless it may be either */
} cut_question;

/* The node at which an island is best cut, so that least is left; false where there is none whose branches
 * can be put together. */
bool cut_find(const tl_island *whole, const cut_question *asked, cut *found);
void cut_free(cut *of);

/* The island that is left, with these parameters of the net in place of the rest (TL_NET_NONE: there is none
 * of it). */
tl_island *cut_make(tl_net *net, const tl_island *whole, const cut *of, int ohms, int volts, int amperes);

/* From now on the bounds of a whole island's volts and source resistances are those of the narrow one, which
 * it owns. */
void island_narrow(tl_island *whole, tl_island *narrow);

#endif
