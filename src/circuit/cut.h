/* SPDX-License-Identifier: MIT */
/* What else is connected to a shared node of a signal, taken together: a resistor, a voltage and a current.
 */
#ifndef TL_CUT_H
#define TL_CUT_H

#include "circuit/netlist_internal.h"
#include <stdint.h>

enum { CUT_WAYS_MOST = 4 };

/* All branches that are connected to one rail, side by side; least, nominal and largest of each. */
typedef struct {
    double ohms[3];  /* INFINITY where nothing may lead to a rail */
    double volts[3]; /* behind those, where they are not the rail's */
    int rail;        /* of the net; TL_NET_NONE for branches between rails, or with a drop on the way */
} cut_way;

typedef struct {
    int at;       /* the node of the net where it is cut */
    bool *beyond; /* of each part of the island: it lies beyond that */
    cut_way ways[CUT_WAYS_MOST];
    int way_count;
    double amperes[3]; /* that leak in, too */
    bool is_at_rest;   /* with everything nominal it acts as what it stands for, however rails move, */
    bool is_in_time;   /* and in time as well */
} cut;

/* What one branch shows: least, nominal and largest. */
typedef struct {
    uint64_t key; /* of its parts, and of what its contacts may do */
    bool usable;
    double amperes[3], ohms[3], volts[3];
    int rail; /* the one that it is connected to; TL_NET_NONE where they are more, or a drop is on the way */
    bool between; /* rails of different volts */
    bool drives;  /* something sends a current through it */
    bool stores;  /* it has a capacitor */
} cut_branch;

/* Branches that were looked at: neighbours of one signal are mostly those of the next. */
typedef struct {
    cut_branch *of;
    int count;
} cut_memory;

typedef struct {
    cut_memory *memory;
    const bool *keep;   /* of each node of the net: it must stay */
    const bool *closed; /* of each contact, */
    const bool *free;   /* unless it may be either */
} cut_question;

/* cut_branch.c: what a branch of these parts shows at a node of the net, looked at once. */
const cut_branch *cut_look(const cut_question *asked, const tl_island *whole, int at, const int *parts,
                           int count);
/* An island of chosen parts, its nodes in the whole island's order. */
tl_island *island_of_parts(const tl_net *net, const tl_island *whole, const int *parts, int count);
/* Whether what happens at one end of a part is felt at the other. */
bool cut_couples(const net_part *part);

/* The node at which an island is best cut, so that least is left; false where there is none whose branches
 * can be put together. */
bool cut_find(const tl_island *whole, const cut_question *asked, cut *found);
void cut_free(cut *of);

/* The island that is left, with these parameters of the net in place of each way and of the leakage
 * (TL_NET_NONE: there is none of it). */
tl_island *cut_make(tl_net *net, const tl_island *whole, const cut *of, const int *ohms, const int *volts,
                    int amperes);

/* From now on the bounds of a whole island's volts and source resistances are those of the narrow one, which
 * it owns; and whatever else the cut says. */
void island_narrow(tl_island *whole, tl_island *narrow, const cut *by);

#endif
