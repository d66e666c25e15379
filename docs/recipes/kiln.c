/* SPDX-License-Identifier: MIT */
/* Three shelves through one multiplexer. */
#include "kiln_plan.h"
#include <stdio.h>

tl_status program(const tl_port *port)
{
    shelf_1_count top;
    shelf_2_count middle;
    shelf_3_count bottom;
    tl_status status = tl_mux_open(port, &shelves_mux);
    if (status == TL_OK)
        status = shelf_1_take(port, &top);
    if (status == TL_OK)
        status = shelf_2_take(port, &middle);
    if (status == TL_OK)
        status = shelf_3_take(port, &bottom);
    if (status == TL_OK)
        printf("top: %d %s\nmiddle: %d %s\nbottom: %d %s\n", shelf_1_value(top), SHELF_1_UNIT,
               shelf_2_value(middle), SHELF_2_UNIT, shelf_3_value(bottom), SHELF_3_UNIT);
    const tl_status end = tl_mux_release(port, &shelves_mux);
    return status != TL_OK ? status : end;
}
