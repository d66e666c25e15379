/* SPDX-License-Identifier: MIT */
/* From reset to main: the table of the processor's own exceptions (a chip's interrupts follow it), initial
 * values into RAM, zeros. */
#include "port_cortex_m.h"

/* From link.ld. */
extern uint32_t stack_top[], values[], data_begin[], data_end[], zero_begin[], zero_end[];

int main(void);
void reset(void);

static void halt(void)
{
    for (;;)
        continue;
}

/* Word by word through volatile, so that no routine of a library is called before there is RAM to call it
 * with. */
void reset(void)
{
    const uint32_t *from = values;
    for (volatile uint32_t *to = data_begin; to < data_end; to++)
        *to = *from++;
    for (volatile uint32_t *to = zero_begin; to < zero_end; to++)
        *to = 0;
    (void)main();
    halt();
}

typedef union {
    void (*call)(void);
    uint32_t *stack;
} vector;

/* 2 NMI, 3 hard fault, 11 supervisor call, 14 its pending one, 15 SysTick; the rest is not there on the
 * smallest. */
__attribute__((section(".vectors"), used)) static const vector vectors[] = {{.stack = stack_top},
                                                                            {reset},
                                                                            {halt},
                                                                            {halt},
                                                                            {0},
                                                                            {0},
                                                                            {0},
                                                                            {0},
                                                                            {0},
                                                                            {0},
                                                                            {0},
                                                                            {halt},
                                                                            {halt},
                                                                            {0},
                                                                            {halt},
                                                                            {port_cortex_m_tick}};
