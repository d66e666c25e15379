/* SPDX-License-Identifier: MIT */
/* The same by hand, in float; it waits for ever, and trusts what it reads. */
#include "board.h"

volatile uint8_t shown;

int main(void)
{
    for (;;) {
        CONVERT(0);
        while (CONVERTING)
            continue;
        const float volts = (float)RESULT * 3.3f / 4096 * 5.7f;
        const float percent = (volts - 10.8f) * 100 / (12.9f - 10.8f);
        shown = percent < 0 ? 0 : percent > 100 ? 100 : (uint8_t)(percent + 0.5f);
    }
}
