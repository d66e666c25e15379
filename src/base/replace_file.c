/* SPDX-License-Identifier: MIT */
/*
 * Written aside, made safe on the disk, then renamed. The file aside has no name while it is written where
 * the system can do that (O_TMPFILE), so that a run which is killed leaves nothing behind.
 */
#define _GNU_SOURCE
#include "base/replace_file.h"
#include <errno.h>
#include <fcntl.h>
#include <limits.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>
#include <unistd.h>

bool write_whole(int file, const void *bytes, size_t size)
{
    const char *text = bytes;
    while (size > 0) {
        const ssize_t done = write(file, text, size);
        if (done < 0 && errno == EINTR)
            continue;
        if (done <= 0) {
            errno = done == 0 ? ENOSPC : errno;
            return false;
        }
        text += done;
        size -= (size_t)done;
    }
    return true;
}

/* A name in the same folder that is free: the target's name and a number. */
static bool link_aside(int file, const char *target, char aside[PATH_MAX])
{
    char self[40];
    snprintf(self, sizeof self, "/proc/self/fd/%d", file);
    for (unsigned i = 0; i < 100; i++) {
        if (snprintf(aside, PATH_MAX, "%s.%ld-%u", target, (long)getpid(), i) >= PATH_MAX) {
            errno = ENAMETOOLONG;
            return false;
        }
        if (linkat(AT_FDCWD, self, AT_FDCWD, aside, AT_SYMLINK_FOLLOW) == 0)
            return true;
        if (errno != EEXIST)
            return false;
    }
    return false;
}

/* Open for writing beside the target; *named where it has a name already, in `aside`. */
static int open_aside(const char *target, char aside[PATH_MAX], bool *named)
{
    char folder[PATH_MAX];
    const char *slash = strrchr(target, '/');
    const int length = slash == NULL ? 1 : slash == target ? 1 : (int)(slash - target);
    snprintf(folder, sizeof folder, "%.*s", length, slash == NULL ? "." : target);
    *named = false;
    int file = open(folder, O_TMPFILE | O_WRONLY | O_CLOEXEC, 0600);
    if (file >= 0 || (errno != EOPNOTSUPP && errno != EISDIR && errno != EINVAL && errno != ENOENT))
        return file;
    *named = true; /* a file system without nameless files */
    if (snprintf(aside, PATH_MAX, "%s.XXXXXX", target) >= PATH_MAX) {
        errno = ENAMETOOLONG;
        return -1;
    }
    return mkostemp(aside, O_CLOEXEC);
}

static bool replace_target(const char *target, mode_t mode, const void *text, size_t size)
{
    char aside[PATH_MAX];
    bool named;
    const int file = open_aside(target, aside, &named);
    if (file < 0)
        return false;
    bool good = write_whole(file, text, size) && fchmod(file, mode) == 0 && fsync(file) == 0;
    if (good && !named)
        good = named = link_aside(file, target, aside);
    good = good && rename(aside, target) == 0;
    const int why = errno;
    if (!good && named)
        unlink(aside);
    if (close(file) != 0 && good)
        return false;
    errno = why;
    return good;
}

bool replace_file(const char *path, const void *text, size_t size)
{
    char target[PATH_MAX];
    struct stat was;
    mode_t mode;
    if (realpath(path, target) == NULL) {
        if (errno != ENOENT || strlen(path) >= sizeof target)
            return false;
        snprintf(target, sizeof target, "%s", path); /* a new file */
        const mode_t mask = umask(0);
        umask(mask);
        mode = 0666 & ~mask;
    } else if (stat(target, &was) != 0) {
        return false;
    } else if (!S_ISREG(was.st_mode)) {
        errno = S_ISDIR(was.st_mode) ? EISDIR : EINVAL;
        return false;
    } else if ((was.st_mode & 0222) == 0 || access(target, W_OK) != 0) {
        errno = EACCES; /* root could, and must not either */
        return false;
    } else {
        mode = was.st_mode & 07777;
    }
    return replace_target(target, mode, text, size);
}
