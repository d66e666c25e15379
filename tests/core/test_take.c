/* SPDX-License-Identifier: MIT */
/* One take of a signal: whole, alone, against the signal's own reference, and with an end whatever happens.
 */
#include "fake_port.h"
#include "line_port.h"
#include "support.h"
#include "tinyladder/bench.h"
#include "tinyladder/core.h"
#include <string.h>

/* One signal against the supply, one against the chip's own 2.5 V, three behind a multiplexer. */
static const char plan[] =
    "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\nsignals:\n"
    "  wide: {source: {voltage: 0 V .. 3.3 V}, pin: L4, reading: {unit: V, decimals: 3}}\n"
    "  fine: {source: {voltage: 0 V .. 2 V}, pin: L6, reference: inner, reading: {unit: V, decimals: 3}}\n"
    "  a: {source: {voltage: 0 V .. 3.3 V}, pin: bank.0, reading: {unit: V, decimals: 3}}\n"
    "  b: {source: {voltage: 0 V .. 3.3 V}, pin: bank.3, reading: {unit: V, decimals: 3}}\n"
    "muxes: {bank: {part: " TL_SOURCE
    "/demo/redshank.mux.yaml, supply: logic, select: [L20, L21, L22], enable: L23, common: L5}}\n";
static const char scene[] =
    "tinyladder: scene 1\nlength: 9 s\nvalues: {wide: 2 V, fine: 1 V, a: 1 V, b: 3 V}\n";

enum { ENTRIES = 2 };
static const tl_input own = {.kind = {&tl_pin_conversion},
                             .channel = 0,
                             .acquisition_ns = 3000,
                             .longest = 100,
                             .word = {.bits = 12, .width = 16}},
                      common = {.kind = {&tl_pin_conversion},
                                .channel = 1,
                                .acquisition_ns = 3000,
                                .longest = 100,
                                .word = {.bits = 12, .width = 16}};

static tl_bench *open_bench(tl_mux_lines *lines)
{
    tl_bench *bench = tl_bench_open(scratch_file("take.plan.yaml", plan, strlen(plan)),
                                    scratch_file("take.scene.yaml", scene, strlen(scene)), NULL);
    CU_ASSERT_FATAL(bench != NULL);
    *lines = (tl_mux_lines){.select_count = 3, .dwell = 20, .enable = (uint8_t)tl_bench_line(bench, "L23")};
    for (int i = 0; i < 3; i++)
        lines->select[i] = (uint8_t)tl_bench_line(bench, (const char *const[]){"L20", "L21", "L22"}[i]);
    CU_ASSERT(tl_mux_open(tl_bench_port(bench), lines) == TL_OK);
    return bench;
}

static bool shows(const tl_sample *sample, double volts, double full_scale)
{
    return near(sample->value, 4096 * volts / full_scale, 0.04) && (sample->flags & TL_READING_FRESH) != 0;
}

/* The same volts make more counts against less; a reference that the board has not is refused. */
static void the_reference_is_the_inputs(void)
{
    tl_mux_lines lines;
    tl_bench *bench = open_bench(&lines);
    tl_sample sample = {0};
    static const double full_scale[] = {3.3, 2.5};
    for (uint8_t reference = 0; reference < 2; reference++) {
        tl_input input = own;
        input.reference = reference;
        CU_ASSERT(tl_input_sample(tl_bench_port(bench), &input, &sample) == TL_OK &&
                  shows(&sample, 2, full_scale[reference]));
    }
    tl_input input = own;
    input.reference = 2;
    CU_ASSERT(tl_input_sample(tl_bench_port(bench), &input, &sample) == TL_ERR_UNSUPPORTED &&
              sample.flags == 0);
    tl_bench_free(bench);
}

/* Other takes in the middle of one, and of a sweep, get nothing and move nothing. */
static void a_take_is_not_disturbed(void)
{
    tl_mux_lines lines;
    tl_bench *bench = open_bench(&lines);
    const tl_port *port = tl_bench_port(bench);
    const tl_way ways[ENTRIES] = {{&common.kind, &lines, 0, 1}, {&common.kind, &lines, 3, 1}};
    tl_sample samples[2 * ENTRIES], one = {0}, other = {7, TL_READING_FRESH, 0};
    tl_taking taking;
    tl_sweep sweep;
    bool done = false;
    int steps = 0;
    tl_taking_begin(&taking, &ways[0]);
    for (; !done && steps < 500; steps++) {
        CU_ASSERT(tl_taking_step(&taking, port, &one, &done) == TL_OK);
        if (done)
            break;
        CU_ASSERT(tl_take(port, &ways[1], &other) == TL_ERR_BUSY && other.value == 7 && other.flags == 0);
        CU_ASSERT(tl_mux_lead(port, &sweep, &lines, 3) == TL_ERR_BUSY);
        CU_ASSERT(tl_port_conversion_start(port, &sweep, 1, 0, 3000) == TL_ERR_BUSY);
    }
    CU_ASSERT(done && steps > 3 && shows(&one, 1, 3.3));
    CU_ASSERT(tl_sweep_init(&sweep, ways, ENTRIES, samples) == TL_OK && tl_sweep_begin(&sweep) == TL_OK);
    for (done = false, steps = 0; !done && steps < 500; steps++) {
        CU_ASSERT(tl_sweep_step(&sweep, port, &done) == TL_OK);
        CU_ASSERT(done || tl_take(port, &ways[1], &other) == TL_ERR_BUSY);
    }
    CU_ASSERT(done && shows(&sweep.values[0], 1, 3.3) && shows(&sweep.values[1], 3, 3.3));
    CU_ASSERT(tl_take(port, &ways[1], &other) == TL_OK && shows(&other, 3, 3.3));
    tl_taking_begin(&taking, &ways[0]);
    CU_ASSERT(tl_taking_step(&taking, port, &one, &done) == TL_OK);
    tl_taking_end(&taking, port); /* given up: others may read */
    CU_ASSERT(tl_take(port, &ways[1], &other) == TL_OK);
    tl_bench_free(bench);
}

/* Whichever call fails: a status, no fresh flag, and the next one is good again. */
static void whichever_call_fails(void)
{
    unsigned long failing = 1;
    for (; failing < 100; failing++) {
        tl_mux_lines lines;
        tl_bench *bench = open_bench(&lines);
        const tl_way way = {&common.kind, &lines, 3, 1};
        tl_sample sample = {7, TL_READING_FRESH, 0};
        tl_bench_fail_at(bench, failing, false);
        const tl_status status = tl_take(tl_bench_port(bench), &way, &sample);
        tl_bench_fail_at(bench, 0, false);
        CU_ASSERT(status == TL_OK || (status == TL_ERR_PORT && sample.value == 7 && sample.flags == 0 &&
                                      sample.reason == TL_ERR_PORT));
        CU_ASSERT(tl_take(tl_bench_port(bench), &way, &sample) == TL_OK && shows(&sample, 3, 3.3));
        tl_bench_free(bench);
        if (status == TL_OK)
            break;
    }
    CU_ASSERT(failing > 10 && failing < 100);
}

/* In steps, with a clock that stands, or that is set back again and again, nothing goes on for ever. */
static void stepwise_work_ends_though_the_clock_stands(void)
{
    static const tl_way way = {.input = &own.kind};
    static const struct {
        const char *name;
        fake_port fake;
    } rows[] = {{"stands", {.questions_until_end = UINT32_MAX}},
                {"runs back", {.questions_until_end = UINT32_MAX, .tick_us = UINT32_MAX}}};
    for (size_t i = 0; i < ROWS(rows); i++) {
        fake_port fake = rows[i].fake;
        const tl_port port = fake_port_of(&fake);
        tl_sample samples[2], sample = {0};
        tl_taking taking;
        tl_sweep sweep;
        bool done = false;
        tl_status status = TL_OK;
        uint32_t word, steps = 0;
        tl_taking_begin(&taking, &way);
        for (; status == TL_OK && steps < 3 * TL_PORT_FROZEN_POLLS; steps++)
            status = tl_taking_step(&taking, &port, &sample, &done);
        CHECK_ROW(rows[i].name,
                  status == TL_ERR_CLOCK && sample.reason == TL_ERR_CLOCK && fake.reader.who == NULL);
        CU_ASSERT(tl_sweep_init(&sweep, &way, 1, samples) == TL_OK && tl_sweep_begin(&sweep) == TL_OK);
        for (status = TL_OK, steps = 0; status == TL_OK && steps < 3 * TL_PORT_FROZEN_POLLS; steps++)
            status = tl_sweep_step(&sweep, &port, &done);
        CHECK_ROW(rows[i].name, status == TL_ERR_CLOCK && !sweep.running && fake.reader.who == NULL);
        tl_button button;
        tl_button_event event;
        static const tl_button_config contact = {.steady = 1000, .closed_is_low = true};
        CU_ASSERT(tl_button_init(&button, &contact, &port) ==
                  TL_OK); /* low: closed, but not for long enough */
        for (status = TL_OK, steps = 0; status == TL_OK && steps < 3 * TL_PORT_FROZEN_POLLS; steps++)
            status = tl_button_look(&button, &port, &event);
        CHECK_ROW(rows[i].name, fake.tick_us != 0 || (status == TL_ERR_CLOCK && !button.closed));
        CHECK_ROW(rows[i].name, tl_take(&port, &way, &sample) == TL_ERR_CLOCK);
        CHECK_ROW(rows[i].name, tl_port_convert(&port, 0, 0, 100, 50, &word) == TL_ERR_CLOCK);
    }
}

/* Mistakes that were silent once. */
static void mistakes_are_told(void)
{
    static const tl_way ways[] = {{.input = &own.kind}, {.input = &common.kind}};
    static const uint16_t good[] = {11, 22}, bad[] = {0x8001, 0x8002};
    fake_port fake = {.tick_us = 1};
    const tl_port port = fake_port_of(&fake);
    tl_sample samples[4];
    tl_sweep sweep = {0};
    bool done, ended;
    uint32_t word;
    /* Parts of a conversion without a claim. */
    CU_ASSERT(tl_port_conversion_start(&port, &sweep, 0, 0, 100) == TL_ERR_BUSY &&
              tl_port_conversion_ended(&port, &sweep, &ended) == TL_ERR_BUSY &&
              tl_port_conversion_word(&port, &sweep, &word) == TL_ERR_BUSY && fake.calls == 0);
    /* A sweep that was never made ready. */
    CU_ASSERT(tl_sweep_begin(&sweep) == TL_ERR_ARG && tl_sweep_run(&sweep, &port) == TL_ERR_ARG &&
              tl_sweep_step(&sweep, &port, &done) == TL_ERR_ARG &&
              tl_sweep_words(&sweep, good, 2, 1) == TL_ERR_ARG);
    /* Words of a width that there is not; words that are all bad. */
    CU_ASSERT(tl_sweep_init(&sweep, ways, 2, samples) == TL_OK);
    CU_ASSERT(tl_sweep_words(&sweep, good, 3, 1) == TL_ERR_ARG && !sweep.any);
    CU_ASSERT(tl_sweep_words(&sweep, good, 2, 5) == TL_OK && sweep.values[1].value == 22);
    CU_ASSERT(tl_sweep_words(&sweep, bad, 2, 6) == TL_ERR_WORD && sweep.stamp_us == 5 &&
              sweep.values[0].value == 11 && sweep.values[0].flags == 0 && sweep.values[1].flags == 0);
}

CU_TestInfo take_tests[] = {
    {"the reference is the input's", the_reference_is_the_inputs},
    {"a take is not disturbed", a_take_is_not_disturbed},
    {"whichever call fails", whichever_call_fails},
    {"stepwise work ends though the clock stands", stepwise_work_ends_though_the_clock_stands},
    {"mistakes are told", mistakes_are_told},
    CU_TEST_INFO_NULL,
};
