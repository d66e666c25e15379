/* SPDX-License-Identifier: MIT */
/* A slide lights a bar of lamps, as far as it is pushed. */
#include "ribbon_plan.h"
#include <stdio.h>

enum { LOOK_US = 500000, LOOKS = 12 };

tl_status program(const tl_port *port)
{
    slide_count count;
    uint8_t lit = 0;
    tl_status status = tl_bar_open(port, &ribbon_lamps);
    for (int i = 0; i < LOOKS && status == TL_OK; i++) {
        status = slide_take(port, &count);
        if (status == TL_OK) {
            lit = ribbon_level(count, lit);
            status = tl_bar_show(port, &ribbon_lamps, lit);
        }
        if (status == TL_OK) {
            printf("%4u counts, %2u lamps\n", (unsigned)TL_NUMBER(count), (unsigned)lit);
            status = tl_port_wait_us(port, LOOK_US);
        }
    }
    const tl_status end = tl_bar_release(port, &ribbon_lamps); /* whatever happened, none stays on */
    return status != TL_OK ? status : end;
}
