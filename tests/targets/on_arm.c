/* On a 32-bit ARM core with the instructions of the smallest: the kernel's own calls print, no library does.
 */
#include "identity.h"

/* Linux's system calls, as its Arm interface numbers them: 1 ends, 4 writes. */
static long ask_kernel(long number, long a, long b, long c)
{
    register long r7 __asm__("r7") = number;
    register long r0 __asm__("r0") = a;
    register long r1 __asm__("r1") = b;
    register long r2 __asm__("r2") = c;
    __asm__ volatile("svc 0" : "+r"(r0) : "r"(r7), "r"(r1), "r"(r2) : "memory");
    return r0;
}

void identity_emit(uint8_t byte)
{
    static const char digits[] = "0123456789abcdef";
    const char text[3] = {digits[byte >> 4], digits[byte & 15], '\n'};
    (void)ask_kernel(4, 1, (long)text, 3);
}

void _start(void)
{
    identity_run();
    (void)ask_kernel(1, 0, 0, 0);
}
