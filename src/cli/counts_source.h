/* Where lines of counts come from. */
#ifndef TL_COUNTS_SOURCE_H
#define TL_COUNTS_SOURCE_H

#include <stdbool.h>

/* A file, `-`, DEVICE@SPEED, unix:PATH or tcp:HOST:PORT: a file descriptor, or -1 and why. live: more may
 * come. */
int counts_source_open(const char *source, bool *live, char why[160]);

#endif
