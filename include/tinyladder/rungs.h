/* SPDX-License-Identifier: MIT */
/**
 * @file
 * Buttons on one converter pin: which level a count is, or none.
 *
 * Stack: 8 bytes at most, in tl_ladder_level() (docs/targets.md).
 * Called anywhere, also in an interrupt, one caller at a time for each object; nothing waits.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * uint8_t button_of(uint16_t count)
 * {
 *     static const tl_rung rungs[] = {{0, 40}, {600, 700}, {1300, 1450}, {4000, 4095}};
 *     return tl_ladder_level(rungs, 4, count); // TL_LADDER_BETWEEN: none of them
 * }
 * @endcode
 */
#ifndef TINYLADDER_RUNGS_H
#define TINYLADDER_RUNGS_H

#include <stdint.h>

#include "tinyladder/rom.h"

#ifdef __cplusplus
extern "C" {
#endif

/** The counts of one level, both ends with it. A constant description; is TL_ROM. */
typedef struct tl_rung {
    uint16_t low, high;
} tl_rung;

enum { TL_LADDER_BETWEEN = 255 };

/**
 * @param rungs  `levels` of them, apart from each other; in TL_ROM.
 * @return Which one holds the count, from 0; TL_LADDER_BETWEEN where none does: a contact on its way, or two
 * buttons at once.
 */
uint8_t tl_ladder_level(const TL_IN_ROM tl_rung *rungs, uint8_t levels, uint16_t count);

#ifdef __cplusplus
}
#endif
#endif
