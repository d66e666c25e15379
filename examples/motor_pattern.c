/* SPDX-License-Identifier: MIT */
/* The motor's controller blinks how it is: 300 ms, pause, 300 ms, long pause means that all is well. */
#include "example.h"

enum { LOOK_EVERY_US = 10000, LOOKS = 400 };

static tl_status watch(const tl_port *port, FILE *out)
{
    tl_pulse pulse;
    tl_pattern pattern;
    tl_length_us ended;
    tl_pattern_state state = TL_PATTERN_WAITING;
    tl_status status = tl_port_line_use(port, MOTOR_STATUS_LINE, TL_LINE_INPUT);
    if (status == TL_OK)
        status = tl_pattern_init(&pattern, motor_status_lengths, MOTOR_STATUS_LENGTHS,
                                 MOTOR_STATUS_WITHIN_PERCENT);
    tl_pulse_init(&pulse);
    for (int look = 0; look < LOOKS && state < TL_PATTERN_PASSED && status == TL_OK; look++) {
        bool high = false;
        uint32_t now_us = 0;
        status = tl_port_line_level(port, MOTOR_STATUS_LINE, &high);
        if (status == TL_OK)
            status = tl_port_clock_us(port, &now_us);
        if (status == TL_OK && tl_pulse_feed(&pulse, high, now_us, &ended)) {
            fprintf(out, "%s for %lu ms\n", ended.high ? "lit " : "dark",
                    (unsigned long)(ended.length_us + 500) / 1000);
            state = tl_pattern_feed(&pattern, &ended);
        }
        if (status == TL_OK)
            status = tl_port_wait_us(port, LOOK_EVERY_US);
    }
    if (status == TL_OK)
        fprintf(out, "the motor %s\n", state == TL_PATTERN_PASSED ? "is well" : "needs a look");
    return status;
}

int main(int argc, char **argv)
{
    return example_main(argc, argv, watch);
}
