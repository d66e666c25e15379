/* SPDX-License-Identifier: MIT */
/* A dial's volts, three decimals, on a display of two lines of 16 characters. */
#include "dial_plan.h"
#include "display.h"
#include <stdio.h>
#include <string.h>

enum { SECOND_US = 1000000, LOOKS = 4 };

static tl_status take_mean(const tl_port *port, tl_sample *result)
{
    tl_mean mean;
    tl_sample sample;
    bool enough = false;
    tl_status status = tl_mean_init(&mean, DIAL_MEAN);
    while (!enough && status == TL_OK) {
        status = tl_input_sample(port, &dial_input, &sample);
        enough = status == TL_OK && tl_mean_feed(&mean, &sample, result);
    }
    return status;
}

tl_status program(const tl_port *port)
{
    char row[DISPLAY_COLUMNS + 1];
    tl_sample dial = {0};
    tl_status status = characters_open(port, characters_lines);
    for (int look = 0; look < LOOKS && status == TL_OK; look++) {
        status = take_mean(port, &dial);
        /* Eight places, the same every time: no digit of a longer number stays behind. */
        strcpy(row, "dial            ");
        dial_count count;
        if (status == TL_OK && dial_of(&dial, &count))
            (void)tl_text_fixed(dial_value(count), DIAL_DECIMALS, 8, row + 5);
        memcpy(row + 13, " V ", 4);
        if (status == TL_OK)
            status = characters_put(port, characters_lines, 0, row);
        if (status == TL_OK) {
            printf("|%s|\n", row);
            status = tl_port_wait_us(port, SECOND_US);
        }
    }
    const tl_status closed = characters_close(port, characters_lines);
    return status != TL_OK ? status : closed;
}
