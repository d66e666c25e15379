/**
 * @file The port: all that the core asks of the hardware.
 *
 * A port is a table of functions and a context. Rules every port keeps:
 *  1. Every function returns a status; TL_OK only when what was asked is done.
 *  2. No function blocks for longer than its comment says.
 *  3. Outputs are written only together with TL_OK.
 *  4. A member that the board cannot serve is left NULL; the core then answers TL_ERR_UNSUPPORTED.
 *  5. Lines and channels are numbers of the port's own choosing, stated in the port's documentation.
 *
 * Stack: 80 bytes at most, in tl_port_convert(), and what the port's own functions need (docs/targets.md).
 * Called in the main program; a call that waits states its bound, which its caller chooses.
 */
#ifndef TINYLADDER_PORT_H
#define TINYLADDER_PORT_H

#include <stdbool.h>
#include <stdint.h>

#include "tinyladder/status.h"

#ifdef __cplusplus
extern "C" {
#endif

/** What a digital line is used as. */
typedef enum tl_line_use {
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
    tl_status (*conversion_word)(void *context, uint32_t *word);
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

/** Of a time measured by a port's clock: so much has certainly passed. The port is never NULL. */
static inline uint32_t tl_port_surely_us(const tl_port_ops *ops, uint32_t measured_us)
{
    return measured_us > ops->clock_step_us ? measured_us - ops->clock_step_us : 0;
}

/**
 * Who is reading just now: a sweep, or one conversion. The port's memory, {NULL} to begin with; only the core
 * writes it. One reader has the chip's converter, the converters on its buses and the multiplexers before
 * them; any other reader gets TL_ERR_BUSY, never another's word.
 */
typedef struct tl_port_reader {
    const void *who;
} tl_port_reader;

/** All three must stay valid for as long as anything uses the port. `reader` may be NULL where nothing is
 * converted. */
typedef struct tl_port {
    const tl_port_ops *ops;
    void *context;
    tl_port_reader *reader;
} tl_port;

/*
 * The calls below answer TL_ERR_ARG for a port that is NULL or has no functions, and TL_ERR_UNSUPPORTED for a
 * missing member, and pass everything else on. Other pointers are never NULL.
 */

/**
 * Becomes the one reader; for those who use the calls in parts. Not from an interrupt.
 * @param who  Any address of the caller's own; asking again with the same is harmless.
 * @return TL_OK; TL_ERR_BUSY; TL_ERR_ARG where the port has no memory for it.
 */
tl_status tl_port_claim(const tl_port *port, const void *who);
/** Gives up being the reader; harmless for anyone who is not. */
void tl_port_yield(const tl_port *port, const void *who);

tl_status tl_port_line_use(const tl_port *port, uint8_t line, tl_line_use use);
tl_status tl_port_line_level(const tl_port *port, uint8_t line, bool *high);
tl_status tl_port_line_drive(const tl_port *port, uint8_t line, bool high);
tl_status tl_port_line_duty(const tl_port *port, uint8_t line, uint16_t share);
tl_status tl_port_converter_power(const tl_port *port, bool on);
/* A conversion in three parts, for those who have claimed the port and do other work meanwhile: who as there,
 * TL_ERR_BUSY for anyone else. tl_port_convert() does it whole. */
tl_status tl_port_conversion_start(const tl_port *port, const void *who, uint8_t channel, uint8_t reference,
                                   uint32_t acquisition_ns);
tl_status tl_port_conversion_ended(const tl_port *port, const void *who, bool *ended);
tl_status tl_port_conversion_word(const tl_port *port, const void *who, uint32_t *word);
tl_status tl_port_clock_us(const tl_port *port, uint32_t *now_us);
tl_status tl_port_wait_us(const tl_port *port, uint32_t duration_us);
/** count: 1 or more; at_most_us: 1 .. 2^31-1. */
tl_status tl_port_wait_change(const tl_port *port, const uint8_t *lines, const bool *seen_high, uint8_t count,
                              uint32_t at_most_us);
tl_status tl_port_spi_exchange(const tl_port *port, uint8_t bus, uint8_t select, const uint8_t *out,
                               uint8_t *in, uint8_t count);
tl_status tl_port_i2c_transfer(const tl_port *port, uint8_t bus, uint8_t address, const uint8_t *out,
                               uint8_t out_count, uint8_t *in, uint8_t in_count);

/**
 * One conversion, whole: start, wait for its end, fetch the word.
 *
 * Never waits longer than longest_us by the port's clock, and notices a clock that stands still.
 *
 * @param longest_us  Bound on what is waited for once it is started, 1 .. 2^31-1.
 * @param[out] word  Left untouched unless TL_OK is returned.
 * @return TL_OK; TL_ERR_BUSY while another reads; TL_ERR_LATE when the conversion did not end in time;
 * TL_ERR_CLOCK when the clock did not move during TL_PORT_FROZEN_POLLS questions; TL_ERR_ARG,
 * TL_ERR_UNSUPPORTED; or the port's own status.
 */
tl_status tl_port_convert(const tl_port *port, uint8_t channel, uint8_t reference, uint32_t acquisition_ns,
                          uint32_t longest_us, uint32_t *word);

/** This many questions without the clock moving prove that it stands still (a 32 kHz clock moves every 100 or
 * so). */
#define TL_PORT_FROZEN_POLLS 10000u

#ifdef __cplusplus
}
#endif
#endif
