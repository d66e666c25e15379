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
    tl_sample own, precise;
    tl_status status = tl_input_sample(port, &built_in_input, &own);
    if (status == TL_OK)
        print("built-in", built_in_value((uint16_t)own.value), BUILT_IN_DECIMALS, BUILT_IN_UNIT);
    if (status == TL_OK)
        status = tl_external_take(port, &precise_input, &precise);
    if (status == TL_OK)
        print("precise", precise_value(precise.value), PRECISE_DECIMALS, PRECISE_UNIT);
    return status;
}
