/* SPDX-License-Identifier: MIT */
/* The conformance suite finds nothing in the bench's port, and each way in which a port may break its
 * promises. */
#include "conformance.h"
#include "support.h"
#include "tinyladder/bench.h"
#include <stdio.h>
#include <string.h>

#define PLAN TL_SOURCE "/demo/fernhill.plan.yaml"
#define SCENE TL_SOURCE "/demo/evening.scene.yaml"

/* The bench behind another front, which adds what is wired on purpose: a weak line, a second voltage, and
 * devices that look at how they are spoken to. */
typedef struct {
    const tl_port *inner;
    unsigned asked;
    bool weak_pulled, open; /* a transfer has not ended with a stop */
    bool late_stop;         /* one never did */
    uint8_t weak, channel;
    uint32_t last_word;
} front;

enum { STRICT_AT = 0x40, OTHER_CHANNEL = 1, OTHER_WORD = 851 };

#define INNER(context) (((front *)(context))->inner)

static port_facts facts_of(const tl_bench *bench)
{
    return (port_facts){.watch_us = 1u << 26,
                        .input_line = (uint8_t)tl_bench_line(bench, "L12"),
                        .input_high = true,
                        .output_line = (uint8_t)tl_bench_line(bench, "L30"),
                        .no_line = 200,
                        .has_duty = true,
                        .duty_line = (uint8_t)tl_bench_line(bench, "L8"),
                        .has_wait_change = true,
                        .has_power = true,
                        .channel = 0,
                        .least_word = 3000,
                        .largest_word = 3400,
                        .conversion_us = 100,
                        .no_channel = 9,
                        .has_i2c = true,
                        .i2c_bus = 0,
                        .i2c_address = 0x2a,
                        .i2c_register = 1,
                        .i2c_nobody = 0x11,
                        .has_spi = true,
                        .spi_bus = 1,
                        .spi_select = (uint8_t)tl_bench_line(bench, "L29"),
                        .has_second_line = true,
                        .second_line = (uint8_t)tl_bench_line(bench, "L31")};
}

/* With all that is wired in front of it. */
static port_facts facts_of_front(const tl_bench *bench)
{
    port_facts facts = facts_of(bench);
    facts.conversion_us = 10;
    facts.conversion_least_us = 1;
    facts.has_weak_line = true;
    facts.weak_line = (uint8_t)tl_bench_line(bench, "L32");
    facts.has_second_channel = true;
    facts.second_channel = OTHER_CHANNEL;
    facts.second_least = facts.second_largest = OTHER_WORD;
    facts.has_i2c_bytes = true;
    facts.i2c_bytes[0] = 0x22;
    facts.i2c_bytes[1] = 0x33;
    facts.has_i2c_strict = true;
    facts.i2c_strict = STRICT_AT;
    facts.has_spi_answer = true;
    for (uint8_t i = 0; i < 3; i++) {
        facts.spi_out[i] = (uint8_t)(i + 1);
        facts.spi_in[i] = (uint8_t)(0xa0 + 2 * i + 1);
    }
    return facts;
}

static void say(void *context, const char *promise, bool kept)
{
    if (!kept)
        printf("\n  %s: %s\n", (const char *)context, promise);
}

static void the_bench_keeps_every_promise(void)
{
    static const uint32_t clocks[] = {0, UINT32_MAX - 500};
    for (size_t i = 0; i < ROWS(clocks); i++) {
        tl_bench *bench = tl_bench_open(PLAN, SCENE, NULL);
        CU_ASSERT_FATAL(bench != NULL);
        const port_facts facts = facts_of(bench);
        tl_bench_set_clock(bench, clocks[i]);
        CU_ASSERT(port_conformance(tl_bench_port(bench), &facts, say, "bench") == 0);
        CU_ASSERT(tl_bench_line(bench, "L99") == -1);
        tl_bench_free(bench);
    }
}

/* --- fronts that break a promise each --- */

static tl_status clock_of(void *context, uint32_t *now_us)
{
    return tl_port_clock_us(INNER(context), now_us);
}

static tl_status wraps_early(void *context, uint32_t *now_us)
{
    const tl_status status = clock_of(context, now_us);
    *now_us &= (1u << 22) - 1;
    return status;
}

static tl_status steps_back(void *context, uint32_t *now_us)
{
    const tl_status status = clock_of(context, now_us);
    if (++((front *)context)->asked > 700)
        *now_us -= 30;
    return status;
}

static tl_status is_coarse(void *context, uint32_t *now_us)
{
    const tl_status status = clock_of(context, now_us);
    *now_us -= *now_us % 500;
    return status;
}

static tl_status stands(void *context, uint32_t *now_us)
{
    (void)context;
    *now_us = 5;
    return TL_OK;
}

static tl_status waits_too_short(void *context, uint32_t duration_us)
{
    return tl_port_wait_us(INNER(context), duration_us / 2);
}

static tl_status level_after_a_while(void *context, uint8_t line, bool *high)
{
    (void)tl_port_wait_us(INNER(context), 400);
    return tl_port_line_level(INNER(context), line, high);
}

static tl_status level_of_anything(void *context, uint8_t line, bool *high)
{
    if (tl_port_line_level(INNER(context), line, high) != TL_OK)
        *high = false;
    return TL_OK;
}

static tl_status starts_late(void *context, uint8_t channel, uint8_t reference, uint32_t acquisition_ns)
{
    (void)tl_port_wait_us(INNER(context), 2000);
    return INNER(context)->ops->conversion_start(INNER(context)->context, channel, reference, acquisition_ns);
}

static tl_status starts_anything(void *context, uint8_t channel, uint8_t reference, uint32_t acquisition_ns)
{
    return INNER(context)->ops->conversion_start(INNER(context)->context, channel > 8 ? 0 : channel,
                                                 reference, acquisition_ns);
}

static tl_status ends_never(void *context, bool *ended)
{
    (void)context;
    *ended = false;
    return TL_OK;
}

static tl_status word_of_8_bits(void *context, uint32_t *word)
{
    const tl_status status = INNER(context)->ops->conversion_word(INNER(context)->context, word);
    *word >>= 4;
    return status;
}

static tl_status word_on_the_left(void *context, uint32_t *word)
{
    const tl_status status = INNER(context)->ops->conversion_word(INNER(context)->context, word);
    *word <<= 4;
    return status;
}

static tl_status power_ignored(void *context, bool on)
{
    (void)context, (void)on;
    return TL_OK;
}

static tl_status drives_anything(void *context, uint8_t line, bool high)
{
    (void)tl_port_line_drive(INNER(context), line, high);
    return TL_OK;
}

static tl_status drives_nothing(void *context, uint8_t line, bool high)
{
    return tl_port_line_drive(INNER(context), line, false) == TL_OK || high ? TL_OK : TL_ERR_ARG;
}

static tl_status hears_everybody(void *context, uint8_t bus, uint8_t address, const uint8_t *out,
                                 uint8_t out_count, uint8_t *in, uint8_t in_count)
{
    const tl_status status = tl_port_i2c_transfer(INNER(context), bus, address, out, out_count, in, in_count);
    return status == TL_ERR_ACK ? TL_OK : status;
}

static tl_status fills_in_before_it_knows(void *context, uint8_t bus, uint8_t address, const uint8_t *out,
                                          uint8_t out_count, uint8_t *in, uint8_t in_count)
{
    if (in_count > 0)
        in[0] = 0;
    return tl_port_i2c_transfer(INNER(context), bus, address, out, out_count, in, in_count);
}

/* Everything else goes straight through. */
static tl_status use(void *c, uint8_t line, tl_line_use as)
{
    front *own = c;
    if (line == own->weak) {
        own->weak_pulled = as == TL_LINE_INPUT_PULL_UP;
        return TL_OK;
    }
    return tl_port_line_use(INNER(c), line, as);
}
static tl_status level(void *c, uint8_t line, bool *high)
{
    front *own = c;
    if (line != own->weak)
        return tl_port_line_level(INNER(c), line, high);
    *high = own->weak_pulled;
    return TL_OK;
}
static tl_status drive(void *c, uint8_t line, bool high)
{
    return tl_port_line_drive(INNER(c), line, high);
}
static tl_status duty(void *c, uint8_t line, uint16_t share)
{
    return tl_port_line_duty(INNER(c), line, share);
}
static tl_status start(void *c, uint8_t channel, uint8_t reference, uint32_t acquisition_ns)
{
    ((front *)c)->channel = channel;
    return INNER(c)->ops->conversion_start(INNER(c)->context, channel, reference, acquisition_ns);
}
static tl_status ended(void *c, bool *over)
{
    return INNER(c)->ops->conversion_ended(INNER(c)->context, over);
}
static tl_status word(void *c, uint32_t *delivered)
{
    front *own = c;
    const tl_status status = INNER(c)->ops->conversion_word(INNER(c)->context, delivered);
    if (own->channel == OTHER_CHANNEL)
        *delivered = OTHER_WORD;
    return status;
}
static tl_status power(void *c, bool on)
{
    return tl_port_converter_power(INNER(c), on);
}
static tl_status wait(void *c, uint32_t duration_us)
{
    return tl_port_wait_us(INNER(c), duration_us);
}
static tl_status change(void *c, const uint8_t *lines, const bool *seen, uint8_t count, uint32_t at_most_us)
{
    return tl_port_wait_change(INNER(c), lines, seen, count, at_most_us);
}
/* Answers count up from byte to byte, while it is selected. */
static void spi_device(bool selected, const uint8_t *out, uint8_t *in, uint8_t count)
{
    for (uint8_t i = 0; i < count; i++)
        in[i] = (uint8_t)(selected ? 0xa0 + i + out[i] : 0xff);
}
static tl_status spi(void *c, uint8_t bus, uint8_t select, const uint8_t *out, uint8_t *in, uint8_t count)
{
    const tl_status status = tl_port_spi_exchange(INNER(c), bus, select, out, in, count);
    spi_device(true, out, in, count);
    return status;
}
/* Two registers with known bytes, and one that answers whom it is spoken to properly by. */
static void i2c_device(front *own, const uint8_t *out, uint8_t out_count, uint8_t *in, uint8_t in_count,
                       bool again, bool stopped)
{
    static const uint8_t known[] = {0x22, 0x33};
    own->late_stop = own->late_stop || own->open;
    for (uint8_t i = 0; i < in_count; i++)
        in[i] = out_count > 0 && out[0] == STRICT_AT ? (again && !own->late_stop ? PORT_STRICT : 0)
                                                     : known[i % 2];
    own->open = !stopped;
}
static tl_status i2c_by(void *c, uint8_t address, const uint8_t *out, uint8_t out_count, uint8_t *in,
                        uint8_t in_count, bool again, bool stopped)
{
    uint8_t spare[4] = {0};
    const tl_status status = tl_port_i2c_transfer(INNER(c), 0, address, out, out_count, spare, in_count);
    if (status == TL_OK)
        i2c_device(c, out, out_count, in, in_count, again, stopped);
    return status;
}
static tl_status i2c(void *c, uint8_t bus, uint8_t address, const uint8_t *out, uint8_t out_count,
                     uint8_t *in, uint8_t in_count)
{
    (void)bus;
    return i2c_by(c, address, out, out_count, in, in_count, true, true);
}

/* --- and what such devices find --- */

static tl_status never_stops(void *c, uint8_t bus, uint8_t address, const uint8_t *out, uint8_t out_count,
                             uint8_t *in, uint8_t in_count)
{
    (void)bus;
    return i2c_by(c, address, out, out_count, in, in_count, true, false);
}
static tl_status stops_in_between(void *c, uint8_t bus, uint8_t address, const uint8_t *out,
                                  uint8_t out_count, uint8_t *in, uint8_t in_count)
{
    (void)bus;
    return i2c_by(c, address, out, out_count, in, in_count, false, true);
}
static tl_status turns_bytes(void *c, uint8_t bus, uint8_t address, const uint8_t *out, uint8_t out_count,
                             uint8_t *in, uint8_t in_count)
{
    const tl_status status = i2c(c, bus, address, out, out_count, in, in_count);
    const uint8_t first = in_count > 1 ? in[0] : 0;
    if (in_count > 1) {
        in[0] = in[1];
        in[1] = first;
    }
    return status;
}
static tl_status selects_nobody(void *c, uint8_t bus, uint8_t select, const uint8_t *out, uint8_t *in,
                                uint8_t count)
{
    const tl_status status = tl_port_spi_exchange(INNER(c), bus, select, out, in, count);
    spi_device(false, out, in, count);
    return status;
}
static tl_status keeps_selected(void *c, uint8_t bus, uint8_t select, const uint8_t *out, uint8_t *in,
                                uint8_t count)
{
    const tl_status status = spi(c, bus, select, out, in, count);
    (void)tl_port_line_drive(INNER(c), select, false);
    return status;
}
static tl_status turns_frames(void *c, uint8_t bus, uint8_t select, const uint8_t *out, uint8_t *in,
                              uint8_t count)
{
    uint8_t turned[4] = {0}, back[4] = {0};
    for (uint8_t i = 0; i < count; i++)
        turned[i] = out[count - 1 - i];
    const tl_status status = spi(c, bus, select, turned, back, count);
    for (uint8_t i = 0; i < count; i++)
        in[i] = back[count - 1 - i];
    return status;
}
static tl_status drives_its_port(void *c, uint8_t line, bool high)
{
    const tl_status status = tl_port_line_drive(INNER(c), line, high);
    for (uint8_t other = 0; status == TL_OK && other < 42; other++)
        (void)tl_port_line_drive(INNER(c), other, high);
    return status;
}
static tl_status forgets_directions(void *c, uint8_t line, tl_line_use as)
{
    const tl_status status = use(c, line, as);
    for (uint8_t other = 0; as == TL_LINE_OUTPUT && other < 42; other++) {
        if (other != line && other != ((front *)c)->weak)
            (void)tl_port_line_use(INNER(c), other, TL_LINE_INPUT);
    }
    return status;
}
static tl_status pulls_nothing(void *c, uint8_t line, tl_line_use as)
{
    return use(c, line, as == TL_LINE_INPUT_PULL_UP ? TL_LINE_INPUT : as);
}
static tl_status pulls_always(void *c, uint8_t line, tl_line_use as)
{
    return use(c, line, as == TL_LINE_INPUT ? TL_LINE_INPUT_PULL_UP : as);
}
static tl_status acquires_nothing(void *c, uint8_t channel, uint8_t reference, uint32_t acquisition_ns)
{
    (void)acquisition_ns;
    return start(c, channel, reference, 1000);
}
static tl_status blocks_a_while(void *c, uint8_t channel, uint8_t reference, uint32_t acquisition_ns)
{
    const tl_status status = start(c, channel, reference, acquisition_ns);
    (void)tl_port_wait_us(INNER(c), 150 + acquisition_ns / 1000);
    return status;
}
static tl_status has_ended_always(void *c, bool *over)
{
    (void)c;
    *over = true;
    return TL_OK;
}
static tl_status word_of_before(void *c, uint32_t *delivered)
{
    front *own = c;
    uint32_t now = own->last_word;
    const tl_status status = word(c, &now);
    *delivered = own->last_word;
    own->last_word = now;
    return status == TL_ERR_PORT ? TL_OK : status;
}
static tl_status loses_low_bits(void *c, uint32_t *delivered)
{
    const tl_status status = word(c, delivered);
    *delivered &= ~UINT32_C(15);
    return status;
}
static tl_status stands_from_the_start(void *c, uint32_t *now_us)
{
    (void)c;
    *now_us = 7;
    return TL_OK;
}
static tl_status counts_milliseconds(void *c, uint32_t *now_us)
{
    const tl_status status = clock_of(c, now_us);
    *now_us /= 1000;
    return status;
}

static tl_port_ops straight_through(void)
{
    return (tl_port_ops){.line_use = use,
                         .line_level = level,
                         .line_drive = drive,
                         .line_duty = duty,
                         .conversion_start = start,
                         .conversion_ended = ended,
                         .conversion_word = word,
                         .converter_power = power,
                         .clock_us = clock_of,
                         .wait_us = wait,
                         .wait_change = change,
                         .spi_exchange = spi,
                         .i2c_transfer = i2c};
}

static void each_broken_promise_is_found(void)
{
    tl_port_ops rows[35];
    static const char *const names[] = {"straight through",
                                        "wraps early",
                                        "steps back",
                                        "stands",
                                        "waits too short",
                                        "level late",
                                        "no line",
                                        "starts late",
                                        "no channel",
                                        "never ends",
                                        "8 bits",
                                        "on the left",
                                        "power ignored",
                                        "drives an input",
                                        "drives nothing",
                                        "hears everybody",
                                        "fills in early",
                                        "coarser than it says",
                                        "as coarse as it says",
                                        "never stops",
                                        "stops in between",
                                        "turns bytes",
                                        "selects nobody",
                                        "keeps selected",
                                        "turns frames",
                                        "drives its port",
                                        "forgets directions",
                                        "pulls nothing",
                                        "pulls always",
                                        "acquires nothing",
                                        "blocks a while",
                                        "ended always",
                                        "loses low bits",
                                        "stands from the start",
                                        "counts milliseconds"};
    for (size_t i = 0; i < ROWS(rows); i++)
        rows[i] = straight_through();
    rows[1].clock_us = wraps_early;
    rows[2].clock_us = steps_back;
    rows[3].clock_us = stands;
    rows[4].wait_us = waits_too_short;
    rows[5].line_level = level_after_a_while;
    rows[6].line_level = level_of_anything;
    rows[7].conversion_start = starts_late;
    rows[8].conversion_start = starts_anything;
    rows[9].conversion_ended = ends_never;
    rows[10].conversion_word = word_of_8_bits;
    rows[11].conversion_word = word_on_the_left;
    rows[12].converter_power = power_ignored;
    rows[13].line_drive = drives_anything;
    rows[14].line_drive = drives_nothing;
    rows[15].i2c_transfer = hears_everybody;
    rows[16].i2c_transfer = fills_in_before_it_knows;
    rows[17].clock_us = rows[18].clock_us = is_coarse;
    rows[18].clock_step_us = 500;
    rows[19].i2c_transfer = never_stops;
    rows[20].i2c_transfer = stops_in_between;
    rows[21].i2c_transfer = turns_bytes;
    rows[22].spi_exchange = selects_nobody;
    rows[23].spi_exchange = keeps_selected;
    rows[24].spi_exchange = turns_frames;
    rows[25].line_drive = drives_its_port;
    rows[26].line_use = forgets_directions;
    rows[27].line_use = pulls_nothing;
    rows[28].line_use = pulls_always;
    rows[29].conversion_start = acquires_nothing;
    rows[30].conversion_start = blocks_a_while;
    rows[31].conversion_ended = has_ended_always;
    rows[31].conversion_word = word_of_before;
    rows[32].conversion_word = loses_low_bits;
    rows[33].clock_us = stands_from_the_start;
    rows[34].clock_us = counts_milliseconds;
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_bench *bench = tl_bench_open(PLAN, SCENE, NULL);
        CU_ASSERT_FATAL(bench != NULL);
        const port_facts facts = facts_of_front(bench);
        front own = {.inner = tl_bench_port(bench), .weak = facts.weak_line};
        tl_port_reader reader = {NULL};
        const tl_port port = {&rows[i], &own, &reader};
        const unsigned broken = port_conformance(&port, &facts, NULL, NULL);
        CHECK_ROW(names[i], (broken > 0) == (i > 0 && i != 18));
        tl_bench_free(bench);
    }
}

CU_TestInfo conformance_tests[] = {
    {"the bench keeps every promise", the_bench_keeps_every_promise},
    {"each broken promise is found", each_broken_promise_is_found},
    CU_TEST_INFO_NULL,
};
