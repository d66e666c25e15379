/* SPDX-License-Identifier: MIT */
/* From reset to main: the stack, then zeros. The image is loaded where it runs, initial values and all. */
#include <stdint.h>

/* From link.ld. */
extern uint32_t zero_begin[], zero_end[];

int main(void);
void begin(void);

/* Volatile, so that no routine of a library is called for it. */
__attribute__((used)) void begin(void)
{
    for (volatile uint32_t *to = zero_begin; to < zero_end; to++)
        *to = 0;
    (void)main();
    for (;;)
        continue;
}

__attribute__((naked, used, section(".start"))) void reset(void);
void reset(void)
{
    __asm__ volatile("la sp, stack_top\n\tj begin");
}
