/* SPDX-License-Identifier: MIT */
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
    tl_sample samples[ALL_SAMPLES];
    light_count light;
    warmth_count warmth;
    knob_count knob;
    module_count module;
    tl_sweep sweep;
    tl_status status = all_init(&sweep, &samples);
    if (status == TL_OK)
        status = tl_sweep_run(&sweep, port);
    if (status != TL_OK)
        return status;
    if (light_of(&sweep.values[ALL_LIGHT], &light))
        print("light", light_value(light), LIGHT_DECIMALS, LIGHT_UNIT);
    if (warmth_of(&sweep.values[ALL_WARMTH], &warmth))
        print("warmth", warmth_value(warmth), WARMTH_DECIMALS, WARMTH_UNIT);
    if (knob_of(&sweep.values[ALL_KNOB], &knob))
        print("knob", knob_value(knob), KNOB_DECIMALS, KNOB_UNIT);
    if (module_of(&sweep.values[ALL_MODULE], &module))
        print("module", module_value(module), MODULE_DECIMALS, MODULE_UNIT);
    return TL_OK;
}
