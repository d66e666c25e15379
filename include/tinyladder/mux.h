/* SPDX-License-Identifier: MIT */
/**
 * @file
 * Multiplexers: the lines that choose an input, one multiplexer behind the other.
 *
 * Break before make: a multiplexer with an enable line is switched off while its select lines change.
 *
 * Stack: 72 bytes at most, in tl_mux_lead(), and what the port's own functions need (docs/targets.md).
 * Called in the main program; tl_mux_lead() waits for the dwell of each multiplexer on the way.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * tl_status to_third(const tl_port *port, const void *me)
 * {
 *     static const tl_mux_lines mux = {.select = {20, 21, 22}, .select_count = 3, .enable = TL_MUX_NO_LINE,
 *                                      .dwell = TL_SPAN_US(20)};
 *     tl_status status = tl_mux_open(port, &mux);
 *     if (status == TL_OK)
 *         status = tl_port_claim(port, me);
 *     return status == TL_OK ? tl_mux_lead(port, me, &mux, 3) : status;
 * }
 * @endcode
 */
#ifndef TINYLADDER_MUX_H
#define TINYLADDER_MUX_H

#include <stdbool.h>
#include <stdint.h>

#include "tinyladder/port.h"
#include "tinyladder/rom.h"

#ifdef __cplusplus
extern "C" {
#endif

enum { TL_MUX_SELECTS_MOST = 6, TL_MUX_DEEPEST = 8, TL_MUX_NO_LINE = 255 };

/** A constant description; is TL_ROM. A line that a rail holds permanently is TL_MUX_NO_LINE. */
typedef struct tl_mux_lines {
    uint8_t select[TL_MUX_SELECTS_MOST]; /**< lowest bit first */
    uint8_t select_count;
    uint8_t enable;
    bool enable_high; /**< active level */
    tl_span dwell;    /**< to wait once an input is through, 0 .. TL_SPAN_MOST */
    /** In a tree, the multiplexer that its common line goes into, and the input there; NULL where it goes to
     * a pin. TL_MUX_DEEPEST of them at most. */
    const TL_IN_ROM struct tl_mux_lines *into;
    uint8_t into_input;
} tl_mux_lines;

/** Makes all lines of a multiplexer outputs, disabled and at input 0. @return TL_OK; TL_ERR_ARG; or the
 * port's status, and then all are released. */
tl_status tl_mux_open(const tl_port *port, const TL_IN_ROM tl_mux_lines *mux);

/**
 * Leads an input through, and what its multiplexer goes into, and waits for the longest dwell on the way, for
 * those who use the calls in parts; tl_take() does it all.
 *
 * @param who  Who has claimed the port.
 * @return TL_OK; TL_ERR_BUSY for anyone else, and then nothing has moved; TL_ERR_ARG for an input whose
 * number has more bits than there are lines; or the port's status, and then the multiplexers with an enable
 * line that were reached are switched off, as far as the port lets it.
 */
tl_status tl_mux_lead(const tl_port *port, const void *who, const TL_IN_ROM tl_mux_lines *mux, uint8_t input);

/** Releases all lines of a multiplexer: every call is made, the first failure is reported. */
tl_status tl_mux_release(const tl_port *port, const TL_IN_ROM tl_mux_lines *mux);

#ifdef __cplusplus
}
#endif
#endif
