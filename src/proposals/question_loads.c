/* SPDX-License-Identifier: MIT */
/* Smallest plans of what a pin drives: a lamp through a resistor, a load through a transistor. */
#include "proposals/question.h"

/* --- lamp --- */

/* The rail as the lamp and its resistor see it: the driver's drop, at least and at most, taken off. */
static tl_quantity lamp_rail(const tl_lamp_requirement *w)
{
    const double low = w->supply.low - or_else(w->most_drop, w->drop), high = w->supply.high - w->drop;
    return (tl_quantity){low, (low + high) / 2, high, true};
}

static void take_lamp(const void *requirement, asked_pin *pin)
{
    const tl_lamp_requirement *w = requirement;
    pin->rail = lamp_rail(w);
    pin->highest = NAN;
    pin->drives = 1e-3; /* at a milliampere it drops a thousandth of its ohms, in volts */
    pin->voh_below = w->pin_ohms / 1000;
}

static void write_lamp(const asked_text *t)
{
    static const char *const names[] = {"PIN", "line-0", NULL};
    fprintf(t->to, "outputs:\n");
    write_choice(t, 2, names);
}

static void measure_lamp(const asked_circuit *a, tl_choice *c)
{
    const tl_lamp_requirement *w = a->question->requirement;
    const tl_output_figures *lamp = tl_circuit_output(a->circuit, 0);
    put_figure(c, TL_FIG_CURRENT_MOST, lamp->load.high);
    put_figure(c, TL_FIG_CURRENT_LEAST, lamp->load.low);
    put_figure(c, TL_FIG_ALL_LAMPS, w->lamps * lamp->load.high);
    put_figure(c, TL_FIG_POWER, lamp->series_watts);
}

/* --- driver --- */

static void take_driver(const void *requirement, asked_pin *pin)
{
    const tl_driver_requirement *w = requirement;
    pin->rail = (tl_quantity){w->high.high, w->high.high, w->high.high, false};
    pin->highest = NAN;
    pin->voh = w->high.low;
    pin->drives = w->pin_amperes;
    pin->most_amperes = w->pin_amperes;
}

static void write_driver(const asked_text *t)
{
    static const char *const names[] = {"PIN", "line-0", "RAIL", "load", NULL};
    const tl_driver_requirement *w = t->question->requirement;
    fprintf(t->to, "supplies: {load: ");
    write_range(t->to, &w->supply, "V");
    fprintf(t->to, "}\noutputs:\n");
    write_choice(t, 2, names);
}

static void measure_driver(const asked_circuit *a, tl_choice *c)
{
    const tl_plan_output *output = &a->circuit->plan->outputs[0];
    if (output->driver.way == TL_DRIVER_NONE)
        return;
    const tl_output_figures *found = tl_circuit_output(a->circuit, 0);
    put_figure(c, TL_FIG_LOAD_CURRENT, found->load.high);
    put_figure(c, TL_FIG_DIODE_CARRIES, found->load.high);
    put_figure(c, TL_FIG_BASE_CURRENT_LEAST, found->base_least);
    put_figure(c, TL_FIG_TRANSISTOR_POWER, found->transistor_watts);
    if (output->driver.way == TL_DRIVER_BIPOLAR)
        put_figure(c, TL_FIG_PIN_CURRENT_MOST, found->pin);
}

const question_kind load_questions[] = {
    {"lamp", take_lamp, write_lamp, measure_lamp, NULL},
    {"driver", take_driver, write_driver, measure_driver, NULL},
    {0},
};
