/* SPDX-License-Identifier: MIT */
#include "stand_in.h"
#include <stddef.h>

enum { LINES = 64, CHANNELS = 9, TICK_US = 20, ADDRESS = 0x2a };
#define CONVERSION_US 62000u

static struct {
    uint32_t now_us, converted_us;
    uint8_t use[LINES];
    bool high[LINES];
    uint8_t channel, pointer, settings;
} own;

uint32_t stand_in_now(void)
{
    return own.now_us;
}

TL_PORT_FUNCTION(clock_us)(void *context, uint32_t *now_us)
{
    (void)context;
    *now_us = own.now_us += TICK_US;
    return TL_OK;
}

TL_PORT_FUNCTION(wait_us)(void *context, uint32_t duration_us)
{
    (void)context;
    own.now_us += duration_us;
    return TL_OK;
}

TL_PORT_FUNCTION(line_use)(void *context, uint8_t line, tl_line_use use)
{
    (void)context;
    if (line >= LINES)
        return TL_ERR_ARG;
    own.use[line] = (uint8_t)use;
    own.high[line] = false;
    return TL_OK;
}

/* Each line that is read turns over with a period of its own, from a third of a second up. */
TL_PORT_FUNCTION(line_level)(void *context, uint8_t line, bool *high)
{
    (void)context;
    if (line >= LINES || own.use[line] == TL_LINE_RELEASED)
        return TL_ERR_ARG;
    *high = own.use[line] == TL_LINE_OUTPUT
                ? own.high[line]
                : own.now_us / (UINT32_C(333333) + UINT32_C(10007) * line) % 2 != 0;
    return TL_OK;
}

TL_PORT_FUNCTION(line_drive)(void *context, uint8_t line, bool high)
{
    (void)context;
    if (line >= LINES || own.use[line] != TL_LINE_OUTPUT)
        return TL_ERR_ARG;
    own.high[line] = high;
    return TL_OK;
}

TL_PORT_FUNCTION(line_duty)(void *context, uint8_t line, uint16_t share)
{
    return TL_PORT_OWN(line_drive)(context, line, share >= 32768u);
}

TL_PORT_FUNCTION(conversion_start)(void *context, uint8_t channel, uint8_t reference, uint32_t acquisition_ns)
{
    (void)context;
    if (channel >= CHANNELS || reference > 1)
        return TL_ERR_ARG;
    own.channel = channel;
    own.now_us += acquisition_ns / 1000u;
    return TL_OK;
}

TL_PORT_FUNCTION(conversion_ended)(void *context, bool *ended)
{
    (void)context;
    *ended = true;
    return TL_OK;
}

/* Channels wander at paces of their own, each around a place of its own, within 12 bits. */
TL_PORT_FUNCTION(conversion_word)(void *context, tl_raw *word)
{
    (void)context;
    const uint32_t pace = own.now_us / (2000u + 500u * own.channel);
    *word = (tl_raw)((1300u + 311u * own.channel + pace % 1024u) % 4096u);
    return TL_OK;
}

TL_PORT_FUNCTION(i2c_transfer)
(void *context, uint8_t bus, uint8_t address, const uint8_t *out, uint8_t out_count, uint8_t *in,
 uint8_t in_count)
{
    (void)context;
    (void)bus;
    if (address != ADDRESS)
        return TL_ERR_ACK;
    if (out_count > 0)
        own.pointer = out[0];
    if (out_count > 1) {
        own.settings = out[1];
        own.converted_us = own.now_us;
    }
    const bool ready = own.now_us - own.converted_us >= CONVERSION_US;
    const uint16_t code = (uint16_t)(own.converted_us / 1000u % 8000u);
    const uint8_t told = (uint8_t)((own.settings & 0x7f) | (ready ? 0x80 : 0));
    for (uint8_t i = 0; i < in_count; i++) {
        const uint8_t byte = (uint8_t)(i == 0 ? code >> 8 : code);
        in[i] = own.pointer == 1 ? told : byte;
    }
    return TL_OK;
}

TL_PORT_DEFINE(port, NULL, 0, .line_use = TL_PORT_OWN(line_use), .line_level = TL_PORT_OWN(line_level),
               .line_drive = TL_PORT_OWN(line_drive), .line_duty = TL_PORT_OWN(line_duty),
               .conversion_start = TL_PORT_OWN(conversion_start),
               .conversion_ended = TL_PORT_OWN(conversion_ended),
               .conversion_word = TL_PORT_OWN(conversion_word), .clock_us = TL_PORT_OWN(clock_us),
               .wait_us = TL_PORT_OWN(wait_us), .i2c_transfer = TL_PORT_OWN(i2c_transfer));

const tl_port *stand_in_port(void)
{
    return &port;
}
