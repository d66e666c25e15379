#include "core/timeout.h"
#include "core/elapsed.h"

tl_status bound_begin(wait_bound *bound, const tl_port *port, uint32_t longest_us)
{
    const tl_status status = tl_port_clock_us(port, &bound->start_us);
    bound->seen_us = bound->start_us;
    bound->longest_us = longest_us;
    bound->still = 0;
    return status;
}

tl_status bound_keep(wait_bound *bound, const tl_port *port)
{
    uint32_t now_us = bound->seen_us;
    const tl_status status = tl_port_clock_us(port, &now_us);
    if (status != TL_OK)
        return status;
    bound->still = now_us == bound->seen_us ? (uint16_t)(bound->still + 1u) : 0u;
    if (elapsed_us(&bound->start_us, &bound->seen_us, now_us) > bound->longest_us)
        return TL_ERR_LATE;
    return bound->still >= TL_PORT_FROZEN_POLLS ? TL_ERR_CLOCK : TL_OK;
}
