/* SPDX-License-Identifier: MIT */
/* What the rules find in a plan; each finding is asked for its form as well: its dimension, its headline, its
 * advice.
 */
#ifndef TL_FIND_SLUGS_H
#define TL_FIND_SLUGS_H

#include "tinyladder/design/rules.h"
#include <stdbool.h>
#include <stddef.h>

/* The findings of a plan as `slug slug`, errors and warnings and, where wanted, notes; false where it is
 * none. */
bool find_slugs(const char *path, tl_severity least, char *slugs, size_t size);

/* Whether a word stands in a list of words with blanks between. */
bool has_word(const char *list, const char *word);

#endif
