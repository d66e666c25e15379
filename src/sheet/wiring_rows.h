/* SPDX-License-Identifier: MIT */
/* How the list that one wires by is made: a row at a time. */
#ifndef TL_WIRING_ROWS_H
#define TL_WIRING_ROWS_H

#include "sheet/wiring.h"

typedef struct {
    const tl_plan *plan;
    wiring list;
    wired_kind kind; /* that rows belong to now */
    int index;
    const char *group;
    const char *owner;    /* that paths of parts begin with */
    const char *leg;      /* what names of points end in, in the other leg of a bridge */
    char path[WIRE_PATH]; /* of the part that comes next; empty */
    bool fitted;
} wirer;

/* From now on rows belong to this. */
void wire_begin(wirer *w, wired_kind kind, int index, const char *name);
wire_end wire_point(const char *name);
wire_end wire_nowhere(void);
wire_end wire_pin_end(const tl_plan *plan, int pin);
/* Of a pair the pin of its positive input, of any other pin itself. */
int wire_positive_of(const tl_plan *plan, int pin);
wire *wire_add(wirer *w, wire_end from, wire_end to, const char *part);
void wire_add_to_rail(wirer *w, wire_end from, int rail, const char *part);
/* A resistor, or two of them; of 0 ohms a wire. */
void wire_add_resistor(wirer *w, wire_end from, wire_end to, const char *name, const tl_located *ohms);
void wire_add_resistor_to_rail(wirer *w, wire_end from, int rail, const char *name, const tl_located *ohms);
/* The path of the part that comes next. */
void wire_name_part(wirer *w, const char *of, const char *end, const char *leg, bool fitted);
/* at: where the line is, and then goes on. backwards: from the pin on. */
void wire_add_stage(wirer *w, wire_end *at, const tl_stage *stages, int count, int index, bool backwards);

void wire_add_bus(wirer *w, int index);
void wire_add_mux(wirer *w, int index);
void wire_add_converter(wirer *w, int index);
void wire_add_module(wirer *w, int index);

#endif
