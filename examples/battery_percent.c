/* How full is the house battery? A reading every ten minutes of an evening, as volts, bounds and percent. */
#include "example.h"

enum { EMPTY_UV = 10800000, FULL_UV = 12900000, TEN_MINUTES_US = 600000000 };

/* The reference is good to 2 %, the divider to 2 %, the converter to 6.5 counts. */
enum { PPM = 40000, MILLI_COUNTS = 6500 };

static tl_status watch(const tl_port *port, FILE *out)
{
    tl_scale scale;
    tl_accuracy accuracy;
    tl_reading reading = {0};
    uint16_t percent = 0;
    tl_status status = tl_scale_init(&scale, &at_the_battery);
    if (status == TL_OK)
        status = tl_accuracy_init(&accuracy, &at_the_battery, PPM, MILLI_COUNTS);
    for (int minutes = 0; minutes <= 40 && status == TL_OK; minutes += 10) {
        int32_t low_uv, high_uv;
        status = tl_input_take(port, &house_battery, &scale, &reading);
        if (status == TL_OK)
            status = tl_share_of(reading.value_uv, EMPTY_UV, FULL_UV, 100, &percent);
        if (status != TL_OK)
            break;
        tl_accuracy_interval(&accuracy, reading.count, &low_uv, &high_uv);
        fprintf(out, "%2d min: %5ld mV, surely %5ld .. %5ld mV, %3u %%\n", minutes,
                (long)reading.value_uv / 1000, (long)low_uv / 1000, (long)high_uv / 1000, (unsigned)percent);
        status = tl_port_wait_us(port, TEN_MINUTES_US);
    }
    return status;
}

int main(int argc, char **argv)
{
    return example_main(argc, argv, watch);
}
