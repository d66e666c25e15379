#include "tinyladder/external.h"
#include "bound.h"
#include "tinyladder/rom.h"

enum { FRAME_BYTES = 10 };

/* --- I2C --- */

static tl_status read_register(const tl_port *port, const tl_external *own, uint8_t reg, uint8_t *bytes,
                               uint8_t count)
{
    return tl_port_i2c_transfer(port, own->bus, own->seat, &reg, 1, bytes, count);
}

static tl_status await_ready(const tl_port *port, const tl_external *own)
{
    wait_bound bound;
    if (own->ready_bit == TL_EXTERNAL_NONE)
        return tl_port_wait_us(port, own->longest_us);
    tl_status status = bound_begin(&bound, port, own->longest_us);
    while (status == TL_OK) {
        uint8_t settings = 0;
        status = read_register(port, own, own->settings, &settings, 1);
        if (status != TL_OK || (settings >> own->ready_bit & 1) != 0)
            return status;
        status = bound_keep(&bound, port);
    }
    return status;
}

static tl_status take_i2c(const tl_port *port, const tl_external *own, const tl_external_input *input,
                          uint32_t *word)
{
    uint8_t bytes[4];
    const uint8_t count = (uint8_t)((own->word.width + 7) / 8), start[2] = {own->settings, input->settings};
    tl_status status = TL_OK;
    if (count > sizeof bytes ||
        (own->ready_bit != TL_EXTERNAL_NONE && (own->ready_bit > 7 || own->settings == TL_EXTERNAL_NONE)))
        return TL_ERR_ARG;
    if (own->settings != TL_EXTERNAL_NONE)
        status = tl_port_i2c_transfer(port, own->bus, own->seat, start, 2, NULL, 0);
    if (status == TL_OK)
        status = await_ready(port, own);
    if (status == TL_OK)
        status = read_register(port, own, own->result, bytes, count);
    return status == TL_OK ? tl_word_join(bytes, count, (tl_byte_order)own->byte_order, word) : status;
}

/* --- SPI: one frame of bits, highest first --- */

static void put_bit(uint8_t *bytes, uint8_t *at, bool one)
{
    if (one)
        bytes[*at / 8] = (uint8_t)(bytes[*at / 8] | 0x80u >> (*at % 8));
    ++*at;
}

static bool get_bit(const uint8_t *bytes, uint8_t at)
{
    return (bytes[at / 8] >> (7 - at % 8) & 1) != 0;
}

static uint8_t frame_bits(const tl_external *own)
{
    uint16_t bits = (uint16_t)(own->zeros + own->take);
    for (uint8_t i = 0; i < own->send_count; i++)
        bits = (uint16_t)(bits + (own->send[i] == TL_SEND_CHANNEL ? own->channel_bits : 1));
    return (uint8_t)(bits <= 8 * FRAME_BYTES ? bits : 0);
}

static void put_sends(const tl_external *own, const tl_external_input *input, uint8_t *bytes, uint8_t *at)
{
    for (uint8_t i = 0; i < own->send_count; i++) {
        if (own->send[i] == TL_SEND_CHANNEL) {
            for (uint8_t bit = own->channel_bits; bit-- > 0;)
                put_bit(bytes, at, (input->channel >> bit & 1) != 0);
        } else {
            put_bit(bytes, at,
                    own->send[i] == TL_SEND_1 || (own->send[i] == TL_SEND_SINGLE && input->single));
        }
    }
}

static tl_status take_spi(const tl_port *port, const tl_external *own, const tl_external_input *input,
                          uint32_t *word)
{
    uint8_t out[FRAME_BYTES] = {0}, in[FRAME_BYTES] = {0}, at = 0;
    uint32_t found = 0;
    if (own->send_count > TL_EXTERNAL_SENDS_MOST || own->channel_bits > 8 || own->take == 0 || own->take > 32)
        return TL_ERR_ARG;
    const uint8_t bits = frame_bits(own);
    if (bits == 0)
        return TL_ERR_ARG;
    put_sends(own, input, out, &at);
    const tl_status status =
        tl_port_spi_exchange(port, own->bus, own->seat, out, in, (uint8_t)((bits + 7) / 8));
    if (status != TL_OK)
        return status;
    for (uint8_t i = 0; i < own->zeros; i++) {
        if (get_bit(in, at++))
            return TL_ERR_WORD;
    }
    for (uint8_t i = 0; i < own->take; i++)
        found = found << 1 | get_bit(in, at++);
    *word = found;
    return TL_OK;
}

tl_status tl_external_take(const tl_port *port, const tl_external *external, const tl_external_input *input,
                           int32_t *code)
{
    tl_external own;
    tl_external_input own_input;
    uint32_t word = 0;
    if (external == NULL || input == NULL || code == NULL)
        return TL_ERR_ARG;
    tl_rom_copy(&own, external, sizeof own);
    tl_rom_copy(&own_input, input, sizeof own_input);
    if (own.kind > TL_EXTERNAL_SPI || own.longest_us == 0 || own.longest_us > INT32_MAX)
        return TL_ERR_ARG;
    const tl_status status = own.kind == TL_EXTERNAL_I2C ? take_i2c(port, &own, &own_input, &word)
                                                         : take_spi(port, &own, &own_input, &word);
    return status == TL_OK ? tl_word_code(&own.word, word, code) : status;
}
