/* SPDX-License-Identifier: MIT */
/* Where the demo data lies. */
#ifndef TL_DEMO_DATA_H
#define TL_DEMO_DATA_H

#include <limits.h>
#include <stdbool.h>

/* `wanted`, or with NULL ./demo, or the folder that came with the program. False: it is not there. */
bool demo_data_find(const char *wanted, char path[PATH_MAX]);

#endif
