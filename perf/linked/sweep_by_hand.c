/* SPDX-License-Identifier: MIT */
/* The same by hand: nine points in RAM, divisions, no bound on any wait. */
#include "board.h"

volatile int16_t shown[8];
static const int16_t from[] = {992, 1204, 1487, 1869, 2902, 3233, 3461, 3626, 3745};
static const int16_t to[] = {531, 461, 382, 290, 63, -20, -88, -148, -202};

static int16_t tenths(int16_t count)
{
    if (count <= from[0])
        return to[0];
    for (uint8_t i = 1; i < 9; i++) {
        if (count < from[i])
            return (int16_t)(to[i - 1] +
                             (int32_t)(count - from[i - 1]) * (to[i] - to[i - 1]) / (from[i] - from[i - 1]));
    }
    return to[8];
}

static void wait_20_us(void)
{
    const uint16_t since = (uint16_t)TICKS;
    while ((uint16_t)((uint16_t)TICKS - since) < 6u)
        continue;
}

int main(void)
{
    LINES_USE = 0x0f;
    for (;;) {
        for (uint8_t i = 0; i < 8; i++) {
            LINES_OUT = 0x08;
            LINES_OUT = (uint8_t)(i | 0x08);
            LINES_OUT = i;
            wait_20_us();
            for (uint8_t k = 0; k < 2; k++) {
                CONVERT(1);
                while (CONVERTING)
                    continue;
            }
            shown[i] = tenths((int16_t)RESULT);
        }
    }
}
