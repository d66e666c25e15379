/* SPDX-License-Identifier: MIT */
/* How the core reaches the port in either build: by its table, or bound when linking. What a description
 * could be wrong in is looked at in the ordinary build only. */
#ifndef TL_PORT_CALLS_H
#define TL_PORT_CALLS_H

#include "tinyladder/port.h"

#ifdef TL_SMALL
#define MISTAKEN(condition) false
#define PORT_READER(port) (&tl_bound_reader)
#define PORT_CALL(port, member, ...) tl_bound_##member(NULL, __VA_ARGS__)
#define PORT_STEP_US(port) tl_bound_clock_step_us
#else
#define MISTAKEN(condition) (condition)
#define PORT_READER(port) ((port)->reader)
#define PORT_CALL(port, member, ...) (port)->ops->member((port)->context, __VA_ARGS__)
#define PORT_STEP_US(port) (port)->ops->clock_step_us
#endif

static inline void port_idle(const tl_port *port)
{
#ifdef TL_SMALL
    (void)port;
    tl_bound_idle(NULL);
#else
    if (port->ops->idle != NULL)
        port->ops->idle(port->context);
#endif
}

#endif
