/* SPDX-License-Identifier: MIT */
/* The same by hand, in whole numbers; it waits for ever, and trusts what it reads. */
#include "board.h"

volatile uint8_t shown;

int main(void)
{
    for (;;) {
        CONVERT(0);
        while (CONVERTING)
            continue;
        const int32_t millivolts = (int32_t)RESULT * 18810 / 4096;
        const int32_t percent = (millivolts - 10800) * 100 / (12900 - 10800);
        shown = percent < 0 ? 0 : percent > 100 ? 100 : (uint8_t)percent;
    }
}
