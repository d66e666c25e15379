/* SPDX-License-Identifier: MIT */
/* Where does the wind come from? A track of a megohm behind a follower, the last eight readings averaged. */
#include "example.h"

enum { LAST = 8, A_SECOND_US = 1000000 };

static tl_status watch(const tl_port *port, FILE *out)
{
    tl_sample sample = {0}, samples[LAST], mean, median;
    tl_window window;
    tl_status status = tl_window_init(&window, samples, LAST - 1);
    for (int seconds = 0; seconds < 20 && status == TL_OK; seconds++) {
        status = tl_input_sample(port, &wind_vane_input, &sample);
        if (status != TL_OK)
            break;
        tl_window_feed(&window, &sample);
        wind_vane_count on_the_mean, in_the_middle;
        if (seconds % 5 == 4 && tl_window_mean(&window, &mean) == TL_OK &&
            tl_window_median(&window, &median) == TL_OK && wind_vane_of(&mean, &on_the_mean) &&
            wind_vane_of(&median, &in_the_middle))
            fprintf(out, "%2d s: %d degrees on the mean, %d in the middle\n", seconds + 1,
                    wind_vane_value(on_the_mean), wind_vane_value(in_the_middle));
        status = tl_port_wait_us(port, A_SECOND_US);
    }
    return status;
}

int main(int argc, char **argv)
{
    return example_main(argc, argv, watch);
}
