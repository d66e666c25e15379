/* SPDX-License-Identifier: MIT */
/* The plan's sweep: eight thermistors behind a multiplexer and the battery, all in one go. Which part of the
 * rim is coldest? */
#include "example.h"

enum { HEATERS = THERMAL_HEATER_8 + 1 };

static tl_status find_coldest(const tl_port *port, FILE *out)
{
    tl_sample samples[THERMAL_SAMPLES];
    tl_sweep sweep;
    int coldest = 0;
    tl_status status = tl_mux_open(port, &heaters_mux);
    if (status == TL_OK)
        status = thermal_init(&sweep, &samples);
    if (status == TL_OK) {
        sweep.sleeps = true; /* the converter is switched off in between: the battery must last the night */
        status = tl_sweep_run(&sweep, port);
    }
    for (int i = 0; status == TL_OK && i < HEATERS; i++) {
        char text[8];
        heater_1_count count; /* all eight are alike */
        if (!heater_1_of(&sweep.values[i], &count))
            continue;
        status = tl_text_fixed(heater_1_value(count), HEATER_1_DECIMALS, 5, text);
        fprintf(out, "heater-%d: %4ld counts, %s %s\n", i + 1, (long)sweep.values[i].value, text,
                HEATER_1_UNIT);
        coldest = sweep.values[i].value > sweep.values[coldest].value
                      ? i
                      : coldest; /* cold thermistors have more ohms */
    }
    if (status == TL_OK)
        fprintf(out, "coldest: heater-%d, after %lu us\n", coldest + 1, (unsigned long)sweep.stamp_us);
    /* Whatever happened, no line stays driven. */
    return first_trouble(status, tl_mux_release(port, &heaters_mux));
}

int main(int argc, char **argv)
{
    return example_main(argc, argv, find_coldest);
}
