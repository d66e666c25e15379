/* SPDX-License-Identifier: MIT */
/* The lamp follows the button. */
#include "porch_plan.h"
#include <stdio.h>

enum { LOOK_US = 5000, LOOKS = 200 };

tl_status program(const tl_port *port)
{
    tl_button button;
    tl_button_event event = TL_BUTTON_QUIET;
    bool on = false;
    tl_status status = tl_button_init(&button, &button_contact, port);
    if (status == TL_OK)
        status = tl_output_open(port, &lamp_output);
    for (int i = 0; i < LOOKS && status == TL_OK; i++) {
        status = tl_button_look(&button, port, &event);
        const tl_sample closed = {button.closed, TL_READING_FRESH, 0};
        if (status == TL_OK)
            status = tl_output_show(port, &lamp_output, &closed, &on);
        if (status == TL_OK && event != TL_BUTTON_QUIET)
            printf("%s, lamp %s\n", button.closed ? "pressed" : "let go", on ? "on" : "off");
        if (status == TL_OK)
            status = tl_port_wait_us(port, LOOK_US);
    }
    const tl_status end = tl_output_release(port, &lamp_output);
    return status != TL_OK ? status : end;
}
