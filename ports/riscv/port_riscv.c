/* The machine timer counts in 64 bits for ever: nothing to set up, no interrupt. */
#include "port_riscv.h"
#include <stddef.h>

static struct {
    tl_port port;
    tl_port_ops ops;
    tl_port_reader reader;
    const volatile uint32_t *mtime;
    uint32_t hertz;
} own;

/* Seconds and the rest apart, so that nothing grows over 64 bits. */
static uint32_t now_us(void)
{
    uint32_t high, low;
    do {
        high = own.mtime[1];
        low = own.mtime[0];
    } while (high != own.mtime[1]);
    const uint64_t ticks = (uint64_t)high << 32 | low;
    return (uint32_t)(ticks / own.hertz * 1000000u + ticks % own.hertz * 1000000u / own.hertz);
}

#include "../processor_clock.h"

const tl_port *port_riscv(const volatile uint32_t *mtime, uint32_t hertz, const tl_port_ops *chip,
                          void *context)
{
    if (mtime == NULL || hertz == 0 || chip == NULL)
        return NULL;
    own.mtime = mtime;
    own.hertz = hertz;
    own.ops = *chip;
    own.ops.clock_us = clock_us;
    own.ops.wait_us = wait_us;
    own.port = (tl_port){&own.ops, context, &own.reader};
    return &own.port;
}
