/* SPDX-License-Identifier: MIT */
/*
 * Written aside, made safe on the disk, then renamed. The file aside has no name while it is written where
 * the system can do that (O_TMPFILE), so that a run which is killed leaves nothing behind.
 */
#define _GNU_SOURCE
#include "base/replace_file.h"
#include <dirent.h>
#include <errno.h>
#include <fcntl.h>
#include <limits.h>
#include <poll.h>
#include <signal.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/file.h>
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

/* A run that was killed between giving its file a name and renaming it has left that name behind. */
static void drop_litter(const char *target)
{
    char folder[PATH_MAX];
    const char *slash = strrchr(target, '/'), *own = slash != NULL ? slash + 1 : target;
    snprintf(folder, sizeof folder, "%.*s", slash == NULL ? 1 : (int)(slash - target) + 1,
             slash == NULL ? "." : target);
    DIR *in = opendir(folder);
    for (struct dirent *entry; in != NULL && (entry = readdir(in)) != NULL;) {
        long process = 0;
        unsigned number = 0;
        int end = 0;
        const size_t length = strlen(own);
        if (strncmp(entry->d_name, own, length) != 0 ||
            sscanf(entry->d_name + length, ".%ld-%u%n", &process, &number, &end) != 2 ||
            entry->d_name[length + (size_t)end] != '\0' || process <= 0 || kill((pid_t)process, 0) == 0 ||
            errno != ESRCH)
            continue;
        (void)unlinkat(dirfd(in), entry->d_name, 0);
    }
    if (in != NULL)
        closedir(in);
}

/* A file keeps its owner and group, where that may be. Only root can give one away, so only root must. */
static bool keep_owner(int file, const struct stat *was)
{
    struct stat now;
    if (was == NULL || (fstat(file, &now) == 0 && now.st_uid == was->st_uid && now.st_gid == was->st_gid))
        return true;
    return fchown(file, was->st_uid, was->st_gid) == 0 || geteuid() != 0;
}

static bool replace_target(const char *target, mode_t mode, const struct stat *was, const void *text,
                           size_t size)
{
    char aside[PATH_MAX];
    bool named;
    drop_litter(target);
    const int file = open_aside(target, aside, &named);
    if (file < 0)
        return false;
    bool good =
        write_whole(file, text, size) && keep_owner(file, was) && fchmod(file, mode) == 0 && fsync(file) == 0;
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
    const bool known = realpath(path, target) != NULL;
    if (!known) {
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
    return replace_target(target, mode, known ? &was : NULL, text, size);
}

/* --- unless it has changed --- */

enum { LOCK_TRIES = 150, LOCK_WAIT_MS = 20 };

static bool lock(int file)
{
    for (int i = 0; i < LOCK_TRIES; i++) {
        if (flock(file, LOCK_EX | LOCK_NB) == 0)
            return true;
        if (errno != EWOULDBLOCK && errno != EINTR)
            return false;
        (void)poll(NULL, 0, LOCK_WAIT_MS);
    }
    return false;
}

static bool holds(int file, const file_before *before)
{
    const char *text = before->text;
    char piece[4096];
    size_t at = 0;
    ssize_t got;
    while ((got = pread(file, piece, sizeof piece, (off_t)at)) > 0) {
        if (at + (size_t)got > before->size || memcmp(piece, text + at, (size_t)got) != 0)
            return false;
        at += (size_t)got;
    }
    return got == 0 && at == before->size;
}

/* Whether the file that is locked is still the one of this name, with what is expected in it. */
static bool is_as_before(int file, const char *path, const file_before *before)
{
    struct stat locked, named;
    if (fstat(file, &locked) == 0 && stat(path, &named) == 0 && locked.st_ino == named.st_ino &&
        locked.st_dev == named.st_dev && holds(file, before))
        return true;
    errno = ESTALE;
    return false;
}

bool replace_file_of(const char *path, const file_before *before, const void *text, size_t size)
{
    const int file = open(path, O_RDONLY | O_NONBLOCK | O_CLOEXEC);
    if (file < 0)
        return false;
    const bool good = lock(file) && is_as_before(file, path, before) && replace_file(path, text, size);
    const int why = errno;
    close(file);
    errno = why;
    return good;
}
