/* SPDX-License-Identifier: MIT */
/* Names that an option of `size` had before, or that people try: understood, and shown nowhere. */
#ifndef TL_OTHER_NAMES_H
#define TL_OTHER_NAMES_H

#include "proposals/jobs.h"
#include <argp.h>

enum { OTHER_NAMES_MOST = 64 };

/* Appends them as hidden aliases of the option that stands last; answers how many options there are then. */
int other_names_add(const size_kind *kind, struct argp_option *options, int count);

#endif
