/* SPDX-License-Identifier: MIT */
/* What good practice costs, row by row: w ln^2(x / at) beyond what is comfortable, so that whatever fits can
 * still be picked where nothing comfortable does. */
#include "sizing/practice.h"
#include "sizing/figures.h"
#include <math.h>
#include <stdlib.h>

static const practice_row rows[] = {
    /* shares of a hard limit */
    [PRACTICE_AMPERES] = {"current limit", "# of the current limit", COST_OVER, 0.80, 10, TL_DIM_PERCENT,
                          "Stay a fifth below a current limit."},
    [PRACTICE_VOLTS] = {"voltage limit", "# of the voltage limit", COST_OVER, 0.97, 200, TL_DIM_PERCENT,
                        "Two 1 % parts that drift against each other move a tap by most of a percent."},
    [PRACTICE_LOOP_VOLTS] = {"voltage budget", "# of the voltage limit", COST_OVER, 0.97, 50, TL_DIM_PERCENT,
                             "Leave some voltage for drift and noise."},
    [PRACTICE_HIGH_LEVEL] = {"high level", "threshold at # of the high level", COST_OVER, 0.97, 20,
                             TL_DIM_PERCENT, "Noise upsets a level that is close to its threshold."},
    [PRACTICE_LOW_LEVEL] = {"low level", "low level at # of the threshold", COST_OVER, 0.90, 20,
                            TL_DIM_PERCENT, "Noise upsets a level that is close to its threshold."},
    [PRACTICE_CLOSED_LEVEL] = {"closed level", "closed level at # of the threshold", COST_OVER, 0.3, 2,
                               TL_DIM_PERCENT,
                               "Contacts age: let a closed one pull well below the threshold."},
    [PRACTICE_EDGE] = {"edge time", "# of the edge time allowed", COST_OVER, 1.0 / 3, 1, TL_DIM_PERCENT,
                       "Cables add capacitance: make edges three times as fast as necessary."},
    [PRACTICE_RISE] = {"rise time", "# of the rise time allowed", COST_OVER, 0.75, 5, TL_DIM_PERCENT,
                       "A bus grows: keep a quarter of the rise time for devices that are added."},
    [PRACTICE_BASE] = {"base current", "# of the base current needed", COST_OVER, 0.85, 10, TL_DIM_PERCENT,
                       "A transistor that is just saturated is not saturated in the cold."},
    [PRACTICE_HEAT] = {"heat in a resistor", "# of the rated power", COST_OVER, 0.5, 4, TL_DIM_PERCENT,
                       "At half its rated power a resistor stays cool and keeps its value."},
    [PRACTICE_LEAKAGE] = {"leakage", "# of the voltage left for leakage", COST_OVER, 0.2, 0.3, TL_DIM_PERCENT,
                          "Leakage doubles every ten degrees."},
    /* every part */
    [PRACTICE_DIGITS] = {"common value", "", COST_FLAT, NAN, 1, TL_DIM_NUMBER, "Its value is more common."},
    [PRACTICE_IN_PLAN] = {"value of the plan", "", COST_FLAT, NAN, -0.01, TL_DIM_NUMBER,
                          "The plan has this value already."},
    [PRACTICE_LAST_ONE] = {"last of its value", "", COST_FLAT, NAN, 0.05, TL_DIM_NUMBER,
                           "The drawer has more of it."},
    [PRACTICE_MORE_PARTS] = {"additional parts", "", COST_FLAT, NAN, 0.1, TL_DIM_NUMBER,
                             "It needs fewer parts."},
    [PRACTICE_UNEQUAL] = {"unequal parts", "", COST_FLAT, NAN, 0.02, TL_DIM_NUMBER,
                          "Equal parts cannot be mixed up."},
    /* contacts and buses */
    [PRACTICE_PULL_SMALL] = {"small pull", "", COST_UNDER, 4.7e3, 0.3, TL_DIM_OHM,
                             "A smaller pull only wastes current."},
    [PRACTICE_PULL_LARGE] = {"large pull", "", COST_OVER, 47e3, 0.3, TL_DIM_OHM,
                             "A larger pull picks up mains hum."},
    [PRACTICE_PULL_MIDDLE] = {"middle of the pull's range", "", COST_MIDDLE, NAN, 0.02, TL_DIM_OHM,
                              "The middle of the range leaves room on both sides."},
    [PRACTICE_GUARD_MIDDLE] = {"usual guard", "", COST_MIDDLE, 680, 0.02, TL_DIM_OHM,
                               "470 Ω to 1 kΩ protects a pin and costs no level."},
    [PRACTICE_GUARD_LARGE] = {"large guard", "", COST_OVER, 2.2e3, 0.3, TL_DIM_OHM,
                              "A larger guard slows the edges and shifts the level."},
    [PRACTICE_BUS_MIDDLE] = {"middle of the bus pull's range", "", COST_MIDDLE, NAN, 0.3, TL_DIM_OHM,
                             "The middle of the range is as far from too strong as from too slow."},
    [PRACTICE_BUS_SMALL] = {"small bus pull", "", COST_UNDER, 1e3, 0.5, TL_DIM_OHM,
                            "Below 1 kΩ every device sinks current for nothing."},
    [PRACTICE_BUS_LARGE] = {"large bus pull", "", COST_OVER, 10e3, 0.5, TL_DIM_OHM,
                            "Above 10 kΩ edges are slow and lines pick up noise."},
    [PRACTICE_INJECTION_MIDDLE] =
        {"twice the least resistor", "", COST_MIDDLE, NAN, 0.1, TL_DIM_OHM,
         "The injection limit is an absolute maximum: take twice the least resistance."},
    [PRACTICE_INJECTION_LARGE] = {"large series resistor", "", COST_OVER, 220e3, 1, TL_DIM_OHM,
                                  "The pin's leakage shows behind a larger resistor."},
    /* loads */
    [PRACTICE_LAMP_DIM] = {"dim lamp", "# of the current allowed", COST_UNDER, 0.5, 1, TL_DIM_PERCENT,
                           "Below half the current an LED looks dim in daylight."},
    [PRACTICE_LAMP_MIDDLE] = {"usual lamp current", "# of the current allowed", COST_MIDDLE, 0.75, 0.05,
                              TL_DIM_PERCENT,
                              "Three quarters of the current look as bright and spare the pin."},
    [PRACTICE_GATE_LARGE] = {"large gate resistor", "", COST_OVER, 1e3, 1, TL_DIM_OHM,
                             "A larger gate resistor only slows the edge."},
    [PRACTICE_GATE_MIDDLE] = {"usual gate resistor", "", COST_MIDDLE, 470, 0.02, TL_DIM_OHM,
                              "Some hundred ohms limit the edge's current and spare the pin."},
    /* sensors */
    [PRACTICE_LOOP_LITTLE] = {"small load", "# of the voltage limit", COST_UNDER, 0.85, 4, TL_DIM_PERCENT,
                              "A small load wastes the ADC's range."},
    [PRACTICE_FEED_SHARE] = {"large feed", "# of the voltage limit", COST_UNDER, 0.90, 4, TL_DIM_PERCENT,
                             "A larger feed wastes the ADC's range."},
    [PRACTICE_PARTNER_MIDDLE] = {"middle of the sensor", "", COST_MIDDLE, NAN, 0.3, TL_DIM_OHM,
                                 "Near the middle of the sensor's range the swing is widest."},
    [PRACTICE_PARTNER_AMPERES] = {"current at 0 Ω", "# at 0 Ω", COST_OVER, 20e-3, 2, TL_DIM_AMPERE,
                                  "A shorted sensor should not load the supply."},
    [PRACTICE_SENSOR_HEAT] = {"heat in the sensor", "# in the sensor", COST_OVER, 1e-3, 1, TL_DIM_WATT,
                              "A sensor that warms itself measures itself."},
    [PRACTICE_PARTNER_OHMS] = {"source resistance", "source resistance #", COST_OVER, 10e3, 1, TL_DIM_OHM,
                               "10 kΩ reads right on a bare pin."},
    [PRACTICE_PARTNER_HEAT] = {"heat in the partner", "# in the partner at 0 Ω", COST_OVER, 0.125, 2,
                               TL_DIM_WATT, "Keep a quarter-watt resistor at half its rated power."},
    /* dividers */
    [PRACTICE_SHARE_LITTLE] = {"range used", "# of the voltage limit", COST_UNDER, 0.90, 4, TL_DIM_PERCENT,
                               "A lower tap wastes the ADC's range."},
    [PRACTICE_SOURCE_LITTLE] = {"little current", "# from the source", COST_UNDER, 30e-6, 1, TL_DIM_AMPERE,
                                "Below 30 µA dirt and leakage matter."},
    [PRACTICE_SOURCE_MUCH] = {"much current", "# from the source", COST_OVER, 500e-6, 1, TL_DIM_AMPERE,
                              "More than 0.5 mA wastes a battery."},
    [PRACTICE_SOURCE_MIDDLE] = {"usual current", "# from the source", COST_MIDDLE, 150e-6, 0.02,
                                TL_DIM_AMPERE, "About 150 µA resists dirt and spares a battery."},
    [PRACTICE_BUDGET_MIDDLE] = {"half the current budget", "# from the source", COST_MIDDLE, NAN, 0.05,
                                TL_DIM_AMPERE, "Half of a small budget leaves room on both sides."},
    [PRACTICE_TAP_OHMS] = {"resistance at the tap", "resistance at the tap #", COST_OVER, 10e3, 1, TL_DIM_OHM,
                           "10 kΩ reads right on a bare pin, and a 10 MΩ meter shows 0.1 % less at most."},
    [PRACTICE_LOWER_OPEN] = {"lower leg open", "# into the pin if the lower leg opens", COST_OVER, 0.5e-3,
                             0.3, TL_DIM_AMPERE, "A joint that opens should not destroy the pin."},
    [PRACTICE_SUM_SMALL] = {"small sum of both legs", "# in both legs", COST_UNDER, 5e3, 1, TL_DIM_OHM,
                            "A logic line need not drive more than a milliampere."},
    [PRACTICE_SUM_LARGE] = {"large sum of both legs", "# in both legs", COST_OVER, 60e3, 1, TL_DIM_OHM,
                            "Larger legs are slow and pick up noise."},
    [PRACTICE_SUM_MIDDLE] = {"usual sum of both legs", "# in both legs", COST_MIDDLE, 20e3, 0.02, TL_DIM_OHM,
                             "About 20 kΩ is fast and draws a fraction of a milliampere."},
    [PRACTICE_RATIO_OFF] = {"distance from the ratio", "", COST_OVER, 0.3, 0.03, TL_DIM_NUMBER,
                            "It is nearer to the ratio."},
    [PRACTICE_RATIO_SUM] = {"usual sum of both legs", "# in both legs", COST_MIDDLE, NAN, 0.02, TL_DIM_OHM,
                            "About 20 kΩ is fast and draws a fraction of a milliampere."},
    /* capacitors */
    [PRACTICE_FILTER_SMALL] = {"small filter resistor", "", COST_UNDER, 1e3, 1, TL_DIM_OHM,
                               "A smaller resistor needs a large capacitor."},
    [PRACTICE_FILTER_LARGE] = {"large filter resistor", "", COST_OVER, 9e3, 1, TL_DIM_OHM,
                               "10 kΩ reads right on a bare pin."},
    [PRACTICE_FILTER_MIDDLE] = {"usual filter resistor", "", COST_MIDDLE, 4.7e3, 0.02, TL_DIM_OHM,
                                "A few kilohms go with common capacitors."},
    [PRACTICE_FILTER_FARADS_SMALL] = {"small filter capacitor", "", COST_UNDER, 10e-9, 1, TL_DIM_FARAD,
                                      "Below 10 nF cable and pin count as well."},
    [PRACTICE_FILTER_FARADS_LARGE] = {"large filter capacitor", "", COST_OVER, 1e-6, 1, TL_DIM_FARAD,
                                      "Above 1 µF ceramic and film capacitors are rare."},
    [PRACTICE_HALF_COUNT] = {"half a count", "# of half a count", COST_OVER, 0.8, 2, TL_DIM_PERCENT,
                             "Capacitors age: keep a fifth of half a count."},
    [PRACTICE_KEPT] = {"filter's demands", "# of the attenuation", COST_OVER, 0.985, 40, TL_DIM_PERCENT,
                       "Capacitors age: keep a percent of what the filter must do."},
    [PRACTICE_HELD_MIDDLE] = {"three times the least capacitor", "", COST_MIDDLE, NAN, 0.1, TL_DIM_FARAD,
                              "Three times the least capacitance still follows the source."},
    [PRACTICE_HELD_VALUE] = {"common capacitor", "", COST_FLAT, NAN, 0.02, TL_DIM_NUMBER,
                             "Its value is more common."},
    /* ladders */
    [PRACTICE_LADDER_PULL] = {"pull asked for", "", COST_MIDDLE, NAN, 1, TL_DIM_OHM,
                              "It is nearest to the pull that you asked for."},
    [PRACTICE_LADDER_APART] = {"distance of the buttons", "# of the best distance", COST_UNDER, 0.85, 100,
                               TL_DIM_PERCENT, "The buttons are too close together."},
    /* lines */
    [PRACTICE_LINE_SMALL] = {"small line resistor", "", COST_UNDER, 2.2e3, 1, TL_DIM_OHM,
                             "A logic line need not drive more than a milliampere."},
    [PRACTICE_LINE_LARGE] = {"large line resistor", "", COST_OVER, 22e3, 1, TL_DIM_OHM,
                             "A larger pull is slow and picks up noise."},
    [PRACTICE_LINE_MIDDLE] = {"usual line resistor", "", COST_MIDDLE, 10e3, 0.02, TL_DIM_OHM,
                              "10 kΩ is the usual value on a logic line."},
};

const practice_row *practice_rows(int *count)
{
    *count = (int)(sizeof rows / sizeof rows[0]);
    return rows;
}

/* One entry a row: of two parts or limits of a kind the dearer one is named, and both are paid. */
static void keep(tl_choice *choice, practice_id id, double x, double cost)
{
    const practice_row *row = &rows[id];
    choice->cost += cost;
    for (int i = 0; i < choice->costs; i++) {
        tl_cost *own = &choice->cost_of[i];
        if (own->name != row->name)
            continue;
        own->x = cost > own->cost ? x : own->x;
        own->cost += cost;
        return;
    }
    if (choice->costs < TL_CHOICE_COSTS)
        choice->cost_of[choice->costs++] = (tl_cost){
            row->name, row->phrase, row->why, cost, x, row->at, row->dimension, id < PRACTICE_DIGITS};
}

double practice_cost_near(practice_id id, double x, double at)
{
    const practice_row *row = &rows[id];
    if (!(x > 0) || !(at > 0) || (row->form == COST_OVER && x <= at) || (row->form == COST_UNDER && x >= at))
        return 0;
    const double off = log(x / at);
    return row->weight * off * off;
}

double practice_cost(practice_id id, double x)
{
    return rows[id].form == COST_FLAT ? rows[id].weight * x : practice_cost_near(id, x, rows[id].at);
}

void practice_near(tl_choice *choice, practice_id id, double x, double at)
{
    if (x > 0 && at > 0)
        keep(choice, id, x, practice_cost_near(id, x, at));
}

void practice_add(tl_choice *choice, practice_id id, double x)
{
    if (rows[id].form == COST_FLAT)
        keep(choice, id, x, practice_cost(id, x));
    else
        practice_near(choice, id, x, rows[id].at);
}

/* What is in a drawer: 10, 22 and 47 first, then what a smaller series has, too (IEC 60063). */
static double digits_cost(double value)
{
    static const struct {
        double digits, cost;
    } usual[] = {{1.0, 0},    {2.2, 0.003}, {4.7, 0.003}, {1.5, 0.005}, {3.3, 0.005}, {6.8, 0.005},
                 {1.2, 0.01}, {1.8, 0.01},  {2.7, 0.01},  {3.9, 0.01},  {5.6, 0.01},  {8.2, 0.01},
                 {1.1, 0.05}, {1.3, 0.05},  {1.6, 0.05},  {2.0, 0.05},  {2.4, 0.05},  {3.0, 0.05},
                 {3.6, 0.05}, {4.3, 0.05},  {5.1, 0.05},  {6.2, 0.05},  {7.5, 0.05},  {9.1, 0.05}};
    double digits = value;
    while (digits >= 10 * (1 - 1e-9))
        digits /= 10;
    while (digits < 1 - 1e-9)
        digits *= 10;
    for (size_t i = 0; i < sizeof usual / sizeof usual[0]; i++) {
        if (fabs(digits - usual[i].digits) < 1e-6)
            return usual[i].cost;
    }
    return 0.15;
}

bool practice_is_common(double value)
{
    return digits_cost(value) < 0.02;
}

void practice_held(tl_choice *choice, double farads, double least)
{
    const double digits = log10(farads);
    practice_near(choice, PRACTICE_HELD_MIDDLE, farads, 3 * least);
    practice_add(choice, PRACTICE_HELD_VALUE, fabs(digits - round(digits)) < 1e-6 && farads < 2e-6 ? 0 : 1);
}

static void weigh_part(tl_choice *choice, const tl_stock_part *part)
{
    practice_add(choice, PRACTICE_DIGITS, digits_cost(part->value));
    if (part->used)
        practice_add(choice, PRACTICE_IN_PLAN, 1);
    else if (part->count == 1)
        practice_add(choice, PRACTICE_LAST_ONE, 1);
}

double practice_discount(const tl_leg *leg, const tl_stock *stock)
{
    const int parts[2] = {leg->first, leg->second};
    double cost = 0;
    for (int i = 0; stock != NULL && i < 2; i++)
        cost += parts[i] >= 0 && stock->parts[parts[i]].used ? -rows[PRACTICE_IN_PLAN].weight : 0;
    return cost;
}

static void weigh_leg(tl_choice *choice, const tl_leg *leg, const tl_stock *stock)
{
    if (leg->first < 0 || stock == NULL) {
        if (leg->nominal > 0)
            practice_add(choice, PRACTICE_DIGITS, digits_cost(leg->nominal));
        return;
    }
    weigh_part(choice, &stock->parts[leg->first]);
    if (leg->second >= 0) {
        weigh_part(choice, &stock->parts[leg->second]);
        practice_add(choice, PRACTICE_MORE_PARTS, 1);
    }
}

void practice_common(tl_choice *choice, const tl_stock *stock)
{
    for (int i = 0; i < choice->figures; i++) {
        const tl_size_figure *f = &choice->figure[i];
        const practice_id id = tl_figure_row_of(f->id)->practice;
        const double limit = id == PRACTICE_HEAT && isnan(f->limit) ? 0.25 : f->limit; /* the usual rating */
        if (id != PRACTICE_NONE && !isnan(limit) && f->value > 0 && limit > 0)
            practice_add(choice, id, f->extreme == TL_LOWEST ? limit / f->value : f->value / limit);
    }
    for (int i = 0; i < choice->parts; i++)
        weigh_leg(choice, &choice->part[i], choice->part_dimension[i] == TL_DIM_OHM ? stock : NULL);
}

double practice_centre(const practice_window *window, double from, double to)
{
    const double low = fmax(window->least, from), high = fmin(window->most, to);
    return low <= high ? sqrt(low * high) : sqrt(window->least * window->most);
}
