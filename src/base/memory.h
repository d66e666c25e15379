/* Memory of the host's side. What runs out leaves by tl_attempt(). */
#ifndef TL_MEMORY_H
#define TL_MEMORY_H

#include <stddef.h>

void *tl_alloc(size_t count, size_t size);             /* zeroed */
void *tl_grow(void *items, size_t count, size_t size); /* room for at least count + 1, doubling */
char *tl_copy_text(const char *text);

/* For those whose own libraries have run out of it. */
_Noreturn void tl_memory_none(void);

#endif
