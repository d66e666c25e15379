/* SPDX-License-Identifier: MIT */
/* Two displays on lines of a port: one of characters, and one of digits. Examples to copy, not part of the
 * core. */
#ifndef TL_EXAMPLE_DISPLAY_H
#define TL_EXAMPLE_DISPLAY_H

#include <tinyladder/core.h>

enum { DISPLAY_COLUMNS = 16, DISPLAY_ROWS = 2, CHARACTER_LINES = 6, DIGIT_LINES = 3, DIGITS = 4 };

/*
 * Characters, by the usual bus of half bytes: lines are select, enable, and four of data, lowest first.
 * Opening takes some 60 ms, a row 1 ms; both wait. lines is TL_ROM.
 */
tl_status characters_open(const tl_port *port, const TL_IN_ROM uint8_t *lines);
/* A row from its beginning, filled up with spaces. */
tl_status characters_put(const tl_port *port, const TL_IN_ROM uint8_t *lines, uint8_t row, const char *text);
tl_status characters_close(const tl_port *port, const TL_IN_ROM uint8_t *lines);

/*
 * Digits of seven segments behind shift registers: lines are data, clock (rising) and load (rising), the
 * leftmost digit first, of each the point first, then g to a; lit is high. lines is TL_ROM.
 */
tl_status digits_open(const tl_port *port, const TL_IN_ROM uint8_t *lines);
/* A value of this many decimals, aligned right; dashes where it has no room. */
tl_status digits_put(const tl_port *port, const TL_IN_ROM uint8_t *lines, int32_t value, uint8_t decimals);
tl_status digits_close(const tl_port *port, const TL_IN_ROM uint8_t *lines);

#endif
