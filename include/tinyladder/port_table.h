/* SPDX-License-Identifier: MIT */
/**
 * @file
 * What the core asks of the hardware: the table of functions that a port is. Included by port.h, which
 * has the rules that every port keeps.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * static tl_status clock_us(void *context, uint32_t *now_us)
 * {
 *     *now_us = *(const volatile uint32_t *)context; // a timer that counts microseconds
 *     return TL_OK;
 * }
 * static volatile uint32_t timer;
 * static const tl_port_ops ops = {.clock_step_us = 1, .clock_us = clock_us};
 * static tl_port_reader reader;
 * const tl_port own_port = {&ops, (void *)&timer, &reader};
 * @endcode
 */
#ifndef TINYLADDER_PORT_TABLE_H
#define TINYLADDER_PORT_TABLE_H

#include <stdbool.h>
#include <stdint.h>

#include "tinyladder/small.h"
#include "tinyladder/status.h"

/** What a digital line is used as. */
typedef enum TL_PACKED tl_line_use {
    TL_LINE_RELEASED,        /**< high impedance, nothing attached by the chip */
    TL_LINE_INPUT,           /**< level can be asked; no internal pull */
    TL_LINE_INPUT_PULL_UP,   /**< input with the chip's own weak pull-up */
    TL_LINE_INPUT_PULL_DOWN, /**< input with the chip's own weak pull-down */
    TL_LINE_OUTPUT           /**< driven; low until told otherwise */
} tl_line_use;

typedef struct tl_port_ops {
    /** Puts a line to use. At most 100 us. */
    tl_status (*line_use)(void *context, uint8_t line, tl_line_use use);
    /** The level a line has now. At most 100 us. */
    tl_status (*line_level)(void *context, uint8_t line, bool *high);
    /** Drives an output line. At most 100 us. */
    tl_status (*line_drive)(void *context, uint8_t line, bool high);
    /** Drives an output line high for share / 65535 of the time: 0 is low, 65535 high. At most 100 us. */
    tl_status (*line_duty)(void *context, uint8_t line, uint16_t share);
    /**
     * Selects the reference, connects a channel to the sampling capacitor for at least acquisition_ns and
     * then starts converting. References are numbers of the port's own choosing; one that it has not is
     * TL_ERR_UNSUPPORTED. A reference that was not selected before must have settled before the acquisition
     * ends. May return before any of it is over; at most 100 us more than the acquisition itself, and 10 ms
     * more where the reference changes.
     */
    tl_status (*conversion_start)(void *context, uint8_t channel, uint8_t reference, uint32_t acquisition_ns);
    /** Whether the conversion started last has ended. At most 100 us. */
    tl_status (*conversion_ended)(void *context, bool *ended);
    /** The word of the conversion that has ended, as the hardware delivers it. At most 100 us. */
    tl_status (*conversion_word)(void *context, tl_raw *word);
    /** Switches the converter on, ready to be started once this returns, or off. It begins on. At most 1 ms.
     */
    tl_status (*converter_power)(void *context, bool on);
    /** Free-running clock in microseconds; wraps after UINT32_MAX. */
    tl_status (*clock_us)(void *context, uint32_t *now_us);
    /** Waits for at least this long, and not for ever. */
    tl_status (*wait_us)(void *context, uint32_t duration_us);
    /**
     * Waits until one of these inputs has another level than the caller has seen there last (so that no
     * change is missed in between), asleep where the chip can, or for at most so long. May come back before
     * either.
     */
    tl_status (*wait_change)(void *context, const uint8_t *lines, const bool *seen_high, uint8_t count,
                             uint32_t at_most_us);
    /**
     * Moves count bytes each way while the line `select` is low; highest bit first. A short transfer is
     * TL_ERR_PORT. At most 10 ms.
     */
    tl_status (*spi_exchange)(void *context, uint8_t bus, uint8_t select, const uint8_t *out, uint8_t *in,
                              uint8_t count);
    /**
     * Writes out_count bytes to an address of 7 bits, then reads in_count after a repeated start; either may
     * be 0. TL_ERR_ACK if no device acknowledges. At most 10 ms, a stretched clock included.
     */
    tl_status (*i2c_transfer)(void *context, uint8_t bus, uint8_t address, const uint8_t *out,
                              uint8_t out_count, uint8_t *in, uint8_t in_count);
    /** Called between any two questions of a wait: to sleep until the next interrupt, to feed a watchdog. At
     * most 100 us. May stay NULL. */
    void (*idle)(void *context);
    uint16_t clock_step_us; /**< the clock's resolution: it moves by so much at a time; 0 or 1: by 1. What
                               waits by the clock waits, and is late, by so much longer */
} tl_port_ops;

/**
 * Who is reading just now: a sweep, or one conversion. The port's memory, {NULL} to begin with; only the core
 * writes it. One reader has the chip's converter, the converters on its buses and the multiplexers before
 * them; any other reader gets TL_ERR_BUSY, never another's word.
 */
typedef struct tl_port_reader {
    const void *who;
} tl_port_reader;

#ifndef TL_SMALL
/** All three must stay valid for as long as anything uses the port. `reader` may be NULL where nothing is
 * converted. */
typedef struct tl_port {
    const tl_port_ops *ops;
    void *context;
    tl_port_reader *reader;
} tl_port;
#endif

#endif
