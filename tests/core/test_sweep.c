/* SPDX-License-Identifier: MIT */
/* Sweeps on the bench: through multiplexers, whole and in steps, and every port call failing in turn. */
#define _GNU_SOURCE
#include "fake_port.h"
#include "support.h"
#include "tinyladder/bench.h"
#include "tinyladder/core.h"
#include <signal.h>
#include <stdio.h>
#include <string.h>
#include <sys/time.h>

#define HEAD "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\n"

enum { ENTRIES = 4 };

/* Three knobs behind a multiplexer on channel 1, one straight on channel 0. */
static tl_bench *open_knobs(tl_mux_lines *lines)
{
    static const char plan[] =
        HEAD "signals:\n  a: {source: {voltage: 0 V .. 3.3 V}, pin: L4}\n"
             "  b: {source: {voltage: 0 V .. 3.3 V}, pin: bank.0}\n  c: {source: {voltage: 0 V .. 3.3 V}, "
             "pin: bank.3}\n"
             "  d: {source: {voltage: 0 V .. 3.3 V}, pin: bank.6}\n"
             "muxes: {bank: {part: " TL_SOURCE
             "/demo/redshank.mux.yaml, supply: logic, select: [L20, L21, L22], enable: L23, common: L5}}\n"
             "buses: {dome: {pins: {scl: L24, sda: L25}, stages: [pull: {up: 4k7, to: logic}]}}\n";
    static const char scene[] = "tinyladder: scene 1\nlength: 9 s\nvalues: {a: [0 s: 0.5 V], b: [0 s: 1 V], "
                                "c: [0 s: 2 V], d: [0 s: 3 V]}\n";
    tl_bench *bench = tl_bench_open(scratch_file("sweep.plan.yaml", plan, strlen(plan)),
                                    scratch_file("sweep.scene.yaml", scene, strlen(scene)), NULL);
    CU_ASSERT_FATAL(bench != NULL);
    *lines = (tl_mux_lines){.select_count = 3, .dwell = 5};
    for (int i = 0; i < 4; i++) {
        char name[16];
        snprintf(name, sizeof name, "L%d", 20 + i);
        *(i < 3 ? &lines->select[i] : &lines->enable) = (uint8_t)tl_bench_line(bench, name);
    }
    return bench;
}

static const tl_input straight = {.kind = {&tl_pin_conversion},
                                  .channel = 0,
                                  .acquisition_ns = 1000,
                                  .longest = 50,
                                  .word = {.bits = 12, .width = 16}},
                      common = {.kind = {&tl_pin_word_conversion},
                                .channel = 1,
                                .acquisition_ns = 3000,
                                .longest = 50,
                                .word = {.bits = 12, .width = 16}};

/* The sweep of all four, into the caller's arrays. */
typedef struct {
    tl_mux_lines lines;
    tl_way entries[ENTRIES];
    tl_sample samples[2 * ENTRIES];
    tl_sweep sweep;
    tl_bench *bench;
} rig;

static void set_up(rig *r)
{
    static const uint8_t inputs[] = {0, 3, 6};
    r->bench = open_knobs(&r->lines);
    r->entries[0] = (tl_way){.input = &straight.kind};
    for (int i = 0; i < 3; i++) {
        r->entries[1 + i] =
            (tl_way){.input = &common.kind, .mux = &r->lines, .mux_input = inputs[i], .discard = 1};
    }
    CU_ASSERT(tl_mux_open(tl_bench_port(r->bench), &r->lines) == TL_OK);
    CU_ASSERT(tl_sweep_init(&r->sweep, r->entries, ENTRIES, r->samples) == TL_OK);
}

static bool is_right(const rig *r)
{
    static const double volts[] = {0.5, 1, 2, 3};
    bool right = r->sweep.any;
    for (int i = 0; i < ENTRIES; i++)
        right = right && near(r->sweep.values[i].value, volts[i] / 3.3 * 4096, 0.04) &&
                (r->sweep.values[i].flags & TL_READING_FRESH) != 0;
    return right;
}

static void sweeps_whole(void)
{
    rig r;
    set_up(&r);
    CU_ASSERT(tl_sweep_run(&r.sweep, tl_bench_port(r.bench)) == TL_OK && is_right(&r));
    CU_ASSERT(r.sweep.stamp_us > 30 && r.sweep.stamp_us < 1000);
    tl_bench_free(r.bench);
}

/* Beside other work: nothing shows before the last step. */
static void sweeps_in_steps(void)
{
    rig r;
    bool done = false;
    set_up(&r);
    CU_ASSERT(tl_sweep_step(&r.sweep, tl_bench_port(r.bench), &done) == TL_ERR_ARG); /* none was begun */
    CU_ASSERT(tl_sweep_begin(&r.sweep) == TL_OK);
    int steps = 0;
    for (; steps < 500 && !done; steps++) {
        CU_ASSERT(!r.sweep.any && r.sweep.values[0].value == 0);
        CU_ASSERT(tl_sweep_step(&r.sweep, tl_bench_port(r.bench), &done) == TL_OK);
    }
    CU_ASSERT(done && is_right(&r) &&
              steps >= 4 + 4 + 7); /* each: lead, dwell; seven conversions to wait for */
    CU_ASSERT(tl_sweep_step(&r.sweep, tl_bench_port(r.bench), &done) == TL_ERR_ARG);
    tl_bench_free(r.bench);
}

/* Whichever call fails: a status, no fresh flag, the values of the last whole sweep, and the next one is good
 * again. */
static void whichever_call_fails(void)
{
    unsigned long failing = 1;
    for (; failing < 400; failing++) {
        rig r;
        set_up(&r);
        CU_ASSERT(tl_sweep_run(&r.sweep, tl_bench_port(r.bench)) == TL_OK);
        tl_sample before[ENTRIES];
        memcpy(before, r.sweep.values, sizeof before);
        tl_bench_fail_at(r.bench, failing, false);
        const tl_status status = tl_sweep_run(&r.sweep, tl_bench_port(r.bench));
        tl_bench_fail_at(r.bench, 0, false);
        if (status == TL_OK) {
            tl_bench_free(r.bench);
            break;
        }
        bool kept = true;
        for (int i = 0; i < ENTRIES; i++)
            kept = kept && r.sweep.values[i].value == before[i].value &&
                   (r.sweep.values[i].flags & TL_READING_FRESH) == 0;
        CU_ASSERT(status == TL_ERR_PORT && kept && r.sweep.values[0].reason == TL_ERR_PORT);
        CU_ASSERT(tl_sweep_run(&r.sweep, tl_bench_port(r.bench)) == TL_OK && is_right(&r));
        tl_bench_free(r.bench);
    }
    CU_ASSERT(failing > 50 && failing < 400);
}

/* Asleep between sweeps, the converter refuses; awake for one it does not, and neither does a failure leave
 * it awake. */
static void sleeps_in_between(void)
{
    rig r;
    uint32_t word = 0;
    set_up(&r);
    const tl_port *port = tl_bench_port(r.bench);
    r.sweep.sleeps = true;
    for (int i = 0; i < 2; i++) {
        CU_ASSERT(tl_sweep_run(&r.sweep, port) == TL_OK && is_right(&r));
        CU_ASSERT(tl_port_convert(port, 0, 0, 1000, 50, &word) == TL_ERR_PORT);
    }
    tl_bench_never_end(r.bench, true);
    CU_ASSERT(tl_sweep_run(&r.sweep, port) == TL_ERR_LATE);
    CU_ASSERT(tl_port_convert(port, 0, 0, 1000, 50, &word) == TL_ERR_PORT);
    tl_bench_free(r.bench);
}

/* The chip's own converter and one on a bus in one sweep, which no call of it waits for. */
static void sweeps_over_a_bus_as_well(void)
{
    static const tl_input battery = {.kind = {&tl_pin_conversion},
                                     .channel = 0,
                                     .acquisition_ns = 3000,
                                     .longest = 50,
                                     .word = {.bits = 12, .width = 16}};
    static const tl_external dunlin = {.kind = TL_EXTERNAL_I2C,
                                       .seat = 0x2a,
                                       .word = {16, 16, TL_WORD_RIGHT, TL_WORD_TWOS_COMPLEMENT, true},
                                       .longest = 100000,
                                       .earliest = 60000,
                                       .settings_bits = 8,
                                       .settings = 1,
                                       .ready = 1,
                                       .ready_bits = 8,
                                       .ready_bit = 7,
                                       .ready_when = true};
    static const tl_external_input load_cell = {{&tl_i2c_conversion}, &dunlin, 0x90};
    static const tl_way entries[] = {{.input = &load_cell.kind}, {.input = &battery.kind}};
    tl_sample samples[4];
    tl_sweep sweep;
    bool done = false;
    int steps = 0;
    tl_bench *bench =
        tl_bench_open(TL_SOURCE "/demo/fernhill.plan.yaml", TL_SOURCE "/demo/evening.scene.yaml", NULL);
    CU_ASSERT_FATAL(bench != NULL);
    CU_ASSERT(tl_sweep_init(&sweep, entries, 2, samples) == TL_OK);
    CU_ASSERT(tl_sweep_begin(&sweep) == TL_OK);
    for (; steps < 1000 && !done; steps++) {
        CU_ASSERT(tl_sweep_step(&sweep, tl_bench_port(bench), &done) == TL_OK);
        CU_ASSERT(tl_port_wait_us(tl_bench_port(bench), 1000) == TL_OK); /* other work meanwhile */
    }
    CU_ASSERT(done && steps > 60 && steps < 75); /* 5.2 mV of 100 mV; 12.7 V * 12 / 59 against 3.3 V */
    CU_ASSERT(near(sweep.values[0].value, 5.2 / 100 * 32768, 0.02) &&
              near(sweep.values[1].value, 12.7 * 12 / 59 / 3.3 * 4096, 0.03));
    tl_bench_never_end(bench, true);
    CU_ASSERT(tl_sweep_run(&sweep, tl_bench_port(bench)) == TL_ERR_LATE);
    CU_ASSERT((sweep.values[0].flags & TL_READING_FRESH) == 0);
    tl_bench_free(bench);
}

/* This many are discarded as the entry says, and one is kept. */
static void throws_away_what_it_says(void)
{
    for (uint8_t discard = 0; discard < 4; discard++) {
        fake_port fake = {.tick_us = 1, .word = 5};
        const tl_port port = fake_port_of(&fake);
        const tl_way entries[] = {{.input = &straight.kind, .discard = discard}, {.input = &common.kind}};
        tl_sample samples[4];
        tl_sweep sweep;
        CU_ASSERT(tl_sweep_init(&sweep, entries, 2, samples) == TL_OK);
        CU_ASSERT(tl_sweep_run(&sweep, &port) == TL_OK && fake.conversions == discard + 2u);
    }
}

/* A clock that shows n may have shown it for almost a microsecond: a dwell of n has passed at n + 1. */
static void dwells_a_whole_time(void)
{
    enum { DWELL = 7 };
    const tl_mux_lines lines = {.select_count = 1, .enable = TL_MUX_NO_LINE, .dwell = DWELL};
    const tl_way entry = {.input = &straight.kind, .mux = &lines, .mux_input = 1};
    fake_port fake = {.now_us = UINT32_MAX - 3}; /* it wraps meanwhile */
    const tl_port port = fake_port_of(&fake);
    tl_sample samples[2];
    tl_sweep sweep;
    bool done = false;
    CU_ASSERT(tl_sweep_init(&sweep, &entry, 1, samples) == TL_OK);
    CU_ASSERT(tl_sweep_begin(&sweep) == TL_OK);
    CU_ASSERT(tl_sweep_step(&sweep, &port, &done) == TL_OK); /* wake */
    CU_ASSERT(tl_sweep_step(&sweep, &port, &done) == TL_OK); /* lead */
    for (int us = 0; us <= DWELL; us++, fake.now_us++)
        CU_ASSERT(tl_sweep_step(&sweep, &port, &done) == TL_OK && fake.conversions == 0);
    CU_ASSERT(tl_sweep_step(&sweep, &port, &done) == TL_OK && fake.conversions == 1);
    tl_sweep_end(&sweep, &port);
}

static void hardware_that_hangs_is_noticed(void)
{
    rig r;
    set_up(&r);
    tl_bench_never_end(r.bench, true);
    CU_ASSERT(tl_sweep_run(&r.sweep, tl_bench_port(r.bench)) == TL_ERR_LATE && !r.sweep.any);
    tl_bench_freeze_clock(r.bench, true);
    CU_ASSERT(tl_sweep_run(&r.sweep, tl_bench_port(r.bench)) == TL_ERR_CLOCK);
    tl_bench_free(r.bench);
    CU_ASSERT(tl_sweep_init(NULL, NULL, 0, NULL) == TL_ERR_ARG);
}

/* A converter on the bus that nobody hears: its entry keeps its value of before, the others are fresh. */
static void one_dead_input_takes_nobody_with_it(void)
{
    static const tl_external away = {.kind = TL_EXTERNAL_I2C,
                                     .seat = 0x2b,
                                     .word = {.bits = 12, .width = 16},
                                     .longest = 1000,
                                     .settings = TL_EXTERNAL_NONE,
                                     .ready = TL_EXTERNAL_NONE};
    static const tl_external_input nothing = {.kind = {&tl_i2c_conversion}, .converter = &away};
    for (int dead = 0; dead < ENTRIES; dead++) {
        rig r;
        uint32_t stamp_us = 0;
        tl_sample copied[ENTRIES];
        set_up(&r);
        const tl_port *port = tl_bench_port(r.bench);
        CU_ASSERT(!tl_sweep_copy(&r.sweep, copied, &stamp_us)); /* there was none */
        CU_ASSERT(tl_sweep_run(&r.sweep, port) == TL_OK && is_right(&r));
        const int32_t before = r.sweep.values[dead].value;
        r.entries[dead] = (tl_way){.input = &nothing.kind};
        /* Nobody acknowledges the result's register once the wait is over. */
        CU_ASSERT(tl_sweep_run(&r.sweep, port) == TL_ERR_ACK);
        for (int i = 0; i < ENTRIES; i++)
            CU_ASSERT(((r.sweep.values[i].flags & TL_READING_FRESH) != 0) == (i != dead));
        for (int i = 0; i < ENTRIES; i++)
            CU_ASSERT(r.sweep.values[i].reason == (i == dead ? TL_ERR_ACK : TL_OK));
        CU_ASSERT(r.sweep.values[dead].value == before);
        CU_ASSERT(tl_sweep_copy(&r.sweep, copied, &stamp_us) && stamp_us == r.sweep.stamp_us &&
                  memcmp(copied, r.sweep.values, sizeof copied) == 0);
        /* In steps it is told once, and the sweep goes on. */
        bool done = false;
        int told = 0;
        CU_ASSERT(tl_sweep_begin(&r.sweep) == TL_OK);
        for (int step = 0; step < 5000 && !done; step++) {
            const tl_status status = tl_sweep_step(&r.sweep, port, &done);
            told += status == TL_ERR_ACK;
            CU_ASSERT((status == TL_OK || status == TL_ERR_ACK) && (done || r.sweep.running));
        }
        CU_ASSERT(done && told == 1);
        tl_bench_free(r.bench);
    }
}

static void words_that_came_by_themselves_are_a_sweep(void)
{
    const tl_way entries[] = {{.input = &straight.kind}, {.input = &common.kind}, {.input = &straight.kind}};
    static const uint32_t good[] = {11, 22, 4095}, bad[] = {12, 0x8001, 13};
    tl_sample samples[6];
    tl_sweep sweep;
    CU_ASSERT(tl_sweep_init(&sweep, entries, 3, samples) == TL_OK);
    CU_ASSERT(tl_sweep_words(&sweep, good, 4, 77) == TL_OK && sweep.stamp_us == 77 && sweep.any);
    CU_ASSERT(sweep.values[0].value == 11 && sweep.values[1].value == 22 &&
              sweep.values[2].flags == (TL_READING_FRESH | TL_READING_CLIPPED_HIGH));
    CU_ASSERT(tl_sweep_words(&sweep, bad, 4, 78) == TL_ERR_WORD && sweep.values[0].value == 12 &&
              sweep.values[1].value == 22 && sweep.values[1].flags == 0 &&
              sweep.values[1].reason == TL_ERR_WORD && sweep.values[2].value == 13 &&
              sweep.values[2].flags == TL_READING_FRESH);
    CU_ASSERT(tl_sweep_begin(&sweep) == TL_OK);
    CU_ASSERT(tl_sweep_words(&sweep, good, 4, 79) == TL_ERR_BUSY && sweep.stamp_us == 78);
    static const tl_external other = {.kind = TL_EXTERNAL_SPI};
    static const tl_external_input input = {{&tl_spi_conversion}, &other, 0};
    const tl_way outside = {.input = &input.kind};
    CU_ASSERT(tl_sweep_init(&sweep, &outside, 1, samples) == TL_OK &&
              tl_sweep_words(&sweep, good, 4, 79) == TL_ERR_ARG && !sweep.any);
}

/* An interrupt copies the last sweep while the main program shows one after the other: what it gets whole is
 * of one sweep. */
enum { MANY = 200 };
static tl_sweep shown_sweep;
static volatile sig_atomic_t copies, torn, refused;

static void on_interrupt(int signal)
{
    tl_sample copied[MANY];
    uint32_t stamp_us = 0;
    (void)signal;
    if (!tl_sweep_copy(&shown_sweep, copied, &stamp_us)) {
        refused++;
        return;
    }
    copies++;
    for (int i = 0; i < MANY; i++)
        torn += copied[i].value != (int32_t)stamp_us;
}

static void interrupts_see_whole_sweeps(void)
{
    static tl_way entries[MANY];
    static tl_sample samples[2 * MANY];
    static uint32_t words[MANY];
    const struct itimerval often = {{0, 50}, {0, 50}}, never = {{0, 0}, {0, 0}};
    for (int i = 0; i < MANY; i++)
        entries[i].input = &straight.kind;
    CU_ASSERT(tl_sweep_init(&shown_sweep, entries, MANY, samples) == TL_OK);
    void (*before)(int) = signal(SIGALRM, on_interrupt);
    setitimer(ITIMER_REAL, &often, NULL);
    for (uint32_t n = 0; n < 2000000 && copies + refused < 400; n++) {
        for (int i = 0; i < MANY; i++)
            words[i] = n % 4096;
        CU_ASSERT(tl_sweep_words(&shown_sweep, words, 4, n % 4096) == TL_OK);
    }
    setitimer(ITIMER_REAL, &never, NULL);
    signal(SIGALRM, before);
    CU_ASSERT(copies > 100 && torn == 0);
}

CU_TestInfo sweep_tests[] = {
    {"sweeps whole", sweeps_whole},
    {"sweeps in steps", sweeps_in_steps},
    {"whichever call fails", whichever_call_fails},
    {"sleeps in between", sleeps_in_between},
    {"sweeps over a bus as well", sweeps_over_a_bus_as_well},
    {"throws away what it says", throws_away_what_it_says},
    {"dwells a whole time", dwells_a_whole_time},
    {"hardware that hangs is noticed", hardware_that_hangs_is_noticed},
    {"one dead input takes nobody with it", one_dead_input_takes_nobody_with_it},
    {"words that came by themselves are a sweep", words_that_came_by_themselves_are_a_sweep},
    {"interrupts see whole sweeps", interrupts_see_whole_sweeps},
    CU_TEST_INFO_NULL,
};
