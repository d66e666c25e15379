/* SPDX-License-Identifier: MIT */
/* Conversions of the chip's own converter in parts. */
#include "pin_conversion.h"
#include "port_calls.h"
#include "timeout.h"

const TL_ROM tl_conversion tl_pin_conversion = {0, 0, 0, 0};

static const TL_IN_ROM tl_input *own_of(const TL_IN_ROM tl_convertible *input)
{
    return (const TL_IN_ROM tl_input *)input; /* its first member */
}

tl_status tl_pin_start(const tl_port *port, const TL_IN_ROM tl_convertible *input)
{
    const TL_IN_ROM tl_input *own = own_of(input);
    (void)port;
    if (!tl_port_converts(port))
        return TL_ERR_UNSUPPORTED;
    return PORT_CALL(port, conversion_start, own->channel, own->reference, own->acquisition_ns);
}

tl_status tl_pin_fetch(const tl_port *port, const TL_IN_ROM tl_convertible *input, tl_span waited,
                       tl_raw *word, bool *ended)
{
    (void)port;
    const tl_status status = PORT_CALL(port, conversion_ended, ended);
    if (status != TL_OK || *ended)
        return status == TL_OK ? PORT_CALL(port, conversion_word, word) : status;
    return waited > own_of(input)->longest ? TL_ERR_LATE : TL_OK;
}

tl_status tl_pin_count(const TL_IN_ROM tl_convertible *input, tl_raw word, tl_sample *sample)
{
    const TL_IN_ROM tl_word *format = &own_of(input)->word;
    if (MISTAKEN(format->bits > 16 || format->align != TL_WORD_RIGHT || format->sign != TL_WORD_UNSIGNED))
        return TL_ERR_ARG;
    const uint16_t last = (uint16_t)(UINT16_MAX >> (16 - format->bits));
    if (word > last)
        return TL_ERR_WORD;
    sample->value = (tl_number)word;
    sample->flags = TL_READING_FRESH;
    sample->reason = TL_OK;
    if (word == 0)
        sample->flags |= TL_READING_CLIPPED_LOW;
    else if (word == last)
        sample->flags |= TL_READING_CLIPPED_HIGH;
    return TL_OK;
}
