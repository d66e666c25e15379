/* SPDX-License-Identifier: MIT */
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

enum { PORT_STRICT = 0x5a };

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
    uint32_t conversion_us;       /**< one conversion takes at most so long; the nearer, the more it finds */
    uint32_t conversion_least_us; /**< and at least so long; 0 where that is not known */
    uint8_t no_channel;           /**< not there */
    bool has_i2c;                 /**< the rest holds where there is one: */
    uint8_t i2c_bus, i2c_address, i2c_register; /**< a device there has this register of one byte */
    uint8_t i2c_nobody;                         /**< an address that no device has */
    bool has_spi;
    uint8_t spi_bus, spi_select; /**< nothing need answer: the bytes must be moved */
    /*
     * What is wired on purpose finds more: a second output, a resistor of 1 MOhm from a line to ground, a
     * second voltage, devices whose bytes are known. Each is used where it is said to be there.
     */
    bool select_is_no_line; /**< the driver moves the select line: its level cannot be asked for */
    bool own_acquisition;   /**< the driver's own, whatever is asked for */
    bool has_second_line;
    uint8_t second_line; /**< can be an output, with nothing on it */
    bool has_weak_line;
    uint8_t weak_line; /**< low by a resistor that the chip's own pull-up overcomes */
    bool has_second_channel;
    uint8_t second_channel;                /**< with another voltage, */
    uint32_t second_least, second_largest; /**< whose words lie within these: no multiple of 16 among them */
    bool has_i2c_bytes;
    uint8_t i2c_bytes[2]; /**< what the device has in that register and the next, read together */
    bool has_i2c_strict;
    uint8_t i2c_strict; /**< a register that is PORT_STRICT if it is read behind a repeated start, and if
                           every transfer before has ended with a stop; else something else */
    bool has_spi_answer;
    uint8_t spi_out[3],
        spi_in[3]; /**< what the selected device answers to these bytes; nothing when it is not */
} port_facts;

/** Told of each promise, in the words of the source, and whether it was kept. The words are TL_ROM. */
typedef void port_verdict(void *context, const TL_IN_ROM char *promise, bool kept);

/** Tries everything. @param verdict  May be NULL. @return How many promises were broken. */
unsigned port_conformance(const tl_port *port, const port_facts *facts, port_verdict *verdict, void *context);

#ifdef __cplusplus
}
#endif
#endif
