/* SPDX-License-Identifier: MIT */
/* One battery, twice: by the chip's own converter and by the one of 16 bits on the bus. */
#include "twin_plan.h"
#include <stdio.h>

static void print(const char *name, int32_t value, uint8_t decimals, const char *unit)
{
    char text[12];
    (void)tl_text_fixed(value, decimals, 10, text);
    printf("%-10s%s %s\n", name, text, unit);
}

tl_status program(const tl_port *port)
{
    built_in_count own;
    precise_count precise;
    tl_status status = built_in_take(port, &own);
    if (status == TL_OK)
        print("built-in", built_in_value(own), BUILT_IN_DECIMALS, BUILT_IN_UNIT);
    if (status == TL_OK)
        status = precise_take(port, &precise);
    if (status == TL_OK)
        print("precise", precise_value(precise), PRECISE_DECIMALS, PRECISE_UNIT);
    return status;
}
