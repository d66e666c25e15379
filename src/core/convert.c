/* A conversion from its start to its word: claimed, waited for within two bounds. */
#include "timeout.h"

bool tl_port_converts(const tl_port *port)
{
    const tl_port_ops *ops = port->ops;
    return ops->conversion_start != NULL && ops->conversion_ended != NULL && ops->conversion_word != NULL &&
           ops->clock_us != NULL;
}

tl_status tl_port_convert(const tl_port *port, uint8_t channel, uint8_t reference, uint32_t acquisition_ns,
                          uint32_t longest_us, uint32_t *word)
{
    wait_timeout timeout;
    uint32_t fetched = 0; /* its address tells one reader from another, too */
    bool ended = false;
    if (longest_us == 0 || longest_us > INT32_MAX)
        return TL_ERR_ARG;
    if (port == NULL || port->ops == NULL)
        return TL_ERR_ARG;
    tl_status status = tl_port_converts(port) ? tl_port_claim(port, &fetched) : TL_ERR_UNSUPPORTED;
    if (status != TL_OK)
        return status;
    status = port->ops->conversion_start(port->context, channel, reference, acquisition_ns);
    if (status == TL_OK)
        status = tl_timeout_begin(&timeout, port, longest_us);
    while (status == TL_OK) {
        status = port->ops->conversion_ended(port->context, &ended);
        if (status != TL_OK || ended)
            break;
        status = tl_timeout_keep(&timeout, port);
    }
    if (status == TL_OK)
        status = port->ops->conversion_word(port->context, &fetched);
    if (status == TL_OK)
        *word = fetched;
    tl_port_yield(port, &fetched);
    return status;
}
