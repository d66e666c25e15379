/* SPDX-License-Identifier: MIT */
/* The port that the measured images share: what of it is used, the linker keeps. */
#include "tinyladder/port.h"
#include "board.h"

TL_PORT_FUNCTION(line_use)(void *context, uint8_t line, tl_line_use use)
{
    (void)context;
    if (use == TL_LINE_OUTPUT)
        LINES_USE |= (uint8_t)(1u << line);
    else
        LINES_USE &= (uint8_t) ~(1u << line);
    return TL_OK;
}

TL_PORT_FUNCTION(line_level)(void *context, uint8_t line, bool *high)
{
    (void)context;
    *high = (LINES_IN >> line & 1) != 0;
    return TL_OK;
}

TL_PORT_FUNCTION(line_drive)(void *context, uint8_t line, bool high)
{
    (void)context;
    if (high)
        LINES_OUT |= (uint8_t)(1u << line);
    else
        LINES_OUT &= (uint8_t) ~(1u << line);
    return TL_OK;
}

TL_PORT_FUNCTION(conversion_start)(void *context, uint8_t channel, uint8_t reference, uint32_t acquisition_ns)
{
    (void)context;
    (void)reference;      /* the one that it begins with */
    (void)acquisition_ns; /* this converter's own is longer */
    CONVERT(channel);
    return TL_OK;
}

TL_PORT_FUNCTION(conversion_ended)(void *context, bool *ended)
{
    (void)context;
    *ended = !CONVERTING;
    return TL_OK;
}

TL_PORT_FUNCTION(conversion_word)(void *context, tl_raw *word)
{
    (void)context;
    *word = (tl_raw)RESULT;
    return TL_OK;
}

TL_PORT_FUNCTION(clock_us)(void *context, uint32_t *now_us)
{
    (void)context;
    *now_us = (uint32_t)TICKS * 4u;
    return TL_OK;
}

TL_PORT_DEFINE(own_port, NULL, 0, .line_use = TL_PORT_OWN(line_use), .line_level = TL_PORT_OWN(line_level),
               .line_drive = TL_PORT_OWN(line_drive), .conversion_start = TL_PORT_OWN(conversion_start),
               .conversion_ended = TL_PORT_OWN(conversion_ended),
               .conversion_word = TL_PORT_OWN(conversion_word), .clock_us = TL_PORT_OWN(clock_us));
const tl_port *const port = &own_port;
