/* SPDX-License-Identifier: MIT */
/* One function a subject; KEEPS() tells each promise in the very words that are tried. */
#include "conformance.h"
#include "tinyladder/rom.h"
#include <stddef.h>

typedef struct {
    const tl_port *port;
    const port_facts *facts;
    port_verdict *verdict;
    void *context;
    unsigned broken;
    uint32_t begun_us;
    uint32_t asking_us; /* what a question about the time takes itself */
} trial;

static void tell(trial *t, const TL_IN_ROM char *promise, bool kept)
{
    t->broken += !kept;
    if (t->verdict != NULL)
        t->verdict(t->context, promise, kept);
}

/* The words stay in read-only memory: there are more of them than some chips have RAM. */
#define KEEPS(t, promise)                                                                                    \
    do {                                                                                                     \
        static const TL_ROM char words[] = #promise;                                                         \
        tell(t, words, promise);                                                                             \
    } while (0)

/* --- time --- */

static uint32_t now_of(trial *t)
{
    uint32_t now_us = 0;
    KEEPS(t, tl_port_clock_us(t->port, &now_us) == TL_OK);
    return now_us;
}

static uint32_t passed_us(trial *t)
{
    return now_of(t) - t->begun_us;
}

/* What the port says of its clock. */
static uint32_t clock_step_us(const trial *t)
{
    const uint16_t step_us = t->port->ops->clock_step_us;
    return step_us > 0 ? step_us : 1;
}

/* A call that may take so long, by the port's own clock. */
static bool within(trial *t, uint32_t most_us)
{
    return passed_us(t) <= most_us + 2 * clock_step_us(t) + 4 * t->asking_us + 5;
}

static void begin(trial *t)
{
    t->begun_us = now_of(t);
}

static void waits_are_as_long_as_they_say(trial *t)
{
    for (uint32_t wait_us = 1; wait_us <= 100000; wait_us *= 10) {
        begin(t);
        KEEPS(t, tl_port_wait_us(t->port, wait_us) == TL_OK);
        const uint32_t took_us = passed_us(t);
        KEEPS(t, took_us + clock_step_us(t) >= wait_us);
        KEEPS(t, took_us < wait_us + 100000);
    }
}

/* No chip asks as often as that in a step of its clock: then it is no microsecond, or there is none.
 * Everything else waits by that clock, so that it is asked first, and alone. */
#define QUESTIONS_A_US UINT32_C(400)
#define STANDS UINT32_C(60000)

static bool the_clock_runs(trial *t)
{
    const uint32_t began_us = now_of(t);
    uint32_t seen_us = began_us, asked = 0, steps = 0;
    for (; asked < STANDS && steps < 8; asked++) {
        const uint32_t now_us = now_of(t);
        steps += now_us != seen_us;
        seen_us = now_us;
    }
    t->asking_us = (seen_us - began_us) / (asked > 0 ? asked : 1) + 1;
    const bool runs = steps == 8, plausible = asked / 8 <= QUESTIONS_A_US * clock_step_us(t);
    KEEPS(t, runs);
    KEEPS(t, plausible);
    return runs && plausible;
}

/* A clock that wraps before 2^32, or goes back, shows a step that is far too large; one that is coarser than
 * its port says, no step that is as small. */
static void the_clock_goes_on(trial *t)
{
    uint32_t seen_us = now_of(t), left_us = t->facts->watch_us, least_us = 0;
    bool stands = true;
    for (uint16_t i = 0; i < 1000 || (least_us == 0 && i < 60000); i++) {
        const uint32_t now_us = now_of(t), step_us = now_us - seen_us;
        const bool goes_on = step_us < 100000;
        KEEPS(t, goes_on);
        if (!goes_on)
            return;
        if (step_us > 0 && (least_us == 0 || step_us < least_us))
            least_us = step_us;
        seen_us = now_us;
    }
    KEEPS(t, least_us <= clock_step_us(t) + 2 * t->asking_us + 5); /* a call takes its time, too */
    while (left_us > 0) {
        const uint32_t wait_us = left_us < 50000 ? left_us : 50000;
        KEEPS(t, tl_port_wait_us(t->port, wait_us) == TL_OK);
        const uint32_t now_us = now_of(t);
        const bool goes_on = now_us - seen_us < wait_us + 100000;
        KEEPS(t, goes_on);
        if (!goes_on)
            return;
        stands = stands && now_us == seen_us;
        seen_us = now_us;
        left_us -= wait_us;
    }
    KEEPS(t, t->facts->watch_us == 0 || !stands);
}

/* --- lines --- */

static void lines_do_as_told(trial *t)
{
    const port_facts *f = t->facts;
    bool high = !f->input_high;
    begin(t);
    KEEPS(t, tl_port_line_use(t->port, f->input_line, TL_LINE_INPUT) == TL_OK);
    KEEPS(t, within(t, 100));
    begin(t);
    KEEPS(t, tl_port_line_level(t->port, f->input_line, &high) == TL_OK && high == f->input_high);
    KEEPS(t, within(t, 100));
    KEEPS(t, tl_port_line_drive(t->port, f->input_line, true) != TL_OK); /* an input is not driven */
    KEEPS(t, tl_port_line_use(t->port, f->input_line, TL_LINE_RELEASED) == TL_OK);

    KEEPS(t, tl_port_line_use(t->port, f->output_line, TL_LINE_OUTPUT) == TL_OK);
    KEEPS(t, tl_port_line_level(t->port, f->output_line, &high) == TL_OK && !high); /* until told otherwise */
    begin(t);
    KEEPS(t, tl_port_line_drive(t->port, f->output_line, true) == TL_OK);
    KEEPS(t, within(t, 100));
    KEEPS(t, tl_port_line_level(t->port, f->output_line, &high) == TL_OK && high);
    KEEPS(t, tl_port_line_use(t->port, f->output_line, TL_LINE_RELEASED) == TL_OK);
    KEEPS(t, tl_port_line_drive(t->port, f->output_line, true) != TL_OK);

    /* It was high when it was released: it begins low all the same. */
    KEEPS(t, tl_port_line_use(t->port, f->output_line, TL_LINE_OUTPUT) == TL_OK);
    KEEPS(t, tl_port_line_level(t->port, f->output_line, &high) == TL_OK && !high);
    KEEPS(t, tl_port_line_use(t->port, f->output_line, TL_LINE_RELEASED) == TL_OK);

    high = true;
    KEEPS(t, tl_port_line_use(t->port, f->no_line, TL_LINE_INPUT) != TL_OK);
    KEEPS(t, tl_port_line_level(t->port, f->no_line, &high) != TL_OK && high);
}

/* What is done to one line is done to that one alone. */
static void lines_leave_others_alone(trial *t)
{
    const port_facts *f = t->facts;
    bool high = false;
    if (!f->has_second_line)
        return;
    KEEPS(t, tl_port_line_use(t->port, f->output_line, TL_LINE_OUTPUT) == TL_OK);
    KEEPS(t, tl_port_line_drive(t->port, f->output_line, true) == TL_OK);
    KEEPS(t, tl_port_line_use(t->port, f->second_line, TL_LINE_OUTPUT) == TL_OK);
    KEEPS(t, tl_port_line_level(t->port, f->output_line, &high) == TL_OK && high);
    KEEPS(t, tl_port_line_drive(t->port, f->second_line, true) == TL_OK);
    KEEPS(t, tl_port_line_drive(t->port, f->second_line, false) == TL_OK);
    KEEPS(t, tl_port_line_level(t->port, f->output_line, &high) == TL_OK && high);
    KEEPS(t, tl_port_line_drive(t->port, f->output_line, false) == TL_OK); /* still an output */
    KEEPS(t, tl_port_line_level(t->port, f->second_line, &high) == TL_OK && !high);
    KEEPS(t, tl_port_line_use(t->port, f->second_line, TL_LINE_RELEASED) == TL_OK);
    KEEPS(t, tl_port_line_use(t->port, f->output_line, TL_LINE_RELEASED) == TL_OK);
}

/* The chip's own pull lifts a line that a megohm holds low, and only when it is asked for. */
static void pulls_are_as_told(trial *t)
{
    const port_facts *f = t->facts;
    bool high = true;
    if (!f->has_weak_line)
        return;
    for (uint8_t i = 0; i < 2; i++) {
        KEEPS(t, tl_port_line_use(t->port, f->weak_line, TL_LINE_INPUT) == TL_OK);
        KEEPS(t, tl_port_wait_us(t->port, 1000) == TL_OK);
        KEEPS(t, tl_port_line_level(t->port, f->weak_line, &high) == TL_OK && !high);
        KEEPS(t, tl_port_line_use(t->port, f->weak_line, TL_LINE_INPUT_PULL_UP) == TL_OK);
        KEEPS(t, tl_port_wait_us(t->port, 1000) == TL_OK);
        KEEPS(t, tl_port_line_level(t->port, f->weak_line, &high) == TL_OK && high);
    }
    KEEPS(t, tl_port_line_use(t->port, f->weak_line, TL_LINE_RELEASED) == TL_OK);
}

/* Nothing changes: it waits at most so long. One that has changed already is not waited for. */
static void changes_are_waited_for(trial *t)
{
    const port_facts *f = t->facts;
    const uint8_t lines[] = {f->input_line, f->no_line};
    bool seen[] = {f->input_high, false};
    if (!f->has_wait_change)
        return;
    KEEPS(t, tl_port_line_use(t->port, f->input_line, TL_LINE_INPUT) == TL_OK);
    begin(t);
    KEEPS(t, tl_port_wait_change(t->port, lines, seen, 1, 5000) == TL_OK);
    KEEPS(t, passed_us(t) < 100000);
    seen[0] = !f->input_high;
    begin(t);
    KEEPS(t, tl_port_wait_change(t->port, lines, seen, 1, 1000000) == TL_OK);
    KEEPS(t, passed_us(t) < 500000);
    KEEPS(t, tl_port_wait_change(t->port, lines, seen, 2, 5000) != TL_OK);
    KEEPS(t, tl_port_line_use(t->port, f->input_line, TL_LINE_RELEASED) == TL_OK);
}

/* At both ends a share is a level. */
static void shares_of_time_are_driven(trial *t)
{
    const port_facts *f = t->facts;
    bool high = true;
    if (!f->has_duty)
        return;
    KEEPS(t, tl_port_line_duty(t->port, f->duty_line, 1) != TL_OK); /* not an output yet */
    KEEPS(t, tl_port_line_use(t->port, f->duty_line, TL_LINE_OUTPUT) == TL_OK);
    KEEPS(t, tl_port_line_duty(t->port, f->duty_line, UINT16_MAX / 3) == TL_OK);
    KEEPS(t, tl_port_line_duty(t->port, f->duty_line, 0) == TL_OK);
    KEEPS(t, tl_port_line_level(t->port, f->duty_line, &high) == TL_OK && !high);
    KEEPS(t, tl_port_line_duty(t->port, f->duty_line, UINT16_MAX) == TL_OK);
    KEEPS(t, tl_port_line_level(t->port, f->duty_line, &high) == TL_OK && high);
    KEEPS(t, tl_port_line_use(t->port, f->duty_line, TL_LINE_RELEASED) == TL_OK);
}

/* --- converter --- */

static void conversions_end_and_fit(trial *t)
{
    const port_facts *f = t->facts;
    uint32_t word = 0;
    KEEPS(t, tl_port_claim(t->port, t) == TL_OK);
    for (uint8_t i = 0; i < 20; i++) {
        const uint32_t acquisition_ns = UINT32_C(1000) << i % 5;
        bool ended = false;
        begin(t);
        KEEPS(t, tl_port_conversion_start(t->port, t, f->channel, f->reference, acquisition_ns) == TL_OK);
        KEEPS(t, within(t, 100 + acquisition_ns / 1000));
        for (uint32_t asked = 0; !ended && asked < 100000; asked++) {
            if (tl_port_conversion_ended(t->port, t, &ended) != TL_OK)
                break;
        }
        KEEPS(t, ended && within(t, f->conversion_us + acquisition_ns / 1000));
        KEEPS(t, passed_us(t) + clock_step_us(t) >= f->conversion_least_us);
        KEEPS(t, tl_port_conversion_word(t->port, t, &word) == TL_OK);
        KEEPS(t, word >= f->least_word && word <= f->largest_word);
    }
    tl_port_yield(t->port, t);
    word = 0xdeadbeef;
    KEEPS(t, tl_port_convert(t->port, f->no_channel, f->reference, 1000, 10000, &word) != TL_OK &&
                 word == 0xdeadbeef);
}

/* The capacitor is connected for as long as it was asked for. */
static void acquisitions_take_their_time(trial *t)
{
    enum { LONG_US = 3000 };
    const port_facts *f = t->facts;
    uint32_t word = 0;
    begin(t);
    KEEPS(t, tl_port_convert(t->port, f->channel, f->reference, LONG_US * UINT32_C(1000), 100000, &word) ==
                 TL_OK);
    KEEPS(t, f->own_acquisition || passed_us(t) + clock_step_us(t) >= LONG_US);
}

/* Each channel has its own voltage, and each conversion its own word, by turns. */
static void channels_are_told_apart(trial *t)
{
    const port_facts *f = t->facts;
    if (!f->has_second_channel)
        return;
    for (uint8_t i = 0; i < 10; i++) {
        uint32_t word = 0;
        const bool second = i % 2 != 0;
        KEEPS(t, tl_port_convert(t->port, second ? f->second_channel : f->channel, f->reference, 10000,
                                 100000, &word) == TL_OK);
        KEEPS(t, word >= (second ? f->second_least : f->least_word) &&
                     word <= (second ? f->second_largest : f->largest_word));
    }
}

static void a_converter_that_is_off_says_so(trial *t)
{
    const port_facts *f = t->facts;
    uint32_t word = 0xdeadbeef;
    if (!f->has_power)
        return;
    KEEPS(t, tl_port_converter_power(t->port, false) == TL_OK);
    KEEPS(t, tl_port_converter_power(t->port, false) == TL_OK);
    KEEPS(t, tl_port_convert(t->port, f->channel, f->reference, 1000, 10000, &word) != TL_OK &&
                 word == 0xdeadbeef);
    begin(t);
    KEEPS(t, tl_port_converter_power(t->port, true) == TL_OK);
    KEEPS(t, within(t, 1000));
    KEEPS(t, tl_port_convert(t->port, f->channel, f->reference, 1000, 10000, &word) == TL_OK &&
                 word >= f->least_word && word <= f->largest_word);
}

/* --- buses --- */

static void buses_move_bytes(trial *t)
{
    const port_facts *f = t->facts;
    uint8_t out[3] = {f->i2c_register, 0, 0}, in[3] = {0xa5, 0xa5, 0xa5};
    if (f->has_i2c) {
        begin(t);
        KEEPS(t, tl_port_i2c_transfer(t->port, f->i2c_bus, f->i2c_address, out, 1, in, 1) == TL_OK);
        KEEPS(t, within(t, 10000));
        KEEPS(t, tl_port_i2c_transfer(t->port, f->i2c_bus, f->i2c_address, NULL, 0, NULL, 0) == TL_OK);
        in[0] = 0xa5;
        KEEPS(t, tl_port_i2c_transfer(t->port, f->i2c_bus, f->i2c_nobody, out, 1, in, 1) == TL_ERR_ACK);
        KEEPS(t, in[0] == 0xa5);
    }
    if (f->has_i2c_bytes) {
        KEEPS(t, tl_port_i2c_transfer(t->port, f->i2c_bus, f->i2c_address, out, 1, in, 2) == TL_OK);
        KEEPS(t, in[0] == f->i2c_bytes[0] && in[1] == f->i2c_bytes[1]);
    }
    for (uint8_t i = 0; f->has_i2c_strict && i < 2; i++) {
        KEEPS(t,
              tl_port_i2c_transfer(t->port, f->i2c_bus, f->i2c_address, &f->i2c_strict, 1, in, 1) == TL_OK);
        KEEPS(t, in[0] == PORT_STRICT);
    }
    if (f->has_spi) {
        begin(t);
        KEEPS(t, tl_port_spi_exchange(t->port, f->spi_bus, f->spi_select, out, in, 3) == TL_OK);
        KEEPS(t, within(t, 10000));
        bool high = false;
        KEEPS(t, f->select_is_no_line ||
                     (tl_port_line_level(t->port, f->spi_select, &high) == TL_OK && high)); /* let go of */
    }
    if (f->has_spi_answer) {
        KEEPS(t, tl_port_spi_exchange(t->port, f->spi_bus, f->spi_select, f->spi_out, in, 3) == TL_OK);
        KEEPS(t, in[0] == f->spi_in[0] && in[1] == f->spi_in[1] && in[2] == f->spi_in[2]);
    }
}

unsigned port_conformance(const tl_port *port, const port_facts *facts, port_verdict *verdict, void *context)
{
    trial t = {port, facts, verdict, context, 0, 0, 0};
    if (!the_clock_runs(&t))
        return t.broken; /* whatever waits by it might wait for ever */
    waits_are_as_long_as_they_say(&t);
    the_clock_goes_on(&t);
    lines_do_as_told(&t);
    lines_leave_others_alone(&t);
    pulls_are_as_told(&t);
    changes_are_waited_for(&t);
    conversions_end_and_fit(&t);
    acquisitions_take_their_time(&t);
    channels_are_told_apart(&t);
    shares_of_time_are_driven(&t);
    a_converter_that_is_off_says_so(&t);
    buses_move_bytes(&t);
    return t.broken;
}
