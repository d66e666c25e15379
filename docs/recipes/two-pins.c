/* SPDX-License-Identifier: MIT */
/* First the two pins that are rails of the knob, then the knob. */
#include "probe_plan.h"
#include <stdio.h>

static tl_status hold(const tl_port *port, uint8_t line, bool high)
{
    const tl_status status = tl_port_line_use(port, line, TL_LINE_OUTPUT);
    return status == TL_OK ? tl_port_line_drive(port, line, high) : status;
}

tl_status program(const tl_port *port)
{
    knob_count count;
    char text[8];
    tl_status status = hold(port, KNOB_HIGH_RAIL_LINE, KNOB_HIGH_RAIL_HIGH);
    if (status == TL_OK)
        status = hold(port, KNOB_LOW_RAIL_LINE, KNOB_LOW_RAIL_HIGH);
    for (int i = 0; i < 3 && status == TL_OK; i++) {
        status = knob_take(port, &count);
        if (status == TL_OK)
            status = tl_text_fixed(knob_value(count), KNOB_DECIMALS, 6, text);
        if (status == TL_OK) {
            printf("%4u counts, %s %s\n", (unsigned)TL_NUMBER(count), text, KNOB_UNIT);
            status = tl_port_wait_us(port, 3000000);
        }
    }
    return status;
}
