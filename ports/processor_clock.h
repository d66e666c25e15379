/* SPDX-License-Identifier: MIT */
/* Clock and wait of a port whose chip has a now_us(), and the port that has them. Included once, behind it,
 * by the port's own file. */
#ifndef TINYLADDER_PROCESSOR_CLOCK_H
#define TINYLADDER_PROCESSOR_CLOCK_H

#include "tinyladder/port.h"

static tl_status clock_us(void *context, uint32_t *at_us)
{
    (void)context;
    *at_us = now_us();
    return TL_OK;
}

static tl_status wait_us(void *context, uint32_t duration_us)
{
    (void)context;
    const uint32_t since_us = now_us();
    while (now_us() - since_us <= duration_us)
        continue;
    return TL_OK;
}

/* What the chip serves, with this clock and wait; one port a program. */
static const tl_port *with_clock(const tl_port_ops *chip, void *context)
{
    static tl_port port;
    static tl_port_ops ops;
    static tl_port_reader reader;
    ops = *chip;
    ops.clock_us = clock_us;
    ops.wait_us = wait_us;
    port = (tl_port){&ops, context, &reader};
    return &port;
}

#endif
