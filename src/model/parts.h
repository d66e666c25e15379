/* SPDX-License-Identifier: MIT */
/* What a plan's hardware is made of, part by part: one list for the netlist, the rules, the list that one
 * wires by, the drawer and the faults. What a stage consists of stands in one table. */
#ifndef TL_PARTS_H
#define TL_PARTS_H

#include "tinyladder/design/plan.h"

/* What a part is there for. */
typedef enum tl_part_role {
    TL_PART_SERIES, /* in the way of a signal */
    TL_PART_GUARD,
    TL_PART_UPPER, /* a divider's */
    TL_PART_LOWER,
    TL_PART_FILTER,
    TL_PART_PULL,
    TL_PART_PARTNER,
    TL_PART_LOAD,
    TL_PART_CAPACITOR,
    TL_PART_PLATE, /* a capacitor's own resistance */
    TL_PART_CABLE,
    TL_PART_BASE, /* a shifter's */
    TL_PART_RUNG, /* of a chain or star of buttons */
    TL_PART_SHARED,
    TL_PART_LAMP,
    TL_PART_LAMP_SERIES,
    TL_PART_CONTROL, /* base or gate resistor of a driver */
    TL_PART_CONTROL_PULL,
    TL_PART_DRIVEN,  /* a driver's load */
    TL_PART_SHIFTER, /* what has no value of its own in a drawer */
    TL_PART_FOLLOWER,
    TL_PART_CLAMP,
    TL_PART_PIN_CLAMP, /* the pin's own diodes, which the plan counts on */
    TL_PART_ROLES      /* how many there are */
} tl_part_role;

typedef enum tl_part_owner { TL_OWNED_BY_LINE, TL_OWNED_BY_RAIL, TL_OWNED_BY_OUTPUT } tl_part_owner;

/* Where a part of a stage ends: at what the stage is connected to, behind it, at a point of its own, at a
 * rail. */
typedef enum tl_part_end { TL_END_AT, TL_END_NEXT, TL_END_INSIDE, TL_END_RAIL, TL_END_GROUND } tl_part_end;

/* What rules and lists ask of a role, so that none has to know them all. */
enum {
    TL_BOUGHT = 1, /* comes from a drawer */
    TL_FAILS = 2,  /* comes off, touches, is another value */
    TL_SHIFTS = 4, /* puts the level elsewhere on purpose */
    TL_HOLDS = 8   /* conducts beyond its volts, so that its node goes no further */
};

typedef struct tl_role_traits {
    const char *name;
    tl_dimension dimension; /* TL_DIM_NUMBER where it has no value */
    const char *word;       /* in the list that one wires by; NULL: not wired as a part */
    const char *sized;      /* as its sizing calls it, where its path has no word for it */
    unsigned traits;
} tl_role_traits;
const tl_role_traits *tl_role_of(tl_part_role role);

enum { TL_NO_VALUE = -1 };

typedef struct tl_part_shape {
    tl_part_role role;
    const char *leg; /* last word of its path; NULL where that is the stage's */
    tl_part_end from, to;
    int value; /* where in tl_stage it stands; TL_NO_VALUE */
} tl_part_shape;

/* What a stage consists of. What only switches or amplifies is no part here: elaborate/ knows it. */
typedef struct tl_stage_shape {
    const char *job; /* the sizing that finds it, or NULL */
    bool goes_on;    /* what comes next is connected to a node of its own */
    int parts;
    tl_part_shape part[2];
} tl_stage_shape;
const tl_stage_shape *tl_stage_shape_of(tl_stage_kind kind);
/* Whether a stage has a part of this role. */
bool tl_stage_has(const tl_stage *stage, tl_part_role role);

enum { TL_PART_PATH = 160 };

typedef struct tl_plan_part {
    char path[TL_PART_PATH]; /* `house-battery.divider.lower` */
    tl_part_role role;
    tl_part_owner owner;
    int index;               /* of the line, rail or output */
    int stage;               /* of the line's; TL_NONE */
    int leg;                 /* of the stage's shape, button, or pin of an output */
    int side;                /* this many shifters stand before it */
    int rail;                /* at its other end, where it is connected to one; else TL_NONE */
    bool up;                 /* away from ground, or it holds its node from above */
    bool fitted;             /* came with a module */
    bool own;                /* the chip's */
    bool twin;               /* of a bridge: the same part in its other leg */
    const tl_stage *of;      /* the stage that it is of, or NULL */
    const tl_located *value; /* NULL where it has none */
    /* filled in when the netlist is made: nodes, the netlist's part, its parameter, the contact without which
     * it does nothing; else TL_NONE */
    int a, b, net, param, contact;
} tl_plan_part;

typedef struct tl_parts {
    tl_plan_part *part;
    int count;
    int *first; /* of each line the number of its first part; one more at the end: the first of rails and
                   outputs */
} tl_parts;

/* Every part of a plan, line by line from source to pin, then rails, then outputs. Free it. */
tl_parts tl_plan_parts(const tl_plan *plan);
void tl_parts_free(tl_parts *parts);
/* The next part of a line with this role; after: NULL for the first. */
const tl_plan_part *tl_parts_next(const tl_parts *parts, int line, tl_part_role role,
                                  const tl_plan_part *after);

/* The next with any of these traits; line TL_NONE: of all. */
const tl_plan_part *tl_parts_with(const tl_parts *parts, int line, unsigned traits,
                                  const tl_plan_part *after);
/* Whether it could come from a drawer: a few milliohms are a wire. */
bool tl_part_is_bought(const tl_plan_part *part);
/* Whether it stands between what its stage is connected to and what comes next. */
bool tl_part_in_the_way(const tl_plan_part *part);
/* Where the value of a part of a stage stands; NULL where it has none. */
const tl_located *tl_shape_value(const tl_part_shape *shape, const tl_stage *stage);

#endif
