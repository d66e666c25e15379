/* SPDX-License-Identifier: MIT */
/* On an emulated RISC-V: what comes out goes to the emulator's own console, by the calls that debuggers know.
 */
#include "identity.h"

enum { WRITE_TEXT = 0x04, END = 0x18, ENDED_WELL = 0x20026 };

static void ask_debugger(int what, uintptr_t with)
{
    register int a0 __asm__("a0") = what;
    register uintptr_t a1 __asm__("a1") = with;
    __asm__ volatile(
        ".option push\n\t.option norvc\n\tslli x0, x0, 0x1f\n\tebreak\n\tsrai x0, x0, 7\n\t.option pop"
        : "+r"(a0)
        : "r"(a1)
        : "memory");
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
    const uintptr_t why[] = {ENDED_WELL, 0};
    ask_debugger(END, sizeof(uintptr_t) == 4 ? (uintptr_t)ENDED_WELL : (uintptr_t)why);
    return 0;
}
