/* SPDX-License-Identifier: MIT */
/*
 * Lines and curves from read-only memory. Only what is needed is fetched: a curve looks for its piece by the
 * counts alone, and the last point is the one without a piece.
 */
#include "tinyladder/lean.h"

int32_t tl_line_value(const TL_IN_ROM tl_line *line, uint16_t count)
{
    const int32_t steps =
        (int32_t)tl_lean_steps(count < line->last ? count : line->last, line->mul, line->add, line->shift);
    return line->falls ? line->base - steps : line->base + steps;
}

int16_t tl_curve_value(const TL_IN_ROM tl_curve *curve, uint16_t count)
{
    const TL_IN_ROM tl_curve_point *at = curve->points;
    uint16_t from = at->from;
    if (count <= from)
        return at->to;
    for (uint8_t left = (uint8_t)(curve->count - 1); left > 0; left--) {
        const uint16_t next = at[1].from;
        if (count < next)
            break;
        from = next;
        at++;
    }
    const uint16_t along = (uint16_t)(count - from), whole = (uint16_t)(1u * along * (uint16_t)at->whole);
    const uint16_t part = (uint16_t)(((uint32_t)along * at->part + 32768u) >> 16);
    return (int16_t)(uint16_t)((uint16_t)at->to + whole + part);
}
