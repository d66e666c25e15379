/* SPDX-License-Identifier: MIT */
/* An island in time from inside: its modes, and the matrix of a step that repeats. */
#ifndef TL_TRANSIENT_INTERNAL_H
#define TL_TRANSIENT_INTERNAL_H

#include "circuit/netlist_internal.h"

/* Farads to rails on each row; the caller frees them. */
double *farads_of_rows(const tl_island *island, const nodal *equations);

struct tl_transient {
    nodal *equations; /* the island's, while this is worked out */
    tl_island *island;
    int charged, others; /* rows with and without capacitor */
    bool followers;      /* something passes one way only: the matrix is not symmetric */
    int *row;            /* equations' row of each: the charged first */
    int *place;   /* of each node of the island: which of those it belongs to; TL_NET_NONE for a fixed one */
    int *node_of; /* a node of each charged row */
    double *root_c; /* sqrt of the capacitance of each charged row */
    double *modes;  /* Q, charged x charged, column by column */
    double *back;   /* Q^-1 in the same form */
    int *lone;      /* of each mode: the one row that it moves, by 1; TL_NET_NONE for more than one */
    double *rate;   /* eigenvalues, 1/s */
    double slowest; /* time constant, seconds; 0 for none */
    double *drive;  /* Q^-1 q */
    double *follow; /* G22^-1 G21, others x charged, column by column */
    double *offset; /* G22^-1 i2, of floating rows */
    double *rest;   /* volts of every node in the end; 0 for floating ones */
    bool *floats;   /* of every node: nothing defines its rest */
    bool any_floats;
    int *group;  /* of nodes that float: the lowest that is connected to it */
    double *aim; /* where the rest will be at the end of the next step */
    bool moves;  /* aim differs from rest */
    int *anchor; /* of every row without capacitor: a node of its group that keeps its volts, where nothing
                    else defines the group; else TL_NET_NONE */
    double *scratch; /* 3 x charged */
    /* for steps of one length, which come again and again: */
    double kept_seconds;
    int kept_uses;       /* steps of that length since */
    bool has_matrix;     /* kept and gone, and since the second step of that length the matrices */
    double *kept, *gone; /* of each mode exp(-l t), and the integral of it over the step */
    double *carry;       /* what each charged row leaves in each, column by column */
    double *respond;     /* what a steady drive of each, in volts a second, makes of each */
    double *push;        /* what the floating rows' own drive makes of each */
    /* parameters that move: rest = rest_at + sum of slope x d + bend x d^2, d = value - tracked_at */
    int tracked_count;
    int *tracked;
    double *tracked_at, *slope, *bend, *rest_at;
};

/* All of it but its modes; NULL where there is no solution. */
tl_transient *transient_begin(tl_island *island, const tl_net_state *state);
/* The matrix of the motion, into the modes' room. */
void transient_fill_motion(tl_transient *t);

#endif
