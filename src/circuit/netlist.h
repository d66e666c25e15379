/* SPDX-License-Identifier: MIT */
/**
 * @file The netlist under a plan: resistors, rails, currents, capacitors, contacts; solved by nodal analysis.
 *
 * Everything that speaks of volts asks this one model: sizing and checking take its worst cases, the
 * simulated bench its values and its steps in time. Rails are ideal nodes; the parts between them fall into
 * islands that do not touch each other, and every question is answered in one island.
 *
 * Host side, double precision.
 */
#ifndef TL_NETLIST_H
#define TL_NETLIST_H

#include "tinyladder/design/bounds.h"
#include <stddef.h>

/** factor * [first] * (constant + slope * [second]) + extra * [third], the brackets meaning the parameter's
 * value, or 1 for TL_NET_NONE; third counts only where extra is not 0. */
typedef struct tl_net_value {
    double factor;
    int first;
    double constant;
    double slope;
    int second;
    double extra;
    int third;
} tl_net_value;

/** A number that nothing changes. */
tl_net_value tl_net_fixed(double number);
/** A parameter's own value. */
tl_net_value tl_net_of(int param);

/**
 * One net, two ways to look at it: as a plan is believed (what guaranteed bounds are asked of: clamps and
 * levels without resistance, states held by the question), and as it is really soldered (what moves in time:
 * clamps, shifters and followers that switch by themselves, pins that drive). Most parts are in both; nodes,
 * parameters and contacts always are.
 */
typedef enum tl_net_view {
    TL_VIEW_BOTH,
    TL_VIEW_BELIEVED,
    TL_VIEW_SOLDERED,
    TL_VIEW_ASIDE /**< in neither: stands for a part of the net in an island that was cut */
} tl_net_view;

tl_net *tl_net_new(void);
/** The same again, to add to: every number means the same in both. The original outlives it, and keeps its
 * names. */
tl_net *tl_net_copy(const tl_net *net);
void tl_net_free(tl_net *net);
/** Parts and conditions that are added from now on are in this view only; in both to begin with. */
void tl_net_set_view(tl_net *net, tl_net_view view);

/** Adds a node; names are copied. Returns its number. */
int tl_net_add_node(tl_net *net, const char *name);
/**
 * Adds a parameter that may lie anywhere in low .. high.
 * @param searched  The figures asked for may be extreme inside the span (a wiper's position), so search there
 * too.
 */
int tl_net_add_param(tl_net *net, const char *name, double low, double nominal, double high, bool searched);
/** Makes a node a rail: an ideal supply at this voltage. */
void tl_net_set_rail(tl_net *net, int node, tl_net_value volts);
/** Adds a contact, open to begin with; parts can depend on it. */
int tl_net_add_contact(tl_net *net, const char *name);

/** Makes a contact a route: what lies behind it while it is open is of no concern to an island along other
 * routes. */
void tl_net_set_route(tl_net *net, int contact);
bool tl_net_is_route(const tl_net *net, int contact);

/** When a part is there at all. */
typedef enum tl_net_condition { TL_WHEN_ALWAYS, TL_WHEN_CLOSED, TL_WHEN_OPEN } tl_net_condition;

/* Parts: each returns the part's number. Ohms >= 0 (0 joins the two nodes), farads > 0 and between a node and
 * a rail. */
int tl_net_add_resistor(tl_net *net, const char *name, int a, int b, tl_net_value ohms);
int tl_net_add_current(tl_net *net, const char *name, int from, int to, tl_net_value amperes);
int tl_net_add_capacitor(tl_net *net, const char *name, int a, int b, tl_net_value farads);
/** What a follower does to the volts that it follows. */
typedef struct tl_net_follower {
    tl_net_value offset; /**< volts, added before the gain */
    tl_net_value gain;   /**< about 1 */
    double lag;          /**< seconds of one pole; 0 for none */
} tl_net_follower;
/** A follower: node `out` has what it makes of the volts of node `in`, whatever is connected to it; `in`
 * gives nothing. */
int tl_net_add_follower(tl_net *net, const char *name, int in, int out, const tl_net_follower *as);
/** Half of a transistor's channel: a current from `a` to `b` of this many volts as `a` has, over these ohms,
 * whatever `b` has. Both halves together are a resistor. */
int tl_net_add_channel(tl_net *net, const char *name, int a, int b, tl_net_value ohms);
/** A drop from `a` to `b`, as a diode or a lamp keeps: conducts that way alone, this many volts lower, and is
 * not there while `a` is less than that above `b`. Each state's solution finds out whether it conducts. */
int tl_net_add_one_way(tl_net *net, const char *name, int a, int b, tl_net_value volts);
/** What leaks from `a` to `b`: this many amperes while `a` is above `b`, and none beyond, so it never takes
 * one past the other; none where the value is below 0. */
int tl_net_add_leak(tl_net *net, const char *name, int a, int b, tl_net_value amperes);
/** Puts two nodes in one island, though nothing joins them: what one does is watched at the other. */
void tl_net_tie(tl_net *net, int a, int b);
/** Leaves all parts at a node out of all islands that are made from now on; an ohmmeter still sees them. */
void tl_net_leave_out_at(tl_net *net, int node);
/** Lets a part come off: it is not there while the contact that this returns is closed, whatever its gate
 * says. */
int tl_net_open_fault(tl_net *net, int part);
/** Takes a part's end off a node, for as long as `contact` is closed: it has a point of its own then, which
 * this returns. Before islands are made of the net. */
int tl_net_take_off(tl_net *net, int part, int node, int contact);
/** Takes a resistor's first end to another node, not that of its second, and gives it this value. */
void tl_net_put_resistor(tl_net *net, int part, int node, double ohms);
/** The parts at a node in a view: their numbers, `most` at most. Returns how many there are. */
int tl_net_parts_at(const tl_net *net, tl_net_view view, int node, int *parts, int most);
const char *tl_net_part_name(const tl_net *net, int part);
bool tl_net_part_in(const tl_net *net, tl_net_view view, int part);
/** Amperes from its a to its b, with this many volts across it and these values of the parameters. */
double tl_net_part_amperes(const tl_net *net, int part, const double *values, double across);
int tl_net_part_count(const tl_net *net);
int tl_net_node_count(const tl_net *net);
/** Which nodes a part joins. */
void tl_net_part_ends(const tl_net *net, int part, int *a, int *b);
/** Whether a value is a parameter and a constant beside it, all other parameters nominal. */
bool tl_net_stands_on(const tl_net *net, tl_net_value value, int param, double *beside);
/**
 * Makes a node of a rail whose volts are a parameter, fed by that through a contact; what stands a fixed
 * voltage from it is connected to the node then. Before islands are made of the net.
 * @return The contact: while it is closed, the supply is cut off.
 */
int tl_net_lift_rail(tl_net *net, int node, int param);
/** What is left of an island that too much is connected to, for the bounds of its volts; else itself. */
tl_island *tl_island_narrow(tl_island *island);
/** Whether a node, or a rail, is in it or touches it; a part. */
bool tl_island_touches(const tl_island *island, int node);
bool tl_island_has_part(const tl_island *island, int part);
/** The smallest island that acts on its signal as this one does with all that is beside it nominal: at rest,
 * or in time as well. */
tl_island *tl_island_view(tl_island *island, bool in_time);
/** Which way a parameter moves the volts of every node of an island as it grows, whatever all others are: 1
 * up, -1 down, 0 where that is not sure. */
int tl_island_push(const tl_island *island, int param);
/** Lets a part be there only while a contact is closed, or open. */
void tl_net_condition_part(tl_net *net, int part, tl_net_condition gate, int contact);

const char *tl_net_node_name(const tl_net *net, int node);
const char *tl_net_param_name(const tl_net *net, int param);
int tl_net_param_count(const tl_net *net);
int tl_net_contact_count(const tl_net *net);
/** A part, or a node, by its name; or TL_NET_NONE. */
int tl_net_find_node(const tl_net *net, const char *name);
int tl_net_find_part(const tl_net *net, tl_net_view view, const char *name);
bool tl_net_is_rail(const tl_net *net, int node);
/** The volts of a rail. */
double tl_net_rail_volts(const tl_net *net, int node, const double *values);
double tl_net_param_nominal(const tl_net *net, int param);
void tl_net_param_span(const tl_net *net, int param, double *low, double *high);
/** Narrows or moves a parameter: the worst case is then asked over the new span. */
void tl_net_set_param(tl_net *net, int param, double low, double nominal, double high);

double tl_net_value_at(tl_net_value value, const double *values);

/** The island around a node that is no rail, in one view. Add all parts first. Free it before the net. */
tl_island *tl_island_new(const tl_net *net, tl_net_view view, int node);
/** The same, as believed, without what lies behind routes that are open here. closed: of every contact. */
tl_island *tl_island_new_along(const tl_net *net, int node, const bool *closed);
void tl_island_free(tl_island *island);

/** What a worst case can be asked of. */
typedef enum tl_figure_kind {
    TL_FIGURE_VOLTS,        /**< of node `of` against node `against`, which is ground where nothing is said */
    TL_FIGURE_SOURCE_OHMS,  /**< seen from node `of`, all sources at rest */
    TL_FIGURE_PART_AMPERES, /**< through part `of`, from its a to its b; the part must not have 0 ohms */
    TL_FIGURE_RAIL_AMPERES, /**< out of rail `of` into this island */
    TL_FIGURE_PART_WATTS,   /**< in resistor `of` */
    TL_FIGURE_SHARE         /**< volts as TL_FIGURE_VOLTS, divided by `less`, a reference above 0 */
} tl_figure_kind;

/** What a circuit can be asked (tl_circuit_ask()), and nothing. */
typedef enum tl_ask_kind {
    TL_ASK_NOTHING,
    TL_ASK_VOLTS,        /**< of a node */
    TL_ASK_SHARE,        /**< volts divided by a reference's, corner by corner */
    TL_ASK_AMPERES,      /**< through a part */
    TL_ASK_WATTS,        /**< in a part */
    TL_ASK_SOURCE_OHMS,  /**< seen from a node */
    TL_ASK_RAIL_AMPERES, /**< out of a rail */
    TL_ASK_EDGE,         /**< seconds from one level to another */
    TL_ASK_SETTLE,       /**< seconds until so little is left of a step, or what is left of it */
    TL_ASK_KEPT          /**< what comes through of a frequency */
} tl_ask_kind;

/** The figure is the kind's value less `less`, so that a limit that follows a rail moves with it. */
typedef struct tl_figure {
    tl_figure_kind kind;
    int of;
    tl_net_value less;
    int against; /**< of the same island, or a rail that it touches */
} tl_figure;

/** Solves one state. @param[out] result  Left untouched unless TL_NET_SOLVED is returned. */
tl_net_status tl_island_figure(tl_island *island, const tl_net_state *state, tl_figure figure,
                               double *result);

/** From now on contacts stay as they are here, whatever a state says of them: many states of other values are
 * solved more quickly so. */
void tl_island_keep_contacts(tl_island *island, const bool *closed);
void tl_island_let_contacts_go(tl_island *island);

enum { TL_FIGURES_MOST = 16 }; /**< this many can be asked at once */

/** Several figures of one state, from one solution. results are undefined unless TL_NET_SOLVED is returned.
 */
tl_net_status tl_island_figures(tl_island *island, const tl_net_state *state, const tl_figure *figures,
                                int count, double *results);

/**
 * The guaranteed extremes of a figure, the contacts being as given.
 *
 * Every corner of the tolerance box is tried: exact for node voltages, branch currents and source resistance
 * in parameters that enter once, since those figures are monotonic in each. A searched parameter is also
 * searched inside its span, on the understanding that the figure has a single extreme there, as a wiper's
 * source resistance has. Where power is asked for, the parameters' corners are exact as long as the sign of
 * the current cannot change.
 *
 * With more than TL_NET_CORNER_PARAMS toleranced parameters, those that move the figure most are tried in
 * every corner and the rest widen the bound by the most that they could do (docs/methods.md). Such a bound is
 * marked `outer`. It exists for volts alone; other figures answer TL_NET_TOO_WIDE then.
 */
tl_net_status tl_island_bounds(tl_island *island, const bool *closed, tl_figure figure, tl_bounds *bounds);

/** The same for several figures at once: every corner is solved only once. bounds: one for each, undefined on
 * a fault. */
tl_net_status tl_island_bounds_all(tl_island *island, const bool *closed, const tl_figure *figures, int count,
                                   tl_bounds *bounds);

/** Voltages of capacitors and of the nodes around them, moving in time. */
typedef struct tl_transient tl_transient;

/** What of a sine that moves a parameter comes to a node: its volts per unit of the parameter, in size;
 * index: of the node, in the island's order. hertz: above 0. */
tl_net_status tl_island_response(tl_island *island, const tl_net_state *state, int param, int index,
                                 double hertz, double *size);

/**
 * Prepares exact steps in time for an island in one state. Its parameters and contacts are held over a step.
 * Where it comes to rest is exact; a mode 1e9 times slower than the fastest keeps about 7 digits of its rate.
 * @return NULL where the state cannot be solved (zero ohms between rails).
 */
tl_transient *tl_transient_new(tl_island *island, const tl_net_state *state);
void tl_transient_free(tl_transient *transient);
/** Whether nothing defines where a node comes to rest; index: in the island's order. */
bool tl_transient_floats(const tl_transient *transient, int index);
bool tl_transient_any_floats(const tl_transient *transient);
/** Whether both float, and something leads from one to the other. */
bool tl_transient_float_together(const tl_transient *transient, int one, int other);
/** The slowest time constant in seconds, capacitors with no way to discharge left out; 0 where there is none.
 */
double tl_transient_slowest(const tl_transient *transient);
/**
 * Moves every node of the island on by this many seconds.
 * @param[in,out] volts  One for each node of the island, in its own order (tl_island_index()).
 *                       Nodes without capacitor follow at once; a node that nothing defines keeps its value.
 */
void tl_transient_step(tl_transient *transient, double seconds, double *volts);

/**
 * Prepares for parameters that move while the contacts stay: where the island comes to rest then follows them
 * in a parabola, which is exact for volts and amperes, and good for ohms over a small way.
 * @param by  How far each is moved, to either side, to find it.
 */
bool tl_transient_track(tl_transient *transient, const tl_net_state *state, const int *params,
                        const double *by, int count);
/** The tracked parameters will have these values when the next step ends, and go there in straight lines. */
void tl_transient_aim(tl_transient *transient, const double *values);
/** They have these values from now on. */
void tl_transient_jump(tl_transient *transient, const double *values);

/** The same from one array to another. */
void tl_transient_step_to(tl_transient *transient, double seconds, const double *from, double *to);
/** Whether every node that comes to rest is there, but for this many volts. */
bool tl_transient_rests(const tl_transient *transient, const double *volts, double within);
/** Moves every node that comes to rest there at once; the others stay. */
void tl_transient_settle(tl_transient *transient, double *volts);

/** How many nodes an island has, and where in its arrays a node of the net stands (TL_NET_NONE if not in it).
 */
int tl_island_size(const tl_island *island);
int tl_island_index(const tl_island *island, int node);
/** The lowest and the highest of its rails, ground among them, with these values. */
void tl_island_rails(const tl_island *island, const double *values, double *lowest, double *highest);
/** The lowest and the highest that any node of it can have, over the whole box of tolerances; proven, not
 * attained.
 */
void tl_island_extent(const tl_island *island, double *low, double *high);
/** Whether any figure of the island depends on this parameter. */
bool tl_island_has_param(const tl_island *island, int param);
/** All of them, each once; the list is the island's. */
const int *tl_island_params(const tl_island *island, int *count);
/** Marks every contact that the island depends on. */
void tl_island_mark_contacts(const tl_island *island, bool *marked);

/** Names what is wrong in a state that cannot be solved: `battery and ground are joined by 0 ohm`. */
void tl_island_blame(tl_island *island, const tl_net_state *state, char *text, size_t size);

#endif
