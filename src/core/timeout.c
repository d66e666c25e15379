/* The bound on every wait: by the clock, and by a count of questions in case the clock stands still. */
#include "timeout.h"
#include "elapsed.h"

tl_status tl_timeout_begin(wait_timeout *timeout, const tl_port *port, uint32_t longest_us)
{
    const tl_status status = tl_port_clock_us(port, &timeout->start_us);
    timeout->seen_us = timeout->start_us;
    timeout->longest_us = longest_us;
    timeout->still = 0;
    return status;
}

tl_status tl_timeout_keep(wait_timeout *timeout, const tl_port *port)
{
    uint32_t now_us = timeout->seen_us;
    if (port->ops->idle != NULL)
        port->ops->idle(port->context);
    const tl_status status = tl_port_clock_us(port, &now_us);
    if (status != TL_OK)
        return status;
    timeout->still = now_us == timeout->seen_us ? (uint16_t)(timeout->still + 1u) : 0u;
    if (tl_elapsed_us(&timeout->start_us, &timeout->seen_us, now_us) > timeout->longest_us)
        return TL_ERR_LATE;
    return timeout->still >= TL_PORT_FROZEN_POLLS ? TL_ERR_CLOCK : TL_OK;
}
