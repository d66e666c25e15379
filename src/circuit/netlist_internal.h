/* SPDX-License-Identifier: MIT */
/* The netlist from inside: nodes, parts, parameters and contacts as rows, and what an island keeps of them.
 */
#ifndef TL_NETLIST_INTERNAL_H
#define TL_NETLIST_INTERNAL_H

#include "circuit/netlist.h"

typedef struct element element; /* what kind it is: elements.h */

typedef struct {
    char *name;
    const element *is;
    int a, b;
    tl_net_value value;
    tl_net_value gain; /* of a follower */
    double lag;        /* of the same: its time constant; 0 for none */
    tl_net_condition gate;
    int contact;
    tl_net_view view, gate_view; /* where it is, and where its gate counts */
    bool left_out;               /* no island has it */
    int open_fault; /* while this contact is closed, the part is not there; TL_NET_NONE for none */
    int next_at[2]; /* the next part at node a, and at node b; TL_NET_NONE at the end */
} net_part;

typedef struct {
    char *name;
    bool is_rail;
    tl_net_value volts;
    int first_part; /* of those that are connected to it */
} net_node;

typedef struct {
    char *name;
    double low, nominal, high;
    bool searched;
} net_param;

typedef struct {
    int nodes, parts, params, contacts;
} net_counts;

struct tl_net {
    net_node *nodes;
    net_part *parts;
    net_param *params;
    char **contacts;
    bool *routes; /* of each contact */
    int node_count, part_count, param_count, contact_count;
    tl_net_view view; /* of what is added next */
    net_counts lent;  /* of a copy: how many names are the original's */
};

/* An island: its own nodes first (0 .. size-1), then the rails it touches. Parts speak in these local
 * numbers. */
typedef struct {
    int part; /* in the net */
    int a, b; /* local */
    /* What island_complete() finds out: nothing ever takes it away; its value is a number, or one parameter
     * times a number. */
    bool always, simple;
    int param;
    double times;
} island_part;

/* A part that counts at rest while the contacts are kept as they are. */
typedef struct {
    int part;   /* of the island */
    bool plain; /* there whatever the solution, and simple: `times`, or this many times a parameter */
    bool joins;
    int param;
    double times;
} active_part;

/* A part that adds something to the equations, between two classes. */
typedef struct {
    int part; /* of the island */
    const element *is;
    int a, b;         /* classes */
    int row_a, row_b; /* their rows, or TL_NET_NONE */
} nodal_stamp;

/*
 * The equations of one state. Nodes joined by zero ohms share a class; a class is fixed (it holds a rail),
 * free (an unknown), or floating (no resistance leads from it to a rail). The arrays have room for any state
 * of their island.
 */
typedef struct {
    int *class_of;        /* of each local node */
    int *row_of;          /* row of each class, or TL_NET_NONE when fixed or floating */
    bool *fixed;          /* of each class */
    double *value;        /* of each part in this state */
    bool *present;        /* whether it is there */
    bool *joined;         /* whether it makes one node of two */
    bool filled, in_time; /* classes and rows are those of `present` and `joined`, of such a filling */
    bool *held;           /* of each class: a follower's output */
    unsigned char *mode;  /* of each part whose current bends: element_mode, */
    bool *held_mode;      /* and it stays so whatever is across it */
    bool *reached;        /* scratch: classes that a resistance connects to a fixed one */
    double *volts;        /* of each fixed class */
    double *matrix;       /* rows x rows conductances, column by column */
    double *injected;     /* amperes into each row from fixed classes and current sources; solved: volts */
    int *pivots;
    int *first;          /* of each row: the first column that something stands in */
    nodal_stamp *stamps; /* parts that are there and join nothing */
    int stamp_count;
    int rows;
    bool lopsided;  /* some present part is */
    bool followers; /* some present part is one */
    bool no_taper;  /* leaks that taper off are not there */
    bool all_lit;   /* parts whose current bends conduct whatever is across them */
} nodal;

struct tl_island {
    const tl_net *net;
    tl_net_view view;
    int *nodes; /* net number of each local node, rails included */
    int *local; /* local number of each net node, or TL_NET_NONE */
    int size, rails;
    int node_count;                      /* of the net when it was made: it may have more now */
    tl_island *narrow;                   /* instead of it for bounds; NULL: itself */
    bool narrow_at_rest, narrow_in_time; /* it acts as the whole does, all else nominal; over time as well */
    island_part *parts;
    int part_count;
    int *active; /* parts that count at rest: those that store, or only tie, are not among them */
    int active_count;
    active_part *kept; /* those of them that are there, while contacts are kept as they are */
    int kept_count;
    bool keeps;
    int *bends; /* parts whose current bends: which of them are there is found with the solution */
    int bend_count;
    int *params; /* that any figure at rest depends on */
    int param_count;
    nodal work;    /* lent to one question after the other */
    nodal in_time; /* lent to one state in time after the other as it is worked out; none before the first */
    double *right; /* scratch: right-hand sides, size x TL_FIGURES_MOST + 1 */
};

/* What follows is asked of every part in every corner, so it stands where the compiler can fold it. */

static inline double value_at(const tl_net_value *value, const double *values)
{
    const double first = value->first == TL_NET_NONE ? 1 : values[value->first];
    const double second = value->second == TL_NET_NONE ? 1 : values[value->second];
    const double extra = value->extra == 0             ? 0
                         : value->third == TL_NET_NONE ? value->extra
                                                       : value->extra * values[value->third];
    return value->factor * first * (value->constant + value->slope * second) + extra;
}

static inline bool in_view(tl_net_view of, tl_net_view view)
{
    return of == TL_VIEW_BOTH || view == TL_VIEW_BOTH || of == view;
}

static inline bool part_present(const net_part *part, tl_net_view view, const tl_net_state *state)
{
    if (part->open_fault != TL_NET_NONE && state->closed[part->open_fault])
        return false;
    return part->gate == TL_WHEN_ALWAYS || !in_view(part->gate_view, view) ||
           state->closed[part->contact] == (part->gate == TL_WHEN_CLOSED);
}

/* A part of an island, in the net. */
static inline const net_part *net_part_of(const tl_island *island, int i)
{
    return &island->net->parts[island->parts[i].part];
}

/* The bounds of figures of this very island: bounds.c. */
tl_net_status island_bounds(tl_island *island, const bool *closed, const tl_figure *figures, int count,
                            tl_bounds *bounds);
/* The same of a source resistance where it needs no corners; TL_NET_TOO_WIDE where it does. */
tl_net_status island_ohms(tl_island *island, const bool *closed, const tl_figure *figure, tl_bounds *bounds);
/* Whatever follows from nodes and parts. */
void island_complete(tl_island *island);

void nodal_alloc(nodal *equations, const tl_island *island);
void nodal_free(nodal *equations);
/* in_time: floating classes stay as rows then (their matrix is singular). */
tl_net_status nodal_fill(nodal *equations, const tl_island *island, const tl_net_state *state, bool in_time);
/* Turns over what is not as the solution of this state has it; false where all is. all: else the first alone.
 */
bool nodal_turn(tl_island *island, const tl_net_state *state, bool all);
enum { TURNS_TOGETHER = 8 }; /* so often; then one after the other */
/* The most rounds that it can take. */
int nodal_rounds(const tl_island *island);
/* Solves in place for the injected column and more columns behind it: right holds 1 + more of them. */
tl_net_status nodal_solve(nodal *equations, double *right, int more);
/* In place, for a symmetric matrix that stays positive; first: of each row the first column that something
 * stands in. False where it does not stay so. */
bool envelope_solve(double *matrix, const long *start, const int *first, int rows, double *right,
                    int columns);
bool class_defined(const nodal *equations, int cls);
double class_volts(const nodal *equations, int cls);

#endif
