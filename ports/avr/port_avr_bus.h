/* SPDX-License-Identifier: MIT */
/* The two buses of the chip, for port_avr.c. */
#ifndef TINYLADDER_PORT_AVR_BUS_H
#define TINYLADDER_PORT_AVR_BUS_H

#include "port_avr.h"

void port_avr_open_buses(void);
tl_status port_avr_spi(void *context, uint8_t bus, uint8_t select, const uint8_t *out, uint8_t *in,
                       uint8_t count);
tl_status port_avr_two_wire(void *context, uint8_t bus, uint8_t address, const uint8_t *out,
                            uint8_t out_count, uint8_t *in, uint8_t in_count);

#endif
