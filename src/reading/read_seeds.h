/* SPDX-License-Identifier: MIT */
/* One moment on many benches: what `read --seeds` shows. */
#ifndef TL_READ_SEEDS_H
#define TL_READ_SEEDS_H

#include "reading/playing.h"
#include "reading/readings.h"

typedef struct {
    long seeds, samples;
    double at;
    bool json;
} seeds_options;

/* names: of signals; none: all. Answers the exit status. */
int read_seeds(const seeds_options *o, play *p, const char *const *names, int name_count);

#endif
