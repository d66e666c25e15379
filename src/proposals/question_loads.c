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
    pin->drives = 1e-3; /* some current at which it drops what its resistance makes of that */
    pin->voh_below = pin->drives * w->pin_ohms;
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
    const tl_plan_output *lamp = &a->circuit->plan->outputs[0];
    const tl_quantity amperes = tl_circuit_load_amperes(a->circuit, lamp);
    const double most = amperes.high;
    put_figure(c, TL_FIG_CURRENT_MOST, most);
    put_figure(c, TL_FIG_CURRENT_LEAST, amperes.low);
    put_figure(c, TL_FIG_ALL_LAMPS, w->lamps * most);
    put_figure(c, TL_FIG_POWER, most * most * c->part[0].low);
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
    const tl_driver_requirement *w = a->question->requirement;
    const tl_plan_output *output = &a->circuit->plan->outputs[0];
    if (output->driver.way == TL_DRIVER_NONE)
        return;
    const tl_driver_amperes amperes = tl_circuit_driver(a->circuit, output);
    put_figure(c, TL_FIG_LOAD_CURRENT, amperes.load);
    put_figure(c, TL_FIG_DIODE_CARRIES, amperes.load);
    put_figure(c, TL_FIG_BASE_CURRENT_LEAST, amperes.base_least);
    put_figure(c, TL_FIG_TRANSISTOR_POWER,
               output->driver.way == TL_DRIVER_BIPOLAR
                   ? amperes.load * (w->saturation + w->base_volts / w->forced_gain)
                   : amperes.load * amperes.load * w->on_ohms);
    if (output->driver.way == TL_DRIVER_BIPOLAR)
        put_figure(c, TL_FIG_PIN_CURRENT_MOST, amperes.pin);
}

const question_kind load_questions[] = {
    {"lamp", take_lamp, write_lamp, measure_lamp, NULL},
    {"driver", take_driver, write_driver, measure_driver, NULL},
    {0},
};
