/* SPDX-License-Identifier: MIT */
/* One input of the chip's own converter: a conversion, the word taken apart, the code as microvolts. What
 * fails is never marked fresh. */
#include "tinyladder/input.h"
#include "failed.h"
#include "port_calls.h"
#include "word_internal.h"

tl_status tl_input_word(const TL_IN_ROM tl_input *input, tl_raw word, tl_sample *sample)
{
    if (MISTAKEN(!input || sample == NULL))
        return TL_ERR_ARG;
    const tl_status status = tl_word_in_rom(&input->word, word, sample);
    return status == TL_OK ? TL_OK : tl_failed(sample, status);
}

tl_status tl_input_sample(const tl_port *port, const TL_IN_ROM tl_input *input, tl_sample *sample)
{
    tl_raw word = 0;
    if (MISTAKEN(!input || sample == NULL))
        return TL_ERR_ARG;
    const tl_status status =
        tl_port_convert(port, input->channel, input->reference, input->acquisition_ns, input->longest, &word);
    return status == TL_OK ? tl_input_word(input, word, sample) : tl_failed(sample, status);
}

#ifndef TL_SMALL /* microvolts have more bits */
tl_status tl_input_take(const tl_port *port, const TL_IN_ROM tl_input *input, const tl_scale *scale,
                        tl_sample *sample, uint16_t *count)
{
    tl_sample code = {0};
    if (!input || scale == NULL || sample == NULL)
        return TL_ERR_ARG;
    const tl_word format = input->word;
    /* A scale of another width than the word's would be another's. */
    const bool fits = format.bits <= 16 && scale->last == (uint16_t)((UINT32_C(1) << format.bits) - 1u);
    const tl_status status = fits ? tl_input_sample(port, input, &code) : TL_ERR_ARG;
    if (status != TL_OK)
        return tl_failed(sample, status);
    const uint16_t found = (uint16_t)tl_word_count(&format, code.value);
    *sample = code;
    sample->value = tl_scale_uv(scale, found);
    if (count != NULL)
        *count = found;
    return TL_OK;
}
#endif
