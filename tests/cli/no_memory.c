/* SPDX-License-Identifier: MIT */
/* Loaded before the C library: the NO_MEMORY_AT-th request for memory fails, once, or with NO_MEMORY_ON all
 * from there on. Those of the YAML library are not refused: it does not survive some of them, and is not
 * ours. */
#define _GNU_SOURCE
#include <dlfcn.h>
#include <errno.h>
#include <execinfo.h>
#include <stdbool.h>
#include <stdlib.h>
#include <string.h>

void no_memory_at(long at);

static long wanted, seen;
static bool on;

static bool is_from(const void *address, const char *library)
{
    Dl_info from;
    return dladdr(address, &from) != 0 && from.dli_fname != NULL && strstr(from.dli_fname, library) != NULL;
}

/* Also what the YAML library asks for through the C library: seen in the calls that led here. */
static bool is_ours(const void *caller)
{
    enum { DEEP = 12 };
    static bool looking; /* looking asks for memory itself, the first time */
    void *calls[DEEP];
    if (looking || is_from(caller, "libfyaml"))
        return false;
    if (!is_from(caller, "libc.so"))
        return true;
    looking = true;
    const int depth = backtrace(calls, DEEP);
    looking = false;
    for (int i = 0; i < depth; i++) {
        if (is_from(calls[i], "libfyaml"))
            return false;
    }
    return true;
}

static bool fails(const void *caller)
{
    if (wanted == 0) {
        const char *at = getenv("NO_MEMORY_AT");
        wanted = at != NULL ? atol(at) : -1;
        on = getenv("NO_MEMORY_ON") != NULL;
    }
    seen++;
    if (wanted < 0 || (on ? seen < wanted : seen != wanted) || !is_ours(caller))
        return false;
    errno = ENOMEM;
    return true;
}

/* The same from inside: the at-th request from now on; 0 for none. Answers nothing. */
void no_memory_at(long at)
{
    wanted = at > 0 ? at : -1;
    seen = 0;
}

void *malloc(size_t size)
{
    static void *(*next)(size_t);
    if (next == NULL)
        *(void **)&next = dlsym(RTLD_NEXT, "malloc");
    return fails(__builtin_return_address(0)) ? NULL : next(size);
}

void *realloc(void *memory, size_t size)
{
    static void *(*next)(void *, size_t);
    if (next == NULL)
        *(void **)&next = dlsym(RTLD_NEXT, "realloc");
    return fails(__builtin_return_address(0)) ? NULL : next(memory, size);
}

/* dlsym() asks for memory of its own on the way to the first answer: a little is kept for it. */
void *calloc(size_t count, size_t size)
{
    static void *(*next)(size_t, size_t);
    static char early[4096];
    static size_t used;
    static bool asking;
    if (next == NULL && asking) {
        void *piece = early + used;
        used += (count * size + 15) / 16 * 16;
        return used <= sizeof early ? piece : NULL;
    }
    if (next == NULL) {
        asking = true;
        *(void **)&next = dlsym(RTLD_NEXT, "calloc");
    }
    return fails(__builtin_return_address(0)) ? NULL : next(count, size);
}
