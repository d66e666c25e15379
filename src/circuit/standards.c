/* SPDX-License-Identifier: MIT */
/* Bus modes of UM10204 as one table, and the one sum that says whether a line can be held low: (V - VOL) / R
 * over all pulls. */
#include "tinyladder/design/standards.h"
#include <math.h>
#include <stddef.h>

static const tl_bus_rule rules[] = {
    [TL_BUS_STANDARD] = {"standard", 1000e-9, 400e-12, 0.4, 3e-3, 5e-6},
    [TL_BUS_FAST] = {"fast", 300e-9, 400e-12, 0.4, 3e-3, 1.25e-6},
    [TL_BUS_FAST_PLUS] = {"fast-plus", 120e-9, 550e-12, 0.4, 20e-3, 0.5e-6},
};
static const double low_rail = 2; /* at or below, levels are shares of it */

const tl_bus_rule *tl_bus_rule_of(tl_bus_mode mode)
{
    return &rules[mode];
}

bool tl_bus_low(tl_bus_mode mode, double rail, double *volts, double *amperes)
{
    const bool low = rail <= low_rail;
    *volts = low ? 0.2 * rail : rules[mode].low_volts;
    *amperes = low ? 2e-3 : rules[mode].low_amperes;
    return !(low && mode == TL_BUS_STANDARD);
}

tl_bus_sunk tl_bus_sinks(const tl_bus_held *line)
{
    const tl_quantity *rail = &line->rail;
    /* The sum rises with the rail within each rule, so the tops of both are the candidates. */
    const double points[] = {rail->high, fmin(low_rail, rail->high)};
    tl_bus_sunk worst = {.share = -1};
    for (int p = 0; p < (rail->low <= low_rail ? 2 : 1); p++) {
        double vol = 0, iol = 0, sum = 0;
        const bool there =
            tl_bus_low(line->mode, points[p], &vol, &iol) || (!isnan(line->low) && !isnan(line->drives));
        vol = isnan(line->low) ? vol : line->low;
        iol = isnan(line->drives) ? iol : line->drives;
        for (int i = 0; i < line->count; i++)
            sum += fmax(0, fmin(line->pulls[i].rail, points[p]) - vol) / line->pulls[i].ohms;
        const double share = there ? sum / iol : INFINITY;
        if (share > worst.share)
            worst = (tl_bus_sunk){share, sum, vol, iol};
    }
    return worst;
}

void tl_beside(tl_quantity *siemens, const tl_quantity *ohms)
{
    siemens->low += 1 / ohms->high;
    siemens->nominal += 1 / ohms->nominal;
    siemens->high += 1 / ohms->low;
}

tl_quantity tl_ohms_of(const tl_quantity *siemens)
{
    return siemens->high > 0 ? (tl_quantity){1 / siemens->high, 1 / siemens->nominal, 1 / siemens->low, true}
                             : (tl_quantity){NAN, NAN, NAN, false};
}

double tl_coil_joules(double henries, double amperes)
{
    return henries * amperes * amperes / 2;
}

double tl_lag_of(double bandwidth)
{
    return isfinite(bandwidth) ? 1 / (2 * 3.14159265358979324 * bandwidth) : 0;
}
