/* Which of several buttons on one pin is down: the first interval of counts that the count lies in; between
 * two it is nobody. */
#include "tinyladder/rungs.h"
#include "tinyladder/rom.h"

uint8_t tl_ladder_level(const tl_rung *rungs, uint8_t levels, uint16_t count)
{
    for (uint8_t i = 0; i < levels; i++) {
        tl_rung own;
        tl_rom_copy(&own, &rungs[i], sizeof own);
        if (count >= own.low && count <= own.high)
            return i;
    }
    return TL_LADDER_BETWEEN;
}
