/* SPDX-License-Identifier: MIT */
/* The making of a header: what its parts share. */
#ifndef TL_MAKER_H
#define TL_MAKER_H

#include <stdio.h>

#include "tinyladder/design/firmware.h"
#include "tinyladder/lean.h"

enum { MAKER_NAME = 100 };

/* A curve that stands in the header already: others that are alike share it. */
typedef struct {
    int signal, count;
    tl_curve_point *points;
} known_curve;

typedef struct {
    FILE *out;
    tl_circuit *circuit;
    const tl_plan *plan;
    known_curve *curves;
    int curve_count;
} maker;

/* A name of the plan as C has it: `house_battery`, in capitals `HOUSE_BATTERY`. */
const char *c_name(const char *name, char text[MAKER_NAME]);
const char *c_capitals(const char *name, char text[MAKER_NAME]);
/* `TL_PIN(14, L12)` */
void put_pin(const maker *m, int pin);
/* A number of 28 bits for a text: another text has another one, as good as always. */
unsigned long id_of(const char *text);
/* A whole number with its suffix, so that no compiler asks about signs. */
void put_unsigned(const maker *m, double value);
/* What people typed, for a comment: nothing in it ends or begins one. */
void put_comment(const maker *m, const char *text);
/* The same as a string of C, in its quotes. */
void put_string(const maker *m, const char *text);
/* A signal that the small build cannot hold does not compile there, and says why. */
void put_too_wide(const maker *m, const char *name, const char *why);
/* What a signal is made of, for a comment: one line, no closing sign of comments in it. */
void put_provenance(const maker *m, int signal);

/* Each writes its block; analog signals tell how near they come. */
void put_analog(maker *m, int signal, tl_firmware_row *row);
void put_buttons(const maker *m, int signal);
void put_contact(const maker *m, int signal);
/* Pins that the firmware holds high or low permanently, since something runs on them. */
void put_pin_rails(const maker *m);
void put_muxes(const maker *m);
void put_externals(const maker *m);
void put_input(const maker *m, int signal);
void put_sweep(const maker *m, const tl_plan_sweep *sweep);
void put_output(const maker *m, const tl_plan_output *output, const tl_firmware_row *rows);

#endif
