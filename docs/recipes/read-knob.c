/* SPDX-License-Identifier: MIT */
/* One channel by the converter's own registers, without a port. On the chip the three names are its
 * registers; here they are a converter that is played: it ends after PLAYED looks, or never. */
#include "strip_plan.h"
#include <stdio.h>

enum { LOOKS = 5000, PLAYED = 10 };
static uint8_t converter_select, converter_high;
static unsigned looks_left;
#define CONVERTER_START() (looks_left = converter_select == KNOB_SELECT_WORD ? PLAYED : LOOKS + 1)
#define CONVERTER_BUSY() (--looks_left > 0)

static bool read_knob(uint8_t select, knob_count *count)
{
    converter_select = select; /* channel, alignment and reference */
    CONVERTER_START();
    for (unsigned look = 0; CONVERTER_BUSY(); look++) {
        if (look == LOOKS - 1)
            return false; /* no loop without a bound */
    }
    tl_sample sample;
    return tl_input_word(&knob_input, converter_high, &sample) == TL_OK && knob_of(&sample, count);
}

int main(void)
{
    knob_count count;
    converter_high = 128;
    if (read_knob(KNOB_SELECT_WORD, &count))
        printf("count %u: %d.%d %%\n", (unsigned)TL_NUMBER(count), knob_value(count) / 10,
               knob_value(count) % 10);
    if (!read_knob(0, &count))
        printf("a conversion that does not end is noticed\n");
    return 0;
}
