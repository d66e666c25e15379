/* Loaded before the C library: the NO_MEMORY_AT-th request for memory fails, once, or with NO_MEMORY_ON all
 * from there on. */
#define _GNU_SOURCE
#include <dlfcn.h>
#include <errno.h>
#include <stdbool.h>
#include <stdlib.h>

void no_memory_at(long at);

static long wanted, seen;
static bool on;

static bool fails(void)
{
    if (wanted == 0) {
        const char *at = getenv("NO_MEMORY_AT");
        wanted = at != NULL ? atol(at) : -1;
        on = getenv("NO_MEMORY_ON") != NULL;
    }
    seen++;
    if (wanted < 0 || (on ? seen < wanted : seen != wanted))
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
    return fails() ? NULL : next(size);
}

void *realloc(void *memory, size_t size)
{
    static void *(*next)(void *, size_t);
    if (next == NULL)
        *(void **)&next = dlsym(RTLD_NEXT, "realloc");
    return fails() ? NULL : next(memory, size);
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
    return fails() ? NULL : next(count, size);
}
