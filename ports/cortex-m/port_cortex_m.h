/* SPDX-License-Identifier: MIT */
/* What every Cortex-M has: a clock of microseconds by its SysTick timer, and waits by that clock. Lines,
 * converter and buses are the chip's own. */
#ifndef PORT_CORTEX_M_H
#define PORT_CORTEX_M_H

#include <tinyladder/port.h>

/*
 * Takes SysTick, with an interrupt every 10 ms: `start.c` names port_cortex_m_tick() in its table. It must
 * not be held up for 10 ms.
 *
 * hertz: of the processor's clock, whole megahertz, 1 to 1600 of them. chip: its functions and their context;
 * clock_us and wait_us are put in here. NULL for another frequency.
 */
#ifndef TL_SMALL
const tl_port *port_cortex_m(uint32_t hertz, const tl_port_ops *chip, void *context);
#endif

/* The same clock alone: for the small build, whose one port is the chip's. False for another frequency. */
bool port_cortex_m_start(uint32_t hertz);
uint32_t port_cortex_m_now_us(void);

void port_cortex_m_tick(void);

#endif
