/* SPDX-License-Identifier: MIT */
/* Lines and a converter that are made up: for ports of processors whose chips have converters of their own
 * kinds, so that everything else can be run and tried. No hardware. */
#ifndef STAND_IN_CHIP_H
#define STAND_IN_CHIP_H

#include <tinyladder/port.h>

enum { STAND_IN_LINES = 8, STAND_IN_CHANNELS = 4, STAND_IN_REFERENCES = 2, STAND_IN_WORD = 2048 };

/* Inputs are high unless something drives them; every channel converts to STAND_IN_WORD of 12 bits. */
extern const tl_port_ops stand_in_chip;
/* The processor's clock in microseconds, by which acquisitions take their time; NULL: they take none. */
extern uint32_t (*stand_in_chip_clock)(void);

#endif
