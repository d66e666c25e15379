#include "tinyladder/input.h"
#include "tinyladder/rom.h"

tl_status tl_word_count(const tl_word *format, uint32_t word, uint16_t *count)
{
    if (format == NULL || count == NULL || format->bits < 6 || format->bits > 16 ||
        format->width < format->bits || format->width > 32)
        return TL_ERR_ARG;
    const uint8_t shift = format->align == TL_WORD_LEFT ? (uint8_t)(format->width - format->bits) : 0u;
    const uint32_t mask = ((UINT32_C(1) << format->bits) - 1u) << shift;
    if ((word & ~mask) != 0)
        return TL_ERR_WORD;
    *count = (uint16_t)(word >> shift);
    return TL_OK;
}

tl_status tl_input_take(const tl_port *port, const tl_input *input, const tl_scale *scale,
                        tl_reading *reading)
{
    tl_input own;
    uint32_t word = 0;
    uint16_t count = 0;

    if (input == NULL || scale == NULL || reading == NULL)
        return TL_ERR_ARG;
    reading->flags &= (uint8_t)~TL_READING_FRESH;
    tl_rom_copy(&own, input, sizeof own);
    tl_status status = tl_port_convert(port, own.channel, own.acquisition_ns, own.longest_us, &word);
    if (status == TL_OK)
        status = tl_word_count(&own.word, word, &count);
    if (status != TL_OK)
        return status;
    reading->count = count;
    reading->value_uv = tl_scale_uv(scale, count);
    reading->flags = (uint8_t)(TL_READING_FRESH | tl_scale_clipped(scale, count));
    return TL_OK;
}
