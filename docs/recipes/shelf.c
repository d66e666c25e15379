/* SPDX-License-Identifier: MIT */
/* Both channels, set right by the known values. */
#include "shelf_plan.h"
#include <stdio.h>

tl_status program(const tl_port *port)
{
    shelf_count shelf;
    daylight_count daylight;
    char text[10];
    tl_status status = shelf_take(port, &shelf);
    if (status == TL_OK)
        status = daylight_take(port, &daylight);
    if (status != TL_OK)
        return status;
    (void)tl_text_fixed(shelf_value(shelf), SHELF_DECIMALS, 8, text);
    printf("shelf   %s %s\n", text, SHELF_UNIT);
    (void)tl_text_fixed(daylight_value(daylight), DAYLIGHT_DECIMALS, 8, text);
    printf("daylight%s %s\n", text, DAYLIGHT_UNIT);
    return TL_OK;
}
