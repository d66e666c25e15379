/* SPDX-License-Identifier: MIT */
/**
 * @file
 * How a converter hands over its bits, and the code that they mean.
 *
 * A code is what the volts are reckoned from: 0 .. 2^bits - 1, or with a sign -2^(bits-1) .. 2^(bits-1) - 1.
 * Every bit of a word that the format promises is checked: a word that breaks the promise is an error, not a
 * value.
 *
 * Stack: 72 bytes at most, in tl_word_sample() (docs/targets.md).
 * Called anywhere, also in an interrupt, one caller at a time for each object; nothing waits.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * int32_t code_of(const uint8_t bytes[2])
 * {
 *     static const tl_word format = {12, 16, TL_WORD_LEFT, TL_WORD_TWOS_COMPLEMENT, false};
 *     tl_raw word = 0;
 *     int32_t code = 0;
 *     if (tl_word_join(bytes, 2, TL_BYTES_HIGH_FIRST, &word) == TL_OK)
 *         (void)tl_word_code(&format, word, &code);
 *     return code;
 * }
 * @endcode
 */
#ifndef TINYLADDER_WORD_H
#define TINYLADDER_WORD_H

#include <stdbool.h>
#include <stdint.h>

#include "tinyladder/scale.h"
#include "tinyladder/status.h"

#ifdef __cplusplus
extern "C" {
#endif

typedef enum TL_PACKED tl_word_align {
    TL_WORD_RIGHT,    /**< unused bits on the left */
    TL_WORD_LEFT,     /**< unused bits on the right, 0 */
    TL_WORD_STRETCHED /**< the code's bits repeated from the top until the word is full; unsigned only */
} tl_word_align;

typedef enum TL_PACKED tl_word_sign {
    TL_WORD_UNSIGNED,
    TL_WORD_TWOS_COMPLEMENT,
    TL_WORD_OFFSET_BINARY /**< the lowest code is written 0 */
} tl_word_sign;

/** Part of other descriptions; the calls below take it from RAM. */
typedef struct tl_word {
    uint8_t bits;     /**< 4 .. 24 */
    uint8_t width;    /**< of the delivered word: bits .. 32 */
    uint8_t align;    /**< a tl_word_align */
    uint8_t sign;     /**< a tl_word_sign */
    bool sign_filled; /**< two's complement aligned right: unused bits repeat the sign; else they are 0 */
} tl_word;

/**
 * Takes the code out of a word.
 * @param[out] code  Left untouched unless TL_OK is returned.
 * @return TL_OK; TL_ERR_ARG for an impossible format; TL_ERR_WORD where a bit is not what the format
 * promises, also above the word's width.
 */
tl_status tl_word_code(const tl_word *format, tl_raw word, int32_t *code);

/** A code as a count from 0 for the lowest, as scales want it: with a sign 2^(bits-1) is added. */
uint32_t tl_word_count(const tl_word *format, int32_t code);

/** As tl_word_code(), with flags: fresh, and clipped for the lowest and the highest code. */
tl_status tl_word_sample(const tl_word *format, tl_raw word, tl_sample *sample);

/** In which order bytes come. */
typedef enum TL_PACKED tl_byte_order { TL_BYTES_HIGH_FIRST, TL_BYTES_LOW_FIRST } tl_byte_order;

/**
 * Joins bytes as they were delivered into one word.
 * @param count  1 .. 4
 * @param[out] word  Left untouched unless TL_OK is returned.
 */
tl_status tl_word_join(const uint8_t *bytes, uint8_t count, tl_byte_order order, tl_raw *word);

#ifdef __cplusplus
}
#endif
#endif
