/* SPDX-License-Identifier: MIT */
/* Percent of one battery, with the core and the generated header. */
#include "fernhill_plan.h"

extern const tl_port *const port;
volatile uint8_t shown;

int main(void)
{
    for (;;) {
        house_battery_count count;
        if (house_battery_take(port, &count) == TL_OK)
            shown = house_battery_percent(count);
    }
}
