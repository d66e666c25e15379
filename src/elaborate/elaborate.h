/* SPDX-License-Identifier: MIT */
/* The parts of deriving a netlist: circuit.c puts them together. Every part is called by its path. */
#ifndef TL_ELABORATE_H
#define TL_ELABORATE_H

#include "elaborate/circuit_struct.h"

enum { TL_PATH_LONGEST = 200 };

/* `signal.stage.leg`; parts of the path may be NULL. */
char *path_of(char text[TL_PATH_LONGEST], const char *signal, const char *stage, const char *leg);
/* A contact, and how it must be for a part to be there. */
typedef struct {
    tl_net_condition gate;
    int contact;
} tl_when;
int add_param(tl_circuit *c, const char *name, tl_quantity value, tl_dimension dimension, bool source,
              tl_cause cause);
/* One that stands in two places: extremes may lie inside its span. */
int add_searched(tl_circuit *c, const char *name, tl_quantity value, tl_dimension dimension, tl_cause cause);
int rail_node(tl_circuit *c, int supply);
/* Adds a parameter and a resistor of one name; answers the part. */
int add_resistor(tl_circuit *c, const char *path, int a, int b, const tl_located *ohms, tl_cause cause);
/* The same of a part of the list, and notes where it is. */
int place_part(tl_circuit *c, tl_plan_part *part, const char *path, int a, int b);
tl_plan_part *part_at(tl_circuit *c, int line, int stage, int leg, bool twin);
/* A rail of its own at this many volts, joined to the node through `ohms` while the contact lets it. */
int add_driven_rail(tl_circuit *c, const char *path, int node, tl_when when, tl_net_value volts,
                    const tl_located *ohms);

/* soldered.c: what is in the soldered view only. */
enum { TL_CLAMP_OHMS = 10, TL_CHANNEL_OHMS = 5, TL_DIODE_OHMS = 10 }; /* typical, of what conducts */
void add_switch(tl_circuit *c, tl_switch on);
static const double counted_on_ohms = 0.05; /* of a clamp whose volts the plan states or counts on */
/* From its node to the rail, switched on where the node is beyond the level; answers the part. */
int add_conducting_clamp(tl_circuit *c, const char *path, int rail, double ohms, tl_switch on);
/* Notes a contact at which the chain goes no further. */
void add_chain_end(tl_signal_nodes *nodes, int contact, bool high);
int pull_contact(tl_circuit *c, int pin, bool up);
void add_soldered_shifter(tl_circuit *c, const tl_signal *signal, const tl_stage *stage, int node, int next);
/* A follower as it is placed. */
typedef struct {
    int in, out, part;
    tl_net_value offset;
} tl_placed_follower;
void add_follower_limits(tl_circuit *c, const tl_signal *signal, const tl_stage *stage,
                         const tl_placed_follower *follower, tl_signal_nodes *nodes);
void add_pin_drivers(tl_circuit *c);
/* One pin that drives its node. reads: it is an input too, with pulls of its own; seldom: a parameter that
 * its ohms are multiplied by, or TL_NET_NONE. */
void add_pin_driver(tl_circuit *c, int pin, int node, bool reads, int seldom);
/* A pin's resistance as an output, at most over its supply. */
double driver_most_ohms(const tl_circuit *c, const tl_pin_limits *limits, bool high);
/* Conducts from anode to cathode beyond its drop, by a switch of the bench. */
void add_diode(tl_circuit *c, const char *path, int anode, int cathode, tl_net_value drop, double ohms);
/* The pin that drives this line into an input of another board; TL_NONE for any other line. */
int far_driver(const tl_circuit *c, const tl_signal *line);

/* What leaks into a node and out of it, between two rails, by a parameter whose positive values flow out. */
void add_leak(tl_circuit *c, const char *path, int node, int supply, int param);
/* What a switch lets through while its contact is open: out of the node to `low`, or from `high` into it. */
void add_switch_leak(tl_circuit *c, const char *path, tl_leak leak);
/* chain_source.c: the node that the chain starts from; of a bridge also the other one. */
int add_source(tl_circuit *c, const tl_signal *signal, tl_signal_nodes *nodes);
/* chain_stage.c: the node that the next stage is connected to. twin: in the other leg of a bridge. */
int add_stage(tl_circuit *c, const tl_signal *signal, int index, bool twin, int node, tl_signal_nodes *nodes);
/* chain_end.c: pins, converters, multiplexers. */
void add_end(tl_circuit *c, int signal, int node, int negative);
void add_muxes(tl_circuit *c);
/* chain_output.c: lamps, loads, drivers and the pins in front of them. */
void add_outputs(tl_circuit *c);
/* narrow.c: what is left of islands that too much is connected to, when all are made. */
void narrow_islands(tl_circuit *c);

#endif
