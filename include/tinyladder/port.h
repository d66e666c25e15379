/* SPDX-License-Identifier: MIT */
/**
 * @file
 * The port: all that the core asks of the hardware.
 *
 * A port is a table of functions and a context. Rules every port keeps:
 *  1. Every function returns a status; TL_OK only when what was asked is done.
 *  2. No function blocks for longer than its comment says.
 *  3. Outputs are written only together with TL_OK.
 *  4. A member that the board cannot serve is left NULL; the core then answers TL_ERR_UNSUPPORTED.
 *  5. Lines and channels are numbers of the port's own choosing, stated in the port's documentation.
 *
 * Stack: 96 bytes at most, in tl_port_convert(), and what the port's own functions need (docs/targets.md).
 * Called in the main program; a call that waits states its bound, which its caller chooses.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * tl_status blink(const tl_port *port)
 * {
 *     tl_status status = tl_port_line_use(port, 13, TL_LINE_OUTPUT);
 *     for (int i = 0; i < 10 && status == TL_OK; i++) {
 *         status = tl_port_line_drive(port, 13, i % 2 == 0);
 *         if (status == TL_OK)
 *             status = tl_port_wait_us(port, 500000);
 *     }
 *     return status;
 * }
 * @endcode
 */
#ifndef TINYLADDER_PORT_H
#define TINYLADDER_PORT_H

#include <stdbool.h>
#include <stdint.h>

#include "tinyladder/bound.h"
#include "tinyladder/port_table.h"

#ifdef __cplusplus
extern "C" {
#endif

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

#ifndef TL_SMALL
tl_status tl_port_line_use(const tl_port *port, uint8_t line, tl_line_use use);
tl_status tl_port_line_level(const tl_port *port, uint8_t line, bool *high);
tl_status tl_port_line_drive(const tl_port *port, uint8_t line, bool high);
tl_status tl_port_line_duty(const tl_port *port, uint8_t line, uint16_t share);
tl_status tl_port_converter_power(const tl_port *port, bool on);
tl_status tl_port_clock_us(const tl_port *port, uint32_t *now_us);
tl_status tl_port_wait_us(const tl_port *port, uint32_t duration_us);
/** count: 1 or more; at_most_us: 1 .. 2^31-1. */
tl_status tl_port_wait_change(const tl_port *port, const uint8_t *lines, const bool *seen_high, uint8_t count,
                              uint32_t at_most_us);
tl_status tl_port_spi_exchange(const tl_port *port, uint8_t bus, uint8_t select, const uint8_t *out,
                               uint8_t *in, uint8_t count);
tl_status tl_port_i2c_transfer(const tl_port *port, uint8_t bus, uint8_t address, const uint8_t *out,
                               uint8_t out_count, uint8_t *in, uint8_t in_count);
#endif

/* A conversion in three parts, for those who have claimed the port and do other work meanwhile: who as there,
 * TL_ERR_BUSY for anyone else. tl_port_convert() does it whole. */
tl_status tl_port_conversion_start(const tl_port *port, const void *who, uint8_t channel, uint8_t reference,
                                   uint32_t acquisition_ns);
tl_status tl_port_conversion_ended(const tl_port *port, const void *who, bool *ended);
tl_status tl_port_conversion_word(const tl_port *port, const void *who, tl_raw *word);
/** The clock as a tl_time: microseconds, in the small build ticks. */
static inline tl_status tl_port_clock(const tl_port *port, tl_time *now)
{
    uint32_t now_us = 0;
    const tl_status status = tl_port_clock_us(port, &now_us);
    if (status == TL_OK)
        *now = TL_TIME_OF_CLOCK(now_us);
    return status;
}

/** The clock as a tl_span. */
static inline tl_status tl_port_span_clock(const tl_port *port, tl_span *now)
{
    uint32_t now_us = 0;
    const tl_status status = tl_port_clock_us(port, &now_us);
    if (status == TL_OK)
        *now = TL_SPAN_OF_CLOCK(now_us);
    return status;
}

/** Of a time measured by a port's clock: so much has certainly passed. */
static inline tl_span tl_port_surely(const tl_port *port, tl_span measured)
{
#ifdef TL_SMALL
    const tl_span step = TL_SPAN_US(tl_bound_clock_step_us);
    (void)port;
#else
    const tl_span step = port->ops->clock_step_us;
#endif
    return measured > step ? (tl_span)(measured - step) : 0;
}

/**
 * One conversion, whole: start, wait for its end, fetch the word.
 *
 * Never waits longer than longest by the port's clock, and notices a clock that stands still; in the small
 * build it asks TL_PORT_FROZEN_POLLS times at most.
 *
 * @param longest  Bound on what is waited for once it is started, 1 .. TL_SPAN_MOST.
 * @param[out] word  Left untouched unless TL_OK is returned.
 * @return TL_OK; TL_ERR_BUSY while another reads; TL_ERR_LATE when the conversion did not end in time;
 * TL_ERR_CLOCK when the clock did not move during TL_PORT_FROZEN_POLLS questions; TL_ERR_ARG,
 * TL_ERR_UNSUPPORTED; or the port's own status.
 */
tl_status tl_port_convert(const tl_port *port, uint8_t channel, uint8_t reference, uint32_t acquisition_ns,
                          tl_span longest, tl_raw *word);

/** This many questions without the clock moving prove that it stands still (a 32 kHz clock moves every 100 or
 * so). */
#define TL_PORT_FROZEN_POLLS 10000u

#ifdef __cplusplus
}
#endif
#endif
