/* SPDX-License-Identifier: MIT */
/* A contact with the chip's own pull, while a lamp on the same port is turned over all the time: says C and o as the
 * contact closes and opens. */
#include "port_avr.h"
#define TL_PIN PORT_AVR_PIN
#define TL_REFERENCE PORT_AVR_REFERENCE
#include "pulls_plan.h"

int main(void)
{
    const tl_port *port = port_avr();
    tl_button key;
    bool lit = false;
    port_avr_serial(38400);
    (void)tl_button_init(&key, &key_contact, port);
    (void)tl_port_line_use(port, LAMP_LINE, TL_LINE_OUTPUT);
    for (;;) {
        tl_button_event event;
        lit = !lit;
        (void)tl_port_line_drive(port, LAMP_LINE, lit);
        (void)tl_button_look(&key, port, &event);
        if (event != TL_BUTTON_QUIET)
            port_avr_say(event == TL_BUTTON_CLOSED ? "C" : "o");
    }
}
