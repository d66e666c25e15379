/* SPDX-License-Identifier: MIT */
/* The share of the time follows the knob. */
#include "strip_plan.h"
#include <stdio.h>

enum { LOOK_US = 500000, LOOKS = 4 };

tl_status program(const tl_port *port)
{
    tl_status status = tl_port_line_use(port, STRIP_LINE, TL_LINE_OUTPUT);
    for (int i = 0; i < LOOKS && status == TL_OK; i++) {
        knob_count count;
        status = knob_take(port, &count);
        if (status == TL_OK)
            status = tl_port_line_duty(port, STRIP_LINE, strip_duty(count));
        if (status == TL_OK) {
            printf("%3u counts, %5u of 65535\n", (unsigned)TL_NUMBER(count), (unsigned)strip_duty(count));
            status = tl_port_wait_us(port, LOOK_US);
        }
    }
    const tl_status end = tl_port_line_use(port, STRIP_LINE, TL_LINE_RELEASED);
    return status != TL_OK ? status : end;
}
