/* SPDX-License-Identifier: MIT */
/* A conversion from its start to its word: claimed, waited for within two bounds. */
#include "port_calls.h"
#include "timeout.h"

#ifndef TL_SMALL
bool tl_port_converts(const tl_port *port)
{
    const tl_port_ops *ops = port->ops;
    return ops->conversion_start != NULL && ops->conversion_ended != NULL && ops->conversion_word != NULL &&
           ops->clock_us != NULL;
}
#endif

#ifdef TL_SMALL
/* By the number of questions alone: that is a bound, too, and takes no clock. */
static tl_status wait_for_end(const tl_port *port, tl_span longest)
{
    (void)port, (void)longest;
    for (uint16_t left = TL_PORT_FROZEN_POLLS; left > 0; left--) {
        bool ended = false;
        const tl_status status = PORT_CALL(port, conversion_ended, &ended);
        if (status != TL_OK || ended)
            return status;
        port_idle(port);
    }
    return TL_ERR_LATE;
}
#else
static tl_status wait_for_end(const tl_port *port, tl_span longest)
{
    wait_timeout timeout;
    tl_status status = tl_timeout_begin(&timeout, port, longest);
    while (status == TL_OK) {
        bool ended = false;
        status = PORT_CALL(port, conversion_ended, &ended);
        if (status != TL_OK || ended)
            break;
        status = tl_timeout_keep(&timeout, port);
    }
    return status;
}
#endif

tl_status tl_port_convert(const tl_port *port, uint8_t channel, uint8_t reference, uint32_t acquisition_ns,
                          tl_span longest, tl_raw *word)
{
    tl_raw fetched = 0; /* its address tells one reader from another, too */
    if (MISTAKEN(longest == 0 || longest > TL_SPAN_MOST || port == NULL || port->ops == NULL))
        return TL_ERR_ARG;
    tl_status status = tl_port_converts(port) ? tl_port_claim(port, &fetched) : TL_ERR_UNSUPPORTED;
    if (status != TL_OK)
        return status;
    status = PORT_CALL(port, conversion_start, channel, reference, acquisition_ns);
    if (status == TL_OK)
        status = wait_for_end(port, longest);
    if (status == TL_OK)
        status = PORT_CALL(port, conversion_word, &fetched);
    if (status == TL_OK)
        *word = fetched;
    tl_port_yield(port, &fetched);
    return status;
}
