/*
 * Converters on buses, by description: on I2C a register of settings that starts and tells when it is ready,
 * and one with the result; on SPI one frame of bits, highest first, whose zeros before the result are
 * verified.
 */
#include "tinyladder/external.h"
#include <stddef.h>

enum { FRAME_BYTES = (32 + 32) / 8 };

/* --- I2C --- */

static tl_status read_register(const tl_port *port, const TL_IN_ROM tl_external *own, uint8_t reg,
                               uint8_t bits, uint32_t *word)
{
    uint8_t bytes[4];
    const uint8_t count = (uint8_t)((bits + 7) / 8);
    if (count > sizeof bytes)
        return TL_ERR_ARG;
    const tl_status status = tl_port_i2c_transfer(port, own->bus, own->seat, &reg, 1, bytes, count);
    return status == TL_OK ? tl_word_join(bytes, count, (tl_byte_order)own->byte_order, word) : status;
}

static tl_status write_settings(const tl_port *port, const TL_IN_ROM tl_external *own, uint32_t settings)
{
    uint8_t bytes[5] = {own->settings};
    const uint8_t count = own->settings_bits / 8;
    for (uint8_t i = 0; i < count; i++, settings >>= 8)
        bytes[own->byte_order == TL_BYTES_LOW_FIRST ? 1 + i : count - i] = (uint8_t)settings;
    return tl_port_i2c_transfer(port, own->bus, own->seat, bytes, (uint8_t)(1 + count), NULL, 0);
}

static bool is_bytes(uint8_t bits)
{
    return bits % 8 == 0 && bits > 0 && bits <= 32;
}

/* A description that can be meant. */
static bool is_possible(const TL_IN_ROM tl_external *e)
{
    if (!e || e->kind > TL_EXTERNAL_SPI || e->longest_us == 0 || e->longest_us > INT32_MAX)
        return false;
    if (e->kind == TL_EXTERNAL_SPI)
        return e->settings_bits <= 32;
    if (e->settings != TL_EXTERNAL_NONE && !is_bytes(e->settings_bits))
        return false;
    return e->ready == TL_EXTERNAL_NONE || (is_bytes(e->ready_bits) && e->ready_bit < e->ready_bits);
}

/* --- SPI: one frame of bits, highest first --- */

static void put_bits(uint8_t *bytes, uint32_t value, uint8_t count)
{
    for (; count > 0; value >>= 1) {
        count--;
        if ((value & 1) != 0)
            bytes[count / 8] = (uint8_t)(bytes[count / 8] | 0x80u >> (count % 8));
    }
}

static uint32_t get_bits(const uint8_t *bytes, uint8_t at, uint8_t count)
{
    uint32_t value = 0;
    for (; count > 0; count--, at++)
        value = value << 1 | (bytes[at / 8] >> (7 - at % 8) & 1);
    return value;
}

static tl_status fetch_spi(const tl_port *port, const TL_IN_ROM tl_external *own, uint32_t settings,
                           uint32_t *word)
{
    uint8_t out[FRAME_BYTES] = {0}, in[FRAME_BYTES] = {0};
    const uint8_t head = own->settings_bits, answer = (uint8_t)(own->zeros + own->take);
    if (own->take == 0 || own->take > answer || answer > 32)
        return TL_ERR_ARG;
    put_bits(out, settings, head);
    const tl_status status =
        tl_port_spi_exchange(port, own->bus, own->seat, out, in, (uint8_t)((head + answer + 7) / 8));
    if (status != TL_OK)
        return status;
    /* The zeros stand before the result, so together they are the result's number. */
    *word = get_bits(in, head, answer);
    return own->zeros > 0 && *word >> own->take != 0 ? TL_ERR_WORD : TL_OK;
}

/* --- in parts --- */

static const TL_IN_ROM tl_external_input *own_of(const TL_IN_ROM tl_convertible *input)
{
    return (const TL_IN_ROM tl_external_input *)input; /* its first member */
}

/* On SPI nothing yet: one exchange does it all. */
static tl_status start(const tl_port *port, const TL_IN_ROM tl_convertible *input)
{
    const TL_IN_ROM tl_external *own = own_of(input)->converter;
    if (!is_possible(own))
        return TL_ERR_ARG;
    return own->kind == TL_EXTERNAL_SPI || own->settings == TL_EXTERNAL_NONE
               ? TL_OK
               : write_settings(port, own, own_of(input)->settings);
}

/* Once it is worth asking: before, and without a register that tells, the bus belongs to others. */
static tl_status is_ready(const tl_port *port, const TL_IN_ROM tl_external *own, uint32_t waited_us,
                          bool *ready)
{
    const bool waited = waited_us > own->longest_us;
    uint32_t word = 0;
    if (own->kind == TL_EXTERNAL_SPI || own->ready == TL_EXTERNAL_NONE) {
        *ready = own->kind == TL_EXTERNAL_SPI || waited;
        return TL_OK;
    }
    *ready = false;
    if (waited_us < own->earliest_us)
        return TL_OK;
    const tl_status status = read_register(port, own, own->ready, own->ready_bits, &word);
    if (status != TL_OK)
        return status;
    *ready = ((word >> own->ready_bit & 1) != 0) == own->ready_when;
    return waited && !*ready ? TL_ERR_LATE : TL_OK;
}

static tl_status look_for_end(const tl_port *port, const TL_IN_ROM tl_convertible *input, uint32_t waited_us,
                              tl_sample *sample, bool *ended)
{
    const TL_IN_ROM tl_external *own = own_of(input)->converter;
    uint32_t word = 0;
    tl_status status = is_ready(port, own, waited_us, ended);
    if (status != TL_OK || !*ended)
        return status;
    const tl_word format = own->word;
    status = own->kind == TL_EXTERNAL_I2C ? read_register(port, own, own->result, format.width, &word)
                                          : fetch_spi(port, own, own_of(input)->settings, &word);
    return status == TL_OK ? tl_word_sample(&format, word, sample) : status;
}

const TL_ROM tl_conversion tl_external_conversion = {start, look_for_end, NULL, 1000};
