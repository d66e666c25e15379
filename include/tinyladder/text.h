/* SPDX-License-Identifier: MIT */
/**
 * @file
 * Figures as text, without printf: for displays.
 *
 * Stack: 56 bytes at most, in tl_text_fixed() (docs/targets.md).
 * Called anywhere, also in an interrupt, one caller at a time for each object; nothing waits.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * const char *volts_of(int32_t centivolts)
 * {
 *     static char text[8];
 *     return tl_text_fixed(centivolts, 2, 6, text) == TL_OK ? text : "------"; // 1270 is " 12.70"
 * }
 * @endcode
 */
#ifndef TINYLADDER_TEXT_H
#define TINYLADDER_TEXT_H

#include <stdint.h>

#include "tinyladder/status.h"

#ifdef __cplusplus
extern "C" {
#endif

enum { TL_TEXT_DECIMALS_MOST = 9 };

/**
 * Writes value / 10^decimals right-aligned into exactly `width` characters and a closing 0: blanks in front
 * overwrite what stood there before. -5 with 2 decimals is `-0.05`.
 *
 * @param text  width + 1 bytes.
 * @return TL_OK; TL_ERR_ARG; TL_ERR_RANGE where it does not fit: the text is then all `#`.
 */
tl_status tl_text_fixed(int32_t value, uint8_t decimals, uint8_t width, char *text);

/**
 * Writes a word as exactly `digits` hexadecimal digits, capitals, zeros in front, and a closing 0: 0x1b with
 * 4 digits is `001B`.
 *
 * @param digits  1 .. 8
 * @param text  digits + 1 bytes.
 * @return TL_OK; TL_ERR_ARG; TL_ERR_RANGE where it does not fit: the text is then all `#`.
 */
tl_status tl_text_hex(uint32_t word, uint8_t digits, char *text);

#ifdef __cplusplus
}
#endif
#endif
