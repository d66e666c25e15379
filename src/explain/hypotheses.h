/* SPDX-License-Identifier: MIT */
/* Everything that may be wrong, one cause at a time: faults of the plan as a scene has them, and nothing. */
#ifndef TL_HYPOTHESES_H
#define TL_HYPOTHESES_H

#include "tinyladder/design/scene.h"

enum { CAUSE_TEXT = 160 };

typedef struct {
    char *line;           /* of a scene; NULL: every part is sound */
    tl_scene_fault fault; /* which says this; */
    tl_scene_fault other; /* of two at once the second */
    bool is_pair;
    int pair[2];           /* which two, by their place in the list */
    int owner[4];          /* signals that they name; TL_NONE */
    double wider;          /* sources are drawn from this many times what was stated */
    char part[CAUSE_TEXT]; /* what has the fault, */
    char kind[40];         /* which it is, such as times-10, */
    char value[40];        /* and of which size; empty */
    double share;          /* of its kind's weight: less where it has several names */
    double prior;          /* weight against all others */
} hypothesis;

typedef struct {
    hypothesis *list;
    int count;
} hypotheses;

/* One more: the firmware's constants of a signal are off by this factor. */
void hypotheses_add_factor(hypotheses *all, tl_circuit *circuit, const char *signal, double factor);

/* Their places in the list: all is sound; only the source was not what was said. */
enum { SOUND, OTHER_SOURCE, FIRST_FAULT };

/* These faults, or all that the plan can have. */
hypotheses hypotheses_of(tl_circuit *circuit, const tl_fault_list *faults);
hypotheses hypotheses_of_plan(tl_circuit *circuit);
void hypotheses_free(hypotheses *all);
/* Both at once, as one more. */
void hypotheses_add_pair(hypotheses *all, int one, int other);
/* Whether both are the same fault by two names. */
bool hypotheses_same(const hypothesis *a, const hypothesis *b);
/* Whether both are one fault at one point or line, which several signals or multiplexers share. */
bool hypotheses_one_point(const hypothesis *a, const hypothesis *b);
/* Which of them a line of a scene is; -1. */
int hypotheses_find(const hypotheses *all, const char *line);

/* The kinds with their weights, in the order of the table; NULL behind the last. */
const char *prior_kind(int i, double *weight);
/* Weights of one's own: a file of lines KIND,WEIGHT. False: the report says why. */
bool priors_load(hypotheses *all, const char *path, tl_report *report);

#endif
