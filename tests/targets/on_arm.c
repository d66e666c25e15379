/* SPDX-License-Identifier: MIT */
/* On an emulated Cortex-M: what comes out goes to the emulator's own console, by the calls that debuggers
 * know. */
#include "identity.h"

enum { WRITE_TEXT = 0x04, END = 0x18, ENDED_WELL = 0x20026 };

static void ask_debugger(int what, uintptr_t with)
{
    register int r0 __asm__("r0") = what;
    register uintptr_t r1 __asm__("r1") = with;
    __asm__ volatile("bkpt 0xab" : "+r"(r0) : "r"(r1) : "memory");
}

void identity_emit(uint8_t byte)
{
    static const char digits[] = "0123456789abcdef";
    const char text[4] = {digits[byte >> 4], digits[byte & 15], '\n', '\0'};
    ask_debugger(WRITE_TEXT, (uintptr_t)text);
}

int main(void)
{
    identity_run();
    ask_debugger(END, ENDED_WELL);
    return 0;
}
