/* SPDX-License-Identifier: MIT */
/* Lines that remember their settings, and a converter that needs a few questions. */
#include "stand_in_chip.h"
#include <stddef.h>

uint32_t (*stand_in_chip_clock)(void);

enum { QUESTIONS = 5, STOPPED = 255 };

static struct {
    tl_line_use use[STAND_IN_LINES];
    bool high[STAND_IN_LINES];
    uint8_t left; /* questions until the conversion has ended */
    uint32_t begun_us, acquisition_us;
} chip = {.left = STOPPED};

static tl_status line_use(void *context, uint8_t line, tl_line_use use)
{
    (void)context;
    if (line >= STAND_IN_LINES)
        return TL_ERR_ARG;
    chip.use[line] = use;
    chip.high[line] = use != TL_LINE_OUTPUT && use != TL_LINE_INPUT_PULL_DOWN;
    return TL_OK;
}

static tl_status line_level(void *context, uint8_t line, bool *high)
{
    (void)context;
    if (line >= STAND_IN_LINES)
        return TL_ERR_ARG;
    *high = chip.high[line];
    return TL_OK;
}

static tl_status line_drive(void *context, uint8_t line, bool high)
{
    (void)context;
    if (line >= STAND_IN_LINES || chip.use[line] != TL_LINE_OUTPUT)
        return TL_ERR_ARG;
    chip.high[line] = high;
    return TL_OK;
}

static tl_status conversion_start(void *context, uint8_t channel, uint8_t reference, uint32_t acquisition_ns)
{
    (void)context;
    if (channel >= STAND_IN_CHANNELS)
        return TL_ERR_ARG;
    if (reference >= STAND_IN_REFERENCES)
        return TL_ERR_UNSUPPORTED;
    chip.left = QUESTIONS;
    chip.begun_us = stand_in_chip_clock != NULL ? stand_in_chip_clock() : 0;
    chip.acquisition_us = (acquisition_ns + 999u) / 1000u;
    return TL_OK;
}

static tl_status conversion_ended(void *context, bool *ended)
{
    (void)context;
    if (chip.left == STOPPED)
        return TL_ERR_PORT;
    if (stand_in_chip_clock == NULL || stand_in_chip_clock() - chip.begun_us >= chip.acquisition_us)
        chip.left = chip.left > 0 ? (uint8_t)(chip.left - 1) : 0;
    *ended = chip.left == 0;
    return TL_OK;
}

static tl_status conversion_word(void *context, uint32_t *word)
{
    (void)context;
    if (chip.left > 0)
        return TL_ERR_PORT;
    *word = STAND_IN_WORD;
    return TL_OK;
}

const tl_port_ops stand_in_chip = {.line_use = line_use,
                                   .line_level = line_level,
                                   .line_drive = line_drive,
                                   .conversion_start = conversion_start,
                                   .conversion_ended = conversion_ended,
                                   .conversion_word = conversion_word};
