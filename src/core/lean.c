/*
 * Lines and curves from read-only memory. Only what is needed is fetched: a curve looks for its piece by the
 * counts alone, and the last point is told from the others by having no piece.
 */
#include "tinyladder/lean.h"

int32_t tl_line_value(const tl_line *line, uint16_t count)
{
    tl_line own;
    tl_rom_copy(&own, line, sizeof own);
    const int32_t steps =
        (int32_t)tl_lean_steps(count < own.last ? count : own.last, own.mul, own.add, own.shift);
    return own.falls ? own.base - steps : own.base + steps;
}

int16_t tl_curve_value(const tl_curve *curve, uint16_t count)
{
    const tl_curve_point *at = (const tl_curve_point *)tl_rom_pointer(&curve->points);
    const uint8_t points = tl_rom_byte(&curve->count);
    uint16_t from = tl_rom_word(&at->from);
    if (count <= from)
        return (int16_t)tl_rom_word(&at->to);
    for (uint8_t left = (uint8_t)(points - 1); left > 0; left--) {
        const uint16_t next = tl_rom_word(&at[1].from);
        if (count < next)
            break;
        from = next;
        at++;
    }
    const uint16_t along = (uint16_t)(count - from), to = tl_rom_word(&at->to);
    const uint16_t whole = (uint16_t)(1u * along * tl_rom_word(&at->whole));
    const uint16_t part = (uint16_t)(((uint32_t)along * tl_rom_word(&at->part) + 32768u) >> 16);
    return (int16_t)(uint16_t)(to + whole + part);
}
