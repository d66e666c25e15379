/* SPDX-License-Identifier: MIT */
/* Every five minutes: how wet the soil is, whether the pump runs, and whether the can is nearly empty. */
#include "garden_plan.h"
#include <stdio.h>

enum {
    FIVE_MINUTES_US = 300000000,
    LOOKS = 13,
    EMPTY_VOLTS = 100 /* in hundredths: less weight on the pad */
};

static tl_status take_mean(const tl_port *port, tl_sample *result)
{
    tl_mean mean;
    tl_sample sample;
    bool enough = false;
    tl_status status = tl_mean_init(&mean, SOIL_MEAN);
    while (!enough && status == TL_OK) {
        status = tl_input_sample(port, &soil_input, &sample);
        enough = status == TL_OK && tl_mean_feed(&mean, &sample, result);
    }
    return status;
}

static tl_status look(const tl_port *port, bool *pumps)
{
    tl_sample soil = {0};
    can_count can;
    soil_count count;
    tl_status status = take_mean(port, &soil);
    if (status == TL_OK)
        status = can_take(port, &can);
    if (status != TL_OK)
        return status;
    (void)soil_of(&soil, &count);
    soil.value = soil_value(count);
    status = tl_output_show(port, &pump_output, &soil, pumps);
    printf("soil %3d %%, pump %s%s\n", (int)soil.value, *pumps ? "on" : "off",
           can_value(can) < EMPTY_VOLTS ? ", fill the can" : "");
    return status;
}

tl_status program(const tl_port *port)
{
    bool pumps = false;
    tl_status status = tl_output_open(port, &pump_output);
    for (int i = 0; i < LOOKS && status == TL_OK; i++) {
        status = look(port, &pumps);
        if (status == TL_OK)
            status = tl_port_wait_us(port, FIVE_MINUTES_US);
    }
    const tl_status end = tl_output_release(port, &pump_output); /* whatever happened, it stands still */
    return status != TL_OK ? status : end;
}
