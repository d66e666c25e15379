/* SPDX-License-Identifier: MIT */
/**
 * @file
 * Converters on a bus, described by data: what goes over the bus, where the result sits, what must be
 * verified.
 *
 * The port moves the bytes; every answer is checked, and every wait is bounded.
 *
 * Stack: that of tl_take() (docs/targets.md).
 * Called in the main program, by tl_take() and sweeps.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * tl_status weigh(const tl_port *port, const tl_external *converter, tl_sample *sample)
 * {
 *     const tl_external_input load_cell = {{&tl_i2c_conversion}, converter, 0x8583};
 *     const tl_way way = {&load_cell.kind, NULL, 0, 0};
 *     return tl_take(port, &way, sample);
 * }
 * @endcode
 */
#ifndef TINYLADDER_EXTERNAL_H
#define TINYLADDER_EXTERNAL_H

#include <stdbool.h>
#include <stdint.h>

#include "tinyladder/input.h"
#include "tinyladder/port.h"
#include "tinyladder/rom.h"
#include "tinyladder/word.h"

#ifdef __cplusplus
extern "C" {
#endif

enum { TL_EXTERNAL_NONE = 255 };

typedef enum TL_PACKED tl_external_bus { TL_EXTERNAL_I2C, TL_EXTERNAL_SPI } tl_external_bus;

/** One converter. A constant description; is TL_ROM. */
typedef struct tl_external {
    uint8_t kind; /**< a tl_external_bus */
    uint8_t bus;  /**< the port's number for it */
    uint8_t seat; /**< on I2C the address, 7 bits; on SPI the line that selects it */
    tl_word word;
    uint8_t byte_order; /**< a tl_byte_order, of every register on I2C */
    tl_span longest;    /**< from the start of a conversion until it must be ready, 1 .. TL_SPAN_MOST */
    tl_span earliest;   /**< on I2C: it is not asked before, so that the bus belongs to others meanwhile */
    /** Bits of the settings: on I2C 8, 16, 24 or 32, on SPI 0 .. 32, sent before the answer, highest first.
     */
    uint8_t settings_bits;
    /* I2C: registers whose number is one byte */
    uint8_t settings;   /**< register that settings are written to; TL_EXTERNAL_NONE where there is none */
    uint8_t result;     /**< register that the result is read from */
    uint8_t ready;      /**< register that tells when; TL_EXTERNAL_NONE: longest_us is waited for instead */
    uint8_t ready_bits; /**< width of that register: 8, 16, 24 or 32 */
    uint8_t ready_bit;  /**< 0 .. ready_bits - 1 */
    bool ready_when;    /**< its level once the result is ready */
    /* SPI: after the settings, zeros that are verified, then the result's bits */
    uint8_t zeros, take; /**< together up to 32 */
} tl_external;

/** One input, or one pair of inputs. Is TL_ROM. */
typedef struct tl_external_input {
    tl_convertible kind;                    /**< &tl_i2c_conversion or &tl_spi_conversion, as its kind */
    const TL_IN_ROM tl_external *converter; /**< is TL_ROM itself */
    tl_raw settings;                        /**< what is sent to start a conversion of it */
} tl_external_input;

/** tl_take() and sweeps go by it. TL_ERR_WORD where a zero is none, or the word breaks its format;
 * TL_ERR_ACK; TL_ERR_LATE where it is never ready. */
extern const TL_ROM tl_conversion tl_i2c_conversion;
extern const TL_ROM tl_conversion tl_spi_conversion;

#ifdef __cplusplus
}
#endif
#endif
