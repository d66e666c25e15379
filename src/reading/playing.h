/* SPDX-License-Identifier: MIT */
/* The common options of verbs that play a scene on the bench, and what they give: PLAN [SIGNAL...], --scene,
 * --fault, --at, --every, --seed. */
#ifndef TL_PLAYING_H
#define TL_PLAYING_H

#include "printing/changes.h"
#include "printing/options.h"
#include "printing/printing.h"
#include "tinyladder/bench.h"

enum { PLAY_FAULTS_MOST = 8 };

typedef struct {
    const char *plan, *scene;
    const char *faults[PLAY_FAULTS_MOST]; /* beside those of the scene, as one writes them there */
    int fault_count;
    const char **names; /* of signals */
    int name_count;
    double at;
    double every, every_least, every_most; /* seconds; the verb sets all three beforehand */
    long seed;                             /* -1: the scene's */
    const changes *as_if;                  /* files are taken to be so; NULL */
} play_options;

/* A child for the verb's own argp; the verb hands it its play_options at ARGP_KEY_INIT. */
extern const struct argp play_argp;

typedef struct {
    tl_report *report;
    tl_plan *plan;
    tl_circuit *circuit;
    tl_scene *scene; /* an empty one where none was named */
    unsigned long seed;
} play;

/* Reads plan and scene. Reports what is wrong; answers an exit status. Close it in any case. */
int play_open(const play_options *o, play *p);
void play_close(play_options *o, play *p);

#endif
