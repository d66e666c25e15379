/* SPDX-License-Identifier: MIT */
/* What a pin drives: a lamp through a resistor, or a larger load through a transistor. */
#include "sizing/sizing.h"
#include <stdio.h>

tl_lamp_requirement tl_lamp_requirement_default(void)
{
    return (tl_lamp_requirement){.supply.nominal = NAN,
                                 .forward.nominal = NAN,
                                 .amperes = NAN,
                                 .most_drop = NAN,
                                 .lamps = 1,
                                 .total_amperes = INFINITY};
}

static void work_out_lamp(const void *requirement, const tl_leg *series, tl_choice *c)
{
    const tl_lamp_requirement *w = requirement;
    char value[64];
    const double across = fmax(0, w->supply.high - w->forward.low - w->drop), most = across / series->low;
    const double least = fmax(0, w->supply.low - w->forward.high - or_else(w->most_drop, w->drop)) /
                         (series->high + w->pin_ohms);
    choice_part(c, "series", TL_DIM_OHM, series);
    choice_figure(c, TL_FIG_CURRENT_MOST, most, w->amperes);
    choice_figure(c, TL_FIG_CURRENT_LEAST, least, w->least_amperes > 0 ? w->least_amperes : (double)NAN);
    choice_figure(c, TL_FIG_ALL_LAMPS, w->lamps * most, w->total_amperes);
    choice_figure(c, TL_FIG_POWER, across * most, series->watts);
    c->extreme = least;
    practice_add(c, PRACTICE_LAMP_DIM, most / w->amperes);
    practice_add(c, PRACTICE_LAMP_MIDDLE, most / w->amperes);
    choice_plan(c, "lamp: {pin: PIN, lamp: %g V .. %g V, series: %s}", w->forward.low, w->forward.high,
                tl_leg_plan_text(series, NULL, value));
}

static const one_part_job lamp_job = {TL_DIM_OHM, work_out_lamp, NULL,
                                      (const bound_name[]){{TL_FIG_CURRENT_MOST, "smallest series resistor"},
                                                           {TL_FIG_CURRENT_LEAST, "largest series resistor"},
                                                           {0}}};

void tl_size_lamp(const tl_lamp_requirement *w, tl_size_result *answer)
{
    if (!is_range(&w->supply) || !is_range(&w->forward) || w->forward.low < 0 || w->supply.low <= 0 ||
        !(w->amperes > 0) || w->drop < 0 || !(w->pin_ohms >= 0) || w->lamps < 1 ||
        !(w->least_amperes <= w->amperes)) {
        result_refuse(answer, TL_SIZE_NONSENSE,
                      "an LED needs its supply, forward voltage and maximum current, and a minimum current "
                      "that is not above it");
        return;
    }
    if (w->supply.low <= w->forward.high + or_else(w->most_drop, w->drop)) {
        result_refuse(
            answer, TL_SIZE_IMPOSSIBLE,
            "the supply of %s is not more than %s of the LED and %s of the driver: it may stay dark; "
            "use a higher supply",
            say(w->supply.low, TL_DIM_VOLT), say(w->forward.high, TL_DIM_VOLT),
            say(or_else(w->most_drop, w->drop), TL_DIM_VOLT));
        return;
    }
    result_note(answer, "Minimum resistance in the worst case: %s.",
                say((w->supply.high - w->forward.low - w->drop) / w->amperes, TL_DIM_OHM));
    try_every_value(&lamp_job, w, answer);
}

/* --- driver --- */

tl_driver_requirement tl_driver_requirement_default(void)
{
    return (tl_driver_requirement){.supply.nominal = NAN,
                                   .load.nominal = NAN,
                                   .high.nominal = NAN,
                                   .pin_amperes = NAN,
                                   .forced_gain = tl_forced_gain,
                                   .base_volts = tl_base_on_most,
                                   .saturation = tl_saturated,
                                   .on_ohms = NAN,
                                   .most_watts = 0.3,
                                   .off_volts = 0.4};
}

/* The flyback diode of a coil, and how long its current lasts: it decays with L / R once the diode conducts.
 */
static void add_coil(const tl_driver_requirement *w, tl_choice *c, double amperes)
{
    if (w->henries <= 0)
        return;
    choice_figure(c, TL_FIG_DIODE_CARRIES, amperes, NAN);
    choice_figure(c, TL_FIG_DIODE_BLOCKS, w->supply.high, NAN);
    choice_figure(c, TL_FIG_RELEASES_AFTER, 3 * w->henries / w->load.low, NAN);
}

static void try_direct(const tl_driver_requirement *w, double amperes, tl_size_result *answer)
{
    tl_choice c = {.way = "straight from the pin", .score = 3e6};
    choice_figure(&c, TL_FIG_PIN_CURRENT, amperes, w->pin_amperes);
    choice_figure(&c, TL_FIG_SUPPLY, w->supply.high, w->high.high);
    if (w->henries > 0)
        result_reject(answer, &c, "direct connection: the turn-off voltage of the coil would reach the pin");
    else if (figure_broken(&c.figure[0]))
        result_reject(answer, &c, "direct connection: load current %s, pin current %s",
                      say(amperes, TL_DIM_AMPERE), say(w->pin_amperes, TL_DIM_AMPERE));
    else if (figure_broken(&c.figure[1]))
        result_reject(answer, &c, "direct connection: load supply %s, pin voltage %s",
                      say(w->supply.high, TL_DIM_VOLT), say(w->high.high, TL_DIM_VOLT));
    else {
        result_offer(answer, &c);
        result_tell_why(answer);
    }
}

typedef struct {
    const tl_driver_requirement *requirement;
    double amperes;
} driver_case;

static const char *inductance_of(const tl_driver_requirement *w, char text[48])
{
    snprintf(text, 48, w->henries > 0 ? ", inductance: %s" : "%.0s", say(w->henries, TL_DIM_HENRY));
    return text;
}

/* Keeps it off while the pin is released, whatever leaks out of it: 100k, or the next of E12 that is little
 * enough with its 5 %. */
static double pull_of(const tl_driver_requirement *w)
{
    double values[16]; /* a decade of them */
    const double most = w->leakage > 0 ? w->off_volts / w->leakage / 1.05 : INFINITY;
    if (most >= 100e3)
        return 100e3;
    const size_t count =
        tl_series_over(TL_E12, fmax(10, most / 10), most, values, sizeof values / sizeof *values);
    return count > 0 ? values[count - 1] : most;
}

static const char *pull_text(const tl_driver_requirement *w, char text[40])
{
    const tl_leg leg = leg_exact(pull_of(w));
    return tl_leg_write(&leg, NULL, TL_DIM_OHM, text);
}

/* Base resistor: the lowest high level must still give load current / forced gain, the highest must not tire
 * the pin. */
static void work_out_base(const void *context, const tl_leg *base, tl_choice *c)
{
    const driver_case *k = context;
    const tl_driver_requirement *w = k->requirement;
    char value[64], coil[48], pull[40];
    const double needed = k->amperes / w->forced_gain;
    c->way = "bipolar transistor";
    choice_part(c, "base resistor", TL_DIM_OHM, base);
    choice_figure(c, TL_FIG_BASE_CURRENT_LEAST, (w->high.low - w->base_volts) / base->high, needed);
    choice_figure(c, TL_FIG_PIN_CURRENT_MOST, (w->high.high - tl_base_on_least) / base->low, w->pin_amperes);
    choice_figure(c, TL_FIG_LOAD_CURRENT, k->amperes, NAN);
    choice_figure(c, TL_FIG_TRANSISTOR_POWER, k->amperes * w->saturation + w->base_volts * needed,
                  w->most_watts);
    add_coil(w, c, k->amperes);
    c->extreme = base->nominal; /* the largest that saturates it costs the pin least */
    choice_plan(c,
                "load:\n  pin: PIN\n  driver: {way: bipolar, gain: %g, saturation: %g V, series: %s, pull: "
                "%s ±5 %%, load: {resistance: %g ohm .. %g ohm%s, supply: RAIL}, "
                "flyback: %s}",
                w->forced_gain, w->saturation, tl_leg_plan_text(base, NULL, value), pull_text(w, pull),
                w->load.low, w->load.high, inductance_of(w, coil), w->henries > 0 ? "yes" : "no");
    choice_note(c, "A pull-down from the pin to ground, at least ten times the base resistor, keeps it off "
                   "while the pin is an input.");
}

/* Gate resistor: only limits the pin's current into the gate's capacitance; what counts is the on-resistance
 * at that level. */
static void work_out_gate(const void *context, const tl_leg *gate, tl_choice *c)
{
    const driver_case *k = context;
    const tl_driver_requirement *w = k->requirement;
    char value[64], coil[48], pull[40];
    c->way = "N-channel transistor";
    choice_part(c, "gate resistor", TL_DIM_OHM, gate);
    choice_figure(c, TL_FIG_PIN_CURRENT_MOST, w->high.high / gate->low, w->pin_amperes);
    choice_figure(c, TL_FIG_GATE_LEVEL_LEAST, w->high.low, NAN);
    choice_figure(c, TL_FIG_LOAD_CURRENT, k->amperes, NAN);
    choice_figure(c, TL_FIG_TRANSISTOR_POWER, k->amperes * k->amperes * w->on_ohms, w->most_watts);
    add_coil(w, c, k->amperes);
    c->extreme = -gate->nominal;
    practice_add(c, PRACTICE_GATE_LARGE, gate->nominal);
    practice_add(c, PRACTICE_GATE_MIDDLE, gate->nominal);
    choice_plan(c,
                "load:\n  pin: PIN\n  driver: {way: n-channel, on-resistance: %g ohm, series: %s, pull: %s "
                "±5 %%, load: {resistance: %g ohm .. %g ohm%s, supply: RAIL}, flyback: %s}",
                w->on_ohms, tl_leg_plan_text(gate, NULL, value), pull_text(w, pull), w->load.low,
                w->load.high, inductance_of(w, coil), w->henries > 0 ? "yes" : "no");
    choice_note(c,
                "The data sheet must give RDS(on) at a gate voltage of %s or less: VGS(th) proves "
                "nothing. %s from gate to ground keeps it off.",
                say(w->high.low, TL_DIM_VOLT), say(pull_of(w), TL_DIM_OHM));
}

static const one_part_job base_job = {
    TL_DIM_OHM, work_out_base, NULL,
    (const bound_name[]){{TL_FIG_BASE_CURRENT_LEAST, "largest base resistor"},
                         {TL_FIG_PIN_CURRENT_MOST, "smallest base resistor"},
                         {0}}};
static const one_part_job gate_job = {
    TL_DIM_OHM, work_out_gate, NULL,
    (const bound_name[]){{TL_FIG_PIN_CURRENT_MOST, "smallest gate resistor"}, {0}}};

/* One way's two best values, so that every way is seen among the choices. */
static void try_way(const driver_case *k, const one_part_job *job, double before, tl_size_result *answer)
{
    tl_size_result *own = tl_size_result_new(answer->stock, 2);
    own->order = answer->order;
    own->compare = answer->compare;
    try_every_value(job, k, own);
    for (int i = 0; i < own->exact_count; i++)
        result_bound(answer, own->exact[i].name, own->exact[i].value, own->exact[i].dimension);
    for (int i = 0; i < own->window_count && answer->window_count < TL_RESULT_WINDOWS; i++)
        answer->window[answer->window_count++] = own->window[i];
    for (int i = 0; i < own->count; i++) {
        own->choices[i].score = before - i; /* way before value */
        result_offer(answer, &own->choices[i]);
    }
    if (answer->reason[0] == '\0' && own->count > 0)
        snprintf(answer->reason, sizeof answer->reason, "%s, %.360s", say_way(own->choices[0].way),
                 own->reason);
    for (int i = 0; i < own->rejected_count; i++)
        result_reject(answer, &own->rejected[i].choice, "%s: %.200s", say_way(own->rejected[i].choice.way),
                      own->rejected[i].why);
    tl_size_result_free(own);
}

void tl_size_driver(const tl_driver_requirement *w, tl_size_result *answer)
{
    if (!is_range(&w->supply) || !is_range(&w->load) || !is_range(&w->high) || w->supply.low <= 0 ||
        w->load.low <= 0 || w->high.low <= 0 || !(w->pin_amperes > 0) || !(w->forced_gain >= 1) ||
        !(w->base_volts > 0) || w->saturation < 0 || w->on_ohms <= 0 || !(w->most_watts > 0) ||
        w->henries < 0 || !(w->leakage >= 0) || !(w->off_volts > 0)) {
        result_refuse(answer, TL_SIZE_NONSENSE,
                      "a driver needs the supply and resistance of the load, VOH and the current of the pin, "
                      "all above 0");
        return;
    }
    const double amperes = w->supply.high / w->load.low;
    const driver_case k = {w, amperes};
    result_note(answer, "The load draws up to %s at %s.", say(amperes, TL_DIM_AMPERE),
                say(w->supply.high, TL_DIM_VOLT));
    result_exact(answer, "base current wanted", amperes / w->forced_gain, TL_DIM_AMPERE);
    if (w->leakage > 0)
        result_exact(answer, "largest pull that keeps it off", w->off_volts / w->leakage, TL_DIM_OHM);
    try_direct(w, amperes, answer);
    if (w->high.low > w->base_volts)
        try_way(&k, &base_job, 2e6, answer);
    else
        result_reject(answer, NULL, "bipolar transistor: VOH %s does not turn on a base of %s",
                      say(w->high.low, TL_DIM_VOLT), say(w->base_volts, TL_DIM_VOLT));
    if (is_said(w->on_ohms))
        try_way(&k, &gate_job, 1e6, answer);
    else
        result_note(answer, "An N-channel MOSFET was not tried: give its RDS(on) at VOH with --rds-on.");
    if (answer->count == 0)
        result_refuse(answer, TL_SIZE_IMPOSSIBLE,
                      "neither the pin nor one transistor is enough: use a higher VOH, more pin current, or "
                      "a second transistor");
    if (w->henries > 0)
        result_note(answer, "Add a flyback diode across the coil, cathode to its supply: without it the "
                            "turn-off voltage destroys "
                            "the transistor.");
}
