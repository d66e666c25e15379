/* SPDX-License-Identifier: MIT */
/* A port that stands in for hardware where there is none: an emulator, or a PC without a bench. Its clock
 * moves by so much with every question; lines and volts follow from the time alone, so that every target sees
 * the same. */
#ifndef STAND_IN_H
#define STAND_IN_H

#include <tinyladder/port.h>

const tl_port *stand_in_port(void);
/* Microseconds since it began. */
uint32_t stand_in_now(void);

#endif
