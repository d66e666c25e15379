/* SPDX-License-Identifier: MIT */
/**
 * @file
 * A value as a share between two ends: percent, per mille, a number of lamps.
 *
 * Stack: 48 bytes at most, in tl_share_inward() (docs/targets.md).
 * Called anywhere, also in an interrupt, one caller at a time for each object; nothing waits.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * uint16_t percent_of(int32_t centivolts)
 * {
 *     uint16_t percent = 0;
 *     (void)tl_share_of(centivolts, 1080, 1290, 100, &percent); // 0 at 10.80 V, 100 at 12.90 V
 *     return percent;
 * }
 * @endcode
 */
#ifndef TINYLADDER_SHARE_H
#define TINYLADDER_SHARE_H

#include <stdint.h>

#include "tinyladder/rom.h"
#include "tinyladder/status.h"

#ifdef __cplusplus
extern "C" {
#endif

/**
 * share = parts * (value - empty) / (full - empty), rounded to the nearest and never outside 0 .. parts.
 *
 * The ends may stand either way round (a sensor that falls while the quantity rises). One integer division.
 *
 * @param parts  What full is worth: 100 for percent, 1000 for per mille. 1 .. 65535.
 * @param[out] share  Left untouched unless TL_OK is returned.
 * @return TL_OK; TL_ERR_ARG if the ends are equal or parts is 0.
 */
tl_status tl_share_of(int32_t value, int32_t empty, int32_t full, uint16_t parts, uint16_t *share);

/**
 * Moves both ends inward by this many percent of their distance, so that 0 and 100 are certainly reached.
 * @param percent  0 .. 49; more counts as 49.
 */
void tl_share_inward(int32_t *empty, int32_t *full, uint8_t percent);

/**
 * Which of n + 1 equal bands a value lies in, of the last - first + 1 values that there are: how many of n
 * lamps to light. From 0 to 2^N - 1 lamp k of n lights from ceil(k 2^N / (n + 1)).
 *
 * Band i is entered from below at its lower boundary plus half the hysteresis and left downwards at that
 * boundary minus half the hysteresis, so a value that trembles on a boundary does not flicker. Without
 * division.
 *
 * @param first,last  The ends, first < last; values outside count as the ends.
 * @param hysteresis  Width, in the unit of value; smaller than a band.
 * @param levels  n, 1 .. 255.
 * @param[in,out] level  What was shown before, 0 .. n; receives what to show now.
 * @return TL_OK; TL_ERR_ARG where an argument breaks its range, and level stays.
 */
tl_status tl_level_of(uint16_t value, uint16_t first, uint16_t last, uint16_t hysteresis, uint8_t levels,
                      uint8_t *level);

/** Of one lamp of several: the count that lights it, and the one below which it goes out. Is TL_ROM. */
typedef struct tl_level_step {
    uint16_t on, off; /**< off at most on; both rise from lamp to lamp */
} tl_level_step;

/**
 * The same by steps that `tinyladder header` has worked out.
 * @param was  How many are lit, 0 .. levels. @return How many to light now.
 */
uint8_t tl_level_by(const TL_IN_ROM tl_level_step *steps, uint8_t levels, uint16_t count, uint8_t was);

#ifdef __cplusplus
}
#endif
#endif
