/* SPDX-License-Identifier: MIT */
/* Ten times a second, without drift: volts and percent of the cell as a line, for whoever reads. */
#include "bike_light_plan.h"
#include <stdio.h>

enum { TENTH_US = 100000, LOOK_US = 1000, LINES = 4 };

static tl_status put_line(const tl_port *port, uint32_t now_us)
{
    char volts[8];
    cell_count count;
    const tl_status status = cell_take(port, &count);
    if (status != TL_OK)
        return status;
    (void)tl_text_fixed(cell_value(count), CELL_DECIMALS, 5, volts);
    printf("%lu ms:%s %s, %u %%\n", (unsigned long)now_us / 1000, volts, CELL_UNIT,
           (unsigned)cell_percent(count));
    return TL_OK;
}

tl_status program(const tl_port *port)
{
    tl_due due;
    uint32_t now_us = 0;
    tl_status status = tl_port_clock_us(port, &now_us);
    if (status == TL_OK)
        status = tl_due_init(&due, TENTH_US, now_us);
    for (int lines = 0; lines < LINES && status == TL_OK;) {
        status = tl_port_wait_us(port, LOOK_US); /* or whatever else there is to do */
        if (status == TL_OK)
            status = tl_port_clock_us(port, &now_us);
        if (status == TL_OK && tl_due_now(&due, now_us)) {
            status = put_line(port, now_us);
            lines++;
        }
    }
    return status;
}
