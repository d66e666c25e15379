/* SPDX-License-Identifier: MIT */
/* What a circuit is made of: for the rooms that ask it. Whoever only uses it has tinyladder/design/circuit.h.
 */
#ifndef TL_CIRCUIT_STRUCT_H
#define TL_CIRCUIT_STRUCT_H

#include "circuit/netlist.h"
#include "model/parts.h"
#include "tinyladder/design/circuit.h"

/* A contact that a voltage works: closed while V(node) - V(against) is above `level`, or below it. */
typedef struct tl_switch {
    int contact, node, against;
    tl_net_value level;
    bool below;
    bool idle_opens; /* where it carries nothing it is open: a diode that nothing flows through */
    bool by_supply;  /* a gate: it goes by its supply's own volts, 0 where that is missing */
} tl_switch;

/* What leaks into a node or out of it; the bench wires it as its parameter turns out. */
typedef struct tl_leak {
    int node, high,
        low; /* it lifts no further than `high`, and pulls no further than `low`; TL_NET_NONE: never */
    tl_net_value out; /* amperes out of the node */
    tl_net_condition gate;
    int contact;
} tl_leak;

/* What a pin can do to its node: contacts, or TL_NET_NONE. */
typedef struct tl_pin_contacts {
    int drive_low, drive_high, pull_up, pull_down;
    int drive_part[2]; /* of its output: towards ground, and towards its rail */
} tl_pin_contacts;

/* The pin's share of the reference as a function of the unknown, everything else at one corner:
 * (up[0] + up[1] x + up[2] x^2) / (1 + down[0] x + down[1] x^2), x = unknown / scale. */
typedef struct tl_inverse_corner {
    double up[3], down[2];
    double at_least, at_most; /* shares at the ends of what the unknown can be */
} tl_inverse_corner;

/* What a parameter stands for: what a rule or a list says of it goes by this, never by its name or its
 * numbers. */
typedef enum tl_cause {
    TL_CAUSE_UNKNOWN, /* what the reading is after */
    TL_CAUSE_PART,    /* the value of a part */
    TL_CAUSE_RAIL,    /* volts of a supply */
    TL_CAUSE_SHARED,  /* the wire or resistor of a shared node */
    TL_CAUSE_SUPPLY,  /* a supply's own resistance */
    TL_CAUSE_CARRIES, /* what others send through a shared wire */
    TL_CAUSE_LOADS,   /* what outputs take from a rail */
    TL_CAUSE_REFERENCE,
    TL_CAUSE_SOURCE, /* a source's own: levels, resistance while closed, track */
    TL_CAUSE_SOURCE_OHMS,
    TL_CAUSE_TOP_END,
    TL_CAUSE_BOTTOM_END,
    TL_CAUSE_LEAD,
    TL_CAUSE_LEAKAGE,
    TL_CAUSE_OPEN_LEAKAGE, /* of a source that is off */
    TL_CAUSE_OFFSET,       /* a follower's */
    TL_CAUSE_BIAS,
    TL_CAUSE_DROP,  /* what a shifter keeps for itself */
    TL_CAUSE_GAIN,  /* a follower's */
    TL_CAUSE_SWITCH /* of a multiplexer */
} tl_cause;

/* What is not meant to be there: away in the ideal circuit. */
static inline bool tl_cause_is_loss(tl_cause cause)
{
    return cause == TL_CAUSE_SHARED || cause == TL_CAUSE_SUPPLY || cause == TL_CAUSE_CARRIES ||
           cause == TL_CAUSE_LOADS || (cause >= TL_CAUSE_SOURCE_OHMS && cause <= TL_CAUSE_DROP);
}

typedef struct tl_param_info {
    tl_cause cause;
    tl_dimension dimension;               /* travel counts as percent, held as 0 .. 1 */
    bool source;                          /* volts or amperes that can be put to rest */
    double drift;                         /* a fraction per kelvin */
    int node;                             /* of output currents: the node; else TL_NET_NONE */
    const struct tl_output_nodes *output; /* whose it is; NULL */
} tl_param_info;

/* Where one pin of an output is in the net, or an output that is always on. Entries that do not apply are
 * TL_NET_NONE. */
typedef struct tl_output_nodes {
    int on;         /* contact, as believed: closed while it is on */
    int seldom;     /* parameter: 1 divided by the share of the time that it is on */
    int channel;    /* contact, as soldered: its transistor conducts; */
    int transistor; /* the part that does */
    int control;    /* the transistor's base or gate */
    int base;       /* the drop from there to ground, of a bipolar one */
} tl_output_nodes;

/* Worst cases of an output, over all of its pins, amperes. */
typedef struct tl_output_figures {
    bool known;
    tl_quantity load;                  /* through one load while it is on */
    double pin;                        /* the most that one pin gives or takes */
    double base_least;                 /* into the base of its transistor */
    double gate_least;                 /* volts at the gate of one while it is on; INFINITY without one */
    double series_watts, series_volts; /* in the load's resistor at most, across it at least */
    double transistor_watts, transistor_volts; /* at most */
    double base_ohms;                          /* with which a bipolar one is certainly on, at most */
    double gate_seconds;                       /* from a tenth to nine tenths of its gate; 0 where not said */
} tl_output_figures;

/* The way back from counts to the unknown. */
typedef struct tl_inverse {
    bool known, usable; /* the nominal one is made already; there is one */
    bool corners_known;
    double scale;
    double least, most;             /* of the unknown */
    double below_least, above_most; /* what the ends mean */
    tl_inverse_corner nominal;
    tl_inverse_corner *corners; /* those that are extreme somewhere; none where they have no closed way */
    int count;
} tl_inverse;

/* Of a lamp or a junction whose drop stands in the plan, of a pin without any: nothing beside what it is
 * with. */
#define TL_DROP_OHMS 1e-3
static const double loads_off_ohms = 1e12; /* of outputs that are off: a microvolt in anything */

/* A level that follows a supply, or none of them. */
tl_net_value tl_level_value(const tl_circuit *circuit, tl_level level, int supply);

/* How many shifters a line has: the side of its pin. */
int tl_circuit_last_side(const tl_circuit *circuit, int line);

struct tl_circuit {
    const tl_plan *plan;
    tl_net *net;
    tl_net *metered;      /* with a meter in it, as soon as one is asked for; */
    int meter;            /* its part there */
    int part_params;      /* this many are parts and supplies, which a bench draws; then what outputs take */
    int real_params;      /* this many are of the circuit; those behind stand for others in cut islands */
    tl_parts parts;       /* all of the plan, with their places in the net */
    tl_param_info *param; /* of each parameter of the net */
    int *supply_node;     /* of each supply */
    int *supply_param;
    int *supply_rail; /* the ideal rail behind it: its node again, where it has no resistance */
    int *shared_ohms, *shared_amperes; /* of each shared node: parameters, or TL_NET_NONE */
    int *mux_contact;                  /* of each multiplexer: its first input's; the others follow */
    int *mux_common;                   /* node of its common line */
    tl_signal_nodes *signals;          /* of signals, and behind them of lines */
    int *first_node, *first_param;     /* that were made for each of them, and one more */
    bool *state;                       /* lent by tl_circuit_state() */
    double *nominal;                   /* every parameter's value in the middle */
    double *rest[2];      /* the same with all sources at 0, capacitors at either end of their tolerance */
    tl_worst_case *worst; /* of every signal's states, filled as they are asked for */
    int worst_count;
    tl_analog_path *paths; /* one of each signal, */
    tl_inverse *inverses;  /* and the way back from its counts, */
    double **trim_limits;  /* and of each code what its trim leaves open; NULL where it is not asked for */
    /* in the soldered view only: */
    tl_switch *switches;
    int switch_count;
    tl_leak *leaks;
    int leak_count;
    tl_pin_contacts *pins;             /* of each pin of the plan */
    int *first_leg;                    /* of each output, and one more: where its pins stand among */
    tl_output_nodes *outputs;          /* all pins of outputs */
    bool has_loads;                    /* some are connected where a signal feels them */
    tl_output_figures *output_figures; /* of each output, filled as they are asked for */
};

/* Marks, among all contacts of its net, those that only voltages close: electronics, outputs and pulls of the
 * chip, multiplexers. */
void circuit_mark_by_voltage(const tl_circuit *c, bool *marks);
/* A node as `--meter` takes it. */
enum { TL_POINT_NAME = 100 };
void circuit_point_name(const tl_circuit *c, int node, char text[TL_POINT_NAME]);

/* Its net, for narrowing or moving parameters; no parts are added any more. */
tl_net *tl_circuit_net(const tl_circuit *circuit);

#endif
