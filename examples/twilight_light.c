/* The darker the evening, the brighter the map light: a light sensor, a smooth filter, a duty. */
#include "example.h"

/* The plan's ends, moved inward by 5 %: so that it is surely all off by day and all on at night. */
enum { DARK_UV = 40000, BRIGHT_UV = 3150000, FIVE_MINUTES_US = 300000000, FULL = 65535 };

static tl_status light(const tl_port *port, FILE *out)
{
    tl_scale scale;
    tl_reading reading = {0};
    tl_exponential slow;
    tl_sample smooth;
    int32_t dark_uv = DARK_UV, bright_uv = BRIGHT_UV;
    uint16_t day = 0;
    tl_share_inward(&dark_uv, &bright_uv, 5);
    tl_status status = tl_scale_init(&scale, &at_the_pin);
    if (status == TL_OK)
        status = tl_exponential_init(&slow, 1);
    for (int minutes = 0; minutes <= 40 && status == TL_OK; minutes += 5) {
        status = tl_input_take(port, &twilight, &scale, &reading);
        if (status != TL_OK)
            break;
        tl_exponential_feed(&slow, &(tl_sample){reading.value_uv, reading.flags}, &smooth);
        status = tl_share_of(smooth.value, dark_uv, bright_uv, FULL, &day);
        if (status == TL_OK)
            status = tl_port_line_duty(port, MAP_LIGHT, (uint16_t)(FULL - day));
        if (status == TL_OK)
            fprintf(out, "%2d min: day %3ld %%, map light %3ld %%\n", minutes, 100L * day / FULL,
                    100L * (FULL - day) / FULL);
        if (status == TL_OK)
            status = tl_port_wait_us(port, FIVE_MINUTES_US);
    }
    return status;
}

static tl_status evening(const tl_port *port, FILE *out)
{
    tl_status status = tl_port_line_use(port, MAP_LIGHT, TL_LINE_OUTPUT);
    if (status == TL_OK)
        status = light(port, out);
    /* Whatever happened, it goes out. */
    return first_trouble(status, tl_port_line_use(port, MAP_LIGHT, TL_LINE_RELEASED));
}

int main(int argc, char **argv)
{
    return example_main(argc, argv, evening);
}
