/* SPDX-License-Identifier: MIT */
/* Dew: the fan starts below 2 degC and stops above 4 degC, and stands still while the sensor is broken. */
#include "example.h"

enum { FIVE_MINUTES_US = 300000000 };

static tl_status decide(const tl_port *port, int minutes, bool *on, FILE *out)
{
    heater_1_count count;
    char text[8];
    tl_status status = heater_1_take(port, &count);
    if (status != TL_OK)
        return status;
    const tl_sample tenths = {heater_1_value(count), TL_READING_FRESH, 0};
    status = tl_output_show(port, &dew_fan_output, &tenths, on);
    if (status == TL_OK)
        status = tl_text_fixed(tenths.value, HEATER_1_DECIMALS, 3, text);
    if (status == TL_OK)
        fprintf(out, "%2d min: %s %s, fan %s\n", minutes, text, HEATER_1_UNIT, *on ? "on" : "off");
    return status;
}

static tl_status evening(const tl_port *port, FILE *out)
{
    bool on = false;
    tl_status status = tl_mux_open(port, &heaters_mux);
    if (status == TL_OK)
        status = tl_output_open(port, &dew_fan_output);
    for (int minutes = 0; minutes <= 40 && status == TL_OK; minutes += 5) {
        status = decide(port, minutes, &on, out);
        if (status == TL_OK)
            status = tl_port_wait_us(port, FIVE_MINUTES_US);
    }
    status = first_trouble(status, tl_output_release(port, &dew_fan_output));
    return first_trouble(status, tl_mux_release(port, &heaters_mux));
}

int main(int argc, char **argv)
{
    return example_main(argc, argv, evening);
}
