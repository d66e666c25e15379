/* SPDX-License-Identifier: MIT */
/* On an 8-bit AVR: a register that nothing else uses takes each byte, and the simulator's host hears of it.
 */
#include "identity.h"

#define BYTE (*(volatile uint8_t *)MARK_ADDRESS)

void identity_emit(uint8_t byte)
{
    BYTE = byte;
}

int main(void)
{
    identity_run();
    /* Asleep permanently: the simulator ends. */
    __asm__ volatile("cli\n\tsleep");
    for (;;) {
    }
}
