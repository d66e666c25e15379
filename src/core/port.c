/* The port's thin front: checks for what is missing, and a conversion awaited within its bound. */
#include "bound.h"

#define HAS(port, member) ((port)->ops->member != NULL)

tl_status tl_port_line_use(const tl_port *port, uint8_t line, tl_line_use use)
{
    if (!HAS(port, line_use))
        return TL_ERR_UNSUPPORTED;
    return port->ops->line_use(port->context, line, use);
}

tl_status tl_port_line_level(const tl_port *port, uint8_t line, bool *high)
{
    if (!HAS(port, line_level))
        return TL_ERR_UNSUPPORTED;
    return port->ops->line_level(port->context, line, high);
}

tl_status tl_port_line_drive(const tl_port *port, uint8_t line, bool high)
{
    if (!HAS(port, line_drive))
        return TL_ERR_UNSUPPORTED;
    return port->ops->line_drive(port->context, line, high);
}

tl_status tl_port_line_duty(const tl_port *port, uint8_t line, uint16_t share)
{
    if (!HAS(port, line_duty))
        return TL_ERR_UNSUPPORTED;
    return port->ops->line_duty(port->context, line, share);
}

tl_status tl_port_converter_power(const tl_port *port, bool on)
{
    if (!HAS(port, converter_power))
        return TL_ERR_UNSUPPORTED;
    return port->ops->converter_power(port->context, on);
}

tl_status tl_port_conversion_start(const tl_port *port, uint8_t channel, uint32_t acquisition_ns)
{
    if (!HAS(port, conversion_start))
        return TL_ERR_UNSUPPORTED;
    return port->ops->conversion_start(port->context, channel, acquisition_ns);
}

tl_status tl_port_conversion_ended(const tl_port *port, bool *ended)
{
    if (!HAS(port, conversion_ended))
        return TL_ERR_UNSUPPORTED;
    return port->ops->conversion_ended(port->context, ended);
}

tl_status tl_port_conversion_word(const tl_port *port, uint32_t *word)
{
    if (!HAS(port, conversion_word))
        return TL_ERR_UNSUPPORTED;
    return port->ops->conversion_word(port->context, word);
}

tl_status tl_port_clock_us(const tl_port *port, uint32_t *now_us)
{
    if (!HAS(port, clock_us))
        return TL_ERR_UNSUPPORTED;
    return port->ops->clock_us(port->context, now_us);
}

tl_status tl_port_wait_us(const tl_port *port, uint32_t duration_us)
{
    if (!HAS(port, wait_us))
        return TL_ERR_UNSUPPORTED;
    return port->ops->wait_us(port->context, duration_us);
}

tl_status tl_port_spi_exchange(const tl_port *port, uint8_t bus, uint8_t select, const uint8_t *out,
                               uint8_t *in, uint8_t count)
{
    if (count == 0)
        return TL_ERR_ARG;
    if (!HAS(port, spi_exchange))
        return TL_ERR_UNSUPPORTED;
    return port->ops->spi_exchange(port->context, bus, select, out, in, count);
}

tl_status tl_port_i2c_transfer(const tl_port *port, uint8_t bus, uint8_t address, const uint8_t *out,
                               uint8_t out_count, uint8_t *in, uint8_t in_count)
{
    if (address > 0x7f)
        return TL_ERR_ARG;
    if (!HAS(port, i2c_transfer))
        return TL_ERR_UNSUPPORTED;
    return port->ops->i2c_transfer(port->context, bus, address, out, out_count, in, in_count);
}

tl_status tl_port_convert(const tl_port *port, uint8_t channel, uint32_t acquisition_ns, uint32_t longest_us,
                          uint32_t *word)
{
    wait_bound bound;

    if (longest_us == 0 || longest_us > INT32_MAX)
        return TL_ERR_ARG;
    tl_status status = bound_begin(&bound, port, longest_us);
    if (status == TL_OK)
        status = tl_port_conversion_start(port, channel, acquisition_ns);
    for (bool ended = false; status == TL_OK;) {
        status = tl_port_conversion_ended(port, &ended);
        if (status == TL_OK && ended)
            return tl_port_conversion_word(port, word);
        if (status == TL_OK)
            status = bound_keep(&bound, port);
    }
    return status;
}
