/* SPDX-License-Identifier: MIT */
/* SPI, bit by bit: a chip that is selected takes a bit and gives one with every clock, highest first. */
#include "bench/bus_internal.h"
#include <stdio.h>
#include <string.h>

enum { CLOCK, IN, OUT, BIT_NS = 1000 }; /* IN and OUT as the board names them: what it hears, what it says */

/* Takes what it was told apart, from the highest bit: what is fixed must be so, fields go into their
 * registers. The input's name; NULL where there is none of this number. */
static const char *take_head(spi_chip *chip, const tl_converter *part, unsigned long *words)
{
    int left = tl_converter_head_bits(part), channel = 0;
    bool single = true;
    for (int i = 0; i < part->frame.send_count; i++) {
        const char *send = part->frame.send[i];
        const int bits = tl_converter_send_bits(part, i);
        left -= bits;
        const unsigned long said = chip->head >> left & ((1ull << bits) - 1);
        int index = 0;
        char why[160], number[24];
        const tl_field *field = tl_converter_field(part, send, &index);
        snprintf(number, sizeof number, "%lu", said);
        if (field != NULL)
            (void)tl_field_set(field, number, &words[index], why);
        else if (strcmp(send, "channel") == 0)
            channel = (int)said;
        else if (strcmp(send, "single") == 0)
            single = said != 0;
        else
            chip->refuses = chip->refuses || said != (send[0] == '1');
    }
    int index = 0;
    if (tl_converter_field(part, "input", &index) != NULL ||
        tl_converter_field(part, "channel", &index) != NULL)
        return chip_input(part, words);
    if (channel >= (single ? part->input_count : part->pair_count))
        return NULL;
    return single ? part->inputs[channel] : part->pairs[channel];
}

static void begin(tl_bench *bench, spi_chip *chip, const tl_converter *part)
{
    const char *input = take_head(chip, part, bench->chips[chip->converter].words);
    chip->started = true;
    if (!chip->refuses)
        chip_convert(bench, chip->converter, input);
}

/* One clock: takes what the board says, answers what the chip says; high where it keeps silent. */
static bool clock_chip(tl_bench *bench, spi_chip *chip, bool said)
{
    const tl_converter *part = bench->circuit->plan->converters[chip->converter].part;
    const tl_frame *frame = &part->frame;
    const int head = tl_converter_head_bits(part), at = chip->at++;
    if (at < head) {
        chip->head = chip->head << 1 | said;
        return true;
    }
    if (!chip->started)
        begin(bench, chip, part);
    if (chip->refuses || at >= head + frame->zeros + frame->take)
        return true;
    if (at < head + frame->zeros)
        return false;
    return (bench->chips[chip->converter].word >> (frame->take - 1 - (at - head - frame->zeros)) & 1) != 0;
}

/* What goes over a line that may be stuck; nothing passes one that is. */
static bool passes(const tl_bench *bench, int pin, bool level)
{
    int stuck = -1;
    if (pin != TL_NONE)
        (void)line_really(bench, pin, &stuck);
    return stuck >= 0 ? stuck == 1 : level;
}

static bool is_stuck(const tl_bench *bench, int pin)
{
    return passes(bench, pin, true) == passes(bench, pin, false);
}

/* Whether its wire leads to another one's place. */
static bool is_swapped(const tl_bench *bench, int pin)
{
    int stuck = -1;
    return pin != TL_NONE && line_really(bench, pin, &stuck) != pin;
}

static int chip_at(const tl_plan *plan, int bus, int select)
{
    for (int i = 1; i < plan->converter_count; i++) {
        if (plan->converters[i].bus == bus && plan->converters[i].select_pin == select)
            return i;
    }
    return TL_NONE;
}

void tl_bench_spi_begin(tl_bench *bench, uint8_t bus, uint8_t select)
{
    const tl_plan *plan = bench->circuit->plan;
    static const int none[TL_BUS_LINES] = {TL_NONE, TL_NONE, TL_NONE};
    bench_frame *frame = &bench->frame;
    frame->pins = bus < plan->bus_count && plan->buses[bus].spi ? plan->buses[bus].pins : none;
    int stuck = -1; /* two chips' select lines in each other's place select each other */
    const int selects = select < plan->board->pin_count ? line_really(bench, select, &stuck) : select;
    frame->chip = (spi_chip){.converter = chip_at(plan, bus, selects)};
    /* A chip whose select line or clock does not move, or without its supply, hears nothing. */
    frame->hears = frame->chip.converter != TL_NONE && !is_stuck(bench, frame->pins[CLOCK]) &&
                   !is_swapped(bench, frame->pins[CLOCK]) && !is_swapped(bench, frame->pins[OUT]) &&
                   stuck < 0 && !supply_is_missing(bench, plan->converters[frame->chip.converter].supply);
}

uint8_t tl_bench_spi_byte(tl_bench *bench, uint8_t out)
{
    bench_frame *frame = &bench->frame;
    uint8_t in = 0;
    for (int bit = 7; bit >= 0 && frame->pins != NULL; bit--) {
        const bool said = (out >> bit & 1) != 0;
        const bool heard =
            frame->hears ? clock_chip(bench, &frame->chip, passes(bench, frame->pins[OUT], said)) : true;
        if (passes(bench, frame->pins[IN], heard))
            in = (uint8_t)(in | 1u << bit);
        bench_pass_to(bench, bench->now_ns + BIT_NS);
    }
    return in;
}

void bus_spi(tl_bench *bench, uint8_t bus, uint8_t select, const uint8_t *out, uint8_t *in, uint8_t count)
{
    tl_bench_spi_begin(bench, bus, select);
    for (uint8_t i = 0; i < count; i++)
        in[i] = tl_bench_spi_byte(bench, out[i]);
}
