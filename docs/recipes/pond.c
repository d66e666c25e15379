/* Level and temperature of a pond, by a converter on SPI. */
#include "pond_plan.h"
#include <stdio.h>

tl_status program(const tl_port *port)
{
    tl_sample level = {0}, water = {0};
    char text[8];
    tl_status status = tl_external_take(port, &level_input, &level);
    if (status == TL_OK)
        status = tl_external_take(port, &water_input, &water);
    if (status != TL_OK)
        return status;
    (void)tl_text_fixed(level_value((uint16_t)level.value), LEVEL_DECIMALS, 6, text);
    printf("level %s %s\n", text, LEVEL_UNIT);
    (void)tl_text_fixed(water_value((uint16_t)water.value), WATER_DECIMALS, 6, text);
    printf("water %s %s\n", text, WATER_UNIT);
    return TL_OK;
}
