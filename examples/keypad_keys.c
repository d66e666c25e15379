/* Five buttons on one converter pin: which is pressed, for how long, and is it kept down? */
#include "example.h"

static const char *const names[KEYPAD_LEVELS] = {"none", "home", "park", "track", "sync", "lamp"};
enum { LOOK_EVERY_US = 10000, LOOKS = 50, KEPT_AFTER_US = 100000, AGAIN_US = 80000 };

static tl_status watch(const tl_port *port, FILE *out)
{
    tl_scale scale;
    tl_reading reading = {0};
    tl_hold hold;
    uint8_t last = 0;
    tl_status status = tl_scale_init(&scale, &at_the_pin);
    if (status == TL_OK)
        status = tl_hold_init(&hold, KEPT_AFTER_US, AGAIN_US);
    if (status == TL_OK)
        status = tl_port_wait_us(port, 70900000); /* somebody presses after 71 s */
    for (int look = 0; look < LOOKS && status == TL_OK; look++) {
        uint32_t now_us = 0;
        status = tl_input_take(port, &keypad, &scale, &reading);
        if (status == TL_OK)
            status = tl_port_clock_us(port, &now_us);
        if (status != TL_OK)
            break;
        const uint8_t level = tl_ladder_level(keypad_rungs, KEYPAD_LEVELS, reading.count);
        if (level != last && level != TL_LADDER_BETWEEN) {
            fprintf(out, "%s, %u counts\n", names[level], (unsigned)reading.count);
            last = level;
        }
        if (tl_hold_feed(&hold, last > 0, now_us) != TL_HOLD_QUIET)
            fprintf(out, "%s is kept down\n", names[last]);
        status = tl_port_wait_us(port, LOOK_EVERY_US);
    }
    return status;
}

int main(int argc, char **argv)
{
    return example_main(argc, argv, watch);
}
