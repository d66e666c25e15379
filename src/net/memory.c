#include "memory.h"
#include <stdint.h>
#include <stdlib.h>
#include <string.h>

void *tl_alloc(size_t count, size_t size)
{
    void *items = calloc(count != 0 ? count : 1, size);
    if (items == NULL)
        abort();
    return items;
}

void *tl_grow(void *items, size_t count, size_t size)
{
    if (count != 0 && (count & (count - 1)) != 0)
        return items; /* capacities are powers of two, and this one is not full */
    const size_t capacity = count != 0 ? 2 * count : 1;
    if (capacity > SIZE_MAX / size)
        abort();
    void *grown = realloc(items, capacity * size);
    if (grown == NULL)
        abort();
    return grown;
}

char *tl_copy_text(const char *text)
{
    const size_t size = strlen(text) + 1;
    return memcpy(tl_alloc(size, 1), text, size);
}
