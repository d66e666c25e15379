/* SPDX-License-Identifier: MIT */
/* The cold frame on an 8-bit AVR. */
#include "port_avr.h"
#define TL_PIN PORT_AVR_PIN
#define TL_REFERENCE PORT_AVR_REFERENCE
#define here_say port_avr_say

static inline const tl_port *here_open(void)
{
    const tl_port *port = port_avr();
    port_avr_serial(38400u);
    return port;
}
