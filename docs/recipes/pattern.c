/* SPDX-License-Identifier: MIT */
/* Does the boiler blink that it burns? Whoever is silent for three seconds does not. */
#include "boiler_plan.h"
#include <stdio.h>

enum { LOOK_US = 2000, LOOKS = 1500 };

tl_status program(const tl_port *port)
{
    tl_pulse pulse;
    tl_pattern pattern;
    tl_length_us ended;
    tl_pattern_state state = TL_PATTERN_WAITING;
    tl_status status = tl_port_line_use(port, BLINK_LINE, TL_LINE_INPUT);
    if (status == TL_OK)
        status = tl_pulse_init(&pulse);
    if (status == TL_OK)
        status = tl_pattern_init(&pattern, blink_lengths, BLINK_LENGTHS, BLINK_WITHIN_PERCENT);
    for (int i = 0; i < LOOKS && state < TL_PATTERN_PASSED && status == TL_OK; i++) {
        bool high = false;
        uint32_t now_us = 0;
        status = tl_port_line_level(port, BLINK_LINE, &high);
        if (status == TL_OK)
            status = tl_port_clock_us(port, &now_us);
        if (status == TL_OK && tl_pulse_feed(&pulse, high, now_us, &ended))
            state = tl_pattern_feed(&pattern, &ended);
        if (status == TL_OK)
            status = tl_port_wait_us(port, LOOK_US);
    }
    if (status == TL_OK)
        printf("%s\n", state == TL_PATTERN_PASSED    ? "it burns"
                       : state == TL_PATTERN_WAITING ? "silent"
                                                     : "it does not burn");
    return status;
}
