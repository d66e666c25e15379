/* SPDX-License-Identifier: MIT */
/* The bound on every wait: by the clock, and by a count of questions in case the clock stands still. */
#include "timeout.h"
#include "port_calls.h"

tl_status tl_timeout_begin(wait_timeout *timeout, const tl_port *port, tl_span longest)
{
    const tl_status status = tl_port_span_clock(port, &timeout->seen_at);
    timeout->left = longest;
    timeout->still = 0;
    if (status == TL_OK)
        timeout->left = (tl_span)(timeout->left + TL_SPAN_US(PORT_STEP_US(port)));
    return status;
}

tl_status tl_timeout_keep(wait_timeout *timeout, const tl_port *port)
{
    const tl_span before = timeout->seen_at;
    port_idle(port);
    const tl_status status = tl_port_span_clock(port, &timeout->seen_at);
    if (status != TL_OK)
        return status;
    const tl_span step = (tl_span)(timeout->seen_at - before);
    if (step == 0 || step > TL_SPAN_MOST) /* it stands, or was set back: nothing is taken away */
        return ++timeout->still >= TL_PORT_FROZEN_POLLS ? TL_ERR_CLOCK : TL_OK;
    timeout->still = 0;
    if (step > timeout->left)
        return TL_ERR_LATE;
    timeout->left = (tl_span)(timeout->left - step);
    return TL_OK;
}
