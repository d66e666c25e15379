/* SPDX-License-Identifier: MIT */
/* Counts from a real board to volts and units. */
#ifndef TL_CONVERT_COUNTS_H
#define TL_CONVERT_COUNTS_H

#include "reading/count_format.h"

/* A row for each count of the format's signal, until the source ends; answers the exit status. */
int convert_counts(const char *source, count_format *m);

#endif
