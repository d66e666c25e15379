/* SPDX-License-Identifier: MIT */
/**
 * @file The port of an 8-bit AVR with three ports of eight lines, a converter of 10 bits and three timers.
 *
 * Lines are 0 .. 7 for port B, 8 .. 15 for C, 16 .. 23 for D. Channels are 0 .. 7. References are
 * the supply (0), the chip's own of 1.1 V (1) and what is wired to the reference pin (2): after a change the
 * conversion begins 5 ms later. Timer
 * 1 is the clock: keep its interrupt enabled. No line has a pull-down of its own. See README.md beside this
 * file.
 */
#ifndef TINYLADDER_PORT_AVR_H
#define TINYLADDER_PORT_AVR_H

#include "tinyladder/port.h"

#ifdef __cplusplus
extern "C" {
#endif

/** For headers made of a plan whose board file names its pins `port: B4`: define TL_PIN like this before. */
#define PORT_AVR_PIN(place, name) PORT_AVR_##name
enum {
    PORT_AVR_B0 = 0,
    PORT_AVR_B1,
    PORT_AVR_B2,
    PORT_AVR_B3,
    PORT_AVR_B4,
    PORT_AVR_B5,
    PORT_AVR_B6,
    PORT_AVR_B7,
    PORT_AVR_C0 = 8,
    PORT_AVR_C1,
    PORT_AVR_C2,
    PORT_AVR_C3,
    PORT_AVR_C4,
    PORT_AVR_C5,
    PORT_AVR_C6,
    PORT_AVR_C7,
    PORT_AVR_D0 = 16,
    PORT_AVR_D1,
    PORT_AVR_D2,
    PORT_AVR_D3,
    PORT_AVR_D4,
    PORT_AVR_D5,
    PORT_AVR_D6,
    PORT_AVR_D7
};

/** In the same way for references, whose names in the board file are logic, inner and outer. */
#define PORT_AVR_REFERENCE(place, name) PORT_AVR_REFERENCE_##name
enum { PORT_AVR_REFERENCE_logic, PORT_AVR_REFERENCE_inner, PORT_AVR_REFERENCE_outer };

/** The serial line at this many bauds, 8 bits, no parity: on to be heard, and to say a text. A byte waits
 * until the one before has gone: 1 ms at 9600. Not from an interrupt. */
void port_avr_serial(uint32_t bauds);
void port_avr_say(const char *text);

/** Starts the clock and the converter, and lets interrupts in. There is one board: the port is the same each
 * time. */
const tl_port *port_avr(void);

#ifdef __cplusplus
}
#endif
#endif
