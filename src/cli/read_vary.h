/* SPDX-License-Identifier: MIT */
/* `read PLAN --vary PATH=VALUES`. */
#ifndef TL_READ_VARY_H
#define TL_READ_VARY_H

#include "reading/playing.h"

typedef struct {
    bool ideal, json;
    int samples; /* each reading a mean of this many; 0: as the plan says */
} read_how;

/* The same moment on the bench of the plan as it is and with every value of the wish. Answers the exit
 * status. */
int read_vary(const play_options *o, const char *wish, const read_how *how);

#endif
