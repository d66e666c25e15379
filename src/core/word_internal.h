/* What taking a word apart (here) and making one (on the host) share. */
#ifndef TL_WORD_INTERNAL_H
#define TL_WORD_INTERNAL_H

#include "tinyladder/word.h"

bool tl_word_is_possible(const tl_word *f);
/* 0 .. 32 of them. */
uint32_t tl_word_ones(uint8_t count);
/* What stands between a code with a sign and its count; 0 without one. */
uint32_t tl_word_half(const tl_word *f);

#endif
