/**
 * @file Converters on a bus, described by data: what goes over the bus, where the result sits, what must be
 * verified.
 *
 * The port moves the bytes; every answer is checked, and every wait is bounded.
 *
 * Stack: 208 bytes at most, in tl_external_take(), and what the port's own functions need
 * (docs/targets.md).
 * Called in the main program; tl_external_take() waits as long as the converter's longest time and two
 * transfers, the others for nothing.
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

typedef enum tl_external_bus { TL_EXTERNAL_I2C, TL_EXTERNAL_SPI } tl_external_bus;

/** One converter. A constant description; is TL_ROM. */
typedef struct tl_external {
    uint8_t kind; /**< a tl_external_bus */
    uint8_t bus;  /**< the port's number for it */
    uint8_t seat; /**< on I2C the address, 7 bits; on SPI the line that selects it */
    tl_word word;
    uint8_t byte_order;   /**< a tl_byte_order, of every register on I2C */
    uint32_t longest_us;  /**< from the start of a conversion until it must be ready, 1 .. 2^31-1 */
    uint32_t earliest_us; /**< on I2C: it is not asked before, so that the bus belongs to others meanwhile */
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
    tl_convertible kind;                    /**< for sweeps: &tl_external_conversion */
    const TL_IN_ROM tl_external *converter; /**< is TL_ROM itself */
    uint32_t settings;                      /**< what is sent to start a conversion of it */
} tl_external_input;

extern const TL_ROM tl_conversion tl_external_conversion;

/*
 * A conversion in three parts, for those who do other work meanwhile (tl_port_claim() first);
 * tl_external_take() does it whole. All answer TL_OK; TL_ERR_ARG for an impossible description; TL_ERR_ACK;
 * or the port's status.
 */

/** Tells it to convert. On SPI nothing yet: one exchange does it all. */
tl_status tl_external_start(const tl_port *port, const TL_IN_ROM tl_external_input *input);
/** Whether it is ready, `waited_us` after its start, once it is worth asking; TL_ERR_LATE where it should be
 * by now and is not. */
tl_status tl_external_ready(const tl_port *port, const TL_IN_ROM tl_external_input *input, uint32_t waited_us,
                            bool *ready);
/** Fetches the code and its flags; TL_ERR_WORD where a zero is none, or the word breaks its format. */
tl_status tl_external_fetch(const tl_port *port, const TL_IN_ROM tl_external_input *input, tl_sample *sample);

/**
 * One conversion of one input, whole.
 *
 * @param[in,out] sample  Receives the code and its flags; on any failure it keeps its value and loses its
 * fresh flag.
 * @return As the parts above; TL_ERR_LATE where it is never ready; TL_ERR_CLOCK where the clock stands still
 * meanwhile; TL_ERR_BUSY while another reads.
 */
tl_status tl_external_take(const tl_port *port, const TL_IN_ROM tl_external_input *input, tl_sample *sample);

#ifdef __cplusplus
}
#endif
#endif
