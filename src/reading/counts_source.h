/* SPDX-License-Identifier: MIT */
/* Where lines of counts come from. */
#ifndef TL_COUNTS_SOURCE_H
#define TL_COUNTS_SOURCE_H

#include <stdbool.h>
#include <sys/types.h>

/* A file, `-`, DEVICE@SPEED, unix:PATH, tcp:HOST:PORT or mqtt://HOST/TOPIC: a file descriptor, or -1 and why.
 * live: more may come. helper: the process that writes it, to be given to counts_source_close(), or 0. */
int counts_source_open(const char *source, bool *live, pid_t *helper, char why[160]);
void counts_source_close(int file, pid_t helper);

#endif
