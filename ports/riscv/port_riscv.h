/* SPDX-License-Identifier: MIT */
/* What RISC-V chips with a machine timer have: a clock of microseconds by mtime, and waits by that clock.
 * Lines, converter and buses are the chip's own. */
#ifndef PORT_RISCV_H
#define PORT_RISCV_H

#include <tinyladder/port.h>

/*
 * mtime: where its two words lie, the lower one first. hertz: what it counts, 1 or more. chip: its functions
 * and their context; clock_us and wait_us are put in here. NULL for 0 hertz.
 */
#ifndef TL_SMALL
const tl_port *port_riscv(const volatile uint32_t *mtime, uint32_t hertz, const tl_port_ops *chip,
                          void *context);
#endif

/* The same clock alone: for the small build, whose one port is the chip's. False for 0 hertz. */
bool port_riscv_start(const volatile uint32_t *mtime, uint32_t hertz);
uint32_t port_riscv_now_us(void);

#endif
