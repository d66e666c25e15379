/* SPDX-License-Identifier: MIT */
/**
 * @file
 * The ohms of a sensor beside its partner, where the reference feeds the divider: neither the supply
 * nor the reference matters then.
 *
 * With c the centre of the code in LSB (k for the half kind, k + 1/2 for the full kind) and N bits:
 * R = Rp * c / (2^N - c) with the sensor below its partner, Rp * (2^N - c) / c with the sensor above.
 *
 * Stack: 48 bytes at most, in tl_resistance_of() (docs/targets.md).
 * Called anywhere, also in an interrupt, one caller at a time for each object; nothing waits.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * uint32_t sensor_mohm(uint16_t count)
 * {
 *     static const tl_partner partner = {.partner_mohm = 10000000, .bits = 12, .steps = TL_STEPS_HALF};
 *     uint32_t mohm = 0;
 *     return tl_resistance_of(&partner, count, &mohm) == TL_OK ? mohm : UINT32_MAX;
 * }
 * @endcode
 */
#ifndef TINYLADDER_RESISTANCE_H
#define TINYLADDER_RESISTANCE_H

#include <stdbool.h>
#include <stdint.h>

#include "tinyladder/rom.h"
#include "tinyladder/scale.h"
#include "tinyladder/status.h"

#ifdef __cplusplus
extern "C" {
#endif

/** A constant description; is TL_ROM. */
typedef struct tl_partner {
    uint32_t partner_mohm; /**< 1 .. 4 294 967 295 */
    uint8_t bits;          /**< 6 .. 16 */
    uint8_t steps;         /**< TL_STEPS_HALF or TL_STEPS_FULL */
    bool sensor_above;
} tl_partner;

/**
 * Milliohms in the centre of a count, rounded to the nearest. One division.
 *
 * @param[out] mohm  Left untouched unless TL_OK is returned.
 * @return TL_OK; TL_ERR_ARG for an impossible description or count; TL_ERR_RANGE for the first and the last
 * count, which are no value, and for 4.29 Mohm and more.
 */
tl_status tl_resistance_of(const TL_IN_ROM tl_partner *partner, uint16_t count, uint32_t *mohm);

#ifdef __cplusplus
}
#endif
#endif
