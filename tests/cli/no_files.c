/* SPDX-License-Identifier: MIT */
/* Loaded before the C library: the NO_FILE_AT-th call about files, folders or child processes that the program or its
 * database library makes fails, and NO_FILE_TOLD names the file that then holds the call's name. */
#define _GNU_SOURCE
#include <dlfcn.h>
#include <errno.h>
#include <fcntl.h>
#include <poll.h>
#include <spawn.h>
#include <stdarg.h>
#include <stdbool.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/file.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <sys/types.h>
#include <sys/wait.h>
#include <unistd.h>

static long seen;
static bool telling;

/* Only the program itself: not what it starts, nor what the C library does for itself. */
static bool fails(const void *caller, const char *name, int error)
{
    static long at;
    Dl_info from;
    if (at == 0) {
        const char *text = getenv("NO_FILE_AT"), *program = getenv("NO_FILE_IN");
        at = text != NULL && program != NULL && strcmp(program, program_invocation_short_name) == 0 ? atol(text) : -1;
    }
    if (telling || dladdr(caller, &from) == 0 || from.dli_fname == NULL ||
        (strstr(from.dli_fname, "tinyladder") == NULL && strstr(from.dli_fname, "sqlite") == NULL) || ++seen != at || at < 0)
        return false;
    const char *path = getenv("NO_FILE_TOLD");
    telling = true;
    FILE *told = path != NULL ? fopen(path, "w") : NULL;
    if (told != NULL) {
        fputs(name, told);
        fclose(told);
    }
    telling = false;
    errno = error;
    return true;
}

/* How many there were, where none was to fail. */
static void __attribute__((destructor)) tell_count(void)
{
    const char *path = getenv("NO_FILE_COUNT"), *program = getenv("NO_FILE_IN");
    if (path == NULL || program == NULL || strcmp(program, program_invocation_short_name) != 0)
        return;
    telling = true;
    FILE *told = fopen(path, "w");
    if (told != NULL) {
        fprintf(told, "%ld", seen);
        fclose(told);
    }
}

#define NEXT(name)                                                                                                     \
    static __typeof__(&name) next;                                                                                     \
    if (next == NULL)                                                                                                  \
    *(void **)&next = dlsym(RTLD_NEXT, #name)
#define FAILS(name, error) fails(__builtin_return_address(0), #name, error)
/* A call that does nothing where it fails. */
#define REFUSED(type, name, parameters, arguments, error, answer)                                                      \
    type name parameters                                                                                               \
    {                                                                                                                  \
        NEXT(name);                                                                                                    \
        return FAILS(name, error) ? (answer) : next arguments;                                                         \
    }
/* One that has done all it does, and says that it has not. */
#define DOUBTED(type, name, parameters, arguments, error, answer)                                                      \
    type name parameters                                                                                               \
    {                                                                                                                  \
        NEXT(name);                                                                                                    \
        const type is = next arguments;                                                                                \
        return FAILS(name, error) ? (answer) : is;                                                                     \
    }

REFUSED(FILE *, fopen, (const char *restrict path, const char *restrict mode), (path, mode), EMFILE, NULL)
REFUSED(FILE *, fdopen, (int file, const char *mode), (file, mode), ENOMEM, NULL)
DOUBTED(int, fflush, (FILE * stream), (stream), ENOSPC, EOF)
DOUBTED(int, fclose, (FILE * stream), (stream), ENOSPC, EOF)
DOUBTED(int, close, (int file), (file), EIO, -1)
REFUSED(ssize_t, write, (int file, const void *from, size_t size), (file, from, size), ENOSPC, -1)
REFUSED(ssize_t, read, (int file, void *to, size_t size), (file, to, size), EIO, -1)
REFUSED(ssize_t, pwrite64, (int file, const void *from, size_t size, off_t at), (file, from, size, at), ENOSPC, -1)
REFUSED(int, rename, (const char *from, const char *to), (from, to), EIO, -1)
REFUSED(int, unlink, (const char *path), (path), EIO, -1)
REFUSED(int, fsync, (int file), (file), EIO, -1)
REFUSED(int, fdatasync, (int file), (file), EIO, -1)
REFUSED(int, ftruncate, (int file, off_t size), (file, size), EIO, -1)
REFUSED(int, flock, (int file, int how), (file, how), ENOLCK, -1)
REFUSED(int, fchmod, (int file, mode_t mode), (file, mode), EPERM, -1)
REFUSED(int, stat, (const char *restrict path, struct stat *restrict is), (path, is), EIO, -1)
REFUSED(int, fstat, (int file, struct stat *is), (file, is), EIO, -1)
REFUSED(int, lstat, (const char *restrict path, struct stat *restrict is), (path, is), EIO, -1)
REFUSED(char *, realpath, (const char *restrict path, char *restrict resolved), (path, resolved), EIO, NULL)
REFUSED(int, pipe2, (int ends[2], int flags), (ends, flags), EMFILE, -1)
REFUSED(int, memfd_create, (const char *name, unsigned flags), (name, flags), EMFILE, -1)
REFUSED(pid_t, fork, (void), (), EAGAIN, -1)
REFUSED(pid_t, waitpid, (pid_t child, int *status, int options), (child, status, options), EINTR, -1)
REFUSED(off_t, lseek, (int file, off_t by, int from), (file, by, from), EIO, -1)
REFUSED(int, poll, (struct pollfd * files, nfds_t count, int wait), (files, count, wait), ENOMEM, -1)
REFUSED(int, posix_spawn,
        (pid_t * child, const char *path, const posix_spawn_file_actions_t *actions, const posix_spawnattr_t *how,
         char *const *words, char *const *environment),
        (child, path, actions, how, words, environment), EAGAIN, EAGAIN)
REFUSED(int, posix_spawnp,
        (pid_t * child, const char *path, const posix_spawn_file_actions_t *actions, const posix_spawnattr_t *how,
         char *const *words, char *const *environment),
        (child, path, actions, how, words, environment), EAGAIN, EAGAIN)

#define OPENS(name)                                                                                                    \
    int name(const char *path, int flags, ...)                                                                         \
    {                                                                                                                  \
        NEXT(name);                                                                                                    \
        va_list more;                                                                                                  \
        va_start(more, flags);                                                                                         \
        const unsigned mode = (flags & O_CREAT) != 0 || (flags & O_TMPFILE) == O_TMPFILE ? va_arg(more, unsigned) : 0; \
        va_end(more);                                                                                                  \
        return FAILS(name, EMFILE) ? -1 : next(path, flags, mode);                                                     \
    }
OPENS(open)
OPENS(open64)
