/* SPDX-License-Identifier: MIT */
/* What is sent to a converter: the words of its registers as the plan settles them, by the codes that its
 * file prints, and what the core gets of one on a bus. What cannot be sent is said in words. */
#include "tinyladder/design/plan.h"
#include <math.h>
#include <stdarg.h>
#include <stdio.h>
#include <string.h>

enum { WHY = 160 };

__attribute__((format(printf, 2, 3))) static bool refuse(char why[WHY], const char *format, ...)
{
    va_list list;
    va_start(list, format);
    vsnprintf(why, WHY, format, list);
    va_end(list);
    return false;
}

/* --- fields --- */

typedef struct {
    const tl_converter *part;
    unsigned long *words;
    char *why;
    bool good;
} told;

static void put(told *t, int index, const tl_field *field, unsigned long code)
{
    char ignored[WHY], number[24];
    snprintf(number, sizeof number, "%lu", code);
    if (!tl_field_set(field, number, &t->words[index], ignored))
        t->good = refuse(t->why, "%lu does not fit into its field '%.40s'", code, field->name);
}

/* A value by its name; where a field names none, by its number. A part without the field cannot be told. */
static void tell(told *t, const char *name, const char *value, int number)
{
    int index = 0;
    const tl_field *field = tl_converter_field(t->part, name, &index);
    if (field == NULL)
        return;
    for (int i = 0; i < field->value_count; i++) {
        if (strcmp(field->values[i].name, value) == 0) {
            put(t, index, field, field->values[i].number);
            return;
        }
    }
    if (field->value_count == 0 && number >= 0)
        put(t, index, field, (unsigned long)number);
    else
        t->good = refuse(t->why, "its field '%.40s' has no value '%.40s'", name, value);
}

/* The value whose name says this quantity, such as `2.5V` or `10us`; -1 where none does. */
static int value_saying(const tl_field *field, tl_dimension dimension, double wanted)
{
    for (int i = 0; i < field->value_count; i++) {
        tl_quantity said;
        tl_text_error ignored;
        if (tl_quantity_read(field->values[i].name, dimension, &said, &ignored) &&
            fabs(said.high - wanted) <= 1e-9 * fabs(wanted))
            return i;
    }
    return -1;
}

static void tell_quantity(told *t, const char *name, tl_dimension dimension, double wanted)
{
    int index = 0;
    char text[40];
    const tl_field *field = tl_converter_field(t->part, name, &index);
    if (field == NULL)
        return;
    const int value = value_saying(field, dimension, wanted);
    tl_quantity_write(wanted, dimension, TL_ROUND_NEAREST, text);
    if (value >= 0)
        put(t, index, field, field->values[value].number);
    else
        t->good = refuse(t->why, "its field '%.40s' has no value that says %s", name, text);
}

int tl_converter_range_of(const tl_converter *part, const unsigned long *words)
{
    int index = 0;
    const tl_field *field = tl_converter_field(part, "range", &index);
    for (int i = 0; field != NULL && i < part->range_count; i++) {
        const int value = value_saying(field, TL_DIM_VOLT, part->ranges[i].high);
        if (value >= 0 && field->values[value].number == tl_field_get(field, words[index]))
            return i;
    }
    return TL_NONE;
}

/* --- the plan's settings --- */

/* The converter's own pin, behind whatever multiplexers stand before it. */
static const tl_pin *pin_at_converter(const tl_plan *plan, int signal)
{
    const tl_pin *pin = &plan->pins[plan->signals[signal].pin];
    for (int i = 0; pin->mux != TL_NONE && i < TL_ROUTE_MOST; i++)
        pin = &plan->pins[plan->muxes[pin->mux].common];
    return pin;
}

int tl_plan_channel(const tl_plan *plan, int signal)
{
    const tl_pin *pin = pin_at_converter(plan, signal);
    const tl_plan_converter *used = &plan->converters[pin->converter];
    for (int i = 0; pin->second != TL_NONE && i < used->part->pair_count; i++) {
        if (strcmp(used->part->pairs[i], pin->name + strlen(used->name) + 1) == 0)
            return i;
    }
    return pin->channel;
}

/* Which input: by the name that it has at the part, by its number where the field names none. */
static void tell_input(told *t, const tl_plan *plan, int signal)
{
    const tl_pin *pin = pin_at_converter(plan, signal);
    const char *name = pin->name;
    const int number = tl_plan_channel(plan, signal);
    if (pin->converter > 0)
        name += strlen(plan->converters[pin->converter].name) + 1;
    tell(t, "input", name, number);
    tell(t, "channel", name, number);
}

/* Bits and alignment are settled by the part's own file where it has no field for them. */
static void tell_word(told *t)
{
    static const char *const aligns[] = {"right", "left", "stretched"};
    char bits[16];
    snprintf(bits, sizeof bits, "%d", t->part->set_bits);
    tell(t, "align", aligns[t->part->set_align], t->part->set_align);
    tell(t, "bits", bits, t->part->set_bits);
}

bool tl_plan_settings(const tl_plan *plan, int converter, int signal, double acquisition,
                      unsigned long words[TL_REGISTERS_MOST], char why[WHY])
{
    const tl_plan_converter *used = &plan->converters[converter];
    const bool asked = signal != TL_NONE;
    const int reference = asked ? plan->signals[signal].reference : used->reference;
    const int range = asked ? plan->signals[signal].range : used->range;
    told t = {used->part, words, why, true};
    memcpy(words, used->part->frame.also, TL_REGISTERS_MOST * sizeof *words);
    if (used->part->range_count > 0)
        tell_quantity(&t, "range", TL_DIM_VOLT, used->part->ranges[range].high);
    else if (used->part->reference_count > 0)
        tell(&t, "reference", used->part->references[reference].name, reference);
    tell_word(&t);
    if (!isnan(acquisition))
        tell_quantity(&t, "acquisition", TL_DIM_SECOND, acquisition);
    if (asked) {
        tell_input(&t, plan, signal);
        tell(&t, "start", "now", 1);
    }
    return t.good;
}

/* --- as the core gets it --- */

/* Settings that a conversion needs, and that stand in another register than the one that is written. */
static bool is_in_one_register(const tl_converter *part, char why[WHY])
{
    static const char *const needed[] = {"input", "channel", "range", "reference", "start"};
    for (size_t i = 0; i < sizeof needed / sizeof needed[0]; i++) {
        int index = 0;
        if (tl_converter_field(part, needed[i], &index) != NULL && index != part->frame.settings_register)
            return refuse(why, "its field '%s' is not in the register that a conversion writes", needed[i]);
    }
    return true;
}

static bool is_whole_bytes(const tl_register *reg, char why[WHY])
{
    return reg->width % 8 == 0 ||
           refuse(why, "its register '%.40s' has %d bits: no whole bytes", reg->name, reg->width);
}

static bool tell_i2c(const tl_converter *part, tl_external *e, char why[WHY])
{
    const tl_frame *f = &part->frame;
    e->settings = e->ready = TL_EXTERNAL_NONE;
    e->result = (uint8_t)f->result;
    if (f->settings == TL_EXTERNAL_NONE || f->ready == TL_EXTERNAL_NONE || f->result == TL_EXTERNAL_NONE)
        return refuse(why, "register 0x%02x cannot be written or read", TL_EXTERNAL_NONE);
    if (f->settings != TL_NONE) {
        if (f->settings_register == TL_NONE)
            return refuse(why, "none of its registers is the one at 0x%02x that a conversion writes",
                          (unsigned)f->settings);
        const tl_register *reg = &part->registers[f->settings_register];
        if (!is_whole_bytes(reg, why))
            return false;
        e->settings = (uint8_t)f->settings;
        e->settings_bits = (uint8_t)reg->width;
    }
    if (f->ready_bit != TL_NONE) {
        const int width = f->ready_register != TL_NONE ? part->registers[f->ready_register].width : 8;
        if (f->ready == TL_NONE)
            return refuse(why, "its ready bit is in no register");
        if (f->ready_bit >= width)
            return refuse(why, "its ready bit %d is beyond the %d bits of its register", f->ready_bit, width);
        if (f->ready_register != TL_NONE && !is_whole_bytes(&part->registers[f->ready_register], why))
            return false;
        e->ready = (uint8_t)f->ready;
        e->ready_bits = (uint8_t)width;
        e->ready_bit = (uint8_t)f->ready_bit;
        e->ready_when = f->ready_when;
    }
    return is_in_one_register(part, why);
}

int tl_converter_send_bits(const tl_converter *part, int entry)
{
    int index = 0, bits = 0;
    const char *send = part->frame.send[entry];
    const tl_field *field = tl_converter_field(part, send, &index);
    if (field != NULL)
        return field->high - field->low + 1;
    if (strcmp(send, "channel") != 0)
        return 1;
    while (1 << bits < part->input_count || 1 << bits < part->pair_count)
        bits++;
    return bits;
}

int tl_converter_head_bits(const tl_converter *part)
{
    int bits = 0;
    for (int i = 0; i < part->frame.send_count; i++)
        bits += tl_converter_send_bits(part, i);
    return bits;
}

static bool is_sent(const tl_converter *part, const char *name)
{
    for (int i = 0; i < part->frame.send_count; i++) {
        if (strcmp(part->frame.send[i], name) == 0)
            return true;
    }
    return false;
}

static bool tell_spi(const tl_converter *part, tl_external *e, char why[WHY])
{
    static const char *const needed[] = {"input", "range", "reference"};
    const int head = tl_converter_head_bits(part);
    if (head > 32)
        return refuse(why, "%d bits are sent before its answer: 32 at most can be", head);
    if (part->frame.zeros + part->frame.take > 32)
        return refuse(why, "its answer has %d bits: 32 at most can be taken",
                      part->frame.zeros + part->frame.take);
    for (size_t i = 0; i < sizeof needed / sizeof needed[0]; i++) {
        int index = 0;
        if (tl_converter_field(part, needed[i], &index) != NULL && !is_sent(part, needed[i]))
            return refuse(why, "its field '%s' is not among what is sent", needed[i]);
    }
    int index = 0;
    const bool coded = is_sent(part, "input") ||
                       (is_sent(part, "channel") && tl_converter_field(part, "channel", &index) != NULL);
    if (part->input_count > 1 && !coded && !is_sent(part, "channel"))
        return refuse(why, "nothing that is sent says which input");
    if (part->pair_count > 0 && !coded && !is_sent(part, "single"))
        return refuse(why, "no register field separates its inputs from its pairs");
    e->settings_bits = (uint8_t)head;
    e->zeros = (uint8_t)part->frame.zeros;
    e->take = (uint8_t)part->frame.take;
    return true;
}

bool tl_plan_external(const tl_plan *plan, int converter, tl_external *external, char why[WHY])
{
    const tl_plan_converter *used = &plan->converters[converter];
    const tl_converter *part = used->part;
    const double longest = ceil(1e6 * fmax(part->frame.longest, 2 * part->conversion)) + 100;
    if (longest > INT32_MAX)
        return refuse(why, "its longest conversion is more than half an hour");
    *external = (tl_external){.kind = part->bus == TL_BUS_I2C ? TL_EXTERNAL_I2C : TL_EXTERNAL_SPI,
                              .bus = (uint8_t)used->bus,
                              .seat = (uint8_t)(part->bus == TL_BUS_I2C ? used->address : used->select_pin),
                              .word = part->word,
                              .byte_order = part->bytes == TL_DELIVERED_LOW_FIRST ? TL_BYTES_LOW_FIRST
                                                                                  : TL_BYTES_HIGH_FIRST,
                              .longest = (uint32_t)longest,
                              .earliest = (uint32_t)floor(1e6 * part->conversion)};
    return part->bus == TL_BUS_I2C ? tell_i2c(part, external, why) : tell_spi(part, external, why);
}

/* What is sent on SPI, put together from the highest bit. */
static uint32_t head_of(const tl_plan *plan, int signal, const unsigned long *words)
{
    const tl_pin *pin = &plan->pins[plan->signals[signal].pin];
    const tl_converter *part = plan->converters[pin->converter].part;
    const bool single = pin->second == TL_NONE;
    uint32_t head = 0;
    for (int i = 0; i < part->frame.send_count; i++) {
        const char *send = part->frame.send[i];
        const int bits = tl_converter_send_bits(part, i);
        int index = 0;
        const tl_field *field = tl_converter_field(part, send, &index);
        unsigned long code = strcmp(send, "single") == 0 ? single : send[0] == '1';
        if (field != NULL)
            code = tl_field_get(field, words[index]);
        else if (strcmp(send, "channel") == 0)
            code = (unsigned long)tl_plan_channel(plan, signal);
        head = bits < 32 ? head << bits : 0;
        head |= (uint32_t)code;
    }
    return head;
}

uint32_t tl_plan_sent(const tl_plan *plan, int signal, const unsigned long *words)
{
    const tl_converter *part = plan->converters[plan->pins[plan->signals[signal].pin].converter].part;
    const int written = part->frame.settings_register;
    if (part->bus == TL_BUS_SPI)
        return head_of(plan, signal, words);
    return written != TL_NONE ? (uint32_t)words[written] : 0;
}

bool tl_plan_external_input(const tl_plan *plan, int signal, uint32_t *settings, char why[WHY])
{
    unsigned long words[TL_REGISTERS_MOST];
    if (!tl_plan_settings(plan, plan->pins[plan->signals[signal].pin].converter, signal, NAN, words, why))
        return false;
    *settings = tl_plan_sent(plan, signal, words);
    return true;
}
