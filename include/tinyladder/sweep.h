/* SPDX-License-Identifier: MIT */
/**
 * @file
 * One pass over several inputs, each with its own acquisition, way through multiplexers and conversions
 * to throw away; whole in one call, or stepwise beside other work.
 *
 * A sweep that is not complete is never visible: values and time stamp change together, with the last step.
 * An input that fails does not take the others with it: it keeps its value of before, no longer fresh.
 *
 * Stack: 280 bytes at most, in tl_sweep_run(), and what the port's own functions need (docs/targets.md).
 * Called in the main program, tl_sweep_words() and tl_sweep_copy() anywhere; tl_sweep_run() waits for all
 * its conversions and dwells, tl_sweep_step() for none.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * tl_status read_all(const tl_port *port, const tl_way *ways, tl_sweep *sweep)
 * {
 *     static tl_sample samples[2 * 8]; // what is shown, and what is being gathered
 *     tl_status status = tl_sweep_init(sweep, ways, 8, samples);
 *     return status == TL_OK ? tl_sweep_run(sweep, port) : status;
 * }
 * @endcode
 */
#ifndef TINYLADDER_SWEEP_H
#define TINYLADDER_SWEEP_H

#include "tinyladder/input.h"
#include "tinyladder/mux.h"
#include "tinyladder/rom.h"

#ifdef __cplusplus
extern "C" {
#endif

/** The caller's memory. Of each entry a sample is the code with its flags. */
typedef struct tl_sweep {
    const TL_IN_ROM tl_way *ways;
    tl_sample *values; /**< of the last sweep that was complete */
    tl_sample *work;   /**< of the one that runs */
    uint32_t stamp_us; /**< when the last complete one ended */
    tl_taking taking;  /**< of the entry at hand */
    uint8_t count, at;
    uint8_t failed;    /**< entries of the one that runs */
    uint8_t sequence;  /**< odd while values are written: tl_sweep_copy() */
    bool running, any; /**< any: there was a complete one */
    bool sleeps;       /**< set it to have the chip's converter switched off between sweeps */
} tl_sweep;

/**
 * @param ways  One for each entry, with an input that says how it is converted. Are TL_ROM.
 * @param samples  Room for two sweeps, 2 * count of them.
 * @return TL_OK; TL_ERR_ARG, and then nothing has changed.
 */
tl_status tl_sweep_init(tl_sweep *sweep, const TL_IN_ROM tl_way *ways, uint8_t count, tl_sample *samples);

/** Begins a sweep; one that runs is aborted. @return TL_OK; TL_ERR_ARG for memory that is 0 everywhere: it
 * was never made ready. */
tl_status tl_sweep_begin(tl_sweep *sweep);

/**
 * Does what can be done now, without waiting: at most a handful of port calls.
 *
 * @param[out] done  true where the sweep is complete by this call.
 * @return TL_OK; TL_ERR_ARG where none was begun; TL_ERR_BUSY while another reads: try again later, the
 * sweep still stands at its beginning; TL_ERR_LATE for a conversion that does not end within its
 * bound; TL_ERR_CLOCK where the clock stands still; TL_ERR_WORD; or the port's status. The failure of an
 * entry is reported once, and the sweep goes on with the next (`running`). Where every entry has failed, or
 * the clock or the power, it is aborted, and the last complete one stands, no longer fresh.
 */
tl_status tl_sweep_step(tl_sweep *sweep, const tl_port *port, bool *done);

/** Gives up a sweep that runs, so that others may read; the last complete one stands, no longer fresh. */
void tl_sweep_end(tl_sweep *sweep, const tl_port *port);

/**
 * A whole sweep in one call. Bounded by the dwells and the inputs' bounds; a clock that stands still is
 * noticed.
 * @return TL_ERR_CLOCK; what the first entry that failed has failed with; or as tl_sweep_step().
 */
tl_status tl_sweep_run(tl_sweep *sweep, const tl_port *port);

/**
 * A whole sweep that came by itself, a word for each entry in their order, such as DMA has left.
 * @param bytes  Of each word, 2 or 4: words is an array of uint16_t or of uint32_t.
 * @return TL_OK; TL_ERR_ARG for an input that no word can come of by itself; TL_ERR_BUSY while a sweep
 * runs; TL_ERR_WORD where a word breaks its format: that entry keeps its value of before, no longer fresh.
 * Where all do, the last complete sweep stands, no longer fresh.
 */
tl_status tl_sweep_words(tl_sweep *sweep, const void *words, uint8_t bytes, uint32_t now_us);

/**
 * The last complete sweep, whole, wherever it is asked from: also from an interrupt while the main program
 * sweeps, or from the main program while an interrupt does.
 * @param[out] to  `count` samples; what stands there after false is no sweep.
 * @return false where values are being written just now, or there was none.
 */
bool tl_sweep_copy(const tl_sweep *sweep, tl_sample *to, uint32_t *stamp_us);

#ifdef __cplusplus
}
#endif
#endif
