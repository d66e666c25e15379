/* SPDX-License-Identifier: MIT */
/* The hand paddle: two axes on one feed as -100 .. 100, and a click with the chip's own pull-up. */
#include "example.h"

enum { A_SECOND_US = 1000000 };

/* Both axes are alike: their travel in percent, which ends where their feed does, as -100 .. 100. */
static tl_status take_axis(const tl_port *port, const TL_IN_ROM tl_input *axis, int *slew)
{
    tl_sample sample = {0};
    paddle_x_count count; /* both axes are alike */
    const tl_status status = tl_input_sample(port, axis, &sample);
    if (paddle_x_of(&sample, &count))
        *slew = 2 * paddle_x_value(count) - 100;
    return status;
}

static tl_status watch(const tl_port *port, FILE *out)
{
    tl_button button;
    tl_button_event event;
    int x = 0, y = 0;
    tl_status status = tl_button_init(&button, &paddle_click_contact, port);
    if (status == TL_OK)
        status = tl_port_wait_us(port, 71 * A_SECOND_US);
    for (int i = 0; i < 3 && status == TL_OK; i++) {
        status = take_axis(port, &paddle_x_input, &x);
        if (status == TL_OK)
            status = take_axis(port, &paddle_y_input, &y);
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
