/* SPDX-License-Identifier: MIT */
/* One checksum for each function of the demo's generated header, over every fifth count: for compilers that
 * know no more than C and have another idea of everything else. */
#include "lean_sums.h"
#include "fernhill_plan.h"

enum { COUNTS = 4096, STEP = 5 }; /* a prime, so that every low bit is met */

static void say_sum(const char *name, uint32_t sum)
{
    signed char nibble;
    for (; *name != '\0'; name++)
        lean_say(*name);
    lean_say(' ');
    for (nibble = 28; nibble >= 0; nibble -= 4) {
        const uint8_t digit = (uint8_t)(sum >> nibble & 15);
        lean_say((char)(digit < 10 ? '0' + digit : 'a' + digit - 10));
    }
    lean_say('\n');
}

#define SUM_OF(name, function)                                                                               \
    {                                                                                                        \
        uint32_t sum = 0;                                                                                    \
        uint16_t count;                                                                                      \
        for (count = 0; count < COUNTS; count = (uint16_t)(count + STEP)) {                                  \
            const int32_t value = function;                                                                  \
            sum = sum * 31u + (uint32_t)value;                                                               \
        }                                                                                                    \
        say_sum(name, sum);                                                                                  \
    }

void lean_sums(void)
{
    SUM_OF("house-battery", house_battery_value(TL_TYPE_OF(house_battery_count, count)))
    SUM_OF("house-battery %", house_battery_percent(TL_TYPE_OF(house_battery_count, count)))
    SUM_OF("roof-position", roof_position_value(TL_TYPE_OF(roof_position_count, count)))
    SUM_OF("wind-vane", wind_vane_value(TL_TYPE_OF(wind_vane_count, count)))
    SUM_OF("twilight %", twilight_percent(TL_TYPE_OF(twilight_count, count)))
    SUM_OF("mirror-temperature", mirror_temperature_value(TL_TYPE_OF(mirror_temperature_count, count)))
    SUM_OF("paddle-x", paddle_x_value(TL_TYPE_OF(paddle_x_count, count)))
    SUM_OF("heater-1", heater_1_value(TL_TYPE_OF(heater_1_count, count)))
    SUM_OF("line", tl_line_value(&house_battery_line, count))
    SUM_OF("curve", tl_curve_value(&heater_1_curve, count))
}
