/* SPDX-License-Identifier: MIT */
/**
 * @file
 * Taking an input whole, whichever converter it belongs to: claim, lead, dwell, discard, convert,
 * release.
 *
 * Whoever takes an input is the one reader of the port meanwhile: no multiplexer moves and no converter
 * starts for anyone else, who gets TL_ERR_BUSY.
 *
 * Stack: 304 bytes at most, in tl_take(), and what the port's own functions need (docs/targets.md).
 * Called in the main program; tl_take() waits for the dwell and the conversions, tl_taking_step() for
 * nothing.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * bool first_value(const tl_port *port, const tl_way *way, tl_number *value)
 * {
 *     tl_sample sample = {0, 0, TL_OK};
 *     if (tl_take(port, way, &sample) != TL_OK)
 *         return false; // sample.reason says why
 *     *value = sample.value;
 *     return true;
 * }
 * @endcode
 */
#ifndef TINYLADDER_TAKE_H
#define TINYLADDER_TAKE_H

#include <stdbool.h>
#include <stdint.h>

#include "tinyladder/mux.h"
#include "tinyladder/port.h"
#include "tinyladder/rom.h"
#include "tinyladder/scale.h"

#ifdef __cplusplus
extern "C" {
#endif

struct tl_conversion;

/** What every description of an input begins with, whichever converter it belongs to: how it is converted.
 * So a sweep can hold inputs of all kinds, and a firmware has the code of those only that it names. */
typedef struct tl_convertible {
    const TL_IN_ROM struct tl_conversion *by; /**< is TL_ROM itself */
} tl_convertible;

/** A conversion in parts, which tl_take() and sweeps put together. Is TL_ROM. */
typedef struct tl_conversion {
    tl_status (*start)(const tl_port *port, const TL_IN_ROM tl_convertible *input);
    /** Whether it has ended, so long after its start, and then what it found. TL_ERR_LATE where it should
     * have. */
    tl_status (*ended)(const tl_port *port, const TL_IN_ROM tl_convertible *input, tl_span waited,
                       tl_sample *sample, bool *ended);
    /** What a word says that came by itself; NULL where none can. */
    tl_status (*word)(const TL_IN_ROM tl_convertible *input, tl_raw word, tl_sample *sample);
    uint16_t poll_us; /**< between two questions whether it has ended: they would keep a bus busy */
} tl_conversion;

/** The way to a signal: through which multiplexers, to which input. A constant description; is TL_ROM. */
typedef struct tl_way {
    const TL_IN_ROM tl_convertible *input; /**< the `kind` of a tl_input or of a tl_external_input */
    const TL_IN_ROM tl_mux_lines *mux;     /**< NULL where there is none */
    uint8_t mux_input;
    uint8_t discard; /**< conversions before the one that counts */
} tl_way;

/**
 * Takes one signal, whole.
 *
 * @param[in,out] sample  Receives the code and its flags; on any failure it keeps its value and loses its
 * fresh flag.
 * @return TL_OK; TL_ERR_BUSY while another reads; TL_ERR_LATE for a conversion that does not end within its
 * bound; TL_ERR_CLOCK where the clock stands still meanwhile; TL_ERR_WORD; TL_ERR_ACK; TL_ERR_ARG; or the
 * port's status.
 */
tl_status tl_take(const tl_port *port, const TL_IN_ROM tl_way *way, tl_sample *sample);

/** The same stepwise, beside other work. The caller's memory. */
typedef struct tl_taking {
    const TL_IN_ROM tl_way *way;
    tl_span waited;  /**< in the present phase */
    tl_span seen_at; /**< the clock at the last step */
    tl_span dwell;   /**< how long a multiplexer wants */
    uint16_t still;  /**< steps since the clock moved last */
    uint8_t left, phase;
} tl_taking;

/** Begins; one that is under way must be ended before. */
void tl_taking_begin(tl_taking *taking, const TL_IN_ROM tl_way *way);

/**
 * Does what can be done now: a handful of port calls at most.
 *
 * @param[out] done  true with the step that has its value.
 * @return TL_OK; TL_ERR_BUSY while another reads: try again later; or as tl_take(), and then it is over.
 */
tl_status tl_taking_step(tl_taking *taking, const tl_port *port, tl_sample *sample, bool *done);

/** Gives up one that is under way, so that others may read. */
void tl_taking_end(tl_taking *taking, const tl_port *port);

#ifdef __cplusplus
}
#endif
#endif
