/** @file One analog input: from a conversion to a reading. */
#ifndef TINYLADDER_INPUT_H
#define TINYLADDER_INPUT_H

#include <stdint.h>

#include "tinyladder/port.h"
#include "tinyladder/scale.h"
#include "tinyladder/word.h"

#ifdef __cplusplus
extern "C" {
#endif

/** A constant description; is TL_ROM. */
typedef struct tl_input {
    uint32_t acquisition_ns; /**< how long the sampling capacitor is connected */
    uint32_t longest_us;     /**< bound on one whole conversion */
    uint8_t channel;
    tl_word word; /**< of up to 16 bits */
} tl_input;

/** What a reading is worth is in its flags; a value that failed is never marked fresh. */
typedef struct tl_reading {
    int32_t value_uv;
    uint16_t count; /**< from 0 for the lowest code: tl_word_count() */
    uint8_t flags;  /**< TL_READING_... */
} tl_reading;

/**
 * One conversion, as a code with its flags.
 *
 * @param input  Is TL_ROM.
 * @param[in,out] sample  On any failure it keeps its value and loses its fresh flag.
 * @return TL_OK, or what tl_port_convert() or tl_word_sample() answered.
 */
tl_status tl_input_sample(const tl_port *port, const tl_input *input, tl_sample *sample);
/** The same of a word that came by itself, by an interrupt or by DMA: no port is asked. May be called from an
 * interrupt. */
tl_status tl_input_word(const tl_input *input, uint32_t word, tl_sample *sample);

/**
 * Reads one input once, in microvolts, by a scale that is known at run time only.
 *
 * @param input  Is TL_ROM.
 * @param scale  In RAM; TL_ERR_ARG where its bits are not those of the input's word.
 * @param[in,out] reading  On any failure it keeps value and count of before and loses its fresh flag.
 * @return TL_OK, or what tl_port_convert() or tl_word_code() answered.
 */
tl_status tl_input_take(const tl_port *port, const tl_input *input, const tl_scale *scale,
                        tl_reading *reading);

#ifdef __cplusplus
}
#endif
#endif
