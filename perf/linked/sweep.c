/* SPDX-License-Identifier: MIT */
/* Eight thermistors behind a multiplexer, one conversion after each switch discarded, with the core. */
#define TL_PIN(place, name) ((place) % 8)
#include "fernhill_plan.h"

extern const tl_port *const port;
enum { HEATERS = THERMAL_HEATER_8 + 1 };
volatile int16_t shown[HEATERS];

int main(void)
{
    static tl_sample samples[2 * HEATERS];
    static tl_sweep sweep;
    bool done = false;
    (void)tl_mux_open(port, &heaters_mux);
    (void)tl_sweep_init(&sweep, thermal_ways, HEATERS, samples);
    for (;;) {
        (void)tl_sweep_begin(&sweep);
        for (tl_status status = TL_OK; status == TL_OK && !done;)
            status = tl_sweep_step(&sweep, port, &done);
        for (uint8_t i = 0; i < HEATERS; i++) {
            heater_1_count count; /* all eight are alike */
            if (heater_1_of(&sweep.values[i], &count))
                shown[i] = heater_1_value(count);
        }
    }
}
