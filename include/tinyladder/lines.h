/* SPDX-License-Identifier: MIT */
/**
 * @file
 * Up to 32 digital lines debounced at once, bit by bit in parallel: one steady time for all, counted in
 * looks.
 *
 * Look at regular intervals; steps times the interval is the steady time.
 *
 * Stack: 20 bytes at most, in tl_lines_look() (docs/targets.md).
 * Called anywhere, also in an interrupt, one caller at a time for each object; nothing waits.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * uint32_t steady_levels(uint32_t port_register)
 * {
 *     static tl_lines lines; // made ready once: tl_lines_init(&lines, port_register, 4)
 *     return tl_lines_look(&lines, port_register); // every millisecond: 32 lines, debounced
 * }
 * @endcode
 */
#ifndef TINYLADDER_LINES_H
#define TINYLADDER_LINES_H

#include <stdint.h>

#include "tinyladder/status.h"

#ifdef __cplusplus
extern "C" {
#endif

enum { TL_LINES_STEPS_MOST = 7 };

/** The caller's memory, 28 bytes for all 32 lines. */
typedef struct tl_lines {
    uint32_t accepted;  /**< a bit a line: its debounced level */
    uint32_t count[3];  /**< looks that differed in a row: a counter of three bits for each line, bit n in
                           count[n] */
    uint32_t enough[3]; /**< the steps, each of their bits spread over a word */
} tl_lines;

/**
 * @param level  What is taken as accepted to begin with.
 * @param steps  Looks in a row that must agree, 1 .. TL_LINES_STEPS_MOST.
 * @return TL_OK or TL_ERR_ARG.
 */
tl_status tl_lines_init(tl_lines *lines, uint32_t level, uint8_t steps);

/**
 * Looks once.
 * @param seen  The level of every line now.
 * @return The lines whose accepted level changed by this look; read the new level in lines->accepted.
 */
uint32_t tl_lines_look(tl_lines *lines, uint32_t seen);

#ifdef __cplusplus
}
#endif
#endif
