/* The port that the measured images share: what of it is used, the linker keeps. */
#include "tinyladder/port.h"
#include "board.h"

static tl_status line_use(void *context, uint8_t line, tl_line_use use)
{
    (void)context;
    if (use == TL_LINE_OUTPUT)
        LINES_USE |= (uint8_t)(1u << line);
    else
        LINES_USE &= (uint8_t) ~(1u << line);
    return TL_OK;
}

static tl_status line_level(void *context, uint8_t line, bool *high)
{
    (void)context;
    *high = (LINES_IN >> line & 1) != 0;
    return TL_OK;
}

static tl_status line_drive(void *context, uint8_t line, bool high)
{
    (void)context;
    if (high)
        LINES_OUT |= (uint8_t)(1u << line);
    else
        LINES_OUT &= (uint8_t) ~(1u << line);
    return TL_OK;
}

static tl_status conversion_start(void *context, uint8_t channel, uint8_t reference, uint32_t acquisition_ns)
{
    (void)context;
    (void)reference;      /* the one that it begins with */
    (void)acquisition_ns; /* this converter's own is longer */
    CONVERT(channel);
    return TL_OK;
}

static tl_status conversion_ended(void *context, bool *ended)
{
    (void)context;
    *ended = !CONVERTING;
    return TL_OK;
}

static tl_status conversion_word(void *context, uint32_t *word)
{
    (void)context;
    *word = RESULT;
    return TL_OK;
}

static tl_status clock_us(void *context, uint32_t *now_us)
{
    (void)context;
    *now_us = (uint32_t)TICKS * 4u;
    return TL_OK;
}

static const tl_port_ops ops = {.line_use = line_use,
                                .line_level = line_level,
                                .line_drive = line_drive,
                                .conversion_start = conversion_start,
                                .conversion_ended = conversion_ended,
                                .conversion_word = conversion_word,
                                .clock_us = clock_us};
static tl_port_reader reader;
const tl_port port = {&ops, 0, &reader};
