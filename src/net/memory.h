/* The host side ends the program when memory runs out: inputs are bounded, so that never happens to a user.
 */
#ifndef TL_MEMORY_H
#define TL_MEMORY_H

#include <stddef.h>

void *tl_alloc(size_t count, size_t size);             /* zeroed */
void *tl_grow(void *items, size_t count, size_t size); /* room for at least count + 1, doubling */
char *tl_copy_text(const char *text);

#endif
