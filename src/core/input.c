/* One input once: a conversion, the word taken apart, the code as microvolts. What fails is never marked
 * fresh. */
#include "tinyladder/input.h"
#include "tinyladder/rom.h"

tl_status tl_input_word(const tl_input *input, uint32_t word, tl_sample *sample)
{
    tl_word format;
    if (input == NULL || sample == NULL)
        return TL_ERR_ARG;
    sample->flags &= (uint8_t)~TL_READING_FRESH;
    tl_rom_copy(&format, &input->word, sizeof format);
    return tl_word_sample(&format, word, sample);
}

tl_status tl_input_sample(const tl_port *port, const tl_input *input, tl_sample *sample)
{
    tl_input own;
    uint32_t word = 0;
    if (input == NULL || sample == NULL)
        return TL_ERR_ARG;
    sample->flags &= (uint8_t)~TL_READING_FRESH;
    tl_rom_copy(&own, input, sizeof own);
    const tl_status status = tl_port_convert(port, own.channel, own.acquisition_ns, own.longest_us, &word);
    return status == TL_OK ? tl_word_sample(&own.word, word, sample) : status;
}

tl_status tl_input_take(const tl_port *port, const tl_input *input, const tl_scale *scale,
                        tl_reading *reading)
{
    tl_input own;
    uint32_t word = 0;
    int32_t code = 0;

    if (input == NULL || scale == NULL || reading == NULL)
        return TL_ERR_ARG;
    reading->flags &= (uint8_t)~TL_READING_FRESH;
    tl_rom_copy(&own, input, sizeof own);
    if (own.word.bits > 16 || scale->last != (uint16_t)((UINT32_C(1) << own.word.bits) - 1u))
        return TL_ERR_ARG; /* a scale of another width than the word's */
    tl_status status = tl_port_convert(port, own.channel, own.acquisition_ns, own.longest_us, &word);
    if (status == TL_OK)
        status = tl_word_code(&own.word, word, &code);
    if (status != TL_OK)
        return status;
    const uint16_t count = (uint16_t)tl_word_count(&own.word, code);
    reading->count = count;
    reading->value_uv = tl_scale_uv(scale, count);
    reading->flags = (uint8_t)(TL_READING_FRESH | tl_scale_clipped(scale, count));
    return TL_OK;
}
