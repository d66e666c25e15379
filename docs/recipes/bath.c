/* SPDX-License-Identifier: MIT */
/* The fan runs while the air is damper than the knob says; a lamp tells when it should turn and does not. */
#include "bath_plan.h"
#include <stdio.h>

enum { LOOK_US = 100, SHOW_EVERY = 20000, SHOWN = 8 }; /* two seconds */

static tl_rhythm speed, damp;
static tl_button speed_line, damp_line;
static bool vent_on, stuck_on;

static tl_status begin(const tl_port *port)
{
    tl_status status = tl_button_init(&speed_line, &speed_contact, port);
    if (status == TL_OK)
        status = tl_button_init(&damp_line, &damp_contact, port);
    if (status == TL_OK)
        status = tl_rhythm_init(&speed, &speed_rhythm);
    if (status == TL_OK)
        status = tl_rhythm_init(&damp, &damp_rhythm);
    if (status == TL_OK)
        status = tl_output_open(port, &vent_output);
    return status == TL_OK ? tl_output_open(port, &stuck_output) : status;
}

/* An interrupt at every edge would do the same. */
static tl_status look(const tl_port *port)
{
    bool measured;
    const tl_status status = tl_rhythm_look(&speed, &speed_line, port, &measured);
    return status == TL_OK ? tl_rhythm_look(&damp, &damp_line, port, &measured) : status;
}

static tl_status show(const tl_port *port)
{
    limit_count count;
    const tl_status taken = limit_take(port, &count);
    tl_sample limit = {0, 0, (int8_t)taken};
    if (taken == TL_OK)
        limit = (tl_sample){limit_value(count), TL_READING_FRESH, TL_OK};
    const tl_sample air = damp_value(&damp), turns = speed_value(&speed),
                    wanted = vent_wanted(&air, &limit, vent_on);
    tl_status status = tl_output_show(port, &vent_output, &wanted, &vent_on);
    if (status == TL_OK && vent_on)
        status = tl_output_show(port, &stuck_output, &turns, &stuck_on);
    printf("damp %ld.%ld %%, limit %ld %%: fan %s, %ld.%ld Hz%s\n", (long)air.value / 10,
           (long)air.value % 10, (long)limit.value, vent_on ? "on" : "off", (long)turns.value / 10,
           (long)turns.value % 10, vent_on && stuck_on ? ": STUCK" : "");
    return status;
}

tl_status program(const tl_port *port)
{
    tl_status status = begin(port);
    for (int shown = 0; shown < SHOWN && status == TL_OK; shown++) {
        for (int i = 0; i < SHOW_EVERY && status == TL_OK; i++) {
            status = look(port);
            if (status == TL_OK)
                status = tl_port_wait_us(port, LOOK_US);
        }
        if (status == TL_OK)
            status = show(port);
    }
    const tl_status vent = tl_output_release(port, &vent_output),
                    stuck = tl_output_release(port, &stuck_output);
    return status != TL_OK ? status : vent != TL_OK ? vent : stuck;
}
