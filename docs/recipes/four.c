/* Four sensors in one go, each in its unit. */
#include "four_plan.h"
#include <stdio.h>

static void print(const char *name, int16_t value, uint8_t decimals, const char *unit)
{
    char text[10];
    (void)tl_text_fixed(value, decimals, 8, text);
    printf("%-7s%s %s\n", name, text, unit);
}

tl_status program(const tl_port *port)
{
    tl_sample samples[2 * ALL_COUNT];
    tl_sweep sweep;
    tl_status status = all_init(&sweep, samples);
    if (status == TL_OK)
        status = tl_sweep_run(&sweep, port);
    if (status != TL_OK)
        return status;
    print("light", light_value((uint16_t)sweep.values[ALL_LIGHT].value), LIGHT_DECIMALS, LIGHT_UNIT);
    print("warmth", warmth_value((uint16_t)sweep.values[ALL_WARMTH].value), WARMTH_DECIMALS, WARMTH_UNIT);
    print("knob", knob_value((uint16_t)sweep.values[ALL_KNOB].value), KNOB_DECIMALS, KNOB_UNIT);
    print("module", module_value((uint16_t)sweep.values[ALL_MODULE].value), MODULE_DECIMALS, MODULE_UNIT);
    return TL_OK;
}
