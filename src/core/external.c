/*
 * Converters on buses, by description: on I2C a register of settings that starts and tells when it is ready,
 * and one with the result; on SPI one frame of bits, highest first, whose zeros before the result are
 * verified.
 */
#include "tinyladder/external.h"
#include "failed.h"
#include "timeout.h"

enum { POLL_US = 1000, FRAME_BYTES = (32 + 32) / 8 };

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

/* --- in three parts, and whole --- */

tl_status tl_external_start(const tl_port *port, const TL_IN_ROM tl_external_input *input)
{
    if (!input || !is_possible(input->converter))
        return TL_ERR_ARG;
    const TL_IN_ROM tl_external *own = input->converter;
    return own->kind == TL_EXTERNAL_SPI || own->settings == TL_EXTERNAL_NONE
               ? TL_OK
               : write_settings(port, own, input->settings);
}

tl_status tl_external_ready(const tl_port *port, const TL_IN_ROM tl_external_input *input, uint32_t waited_us,
                            bool *ready)
{
    if (!input || !is_possible(input->converter))
        return TL_ERR_ARG;
    const TL_IN_ROM tl_external *own = input->converter;
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

tl_status tl_external_fetch(const tl_port *port, const TL_IN_ROM tl_external_input *input, tl_sample *sample)
{
    uint32_t word = 0;
    if (!input || sample == NULL || !is_possible(input->converter))
        return TL_ERR_ARG;
    const TL_IN_ROM tl_external *own = input->converter;
    const tl_word format = own->word;
    const tl_status status = own->kind == TL_EXTERNAL_I2C
                                 ? read_register(port, own, own->result, format.width, &word)
                                 : fetch_spi(port, own, input->settings, &word);
    return status == TL_OK ? tl_word_sample(&format, word, sample) : status;
}

tl_status tl_external_take(const tl_port *port, const TL_IN_ROM tl_external_input *input, tl_sample *sample)
{
    wait_timeout timeout = {0};
    bool ready = false;
    if (sample == NULL)
        return TL_ERR_ARG;
    tl_status status = tl_port_claim(port, &timeout);
    if (status != TL_OK)
        return tl_failed(sample, status);
    status = tl_external_start(port, input);
    if (status == TL_OK)
        status =
            tl_timeout_begin(&timeout, port, INT32_MAX); /* the description's own bound is the shorter one */
    while (status == TL_OK && !ready) {
        status = tl_external_ready(port, input, timeout.left_us < INT32_MAX ? INT32_MAX - timeout.left_us : 0,
                                   &ready);
        /* A little patience: questions without end would keep the bus busy. */
        if (status == TL_OK && !ready)
            status = tl_port_wait_us(port, POLL_US);
        if (status == TL_OK && !ready)
            status = tl_timeout_keep(&timeout, port);
    }
    if (status == TL_OK)
        status = tl_external_fetch(port, input, sample);
    tl_port_yield(port, &timeout);
    return status == TL_OK ? TL_OK : tl_failed(sample, status);
}

/* --- in a sweep --- */

static const TL_IN_ROM tl_external_input *own_of(const TL_IN_ROM tl_convertible *input)
{
    return (const TL_IN_ROM tl_external_input *)input; /* its first member */
}

static tl_status start_one(const tl_port *port, const TL_IN_ROM tl_convertible *input)
{
    return tl_external_start(port, own_of(input));
}

static tl_status look_for_end(const tl_port *port, const TL_IN_ROM tl_convertible *input, uint32_t waited_us,
                              tl_sample *sample, bool *ended)
{
    const tl_status status = tl_external_ready(port, own_of(input), waited_us, ended);
    return status == TL_OK && *ended ? tl_external_fetch(port, own_of(input), sample) : status;
}

const TL_ROM tl_conversion tl_external_conversion = {start_one, look_for_end, NULL};
