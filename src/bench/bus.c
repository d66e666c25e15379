/* Converters on buses: they answer byte by byte, as their files describe them. */
#include "bench_internal.h"
#include <math.h>
#include <stddef.h>
#include <stdlib.h>
#include <string.h>

/* --- what a converter was asked for --- */

static int signal_at(const tl_bench *bench, int converter, const char *input)
{
    const tl_plan *plan = bench->circuit->plan;
    const size_t length = strlen(plan->converters[converter].name);
    for (int i = 0; i < plan->signal_count; i++) {
        const tl_pin *pin = &plan->pins[plan->signals[i].pin];
        /* A pin of it is called NAME.INPUT. */
        if (pin->converter == converter && pin->mux == TL_NONE && strcmp(pin->name + length + 1, input) == 0)
            return i;
    }
    return -1;
}

static void convert(tl_bench *bench, int converter, const char *input)
{
    bench_chip *chip = &bench->chips[converter];
    const tl_converter *part = bench->circuit->plan->converters[converter].part;
    const int signal = input != NULL ? signal_at(bench, converter, input) : -1;
    const int32_t lowest = part->word.sign == TL_WORD_UNSIGNED ? 0 : -(INT32_C(1) << (part->word.bits - 1));
    /* An input that nothing hangs on reads somewhere. */
    const int32_t code = signal >= 0
                             ? (int32_t)converter_code(bench, signal)
                             : lowest + (int32_t)(random_even(&bench->noise) * ldexp(1, part->word.bits));
    (void)tl_word_make(&part->word, code, &chip->word);
    chip->end_ns = bench->now_ns + (int64_t)llround(1e9 * part->conversion);
}

/* Which input the settings name; a part without such a field has one only. */
static const char *input_in(const tl_converter *part, uint8_t settings)
{
    int index = 0;
    const tl_field *field = tl_converter_field(part, "input", &index);
    return field != NULL ? tl_field_value_name(field, tl_field_get(field, settings)) : part->inputs[0];
}

/* --- I2C --- */

static int chip_at_address(const tl_bench *bench, uint8_t bus, uint8_t address)
{
    const tl_plan *plan = bench->circuit->plan;
    for (int i = 1; i < plan->converter_count; i++) {
        if (plan->converters[i].bus == bus && plan->converters[i].address == address)
            return i;
    }
    return -1;
}

static uint8_t byte_of_result(const tl_converter *part, uint32_t word, uint8_t i)
{
    const int count = (part->word.width + 7) / 8;
    const int from_top = part->bytes == TL_DELIVERED_LOW_FIRST ? count - 1 - i : i;
    return (uint8_t)(i < count ? word >> 8 * (count - 1 - from_top) : 0xffu);
}

tl_status bus_i2c(tl_bench *bench, uint8_t bus, uint8_t address, const uint8_t *out, uint8_t out_count,
                  uint8_t *in, uint8_t in_count)
{
    const int converter = chip_at_address(bench, bus, address);
    if (converter < 0)
        return TL_ERR_ACK;
    const tl_converter *part = bench->circuit->plan->converters[converter].part;
    bench_chip *chip = &bench->chips[converter];
    bench->now_ns += 25000 * (int64_t)(out_count + in_count + 2); /* a byte at 400 kHz, addresses too */
    if (out_count > 0)
        chip->pointer = out[0];
    if (out_count > 1 && chip->pointer == part->frame.settings) {
        chip->settings = out[1];
        convert(bench, converter, input_in(part, chip->settings));
    }
    for (uint8_t i = 0; i < in_count; i++) {
        const uint8_t ready = (uint8_t)(part->frame.ready_bit >= 0 ? 1u << part->frame.ready_bit : 0u);
        if (chip->pointer == part->frame.settings)
            in[i] = (uint8_t)(bench->now_ns >= chip->end_ns && !bench->never_end
                                  ? chip->settings | ready
                                  : chip->settings & (uint8_t)~ready);
        else
            in[i] = chip->pointer == part->frame.result ? byte_of_result(part, chip->word, i) : 0xff;
    }
    return TL_OK;
}

/* --- SPI: bit by bit --- */

static bool bit_at(const uint8_t *bytes, int at)
{
    return (bytes[at / 8] >> (7 - at % 8) & 1) != 0;
}

static void set_bit(uint8_t *bytes, int at, bool one)
{
    bytes[at / 8] = (uint8_t)((bytes[at / 8] & ~(0x80u >> at % 8)) | (one ? 0x80u >> at % 8 : 0u));
}

static int channel_bits(const tl_converter *part)
{
    int bits = 0;
    while (1 << bits < part->input_count)
        bits++;
    return bits;
}

/* What was asked for, from the bits sent; false where a fixed bit is wrong: then the chip keeps silent. */
static bool read_sends(const tl_converter *part, const uint8_t *out, int *at, bool *single, int *channel)
{
    for (int i = 0; i < part->frame.send_count; i++) {
        const char *send = part->frame.send[i];
        if (strcmp(send, "channel") == 0) {
            for (int bit = channel_bits(part); bit-- > 0;)
                *channel |= bit_at(out, (*at)++) << bit;
            continue;
        }
        const bool one = bit_at(out, (*at)++);
        if (strcmp(send, "single") == 0)
            *single = one;
        else if (one != (send[0] == '1'))
            return false;
    }
    return true;
}

tl_status bus_spi(tl_bench *bench, uint8_t bus, uint8_t select, const uint8_t *out, uint8_t *in,
                  uint8_t count)
{
    const tl_plan *plan = bench->circuit->plan;
    int converter = -1, at = 0, channel = 0;
    bool single = true;
    memset(in, 0xff, count);                /* nobody drives the line: it idles high */
    bench->now_ns += 8000 * (int64_t)count; /* a byte at 1 MHz */
    for (int i = 1; i < plan->converter_count; i++)
        converter =
            plan->converters[i].bus == bus && plan->converters[i].select_pin == select ? i : converter;
    if (converter < 0)
        return TL_OK;
    const tl_converter *part = plan->converters[converter].part;
    const tl_frame *frame = &part->frame;
    int bits = frame->zeros + frame->take;
    for (int i = 0; i < frame->send_count; i++)
        bits += strcmp(frame->send[i], "channel") == 0 ? channel_bits(part) : 1;
    if (bits > 8 * count || !read_sends(part, out, &at, &single, &channel))
        return TL_OK;
    if (single)
        convert(bench, converter, channel < part->input_count ? part->inputs[channel] : NULL);
    else
        convert(bench, converter, channel < part->pair_count ? part->pairs[channel] : NULL);
    for (int i = 0; i < frame->zeros; i++)
        set_bit(in, at++, false);
    for (int i = frame->take; i-- > 0;)
        set_bit(in, at++, (bench->chips[converter].word >> i & 1) != 0);
    return TL_OK;
}

/* --- as the core is told it --- */

tl_external external_of(const tl_plan *plan, int converter)
{
    const tl_plan_converter *used = &plan->converters[converter];
    const tl_converter *part = used->part;
    const tl_frame *frame = &part->frame;
    tl_external external = {
        .kind = part->bus == TL_BUS_I2C ? TL_EXTERNAL_I2C : TL_EXTERNAL_SPI,
        .bus = (uint8_t)used->bus,
        .seat = (uint8_t)(part->bus == TL_BUS_I2C ? used->address : used->select_pin),
        .word = part->word,
        .byte_order = part->bytes == TL_DELIVERED_LOW_FIRST ? TL_BYTES_LOW_FIRST : TL_BYTES_HIGH_FIRST,
        .longest_us = (uint32_t)ceil(1e6 * fmax(frame->longest, 2 * part->conversion)) + 100,
        .settings = frame->settings >= 0 ? (uint8_t)frame->settings : (uint8_t)TL_EXTERNAL_NONE,
        .result = frame->result >= 0 ? (uint8_t)frame->result : 0,
        .ready_bit = frame->ready_bit >= 0 ? (uint8_t)frame->ready_bit : (uint8_t)TL_EXTERNAL_NONE,
        .channel_bits = (uint8_t)channel_bits(part),
        .zeros = (uint8_t)frame->zeros,
        .take = (uint8_t)frame->take};
    for (int i = 0; i < frame->send_count && i < TL_EXTERNAL_SENDS_MOST; i++) {
        const char *send = frame->send[i];
        external.send[external.send_count++] = strcmp(send, "channel") == 0  ? TL_SEND_CHANNEL
                                               : strcmp(send, "single") == 0 ? TL_SEND_SINGLE
                                               : send[0] == '1'              ? TL_SEND_1
                                                                             : TL_SEND_0;
    }
    return external;
}

static void set_field(const tl_converter *part, const char *name, const char *value, unsigned long *word)
{
    int index = 0;
    char why[160];
    const tl_field *field = tl_converter_field(part, name, &index);
    if (field != NULL)
        (void)tl_field_set(field, value, word, why);
}

/* Its settings by name: which input, and start now. */
tl_external_input external_input_of(const tl_plan *plan, int signal)
{
    const tl_pin *pin = &plan->pins[plan->signals[signal].pin];
    const tl_plan_converter *used = &plan->converters[pin->converter];
    const char *name = pin->name + strlen(used->name) + 1;
    unsigned long settings = 0;
    int channel = pin->channel;
    set_field(used->part, "input", name, &settings);
    set_field(used->part, "start", "now", &settings);
    for (int i = 0; pin->second != TL_NONE && i < used->part->pair_count; i++)
        channel = strcmp(used->part->pairs[i], name) == 0 ? i : channel;
    return (tl_external_input){(uint8_t)channel, pin->second == TL_NONE, (uint8_t)settings};
}
