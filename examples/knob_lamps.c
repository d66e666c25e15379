/* SPDX-License-Identifier: MIT */
/* The roof's slide potentiometer lights ten lamps: as many as it has travelled tenths, without flicker in
 * between. */
#include "example.h"

enum { LAMPS = 10, FOUR_SECONDS_US = 4000000 };

static tl_status follow(const tl_port *port, FILE *out)
{
    tl_sample sample = {0};
    uint8_t lit = 0;
    tl_status status = tl_bar_open(port, &position_bar_lamps);
    for (int seconds = 0; seconds <= 44 && status == TL_OK; seconds += 4) {
        status = tl_input_sample(port, &roof_position_input, &sample);
        roof_position_count count;
        if (status == TL_OK && roof_position_of(&sample, &count))
            lit = position_bar_level(count, lit);
        if (status == TL_OK)
            status = tl_bar_show(port, &position_bar_lamps, lit);
        if (status == TL_OK)
            fprintf(out, "%2d s: %4ld counts  %.*s%.*s\n", seconds, (long)sample.value, lit, "**********",
                    LAMPS - lit, "..........");
        if (status == TL_OK)
            status = tl_port_wait_us(port, FOUR_SECONDS_US);
    }
    /* Whatever happened, no lamp stays on. */
    return first_trouble(status, tl_bar_release(port, &position_bar_lamps));
}

int main(int argc, char **argv)
{
    return example_main(argc, argv, follow);
}
