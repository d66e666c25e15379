/* SPDX-License-Identifier: MIT */
/* Firmware on an instruction-level simulator of its chip, for whoever listens to a register of it. */
#ifndef TL_SIMULATED_H
#define TL_SIMULATED_H

#include <simavr/sim_avr.h>
#include <simavr/sim_io.h>
#include <stdbool.h>

/* From a program's arguments: FIRMWARE CHIP HERTZ ADDRESS. Every byte that the firmware writes to that
 * register is handed to heard, with param. NULL where that cannot be, and standard error says so. */
avr_t *simulated_chip(int argc, char **argv, avr_io_write_t heard, void *param);

/* Runs until the chip sleeps permanently or crashes, *done (unless it is NULL) is true, or this many cycles
 * have passed. Whether it came to its end: asleep, or done. */
bool simulated_run(avr_t *avr, avr_cycle_count_t most, const bool *done);

#endif
