/* SPDX-License-Identifier: MIT */
/* Level and temperature of a pond, by a converter on SPI. */
#include "pond_plan.h"
#include <stdio.h>

tl_status program(const tl_port *port)
{
    level_count level;
    water_count water;
    char text[8];
    tl_status status = level_take(port, &level);
    if (status == TL_OK)
        status = water_take(port, &water);
    if (status != TL_OK)
        return status;
    (void)tl_text_fixed(level_value(level), LEVEL_DECIMALS, 6, text);
    printf("level %s %s\n", text, LEVEL_UNIT);
    (void)tl_text_fixed(water_value(water), WATER_DECIMALS, 6, text);
    printf("water %s %s\n", text, WATER_UNIT);
    return TL_OK;
}
