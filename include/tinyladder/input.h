/** @file One analog input: from a conversion to a reading. */
#ifndef TINYLADDER_INPUT_H
#define TINYLADDER_INPUT_H

#include <stdint.h>

#include "tinyladder/port.h"
#include "tinyladder/scale.h"

/** How the converter hands over its bits. Unused bits must be 0. */
typedef enum tl_word_align { TL_WORD_RIGHT, TL_WORD_LEFT } tl_word_align;

typedef struct tl_word {
    uint8_t bits;  /**< 6 .. 16 */
    uint8_t width; /**< of the delivered word: bits .. 32 */
    uint8_t align; /**< a tl_word_align */
} tl_word;

/** A constant description; may be TL_ROM. */
typedef struct tl_input {
    uint32_t acquisition_ns; /**< how long the sampling capacitor is connected */
    uint32_t longest_us;     /**< bound on one whole conversion */
    uint8_t channel;
    tl_word word;
} tl_input;

/** What a reading is worth is in its flags; a value that failed is never marked fresh. */
typedef struct tl_reading {
    int32_t value_uv;
    uint16_t count;
    uint8_t flags; /**< TL_READING_... */
} tl_reading;

/**
 * Takes the count out of a converter word.
 * @param[out] count  Left untouched unless TL_OK is returned.
 * @return TL_OK; TL_ERR_ARG for an impossible format; TL_ERR_WORD where a bit is set that the format leaves
 * unused.
 */
tl_status tl_word_count(const tl_word *format, uint32_t word, uint16_t *count);

/**
 * Reads one input once.
 *
 * @param input  A TL_ROM object or a plain constant.
 * @param scale  In RAM; its bits must be those of the input's word.
 * @param[in,out] reading  On any failure it keeps value and count of before and loses its fresh flag.
 * @return TL_OK, or what tl_port_convert() or tl_word_count() answered.
 */
tl_status tl_input_take(const tl_port *port, const tl_input *input, const tl_scale *scale,
                        tl_reading *reading);

#endif
