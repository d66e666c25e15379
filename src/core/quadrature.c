/* SPDX-License-Identifier: MIT */
/* Two lines a quarter turn apart, by a table of what was seen and what is seen. */
#include "tinyladder/quadrature.h"
#include "clear.h"
#include "port_calls.h"

enum { JUMP = 2 };

tl_status tl_quadrature_init(tl_quadrature *quadrature)
{
    if (MISTAKEN(quadrature == NULL))
        return TL_ERR_ARG;
    tl_clear(quadrature, sizeof *quadrature);
    return TL_OK;
}

/* Both lines go round as 0, 1, 3, 2: the place on that round of what was and of what is, and their
 * difference. */
static uint8_t way(uint8_t was, uint8_t is)
{
    const uint8_t from = was ^ (was >> 1), to = is ^ (is >> 1);
    return (uint8_t)((to - from) & 3);
}

int8_t tl_quadrature_feed(tl_quadrature *quadrature, bool first, bool second)
{
    const uint8_t levels = (uint8_t)((first ? 1 : 0) | (second ? 2 : 0));
    const uint8_t turned = quadrature->any ? way(quadrature->levels, levels) : 0;
    quadrature->levels = levels;
    quadrature->any = true;
    if (turned == JUMP) {
        quadrature->missed = (uint16_t)(quadrature->missed + (quadrature->missed < UINT16_MAX));
        return 0;
    }
    const int8_t moved = (int8_t)(turned == 3 ? -1 : turned);
    quadrature->quarters = (int32_t)((uint32_t)quadrature->quarters + (uint32_t)(int32_t)moved);
    return moved;
}

int32_t tl_quadrature_steps(const tl_quadrature *quadrature, uint8_t quarters_a_step)
{
    const int32_t quarters = quadrature->quarters, whole = quarters / quarters_a_step;
    return quarters % quarters_a_step < 0 ? whole - 1 : whole;
}
