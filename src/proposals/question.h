/* SPDX-License-Identifier: MIT */
/* What the files of question_*.c share: the smallest plan that holds a question, as text, and what its
 * circuit says. */
#ifndef TL_QUESTION_H
#define TL_QUESTION_H

#include "analysis/ask.h"
#include "sizing/sizing.h"
#include "tinyladder/design/proposals.h"
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

/* The pin that is asked about, and its converter; what is NAN is left out of the board. */
typedef struct {
    tl_quantity rail;            /* volts of its supply */
    double lowest, highest;      /* volts that it stands */
    double vil, vih;             /* volts; NAN: the shares */
    double vil_share, vih_share; /* of its supply */
    double over;                 /* where `highest` is NAN: this many volts over its supply */
    double voh;                  /* volts of its high level, at least; NAN: its supply */
    double voh_below;            /* or this many volts below its supply; NAN */
    double leakage, farads;      /* either way */
    double drives, most_amperes; /* amperes at its levels; never more */
    double injection;            /* amperes that its clamps stand */
    tl_quantity internal;        /* ohms of its own pull */
    double reference, bits;      /* volts, lowest; NAN: its supply */
    double sample_farads, switch_ohms, acquisition, conversion;
    tl_values acquisitions; /* on offer, as far as `acquisition`, the longest; none: that one alone */
    double errors;          /* counts, either way */
    bool full_steps;
} asked_pin;

/* What a kind writes a choice into. In a choice's own plan lines the words in capitals stand for names. */
typedef struct {
    const tl_question *question;
    const tl_size_result *result;
    const tl_choice *choice;
    FILE *to;
} asked_text;

/* What a kind asks of the plan once it is read. */
typedef struct {
    const tl_question *question;
    tl_circuit *circuit;
    int signal;
} asked_circuit;

typedef struct {
    const char *kind;
    void (*take)(const void *requirement, asked_pin *pin);      /* what the requirement says of the pin */
    void (*write)(const asked_text *t);                         /* supplies, signals, outputs .. */
    void (*measure)(const asked_circuit *a, tl_choice *choice); /* every figure, from the circuit */
    void (*write_part)(const tl_question *question, FILE *to);  /* of a multiplexer's file, or NULL */
} question_kind;

extern const question_kind sensor_questions[], contact_questions[], load_questions[], line_questions[];

/* --- text --- */

/* The choice's plan lines, so far indented, with `names` (pairs of word and name, ended by NULL) put in. */
void write_choice(const asked_text *t, int indent, const char *const *names);
const char *written(double value, const char *unit); /* `12 pF`: exact, and as a plan has it */
void write_range(FILE *to, const tl_quantity *value, const char *unit); /* `1 V .. 2 V` */

/* --- figures --- */

/* Bounds of a figure in a state of the signal; NAN where there is no answer. */
tl_bounds bounds_of(const asked_circuit *a, int state, tl_ask_kind kind, int of);
tl_bounds bounds_for(const asked_circuit *a, const tl_ask *ask);
tl_bounds amperes_in(const asked_circuit *a, int state, const char *part); /* `divider.upper` of the signal */
/* The same with a parameter held at one value. */
tl_bounds bounds_at(const asked_circuit *a, tl_ask_kind kind, int of, int param, double value);
int part_of(const asked_circuit *a, const char *part);
int node_of(const asked_circuit *a, const char *node);
double figure_in(const tl_choice *choice, tl_figure_id id); /* NAN where it has none */
/* The circuit's own figure, in place of the closed form's; one that the choice does not show is let be. */
void put_figure(tl_choice *choice, tl_figure_id id, double value);
const tl_worst_case *worst_of(const asked_circuit *a, int state);

#endif
