/*
 * Points joined by straight lines: y = y0 + (x - x0) (y1 - y0) / (x1 - x0), found by halving, with one
 * division, rounded to the nearest. Distances are taken without a sign, each below 2^32.
 */
#include "tinyladder/table.h"
#include "ratio.h"
#include "tinyladder/rom.h"

static tl_table_point point_at(const tl_table *own, uint8_t i)
{
    tl_table_point point;
    tl_rom_copy(&point, &own->points[i], sizeof point);
    return point;
}

tl_status tl_table_check(const tl_table *table)
{
    tl_table own;
    if (table == NULL)
        return TL_ERR_ARG;
    tl_rom_copy(&own, table, sizeof own);
    if (own.points == NULL || own.count < 2)
        return TL_ERR_ARG;
    for (uint8_t i = 1; i < own.count; i++) {
        if (point_at(&own, i).from <= point_at(&own, (uint8_t)(i - 1)).from)
            return TL_ERR_RANGE;
    }
    return TL_OK;
}

int32_t tl_table_value(const tl_table *table, int32_t from, bool *beyond)
{
    tl_table own;
    tl_rom_copy(&own, table, sizeof own);
    if (own.count < 2) { /* no line: a point is its own answer */
        if (beyond != NULL)
            *beyond = true;
        return own.count == 1 ? point_at(&own, 0).to : 0;
    }
    uint8_t low = 0, high = (uint8_t)(own.count - 1);
    const tl_table_point first = point_at(&own, low), last = point_at(&own, high);
    const bool outside = from < first.from || from > last.from;
    if (beyond != NULL)
        *beyond = outside;
    if (outside && !own.goes_on)
        return from < first.from ? first.to : last.to;
    while (high - low > 1) {
        const uint8_t middle = (uint8_t)((low + high) / 2);
        if (point_at(&own, middle).from <= from)
            low = middle;
        else
            high = middle;
    }
    const tl_table_point a = point_at(&own, low), b = point_at(&own, high);
    /* Distances without a sign, each below 2^32; before the first point the line goes backwards. */
    const bool falls = b.to < a.to, back = from < a.from;
    const uint32_t rise = falls ? (uint32_t)a.to - (uint32_t)b.to : (uint32_t)b.to - (uint32_t)a.to;
    const uint32_t part = back ? (uint32_t)a.from - (uint32_t)from : (uint32_t)from - (uint32_t)a.from;
    return tl_moved_by(a.to, tl_ratio_of(rise, part, (uint32_t)b.from - (uint32_t)a.from), falls != back);
}
