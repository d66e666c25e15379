/* SPDX-License-Identifier: MIT */
/* How full is the house battery? A reading every ten minutes of an evening, as volts and percent. */
#include "example.h"

enum { TEN_MINUTES_US = 600000000 };

/* This many samples as the plan says, and their mean. */
static tl_status take_mean(const tl_port *port, tl_sample *quiet)
{
    tl_mean mean;
    tl_sample sample = {0};
    tl_status status = tl_mean_init(&mean, HOUSE_BATTERY_MEAN);
    for (bool enough = false; !enough && status == TL_OK;) {
        status = tl_input_sample(port, &house_battery_input, &sample);
        enough = status == TL_OK && tl_mean_feed(&mean, &sample, quiet);
    }
    return status;
}

static tl_status watch(const tl_port *port, FILE *out)
{
    tl_sample quiet = {0};
    char text[8];
    tl_status status = TL_OK;
    for (int minutes = 0; minutes <= 40 && status == TL_OK; minutes += 10) {
        status = take_mean(port, &quiet);
        if (status != TL_OK)
            break;
        house_battery_count count;
        if (!house_battery_of(&quiet, &count))
            break;
        (void)tl_text_fixed(house_battery_value(count), HOUSE_BATTERY_DECIMALS, 5, text);
        fprintf(out, "%2d min: %s %s, %3u %%\n", minutes, text, HOUSE_BATTERY_UNIT,
                (unsigned)house_battery_percent(count));
        status = tl_port_wait_us(port, TEN_MINUTES_US);
    }
    return status;
}

int main(int argc, char **argv)
{
    return example_main(argc, argv, watch);
}
