/* SPI, bit by bit: a chip that is selected takes a bit and gives one with every clock, highest first. */
#include "bench/bus_internal.h"
#include <string.h>

enum { CLOCK, IN, OUT, BIT_NS = 1000 }; /* IN and OUT as the board names them: what it hears, what it says */

typedef struct {
    int converter;
    int at;      /* clocks since it was selected */
    int channel; /* as told so far */
    bool single, refuses, started;
} spi_chip;

/* What the board says with the bit `at` of the frame: one that is fixed, `single`, or part of the channel. */
static const char *bit_meant(const tl_converter *part, int at, int *channel_bit)
{
    for (int i = 0; i < part->frame.send_count; i++) {
        const bool channel = strcmp(part->frame.send[i], "channel") == 0;
        const int bits = channel ? chip_channel_bits(part) : 1;
        if (at < bits) {
            *channel_bit = bits - 1 - at;
            return part->frame.send[i];
        }
        at -= bits;
    }
    return NULL;
}

static int bits_to_send(const tl_converter *part)
{
    int bits = 0;
    for (int i = 0; i < part->frame.send_count; i++)
        bits += strcmp(part->frame.send[i], "channel") == 0 ? chip_channel_bits(part) : 1;
    return bits;
}

static void begin(tl_bench *bench, spi_chip *chip, const tl_converter *part)
{
    const char *const *names = (const char *const *)(chip->single ? part->inputs : part->pairs);
    const int count = chip->single ? part->input_count : part->pair_count;
    chip_convert(bench, chip->converter, chip->channel < count ? names[chip->channel] : NULL);
    chip->started = true;
}

/* One clock: takes what the board says, answers what the chip says; high where it keeps silent. */
static bool clock_chip(tl_bench *bench, spi_chip *chip, bool said)
{
    const tl_converter *part = bench->circuit->plan->converters[chip->converter].part;
    const tl_frame *frame = &part->frame;
    const int head = bits_to_send(part), at = chip->at++;
    int bit = 0;
    const char *meant = bit_meant(part, at, &bit);
    if (meant != NULL) {
        if (strcmp(meant, "channel") == 0)
            chip->channel |= said << bit;
        else if (strcmp(meant, "single") == 0)
            chip->single = said;
        else
            chip->refuses = chip->refuses || said != (meant[0] == '1');
        return true;
    }
    if (chip->refuses || at >= head + frame->zeros + frame->take)
        return true;
    if (!chip->started)
        begin(bench, chip, part);
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

static int chip_at(const tl_plan *plan, int bus, int select)
{
    for (int i = 1; i < plan->converter_count; i++) {
        if (plan->converters[i].bus == bus && plan->converters[i].select_pin == select)
            return i;
    }
    return TL_NONE;
}

tl_status bus_spi(tl_bench *bench, uint8_t bus, uint8_t select, const uint8_t *out, uint8_t *in,
                  uint8_t count)
{
    const tl_plan *plan = bench->circuit->plan;
    static const int none[TL_BUS_LINES] = {TL_NONE, TL_NONE, TL_NONE};
    const int *pins = bus < plan->bus_count && plan->buses[bus].spi ? plan->buses[bus].pins : none;
    spi_chip chip = {.converter = chip_at(plan, bus, select), .single = true};
    /* A chip whose select line or clock does not move hears nothing. */
    const bool hears = chip.converter != TL_NONE && !is_stuck(bench, pins[CLOCK]) && !is_stuck(bench, select);
    memset(in, 0, count);
    for (int i = 0; i < 8 * count; i++) {
        const bool said = (out[i / 8] >> (7 - i % 8) & 1) != 0;
        const bool heard = hears ? clock_chip(bench, &chip, passes(bench, pins[OUT], said)) : true;
        if (passes(bench, pins[IN], heard))
            in[i / 8] = (uint8_t)(in[i / 8] | 0x80u >> i % 8);
        bench->now_ns += BIT_NS;
    }
    return TL_OK;
}
