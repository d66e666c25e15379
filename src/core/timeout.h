/* SPDX-License-Identifier: MIT */
/* The bound on every wait of the core: by the port's clock, and by a count of questions in case that clock
 * stands. */
#ifndef TL_TIMEOUT_H
#define TL_TIMEOUT_H

#include "tinyladder/port.h"

typedef struct {
    tl_span left, seen_at;
    uint16_t still; /* questions since the clock moved last */
} wait_timeout;

tl_status tl_timeout_begin(wait_timeout *timeout, const tl_port *port, tl_span longest);
/* Once a question: TL_OK to go on, TL_ERR_LATE, TL_ERR_CLOCK, or the port's status. */
tl_status tl_timeout_keep(wait_timeout *timeout, const tl_port *port);

/* Whether it has what a conversion needs: all or nothing is begun. */
#ifdef TL_SMALL
#define tl_port_converts(port) ((void)(port), true)
#else
bool tl_port_converts(const tl_port *port);
#endif

#endif
