/* SPDX-License-Identifier: MIT */
/* Rules for what the firmware drives: lamps, loads behind transistors, and all pins together. */
#include "analysis/ask.h"
#include "rules/check.h"
#include <math.h>

/* The load, and what is in series with it. */
static const tl_located *lamp_of(const tl_plan_output *output)
{
    return output->driver.way != TL_DRIVER_NONE ? &output->driver.lamp : &output->lamp;
}

static const tl_output_figures *found_of(const tl_checker *k, const tl_plan_output *output)
{
    return tl_circuit_output(k->circuit, (int)(output - k->plan->outputs));
}

/* The rail that an output's load is fed from. */
static int feeds_load(const tl_checker *k, const tl_plan_output *output)
{
    return output->driver.way != TL_DRIVER_NONE        ? output->driver.supply
           : !output->lamp.given                       ? TL_NONE
           : output->pin_count == 0                    ? output->from
           : !tl_plan_rail_is_low(k->plan, output->to) ? output->to
                                                       : k->plan->pins[output->pins[0]].limits.supply;
}

double tl_check_output_amperes(const tl_checker *k, const tl_plan_output *output, int supply)
{
    const tl_output_figures *found = found_of(k, output);
    const bool driven = output->driver.way != TL_DRIVER_NONE,
               base = driven && k->plan->pins[output->pins[0]].limits.supply == supply;
    const int loads = output->pin_count == 0 ? 1 : output->pin_count;
    return (feeds_load(k, output) == supply ? loads * found->load.high : 0) + (base ? loads * found->pin : 0);
}

static void check_lamp(const tl_checker *k, const tl_plan_output *output)
{
    const tl_located *lamp = lamp_of(output);
    const double left = found_of(k, output)->series_volts;
    if (left > 0.1)
        return;
    tl_finding *f =
        tl_check_add(k, TL_USUAL, TL_RULE_LAMP_DARK, lamp->place.line > 0 ? lamp->place : output->place,
                     "%s: the voltage at %s may be too low for the LED", output->name,
                     output->pin_count == 0                 ? k->plan->supplies[output->from].name
                     : output->driver.way != TL_DRIVER_NONE ? k->plan->supplies[output->driver.supply].name
                                                            : k->plan->pins[output->pins[0]].name);
    tl_finding_figures(f, TL_DIM_VOLT, left, 0);
    tl_finding_text(&f->figure, "%s left for the series resistor",
                    tl_show(left, TL_DIM_VOLT, TL_ROUND_DOWN).text);
    tl_finding_text(&f->fix, "use an LED with a lower forward voltage, or a higher supply: 'size lamp'");
}

/* A lamp that is connected to a rail is dark while its pin is as high; and while the pin is not driven, the
 * rail comes through the lamp. */
static void check_lamp_off(const tl_checker *k, const tl_plan_output *output)
{
    const tl_pin *pin = &k->plan->pins[output->pins[0]];
    if (output->pin_count == 0 || output->to == TL_TO_GROUND || output->to == pin->limits.supply ||
        pin->limits.supply == TL_NONE)
        return;
    const tl_supply *rail = &k->plan->supplies[output->to], *own = &k->plan->supplies[pin->limits.supply];
    const tl_place place = output->lamp.place.line > 0 ? output->lamp.place : output->place;
    const double released = rail->volts.high - output->lamp.value.low,
                 limit = tl_level_volts(pin->limits.highest, own->volts.low);
    if (released > limit) {
        tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_OVER_LIMIT, place,
                                     "%s can exceed its absolute maximum voltage through the LED of %s",
                                     pin->name, output->name);
        tl_finding_figures(f, TL_DIM_VOLT, released, limit);
        tl_finding_text(&f->figure, "%s through the LED; limit %s",
                        tl_show(released, TL_DIM_VOLT, TL_ROUND_UP).text,
                        tl_show(limit, TL_DIM_VOLT, TL_ROUND_DOWN).text);
        tl_finding_text(&f->fix, "set to: %s, or use a transistor for an LED on %s: 'size driver'", own->name,
                        rail->name);
    }
    const double left = released - own->volts.low;
    if (left <= 0)
        return;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_LAMP_LIT, place, "%s cannot turn off the LED of %s",
                                 pin->name, output->name);
    tl_finding_figures(f, TL_DIM_VOLT, left, 0);
    tl_finding_text(&f->figure, "%s across it while the pin is high",
                    tl_show(left, TL_DIM_VOLT, TL_ROUND_UP).text);
    tl_finding_text(&f->fix, "set to: %s, or use a transistor: 'size driver'", own->name);
}

static void check_drive(const tl_checker *k, const tl_plan_output *output)
{
    const tl_pin *pin = &k->plan->pins[output->pins[0]];
    const double amperes = tl_circuit_pin_amperes(k->circuit, output);
    const bool never = !isnan(pin->limits.most_amperes) && amperes > pin->limits.most_amperes;
    const bool unsure = !isnan(pin->limits.drives) && amperes > pin->limits.drives;
    if (!never && !unsure)
        return;
    const double limit = never ? pin->limits.most_amperes : pin->limits.drives;
    tl_finding *f = tl_check_add(k, never ? TL_GRAVE : TL_USUAL, TL_RULE_OVER_DRIVE,
                                 output->series.place.line > 0 ? output->series.place : output->place,
                                 never ? "%s: the current from %s is above its absolute maximum"
                                       : "%s: the current from %s is above its rated output current",
                                 output->name, pin->name);
    tl_finding_figures(f, TL_DIM_AMPERE, amperes, limit);
    tl_finding_text(&f->figure, "%s; limit %s", tl_show(amperes, TL_DIM_AMPERE, TL_ROUND_UP).text,
                    tl_show(limit, TL_DIM_AMPERE, TL_ROUND_DOWN).text);
    const tl_located *series =
        output->driver.way == TL_DRIVER_NONE ? &output->series : &output->driver.series;
    const double times = amperes / limit, least = series->value.low * times;
    tl_fix_resistor(k, f, "increase the series resistor", least, 1, series->given ? series : NULL);
}

/* --- transistors --- */

static void check_transistor(const tl_checker *k, const tl_plan_output *output)
{
    const tl_driver *driver = &output->driver;
    const tl_pin_limits *limits = &k->plan->pins[output->pins[0]].limits;
    const tl_driver_amperes amperes = tl_circuit_driver(k->circuit, output);
    const double load = amperes.load, base = amperes.base_least;
    const double high = tl_level_volts(limits->voh, k->plan->supplies[limits->supply].volts.low);
    if (driver->way == TL_DRIVER_BIPOLAR && base * driver->gain < load) {
        tl_finding *f =
            tl_check_add(k, TL_GRAVE, TL_RULE_DRIVER_WEAK, driver->place,
                         "%s: the base current is too small to saturate the transistor", output->name);
        tl_finding_figures(f, TL_DIM_AMPERE, base, base * driver->gain);
        tl_finding_text(&f->figure, "base current %s saturates only %s; the load needs %s",
                        tl_show(base, TL_DIM_AMPERE, TL_ROUND_DOWN).text,
                        tl_show(base * driver->gain, TL_DIM_AMPERE, TL_ROUND_DOWN).text,
                        tl_show(load, TL_DIM_AMPERE, TL_ROUND_UP).text);
        tl_fix_resistor(k, f, "reduce the base resistor", found_of(k, output)->base_ohms, -1,
                        &driver->series);
    }
    const double gate = found_of(k, output)->gate_least, across = found_of(k, output)->transistor_volts;
    if (driver->way == TL_DRIVER_N_CHANNEL && gate < 0.9 * high) {
        tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_DRIVER_WEAK, driver->place,
                                     "%s: the pull divides the gate voltage", output->name);
        tl_finding_figures(f, TL_DIM_VOLT, gate, high);
        tl_finding_text(&f->figure, "%s at the gate; %s at the pin",
                        tl_show(gate, TL_DIM_VOLT, TL_ROUND_DOWN).text,
                        tl_show(high, TL_DIM_VOLT, TL_ROUND_DOWN).text);
        tl_finding_text(&f->fix, "set series: 100 ohm to 1k, and pull: 100k");
    }
    if (driver->way == TL_DRIVER_N_CHANNEL && across > 0.1 * k->plan->supplies[driver->supply].volts.low) {
        tl_finding *f =
            tl_check_add(k, TL_USUAL, TL_RULE_DRIVER_WEAK, driver->place,
                         "%s: more than 10 %% of the supply drops across the transistor", output->name);
        tl_finding_text(&f->figure, "%s across it at %s", tl_show(across, TL_DIM_VOLT, TL_ROUND_UP).text,
                        tl_show(load, TL_DIM_AMPERE, TL_ROUND_UP).text);
        tl_finding_text(&f->fix, "use a transistor with a lower on-resistance at a gate voltage of %s",
                        tl_show(high, TL_DIM_VOLT, TL_ROUND_DOWN).text);
    }
    if (driver->henries > 0 && !driver->flyback) {
        tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_NO_FLYBACK, driver->place,
                                     "%s: no flyback diode; the turn-off voltage can destroy the transistor",
                                     output->name);
        tl_finding_figures(f, TL_DIM_AMPERE, load, 0);
        tl_finding_text(&f->figure, "%s in %s", tl_show(load, TL_DIM_AMPERE, TL_ROUND_UP).text,
                        tl_show(driver->henries, TL_DIM_HENRY, TL_ROUND_NEAREST).text);
        tl_finding_text(&f->fix, "add a diode across the load: flyback: yes");
        tl_finding_change(f, TL_CHANGE_KEY, driver->place, "flyback", "yes");
    }
    if (!driver->pull.given && driver->way == TL_DRIVER_N_CHANNEL) {
        tl_finding *f =
            tl_check_add(k, TL_USUAL, TL_RULE_DRIVER_NO_PULL, driver->place,
                         "%s: the gate floats while its pin is an input; the load may turn on", output->name);
        char value[40];
        tl_finding_text(&f->fix, "add pull: 100k  from gate to ground");
        if (tl_fix_ohms(k, 100e3, 0, NULL, value) != NULL)
            tl_finding_change(f, TL_CHANGE_KEY, driver->place, "pull", "%s", value);
    }
}

/* --- all together --- */

static void check_total(const tl_checker *k)
{
    double sum = 0;
    for (int i = 0; i < k->plan->output_count; i++)
        sum += k->plan->outputs[i].pin_count * tl_circuit_pin_amperes(k->circuit, &k->plan->outputs[i]);
    if (sum <= k->plan->board->total_amperes)
        return;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_TOTAL_CURRENT, k->plan->outputs[0].place,
                                 "total output current is above the limit of %s", k->plan->board->title);
    tl_finding_figures(f, TL_DIM_AMPERE, sum, k->plan->board->total_amperes);
    tl_finding_text(&f->figure, "%s; limit %s", tl_show(sum, TL_DIM_AMPERE, TL_ROUND_UP).text,
                    tl_show(k->plan->board->total_amperes, TL_DIM_AMPERE, TL_ROUND_DOWN).text);
    tl_finding_text(&f->fix,
                    "increase the series resistors at least %.1f times, or drive the largest load with a "
                    "transistor",
                    ceil(10 * sum / k->plan->board->total_amperes) / 10);
}

void tl_check_outputs(const tl_checker *k)
{
    for (int i = 0; i < k->plan->output_count; i++) {
        const tl_plan_output *output = &k->plan->outputs[i];
        if (lamp_of(output)->given)
            check_lamp(k, output);
        if (output->lamp.given) {
            check_lamp_off(k, output);
        }
        if (tl_circuit_pin_amperes(k->circuit, output) > 0)
            check_drive(k, output);
        if (output->driver.way != TL_DRIVER_NONE)
            check_transistor(k, output);
        if (output->frequency > 0)
            tl_check_duty(k, output);
    }
    if (k->plan->output_count > 0)
        check_total(k);
}
