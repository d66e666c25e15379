/* What taking a word apart (here) and making one (on the host) share. */
#ifndef TL_WORD_INTERNAL_H
#define TL_WORD_INTERNAL_H

#include "tinyladder/word.h"

bool tl_word_is_possible(const tl_word *f);
uint32_t tl_word_ones(uint8_t count);
/* The word that holds these bits of a code: every format has exactly one. */
uint32_t tl_word_spread(const tl_word *f, uint32_t raw);
/* Two's complement and offset binary differ in their top bit. */
uint32_t tl_word_flip(const tl_word *f);

#endif
