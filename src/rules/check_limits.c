/* SPDX-License-Identifier: MIT */
/*
 * Rules of what a pin stands: absolute limits, currents through its clamps, a board without power, a leg that
 * comes off, and firmware that drives against what is connected.
 */
#include "analysis/ask.h"
#include "base/memory.h"
#include "rules/check.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>

/* The clamp on one side of a signal's pin, in a state, with a further contact closed or TL_NET_NONE. */
typedef struct {
    int signal, state;
    bool high;
    int also_closed;
} clamp_side;

/* The most that flows through it, other contacts as they are. */
static bool clamp_amperes(tl_circuit *circuit, clamp_side of, tl_bounds *bounds, double *most)
{
    const tl_signal_nodes *nodes = &circuit->signals[of.signal];
    const bool high = of.high;
    tl_ask ask =
        tl_ask_of(TL_ASK_RAIL_AMPERES, of.signal, of.state, high ? nodes->high_rail : nodes->low_rail);
    ask.closes[0] = high ? nodes->clamp_high : nodes->clamp_low;
    ask.closes[1] = of.also_closed;
    if (!(high ? nodes->passes_high : nodes->passes_low) ||
        tl_circuit_ask(circuit, &ask, bounds) != TL_NET_SOLVED)
        return false;
    *most = high ? -bounds->low : bounds->high; /* into the upper rail, out of the lower one */
    return true;
}

double tl_circuit_clamp_amperes(tl_circuit *circuit, int signal, int state, bool high)
{
    tl_bounds bounds;
    double most = 0;
    return clamp_amperes(circuit, (clamp_side){signal, state, high, TL_NET_NONE}, &bounds, &most)
               ? fmax(0, most)
               : 0;
}

/* --- clamps that the plan counts on --- */

/* A clamp of the plan's own holds the pin; the pin's own diodes may conduct within their limit. True where
 * either is so. */
static bool clamp_saves(const tl_checker *k, int signal, int state, bool high)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_pin *pin = tl_check_pin(k, signal);
    const tl_signal_nodes *nodes = &k->circuit->signals[signal];
    for (const tl_plan_part *part = NULL;
         (part = tl_parts_with(&k->circuit->parts, signal, TL_HOLDS, part)) != NULL;) {
        const tl_stage *stage = part->of;
        tl_bounds bounds;
        double amperes = 0;
        if (!stage->to_pin && part->up == high) {
            tl_ask ask =
                tl_ask_against(signal, state, nodes->pin,
                               tl_level_value(k->circuit, high ? pin->limits.highest : pin->limits.lowest,
                                              pin->limits.supply));
            ask.closes[0] = high ? nodes->clamp_high : nodes->clamp_low;
            if (tl_circuit_ask(k->circuit, &ask, &bounds) == TL_NET_SOLVED)
                return high ? bounds.high <= tl_slack_volts : bounds.low >= -tl_slack_volts;
        }
        if (!stage->to_pin || isnan(pin->limits.injection) ||
            !clamp_amperes(k->circuit, (clamp_side){signal, state, high, TL_NET_NONE}, &bounds, &amperes))
            continue;
        if (amperes > pin->limits.injection) {
            tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_INJECTION, stage->place,
                                         "%s: the clamp current into %s is above the injection limit",
                                         s->name, pin->name);
            tl_finding_figures(f, TL_DIM_AMPERE, amperes, pin->limits.injection);
            tl_finding_text(&f->figure, "%s; limit %s", tl_show(amperes, TL_DIM_AMPERE, TL_ROUND_UP).text,
                            tl_show(pin->limits.injection, TL_DIM_AMPERE, TL_ROUND_DOWN).text);
            tl_check_corner(k, f, &bounds, high ? bounds.low_at : bounds.high_at);
            tl_finding_text(&f->fix, "increase the resistance before the pin at least %.1f times",
                            ceil(10 * amperes / pin->limits.injection) / 10);
            const tl_plan_part *series = tl_check_part(k, signal, TL_PART_SERIES);
            char value[40];
            if (series != NULL && series < part &&
                tl_fix_ohms(k, series->value->value.low * (amperes / pin->limits.injection), 1, series->value,
                            value) != NULL)
                tl_finding_change(f, TL_CHANGE_VALUE, series->value->place, NULL, "%s", value);
        }
        return true;
    }
    return false;
}

/* What a clamp of the plan's own must carry in a state. */
static void check_clamp_part(const tl_checker *k, int signal, int state)
{
    const tl_signal *s = &k->plan->signals[signal];
    for (const tl_plan_part *part = NULL;
         (part = tl_parts_with(&k->circuit->parts, signal, TL_HOLDS, part)) != NULL;) {
        const tl_stage *stage = part->of;
        tl_bounds bounds;
        double amperes = 0;
        if (stage->to_pin || !(stage->most_amperes > 0) ||
            !clamp_amperes(k->circuit, (clamp_side){signal, state, part->up, TL_NET_NONE}, &bounds,
                           &amperes) ||
            amperes <= stage->most_amperes)
            continue;
        tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_CLAMP_CURRENT, stage->place,
                                     "%s: the current in its clamp is above the rating", s->name);
        tl_finding_figures(f, TL_DIM_AMPERE, amperes, stage->most_amperes);
        tl_finding_text(&f->figure, "%s; limit %s", tl_show(amperes, TL_DIM_AMPERE, TL_ROUND_UP).text,
                        tl_show(stage->most_amperes, TL_DIM_AMPERE, TL_ROUND_DOWN).text);
        tl_check_corner(k, f, &bounds, part->up ? bounds.low_at : bounds.high_at);
        tl_finding_text(&f->fix, "increase the resistance before the clamp at least %.1f times",
                        ceil(10 * amperes / stage->most_amperes) / 10);
        return;
    }
}

/* --- over and under the limits --- */

/* The pull that lifts an idle line too high, or NULL. */
static const tl_plan_part *high_pull(const tl_checker *k, int signal, double limit)
{
    const tl_signal *s = &k->plan->signals[signal];
    if (s->source.kind != TL_SOURCE_CONTACT && s->source.kind != TL_SOURCE_OPEN_COLLECTOR)
        return NULL;
    for (const tl_plan_part *pull = NULL;
         (pull = tl_parts_next(&k->circuit->parts, signal, TL_PART_PULL, pull)) != NULL;) {
        if (pull->up && !pull->own && pull->rail >= 0 && k->plan->supplies[pull->rail].volts.high > limit)
            return pull;
    }
    return NULL;
}

static void report_over(const tl_checker *k, int signal, int state)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_pin *pin = tl_check_pin(k, signal);
    const tl_bounds *over = &tl_circuit_worst_case(k->circuit, signal, state)->over;
    const double limit = tl_circuit_level_at(k->circuit, signal, pin->limits.highest, over, over->high_at);
    const tl_plan_part *pull = state == 0 ? high_pull(k, signal, limit) : NULL;
    const char *rail = k->plan->supplies[pin->limits.supply].name;
    const bool shift = s->source.kind == TL_SOURCE_LOGIC && !tl_check_has(k, signal, TL_SHIFTS);
    tl_finding *f = tl_check_add(k, TL_USUAL,
                                 pull != NULL ? TL_RULE_PULL_TOO_HIGH
                                 : shift      ? TL_RULE_SHIFTER_MISSING
                                              : TL_RULE_OVER_LIMIT,
                                 pull != NULL ? pull->of->place : s->pin_place,
                                 pull != NULL ? "%s (%s): its pull-up can exceed the absolute maximum"
                                 : shift      ? "%s (%s) needs a level shifter: its source is too high"
                                              : "%s (%s) can exceed its absolute maximum voltage",
                                 pin->name, s->name);
    tl_finding_figures(f, TL_DIM_VOLT, limit + over->high, limit);
    tl_finding_text(&f->figure, "%s at the pin; limit %s",
                    tl_show(limit + over->high, TL_DIM_VOLT, TL_ROUND_UP).text,
                    tl_show(limit, TL_DIM_VOLT, TL_ROUND_DOWN).text);
    tl_check_corner(k, f, over, over->high_at);
    double least = limit, most = 0;
    if (k->circuit->signals[signal].reference != TL_NET_NONE)
        tl_net_param_span(k->circuit->net, k->circuit->signals[signal].reference, &least, &most);
    if (pull != NULL) {
        tl_finding_text(&f->fix, "connect the pull to the supply of the pin: to: %s", rail);
        tl_finding_change(f, TL_CHANGE_KEY_OF, pull->of->place, "to", "%s", rail);
    } else if (shift)
        tl_fix_shift(k, signal, limit, f);
    else
        tl_fix_lower_volts(k, signal, fmin(limit, least), f);
}

static void report_under(const tl_checker *k, int signal, int state)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_pin *pin = tl_check_pin(k, signal);
    const tl_bounds *under = &tl_circuit_worst_case(k->circuit, signal, state)->under;
    const double limit = tl_circuit_level_at(k->circuit, signal, pin->limits.lowest, under, under->low_at);
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_BELOW_GROUND, s->pin_place,
                                 "%s (%s) can go below its absolute minimum voltage", pin->name, s->name);
    tl_finding_figures(f, TL_DIM_VOLT, limit + under->low, limit);
    tl_finding_text(&f->figure, "%s at the pin; limit %s",
                    tl_show(limit + under->low, TL_DIM_VOLT, TL_ROUND_DOWN).text,
                    tl_show(limit, TL_DIM_VOLT, TL_ROUND_UP).text);
    tl_check_corner(k, f, under, under->low_at);
    tl_fix_lift(k, s, under->low + limit, f);
}

/* A lamp of the board from the pin to ground takes current from the source in its high state. */
static void check_wired(const tl_checker *k, int signal, int state)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_pin *pin = tl_check_pin(k, signal);
    const tl_signal_nodes *nodes = &k->circuit->signals[signal];
    const tl_worst_case *worst = tl_circuit_worst_case(k->circuit, signal, state);
    tl_ask ask = tl_ask_of(TL_ASK_VOLTS, signal, state, nodes->pin);
    tl_bounds with;
    ask.closes[0] = nodes->lamp;
    const bool high = !s->analog && tl_signal_closes_low(s) == (state == 0);
    if (nodes->lamp == TL_NET_NONE || (!s->analog && !high) ||
        tl_circuit_ask(k->circuit, &ask, &with) != TL_NET_SOLVED)
        return;
    const double volts = s->analog ? worst->volts.high : worst->volts.low,
                 left = s->analog ? with.high : with.low;
    const double rail = k->plan->supplies[pin->limits.supply].volts.low;
    const double wanted =
        high ? tl_level_volts(pin->limits.vih, rail) : volts - tl_check_step(k, signal, volts);
    if (left >= wanted)
        return;
    tl_finding *f =
        tl_check_add(k, high || volts - left > rail / 100 ? TL_GRAVE : TL_USUAL, TL_RULE_WIRED_LAMP,
                     s->pin_place, "%s: the on-board LED pulls %s down", pin->name, s->name);
    tl_finding_figures(f, TL_DIM_VOLT, left, wanted);
    tl_finding_text(&f->figure, "%s without the LED, %s with it; %s needed",
                    tl_show(volts, TL_DIM_VOLT, TL_ROUND_DOWN).text,
                    tl_show(left, TL_DIM_VOLT, TL_ROUND_DOWN).text,
                    tl_show(wanted, TL_DIM_VOLT, TL_ROUND_UP).text);
    char free_pins[200];
    tl_check_free_pins(k, s->analog, free_pins, sizeof free_pins);
    tl_finding_text(&f->fix, "use a free pin without an LED: %s", free_pins);
}

bool tl_check_limits(const tl_checker *k, int signal, int state)
{
    const tl_worst_case *worst = tl_circuit_worst_case(k->circuit, signal, state);
    bool safe = true;
    check_clamp_part(k, signal, state);
    check_wired(k, signal, state);
    if (worst->over.high > tl_slack_volts && !clamp_saves(k, signal, state, true)) {
        report_over(k, signal, state);
        safe = false;
    }
    if (worst->under.low < -tl_slack_volts && !clamp_saves(k, signal, state, false)) {
        report_under(k, signal, state);
        safe = false;
    }
    return safe;
}

/* --- the board is off --- */

static bool is_live(const tl_checker *k, int rail)
{
    return rail >= 0 && k->plan->supplies[rail].live;
}

static bool touches_live(const tl_checker *k, const tl_signal *s)
{
    bool live = is_live(k, s->source.supply);
    for (int i = 0; i < s->stage_count; i++)
        live = live || is_live(k, s->stages[i].to);
    return live;
}

/* All supplies that go off with the board, at 0 V, while `ask` looks; then as they were. */
static void without_power(const tl_checker *k, int signal, void (*ask)(const tl_checker *k, int signal))
{
    const int count = k->plan->supply_count;
    tl_quantity *was = tl_alloc((size_t)count, sizeof *was);
    for (int i = 0; i < count; i++) {
        const int param = k->circuit->supply_param[i];
        tl_net_param_span(k->circuit->net, param, &was[i].low, &was[i].high);
        was[i].nominal = tl_net_param_nominal(k->circuit->net, param);
    }
    for (int i = 0; i < count; i++) {
        if (!k->plan->supplies[i].live && k->plan->supplies[i].kind == TL_RAIL_SUPPLY)
            tl_net_set_param(k->circuit->net, k->circuit->supply_param[i], 0, 0, 0);
    }
    ask(k, signal);
    for (int i = 0; i < count; i++)
        tl_net_set_param(k->circuit->net, k->circuit->supply_param[i], was[i].low, was[i].nominal,
                         was[i].high);
    free(was);
}

/* A clamp of the plan's own takes it to its rail, so low that the pin's never conducts. */
static bool clamp_keeps_pin(const tl_checker *k, int signal, tl_ask ask)
{
    tl_bounds volts;
    ask.closes[0] = k->circuit->signals[signal].clamp_high;
    return tl_check_part(k, signal, TL_PART_CLAMP) != NULL &&
           tl_circuit_ask(k->circuit, &ask, &volts) == TL_NET_SOLVED && volts.high <= tl_slack_volts;
}

static void look_for_feed(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_pin *pin = tl_check_pin(k, signal);
    const double injection = pin->limits.injection;
    for (int state = 0; state < k->circuit->signals[signal].states; state++) {
        tl_bounds volts, amperes;
        double most = INFINITY;
        const tl_ask ask = tl_ask_against(signal, state, k->circuit->signals[signal].pin,
                                          tl_net_fixed(pin->limits.highest.volts));
        if (tl_circuit_ask(k->circuit, &ask, &volts) != TL_NET_SOLVED || volts.high <= tl_slack_volts ||
            clamp_keeps_pin(k, signal, ask))
            continue;
        (void)clamp_amperes(k->circuit, (clamp_side){signal, state, true, TL_NET_NONE}, &amperes, &most);
        if (most <= injection)
            continue;
        tl_finding *f =
            tl_check_add(k, isnan(injection) ? TL_USUAL : TL_GRAVE, TL_RULE_BACK_FEED, s->pin_place,
                         "%s: back-powers the board through %s while its supply is off", s->name, pin->name);
        if (isnan(injection))
            tl_finding_text(&f->figure, "%s; the board file states no injection limit",
                            tl_show(most, TL_DIM_AMPERE, TL_ROUND_UP).text);
        else
            tl_finding_text(&f->figure, "%s; limit %s", tl_show(most, TL_DIM_AMPERE, TL_ROUND_UP).text,
                            tl_show(injection, TL_DIM_AMPERE, TL_ROUND_DOWN).text);
        if (isnan(injection))
            tl_finding_text(&f->fix, "switch %s off together with the board", s->name);
        else
            tl_finding_text(&f->fix,
                            "increase the resistance before %s at least %.1f times, or switch %s off with "
                            "the board",
                            pin->name, ceil(10 * most / injection) / 10, s->name);
        return;
    }
}

void tl_check_unpowered(const tl_checker *k, int signal)
{
    if (touches_live(k, &k->plan->signals[signal]) && k->circuit->signals[signal].passes_high)
        without_power(k, signal, look_for_feed);
}

/* --- the lower leg comes off --- */

void tl_check_lower_leg(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_plan_part *lower = tl_check_part(k, signal, TL_PART_LOWER);
    const tl_signal_nodes *nodes = &k->circuit->signals[signal];
    const tl_pin *pin = tl_check_pin(k, signal);
    tl_bounds bounds;
    double amperes = 0;
    if (lower == NULL || !nodes->passes_high || isnan(pin->limits.injection) ||
        tl_check_has(k, signal, TL_HOLDS))
        return;
    if (!clamp_amperes(k->circuit, (clamp_side){signal, 0, true, nodes->lower_open}, &bounds, &amperes) ||
        amperes <= pin->limits.injection)
        return;
    tl_finding *f =
        tl_check_add(k, TL_USUAL, TL_RULE_LOWER_LEG_OPEN, lower->value->place,
                     "%s: an open lower resistor would overload the clamp of %s", s->name, pin->name);
    tl_finding_figures(f, TL_DIM_AMPERE, amperes, pin->limits.injection);
    tl_finding_text(&f->figure, "%s through the clamp; limit %s",
                    tl_show(amperes, TL_DIM_AMPERE, TL_ROUND_UP).text,
                    tl_show(pin->limits.injection, TL_DIM_AMPERE, TL_ROUND_DOWN).text);
    tl_finding_text(&f->fix, "increase both resistors at least %.1f times, or add a guard: 'size injection'",
                    ceil(10 * amperes / pin->limits.injection) / 10);
}

/* --- firmware drives the pin as well --- */

/* The most through the pin in one state and direction, and the volts that make it: the circuit with the pin
 * held at its rail, or at ground. */
static bool driven_state(tl_circuit *c, int signal, int state, int high, double *amperes, double *ohms)
{
    const tl_signal_nodes *nodes = &c->signals[signal];
    const tl_ask seen = tl_ask_of(TL_ASK_SOURCE_OHMS, signal, state, nodes->pin);
    tl_ask through = tl_ask_of(TL_ASK_AMPERES, signal, state, nodes->driven_part[high]);
    tl_bounds found;
    through.closes[0] = nodes->driven[high];
    *ohms = tl_circuit_ask(c, &seen, &found) == TL_NET_SOLVED ? found.low
                                                              : INFINITY; /* nothing stands against it */
    *amperes = tl_circuit_most(c, &through);
    return !isnan(*amperes);
}

/* Over all states and both directions; ohms: of what stands against the pin then. */
static double driven_most(tl_circuit *c, int signal, double *ohms)
{
    double most = 0;
    *ohms = INFINITY;
    for (int high = 0; high < 2; high++) {
        for (int state = 0;
             state < c->signals[signal].states && c->signals[signal].driven[high] != TL_NET_NONE; state++) {
            double amperes, seen;
            if (!driven_state(c, signal, state, high, &amperes, &seen) || amperes <= most)
                continue;
            most = amperes;
            *ohms = seen;
        }
    }
    return most;
}

double tl_circuit_driven_amperes(tl_circuit *circuit, int signal)
{
    static const double nothing_limits_it = 1e3; /* amperes */
    double ohms;
    const double most = driven_most(circuit, signal, &ohms);
    return most < nothing_limits_it ? most : INFINITY;
}

void tl_check_driven(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_pin *pin = tl_check_pin(k, signal);
    const bool logic = s->source.kind == TL_SOURCE_LOGIC;
    if ((!s->drives_low && !s->drives_high) || (s->analog && s->source.kind != TL_SOURCE_RAIL))
        return;
    const double most = fmin(isnan(pin->limits.most_amperes) ? INFINITY : pin->limits.most_amperes,
                             isnan(s->source.drives) ? INFINITY : s->source.drives);
    const double amperes = tl_circuit_driven_amperes(k->circuit, signal);
    if (amperes <= most)
        return;
    tl_finding *f = tl_check_add(k, TL_USUAL, logic ? TL_RULE_OUTPUT_INTO_OUTPUT : TL_RULE_DRIVEN_CONTACT,
                                 s->driven_place,
                                 logic ? "%s: the firmware drives it against the output of %s"
                                       : "%s: the circuit of %s overloads it when the firmware drives it",
                                 pin->name, s->name);
    tl_finding_figures(f, TL_DIM_AMPERE, amperes, most);
    tl_finding_text(&f->figure, "up to %s; limit %s",
                    isfinite(amperes) ? tl_show(amperes, TL_DIM_AMPERE, TL_ROUND_UP).text
                                      : "the full output current",
                    isfinite(most) ? tl_show(most, TL_DIM_AMPERE, TL_ROUND_DOWN).text : "not stated");
    if (isfinite(most)) {
        char value[40];
        double ohms = 0;
        const double least = driven_most(k->circuit, signal, &ohms) * fmax(ohms, 1e-6) / most - ohms;
        const char *found = tl_fix_ohms(k, least, 1, NULL, value);
        tl_finding_text(&f->fix, "add the stage  - guard: %s%s",
                        found != NULL ? found : tl_show(least, TL_DIM_OHM, TL_ROUND_UP).text,
                        found != NULL ? "" : " or more");
        if (found != NULL)
            tl_finding_change(f, TL_CHANGE_STAGE, s->place, "guard", "%s", value);
    } else
        tl_finding_text(&f->fix, "add a guard: tinyladder size guard");
}
