/* Three shelves through one multiplexer. */
#include "kiln_plan.h"
#include <stdio.h>

tl_status program(const tl_port *port)
{
    static tl_status (*const lead[])(const tl_port *) = {shelf_1_lead, shelf_2_lead, shelf_3_lead};
    tl_status status = tl_mux_open(port, &shelves_mux);
    for (int i = 0; i < 3 && status == TL_OK; i++) {
        uint16_t count = 0;
        status = lead[i](port);
        if (status == TL_OK)
            status = shelf_1_take(port, &count); /* all three come in on one pin, and are alike */
        if (status == TL_OK)
            printf("shelf %d: %d %s\n", i + 1, (int)shelf_1_value(count), SHELF_1_UNIT);
    }
    const tl_status end = tl_mux_release(port, &shelves_mux);
    return status != TL_OK ? status : end;
}
