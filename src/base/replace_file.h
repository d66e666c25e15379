/* SPDX-License-Identifier: MIT */
/* A file replaced as a whole: whoever looks finds the old one or the new one, never half of one. */
#ifndef TL_REPLACE_FILE_H
#define TL_REPLACE_FILE_H

#include <stdbool.h>
#include <stddef.h>

/* All of it, or false with errno: a short write is tried again, and then tells why. */
bool write_whole(int file, const void *bytes, size_t size);

/*
 * Writes `size` bytes in place of a file, or as a new one. A symbolic link stays one: what it points to is
 * replaced. The mode stays; a file that no user may write is left alone. false, with errno, where it cannot
 * be: the old file is then still there, and nothing beside it.
 */
bool replace_file(const char *path, const void *text, size_t size);

/* What is expected in a file that is to be replaced; NULL: anything. */
typedef struct {
    const void *text;
    size_t size;
} file_before;

/*
 * The same, unless another has changed the file since it was read: errno is then ESTALE, and nothing is
 * written. Those that write by this wait for each other, three seconds at most (EWOULDBLOCK).
 */
bool replace_file_of(const char *path, const file_before *before, const void *text, size_t size);

#endif
