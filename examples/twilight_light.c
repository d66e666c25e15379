/* SPDX-License-Identifier: MIT */
/* The darker the evening, the brighter the map light: a light sensor, a smooth filter, a duty. */
#include "example.h"

enum { FIVE_MINUTES_US = 300000000 };

static tl_status light(const tl_port *port, FILE *out)
{
    tl_sample sample = {0}, smooth;
    tl_exponential slow;
    tl_status status = tl_exponential_init(&slow, 1);
    for (int minutes = 0; minutes <= 40 && status == TL_OK; minutes += 5) {
        status = tl_input_sample(port, &twilight_input, &sample);
        if (status != TL_OK)
            break;
        tl_exponential_feed(&slow, &sample, &smooth);
        twilight_count count;
        if (!twilight_of(&smooth, &count))
            break;
        const uint8_t day = twilight_percent(count), dark = (uint8_t)(100 - day);
        status = tl_port_line_duty(port, MAP_LIGHT_LINE, (uint16_t)(UINT16_MAX - map_light_duty(count)));
        if (status == TL_OK)
            fprintf(out, "%2d min: day %3u %%, map light %3u %%\n", minutes, (unsigned)day, (unsigned)dark);
        if (status == TL_OK)
            status = tl_port_wait_us(port, FIVE_MINUTES_US);
    }
    return status;
}

static tl_status evening(const tl_port *port, FILE *out)
{
    tl_status status = tl_port_line_use(port, MAP_LIGHT_LINE, TL_LINE_OUTPUT);
    if (status == TL_OK)
        status = light(port, out);
    /* Whatever happened, it goes out. */
    return first_trouble(status, tl_port_line_use(port, MAP_LIGHT_LINE, TL_LINE_RELEASED));
}

int main(int argc, char **argv)
{
    return example_main(argc, argv, evening);
}
