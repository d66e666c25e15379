/* SPDX-License-Identifier: MIT */
/* Bytes of the two wires and the plan's devices. Bytes out alone go over when the bus is free again; bytes in
 * are fetched when the first is required. */
#include "chip_inside.h"
#include <stddef.h>

static void send_alone(chip *of)
{
    two_wire *t = &of->transfer;
    if (t->there && !t->reads && t->out_count > 0)
        (void)tl_port_i2c_transfer(of->port, (uint8_t)of->two_wire_bus, t->address >> 1, t->out, t->out_count,
                                   NULL, 0);
    *t = (two_wire){.there = false};
}

bool chip_two_wire_start(chip *of, uint8_t address)
{
    two_wire *t = &of->transfer;
    if (of->two_wire_bus == TL_NONE)
        return false;
    chip_bring_bench(of);
    if (!(t->there && (address & ~1u) == (t->address & ~1u) && (address & 1) != 0))
        send_alone(of);
    t->address = address;
    t->reads = (address & 1) != 0;
    t->in_at = 0;
    const tl_status status =
        t->reads ? tl_port_i2c_transfer(of->port, (uint8_t)of->two_wire_bus, address >> 1, t->out,
                                        t->out_count, t->in, AHEAD)
                 : tl_port_i2c_transfer(of->port, (uint8_t)of->two_wire_bus, address >> 1, NULL, 0, NULL, 0);
    t->there = status == TL_OK;
    return t->there;
}

bool chip_two_wire_write(chip *of, uint8_t byte)
{
    two_wire *t = &of->transfer;
    if (!t->there || t->out_count == TRANSFER_MOST)
        return false;
    t->out[t->out_count++] = byte;
    return true;
}

bool chip_two_wire_read(chip *of, uint8_t *byte)
{
    two_wire *t = &of->transfer;
    *byte = t->there && t->in_at < AHEAD ? t->in[t->in_at++] : 0xff;
    return t->there;
}

void chip_two_wire_stop(chip *of)
{
    if (of->two_wire_bus == TL_NONE)
        return;
    chip_bring_bench(of);
    send_alone(of);
}
