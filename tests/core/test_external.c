/* SPDX-License-Identifier: MIT */
/* Converters on buses: both made-up ones on the bench, and everything that can go wrong on the way. */
#include "support.h"
#include "tinyladder/bench.h"
#include "tinyladder/core.h"
#include <math.h>
#include <stdio.h>
#include <string.h>

#define HEAD "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\n"

/* Knot on SPI and Dunlin on I2C, each with an input and a pair. */
static const char plan_text[] = HEAD
    "signals:\n"
    "  a: {source: {voltage: 0 V .. 3.2 V}, pin: knot.in-5, reading: {unit: V}}\n"
    "  b: {source: {bridge: 1k, voltage: 0 V .. 1 V, supply: logic}, pin: knot.pair-1, reading: {unit: V}}\n"
    "  c: {source: {voltage: 0 V .. 90 mV}, pin: dunlin.in-2, reading: {unit: mV}}\n"
    "  d: {source: {bridge: 1k, voltage: -50 mV .. 50 mV, supply: logic}, pin: dunlin.pair-1, reading: "
    "{unit: mV}}\n"
    "buses:\n  wires: {pins: {clock: L27, in: L28, out: L29}, mode: spi}\n"
    "  dome: {pins: {scl: L24, sda: L25}, stages: [pull: {up: 4k7, to: logic}]}\n"
    "converters:\n"
    "  knot: {part: " TL_SOURCE "/demo/knot.converter.yaml, supply: logic, bus: wires, select: L26}\n"
    "  dunlin: {part: " TL_SOURCE "/demo/dunlin.converter.yaml, supply: logic, bus: dome, address: 0x2a}\n";
static const char scene_text[] = "tinyladder: scene 1\nlength: 9 s\nvalues: {a: [0 s: 2.2 V], b: [0 s: 0.7 "
                                 "V], c: [0 s: 61 mV], d: [0 s: -23 mV]}\n";

static tl_bench *open_both(void)
{
    tl_bench *bench = tl_bench_open(scratch_file("buses.plan.yaml", plan_text, strlen(plan_text)),
                                    scratch_file("buses.scene.yaml", scene_text, strlen(scene_text)), NULL);
    CU_ASSERT_FATAL(bench != NULL);
    return bench;
}

static void reads_over_the_bus(void)
{
    static const double wanted[] = {2.2, 0.7, 61, -23}, within[] = {0.06, 0.06, 0.2, 0.2};
    tl_bench *bench = open_both();
    for (int i = 0; i < 4; i++) {
        tl_bench_reading reading;
        const bool read = tl_bench_read(bench, i, &reading) == TL_NET_SOLVED && reading.status == TL_OK;
        CU_ASSERT(read && fabs(reading.is.value - wanted[i]) < within[i] &&
                  (reading.flags & TL_READING_FRESH) != 0);
        if (!(fabs(reading.is.value - wanted[i]) < within[i]))
            printf("\n  %d: %g, status %d\n", i, reading.is.value, reading.status);
    }
    tl_bench_free(bench);
}

/* Every port call fails once: a status, and no code. */
static void whichever_call_fails(void)
{
    for (int signal = 0; signal < 4; signal++) {
        unsigned long failing = 1;
        for (; failing < 3000; failing = failing < 10 ? failing + 1 : failing * 2) {
            tl_bench *bench = open_both();
            tl_bench_reading reading;
            tl_bench_fail_at(bench, failing, false);
            CU_ASSERT(tl_bench_read(bench, signal, &reading) == TL_NET_SOLVED);
            const tl_status status = reading.status;
            CU_ASSERT(status == TL_OK || (status == TL_ERR_PORT && (reading.flags & TL_READING_FRESH) == 0));
            tl_bench_free(bench);
            if (status == TL_OK)
                break;
        }
        CU_ASSERT(failing > 1 && failing < 3000);
    }
}

/* A port whose answers are laid down. */
typedef struct {
    uint8_t answer[8];
    bool acknowledges, ready;
    uint32_t now_us, tick_us;
    uint8_t sent[8], sent_count;
    uint8_t asked, ready_byte, ready_mask;
    unsigned transfers;
    bool real_waits;
} wire_port;

static tl_status fake_spi(void *context, uint8_t bus, uint8_t select, const uint8_t *out, uint8_t *in,
                          uint8_t count)
{
    wire_port *p = context;
    (void)bus;
    (void)select;
    memcpy(p->sent, out, count);
    memcpy(in, p->answer, count);
    p->sent_count = count;
    return TL_OK;
}

static tl_status fake_i2c(void *context, uint8_t bus, uint8_t address, const uint8_t *out, uint8_t out_count,
                          uint8_t *in, uint8_t in_count)
{
    wire_port *p = context;
    (void)bus;
    (void)address;
    p->transfers++;
    if (!p->acknowledges)
        return TL_ERR_ACK;
    if (in_count == 0) {
        memcpy(p->sent, out, out_count);
        p->sent_count = out_count;
    } else if (out[0] != 0) { /* a register that tells whether it is ready: only one bit of it is ever 1 */
        memset(in, 0, in_count);
        in[p->ready_byte] = (uint8_t)(p->ready ? p->ready_mask : 0);
        p->asked = out[0];
    } else {
        memcpy(in, p->answer, in_count);
    }
    return TL_OK;
}

static tl_status fake_clock(void *context, uint32_t *now_us)
{
    wire_port *p = context;
    *now_us = p->now_us += p->tick_us;
    return TL_OK;
}

static tl_status fake_wait(void *context, uint32_t duration_us)
{
    wire_port *p = context;
    p->now_us += p->real_waits ? duration_us : p->tick_us > 0 ? duration_us / 40 : 0;
    return TL_OK;
}

static const tl_port_ops ops = {
    .spi_exchange = fake_spi, .i2c_transfer = fake_i2c, .clock_us = fake_clock, .wait_us = fake_wait};
static const TL_ROM tl_external spi = {.kind = TL_EXTERNAL_SPI,
                                       .word = {.bits = 10, .width = 16},
                                       .longest = 100,
                                       .settings_bits = 5,
                                       .zeros = 1,
                                       .take = 10},
                                i2c = {.kind = TL_EXTERNAL_I2C,
                                       .seat = 0x2a,
                                       .word = {16, 16, TL_WORD_RIGHT, TL_WORD_TWOS_COMPLEMENT, true},
                                       .longest = 100,
                                       .settings_bits = 8,
                                       .settings = 1,
                                       .result = 0,
                                       .ready = 1,
                                       .ready_bits = 8,
                                       .ready_bit = 7,
                                       .ready_when = true},
                                patient = {.kind = TL_EXTERNAL_I2C,
                                           .seat = 0x2a,
                                           .word = {16, 16, TL_WORD_RIGHT, TL_WORD_TWOS_COMPLEMENT, true},
                                           .longest = 100,
                                           .settings = TL_EXTERNAL_NONE,
                                           .result = 0,
                                           .ready = TL_EXTERNAL_NONE};

static tl_status take(const tl_port *port, const tl_external_input *input, tl_sample *sample)
{
    tl_external_input known = *input;
    known.kind.by = input->converter != NULL && input->converter->kind == TL_EXTERNAL_SPI
                        ? &tl_spi_conversion
                        : &tl_i2c_conversion;
    return tl_take(port, &(tl_way){.input = &known.kind}, sample);
}

/* While a conversion lasts, the bus belongs to others most of the time: a question a millisecond. */
static void leaves_the_bus_alone_meanwhile(void)
{
    tl_external slow = i2c;
    wire_port fake = {.acknowledges = true, .tick_us = 1, .real_waits = true};
    const tl_port port = {&ops, &fake, &(tl_port_reader){NULL}};
    tl_sample sample = {7, TL_READING_FRESH, 0};
    slow.longest = 50000;
    fake.now_us = UINT32_MAX - 20000; /* the clock wraps meanwhile */
    CU_ASSERT(take(&port, &(tl_external_input){.converter = &slow}, &sample) == TL_ERR_LATE);
    CU_ASSERT(fake.transfers >= 50 && fake.transfers <= 56 && fake.now_us < 33000);
    /* And none at all before it can be ready: one to start, some ten after 40 ms. */
    slow.earliest = 40000;
    fake.transfers = 0;
    CU_ASSERT(take(&port, &(tl_external_input){.converter = &slow}, &sample) == TL_ERR_LATE);
    CU_ASSERT(fake.transfers >= 10 && fake.transfers <= 13);
}

/* Words of two to four bytes, either end first. */
static void words_have_as_many_bytes_as_they_are_wide(void)
{
    for (uint8_t bytes = 2; bytes <= 4; bytes++) {
        for (int low_first = 0; low_first < 2; low_first++) {
            tl_external wide = i2c;
            wire_port fake = {.acknowledges = true, .ready = true, .ready_mask = 0x80, .tick_us = 1};
            const tl_port port = {&ops, &fake, &(tl_port_reader){NULL}};
            const uint8_t bits = bytes == 4 ? 24 : (uint8_t)(8 * bytes);
            tl_sample sample = {7, 0, 0};
            wide.word = (tl_word){.bits = bits, .width = (uint8_t)(8 * bytes)};
            wide.byte_order = (uint8_t)(low_first != 0 ? TL_BYTES_LOW_FIRST : TL_BYTES_HIGH_FIRST);
            int32_t wanted = 0;
            for (uint8_t i = 0; i < bytes; i++) {
                const uint8_t byte = (uint8_t)(i == 0 && bytes == 4 ? 0 : 0x11 * (i + 1)); /* highest first */
                wanted = wanted * 256 + byte;
                fake.answer[low_first != 0 ? bytes - 1 - i : i] = byte;
            }
            CU_ASSERT(take(&port, &(tl_external_input){.converter = &wide}, &sample) == TL_OK &&
                      sample.value == wanted);
        }
    }
}

static void answers_are_checked(void)
{
    static tl_external roomy;
    roomy = spi;
    roomy.word.bits = 11;
    static const struct {
        const char *name;
        const tl_external *external;
        wire_port port;
        tl_status status;
        int32_t code;
    } rows[] = {
        {"SPI: 5 bits sent, a zero, ten bits",
         &spi,
         {.answer = {0xf8 | 0x02, 0x01}, .tick_us = 1},
         TL_OK,
         0x201},
        {"SPI: the zero is none", &spi, {.answer = {0xff, 0xff}, .tick_us = 1}, TL_ERR_WORD, 7},
        {"SPI: the zero is none, though the word has room for it",
         &roomy,
         {.answer = {0xff, 0xff}, .tick_us = 1},
         TL_ERR_WORD,
         7},
        {"I2C, signed",
         &i2c,
         {.answer = {0xff, 0xfe}, .acknowledges = true, .ready = true, .ready_mask = 0x80, .tick_us = 1},
         TL_OK,
         -2},
        {"I2C, the highest code is clipped",
         &i2c,
         {.answer = {0x7f, 0xff}, .acknowledges = true, .ready = true, .ready_mask = 0x80, .tick_us = 1},
         TL_OK,
         32767},
        {"I2C: without a ready bit its bound is waited for",
         &patient,
         {.answer = {0, 5}, .acknowledges = true, .tick_us = 1},
         TL_OK,
         5},
        {"I2C: nobody there", &i2c, {.tick_us = 1}, TL_ERR_ACK, 7},
        {"I2C: never ready", &i2c, {.acknowledges = true, .tick_us = 1}, TL_ERR_LATE, 7},
        {"I2C: never ready, and the clock stands", &i2c, {.acknowledges = true}, TL_ERR_CLOCK, 7},
    };
    tl_external_input input = {.settings = 0x1e};                           /* on SPI 1, single, 110 */
    static const uint32_t begins[] = {0, UINT32_MAX - 3, UINT32_MAX - 100}; /* the clock wraps on the way */
    for (size_t i = 0; i < 3 * ROWS(rows); i++) {
        wire_port fake = rows[i / 3].port;
        const tl_port port = {&ops, &fake, &(tl_port_reader){NULL}};
        tl_sample sample = {7, TL_READING_FRESH, 0};
        fake.now_us = begins[i % 3];
        input.converter = rows[i / 3].external;
        CHECK_ROW(rows[i / 3].name, take(&port, &input, &sample) == rows[i / 3].status &&
                                        sample.value == rows[i / 3].code &&
                                        (sample.flags & TL_READING_FRESH) ==
                                            (rows[i / 3].status == TL_OK ? TL_READING_FRESH : 0) &&
                                        sample.reason == rows[i / 3].status);
        if (i == 0)
            CU_ASSERT(fake.sent_count == 2 && fake.sent[0] == 0xf0 && fake.sent[1] == 0);
    }
    CU_ASSERT(take(&(tl_port){&ops, &(wire_port){.tick_us = 1}, &(tl_port_reader){NULL}},
                   &(tl_external_input){.converter = NULL}, &(tl_sample){0}) == TL_ERR_ARG);
    tl_external broken = spi;
    tl_sample sample = {7, 0, 0};
    wire_port fake = {.tick_us = 1};
    const tl_port port = {&ops, &fake, &(tl_port_reader){NULL}};
    input.converter = &broken;
    broken.take = 0;
    CU_ASSERT(take(&port, &input, &sample) == TL_ERR_ARG);
    broken = spi;
    broken.zeros = 80;
    CU_ASSERT(take(&port, &input, &sample) == TL_ERR_ARG && sample.value == 7);
}

/* Settings of one to four bytes, either end first, and the ready bit in each of them, at either level, in the
 * settings or in a register of its own. */
static void settings_and_the_ready_bit_are_as_wide_as_they_are(void)
{
    for (int row = 0; row < 4 * 2 * 32 * 2; row++) {
        const uint8_t bytes = (uint8_t)(1 + row % 4), bit = (uint8_t)(row / 8 % 32);
        const bool low_first = row / 4 % 2 != 0, when = row / 256 != 0;
        tl_external wide = i2c;
        wide.byte_order = (uint8_t)(low_first ? TL_BYTES_LOW_FIRST : TL_BYTES_HIGH_FIRST);
        wide.settings_bits = wide.ready_bits = (uint8_t)(8 * bytes);
        wide.ready = (uint8_t)(1 + bit % 2);
        wide.ready_bit = bit;
        wide.ready_when = when;
        wire_port fake = {.acknowledges = true,
                          .ready = when,
                          .ready_byte = (uint8_t)(low_first ? bit / 8 : bytes - 1 - bit / 8),
                          .ready_mask = (uint8_t)(1u << bit % 8),
                          .answer = {0, 1},
                          .tick_us = 1};
        const tl_port port = {&ops, &fake, &(tl_port_reader){NULL}};
        tl_sample sample = {7, 0, 0};
        const tl_status status =
            take(&port, &(tl_external_input){.converter = &wide, .settings = UINT32_C(0x11223344)}, &sample);
        if (bit >= 8 * bytes) {
            CU_ASSERT(status == TL_ERR_ARG && fake.transfers == 0);
            continue;
        }
        CU_ASSERT(status == TL_OK && sample.value == (low_first ? 256 : 1) && fake.asked == wide.ready);
        CU_ASSERT(fake.sent_count == 1 + bytes && fake.sent[0] == 1);
        for (uint8_t i = 0; i < bytes; i++) /* 44 is the lowest byte, 11 the fourth */
            CU_ASSERT(fake.sent[1 + i] == 0x11 * (4 - (low_first ? i : bytes - 1 - i)));
        fake.ready = !when;
        CU_ASSERT(take(&port, &(tl_external_input){.converter = &wide}, &sample) == TL_ERR_LATE);
    }
}

/* Up to 32 bits go before the answer, the highest first. */
static void heads_are_sent_from_the_highest_bit(void)
{
    for (uint8_t head = 0; head <= 33; head++) {
        tl_external other = spi;
        wire_port fake = {.tick_us = 1};
        const tl_port port = {&ops, &fake, &(tl_port_reader){NULL}};
        tl_sample sample = {7, 0, 0};
        other.settings_bits = head;
        const tl_status status =
            take(&port, &(tl_external_input){.converter = &other, .settings = UINT32_C(0xa5c30f96)}, &sample);
        CU_ASSERT(status == (head <= 32 ? TL_OK : TL_ERR_ARG));
        uint64_t sent = 0;
        for (int i = 0; i < 8; i++)
            sent = sent << 8 | fake.sent[i];
        const uint64_t wanted = head == 0 || head > 32 ? 0 : (uint64_t)UINT32_C(0xa5c30f96) << (64 - head);
        CU_ASSERT(sent == wanted);
    }
}

CU_TestInfo external_tests[] = {
    {"reads over the bus", reads_over_the_bus},
    {"whichever call fails", whichever_call_fails},
    {"leaves the bus alone meanwhile", leaves_the_bus_alone_meanwhile},
    {"words have as many bytes as they are wide", words_have_as_many_bytes_as_they_are_wide},
    {"answers are checked", answers_are_checked},
    {"settings and the ready bit are as wide as they are",
     settings_and_the_ready_bit_are_as_wide_as_they_are},
    {"heads are sent from the highest bit", heads_are_sent_from_the_highest_bit},
    CU_TEST_INFO_NULL,
};
