/* SPDX-License-Identifier: MIT */
/* Each argument of the core's calls just outside of its range, all others being sound: it is refused, and the
 * port is not touched. */
#include "fake_port.h"
#include "support.h"
#include "tinyladder/core.h"
#include <string.h>

typedef struct {
    const char *name;
    tl_status is;
} refusal;

static void all_refused(const refusal *rows, size_t count, tl_status with)
{
    for (size_t i = 0; i < count; i++)
        CHECK_ROW(rows[i].name, rows[i].is == with);
}

static const tl_input knob = {.kind = {&tl_pin_conversion},
                              .channel = 3,
                              .acquisition_ns = 100,
                              .longest = 50,
                              .word = {.bits = 12, .width = 16}};

static void numbers_beyond_their_range(void)
{
    fake_port fake = {0};
    const tl_port port = fake_port_of(&fake);
    const tl_length_us lengths[1] = {{true, 1}};
    const tl_mux_lines wide = {.select_count = TL_MUX_SELECTS_MOST + 1}, slow = {.dwell = TL_SPAN_MOST + 1u},
                       two = {.select_count = 1};
    const tl_output as = {.as = TL_OUTPUT_THRESHOLD + 1}, safe = {.safe = TL_SAFE_HOLD + 1};
    const uint8_t lamps[TL_BAR_LINES_MOST + 1] = {0};
    const tl_bar none = {.lines = lamps}, many = {.lines = lamps, .count = TL_BAR_LINES_MOST + 1};
    const tl_fault_config open_side = {.open_side = TL_FAULT_BELOW + 1},
                          short_side = {.short_side = TL_FAULT_BELOW + 1};
    const tl_scale_config sound = {.bits = 12, .undo_num = 1, .undo_den = 1, .reference_high_uv = 3300000};
    tl_scale_config few = sound, most = sound, steps = sound, num = sound, den = sound, ends = sound;
    few.bits = 3;
    most.bits = 25;
    steps.steps = TL_STEPS_END_TO_END + 1;
    num.undo_num = 0;
    den.undo_den = 0;
    ends.steps = TL_STEPS_END_TO_END;
    bool high = false;
    uint8_t byte = 0;
    uint32_t word;
    char text[12] = "kept";
    int me;
    tl_hold hold;
    tl_pattern pattern;
    tl_window window;
    tl_fault fault;
    tl_wide scale;
    tl_accuracy accuracy;
    tl_sweep sweep = {0};
    tl_sample sample = {0}, samples[2];
    const tl_table_point point[1] = {{1, 2}};
    const refusal rows[] = {
        {"a hold after too long", tl_hold_init(&hold, TL_TIME_MOST + 1u, 1)},
        {"a hold too seldom", tl_hold_init(&hold, 1, TL_TIME_MOST + 1u)},
        {"no wait for a line", tl_line_await(&port, 1, true, 0)},
        {"an endless wait for a line", tl_line_await(&port, 1, true, TL_SPAN_MOST + 1u)},
        {"no time to convert", tl_port_convert(&port, 0, 0, 0, 0, &word)},
        {"endless time to convert", tl_port_convert(&port, 0, 0, 0, TL_SPAN_MOST + 1u, &word)},
        {"a wait for no line", tl_port_wait_change(&port, &byte, &high, 0, 1)},
        {"no wait for a change", tl_port_wait_change(&port, &byte, &high, 1, 0)},
        {"an endless wait for a change",
         tl_port_wait_change(&port, &byte, &high, 1, INT32_MAX + UINT32_C(1))},
        {"no byte on SPI", tl_port_spi_exchange(&port, 0, 0, &byte, &byte, 0)},
        {"an address of eight bits", tl_port_i2c_transfer(&port, 0, 0x80, &byte, 1, NULL, 0)},
        {"more select lines than any", tl_mux_open(&port, &wide)},
        {"a dwell too long", tl_mux_open(&port, &slow)},
        {"to let go of such a one", tl_mux_release(&port, &wide)},
        {"an output as nothing", tl_output_open(&port, &as)},
        {"an output safe as nothing", tl_output_open(&port, &safe)},
        {"an output that shows nowhere", tl_output_show(&port, &(tl_output){0}, &sample, NULL)},
        {"a bar of no lines", tl_bar_open(&port, &none)},
        {"a bar of too many", tl_bar_open(&port, &many)},
        {"a pattern of nothing", tl_pattern_init(&pattern, lengths, 0, 5)},
        {"a pattern of too much", tl_pattern_init(&pattern, lengths, TL_PATTERN_MOST + 1, 5)},
        {"a pattern within more than all", tl_pattern_init(&pattern, lengths, 1, 101)},
        {"a window without room", tl_window_init(&window, NULL, 1)},
        {"a window of nothing", tl_window_init(&window, &sample, 0)},
        {"a window of too much", tl_window_init(&window, &sample, TL_WINDOW_MOST + 1)},
        {"a side that is none, open", tl_fault_init(&fault, &open_side)},
        {"a side that is none, short", tl_fault_init(&fault, &short_side)},
        {"three bits", tl_wide_init(&scale, &few)},
        {"25 bits", tl_wide_init(&scale, &most)},
        {"steps that are none", tl_wide_init(&scale, &steps)},
        {"times nothing", tl_wide_init(&scale, &num)},
        {"by nothing", tl_wide_init(&scale, &den)},
        {"a scale for nobody", tl_wide_init(NULL, &sound)},
        {"an accuracy for nobody", tl_accuracy_init(NULL, &sound, 1, 1)},
        {"an accuracy of nothing", tl_accuracy_init(&accuracy, NULL, 1, 1)},
        {"an accuracy end to end", tl_accuracy_init(&accuracy, &ends, 1, 1)},
        {"an accuracy of more than half", tl_accuracy_init(&accuracy, &sound, 500001, 1)},
        {"a table without points", tl_table_check(&(tl_table){.count = 2})},
        {"a table of one point", tl_table_check(&(tl_table){.points = point, .count = 1})},
        {"a text of no width", tl_text_fixed(1, 0, 0, text)},
        {"a text with too many decimals", tl_text_fixed(1, TL_TEXT_DECIMALS_MOST + 1, 8, text)},
        {"no text", tl_text_fixed(1, 0, 8, NULL)},
        {"a sweep of nothing", tl_sweep_init(&sweep, &(tl_way){.input = &knob.kind}, 0, samples)},
        {"a sweep of no ways", tl_sweep_init(&sweep, NULL, 1, samples)},
        {"a sweep that was never made", tl_sweep_begin(&(tl_sweep){0})},
        {"an input for nothing", tl_input_take(&port, &knob, NULL, &sample, NULL)},
        {"an input into nothing", tl_input_take(&port, &knob, &(tl_scale){0}, NULL, NULL)},
    };
    all_refused(rows, ROWS(rows), TL_ERR_ARG);
    CU_ASSERT(fake.calls == 0 && strcmp(text, "kept") == 0);
    CU_ASSERT(tl_port_claim(&port, &me) == TL_OK && tl_mux_lead(&port, &me, &two, 2) == TL_ERR_ARG);
    CU_ASSERT(tl_mux_lead(&port, NULL, &two, 1) == TL_ERR_ARG &&
              tl_mux_lead(NULL, &me, &two, 1) == TL_ERR_ARG);
    CU_ASSERT(tl_mux_lead(&port, &me, &wide, 1) == TL_ERR_ARG && tl_port_claim(&port, &me) == TL_OK);
    const unsigned calls = fake.calls;
    (void)tl_bar_release(&port, &many); /* as many of its lines as there may be */
    CU_ASSERT(fake.calls - calls == TL_BAR_LINES_MOST);
    CU_ASSERT(tl_sweep_begin(&(tl_sweep){.ways = &(tl_way){.input = &knob.kind}}) == TL_ERR_ARG);
    tl_sweep written = {.any = true, .sequence = 1}; /* values are being written */
    CU_ASSERT(!tl_sweep_copy(&written, samples, &word));
    tl_status_text(TL_OK, NULL, 5);
    tl_status_text(TL_OK, text, 0);
    tl_sweep_end(&sweep, &port);
    CU_ASSERT(!tl_sweep_copy(&sweep, samples, &word) && strcmp(text, "kept") == 0);
}

/* What a description of a converter on a bus must not say. */
static void converters_that_cannot_be(void)
{
    enum { OF_I2C = 7 };
    const tl_external i2c = {.kind = TL_EXTERNAL_I2C,
                             .longest = 100,
                             .word = {16, 16, TL_WORD_RIGHT, TL_WORD_UNSIGNED, false},
                             .settings = TL_EXTERNAL_NONE,
                             .ready = TL_EXTERNAL_NONE},
                      spi = {.kind = TL_EXTERNAL_SPI,
                             .longest = 100,
                             .word = {12, 12, TL_WORD_RIGHT, TL_WORD_UNSIGNED, false},
                             .take = 12};
    enum { KINDS = 14 };
    tl_external wrong[KINDS];
    for (int i = 0; i < KINDS; i++)
        wrong[i] = i < OF_I2C ? i2c : spi;
    wrong[0].kind = TL_EXTERNAL_SPI;
    wrong[1].longest = 0;
    wrong[2].longest = TL_SPAN_MOST + 1u;
    wrong[3].settings = 1; /* of no bits */
    wrong[4].settings = 1;
    wrong[4].settings_bits = 40;
    wrong[5].ready = 1;
    wrong[5].ready_bits = 12;
    wrong[6].ready = 1;
    wrong[6].ready_bits = wrong[6].ready_bit = 8;
    wrong[7].kind = TL_EXTERNAL_I2C;
    wrong[8].longest = 0;
    wrong[9].longest = TL_SPAN_MOST + 1u;
    wrong[10].settings_bits = 33;
    wrong[11].take = 0;
    wrong[12].zeros = 250; /* more than a byte counts */
    wrong[12].take = 20;
    wrong[13].zeros = 30;
    for (int i = 0; i <= KINDS; i++) { /* and none at all */
        fake_port fake = {.tick_us = 1};
        const tl_port port = fake_port_of(&fake);
        const tl_external_input input = {
            {i < OF_I2C ? &tl_i2c_conversion : &tl_spi_conversion}, i < KINDS ? &wrong[i] : NULL, 0};
        tl_sample sample = {0};
        char name[20];
        snprintf(name, sizeof name, "converter %d", i);
        CHECK_ROW(name, tl_take(&port, &(tl_way){.input = &input.kind}, &sample) == TL_ERR_ARG);
        CHECK_ROW(name, (sample.flags & TL_READING_FRESH) == 0);
    }
    static const tl_word odd[] = {{12, 16, TL_WORD_STRETCHED, TL_WORD_TWOS_COMPLEMENT, false},
                                  {12, 16, TL_WORD_RIGHT, TL_WORD_OFFSET_BINARY + 1, false},
                                  {12, 16, TL_WORD_STRETCHED + 1, TL_WORD_UNSIGNED, false},
                                  {12, 11, TL_WORD_RIGHT, TL_WORD_UNSIGNED, false},
                                  {12, 33, TL_WORD_RIGHT, TL_WORD_UNSIGNED, false},
                                  {3, 16, TL_WORD_RIGHT, TL_WORD_UNSIGNED, false},
                                  {25, 32, TL_WORD_RIGHT, TL_WORD_UNSIGNED, false}};
    for (size_t i = 0; i < ROWS(odd); i++) {
        int32_t code;
        CU_ASSERT(tl_word_code(&odd[i], 0, &code) == TL_ERR_ARG);
    }
    static const tl_word formats[] = {{17, 24, TL_WORD_RIGHT, TL_WORD_UNSIGNED, false},
                                      {10, 16, TL_WORD_LEFT, TL_WORD_UNSIGNED, false},
                                      {10, 16, TL_WORD_RIGHT, TL_WORD_TWOS_COMPLEMENT, false}};
    for (size_t i = 0; i < ROWS(formats); i++) {
        tl_input input = knob;
        tl_sample sample = {0};
        input.word = formats[i];
        fake_port fake = {.tick_us = 1, .questions_until_end = 1, .word = 9};
        const tl_port port = fake_port_of(&fake);
        CU_ASSERT(tl_take(&port, &(tl_way){.input = &input.kind}, &sample) != TL_OK);
        CU_ASSERT((sample.flags & TL_READING_FRESH) == 0);
    }
}

/* No port, one without functions, one that lacks just this: each call. */
static void ports_that_lack_a_call(void)
{
    static const tl_port_ops nothing = {0};
    tl_port_reader reader = {0};
    const tl_port bare = {NULL, NULL, &reader}, lacks = {&nothing, NULL, &reader};
    const tl_port *const ports[] = {NULL, &bare, &lacks};
    fake_port fake = {0};
    tl_port nobody = fake_port_of(&fake);
    nobody.reader = NULL;
    for (int i = 0; i < 3; i++) {
        const tl_port *port = ports[i];
        bool high = false;
        uint8_t byte = 0;
        uint32_t word = 0;
        const refusal rows[] = {
            {"line_use", tl_port_line_use(port, 0, TL_LINE_INPUT)},
            {"line_level", tl_port_line_level(port, 0, &high)},
            {"line_drive", tl_port_line_drive(port, 0, true)},
            {"line_duty", tl_port_line_duty(port, 0, 1)},
            {"converter_power", tl_port_converter_power(port, true)},
            {"clock_us", tl_port_clock_us(port, &word)},
            {"wait_us", tl_port_wait_us(port, 1)},
            {"wait_change", tl_port_wait_change(port, &byte, &high, 1, 1)},
            {"spi_exchange", tl_port_spi_exchange(port, 0, 0, &byte, &byte, 1)},
            {"i2c_transfer", tl_port_i2c_transfer(port, 0, 1, &byte, 1, NULL, 0)},
            {"conversion_start", tl_port_conversion_start(port, &byte, 0, 0, 0)},
            {"conversion_ended", tl_port_conversion_ended(port, &byte, &high)},
            {"conversion_word", tl_port_conversion_word(port, &byte, &word)},
            {"convert", tl_port_convert(port, 0, 0, 0, 5, &word)},
        };
        all_refused(rows, ROWS(rows), i < 2 ? TL_ERR_ARG : TL_ERR_UNSUPPORTED);
    }
    bool ended;
    uint32_t word;
    CU_ASSERT(tl_port_conversion_start(&nobody, &word, 0, 0, 0) == TL_ERR_ARG);
    CU_ASSERT(tl_port_conversion_ended(&nobody, &word, &ended) == TL_ERR_ARG);
    CU_ASSERT(tl_port_conversion_word(&nobody, &word, &word) == TL_ERR_ARG);
    for (int i = 0; i < 4; i++) { /* each part of a conversion by itself */
        tl_port_ops ops = *fake_port_of(&fake).ops;
        const tl_port port = {&ops, &fake, &reader};
        if (i == 0)
            ops.conversion_ended = NULL;
        else if (i == 1)
            ops.conversion_word = NULL;
        else if (i == 2)
            ops.clock_us = NULL;
        else
            ops.conversion_start = NULL;
        CU_ASSERT(tl_port_convert(&port, 0, 0, 0, 5, &word) == TL_ERR_UNSUPPORTED);
    }
}

/* At the ends of their range, numbers do what the rest do. */
static void numbers_at_the_ends(void)
{
    tl_peak peak;
    CU_ASSERT(tl_duty_of(5, 0, 100) == 100 && tl_duty_of(10, 10, 100) == 100 && tl_duty_of(9, 10, 100) == 90);
    CU_ASSERT(tl_peak_init(&peak) == TL_OK);
    for (int32_t value = 3; value > 0; value--) /* each less than the one before */
        tl_peak_feed(&peak, &(tl_sample){.value = value});
    tl_peak_feed(&peak, &(tl_sample){.value = 2});
    CU_ASSERT(peak.least.value == 1 && peak.most.value == 3);
    tl_peak_feed(&peak, &(tl_sample){.value = 5});
    CU_ASSERT(peak.least.value == 1 && peak.most.value == 5);
    /* What did not come is no fault, and has no substitute. */
    const tl_fault_config substitute = {
        .open_side = TL_FAULT_ABOVE, .open_level = 9, .substitute = 7, .has_substitute = true};
    tl_fault stale;
    tl_sample shown = {0};
    CU_ASSERT(tl_fault_init(&stale, &substitute) == TL_OK);
    tl_fault_feed(&stale, &substitute, &(tl_sample){.value = 4, .flags = TL_READING_FRESH}, 1, &shown);
    tl_fault_feed(&stale, &substitute, &(tl_sample){.value = 5}, 2, &shown);
    CU_ASSERT(shown.value == 4 && (shown.flags & TL_READING_STALE) != 0 &&
              (shown.flags & TL_READING_SUBSTITUTED) == 0);
    tl_fault_feed(&stale, &substitute, &(tl_sample){.value = 10, .flags = TL_READING_FRESH}, 3, &shown);
    CU_ASSERT(shown.value == 7 && (shown.flags & TL_READING_SUBSTITUTED) != 0);
    /* A level at the end of all numbers, moved beyond it by the hysteresis: only the last number is sound
     * again. */
    static const struct {
        const char *name;
        tl_fault_config config;
        tl_number values[3]; /* beyond the level, at it, the last */
        uint8_t flag;
    } rows[] = {
        {"open",
         {.open_side = TL_FAULT_ABOVE, .open_level = TL_NUMBER_LEAST + 1, .hysteresis = 5},
         {TL_NUMBER_LEAST + 2, TL_NUMBER_LEAST + 1, TL_NUMBER_LEAST},
         TL_READING_OPEN},
        {"short",
         {.short_side = TL_FAULT_BELOW, .short_level = TL_NUMBER_MOST - 1, .hysteresis = 5},
         {TL_NUMBER_MOST - 2, TL_NUMBER_MOST - 1, TL_NUMBER_MOST},
         TL_READING_SHORT},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_fault fault;
        CHECK_ROW(rows[i].name, tl_fault_init(&fault, &rows[i].config) == TL_OK);
        for (int k = 0; k < 3; k++) {
            tl_sample result = {0};
            const tl_sample sample = {.value = rows[i].values[k], .flags = TL_READING_FRESH};
            tl_fault_feed(&fault, &rows[i].config, &sample, 1, &result);
            CHECK_ROW(rows[i].name, (result.flags & rows[i].flag) == (k < 2 ? rows[i].flag : 0));
        }
    }
}

CU_TestInfo argument_tests[] = {
    {"numbers beyond their range", numbers_beyond_their_range},
    {"converters that cannot be", converters_that_cannot_be},
    {"ports that lack a call", ports_that_lack_a_call},
    {"numbers at the ends", numbers_at_the_ends},
    CU_TEST_INFO_NULL,
};
