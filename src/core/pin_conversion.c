/* Conversions of the chip's own converter in parts. */
#include "pin_conversion.h"
#include "timeout.h"

const TL_ROM tl_conversion tl_pin_conversion = {0, 0, 0, 0};

static const TL_IN_ROM tl_input *own_of(const TL_IN_ROM tl_convertible *input)
{
    return (const TL_IN_ROM tl_input *)input; /* its first member */
}

tl_status tl_pin_start(const tl_port *port, const TL_IN_ROM tl_convertible *input)
{
    const TL_IN_ROM tl_input *own = own_of(input);
    if (!tl_port_converts(port))
        return TL_ERR_UNSUPPORTED;
    return port->ops->conversion_start(port->context, own->channel, own->reference, own->acquisition_ns);
}

tl_status tl_pin_fetch(const tl_port *port, const TL_IN_ROM tl_convertible *input, uint32_t waited_us,
                       uint32_t *word, bool *ended)
{
    const tl_status status = port->ops->conversion_ended(port->context, ended);
    if (status != TL_OK || *ended)
        return status == TL_OK ? port->ops->conversion_word(port->context, word) : status;
    return waited_us > own_of(input)->longest_us ? TL_ERR_LATE : TL_OK;
}

tl_status tl_pin_count(const TL_IN_ROM tl_convertible *input, uint32_t word, tl_sample *sample)
{
    const TL_IN_ROM tl_word *format = &own_of(input)->word;
    if (format->bits > 16 || format->align != TL_WORD_RIGHT || format->sign != TL_WORD_UNSIGNED)
        return TL_ERR_ARG;
    const uint16_t last = (uint16_t)(UINT16_MAX >> (16 - format->bits));
    if (word > last)
        return TL_ERR_WORD;
    sample->value = (int32_t)word;
    sample->flags = TL_READING_FRESH;
    sample->reason = TL_OK;
    if (word == 0)
        sample->flags |= TL_READING_CLIPPED_LOW;
    else if (word == last)
        sample->flags |= TL_READING_CLIPPED_HIGH;
    return TL_OK;
}
