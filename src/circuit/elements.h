/* SPDX-License-Identifier: MIT */
/*
 * The kinds of elements as rows. Whatever visits a net (a steady state, a step in time, the corners and what
 * bounds them) asks the row and knows no kind by name: a new kind is one row here, and its test.
 */
#ifndef TL_ELEMENTS_H
#define TL_ELEMENTS_H

#include "circuit/netlist_internal.h"

/* How a part whose current bends is found by the equations: not there, as it is stamped, or tapering off. */
typedef enum { MODE_DARK, MODE_LIT, MODE_TAPER } element_mode;

/* Which way a level passes from node to node. */
typedef enum { REACH_NONE, REACH_BOTH, REACH_FORWARD } element_reach;

/* What bounds everything in an island; size: the largest magnitude of the element's value. */
typedef struct {
    double ohms, amperes, offsets, gain;
    double low, high; /* every node lies within, once all elements are counted */
} island_extent;

struct element {
    const char *name;
    element_reach reach;
    bool at_rest;  /* its value matters to figures at rest */
    bool has_gain; /* a second value, which scales */
    bool joins;    /* a value of 0 makes one node of two */
    bool pushes;   /* its value is a current from a to b, more of which flows the larger it is */
    bool is_ohms;  /* a relative change of its value acts like a source of all that lies across it */
    bool lopsided; /* what a does to b, b does not do to a */
    bool turns;    /* a lamp: where it conducts or not, the network is another */
    /* Of one whose current bends: how it is, with so much across it; NULL for one that is always there. */
    element_mode (*mode)(double value, double across, element_mode now);
    /* What it adds while it tapers off. */
    void (*taper)(nodal *equations, int a, int b, double value);
    /* Adds conductance and currents between two classes. NULL for none. */
    void (*stamp)(nodal *equations, int a, int b, double value);
    /* Afterwards: takes the row of b over. NULL for none. */
    void (*hold)(nodal *equations, int a, int b, double value, double gain);
    /* From a to b, with this many volts across, NAN where they are not known. NULL for none that counts. */
    double (*amperes)(double value, double volts);
    /* Adds what it stores to the row of each class. NULL for nothing. */
    void (*store)(double *farads, const nodal *equations, int a, int b, double value, double lag);
    /* Counts a value of such a size, or a gain, into what bounds the island. NULL for neither. */
    void (*extend)(island_extent *extent, double size, double gain);
    /* The most that a value's change moves any node, of one that is no resistance. NULL for not at all. */
    double (*moves)(const island_extent *extent, double change);
};

extern const element element_resistor, element_current, element_capacitor, element_follower, element_channel,
    element_tie, element_one_way, element_leak;
extern const double one_way_ohms; /* of one that conducts: so little that it changes no figure */

#endif
