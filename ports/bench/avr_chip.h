/* SPDX-License-Identifier: MIT */
/* A simulated 8-bit AVR from inside: its lines, its converter, and what goes on on its buses. */
#ifndef TINYLADDER_BENCH_AVR_CHIP_H
#define TINYLADDER_BENCH_AVR_CHIP_H

#include "chip_inside.h"
#include <simavr/avr_adc.h>
#include <simavr/avr_timer.h>
#include <simavr/avr_twi.h>
#include <simavr/sim_avr.h>
#include <simavr/sim_io.h>

enum { SUPPLY_MV = 60000 }; /* the simulator's, in steps much finer than a count: any word can be had */

/* What the simulator has for a line. */
typedef struct {
    const avr_timer_comp_t *compare; /* what may drive it for a share of the time; NULL */
    const avr_timer_t *timer;
    bool level; /* as the chip was told */
    avr_irq_t *in;
} avr_line;

typedef struct {
    chip base;
    avr_t *avr;
    avr_adc_t *converter;
    avr_line at[LINES_MOST]; /* beside base.lines */
    uint8_t mux;             /* of the converter, and since when */
    avr_cycle_count_t mux_since;
    avr_irq_t *two_wire_in, *spi_in, *serial_in;
    avr_twi_t *two_wire;
    bool addressed; /* just now */
    bool changed;
    bool full; /* its serial line */
} avr_chip;

/* What the chip's registers make of its lines, told to the bench where it is new. */
void avr_follow(avr_chip *of);
/* The next part of the simulator of that kind; the first after NULL. */
avr_io_t *avr_next(avr_t *avr, avr_io_t *after, const char *kind);

/* avr_buses.c: two wires, SPI and the serial line. */
void avr_wire_buses(avr_chip *of);
void avr_wire_serial(avr_chip *of);
/* After an instruction: what the simulator has got wrong on the two wires. */
void avr_put_right(avr_chip *of);

#endif
