/* SPDX-License-Identifier: MIT */
/* The last that is allowed is allowed, and the first that is not is refused; sums stop at the ends of their
 * types. */
#include "fake_port.h"
#include "support.h"
#include "tinyladder/core.h"

static tl_status depth(uint8_t depth)
{
    tl_exponential filter;
    return tl_exponential_init(&filter, depth);
}

static tl_status extra(uint8_t extra)
{
    tl_oversample filter;
    return tl_oversample_init(&filter, extra);
}

static tl_status ppm(uint32_t ppm)
{
    const tl_scale_config config = {0, 3300000, 12, TL_STEPS_HALF, 1, 1, 0, false};
    tl_accuracy accuracy;
    return tl_accuracy_init(&accuracy, &config, ppm, 0);
}

static tl_status width(uint8_t bits, uint8_t width)
{
    const tl_word word = {bits, width, TL_WORD_RIGHT, TL_WORD_UNSIGNED, false};
    int32_t code;
    return tl_word_code(&word, 0, &code);
}

static tl_status silent_spi(void *context, uint8_t bus, uint8_t select, const uint8_t *out, uint8_t *in,
                            uint8_t count)
{
    (void)context, (void)bus, (void)select, (void)out;
    for (uint8_t i = 0; i < count; i++)
        in[i] = 0;
    return TL_OK;
}

static tl_status clock_stands_on(void *context, uint32_t *now_us)
{
    *now_us = ++*(uint32_t *)context;
    return TL_OK;
}

/* A converter on SPI that is given so long, after so many zeros, for so many bits. */
static tl_status over_spi(tl_span longest, uint8_t zeros, uint8_t take)
{
    uint32_t now = 0;
    tl_port_reader reader = {0};
    static const tl_port_ops ops = {
        .clock_step_us = 1, .clock_us = clock_stands_on, .spi_exchange = silent_spi};
    const tl_port port = {&ops, &now, &reader};
    const tl_external converter = {.kind = TL_EXTERNAL_SPI,
                                   .word = {12, 12, TL_WORD_RIGHT, TL_WORD_UNSIGNED, false},
                                   .longest = longest,
                                   .settings_bits = 5,
                                   .zeros = zeros,
                                   .take = take};
    const tl_external_input input = {{&tl_spi_conversion}, &converter, 0x18};
    const tl_way way = {.input = &input.kind};
    tl_sample sample = {0};
    return tl_take(&port, &way, &sample);
}

static void the_last_is_allowed(void)
{
    const struct {
        const char *name;
        tl_status last, beyond, beyond_is;
    } rows[] = {
        {"depth of a filter, least", depth(1), depth(0), TL_ERR_ARG},
        {"depth of a filter, most", depth(12), depth(13), TL_ERR_ARG},
        {"bits of oversampling, least", extra(1), extra(0), TL_ERR_ARG},
        {"bits of oversampling, most", extra(4), extra(5), TL_ERR_ARG},
        {"ppm of a reference", ppm(500000), ppm(500001), TL_ERR_ARG},
        {"width of a word", width(12, 32), width(12, 33), TL_ERR_ARG},
        {"bits of a word, most", width(24, 32), width(25, 32), TL_ERR_ARG},
        {"bits of a word, least", width(4, 8), width(3, 8), TL_ERR_ARG},
        {"a word within its width", width(12, 12), width(12, 11), TL_ERR_ARG},
        {"time on SPI, least", over_spi(1, 1, 12), over_spi(0, 1, 12), TL_ERR_ARG},
        {"time on SPI, most", over_spi(TL_SPAN_MOST, 1, 12), over_spi(TL_SPAN_MOST + 1u, 1, 12), TL_ERR_ARG},
        {"zeros and bits on SPI", over_spi(9, 20, 12), over_spi(9, 21, 12), TL_ERR_ARG},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        CU_ASSERT(rows[i].last == TL_OK && rows[i].beyond == rows[i].beyond_is);
        if (rows[i].last != TL_OK || rows[i].beyond != rows[i].beyond_is)
            printf("\n  %s: %d, %d\n", rows[i].name, rows[i].last, rows[i].beyond);
    }
}

/* The hold's own times, to the microsecond: the second event comes as long after the first as it says. */
static void holds_to_the_microsecond(void)
{
    tl_hold hold;
    CU_ASSERT(tl_hold_init(&hold, 5, 3) == TL_OK);
    CU_ASSERT(tl_hold_feed(&hold, true, 100) == TL_HOLD_QUIET);
    CU_ASSERT(tl_hold_feed(&hold, true, 104) == TL_HOLD_QUIET &&
              tl_hold_feed(&hold, true, 105) == TL_HOLD_KEPT);
    CU_ASSERT(tl_hold_feed(&hold, true, 107) == TL_HOLD_QUIET &&
              tl_hold_feed(&hold, true, 108) == TL_HOLD_AGAIN);
    CU_ASSERT(tl_hold_feed(&hold, true, 110) == TL_HOLD_QUIET &&
              tl_hold_feed(&hold, true, 111) == TL_HOLD_AGAIN);
}

/* An interval whose ends lie beyond 32 bits ends there, and does not come out at the other side. */
static void intervals_stop_at_the_ends(void)
{
    const tl_scale_config config = {-2000000000, 2000000000, 16, TL_STEPS_HALF, 1, 1, 0, false};
    tl_accuracy accuracy;
    int32_t low, high;
    CU_ASSERT(tl_accuracy_init(&accuracy, &config, 500000, 0) == TL_OK);
    tl_accuracy_interval(&accuracy, 65535, &low, &high);
    CU_ASSERT(high == INT32_MAX && low > 900000000 && low < 1100000000);
    tl_accuracy_interval(&accuracy, 0, &low, &high);
    CU_ASSERT(low == INT32_MIN && high < -900000000 && high > -1100000000);
}

CU_TestInfo edge_tests[] = {
    {"the last is allowed", the_last_is_allowed},
    {"holds to the microsecond", holds_to_the_microsecond},
    {"intervals stop at the ends", intervals_stop_at_the_ends},
    CU_TEST_INFO_NULL,
};
