/* SPDX-License-Identifier: MIT */
/* The machine timer counts in 64 bits for ever: nothing to set up, no interrupt. */
#include "port_riscv.h"
#include <stddef.h>

static struct {
    const volatile uint32_t *mtime;
    uint32_t hertz;
} own;

/* Seconds and the rest apart, so that nothing grows over 64 bits. */
uint32_t port_riscv_now_us(void)
{
    uint32_t high, low;
    do {
        high = own.mtime[1];
        low = own.mtime[0];
    } while (high != own.mtime[1]);
    const uint64_t ticks = (uint64_t)high << 32 | low;
    return (uint32_t)(ticks / own.hertz * 1000000u + ticks % own.hertz * 1000000u / own.hertz);
}

bool port_riscv_start(const volatile uint32_t *mtime, uint32_t hertz)
{
    own.mtime = mtime;
    own.hertz = hertz;
    return mtime != NULL && hertz != 0;
}

#ifndef TL_SMALL
#define now_us port_riscv_now_us
#include "../processor_clock.h"

const tl_port *port_riscv(const volatile uint32_t *mtime, uint32_t hertz, const tl_port_ops *chip,
                          void *context)
{
    return chip != NULL && port_riscv_start(mtime, hertz) ? with_clock(chip, context) : NULL;
}
#endif
