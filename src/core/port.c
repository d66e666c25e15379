/* SPDX-License-Identifier: MIT */
/* The port's thin front: checks for what is missing. In the small build nothing is: what the port lacks is
 * answered here, weakly, unless it has it. */
#include "port_calls.h"

#ifdef TL_SMALL
#define LACKS(port, member) ((void)(port), TL_OK)

#define WEAK __attribute__((weak))
WEAK tl_status tl_bound_converter_power(void *context, bool on)
{
    (void)context, (void)on;
    return TL_ERR_UNSUPPORTED;
}

WEAK tl_status tl_bound_wait_us(void *context, uint32_t duration_us)
{
    (void)context, (void)duration_us;
    return TL_ERR_UNSUPPORTED;
}

WEAK tl_status tl_bound_spi_exchange(void *context, uint8_t bus, uint8_t select, const uint8_t *out,
                                     uint8_t *in, uint8_t count)
{
    (void)context, (void)bus, (void)select, (void)out, (void)in, (void)count;
    return TL_ERR_UNSUPPORTED;
}

WEAK tl_status tl_bound_i2c_transfer(void *context, uint8_t bus, uint8_t address, const uint8_t *out,
                                     uint8_t out_count, uint8_t *in, uint8_t in_count)
{
    (void)context, (void)bus, (void)address, (void)out, (void)out_count, (void)in, (void)in_count;
    return TL_ERR_UNSUPPORTED;
}

WEAK void tl_bound_idle(void *context)
{
    (void)context;
}
#else
/* What a call answers before it is made: a port without functions is a mistake, a missing one is a fact. */
#define LACKS(port, member)                                                                                  \
    ((port) == NULL || (port)->ops == NULL ? TL_ERR_ARG                                                      \
     : (port)->ops->member == NULL         ? TL_ERR_UNSUPPORTED                                              \
                                           : TL_OK)

tl_status tl_port_line_use(const tl_port *port, uint8_t line, tl_line_use use)
{
    const tl_status lacks = LACKS(port, line_use);
    return lacks != TL_OK ? lacks : port->ops->line_use(port->context, line, use);
}

tl_status tl_port_line_level(const tl_port *port, uint8_t line, bool *high)
{
    const tl_status lacks = LACKS(port, line_level);
    return lacks != TL_OK ? lacks : port->ops->line_level(port->context, line, high);
}

tl_status tl_port_line_drive(const tl_port *port, uint8_t line, bool high)
{
    const tl_status lacks = LACKS(port, line_drive);
    return lacks != TL_OK ? lacks : port->ops->line_drive(port->context, line, high);
}

tl_status tl_port_line_duty(const tl_port *port, uint8_t line, uint16_t share)
{
    const tl_status lacks = LACKS(port, line_duty);
    return lacks != TL_OK ? lacks : port->ops->line_duty(port->context, line, share);
}

tl_status tl_port_converter_power(const tl_port *port, bool on)
{
    const tl_status lacks = LACKS(port, converter_power);
    return lacks != TL_OK ? lacks : port->ops->converter_power(port->context, on);
}

tl_status tl_port_clock_us(const tl_port *port, uint32_t *now_us)
{
    const tl_status lacks = LACKS(port, clock_us);
    return lacks != TL_OK ? lacks : port->ops->clock_us(port->context, now_us);
}

tl_status tl_port_wait_us(const tl_port *port, uint32_t duration_us)
{
    const tl_status lacks = LACKS(port, wait_us);
    return lacks != TL_OK ? lacks : port->ops->wait_us(port->context, duration_us);
}

tl_status tl_port_wait_change(const tl_port *port, const uint8_t *lines, const bool *seen_high, uint8_t count,
                              uint32_t at_most_us)
{
    if (count == 0 || at_most_us == 0 || at_most_us > INT32_MAX)
        return TL_ERR_ARG;
    const tl_status lacks = LACKS(port, wait_change);
    return lacks != TL_OK ? lacks
                          : port->ops->wait_change(port->context, lines, seen_high, count, at_most_us);
}

tl_status tl_port_spi_exchange(const tl_port *port, uint8_t bus, uint8_t select, const uint8_t *out,
                               uint8_t *in, uint8_t count)
{
    if (count == 0)
        return TL_ERR_ARG;
    const tl_status lacks = LACKS(port, spi_exchange);
    return lacks != TL_OK ? lacks : port->ops->spi_exchange(port->context, bus, select, out, in, count);
}

tl_status tl_port_i2c_transfer(const tl_port *port, uint8_t bus, uint8_t address, const uint8_t *out,
                               uint8_t out_count, uint8_t *in, uint8_t in_count)
{
    if (address > 0x7f)
        return TL_ERR_ARG;
    const tl_status lacks = LACKS(port, i2c_transfer);
    return lacks != TL_OK
               ? lacks
               : port->ops->i2c_transfer(port->context, bus, address, out, out_count, in, in_count);
}
#endif

/* Of the parts of a conversion: who asks must have claimed the port. */
static tl_status is_another(const tl_port *port, const void *who)
{
    (void)port;
    if (MISTAKEN(PORT_READER(port) == NULL || who == NULL))
        return TL_ERR_ARG;
    return PORT_READER(port)->who == who ? TL_OK : TL_ERR_BUSY;
}

tl_status tl_port_conversion_start(const tl_port *port, const void *who, uint8_t channel, uint8_t reference,
                                   uint32_t acquisition_ns)
{
    tl_status status = LACKS(port, conversion_start);
    if (status == TL_OK)
        status = is_another(port, who);
    return status != TL_OK ? status : PORT_CALL(port, conversion_start, channel, reference, acquisition_ns);
}

tl_status tl_port_conversion_ended(const tl_port *port, const void *who, bool *ended)
{
    tl_status status = LACKS(port, conversion_ended);
    if (status == TL_OK)
        status = is_another(port, who);
    return status != TL_OK ? status : PORT_CALL(port, conversion_ended, ended);
}

tl_status tl_port_conversion_word(const tl_port *port, const void *who, tl_raw *word)
{
    tl_status status = LACKS(port, conversion_word);
    if (status == TL_OK)
        status = is_another(port, who);
    return status != TL_OK ? status : PORT_CALL(port, conversion_word, word);
}

tl_status tl_port_claim(const tl_port *port, const void *who)
{
    (void)port;
    if (MISTAKEN(port == NULL || PORT_READER(port) == NULL || who == NULL))
        return TL_ERR_ARG;
    if (PORT_READER(port)->who != NULL && PORT_READER(port)->who != who)
        return TL_ERR_BUSY;
    PORT_READER(port)->who = who;
    return TL_OK;
}

void tl_port_yield(const tl_port *port, const void *who)
{
    (void)port;
    if (!MISTAKEN(port == NULL || PORT_READER(port) == NULL) && PORT_READER(port)->who == who)
        PORT_READER(port)->who = NULL;
}
