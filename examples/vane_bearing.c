/* Where does the wind come from? A track of a megohm behind a follower, the last eight readings averaged. */
#include "example.h"

enum { LAST = 8, A_SECOND_US = 1000000 };

static tl_status watch(const tl_port *port, FILE *out)
{
    tl_scale scale;
    tl_reading reading = {0};
    tl_sample samples[LAST], mean, median;
    tl_window window;
    tl_status status = tl_scale_init(&scale, &at_the_pin);
    if (status == TL_OK)
        status = tl_window_init(&window, samples, LAST - 1);
    for (int seconds = 0; seconds < 20 && status == TL_OK; seconds++) {
        status = tl_input_take(port, &wind_vane, &scale, &reading);
        if (status != TL_OK)
            break;
        tl_window_feed(&window, &(tl_sample){reading.count, reading.flags});
        if (seconds % 5 == 4 && tl_window_mean(&window, &mean) == TL_OK &&
            tl_window_median(&window, &median) == TL_OK)
            fprintf(out, "%2d s: %ld degrees on the mean, %ld in the middle\n", seconds + 1,
                    (long)tl_table_value(&vane_tenths, mean.value, NULL) / 10,
                    (long)tl_table_value(&vane_tenths, median.value, NULL) / 10);
        status = tl_port_wait_us(port, A_SECOND_US);
    }
    return status;
}

int main(int argc, char **argv)
{
    return example_main(argc, argv, watch);
}
