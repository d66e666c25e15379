/* SPDX-License-Identifier: MIT */
/* What the examples share: opening the bench. On a board, its start-up code does that. */
#ifndef TL_EXAMPLE_H
#define TL_EXAMPLE_H

#include "fernhill_plan.h" /* made of demo/fernhill.plan.yaml by `tinyladder header` */
#include <stdio.h>
#include <tinyladder/core.h>

/* What an example does with a board, and what it tells about it. */
typedef tl_status example_story(const tl_port *port, FILE *out);

/*
 * Sets up the simulated board of [PLAN [SCENE]], by default an evening at Fernhill, and tells the story
 * there. The exit status: 0, 3 where a file cannot be read, 4 where the port failed.
 */
int example_main(int argc, char **argv, example_story *story);

/* What to tell in the end, where two things may have gone wrong. */
static inline tl_status first_trouble(tl_status one, tl_status two)
{
    return one != TL_OK ? one : two;
}

#endif
