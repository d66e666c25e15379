/* SPDX-License-Identifier: MIT */
/**
 * @file
 * Two lines a quarter turn apart: which way, how far, and how often an edge was missed.
 *
 * A look sees two levels. One that changed is a quarter on or back; both at once is a missed edge,
 * and then the way is not known: it is counted as missed, and the place stays. Look at least four times as
 * often as quarters come, or feed it from the lines' interrupts.
 *
 * Stack: 24 bytes at most, in tl_quadrature_steps() (docs/targets.md).
 * Called anywhere, also in an interrupt, one caller at a time for each object; nothing waits.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * int32_t knob_steps(bool first, bool second)
 * {
 *     static tl_quadrature knob; // all zero is ready, as by tl_quadrature_init()
 *     (void)tl_quadrature_feed(&knob, first, second);
 *     return tl_quadrature_steps(&knob, 4);
 * }
 * @endcode
 */
#ifndef TINYLADDER_QUADRATURE_H
#define TINYLADDER_QUADRATURE_H

#include <stdbool.h>
#include <stdint.h>

#include "tinyladder/status.h"

#ifdef __cplusplus
extern "C" {
#endif

/** The caller's memory, 8 bytes. */
typedef struct tl_quadrature {
    int32_t quarters; /**< from where it began; wraps */
    uint16_t missed;  /**< looks at which both lines had changed; stays at its most */
    uint8_t levels;   /**< seen last: bit 0 the first line, bit 1 the second */
    bool any;         /**< there was a look */
} tl_quadrature;

/** @return TL_OK; TL_ERR_ARG for NULL. */
tl_status tl_quadrature_init(tl_quadrature *quadrature);

/**
 * One look at both lines; may be called from an interrupt, if nothing else feeds it.
 * The first line rising while the second is low is on.
 * @return Quarters moved by this look: 1, 0 or -1.
 */
int8_t tl_quadrature_feed(tl_quadrature *quadrature, bool first, bool second);

/** Whole steps, of this many quarters each (4 for a knob with a rest every fourth): towards the lower one, so
 * that a knob that trembles around a rest gives two neighbours at most. quarters_a_step: 1 .. 16. */
int32_t tl_quadrature_steps(const tl_quadrature *quadrature, uint8_t quarters_a_step);

#ifdef __cplusplus
}
#endif
#endif
