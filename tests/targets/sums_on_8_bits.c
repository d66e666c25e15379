/* SPDX-License-Identifier: MIT */
/* The sums by a compiler of small 8-bit chips: the text stays in RAM, where its simulator's dump finds it. */
#include "lean_sums.h"
#include <stdint.h>

static uint8_t said[384];
static uint16_t at;

void lean_say(char byte)
{
    if (at < sizeof said)
        said[at++] = (uint8_t)byte;
}

void main(void)
{
    lean_sums();
    __asm__("break");
    for (;;)
        ;
}
