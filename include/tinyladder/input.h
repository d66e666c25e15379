/* SPDX-License-Identifier: MIT */
/**
 * @file
 * One analog input: from a conversion to a code with its flags, or to microvolts.
 *
 * Stack: 168 bytes at most, in tl_input_take(), and what the port's own functions need (docs/targets.md).
 * Called in the main program, tl_input_word() anywhere; tl_input_sample() and tl_input_take() wait for the
 * acquisition and the input's own bound.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * tl_status read_battery(const tl_port *port, tl_sample *sample)
 * {
 *     static const tl_input battery = {{&tl_pin_conversion}, 10000, TL_SPAN_US(100), 4, 0,
 *                                      {12, 12, TL_WORD_RIGHT, TL_WORD_UNSIGNED, false}};
 *     return tl_input_sample(port, &battery, sample);
 * }
 * @endcode
 */
#ifndef TINYLADDER_INPUT_H
#define TINYLADDER_INPUT_H

#include <stdint.h>

#include "tinyladder/port.h"
#include "tinyladder/rom.h"
#include "tinyladder/scale.h"
#include "tinyladder/take.h"
#include "tinyladder/word.h"

#ifdef __cplusplus
extern "C" {
#endif

/** Of a tl_input whose word is its count: no sign, aligned right. Any other format is TL_ERR_ARG. tl_take()
 * and sweeps know how; it has no functions of its own, so that nothing is linked which a firmware does not
 * use. */
extern const TL_ROM tl_conversion tl_pin_conversion;
/** Of a tl_input with a word of any format. */
extern const TL_ROM tl_conversion tl_pin_word_conversion;

/** An input of the chip's own converter. A constant description; is TL_ROM. */
typedef struct tl_input {
    tl_convertible kind;     /**< for sweeps: &tl_pin_conversion or &tl_pin_word_conversion */
    uint32_t acquisition_ns; /**< how long the sampling capacitor is connected */
    tl_span longest;         /**< bound on one whole conversion */
    uint8_t channel;
    uint8_t reference; /**< the port's number for what its full scale is */
    tl_word word;
} tl_input;

/**
 * One conversion of an input that no multiplexer leads to, as a code with its flags.
 *
 * @param[in,out] sample  On any failure it keeps its value and loses its fresh flag.
 * @return TL_OK, or what tl_port_convert() or tl_word_sample() answered.
 */
tl_status tl_input_sample(const tl_port *port, const TL_IN_ROM tl_input *input, tl_sample *sample);
/** The same of a word that came by itself, by an interrupt or by DMA: no port is asked. May be called from an
 * interrupt. */
tl_status tl_input_word(const TL_IN_ROM tl_input *input, tl_raw word, tl_sample *sample);

#ifndef TL_SMALL
/**
 * Reads one input once, in microvolts, by a scale that is known at run time only.
 *
 * @param input  Of up to 16 bits.
 * @param scale  In RAM; TL_ERR_ARG where its bits are not those of the input's word.
 * @param[in,out] sample  Receives microvolts and flags; on any failure it keeps its value and loses its fresh
 * flag.
 * @param[out] count  Of it, from 0 for the lowest code; untouched on any failure. NULL where it is not
 * wanted.
 * @return TL_OK, or what tl_port_convert() or tl_word_code() answered.
 */
tl_status tl_input_take(const tl_port *port, const TL_IN_ROM tl_input *input, const tl_scale *scale,
                        tl_sample *sample, uint16_t *count);
#endif

#ifdef __cplusplus
}
#endif
#endif
