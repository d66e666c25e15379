/* SPDX-License-Identifier: MIT */
/* The displays' examples seen from the other side: what would be on them is read off the lines, bit by
 * bit. */
#include "desk_plan.h"
#include "display.h"
#include "knob_display.h"
#include "support.h"
#include <stdlib.h>
#include <string.h>
#include <tinyladder/bench.h>

static struct {
    const tl_port *inner;
    bool high[64];
    /* characters: half a byte of setup at a time until it is told to take halves */
    char shown[DISPLAY_ROWS][DISPLAY_COLUMNS + 1];
    int at, halves, setups;
    uint8_t half;
    /* digits */
    uint32_t shifted, loaded;
} seen;

static void take_character(uint8_t byte, bool character)
{
    if (!character) {
        if ((byte & 0x80) != 0)
            seen.at = (byte & 0x40) != 0 ? DISPLAY_COLUMNS : 0;
        return;
    }
    if (seen.at < DISPLAY_ROWS * DISPLAY_COLUMNS)
        seen.shown[seen.at / DISPLAY_COLUMNS][seen.at % DISPLAY_COLUMNS] = (char)byte;
    seen.at++;
}

/* The enable line has fallen: a half is taken over; the first four halves set it up. */
static void take_half(void)
{
    uint8_t half = 0;
    for (int bit = 0; bit < 4; bit++)
        half = (uint8_t)(half | seen.high[characters_lines[2 + bit]] << bit);
    if (seen.setups < 4) {
        seen.setups++;
        return;
    }
    if (seen.halves++ % 2 == 0)
        seen.half = half;
    else
        take_character((uint8_t)(seen.half << 4 | half), seen.high[characters_lines[0]]);
}

static tl_status watch_drive(void *context, uint8_t line, bool high)
{
    (void)context;
    const bool was = seen.high[line];
    seen.high[line] = high;
    if (line == characters_lines[1] && was && !high)
        take_half();
    if (line == digits_lines[1] && !was && high)
        seen.shifted = seen.shifted << 1 | seen.high[digits_lines[0]];
    if (line == digits_lines[2] && !was && high)
        seen.loaded = seen.shifted;
    return tl_port_line_drive(seen.inner, line, high);
}

static tl_status use_line(void *context, uint8_t line, tl_line_use use)
{
    (void)context;
    seen.high[line] = false;
    return tl_port_line_use(seen.inner, line, use);
}

static tl_status start(void *context, uint8_t channel, uint8_t reference, uint32_t acquisition_ns)
{
    (void)context;
    return seen.inner->ops->conversion_start(seen.inner->context, channel, reference, acquisition_ns);
}

static tl_status ended(void *context, bool *over)
{
    (void)context;
    return seen.inner->ops->conversion_ended(seen.inner->context, over);
}

static tl_status word(void *context, uint32_t *taken)
{
    (void)context;
    return seen.inner->ops->conversion_word(seen.inner->context, taken);
}

static tl_status clock_us(void *context, uint32_t *now_us)
{
    (void)context;
    return tl_port_clock_us(seen.inner, now_us);
}

static tl_status wait_us(void *context, uint32_t duration_us)
{
    (void)context;
    return tl_port_wait_us(seen.inner, duration_us);
}

static const tl_port_ops ops = {.line_use = use_line,
                                .line_drive = watch_drive,
                                .conversion_start = start,
                                .conversion_ended = ended,
                                .conversion_word = word,
                                .clock_us = clock_us,
                                .wait_us = wait_us};

static void show_what_they_are_told(void)
{
    tl_bench *bench =
        tl_bench_open(TL_SOURCE "/demo/desk.plan.yaml", TL_SOURCE "/demo/desk.scene.yaml", NULL);
    tl_port_reader reader = {NULL};
    const tl_port port = {&ops, NULL, &reader};
    char *said = NULL;
    size_t size = 0;
    FILE *out = open_memstream(&said, &size);
    CU_ASSERT_FATAL(bench != NULL && out != NULL);
    memset(&seen, 0, sizeof seen);
    seen.inner = tl_bench_port(bench);
    CU_ASSERT(knob_display(&port, out) == TL_OK);
    fclose(out);
    /* The last two rows that were told are those that the lines carried. */
    const size_t length = strlen(said);
    CU_ASSERT(length > 39 && strncmp(said + length - 38, seen.shown[0], 16) == 0 &&
              strncmp(said + length - 19, seen.shown[1], 16) == 0);
    CU_ASSERT(strstr(seen.shown[0], "knob     2.") == seen.shown[0] && seen.shown[0][15] == 'V');
    /* Its three decimals on the digits: the same characters, the point with the first. */
    static const uint8_t digits[] = {0x3f, 0x06, 0x5b, 0x4f, 0x66, 0x6d, 0x7d, 0x07, 0x7f, 0x6f};
    const char *number = &seen.shown[0][9];
    for (int i = 0; i < DIGITS; i++) {
        const char character = number[i == 0 ? 0 : i + 1];
        const uint8_t wanted = (uint8_t)((i == 0 ? 0x80 : 0) | digits[(character - '0') % 10]);
        CU_ASSERT((seen.loaded >> (8 * (DIGITS - 1 - i)) & 0xff) == wanted);
    }
    for (int line = 0; line < 44; line++)
        CU_ASSERT(tl_bench_line_use(bench, line, NULL) != TL_LINE_OUTPUT);
    /* What has no room is dashes, all four of them. */
    CU_ASSERT(digits_open(&port, digits_lines) == TL_OK &&
              digits_put(&port, digits_lines, 123456, 1) == TL_OK && seen.loaded == 0x40404040);
    free(said);
    tl_bench_free(bench);
}

CU_TestInfo display_tests[] = {
    {"show what they are told", show_what_they_are_told},
    CU_TEST_INFO_NULL,
};
