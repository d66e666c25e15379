/**
 * @file What every port must keep (docs/porting.md), tried on the board itself. Needs nothing but the core.
 *
 * Run it once on a new port, and after each change of it, with facts about what is wired there.
 */
#ifndef TINYLADDER_CONFORMANCE_H
#define TINYLADDER_CONFORMANCE_H

#include "tinyladder/port.h"
#include "tinyladder/rom.h"

#ifdef __cplusplus
extern "C" {
#endif

typedef struct port_facts {
    uint32_t
        watch_us; /**< how long the clock is watched: 2^n finds clocks that wrap after that; below 2^31 */
    uint8_t input_line;  /**< can be an input, with something defined on it */
    bool input_high;     /**< and that is its level */
    uint8_t output_line; /**< can be an output, with nothing on it */
    uint8_t no_line;     /**< not there */
    bool has_duty;       /**< one that can be driven for a share of the time: */
    uint8_t duty_line;
    bool has_wait_change;              /**< it can sleep until a line changes */
    bool has_power;                    /**< the converter can be switched off */
    uint8_t channel;                   /**< of the converter, with a voltage on it */
    uint8_t reference;                 /**< against which */
    uint32_t least_word, largest_word; /**< whose words lie within these, both well inside the range */
    uint32_t conversion_us;            /**< one conversion takes at most so long */
    uint8_t no_channel;                /**< not there */
    bool has_i2c;                      /**< the rest holds where there is one: */
    uint8_t i2c_bus, i2c_address, i2c_register; /**< a device there has this register of one byte */
    uint8_t i2c_nobody;                         /**< an address that no device has */
    bool has_spi;
    uint8_t spi_bus, spi_select; /**< nothing need answer: the bytes must be moved */
} port_facts;

/** Told of each promise, in the words of the source, and whether it was kept. The words are TL_ROM. */
typedef void port_verdict(void *context, const TL_IN_ROM char *promise, bool kept);

/** Tries everything. @param verdict  May be NULL. @return How many promises were broken. */
unsigned port_conformance(const tl_port *port, const port_facts *facts, port_verdict *verdict, void *context);

#ifdef __cplusplus
}
#endif
#endif
