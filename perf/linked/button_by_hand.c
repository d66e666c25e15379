/* SPDX-License-Identifier: MIT */
/* The same by hand: a level counts once the ticks have gone on for so long. */
#include "board.h"

volatile uint16_t shown;

int main(void)
{
    uint8_t accepted = 1, seen = 1;
    uint16_t since = (uint16_t)TICKS;
    for (;;) {
        const uint8_t level = (uint8_t)(LINES_IN & 1);
        if (level != seen) {
            seen = level;
            since = (uint16_t)TICKS;
        }
        if (level != accepted && (uint16_t)((uint16_t)TICKS - since) >= 5000u) {
            accepted = level;
            if (level == 0)
                shown++;
        }
    }
}
