/* SPDX-License-Identifier: MIT */
/* Conversions of the chip's own converter in parts; sweeps know those whose word is a count by themselves. */
#ifndef TL_PIN_CONVERSION_H
#define TL_PIN_CONVERSION_H

#include "tinyladder/input.h"

tl_status tl_pin_start(const tl_port *port, const TL_IN_ROM tl_convertible *input);
/* Whether it has ended, and then its word. */
tl_status tl_pin_fetch(const tl_port *port, const TL_IN_ROM tl_convertible *input, tl_span waited,
                       tl_raw *word, bool *ended);
/* A word that is a count, and nothing else. */
tl_status tl_pin_count(const TL_IN_ROM tl_convertible *input, tl_raw word, tl_sample *sample);

#endif
