/* SPDX-License-Identifier: MIT */
/* Memory of the host's side. What runs out leaves by tl_attempt(). */
#ifndef TL_MEMORY_H
#define TL_MEMORY_H

#include <stddef.h>
#include <stdio.h>

void *tl_alloc(size_t count, size_t size);             /* zeroed */
void *tl_grow(void *items, size_t count, size_t size); /* room for at least count + 1, doubling */
char *tl_copy_text(const char *text);

/* A text that grows as it is written: whole when its writer is closed by tl_text_end(), and to be freed then.
 */
FILE *tl_text_begin(char **text, size_t *size);
void tl_text_end(FILE *to, char *const *text);

/* For those whose own libraries have run out of it. */
_Noreturn void tl_memory_none(void);

#endif
