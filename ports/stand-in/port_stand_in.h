/* SPDX-License-Identifier: MIT */
/**
 * @file The port of the chip that is made up (registers.h), for programs that run on the bench of their plan.
 *
 * Lines are A0 (0) .. H7 (63), references and channels are numbered as in the board file. Each clock of the
 * processor is an instruction.
 */
#ifndef TINYLADDER_PORT_STAND_IN_H
#define TINYLADDER_PORT_STAND_IN_H

#include "tinyladder/port.h"

/** For headers made of a plan whose board file names its pins `port: B4`: define TL_PIN like this before. */
#define PORT_STAND_IN_PIN(place, name) PORT_STAND_IN_##name
#define PORT_STAND_IN_ROW(letter, first)                                                                     \
    PORT_STAND_IN_##letter##0 = (first), PORT_STAND_IN_##letter##1, PORT_STAND_IN_##letter##2,               \
    PORT_STAND_IN_##letter##3, PORT_STAND_IN_##letter##4, PORT_STAND_IN_##letter##5,                         \
    PORT_STAND_IN_##letter##6, PORT_STAND_IN_##letter##7
enum {
    PORT_STAND_IN_ROW(A, 0),
    PORT_STAND_IN_ROW(B, 8),
    PORT_STAND_IN_ROW(C, 16),
    PORT_STAND_IN_ROW(D, 24),
    PORT_STAND_IN_ROW(E, 32),
    PORT_STAND_IN_ROW(F, 40),
    PORT_STAND_IN_ROW(G, 48),
    PORT_STAND_IN_ROW(H, 56)
};

/** Says a text over the serial line, without a wait. */
void port_stand_in_say(const char *text);
/** Sets the rates of the converter (STAND_IN_ADC_HERTZ, 125 kHz) and the buses. There is one board: the port
 * is the same each time. */
const tl_port *port_stand_in(void);

#endif
