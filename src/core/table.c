#include "tinyladder/table.h"
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

/* Both below 2^32, so that their product and half a divisor fit into 64 bits without a sign. */
static int64_t share_of(int64_t rise, uint64_t part, uint64_t whole)
{
    const uint64_t size = (uint64_t)(rise < 0 ? -rise : rise);
    const uint64_t share = (size * part + whole / 2) / whole;
    return rise < 0 ? -(int64_t)share : (int64_t)share;
}

static int32_t kept(int64_t value)
{
    return value > INT32_MAX ? INT32_MAX : value < INT32_MIN ? INT32_MIN : (int32_t)value;
}

int32_t tl_table_value(const tl_table *table, int32_t from, bool *beyond)
{
    tl_table own;
    tl_rom_copy(&own, table, sizeof own);
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
    const int64_t rise = (int64_t)b.to - a.to, off = (int64_t)from - a.from;
    const uint64_t run = (uint64_t)((int64_t)b.from - a.from);
    /* From the first point backwards where it lies before it: the same line, its share with the other sign.
     */
    return kept(off >= 0 ? a.to + share_of(rise, (uint64_t)off, run)
                         : a.to - share_of(rise, (uint64_t)-off, run));
}
