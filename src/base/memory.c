/* Memory that is there or ends the call: zeroed, and grown in powers of two, so that n additions cost n
 * copies at most. */
#include "base/memory.h"
#include <stdint.h>
#include <stdlib.h>
#include <string.h>

static void (*end)(void) = abort;

void tl_memory_set_end(void (*new_end)(void))
{
    end = new_end;
}

void tl_memory_none(void)
{
    end();
}

static void *there(void *memory)
{
    if (memory == NULL)
        end();
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

char *tl_copy_text(const char *text)
{
    const size_t size = strlen(text) + 1;
    return memcpy(tl_alloc(size, 1), text, size);
}
