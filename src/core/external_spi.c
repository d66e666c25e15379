/* SPDX-License-Identifier: MIT */
/* Converters on SPI, by description: one frame of bits, highest first, whose zeros before the result are
 * verified. */
#include "port_calls.h"
#include "tinyladder/external.h"
#include "word_internal.h"

enum { FRAME_BYTES = 2 * sizeof(tl_raw) };

static void put_bits(uint8_t *bytes, tl_raw value, uint8_t count)
{
    for (; count > 0; value = (tl_raw)(value >> 1)) {
        count--;
        if ((value & 1) != 0)
            bytes[count / 8] = (uint8_t)(bytes[count / 8] | 0x80u >> (count % 8));
    }
}

static tl_raw get_bits(const uint8_t *bytes, uint8_t at, uint8_t count)
{
    tl_raw value = 0;
    for (; count > 0; count--, at++)
        value = (tl_raw)(value << 1 | (bytes[at / 8] >> (7 - at % 8) & 1));
    return value;
}

static tl_status fetch_spi(const tl_port *port, const TL_IN_ROM tl_external *own, tl_raw settings,
                           tl_raw *word)
{
    uint8_t out[FRAME_BYTES] = {0}, in[FRAME_BYTES] = {0};
    const uint8_t head = own->settings_bits, answer = (uint8_t)(own->zeros + own->take);
    if (MISTAKEN(own->take == 0 || own->take > answer || answer > 8 * sizeof *word))
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

/* A description that can be meant. */
static inline bool is_possible(const TL_IN_ROM tl_external *e)
{
    return e && e->kind == TL_EXTERNAL_SPI && e->longest > 0 && e->longest <= TL_SPAN_MOST &&
           e->settings_bits <= 32;
}

static const TL_IN_ROM tl_external_input *own_of(const TL_IN_ROM tl_convertible *input)
{
    return (const TL_IN_ROM tl_external_input *)input; /* its first member */
}

/* Nothing yet: one exchange does it all. */
static tl_status start(const tl_port *port, const TL_IN_ROM tl_convertible *input)
{
    (void)port, (void)input;
    return MISTAKEN(!is_possible(own_of(input)->converter)) ? TL_ERR_ARG : TL_OK;
}

static tl_status exchange(const tl_port *port, const TL_IN_ROM tl_convertible *input, tl_span waited,
                          tl_sample *sample, bool *ended)
{
    const TL_IN_ROM tl_external *own = own_of(input)->converter;
    tl_raw word = 0;
    (void)waited;
    *ended = true;
    const tl_status status = fetch_spi(port, own, own_of(input)->settings, &word);
    return status == TL_OK ? tl_word_in_rom(&own->word, word, sample) : status;
}

const TL_ROM tl_conversion tl_spi_conversion = {start, exchange, NULL, 0};
