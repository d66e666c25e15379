/* SPDX-License-Identifier: MIT */
/* Looks at a switch, a magnet contact and a reflective sensor every 2 ms; each lamp follows its own. */
#include "post_plan.h"
#include <stdio.h>

enum { LOOK_US = 2000, LOOKS = 10000 };

static tl_status follow(const tl_port *port, tl_button *button, const TL_IN_ROM tl_output *lamp,
                        const char *name)
{
    tl_button_event event;
    bool on = false;
    tl_status status = tl_button_look(button, port, &event);
    const tl_sample closed = {button->closed, TL_READING_FRESH, 0};
    if (status == TL_OK && lamp != NULL)
        status = tl_output_show(port, lamp, &closed, &on);
    if (status == TL_OK && event != TL_BUTTON_QUIET)
        printf("%s %s, %u times closed%s\n", name, button->closed ? "closed" : "open",
               (unsigned)button->closings,
               lamp == NULL ? ""
               : on         ? ", lamp on"
                            : ", lamp off");
    return status;
}

tl_status program(const tl_port *port)
{
    tl_button night, door, letters;
    tl_status status = tl_button_init(&night, &night_contact, port);
    if (status == TL_OK)
        status = tl_button_init(&door, &door_contact, port);
    if (status == TL_OK)
        status = tl_button_init(&letters, &letters_contact, port);
    if (status == TL_OK)
        status = tl_output_open(port, &light_output);
    if (status == TL_OK)
        status = tl_output_open(port, &ajar_output);
    for (int i = 0; i < LOOKS && status == TL_OK; i++) {
        status = follow(port, &night, &light_output, "switch");
        if (status == TL_OK)
            status = follow(port, &door, &ajar_output, "door");
        if (status == TL_OK)
            status = follow(port, &letters, NULL, "slot");
        if (status == TL_OK)
            status = tl_port_wait_us(port, LOOK_US);
    }
    return status;
}
