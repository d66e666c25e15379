/* Both channels, set right by the known values. */
#include "shelf_plan.h"
#include <stdio.h>

tl_status program(const tl_port *port)
{
    uint16_t count = 0;
    char text[10];
    tl_status status = shelf_take(port, &count);
    (void)tl_text_fixed(shelf_value(count), SHELF_DECIMALS, 8, text);
    if (status == TL_OK) {
        printf("shelf   %s %s\n", text, SHELF_UNIT);
        status = daylight_take(port, &count);
    }
    (void)tl_text_fixed(daylight_value(count), DAYLIGHT_DECIMALS, 8, text);
    if (status == TL_OK)
        printf("daylight%s %s\n", text, DAYLIGHT_UNIT);
    return status;
}
