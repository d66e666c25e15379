/* SPDX-License-Identifier: MIT */
/* Memory that is there or ends the call: zeroed, and grown in powers of two, so that n additions cost n
 * copies at most. */
#include "base/memory.h"
#include "tinyladder/design/memory.h"
#include <setjmp.h>
#include <stdbool.h>
#include <stdint.h>
#include <stdlib.h>
#include <string.h>

static _Thread_local jmp_buf *way_out;

bool tl_attempt(void (*work)(void *context), void *context)
{
    jmp_buf here;
    if (way_out != NULL) {
        work(context);
        return true;
    }
    way_out = &here;
    const bool good = setjmp(here) == 0;
    if (good)
        work(context);
    way_out = NULL;
    return good;
}

void tl_memory_none(void)
{
    if (way_out != NULL)
        longjmp(*way_out, 1);
    _Exit(EXIT_FAILURE);
}

static void *there(void *memory)
{
    if (memory == NULL)
        tl_memory_none();
    return memory;
}

void *tl_alloc(size_t count, size_t size)
{
    return there(calloc(count != 0 ? count : 1, size));
}

void *tl_grow(void *items, size_t count, size_t size)
{
    if (count != 0 && (count & (count - 1)) != 0)
        return items; /* capacities are powers of two, and this one is not full */
    const size_t capacity = count != 0 ? 2 * count : 1;
    return there(capacity > SIZE_MAX / size ? NULL : realloc(items, capacity * size));
}

FILE *tl_text_begin(char **text, size_t *size)
{
    FILE *to = open_memstream(text, size);
    if (to == NULL)
        tl_memory_none();
    return to;
}

void tl_text_end(FILE *to, char *const *text)
{
    /* Closing can go well although not even the first room was there. */
    const bool whole = ferror(to) == 0;
    if (fclose(to) != 0 || !whole || *text == NULL)
        tl_memory_none();
}

char *tl_copy_text(const char *text)
{
    const size_t size = strlen(text) + 1;
    return memcpy(tl_alloc(size, 1), text, size);
}
