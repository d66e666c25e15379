/* The roof's slide potentiometer lights ten lamps: as many as it has travelled tenths, without flicker in
 * between. */
#include "example.h"

enum { LAMPS = 10, FOUR_SECONDS_US = 4000000, HYSTERESIS_COUNTS = 40 };

static const tl_bar bar TL_ROM = {.lines = {FIRST_LAMP, FIRST_LAMP + 1, FIRST_LAMP + 2, FIRST_LAMP + 3,
                                            FIRST_LAMP + 4, FIRST_LAMP + 5, FIRST_LAMP + 6, FIRST_LAMP + 7,
                                            FIRST_LAMP + 8, FIRST_LAMP + 9},
                                  .count = LAMPS};

static tl_status follow(const tl_port *port, FILE *out)
{
    tl_scale scale;
    tl_reading reading = {0};
    uint8_t lit = 0;
    tl_status status = tl_scale_init(&scale, &at_the_pin);
    if (status == TL_OK)
        status = tl_bar_open(port, &bar);
    for (int seconds = 0; seconds <= 44 && status == TL_OK; seconds += 4) {
        status = tl_input_take(port, &roof_position, &scale, &reading);
        if (status == TL_OK)
            status = tl_level_of(reading.count, 0, scale.last, HYSTERESIS_COUNTS, LAMPS, &lit);
        if (status == TL_OK)
            status = tl_bar_show(port, &bar, lit);
        if (status == TL_OK)
            fprintf(out, "%2d s: %4u counts  %.*s%.*s\n", seconds, (unsigned)reading.count, lit, "**********",
                    LAMPS - lit, "..........");
        if (status == TL_OK)
            status = tl_port_wait_us(port, FOUR_SECONDS_US);
    }
    /* Whatever happened, no lamp stays on. */
    return first_trouble(status, tl_bar_release(port, &bar));
}

int main(int argc, char **argv)
{
    return example_main(argc, argv, follow);
}
