/* SPDX-License-Identifier: MIT */
/* Five buttons on one converter pin: which is pressed, for how long, and is it kept down? */
#include "example.h"

static const char *const names[KEYPAD_STATES] = {
    [KEYPAD_NONE] = "none",   [KEYPAD_HOME] = "home", [KEYPAD_PARK] = "park",
    [KEYPAD_TRACK] = "track", [KEYPAD_SYNC] = "sync", [KEYPAD_LAMP] = "lamp"};
enum { LOOK_EVERY_US = 10000, LOOKS = 50, KEPT_AFTER_US = 100000, AGAIN_US = 80000 };

static tl_status watch(const tl_port *port, FILE *out)
{
    tl_sample sample = {0};
    tl_hold hold;
    uint8_t last = KEYPAD_NONE;
    tl_status status = tl_hold_init(&hold, KEPT_AFTER_US, AGAIN_US);
    if (status == TL_OK)
        status = tl_port_wait_us(port, 70900000); /* a button is pressed after 71 s */
    for (int look = 0; look < LOOKS && status == TL_OK; look++) {
        uint32_t now_us = 0;
        status = tl_input_sample(port, &keypad_input, &sample);
        if (status == TL_OK)
            status = tl_port_clock_us(port, &now_us);
        if (status != TL_OK)
            break;
        keypad_count count;
        const uint8_t level = keypad_of(&sample, &count) ? keypad_state(count) : TL_LADDER_BETWEEN;
        if (level != last && level != TL_LADDER_BETWEEN) {
            fprintf(out, "%s, %ld counts\n", names[level], (long)sample.value);
            last = level;
        }
        if (tl_hold_feed(&hold, last != KEYPAD_NONE, now_us) != TL_HOLD_QUIET)
            fprintf(out, "%s is kept down\n", names[last]);
        status = tl_port_wait_us(port, LOOK_EVERY_US);
    }
    return status;
}

int main(int argc, char **argv)
{
    return example_main(argc, argv, watch);
}
