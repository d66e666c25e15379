/* The bound on every wait: by the clock, and by a count of questions in case the clock stands still. */
#include "timeout.h"

tl_status tl_timeout_begin(wait_timeout *timeout, const tl_port *port, uint32_t longest_us)
{
    const tl_status status = tl_port_clock_us(port, &timeout->seen_us);
    timeout->left_us = longest_us;
    timeout->still = 0;
    if (status == TL_OK)
        timeout->left_us += port->ops->clock_step_us;
    return status;
}

tl_status tl_timeout_keep(wait_timeout *timeout, const tl_port *port)
{
    const uint32_t before_us = timeout->seen_us;
    if (port->ops->idle != NULL)
        port->ops->idle(port->context);
    const tl_status status = tl_port_clock_us(port, &timeout->seen_us);
    if (status != TL_OK)
        return status;
    const uint32_t step_us = timeout->seen_us - before_us;
    if (step_us == 0 || step_us > (uint32_t)INT32_MAX) /* it stands, or was set back: nothing is taken away */
        return ++timeout->still >= TL_PORT_FROZEN_POLLS ? TL_ERR_CLOCK : TL_OK;
    timeout->still = 0;
    if (step_us > timeout->left_us)
        return TL_ERR_LATE;
    timeout->left_us -= step_us;
    return TL_OK;
}
