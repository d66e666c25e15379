/* SPDX-License-Identifier: MIT */
/* What every call of the core promises: NULL is refused, one reader at a time, a clock that is set back does
 * no harm. */
#include "fake_port.h"
#include "support.h"
#include "tinyladder/core.h"

static const tl_input knob = {.kind = {&tl_pin_conversion},
                              .channel = 3,
                              .acquisition_ns = 100,
                              .longest = 50,
                              .word = {.bits = 12, .width = 16}};

static void null_is_refused(void)
{
    fake_port fake = {0};
    const tl_port port = fake_port_of(&fake), empty = {NULL, NULL, NULL};
    const tl_button_config button_config = {.steady = 1};
    const tl_mux_lines lines = {.enable = 3};
    const tl_output output = {0};
    const uint8_t lamps[] = {1};
    const tl_bar bar = {.lines = lamps, .count = 1}, dark = {.count = 1};
    const tl_length_us lengths[1] = {{true, 1}};
    const tl_fault_config fault_config = {0};
    const tl_external external = {.longest = 1};
    const tl_external_input input = {.converter = &external};
    tl_button button;
    tl_pattern pattern;
    tl_fault fault;
    tl_sample sample = {0}, samples[2];
    tl_sweep sweep;
    tl_scale scale;
    tl_wide wide;
    bool on = false;
    const struct {
        const char *name;
        tl_status status;
    } rows[] = {
        {"button", tl_button_init(NULL, &button_config, &port)},
        {"button's configuration", tl_button_init(&button, NULL, &port)},
        {"button's port", tl_button_init(&button, &button_config, NULL)},
        {"hold", tl_hold_init(NULL, 1, 1)},
        {"multiplexer", tl_mux_open(&port, NULL)},
        {"multiplexer's port", tl_mux_open(NULL, &lines)},
        {"multiplexer to let go of", tl_mux_release(&port, NULL)},
        {"multiplexer to lead through", tl_mux_lead(&port, &fake, NULL, 1)},
        {"multiplexer led for nobody", tl_mux_lead(&port, NULL, &lines, 1)},
        {"output", tl_output_open(&port, NULL)},
        {"output's port", tl_output_open(NULL, &output)},
        {"output to show", tl_output_show(&port, NULL, &sample, &on)},
        {"value to show", tl_output_show(&port, &output, NULL, &on)},
        {"output to let go of", tl_output_release(&port, NULL)},
        {"bar", tl_bar_open(&port, NULL)},
        {"bar's port", tl_bar_open(NULL, &bar)},
        {"bar's lines", tl_bar_open(&port, &dark)},
        {"bar to show", tl_bar_show(&port, NULL, 1)},
        {"bar to let go of", tl_bar_release(&port, NULL)},
        {"pattern", tl_pattern_init(NULL, lengths, 1, 5)},
        {"pattern's lengths", tl_pattern_init(&pattern, NULL, 1, 5)},
        {"peak", tl_peak_init(NULL)},
        {"pulse", tl_pulse_init(NULL)},
        {"mean", tl_mean_init(NULL, 4)},
        {"window", tl_window_init(NULL, &sample, 1)},
        {"exponential", tl_exponential_init(NULL, 2)},
        {"oversampling", tl_oversample_init(NULL, 1)},
        {"lines", tl_lines_init(NULL, 0, 1)},
        {"fault", tl_fault_init(NULL, &fault_config)},
        {"fault's configuration", tl_fault_init(&fault, NULL)},
        {"scale", tl_scale_init(NULL, NULL)},
        {"scale's configuration", tl_scale_init(&scale, NULL)},
        {"wide scale", tl_wide_init(&wide, NULL)},
        {"table", tl_table_check(NULL)},
        {"sweep", tl_sweep_init(NULL, &(tl_way){.input = &knob.kind}, 1, samples)},
        {"a sweep without room", tl_sweep_init(&sweep, &(tl_way){.input = &knob.kind}, 1, NULL)},
        {"an entry without an input", tl_sweep_init(&sweep, &(tl_way){0}, 1, samples)},
        {"an entry that does not say how it is converted",
         tl_sweep_init(&sweep, &(tl_way){.input = &input.kind}, 1, samples)},
        {"input", tl_input_take(&port, NULL, &scale, &sample, NULL)},
        {"input's port", tl_input_take(NULL, &knob, &scale, &sample, NULL)},
        {"way", tl_take(&port, NULL, &sample)},
        {"way to no input", tl_take(&port, &(tl_way){0}, &sample)},
        {"way to an input that does not say how", tl_take(&port, &(tl_way){.input = &input.kind}, &sample)},
        {"take into nothing", tl_take(&port, &(tl_way){.input = &knob.kind}, NULL)},
        {"take from no port", tl_take(NULL, &(tl_way){.input = &knob.kind}, &sample)},
        {"a port without functions", tl_port_line_level(&empty, 1, &on)},
        {"no port", tl_port_line_drive(NULL, 1, true)},
        {"a reader without a name", tl_port_claim(&port, NULL)},
        {"a port without memory for its reader", tl_port_claim(&empty, &port)},
    };
    for (size_t i = 0; i < ROWS(rows); i++)
        CHECK_ROW(rows[i].name, rows[i].status == TL_ERR_ARG);
    CU_ASSERT(fake.calls == 0); /* nothing was touched meanwhile */
    tl_port_yield(NULL, &port);
    tl_port_yield(&empty, &port);
}

/* Whoever is under way keeps the converter, and is the only one who gets its word. */
static void one_reads_at_a_time(void)
{
    fake_port fake = {.tick_us = 1, .word = 0x123, .questions_until_end = 3};
    const tl_port port = fake_port_of(&fake);
    const tl_scale_config config = {.reference_high_uv = 3300000, .bits = 12, .undo_num = 1, .undo_den = 1};
    const tl_way entries[] = {{.input = &knob.kind}, {.input = &knob.kind, .discard = 1}};
    tl_sample samples[4], spare[4], sample = {5, TL_READING_FRESH, 0};
    const tl_external external = {
        .kind = TL_EXTERNAL_SPI, .longest = 10, .word = {.bits = 8, .width = 8}, .take = 8};
    const tl_external_input input = {{&tl_spi_conversion}, &external, 0};
    tl_sweep sweep, other;
    tl_scale scale;
    bool done = false;
    CU_ASSERT(tl_scale_init(&scale, &config) == TL_OK);
    CU_ASSERT(tl_sweep_init(&sweep, entries, 2, samples) == TL_OK);
    CU_ASSERT(tl_sweep_init(&other, entries, 2, spare) == TL_OK);
    CU_ASSERT(tl_sweep_begin(&sweep) == TL_OK && tl_sweep_begin(&other) == TL_OK);
    int steps = 0;
    while (!done && steps++ < 100) {
        tl_sample reading = {7, TL_READING_FRESH, 0};
        uint16_t count = 5;
        bool others = false;
        CU_ASSERT(tl_sweep_step(&sweep, &port, &done) == TL_OK);
        const unsigned calls = fake.calls;
        if (done)
            break;
        CU_ASSERT(tl_input_take(&port, &knob, &scale, &reading, &count) == TL_ERR_BUSY &&
                  reading.value == 7 && reading.flags == 0 && count == 5);
        CU_ASSERT(tl_take(&port, &(tl_way){.input = &input.kind}, &sample) == TL_ERR_BUSY &&
                  sample.flags == 0);
        CU_ASSERT(tl_sweep_step(&other, &port, &others) == TL_ERR_BUSY && other.running && !others);
        CU_ASSERT(fake.calls == calls); /* nothing was touched */
    }
    CU_ASSERT(done && sweep.any && sweep.values[1].value == 0x123);
    /* Then the other's turn comes, and after that anyone's. */
    CU_ASSERT(tl_sweep_run(&other, &port) == TL_OK && other.any);
    uint16_t count = 0;
    CU_ASSERT(tl_input_take(&port, &knob, &scale, &sample, &count) == TL_OK && count == 0x123);
    CU_ASSERT(tl_sweep_begin(&sweep) == TL_OK);
    CU_ASSERT(tl_sweep_step(&sweep, &port, &done) == TL_OK);
    tl_sweep_end(&sweep, &port);
    CU_ASSERT(!sweep.running && sweep.values[0].flags == 0 &&
              tl_input_take(&port, &knob, &scale, &sample, NULL) == TL_OK);
    fake.questions_until_end = UINT32_MAX; /* a conversion that never ends releases too */
    CU_ASSERT(tl_input_take(&port, &knob, &scale, &sample, NULL) == TL_ERR_LATE && fake.reader.who == NULL);
    CU_ASSERT(tl_sweep_run(&sweep, &port) == TL_ERR_LATE && fake.reader.who == NULL);
}

/* Whatever the clock does in between, only time that has passed counts. Fed every 1 ms; once the clock jumps.
 */
static void a_clock_that_is_set_back_does_no_harm(void)
{
    static const uint32_t back_us[] = {1, 1000, 40000, 0x70000000u};
    for (size_t i = 0; i < ROWS(back_us); i++) {
        tl_button button = {.needed = 20000};
        tl_pulse pulse;
        tl_hold hold;
        tl_fault fault;
        tl_length_us ended = {false, 0};
        const tl_fault_config windows = {.open_side = TL_FAULT_ABOVE, .open_level = 100};
        tl_sample out;
        uint32_t now_us = 5000;
        int accepted_ms = -1, kept_ms = -1;
        bool whole = false;
        (void)tl_pulse_init(&pulse);
        CU_ASSERT(tl_hold_init(&hold, 30000, 0) == TL_OK && tl_fault_init(&fault, &windows) == TL_OK);
        (void)tl_pulse_feed(&pulse, false, now_us, &ended);
        (void)tl_button_feed(&button, true, now_us);
        button.closed = button.seen = false;
        tl_fault_feed(&fault, &windows, &(tl_sample){50, TL_READING_FRESH, 0}, now_us, &out);
        for (int ms = 1; ms <= 60; ms++) {
            now_us += 1000;
            if (ms == 10) /* in the middle of the steady time, and of the pulse */
                now_us -= back_us[i];
            if (tl_button_feed(&button, true, now_us) == TL_BUTTON_CLOSED)
                accepted_ms = ms;
            if (tl_hold_feed(&hold, true, now_us) == TL_HOLD_KEPT)
                kept_ms = ms;
            whole = tl_pulse_feed(&pulse, ms < 51, now_us, &ended) || whole;
            tl_fault_feed(&fault, &windows, &(tl_sample){200, TL_READING_FRESH, 0}, now_us, &out);
        }
        /* At most the one interval in which it jumped is lost: nothing else. */
        const uint32_t lost_us = back_us[i] < 1000 ? back_us[i] : 1000;
        CU_ASSERT(accepted_ms == 22 && kept_ms == 32 && whole && ended.length_us == 50000 - lost_us);
        CU_ASSERT(tl_fault_age(&fault, now_us) == 60000 - lost_us &&
                  tl_fault_age(&fault, now_us - 5) == 60000 - lost_us);
    }
}

/* The same in a wait: neither ended too early nor without a bound. */
static void a_wait_outlives_a_clock_set_back(void)
{
    fake_port fake = {.now_us = 100000, .tick_us = 1, .questions_until_end = 25, .word = 9};
    const tl_port port = fake_port_of(&fake);
    uint32_t word = 0;
    fake.step_back_at = 10; /* the tenth question about the time is answered 90 ms earlier */
    fake.step_back_us = 90000;
    CU_ASSERT(tl_port_convert(&port, 1, 0, 100, 50, &word) == TL_OK && word == 9);
    fake = (fake_port){.now_us = 100000,
                       .tick_us = 1,
                       .questions_until_end = UINT32_MAX,
                       .step_back_at = 10,
                       .step_back_us = 90000};
    CU_ASSERT(tl_port_convert(&port, 1, 0, 100, 50, &word) == TL_ERR_LATE && fake.clock_questions < 70);
}

/* No line runs through one point; what it says is the answer everywhere. */
static void one_point_is_no_table(void)
{
    static const tl_table_point point = {10, 77};
    const tl_table one = {.points = &point, .count = 1}, none = {.points = &point, .count = 0};
    bool beyond = false;
    CU_ASSERT(tl_table_check(&one) == TL_ERR_ARG && tl_table_value(&one, 10, &beyond) == 77 && beyond);
    CU_ASSERT(tl_table_value(&one, -5, NULL) == 77 && tl_table_value(&none, 3, &beyond) == 0 && beyond);
}

/* Whatever waits lets the chip sleep, or its watchdog be fed, between two questions. */
static unsigned idled;

static void count_idle(void *context)
{
    (void)context;
    idled++;
}

static tl_status wait_nothing(void *context, uint32_t duration_us)
{
    (void)context, (void)duration_us;
    return TL_OK;
}

static void every_wait_idles(void)
{
    static const tl_external away = {.kind = TL_EXTERNAL_I2C,
                                     .word = {.bits = 12, .width = 16},
                                     .longest = 100,
                                     .settings = TL_EXTERNAL_NONE,
                                     .ready = TL_EXTERNAL_NONE};
    static const tl_external_input nothing = {{&tl_i2c_conversion}, &away, 0};
    const tl_way entry = {.input = &knob.kind};
    fake_port fake = {.tick_us = 1, .questions_until_end = 20, .word = 9};
    tl_port port = fake_port_of(&fake);
    tl_port_ops ops = *port.ops;
    tl_sample samples[2], sample = {0};
    tl_sweep sweep;
    uint32_t word;
    ops.idle = count_idle;
    port.ops = &ops;
    CU_ASSERT(tl_port_convert(&port, 1, 0, 100, 50, &word) == TL_OK && idled >= 19);
    idled = 0;
    CU_ASSERT(tl_line_await(&port, 1, true, 30) == TL_ERR_LATE && idled >= 10);
    idled = 0;
    fake.questions_until_end = 20;
    CU_ASSERT(tl_sweep_init(&sweep, &entry, 1, samples) == TL_OK && tl_sweep_run(&sweep, &port) == TL_OK &&
              idled >= 10);
    idled = 0;
    ops.wait_us = wait_nothing;
    (void)tl_take(&port, &(tl_way){.input = &nothing.kind}, &sample);
    CU_ASSERT(idled >= 10);
}

static tl_status start_nothing(const tl_port *port, const TL_IN_ROM tl_convertible *input)
{
    (void)port, (void)input;
    return TL_OK;
}

static tl_status end_never(const tl_port *port, const TL_IN_ROM tl_convertible *input, tl_span waited,
                           tl_sample *sample, bool *ended)
{
    (void)port, (void)input, (void)waited, (void)sample;
    *ended = false;
    return TL_OK;
}

static tl_status wait_fails(void *context, uint32_t duration_us)
{
    (void)context, (void)duration_us;
    return TL_ERR_PORT;
}

/* What cannot be meant is refused before anything is asked of the port; what fails while one waits ends the
 * wait. */
static void what_cannot_be_meant_is_refused(void)
{
    fake_port fake = {.tick_us = 1, .questions_until_end = 1, .word = 9};
    tl_port port = fake_port_of(&fake);
    tl_port_ops ops = *port.ops, bare = *port.ops;
    bare.conversion_start = NULL;
    const tl_port without = {&bare, port.context, port.reader};
    static const tl_input left = {
        {&tl_pin_conversion}, 0, 100, 0, 0, {10, 16, TL_WORD_LEFT, TL_WORD_UNSIGNED, false}};
    static const tl_external odd = {.kind = TL_EXTERNAL_I2C,
                                    .longest = 100,
                                    .settings = 1,
                                    .settings_bits = 12,
                                    .ready = TL_EXTERNAL_NONE},
                             wide = {.kind = TL_EXTERNAL_I2C,
                                     .longest = 100,
                                     .word = {16, 40, TL_WORD_RIGHT, TL_WORD_UNSIGNED, false},
                                     .settings = TL_EXTERNAL_NONE,
                                     .ready = TL_EXTERNAL_NONE};
    const tl_external_input by_odd = {{&tl_i2c_conversion}, &odd, 0},
                            by_wide = {{&tl_i2c_conversion}, &wide, 0};
    static const tl_conversion slow = {start_nothing, end_never, NULL, 10};
    static const tl_convertible waits = {&slow};
    const tl_way ways[] = {{&left.kind, NULL, 0, 0}, {&by_odd.kind, NULL, 0, 0}, {&by_wide.kind, NULL, 0, 0}};
    tl_sample sample = {0}, samples[2];
    tl_window window;
    tl_accuracy accuracy;
    tl_sweep sweep;
    uint32_t word;
    uint8_t byte = 0;
    bool high = false;
    int other;
    CU_ASSERT(tl_port_convert(&port, 0, 0, 0, 0, &word) == TL_ERR_ARG);
    CU_ASSERT(tl_port_wait_change(&port, &byte, &high, 0, 1) == TL_ERR_ARG);
    CU_ASSERT(tl_port_spi_exchange(&port, 0, 0, &byte, &byte, 0) == TL_ERR_ARG);
    CU_ASSERT(tl_port_i2c_transfer(&port, 0, 0x80, &byte, 1, NULL, 0) == TL_ERR_ARG);
    CU_ASSERT(tl_port_conversion_start(&port, NULL, 0, 0, 0) == TL_ERR_ARG);
    for (size_t i = 0; i < ROWS(ways); i++)
        CU_ASSERT(tl_take(&port, &ways[i], &sample) != TL_OK);
    CU_ASSERT(tl_take(&without, &ways[0], &sample) == TL_ERR_UNSUPPORTED);
    CU_ASSERT(tl_window_init(&window, samples, 2) == TL_OK &&
              tl_window_mean(&window, &sample) == TL_ERR_RANGE);
    CU_ASSERT(tl_accuracy_init(&accuracy, &(tl_scale_config){.bits = 0}, 0, 0) != TL_OK);
    tl_status_text(TL_OK, NULL, 0);
    CU_ASSERT(tl_sweep_init(&sweep, &ways[0], 1, samples) == TL_OK && tl_port_claim(&port, &other) == TL_OK);
    CU_ASSERT(tl_sweep_run(&sweep, &port) == TL_ERR_BUSY);
    tl_port_yield(&port, &other);
    ops.wait_us = wait_fails;
    port.ops = &ops;
    CU_ASSERT(tl_sweep_init(&sweep, &(tl_way){.input = &waits}, 1, samples) == TL_OK &&
              tl_sweep_run(&sweep, &port) == TL_ERR_PORT && fake.reader.who == NULL);
}

CU_TestInfo contract_tests[] = {
    {"what cannot be meant is refused", what_cannot_be_meant_is_refused},
    {"every wait idles", every_wait_idles},
    {"NULL is refused", null_is_refused},
    {"one reads at a time", one_reads_at_a_time},
    {"a clock that is set back does no harm", a_clock_that_is_set_back_does_no_harm},
    {"a wait outlives a clock set back", a_wait_outlives_a_clock_set_back},
    {"one point is no table", one_point_is_no_table},
    CU_TEST_INFO_NULL,
};
