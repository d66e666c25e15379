/* Converters on buses: what they make of what they are told, and how the core is told of them. */
#include "bench/bus_internal.h"
#include <math.h>
#include <stddef.h>
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

void chip_convert(tl_bench *bench, int converter, const char *input)
{
    bench_chip *chip = &bench->chips[converter];
    const tl_converter *part = bench->circuit->plan->converters[converter].part;
    const int signal = input != NULL ? signal_at(bench, converter, input) : -1;
    const int32_t lowest = part->word.sign == TL_WORD_UNSIGNED ? 0 : -(INT32_C(1) << (part->word.bits - 1));
    random_source noise = noise_at(bench, NOISE_BUS, converter, bench->now_ns);
    /* An input that nothing hangs on reads somewhere. */
    const int32_t code = signal >= 0 ? (int32_t)converter_code(bench, signal)
                                     : lowest + (int32_t)(random_even(&noise) * ldexp(1, part->word.bits));
    (void)tl_word_make(&part->word, code, &chip->word);
    chip->end_ns = bench->now_ns + (int64_t)llround(1e9 * part->conversion);
}

/* A part without such a field has one input only. */
const char *chip_input(const tl_converter *part, uint8_t settings)
{
    int index = 0;
    const tl_field *field = tl_converter_field(part, "input", &index);
    return field != NULL ? tl_field_value_name(field, tl_field_get(field, settings)) : part->inputs[0];
}

int chip_channel_bits(const tl_converter *part)
{
    int bits = 0;
    while (1 << bits < part->input_count)
        bits++;
    return bits;
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
        .channel_bits = (uint8_t)chip_channel_bits(part),
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

/* The settings' field lists the ranges in the order of the part's own list. */
static const char *range_name(const tl_converter *part, int range)
{
    int index = 0;
    const tl_field *field = tl_converter_field(part, "range", &index);
    return field != NULL && range >= 0 && range < field->value_count ? field->values[range].name : NULL;
}

int chip_range(const tl_bench *bench, int converter)
{
    int index = 0;
    const tl_converter *part = bench->circuit->plan->converters[converter].part;
    const tl_field *field = tl_converter_field(part, "range", &index);
    if (field == NULL)
        return TL_NONE;
    const unsigned long set = tl_field_get(field, bench->chips[converter].settings);
    for (int i = 0; i < field->value_count && i < part->range_count; i++) {
        if (field->values[i].number == set)
            return i;
    }
    return TL_NONE;
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
    const char *range = range_name(used->part, plan->signals[signal].range);
    if (range != NULL)
        set_field(used->part, "range", range, &settings);
    for (int i = 0; pin->second != TL_NONE && i < used->part->pair_count; i++)
        channel = strcmp(used->part->pairs[i], name) == 0 ? i : channel;
    return (tl_external_input){(uint8_t)channel, pin->second == TL_NONE, (uint8_t)settings};
}
