/* SPDX-License-Identifier: MIT */
/* The gauge shows the oil; while its wire is broken it is dark. */
#include "oil_plan.h"
#include <stdio.h>

enum { TWO_MINUTES_US = 120000000, LOOKS = 5 };

static tl_status show(const tl_port *port, const tl_sample *oil, uint8_t *lit)
{
    const bool well = (oil->flags & (TL_READING_OPEN | TL_READING_SHORT)) == 0;
    oil_count count;
    (void)oil_of(oil, &count); /* the last good one while its wire is off */
    *lit = well ? gauge_level(count, *lit) : 0;
    if (well)
        printf("%3d %s, %u lamps\n", (int)oil_value(count), OIL_UNIT, (unsigned)*lit);
    else
        printf("broken or shorted wire, %u lamps\n", (unsigned)*lit);
    return tl_bar_show(port, &gauge_lamps, *lit);
}

tl_status program(const tl_port *port)
{
    tl_fault fault;
    tl_sample taken = {0}, oil = {0};
    uint32_t now_us = 0;
    uint8_t lit = 0;
    tl_status status = tl_fault_init(&fault, &oil_faults);
    if (status == TL_OK)
        status = tl_bar_open(port, &gauge_lamps);
    for (int i = 0; i < LOOKS && status == TL_OK; i++) {
        status = tl_input_sample(port, &oil_input, &taken);
        if (status == TL_OK)
            status = tl_port_clock_us(port, &now_us);
        if (status == TL_OK) {
            tl_fault_feed(&fault, &oil_faults, &taken, now_us, &oil);
            status = show(port, &oil, &lit);
        }
        if (status == TL_OK)
            status = tl_port_wait_us(port, i < LOOKS - 2 ? TWO_MINUTES_US : 2 * TWO_MINUTES_US);
    }
    const tl_status end = tl_bar_release(port, &gauge_lamps);
    return status != TL_OK ? status : end;
}
