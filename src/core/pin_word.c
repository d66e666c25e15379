/* SPDX-License-Identifier: MIT */
/* Conversions of the chip's own converter whose words are more than counts. */
#include "pin_conversion.h"

static tl_status take_word(const TL_IN_ROM tl_convertible *input, tl_raw word, tl_sample *sample)
{
    return tl_input_word((const TL_IN_ROM tl_input *)input, word, sample); /* its first member */
}

static tl_status look_at_pin(const tl_port *port, const TL_IN_ROM tl_convertible *input, tl_span waited,
                             tl_sample *sample, bool *ended)
{
    tl_raw word = 0;
    const tl_status status = tl_pin_fetch(port, input, waited, &word, ended);
    return status == TL_OK && *ended ? take_word(input, word, sample) : status;
}

const TL_ROM tl_conversion tl_pin_word_conversion = {tl_pin_start, look_at_pin, take_word, 0};
