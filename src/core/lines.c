/* SPDX-License-Identifier: MIT */
/*
 * Thirty-two debounced lines at once, without a branch: three words hold a counter of three bits for every
 * line, bit by bit beside each other ("vertical counters"); what agrees with the accepted level is cleared,
 * what differs counts one up.
 */
#include "tinyladder/lines.h"

tl_status tl_lines_init(tl_lines *lines, uint32_t level, uint8_t steps)
{
    if (lines == NULL || steps < 1 || steps > TL_LINES_STEPS_MOST)
        return TL_ERR_ARG;
    lines->accepted = level;
    for (uint8_t bit = 0; bit < 3; bit++) {
        lines->count[bit] = 0;
        lines->enough[bit] = (steps >> bit & 1) != 0 ? UINT32_MAX : 0;
    }
    return TL_OK;
}

/* Thirty-two counters side by side: back to 0 where a line agrees with what is accepted, one up where it
 * differs. */
uint32_t tl_lines_look(tl_lines *lines, uint32_t seen)
{
    const uint32_t differs = seen ^ lines->accepted;
    const uint32_t ones = lines->count[0] & differs, twos = lines->count[1] & differs,
                   fours = lines->count[2] & differs;
    const uint32_t next_ones = ones ^ differs, next_twos = twos ^ ones, next_fours = fours ^ (twos & ones);
    const uint32_t not_yet =
        (next_ones ^ lines->enough[0]) | (next_twos ^ lines->enough[1]) | (next_fours ^ lines->enough[2]);
    const uint32_t changed = differs & ~not_yet;
    lines->count[0] = next_ones & ~changed;
    lines->count[1] = next_twos & ~changed;
    lines->count[2] = next_fours & ~changed;
    lines->accepted ^= changed;
    return changed;
}
