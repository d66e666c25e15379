/* SPDX-License-Identifier: MIT */
/* What the ways from one voltage world into another share. */
#ifndef TL_SHIFT_CASE_H
#define TL_SHIFT_CASE_H

#include "sizing/sizing.h"

typedef struct {
    const tl_shift_requirement *w;
    double vol, voh, vil, vih, limit; /* with what was not said filled in */
    double vih_back, limit_back;      /* of the way back */
    double start; /* lowest that a rising edge starts at: a low is anything from 0 V to VOL */
    double edge;  /* seconds that an edge may take */
    double rise;  /* of a line of an I2C bus: from VIL to VIH, at most; INFINITY for any other */
    tl_size_result *answer;
} shift_case;

/* Cheapest first. */
typedef enum {
    WAY_NONE,
    WAY_OPEN_DRAIN,
    WAY_CLAMP,
    WAY_DIODE_CLAMP,
    WAY_DIVIDER,
    WAY_DIODE,
    WAY_INVERTER,
    WAY_N_CHANNEL,
    WAY_BUFFER,
    WAY_TWO_SUPPLIES,
    WAYS
} shift_way;

/* What flows while one side is off: volts at the receiver's pin or amperes into it, amperes into the
 * driver's; NAN for nothing. */
typedef struct {
    double receiver_volts, receiver_amperes, driver_amperes;
} shift_off;

tl_choice shift_choice(const char *name, shift_way way);
/* Offers the way if every figure holds; else says which one does not. */
bool shift_settle(const shift_case *k, const tl_choice *c);
void shift_rule_out(const shift_case *k, const char *name, const char *format, ...)
    __attribute__((format(printf, 3, 4)));
/* What it is asked of while one side may be off. */
void shift_add_off(const shift_case *k, const shift_off *off, tl_choice *c);
/* R C ln((end - from) / (end - to)); infinite where the threshold is never crossed. */
double shift_edge(double ohms, double farads, double end, double from, double to);
/* What a resistor of a line costs by practice; by any other order the larger comes first. */
double shift_line_cost(const shift_case *k, const tl_leg *leg, double edge_share);
/* The part that is asked about at a place of a way; false where there is none. */
bool shift_asked(const shift_case *k, int place, tl_leg *leg);
/* Volts over its supply that the receiver, or the driver's pin, stands. */
double shift_room(const shift_case *k);
double shift_room_back(const shift_case *k);
bool shift_goes_down(const shift_case *k);

/* size_shift_divider.c */
void shift_try_divider(const shift_case *k);

#endif
