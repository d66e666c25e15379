/* SPDX-License-Identifier: MIT */
/* The bench as a port. Every call takes its virtual time and can be made to fail. */
#include "bench/bench_internal.h"
#include <math.h>

enum { POLL_NS = 100000 };

/* Counts the call and lets time pass; the n-th call fails when asked to, and perhaps all after it. */
static tl_status enter(tl_bench *bench, tl_bench_call call)
{
    bench->calls++;
    int64_t takes_ns = bench->call_ns[call];
    if (bench->call_jitter_ns[call] > 0)
        takes_ns += (int64_t)((double)bench->call_jitter_ns[call] * random_even(&bench->jitter));
    bench_pass_to(bench, bench->now_ns + takes_ns);
    if (bench->fail_at == 0 || bench->calls < bench->fail_at)
        return TL_OK;
    return bench->fail_once && bench->calls > bench->fail_at ? TL_OK : TL_ERR_PORT;
}

static bool is_line(const tl_bench *bench, uint8_t line)
{
    return line < bench->circuit->plan->board->pin_count && bench->circuit->plan->pins[line].digital;
}

static tl_status use_line(void *context, uint8_t line, tl_line_use use)
{
    tl_bench *bench = context;
    const tl_status status = enter(bench, TL_BENCH_LINE_USE);
    if (status != TL_OK)
        return status;
    if (!is_line(bench, line))
        return TL_ERR_ARG;
    /* A pull that the board does not have. */
    const tl_pin_limits *limits = &bench->circuit->plan->pins[line].limits;
    if ((use == TL_LINE_INPUT_PULL_UP && !(limits->pull_up.nominal > 0)) ||
        (use == TL_LINE_INPUT_PULL_DOWN && !(limits->pull_down.nominal > 0)))
        return TL_ERR_UNSUPPORTED;
    bench->lines[line] = (bench_line){.use = use};
    line_moved(bench, line);
    return TL_OK;
}

static tl_status line_level(void *context, uint8_t line, bool *high)
{
    tl_bench *bench = context;
    const tl_status status = enter(bench, TL_BENCH_LINE_LEVEL);
    if (status != TL_OK)
        return status;
    if (!is_line(bench, line) || bench->lines[line].use == TL_LINE_RELEASED)
        return TL_ERR_ARG;
    *high = pin_level(bench, line);
    return TL_OK;
}

static tl_status drive(tl_bench *bench, tl_bench_call call, uint8_t line, bool high, uint16_t share)
{
    const tl_status status = enter(bench, call);
    if (status != TL_OK)
        return status;
    if (!is_line(bench, line) || bench->lines[line].use != TL_LINE_OUTPUT)
        return TL_ERR_ARG;
    bench->lines[line].high = high;
    bench->lines[line].duty = share;
    line_moved(bench, line);
    return TL_OK;
}

static tl_status drive_line(void *context, uint8_t line, bool high)
{
    return drive(context, TL_BENCH_LINE_DRIVE, line, high, high ? UINT16_MAX : 0);
}

/* What is connected to it sees the mean; inputs see high for more than half. */
static tl_status line_duty(void *context, uint8_t line, uint16_t share)
{
    tl_bench *bench = context;
    if (is_line(bench, line) && bench->circuit->plan->board->pins[line].duty == TL_NONE) {
        const tl_status status = enter(bench, TL_BENCH_LINE_DUTY);
        return status == TL_OK ? TL_ERR_UNSUPPORTED : status;
    }
    return drive(bench, TL_BENCH_LINE_DUTY, line, share > UINT16_MAX / 2, share);
}

static tl_status converter_power(void *context, bool on)
{
    tl_bench *bench = context;
    const tl_status status = enter(bench, TL_BENCH_CONVERTER_POWER);
    if (status == TL_OK) {
        bench->unpowered = !on;
        bench->converting = false;
    }
    return status;
}

static bool has_channel(const tl_board *board, uint8_t channel)
{
    for (int i = 0; i < board->pin_count; i++) {
        if (board->pins[i].channel == channel)
            return true;
    }
    return false;
}

static tl_status start_conversion(void *context, uint8_t channel, uint8_t reference, uint32_t acquisition_ns)
{
    tl_bench *bench = context;
    const tl_status status = enter(bench, TL_BENCH_CONVERSION_START);
    if (status != TL_OK)
        return status;
    if (bench->unpowered)
        return TL_ERR_PORT;
    if (bench->first_at_channel[channel] == TL_NONE && !has_channel(bench->circuit->plan->board, channel))
        return TL_ERR_ARG;
    const tl_converter *part = bench->circuit->plan->converters[0].part;
    if (reference >= part->reference_count && reference > 0)
        return TL_ERR_UNSUPPORTED;
    converter_start(bench, channel, reference, acquisition_ns);
    return TL_OK;
}

static tl_status conversion_ended(void *context, bool *ended)
{
    tl_bench *bench = context;
    const tl_status status = enter(bench, TL_BENCH_CONVERSION_ENDED);
    if (status == TL_OK)
        *ended = bench->converting && !bench->never_end && bench->now_ns >= bench->end_ns;
    return status;
}

static tl_status conversion_word(void *context, uint32_t *word)
{
    tl_bench *bench = context;
    const tl_status status = enter(bench, TL_BENCH_CONVERSION_WORD);
    if (status != TL_OK)
        return status;
    if (!bench->converting || bench->now_ns < bench->end_ns)
        return TL_ERR_PORT;
    *word = bench->word;
    return TL_OK;
}

static tl_status clock_us(void *context, uint32_t *now_us)
{
    tl_bench *bench = context;
    const tl_status status = enter(bench, TL_BENCH_CLOCK);
    const int64_t at_ns = bench->frozen ? bench->frozen_ns : bench->now_ns;
    if (status == TL_OK)
        *now_us = bench->clock_start_us + (uint32_t)(uint64_t)(at_ns / 1000);
    return status;
}

static tl_status wait_us(void *context, uint32_t duration_us)
{
    tl_bench *bench = context;
    const tl_status status = enter(bench, TL_BENCH_WAIT);
    if (status == TL_OK)
        tl_bench_go_to(bench, 1e-9 * (double)bench->now_ns + 1e-6 * duration_us);
    return status;
}

/* From one moment at which a level may change to the next; where nothing is sure, a little on. */
static tl_status wait_change(void *context, const uint8_t *lines, const bool *seen_high, uint8_t count,
                             uint32_t at_most_us)
{
    tl_bench *bench = context;
    bool changed = false;
    const int64_t end_ns = bench->now_ns + (int64_t)at_most_us * 1000;
    const tl_status status = enter(bench, TL_BENCH_WAIT_CHANGE);
    if (status != TL_OK)
        return status;
    for (int i = 0; i < count; i++) {
        if (!is_line(bench, lines[i]) || bench->lines[lines[i]].use == TL_LINE_RELEASED)
            return TL_ERR_ARG;
        changed = changed || pin_level(bench, lines[i]) != seen_high[i];
    }
    while (bench->now_ns < end_ns && !changed) {
        int64_t next = end_ns;
        for (int i = 0; i < count && next > bench->now_ns; i++)
            next = line_quiet_until(bench, lines[i], next);
        const int64_t later = bench->now_ns + POLL_NS;
        bench_pass_to(bench, next > bench->now_ns ? next : later < end_ns ? later : end_ns);
        for (int i = 0; i < count; i++)
            changed = changed || pin_level(bench, lines[i]) != seen_high[i];
    }
    return TL_OK;
}

static tl_status spi_exchange(void *context, uint8_t bus, uint8_t select, const uint8_t *out, uint8_t *in,
                              uint8_t count)
{
    tl_bench *bench = context;
    const tl_status status = enter(bench, TL_BENCH_SPI);
    if (status != TL_OK)
        return status;
    if (is_line(bench, select)) {
        bench->lines[select] = (bench_line){.use = TL_LINE_OUTPUT};
        line_moved(bench, select);
    }
    bus_spi(bench, bus, select, out, in, count);
    if (is_line(bench, select)) {
        bench->lines[select].high = true;
        bench->lines[select].duty = UINT16_MAX;
        line_moved(bench, select);
    }
    return TL_OK;
}

static tl_status i2c_transfer(void *context, uint8_t bus, uint8_t address, const uint8_t *out,
                              uint8_t out_count, uint8_t *in, uint8_t in_count)
{
    tl_bench *bench = context;
    const tl_status status = enter(bench, TL_BENCH_I2C);
    return status == TL_OK ? bus_i2c(bench, bus, address, out, out_count, in, in_count) : status;
}

const tl_port_ops bench_port_ops = {
    .line_use = use_line,
    .line_level = line_level,
    .line_drive = drive_line,
    .line_duty = line_duty,
    .converter_power = converter_power,
    .conversion_start = start_conversion,
    .conversion_ended = conversion_ended,
    .conversion_word = conversion_word,
    .clock_us = clock_us,
    .wait_us = wait_us,
    .wait_change = wait_change,
    .spi_exchange = spi_exchange,
    .i2c_transfer = i2c_transfer,
};
