/* What outputs follow, and what hangs on them in amperes: once for the rules, for the guaranteed worst cases
 * and for what is shown. */
#include "tinyladder/design/plan.h"
#include <math.h>
#include <string.h>

static tl_quantity amperes_through(const tl_quantity *rail, const tl_quantity *lamp, const tl_quantity *ohms)
{
    return (tl_quantity){.low = fmax(0, (rail->low - lamp->high) / ohms->high),
                         .nominal = fmax(0, (rail->nominal - lamp->nominal) / ohms->nominal),
                         .high = fmax(0, (rail->high - lamp->low) / ohms->low)};
}

long tl_reading_whole(const tl_plan_reading *reading, int decimals)
{
    if (reading->empty.given || reading->point_count == 0 || strcmp(reading->unit, "%") != 0)
        return 0;
    return decimals <= 0 ? 100 : decimals == 1 ? 1000 : 10000;
}

/* The rail that a lamp's current comes from: its own where it hangs up there, else its pin's. */
static int lamp_rail(const tl_plan *plan, const tl_plan_output *output)
{
    return output->pin_count == 0                   ? output->from
           : !tl_plan_rail_is_low(plan, output->to) ? output->to
                                                    : plan->pins[output->pins[0]].limits.supply;
}

tl_quantity tl_plan_load_amperes(const tl_plan *plan, const tl_plan_output *output)
{
    const tl_driver *driver = &output->driver;
    if (driver->way != TL_DRIVER_NONE)
        return amperes_through(&plan->supplies[driver->supply].volts, &driver->lamp.value,
                               &driver->load.value);
    if (output->lamp.given)
        return amperes_through(&plan->supplies[lamp_rail(plan, output)].volts, &output->lamp.value,
                               &output->series.value);
    return (tl_quantity){.low = 0};
}

tl_quantity tl_plan_output_amperes(const tl_plan *plan, const tl_plan_output *output, int rail)
{
    const bool driven = output->driver.way != TL_DRIVER_NONE, always = output->pin_count == 0;
    const bool takes =
        driven ? output->driver.supply == rail : output->lamp.given && lamp_rail(plan, output) == rail;
    const bool gives = !driven && output->lamp.given && output->to == rail && !takes;
    const double loads = (gives ? -1 : takes ? 1 : 0) * (always ? 1 : output->pin_count);
    const tl_quantity each = tl_plan_load_amperes(plan, output);
    tl_quantity all = {.low = loads * each.low, .nominal = loads * each.nominal, .high = loads * each.high};
    if (!always)
        all.low = all.nominal = 0; /* it may be off */
    if (all.low > all.high)
        all = (tl_quantity){.low = all.high, .nominal = all.nominal, .high = all.low};
    return all;
}
