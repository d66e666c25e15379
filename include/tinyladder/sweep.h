/**
 * @file One pass over several inputs, each with its own acquisition, way through multiplexers and conversions
 * to throw away; whole in one call, or stepwise beside other work.
 *
 * A sweep that is not complete is never visible: readings and time stamp change together, with the last step.
 */
#ifndef TINYLADDER_SWEEP_H
#define TINYLADDER_SWEEP_H

#include "tinyladder/input.h"
#include "tinyladder/mux.h"

/** One input of a sweep. A constant description; may be TL_ROM. */
typedef struct tl_sweep_entry {
    const tl_input *input;    /**< may be TL_ROM itself */
    const tl_mux_step *route; /**< NULL where there is none; may be TL_ROM itself */
    uint8_t route_length;
    uint8_t discard; /**< conversions before the one that counts */
} tl_sweep_entry;

/** A code with its flags: TL_READING_FRESH, TL_READING_CLIPPED_... */
typedef struct tl_sweep_value {
    uint16_t count;
    uint8_t flags;
} tl_sweep_value;

/** The caller's memory; both arrays, too, one value an entry. */
typedef struct tl_sweep {
    const tl_sweep_entry *entries;
    tl_sweep_value *values; /**< of the last sweep that was complete */
    tl_sweep_value *work;   /**< of the one that runs */
    uint32_t stamp_us;      /**< when the last complete one ended */
    uint32_t since_us;      /**< since when the present phase lasts */
    uint32_t dwell_us;      /**< how long it has to */
    uint8_t count, at, left, phase;
    bool running, any; /**< any: there was a complete one */
} tl_sweep;

/** @param values, work  Each of `count` entries. @return TL_OK; TL_ERR_ARG. */
tl_status tl_sweep_init(tl_sweep *sweep, const tl_sweep_entry *entries, uint8_t count, tl_sweep_value *values,
                        tl_sweep_value *work);

/** Begins a sweep; one that runs is given up. */
void tl_sweep_begin(tl_sweep *sweep);

/**
 * Does what can be done now, without waiting: at most a handful of port calls.
 *
 * @param[out] done  true where the sweep is complete by this call.
 * @return TL_OK; TL_ERR_ARG where none was begun; TL_ERR_LATE for a conversion that does not end within its
 * input's bound; TL_ERR_WORD; or the port's status. After a failure the sweep is given up, and the last
 * complete one stands, no longer fresh.
 */
tl_status tl_sweep_step(tl_sweep *sweep, const tl_port *port, bool *done);

/**
 * A whole sweep in one call. Bounded by the dwells and the inputs' bounds; a clock that stands still is
 * noticed.
 * @return TL_ERR_CLOCK, or as tl_sweep_step().
 */
tl_status tl_sweep_run(tl_sweep *sweep, const tl_port *port);

#endif
