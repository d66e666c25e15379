/* The hand paddle: two axes on one feed as -100 .. 100, and a click with the chip's own pull-up. */
#include "example.h"

/* Both tracks hang on one feed, so they end below the reference. */
enum { LAST_COUNT = 3418, A_SECOND_US = 1000000 };
static const tl_button_config click TL_ROM = {
    .steady_us = 8000, .line = PADDLE_CLICK, .closed_is_low = true, .internal_pull = true};

static tl_status take_axis(const tl_port *port, const tl_input *axis, const tl_scale *scale, int *slew)
{
    tl_reading reading = {0};
    uint16_t share = 0;
    tl_status status = tl_input_take(port, axis, scale, &reading);
    if (status == TL_OK)
        status = tl_share_of(reading.count, 0, LAST_COUNT, 200, &share);
    *slew = (int)share - 100;
    return status;
}

static tl_status watch(const tl_port *port, FILE *out)
{
    tl_scale scale;
    tl_button button;
    tl_button_event event;
    int x = 0, y = 0;
    tl_status status = tl_scale_init(&scale, &at_the_pin);
    if (status == TL_OK)
        status = tl_button_init(&button, &click, port);
    if (status == TL_OK)
        status = tl_port_wait_us(port, 71 * A_SECOND_US);
    for (int i = 0; i < 3 && status == TL_OK; i++) {
        status = take_axis(port, &paddle_x, &scale, &x);
        if (status == TL_OK)
            status = take_axis(port, &paddle_y, &scale, &y);
        if (status == TL_OK)
            status = tl_button_look(&button, port, &event);
        if (status == TL_OK)
            fprintf(out, "x %+4d, y %+4d, click %s\n", x, y, button.closed ? "down" : "up");
        if (status == TL_OK)
            status = tl_port_wait_us(port, A_SECOND_US);
    }
    return status;
}

int main(int argc, char **argv)
{
    return example_main(argc, argv, watch);
}
