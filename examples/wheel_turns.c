/* SPDX-License-Identifier: MIT */
/* How far has the roof rolled? A contact closes once a turn and bounces; a counter beside it tells of
 * rejected.
 */
#include "example.h"

enum { LOOK_EVERY_US = 1000, STEPS = 3, LOOKS = 320, MM_A_TURN = 400 };

static tl_status roll(const tl_port *port, FILE *out)
{
    tl_lines lines;
    tl_pulse pulse;
    tl_length_us ended;
    uint32_t longest_us = 0;
    bool high = true;
    tl_status status = tl_port_line_use(port, WHEEL_LINE, TL_LINE_INPUT);
    if (status == TL_OK)
        status = tl_lines_init(&lines, 1, STEPS); /* three looks in a row must agree */
    tl_pulse_init(&pulse);
    if (status == TL_OK)
        status = tl_port_wait_us(port, 20000000); /* it rolls since 10 s */
    for (int look = 0; look < LOOKS && status == TL_OK; look++) {
        uint32_t now_us = 0;
        status = tl_port_line_level(port, WHEEL_LINE, &high);
        if (status == TL_OK)
            status = tl_port_clock_us(port, &now_us);
        (void)tl_lines_look(&lines, high);
        if (status == TL_OK && tl_pulse_feed(&pulse, (lines.accepted & 1) != 0, now_us, &ended) &&
            !ended.high)
            longest_us = ended.length_us > longest_us ? ended.length_us : longest_us;
        if (status == TL_OK)
            status = tl_port_wait_us(port, LOOK_EVERY_US);
    }
    if (status == TL_OK)
        fprintf(out, "%u turns, %u mm, the contact closed for %lu ms at most\n", (unsigned)pulse.falling,
                (unsigned)pulse.falling * MM_A_TURN, (unsigned long)(longest_us + 500) / 1000);
    return status;
}

int main(int argc, char **argv)
{
    return example_main(argc, argv, roll);
}
