/* SPDX-License-Identifier: MIT */
/*
 * Converters on I2C, by description: a register of settings that starts and tells when it is ready, and one
 * with the result.
 */
#include "port_calls.h"
#include "tinyladder/external.h"
#include "word_internal.h"

static tl_status read_register(const tl_port *port, const TL_IN_ROM tl_external *own, uint8_t reg,
                               uint8_t bits, tl_raw *word)
{
    uint8_t bytes[sizeof(tl_raw)];
    const uint8_t count = (uint8_t)((bits + 7) / 8);
    if (MISTAKEN(count > sizeof bytes))
        return TL_ERR_ARG;
    const tl_status status = tl_port_i2c_transfer(port, own->bus, own->seat, &reg, 1, bytes, count);
    return status == TL_OK ? tl_word_join(bytes, count, (tl_byte_order)own->byte_order, word) : status;
}

static tl_status write_settings(const tl_port *port, const TL_IN_ROM tl_external *own, tl_raw settings)
{
    uint8_t bytes[1 + sizeof(tl_raw)];
    const uint8_t count = own->settings_bits / 8;
    bytes[0] = own->settings;
    for (uint8_t i = 0; i < count; i++, settings = (tl_raw)(settings >> 8))
        bytes[own->byte_order == TL_BYTES_LOW_FIRST ? 1 + i : count - i] = (uint8_t)settings;
    return tl_port_i2c_transfer(port, own->bus, own->seat, bytes, (uint8_t)(1 + count), NULL, 0);
}

static inline bool is_bytes(uint8_t bits)
{
    return bits % 8 == 0 && bits > 0 && bits <= 32;
}

/* A description that can be meant. */
static inline bool is_possible(const TL_IN_ROM tl_external *e)
{
    if (!e || e->kind != TL_EXTERNAL_I2C || e->longest == 0 || e->longest > TL_SPAN_MOST)
        return false;
    if (e->settings != TL_EXTERNAL_NONE && !is_bytes(e->settings_bits))
        return false;
    return e->ready == TL_EXTERNAL_NONE || (is_bytes(e->ready_bits) && e->ready_bit < e->ready_bits);
}

static const TL_IN_ROM tl_external_input *own_of(const TL_IN_ROM tl_convertible *input)
{
    return (const TL_IN_ROM tl_external_input *)input; /* its first member */
}

static tl_status start(const tl_port *port, const TL_IN_ROM tl_convertible *input)
{
    const TL_IN_ROM tl_external *own = own_of(input)->converter;
    if (MISTAKEN(!is_possible(own)))
        return TL_ERR_ARG;
    return own->settings == TL_EXTERNAL_NONE ? TL_OK : write_settings(port, own, own_of(input)->settings);
}

/* Once it is worth asking: before, and without a register that tells, the bus belongs to others. */
static tl_status is_ready(const tl_port *port, const TL_IN_ROM tl_external *own, tl_span waited, bool *ready)
{
    const bool over = waited > own->longest;
    tl_raw word = 0;
    if (own->ready == TL_EXTERNAL_NONE) {
        *ready = over;
        return TL_OK;
    }
    *ready = false;
    if (waited < own->earliest)
        return TL_OK;
    const tl_status status = read_register(port, own, own->ready, own->ready_bits, &word);
    if (status != TL_OK)
        return status;
    *ready = ((word >> own->ready_bit & 1) != 0) == own->ready_when;
    return over && !*ready ? TL_ERR_LATE : TL_OK;
}

static tl_status look_for_end(const tl_port *port, const TL_IN_ROM tl_convertible *input, tl_span waited,
                              tl_sample *sample, bool *ended)
{
    const TL_IN_ROM tl_external *own = own_of(input)->converter;
    tl_raw word = 0;
    tl_status status = is_ready(port, own, waited, ended);
    if (status != TL_OK || !*ended)
        return status;
    status = read_register(port, own, own->result, own->word.width, &word);
    return status == TL_OK ? tl_word_in_rom(&own->word, word, sample) : status;
}

const TL_ROM tl_conversion tl_i2c_conversion = {start, look_for_end, NULL, 1000};
