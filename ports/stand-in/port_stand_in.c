/* SPDX-License-Identifier: MIT */
/*
 * Registers behind the table of functions. CORE_HERTZ is the processor's clock, STAND_IN_ADC_HERTZ the
 * converter's: a conversion takes 13 of its cycles.
 */
#include "port_stand_in.h"
#include "registers.h"
#include <stddef.h>

#ifndef CORE_HERTZ
#define CORE_HERTZ 16000000u
#endif
#ifndef STAND_IN_ADC_HERTZ
#define STAND_IN_ADC_HERTZ 125000u
#endif

enum { LOOKS = 20000, SPI_HERTZ = 1000000, WIRES_HERTZ = 100000, ACQUISITION_MOST = 65535 };

static volatile uint32_t *at(uint32_t offset)
{
    return (volatile uint32_t *)(uintptr_t)(STAND_IN_BASE + offset);
}

static volatile uint32_t *at_line(uint32_t offset, uint8_t line)
{
    return at(offset + 4u * line);
}

/* --- time --- */

TL_PORT_FUNCTION(clock_us)(void *context, uint32_t *now_us)
{
    (void)context;
    *now_us = *at(STAND_IN_CLOCK_US);
    return TL_OK;
}

TL_PORT_FUNCTION(wait_us)(void *context, uint32_t duration_us)
{
    (void)context;
    *at(STAND_IN_SLEEP_US) = duration_us;
    return TL_OK;
}

TL_PORT_IDLE(void *context)
{
    (void)context;
    *at(STAND_IN_SLEEP_US) = 1;
}

/* --- lines --- */

TL_PORT_FUNCTION(line_use)(void *context, uint8_t line, tl_line_use use)
{
    (void)context;
    if (line >= STAND_IN_LINES)
        return TL_ERR_ARG;
    *at_line(STAND_IN_LINE_USE, line) = (uint32_t)use;
    return TL_OK;
}

TL_PORT_FUNCTION(line_level)(void *context, uint8_t line, bool *high)
{
    (void)context;
    if (line >= STAND_IN_LINES)
        return TL_ERR_ARG;
    *high = *at_line(STAND_IN_LINE_LEVEL, line) != 0;
    return TL_OK;
}

static bool is_output(uint8_t line)
{
    return line < STAND_IN_LINES && *at_line(STAND_IN_LINE_USE, line) == (uint32_t)TL_LINE_OUTPUT;
}

TL_PORT_FUNCTION(line_drive)(void *context, uint8_t line, bool high)
{
    (void)context;
    if (!is_output(line))
        return TL_ERR_ARG;
    *at_line(STAND_IN_LINE_LEVEL, line) = high;
    return TL_OK;
}

TL_PORT_FUNCTION(line_duty)(void *context, uint8_t line, uint16_t share)
{
    (void)context;
    if (!is_output(line))
        return TL_ERR_ARG;
    *at_line(STAND_IN_LINE_SHARE, line) = share;
    return TL_OK;
}

/* --- converter: its references are always there --- */

TL_PORT_FUNCTION(conversion_start)(void *context, uint8_t channel, uint8_t reference, uint32_t acquisition_ns)
{
    (void)context;
    const uint32_t clocks = (acquisition_ns + 999u) / 1000u * (CORE_HERTZ / 1000000u);
    if (clocks > ACQUISITION_MOST)
        return TL_ERR_ARG;
    *at(STAND_IN_ADC_CHANNEL) = channel;
    *at(STAND_IN_ADC_REFERENCE) = reference;
    *at(STAND_IN_ADC_ACQUISITION) = clocks;
    *at(STAND_IN_ADC_START) = 1;
    return TL_OK;
}

TL_PORT_FUNCTION(conversion_ended)(void *context, bool *ended)
{
    (void)context;
    *ended = *at(STAND_IN_ADC_ENDED) != 0;
    return TL_OK;
}

TL_PORT_FUNCTION(conversion_word)(void *context, tl_raw *word)
{
    (void)context;
    *word = (tl_raw)*at(STAND_IN_ADC_WORD);
    return TL_OK;
}

/* --- SPI: one bus, mode 0 --- */

static bool exchange_byte(uint8_t out, uint8_t *in)
{
    *at(STAND_IN_SPI_DATA) = out;
    for (uint16_t i = 0; i < LOOKS; i++) {
        if (*at(STAND_IN_SPI_ENDED) != 0) {
            *in = (uint8_t)*at(STAND_IN_SPI_DATA);
            return true;
        }
    }
    return false;
}

TL_PORT_FUNCTION(spi_exchange)
(void *context, uint8_t bus, uint8_t select, const uint8_t *out, uint8_t *in, uint8_t count)
{
    (void)context;
    (void)bus;
    if (select >= STAND_IN_LINES)
        return TL_ERR_ARG;
    bool all = true;
    *at_line(STAND_IN_LINE_USE, select) = TL_LINE_OUTPUT;
    *at_line(STAND_IN_LINE_LEVEL, select) = 1;
    *at_line(STAND_IN_LINE_LEVEL, select) = 0;
    for (uint8_t i = 0; i < count && all; i++)
        all = exchange_byte(out[i], &in[i]);
    *at_line(STAND_IN_LINE_LEVEL, select) = 1;
    return all ? TL_OK : TL_ERR_PORT;
}

/* --- two wires: one bus --- */

static tl_status step(uint32_t what)
{
    *at(STAND_IN_WIRES_STEP) = what;
    for (uint16_t i = 0; i < LOOKS; i++) {
        const uint32_t state = *at(STAND_IN_WIRES_STATE);
        if ((state & STAND_IN_STEP_ENDED) != 0)
            return (state & STAND_IN_ACKNOWLEDGED) != 0 ? TL_OK : TL_ERR_ACK;
    }
    return TL_ERR_PORT;
}

static tl_status send(uint32_t what, uint8_t byte)
{
    *at(STAND_IN_WIRES_DATA) = byte;
    return step(what);
}

TL_PORT_FUNCTION(i2c_transfer)
(void *context, uint8_t bus, uint8_t address, const uint8_t *out, uint8_t out_count, uint8_t *in,
 uint8_t in_count)
{
    (void)context;
    (void)bus;
    tl_status status = out_count > 0 || in_count == 0 ? send(STAND_IN_START, (uint8_t)(address << 1)) : TL_OK;
    for (uint8_t i = 0; i < out_count && status == TL_OK; i++)
        status = send(STAND_IN_WRITE, out[i]);
    if (status == TL_OK && in_count > 0)
        status = send(STAND_IN_START, (uint8_t)(address << 1 | 1));
    for (uint8_t i = 0; i < in_count && status == TL_OK; i++) {
        status = step(i + 1 < in_count ? STAND_IN_READ : STAND_IN_READ_LAST);
        in[i] = (uint8_t)*at(STAND_IN_WIRES_DATA);
    }
    (void)step(STAND_IN_STOP);
    return status;
}

/* --- the whole --- */

TL_PORT_DEFINE(port, NULL, 0, .line_use = TL_PORT_OWN(line_use), .line_level = TL_PORT_OWN(line_level),
               .line_drive = TL_PORT_OWN(line_drive), .line_duty = TL_PORT_OWN(line_duty),
               .conversion_start = TL_PORT_OWN(conversion_start),
               .conversion_ended = TL_PORT_OWN(conversion_ended),
               .conversion_word = TL_PORT_OWN(conversion_word), .clock_us = TL_PORT_OWN(clock_us),
               .wait_us = TL_PORT_OWN(wait_us), .idle = TL_PORT_OWN(idle),
               .spi_exchange = TL_PORT_OWN(spi_exchange), .i2c_transfer = TL_PORT_OWN(i2c_transfer));

void port_stand_in_say(const char *text)
{
    for (; *text != '\0'; text++)
        *at(STAND_IN_SERIAL_DATA) = (uint8_t)*text;
}

const tl_port *port_stand_in(void)
{
    *at(STAND_IN_ADC_DIVIDER) = CORE_HERTZ / STAND_IN_ADC_HERTZ;
    *at(STAND_IN_SPI_CONTROL) = 0;
    *at(STAND_IN_SPI_DIVIDER) = CORE_HERTZ / SPI_HERTZ;
    *at(STAND_IN_WIRES_DIVIDER) = CORE_HERTZ / WIRES_HERTZ;
    return &port;
}
