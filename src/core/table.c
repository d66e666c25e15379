/* SPDX-License-Identifier: MIT */
/*
 * Points joined by straight lines: y = y0 + (x - x0) (y1 - y0) / (x1 - x0), found by halving, with one
 * division, rounded to the nearest. Distances are taken without a sign, each below 2^32.
 */
#include "tinyladder/table.h"
#include "ratio.h"

static tl_table_point point_at(const TL_IN_ROM tl_table *table, uint8_t i)
{
    return table->points[i];
}

tl_status tl_table_check(const TL_IN_ROM tl_table *table)
{
    if (!table || !table->points || table->count < 2)
        return TL_ERR_ARG;
    for (uint8_t i = 1; i < table->count; i++) {
        if (point_at(table, i).from <= point_at(table, (uint8_t)(i - 1)).from)
            return TL_ERR_RANGE;
    }
    return TL_OK;
}

int32_t tl_table_value(const TL_IN_ROM tl_table *table, int32_t from, bool *beyond)
{
    if (table->count < 2) { /* no line: a point is its own answer */
        if (beyond != NULL)
            *beyond = true;
        return table->count == 1 ? point_at(table, 0).to : 0;
    }
    uint8_t low = 0, high = (uint8_t)(table->count - 1);
    const tl_table_point first = point_at(table, low), last = point_at(table, high);
    const bool outside = from < first.from || from > last.from;
    if (beyond != NULL)
        *beyond = outside;
    if (outside && !table->goes_on)
        return from < first.from ? first.to : last.to;
    while (high - low > 1) {
        const uint8_t middle = (uint8_t)((low + high) / 2);
        if (point_at(table, middle).from <= from)
            low = middle;
        else
            high = middle;
    }
    const tl_table_point a = point_at(table, low), b = point_at(table, high);
    /* Distances without a sign, each below 2^32; before the first point the line goes backwards. */
    const bool falls = b.to < a.to, back = from < a.from;
    const uint32_t rise = falls ? (uint32_t)a.to - (uint32_t)b.to : (uint32_t)b.to - (uint32_t)a.to;
    const uint32_t part = back ? (uint32_t)a.from - (uint32_t)from : (uint32_t)from - (uint32_t)a.from;
    return tl_moved_by(a.to, tl_ratio_of(rise, part, (uint32_t)b.from - (uint32_t)a.from), falls != back);
}
