/* SPDX-License-Identifier: MIT */
/* A button that bounces: every closing counts once, and every second one switches a lamp off again. */
#include "example.h"

enum { LOOK_EVERY_US = 5000 };

static tl_status look_for(const tl_port *port, tl_button *button, int looks, FILE *out)
{
    tl_status status = TL_OK;
    for (int look = 0; look < looks && status == TL_OK; look++) {
        tl_button_event event = TL_BUTTON_QUIET;
        uint32_t now_us = 0;
        status = tl_button_look(button, port, &event);
        if (status == TL_OK && event != TL_BUTTON_QUIET)
            status = tl_port_clock_us(port, &now_us);
        if (status == TL_OK && event != TL_BUTTON_QUIET)
            fprintf(out, "%6lu ms: %s, %u so far, lamp %s\n", (unsigned long)now_us / 1000,
                    event == TL_BUTTON_CLOSED ? "closed" : "opened", (unsigned)button->closings,
                    tl_button_toggled(button) ? "on" : "off");
        if (status == TL_OK)
            status = tl_port_wait_us(port, LOOK_EVERY_US);
    }
    return status;
}

static tl_status watch(const tl_port *port, FILE *out)
{
    tl_button button;
    tl_status status = tl_port_wait_us(port, 4900000);
    if (status == TL_OK)
        status = tl_button_init(&button, &open_button_contact, port);
    if (status == TL_OK)
        status = look_for(port, &button, 70, out);
    if (status == TL_OK)
        status = tl_port_wait_us(port, 64600000); /* a minute without a press */
    return status == TL_OK ? look_for(port, &button, 260, out) : status;
}

int main(int argc, char **argv)
{
    return example_main(argc, argv, watch);
}
