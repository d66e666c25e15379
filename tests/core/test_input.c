/* SPDX-License-Identifier: MIT */
/* An input read through the port, and the one wait of the core: bounded by the clock and without it. */
#include "fake_port.h"
#include "support.h"
#include "tinyladder/input.h"
#include "tinyladder/sweep.h"
#include <string.h>

static tl_status enter(fake_port *f)
{
    return ++f->calls == f->fail_at ? TL_ERR_PORT : TL_OK;
}

static tl_status fake_level(void *context, uint8_t line, bool *high)
{
    fake_port *f = context;
    (void)line;
    *high = f->high;
    return enter(f);
}

static tl_status fake_drive(void *context, uint8_t line, bool high)
{
    (void)line;
    (void)high;
    return enter(context);
}

static tl_status fake_use(void *context, uint8_t line, tl_line_use use)
{
    (void)line;
    (void)use;
    return enter(context);
}

static tl_status fake_start(void *context, uint8_t channel, uint8_t reference, uint32_t acquisition_ns)
{
    fake_port *f = context;
    f->channel = channel;
    f->reference = reference;
    f->acquisition_ns = acquisition_ns;
    f->conversions++;
    return enter(f);
}

static tl_status fake_ended(void *context, bool *ended)
{
    fake_port *f = context;
    *ended = f->questions_until_end == 0;
    if (f->questions_until_end != 0 && f->questions_until_end != UINT32_MAX)
        f->questions_until_end--;
    return enter(f);
}

static tl_status fake_word(void *context, uint32_t *word)
{
    fake_port *f = context;
    *word = f->word;
    return enter(f);
}

static tl_status fake_clock(void *context, uint32_t *now_us)
{
    fake_port *f = context;
    if (++f->clock_questions == f->step_back_at)
        f->now_us -= f->step_back_us;
    *now_us = f->now_us - (f->grain_us > 0 ? f->now_us % f->grain_us : 0);
    f->now_us += f->tick_us;
    return enter(f);
}

static const tl_port_ops fake_ops = {.line_use = fake_use,
                                     .line_level = fake_level,
                                     .line_drive = fake_drive,
                                     .conversion_start = fake_start,
                                     .conversion_ended = fake_ended,
                                     .conversion_word = fake_word,
                                     .clock_us = fake_clock};

tl_port fake_port_of(fake_port *fake)
{
    return (tl_port){&fake_ops, fake, &fake->reader};
}

static const tl_input input = {
    .channel = 3, .reference = 2, .acquisition_ns = 1000, .longest = 50, .word = {.bits = 12, .width = 16}};
static const tl_scale_config volts = {0, 4096000, 12, TL_STEPS_HALF, 1, 1, 0, false};

static void reads_through_the_port(void)
{
    fake_port fake = {.tick_us = 1, .questions_until_end = 5, .word = 1234};
    const tl_port port = fake_port_of(&fake);
    tl_scale scale;
    tl_sample reading = {0};
    uint16_t count = 0;
    CU_ASSERT(tl_scale_init(&scale, &volts) == TL_OK);
    CU_ASSERT(tl_input_take(&port, &input, &scale, &reading, &count) == TL_OK);
    CU_ASSERT(count == 1234 && reading.value == 1234000 && reading.flags == TL_READING_FRESH);
    CU_ASSERT(fake.channel == 3 && fake.acquisition_ns == 1000);
    fake = (fake_port){.tick_us = 1, .word = 4095};
    CU_ASSERT(tl_input_take(&port, &input, &scale, &reading, NULL) == TL_OK);
    CU_ASSERT(reading.flags == (TL_READING_FRESH | TL_READING_CLIPPED_HIGH));
}

/* A count has 16 bits: wider words are for external converters. A scale of another width is refused before
 * anything is asked. */
static void takes_words_of_4_to_16_bits(void)
{
    tl_scale scale;
    for (uint8_t bits = 0; bits <= 32; bits++) {
        fake_port fake = {.tick_us = 1, .word = 11};
        const tl_port port = fake_port_of(&fake);
        tl_input wide = input;
        tl_sample reading = {0};
        tl_scale_config config = volts;
        const bool good = bits >= 4 && bits <= 16;
        config.bits = good ? bits : 16;
        CU_ASSERT(tl_scale_init(&scale, &config) == TL_OK);
        wide.word = (tl_word){.bits = bits, .width = 32};
        CU_ASSERT(tl_input_take(&port, &wide, &scale, &reading, NULL) == (good ? TL_OK : TL_ERR_ARG));
        CU_ASSERT((reading.flags & TL_READING_FRESH) == (good ? TL_READING_FRESH : 0));
        const unsigned calls = fake.calls;
        wide.word.bits = bits == 12 ? 10 : 12;
        config.bits = bits == 12 ? 12 : 10;
        CU_ASSERT(tl_scale_init(&scale, &config) == TL_OK);
        CU_ASSERT(tl_input_take(&port, &wide, &scale, &reading, NULL) == TL_ERR_ARG && fake.calls == calls);
    }
}

/* A sample is the code with its flags; a word that came by itself is taken the same way, and a broken one
 * leaves the value of before, no longer fresh. */
static void samples_are_codes_with_flags(void)
{
    static const struct {
        const char *name;
        tl_word word;
        uint32_t delivered;
        tl_status status;
        int32_t value;
        uint8_t flags;
    } rows[] = {
        {"right", {12, 16, TL_WORD_RIGHT, TL_WORD_UNSIGNED, false}, 1234, TL_OK, 1234, TL_READING_FRESH},
        {"left", {10, 16, TL_WORD_LEFT, TL_WORD_UNSIGNED, false}, 0x4040, TL_OK, 257, TL_READING_FRESH},
        {"lowest",
         {12, 16, TL_WORD_RIGHT, TL_WORD_UNSIGNED, false},
         0,
         TL_OK,
         0,
         TL_READING_FRESH | TL_READING_CLIPPED_LOW},
        {"signed",
         {12, 16, TL_WORD_RIGHT, TL_WORD_TWOS_COMPLEMENT, true},
         0xfffe,
         TL_OK,
         -2,
         TL_READING_FRESH},
        {"24 bits",
         {24, 32, TL_WORD_RIGHT, TL_WORD_TWOS_COMPLEMENT, false},
         0x7fffff,
         TL_OK,
         8388607,
         TL_READING_FRESH | TL_READING_CLIPPED_HIGH},
        {"a bit too many",
         {12, 16, TL_WORD_RIGHT, TL_WORD_UNSIGNED, false},
         0x1001,
         TL_ERR_WORD,
         7,
         TL_READING_CLIPPED_LOW},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        fake_port fake = {.tick_us = 1, .questions_until_end = 2, .word = rows[i].delivered};
        const tl_port port = fake_port_of(&fake);
        tl_input own = input;
        own.word = rows[i].word;
        tl_sample asked = {7, TL_READING_FRESH | TL_READING_CLIPPED_LOW, 0}, came = asked;
        CHECK_ROW(rows[i].name, tl_input_sample(&port, &own, &asked) == rows[i].status &&
                                    asked.value == rows[i].value && asked.flags == rows[i].flags &&
                                    asked.reason == rows[i].status);
        CHECK_ROW(rows[i].name, tl_input_word(&own, rows[i].delivered, &came) == rows[i].status &&
                                    came.value == asked.value && came.flags == asked.flags &&
                                    came.reason == asked.reason);
    }
    fake_port fake = {.tick_us = 1, .questions_until_end = 1000000};
    const tl_port port = fake_port_of(&fake);
    tl_sample sample = {7, TL_READING_FRESH, 0};
    CU_ASSERT(tl_input_sample(&port, &input, &sample) == TL_ERR_LATE && sample.value == 7 &&
              sample.flags == 0 && sample.reason == TL_ERR_LATE);
    CU_ASSERT(tl_input_sample(&port, NULL, &sample) == TL_ERR_ARG &&
              tl_input_word(NULL, 1, &sample) == TL_ERR_ARG &&
              tl_input_sample(&port, &input, NULL) == TL_ERR_ARG &&
              tl_input_word(&input, 1, NULL) == TL_ERR_ARG);
}

static void never_waits_longer_than_its_bound(void)
{
    static const struct {
        const char *name;
        fake_port fake;
        tl_status status;
        unsigned most_calls;
    } rows[] = {
        {"ends in time", {.tick_us = 1, .questions_until_end = 49}, TL_OK, 200},
        {"never ends", {.tick_us = 1, .questions_until_end = UINT32_MAX}, TL_ERR_LATE, 200},
        {"never ends, near the wrap of the clock",
         {.now_us = UINT32_MAX - 20, .tick_us = 1, .questions_until_end = UINT32_MAX},
         TL_ERR_LATE,
         200},
        {"ends, across the wrap",
         {.now_us = UINT32_MAX - 20, .tick_us = 1, .questions_until_end = 40},
         TL_OK,
         200},
        {"never ends and the clock stands",
         {.questions_until_end = UINT32_MAX},
         TL_ERR_CLOCK,
         2 * TL_PORT_FROZEN_POLLS + 10},
        {"ends though the clock stands", {.questions_until_end = 3}, TL_OK, 20},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        fake_port fake = rows[i].fake;
        const tl_port port = fake_port_of(&fake);
        uint32_t word = 77;
        CHECK_ROW(rows[i].name, tl_port_convert(&port, 0, 0, 100, 50, &word) == rows[i].status);
        CHECK_ROW(rows[i].name, fake.calls <= rows[i].most_calls);
        CHECK_ROW(rows[i].name, (word == 77) == (rows[i].status != TL_OK));
    }
}

/* A clock that moves by a millisecond at a time makes a conversion of 30 us look as if it took one: a port
 * that says so is given that much longer, and no more. */
static void waits_by_a_coarse_clock(void)
{
    static const struct {
        const char *name;
        uint16_t said_us;
        uint32_t questions;
        tl_status status;
    } rows[] = {
        {"not said", 0, 30, TL_ERR_LATE},
        {"said", 1000, 30, TL_OK},
        {"said, and it never ends", 1000, UINT32_MAX, TL_ERR_LATE},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        fake_port fake = {
            .now_us = 990, .tick_us = 1, .grain_us = 1000, .questions_until_end = rows[i].questions};
        tl_port port = fake_port_of(&fake);
        tl_port_ops ops = *port.ops;
        uint32_t word = 0;
        ops.clock_step_us = rows[i].said_us;
        port.ops = &ops;
        CHECK_ROW(rows[i].name, tl_port_convert(&port, 0, 0, 100, 50, &word) == rows[i].status);
        CHECK_ROW(rows[i].name, fake.now_us < 990 + 50 + 2 * 1000 + 10);
        static const tl_input swept = {
            .kind = {&tl_pin_conversion}, .longest = 50, .word = {.bits = 12, .width = 16}};
        const tl_way entry = {.input = &swept.kind};
        tl_sample samples[2];
        tl_sweep sweep;
        fake = (fake_port){
            .now_us = 990, .tick_us = 1, .grain_us = 1000, .questions_until_end = rows[i].questions};
        CU_ASSERT(tl_sweep_init(&sweep, &entry, 1, samples) == TL_OK);
        CHECK_ROW(rows[i].name, tl_sweep_run(&sweep, &port) == rows[i].status);
        CHECK_ROW(rows[i].name, fake.now_us < 990 + 50 + 2 * 1000 + 10);
    }
}

static void loses_its_fresh_flag_whichever_call_fails(void)
{
    tl_scale scale;
    CU_ASSERT(tl_scale_init(&scale, &volts) == TL_OK);
    unsigned failing = 1;
    for (; failing < 100; failing++) {
        fake_port fake = {.tick_us = 1, .questions_until_end = 3, .word = 99, .fail_at = failing};
        const tl_port port = fake_port_of(&fake);
        tl_sample reading = {5, TL_READING_FRESH, 0};
        uint16_t count = 5;
        if (tl_input_take(&port, &input, &scale, &reading, &count) == TL_OK)
            break;
        CU_ASSERT(reading.flags == 0 && reading.value == 5 && count == 5);
    }
    CU_ASSERT(failing == 11); /* clock, start, 4 x ended and 3 x clock between, word: ten calls */
}

static void says_when_a_port_lacks_something(void)
{
    static const tl_port_ops nothing = {0};
    const tl_port empty = {&nothing, NULL, &(tl_port_reader){NULL}};
    uint32_t word;
    bool high;
    CU_ASSERT(tl_port_convert(&empty, 0, 0, 0, 1, &word) == TL_ERR_UNSUPPORTED);
    CU_ASSERT(tl_port_line_level(&empty, 0, &high) == TL_ERR_UNSUPPORTED);
    CU_ASSERT(tl_port_line_drive(&empty, 0, true) == TL_ERR_UNSUPPORTED);
    CU_ASSERT(tl_port_line_duty(&empty, 0, 7) == TL_ERR_UNSUPPORTED);
    CU_ASSERT(tl_port_converter_power(&empty, false) == TL_ERR_UNSUPPORTED);
    CU_ASSERT(tl_port_wait_us(&empty, 1) == TL_ERR_UNSUPPORTED);
    CU_ASSERT(tl_port_line_use(&empty, 1, TL_LINE_INPUT) == TL_ERR_UNSUPPORTED);
    uint8_t byte = 0;
    CU_ASSERT(tl_port_spi_exchange(&empty, 0, 0, &byte, &byte, 1) == TL_ERR_UNSUPPORTED);
    CU_ASSERT(tl_port_i2c_transfer(&empty, 0, 0x2a, &byte, 1, NULL, 0) == TL_ERR_UNSUPPORTED);
    CU_ASSERT(tl_port_i2c_transfer(&empty, 0, 0x80, &byte, 1, NULL, 0) == TL_ERR_ARG);
}

static void has_a_text_for_every_status(void)
{
    char text[32], first[5];
    for (int status = TL_ERR_ACK; status <= TL_OK; status++) {
        tl_status_text((tl_status)status, text, sizeof text);
        CU_ASSERT(strlen(text) > 3 && strcmp(text, "unknown status") != 0);
    }
    tl_status_text((tl_status)1, text, sizeof text);
    CU_ASSERT_STRING_EQUAL(text, "unknown status");
    tl_status_text((tl_status)-99, text, sizeof text);
    CU_ASSERT_STRING_EQUAL(text, "unknown status");
    tl_status_text(TL_ERR_LATE, first, sizeof first);
    CU_ASSERT_STRING_EQUAL(first, "no a");
}

CU_TestInfo input_tests[] = {
    {"waits by a coarse clock", waits_by_a_coarse_clock},
    {"reads through the port", reads_through_the_port},
    {"takes words of 4 to 16 bits", takes_words_of_4_to_16_bits},
    {"samples are codes with flags", samples_are_codes_with_flags},
    {"never waits longer than its bound", never_waits_longer_than_its_bound},
    {"loses its fresh flag whichever call fails", loses_its_fresh_flag_whichever_call_fails},
    {"says when a port lacks something", says_when_a_port_lacks_something},
    {"has a text for every status", has_a_text_for_every_status},
    CU_TEST_INFO_NULL,
};
