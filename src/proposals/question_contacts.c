/* SPDX-License-Identifier: MIT */
/* Smallest plans of what stands between a contact or a bus line and its pin: pull, guard, bus pull, series
 * resistor into a clamp. */
#include "proposals/question.h"

/* --- pull --- */

static void take_pull(const void *requirement, asked_pin *pin)
{
    const tl_pull_requirement *w = requirement;
    pin->rail = w->rail;
    pin->highest = NAN;
    pin->vil = w->vil;
    pin->vih = w->vih;
    pin->vil_share = w->vil_share;
    pin->vih_share = w->vih_share;
    pin->leakage = w->leakage;
    pin->farads = 0; /* cable and pin together are a cable here */
}

static void write_pull(const asked_text *t)
{
    static const char *const names[] = {"RAIL", "logic", NULL};
    const tl_pull_requirement *w = t->question->requirement;
    const char *rail = w->down != 0 ? "logic" : "ground";
    const bool transistor = w->saturation.high > 0 || isfinite(w->drives);
    fprintf(t->to, "signals:\n  signal:\n    source: ");
    if (transistor) {
        fprintf(t->to, "{open-collector: %s, saturation: %s .. %s", rail, written(w->saturation.low, "V"),
                written(w->saturation.high, "V"));
        if (isfinite(w->drives))
            fprintf(t->to, ", on: %s", written(w->drives, "A"));
    } else {
        fprintf(t->to, "{contact: %s, closed: ", rail);
        write_range(t->to, &w->closed, "ohm");
        if (w->wetting > 0)
            fprintf(t->to, ", wetting: %s", written(w->wetting, "A"));
    }
    fprintf(t->to, "}\n    stages:\n");
    if (transistor && w->closed.high > 0) {
        fprintf(t->to, "      - series: ");
        write_range(t->to, &w->closed, "ohm");
        fprintf(t->to, "\n");
    }
    write_choice(t, 6, names);
    if (w->farads > 0)
        fprintf(t->to, "      - cable: %s\n", written(w->farads, "F"));
    fprintf(t->to, "    pin: line-0\n");
}

/* A level against its threshold, both at the corner where they come nearest. */
static void put_level(const asked_circuit *a, tl_choice *c, tl_figure_id id, int state, bool high,
                      double margin)
{
    const tl_worst_case *worst = worst_of(a, state);
    const tl_pin_limits *limits = &a->circuit->plan->pins[a->circuit->plan->signals[a->signal].pin].limits;
    const tl_bounds *left = high ? &worst->above_vih : &worst->above_vil;
    const double threshold = tl_circuit_level_at(a->circuit, a->signal, high ? limits->vih : limits->vil,
                                                 left, high ? left->low_at : left->high_at);
    put_figure(c, id, threshold + (high ? left->low : left->high));
    for (int i = 0; i < c->figures; i++) {
        if (c->figure[i].id == id)
            c->figure[i].limit = threshold + (high ? margin : -margin);
    }
}

static double size_of(tl_bounds bounds, bool most)
{
    const double low = fabs(bounds.low), high = fabs(bounds.high);
    return most ? fmax(low, high) : bounds.low * bounds.high < 0 ? 0 : fmin(low, high);
}

static void measure_pull(const asked_circuit *a, tl_choice *c)
{
    const tl_pull_requirement *w = a->question->requirement;
    const tl_bounds closed = amperes_in(a, 1, "pull");
    const tl_quantity ohms = {c->part[0].low, c->part[0].nominal, c->part[0].high, true};
    put_level(a, c, w->down == 0 ? TL_FIG_IDLE_LEVEL_LEAST : TL_FIG_IDLE_LEVEL, 0, w->down == 0, w->margin);
    put_level(a, c, w->down != 0 ? TL_FIG_CLOSED_LEVEL_LEAST : TL_FIG_CLOSED_LEVEL, 1, w->down != 0, 0);
    put_figure(c, TL_FIG_CURRENT_CLOSED, size_of(closed, true));
    put_figure(c, TL_FIG_WETTING_CURRENT, size_of(closed, false));
    put_figure(c, w->down != 0 ? TL_FIG_FALLS_BACK_IN : TL_FIG_RISES_BACK_IN,
               w->farads > 0 ? tl_circuit_edge(a->circuit, a->signal, 0) : 0);
    put_figure(c, TL_FIG_POWER, tl_circuit_resistor_watts(a->circuit, a->signal, part_of(a, "pull"), &ohms));
}

/* --- guard --- */

static void take_guard(const void *requirement, asked_pin *pin)
{
    const tl_guard_requirement *w = requirement;
    pin->rail = w->rail;
    pin->highest = NAN;
    pin->vil = w->vil;
    pin->most_amperes = w->pin_amperes;
    pin->leakage = w->leakage;
    pin->farads = w->farads;
}

/* The pull stands where the requirement has it, or out of the way before the guard. */
static void write_guard(const asked_text *t)
{
    static const char *const names[] = {NULL};
    const tl_guard_requirement *w = t->question->requirement;
    fprintf(t->to, "signals:\n  signal:\n    source: {contact: ground}\n    stages:\n");
    if (!is_said(w->pull))
        fprintf(t->to, "      - pull: {up: 1k, to: logic}\n");
    write_choice(t, 6, names);
    if (is_said(w->pull))
        fprintf(t->to, "      - pull: {up: %s ±0 %%, to: logic}\n", written(w->pull, "ohm"));
    fprintf(t->to, "    pin: line-0\n    driven: high\n");
}

/* The most heat in the guard while the pin drives against the contact, over its states and both directions.
 */
static double watts_while_driven(const asked_circuit *a)
{
    const tl_signal_nodes *nodes = &a->circuit->signals[a->signal];
    double most = NAN;
    for (int high = 0; high < 2; high++) {
        for (int state = 0; state < nodes->states && nodes->driven[high] != TL_NET_NONE; state++) {
            tl_ask ask = tl_ask_of(TL_ASK_WATTS, a->signal, state, part_of(a, "guard"));
            ask.closes[0] = nodes->driven[high];
            most = fmax(most, bounds_for(a, &ask).high);
        }
    }
    return most;
}

/* What the pin's leakage adds to its closed level. */
static double drop_by_leakage(const asked_circuit *a)
{
    const int pin = a->circuit->signals[a->signal].pin,
              leak = tl_circuit_param(a->circuit, "signal.pin.leakage");
    const double with = bounds_of(a, 1, TL_ASK_VOLTS, pin).high;
    double low, high;
    if (leak == TL_NET_NONE)
        return 0;
    tl_net_param_span(a->circuit->net, leak, &low, &high);
    tl_net_set_param(a->circuit->net, leak, 0, 0, 0);
    const double without = bounds_of(a, 1, TL_ASK_VOLTS, pin).high;
    tl_net_set_param(a->circuit->net, leak, low, 0, high);
    return with - without;
}

static void measure_guard(const asked_circuit *a, tl_choice *c)
{
    const tl_guard_requirement *w = a->question->requirement;
    put_figure(c, TL_FIG_PIN_CURRENT, tl_circuit_driven_amperes(a->circuit, a->signal));
    put_figure(c, TL_FIG_POWER_THEN, watts_while_driven(a));
    if (is_said(w->pull))
        put_level(a, c, TL_FIG_CLOSED_LEVEL, 1, false, 0);
    put_figure(c, TL_FIG_DROP_BY_LEAKAGE, drop_by_leakage(a));
    put_figure(c, TL_FIG_TIME_CONSTANT, tl_circuit_time_constant(a->circuit, a->signal, 1));
}

/* --- bus pull --- */

static void take_bus(const void *requirement, asked_pin *pin)
{
    const tl_bus_requirement *w = requirement;
    pin->rail = w->rail;
    pin->highest = NAN;
    pin->leakage = pin->farads = 0;
}

static void write_bus(const asked_text *t)
{
    static const char *const names[] = {"RAIL", "logic", NULL};
    const tl_bus_requirement *w = t->question->requirement;
    fprintf(t->to, "buses:\n  signal:\n    pins: {scl: line-0, sda: line-1}\n    mode: %s\n    stages:\n",
            tl_bus_rule_of(w->mode)->name);
    write_choice(t, 6, names);
    fprintf(t->to, "      - cable: %s\n", written(w->farads, "F"));
}

/* The two lines are alike. What a device sinks is asked of all pulls at its own low (standards.h). */
static void measure_bus(const asked_circuit *a, tl_choice *c)
{
    const tl_bus *bus = &a->circuit->plan->buses[0];
    double low, high, ohms;
    const int pull = tl_circuit_param(a->circuit, "signal.scl.pull");
    if (pull == TL_NET_NONE)
        return;
    tl_net_param_span(a->circuit->net, pull, &low, &high);
    put_figure(c, TL_FIG_LEAST_OHMS, low);
    put_figure(c, TL_FIG_MOST_OHMS, high);
    put_figure(c, TL_FIG_RISE_TIME,
               tl_circuit_rise(a->circuit, bus->first_line, 0, tl_bus_rise_share, &ohms));
    put_figure(c, TL_FIG_CURRENT_LOW, tl_circuit_bus_sink(a->circuit, bus).amperes);
}

/* --- injection --- */

static void take_injection(const void *requirement, asked_pin *pin)
{
    const tl_injection_requirement *w = requirement;
    pin->rail = w->rail;
    pin->highest = NAN;
    pin->over = w->clamp;
    pin->lowest = -w->clamp;
    pin->reference = fmax(w->rail.low, w->fault.high); /* nor that a reading would end there */
    pin->injection = w->amperes;
    if (0.7 * w->fault.high <
        or_else(pin->vih, pin->vih_share * w->rail.high)) { /* nor which level it makes */
        pin->vih = 0.7 * w->fault.high;
        pin->vil = 0.3 * w->fault.high;
    }
    if (w->fault.low < 0) /* on a converter's pin, of which is not asked whether it settles, or what leaks */
        pin->sample_farads = NAN;
    pin->leakage = w->fault.low < 0 ? 0 : pin->leakage;
}

/* A supply may not lie below ground: there the fault is a module's output, which is never live while the
 * board is off. */
static void write_injection(const asked_text *t)
{
    static const char *const names[] = {NULL};
    const tl_injection_requirement *w = t->question->requirement;
    const bool supply = w->fault.low >= 0;
    if (supply) {
        fprintf(t->to, "supplies: {fault: {voltage: %s%s}}\n", written(w->fault.high, "V"),
                w->unpowered != 0 ? ", live: always" : "");
    }
    fprintf(t->to, "signals:\n  signal:\n    source: ");
    if (supply) {
        fprintf(t->to, "{logic: fault, low: 0 V}\n    reading: {steady: 0 s}\n    pin: line-0");
    } else {
        fprintf(t->to, "{voltage: ");
        write_range(t->to, &w->fault, "V");
        fprintf(t->to, "}\n    pin: pin-0");
    }
    fprintf(t->to, "\n    stages:\n");
    write_choice(t, 6, names);
}

static void measure_injection(const asked_circuit *a, tl_choice *c)
{
    const tl_injection_requirement *w = a->question->requirement;
    const tl_quantity *rail = &a->circuit->plan->supplies[0].volts;
    const tl_signal_nodes *nodes = &a->circuit->signals[a->signal];
    const int supply = a->circuit->supply_param[0];
    double above = 0, below = 0, watts = NAN;
    if (w->unpowered != 0)
        tl_net_set_param(a->circuit->net, supply, 0, 0, 0);
    for (int state = 0; state < nodes->states; state++) {
        above = fmax(above, tl_circuit_clamp_amperes(a->circuit, a->signal, state, true));
        below = fmax(below, tl_circuit_clamp_amperes(a->circuit, a->signal, state, false));
        for (int high = 0; high < 2; high++) {
            tl_ask ask = tl_ask_of(TL_ASK_WATTS, a->signal, state, part_of(a, "series"));
            ask.closes[0] = high ? nodes->clamp_high : nodes->clamp_low;
            if (high ? nodes->passes_high : nodes->passes_low)
                watts = fmax(watts, bounds_for(a, &ask).high);
        }
    }
    tl_net_set_param(a->circuit->net, supply, rail->low, rail->nominal, rail->high);
    if (!nodes->passes_high) /* with the board on: what flows without it, by arithmetic */
        return;
    put_figure(c, TL_FIG_INJECTED_ABOVE, above);
    put_figure(c, TL_FIG_INJECTED_BELOW, below);
    put_figure(c, TL_FIG_INTO_THE_RAIL_ALL, w->pins * above);
    put_figure(c, TL_FIG_POWER_THEN, watts);
}

const question_kind contact_questions[] = {
    {"pull", take_pull, write_pull, measure_pull, NULL},
    {"guard", take_guard, write_guard, measure_guard, NULL},
    {"bus-pull", take_bus, write_bus, measure_bus, NULL},
    {"injection", take_injection, write_injection, measure_injection, NULL},
    {0},
};
