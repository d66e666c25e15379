/* SPDX-License-Identifier: MIT */
/* One debounced button that is counted, with the core. */
#include "tinyladder/button.h"
#include "tinyladder/rom.h"

extern const tl_port *const port;
volatile uint16_t shown;
static const TL_ROM tl_button_config config = {TL_TIME_US(20000u), 0, true, false};

int main(void)
{
    tl_button button;
    tl_button_event event;
    (void)tl_button_init(&button, &config, port);
    for (;;) {
        (void)tl_button_look(&button, port, &event);
        shown = button.closings;
    }
}
