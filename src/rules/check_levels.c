/* SPDX-License-Identifier: MIT */
/*
 * Rules for signals of two states: levels, steady time, drive, and the rails of contact and pull.
 */
#include "analysis/ask.h"
#include "rules/check.h"
#include <math.h>
#include <stdio.h>

static const char *state_words(const tl_signal *s, bool closed)
{
    if (s->source.kind == TL_SOURCE_LOGIC)
        return closed ? " when its source is low" : " when its source is high";
    if (s->source.kind == TL_SOURCE_OPEN_COLLECTOR)
        return closed ? " when the output is on" : " when the output is off";
    return closed ? " when the contact is closed" : " when the contact is open";
}

/* One pull up and one down, with nothing between them that would keep them apart. */
static bool pulls_fight(const tl_checker *k, int signal)
{
    bool up = false, down = false;
    for (const tl_plan_part *pull = NULL; (pull = tl_check_next(k, signal, TL_PART_PULL, pull)) != NULL;) {
        up = up || pull->up;
        down = down || !pull->up;
    }
    return up && down && tl_check_part(k, signal, TL_PART_SHIFTER) == NULL;
}

/* What to write instead, by what the chain looks like. */
static void propose_level(const tl_checker *k, int signal, bool fight, bool shift, tl_finding *f)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_plan_part *pull = tl_check_part(k, signal, TL_PART_PULL),
                       *guard = tl_check_part(k, signal, TL_PART_GUARD);
    const char *rail = k->plan->supplies[tl_check_pin_supply(k, s)].name;
    if (fight)
        tl_finding_text(&f->fix, "remove the pull on the side that the contact closes to");
    else if (shift)
        tl_finding_text(
            &f->fix, "add a level shifter: - shifter: {way: buffer, ..}; 'size shift' compares the circuits");
    else if (guard != NULL && pull > guard)
        tl_finding_text(&f->fix, "move the pull before the guard; behind it the two divide the voltage");
    else if (pull != NULL && pull->own)
        tl_finding_text(&f->fix, "replace the chip's own pull by a resistor: pull: {%s: 10k, to: %s}",
                        pull->up ? "up" : "down", pull->up ? rail : "ground");
    else if (s->source.kind == TL_SOURCE_LOGIC && tl_check_part(k, signal, TL_PART_LOWER) != NULL)
        tl_finding_text(&f->fix, "change the divider: tinyladder size shift");
    else if (pull != NULL && pull->of != NULL)
        tl_finding_text(&f->fix, "change the pull: tinyladder size %s %s.%s", k->plan->path, s->name,
                        pull->of->name);
}

/* A level is reached when it clears its threshold at every corner. high: which level this state should
 * give.
 */
static void check_level(const tl_checker *k, int signal, bool closed, bool high)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_pin *pin = tl_check_pin(k, signal);
    const tl_level threshold = high ? pin->limits.vih : pin->limits.vil;
    const tl_worst_case *worst = tl_circuit_worst_case(k->circuit, signal, closed);
    const tl_bounds *margin = high ? &worst->above_vih : &worst->above_vil;
    if (high ? margin->low >= -tl_slack_volts : margin->high <= tl_slack_volts)
        return;
    const double *corner = high ? margin->low_at : margin->high_at;
    const double limit = tl_circuit_level_at(k->circuit, signal, threshold, margin, corner);
    const bool fight = pulls_fight(k, signal), logic = s->source.kind == TL_SOURCE_LOGIC;
    const bool shift = logic && high && tl_check_part(k, signal, TL_PART_SHIFTER) == NULL &&
                       tl_check_part(k, signal, TL_PART_LOWER) == NULL &&
                       s->source.supply != tl_check_pin_supply(k, s);
    tl_finding *f = tl_check_add(k, TL_USUAL,
                                 fight   ? TL_RULE_PULLS_FIGHT
                                 : shift ? TL_RULE_SHIFTER_MISSING
                                         : TL_RULE_LEVEL_NOT_REACHED,
                                 s->pin_place, "%s (%s) may stay %s%s", pin->name, s->name,
                                 high ? "below VIH" : "above VIL",
                                 fight   ? ": its pull-up and pull-down act together"
                                 : shift ? ": it needs a level shifter"
                                         : state_words(s, closed));
    tl_finding_figures(f, TL_DIM_VOLT, limit + (high ? margin->low : margin->high), limit);
    tl_finding_text(
        &f->figure, "%s at the pin; %s %s",
        tl_show(limit + (high ? margin->low : margin->high), TL_DIM_VOLT, high ? TL_ROUND_DOWN : TL_ROUND_UP)
            .text,
        high ? "VIH" : "VIL", tl_show(limit, TL_DIM_VOLT, high ? TL_ROUND_UP : TL_ROUND_DOWN).text);
    tl_check_corner(k, f, margin, corner);
    propose_level(k, signal, fight, shift, f);
}

static void check_steady(const tl_checker *k, const tl_signal *s)
{
    if (!s->reading.steady_given || s->reading.steady >= s->source.bounce)
        return;
    tl_finding *f = tl_check_add(k, tl_check_counts(s), TL_RULE_STEADY_TOO_SHORT, s->reading.place,
                                 "%s: the debounce time is shorter than the contact bounce", s->name);
    tl_finding_figures(f, TL_DIM_SECOND, s->reading.steady, s->source.bounce);
    tl_finding_text(&f->figure, "debounce time %s; bounce %s",
                    tl_show(s->reading.steady, TL_DIM_SECOND, TL_ROUND_NEAREST).text,
                    tl_show(s->source.bounce, TL_DIM_SECOND, TL_ROUND_NEAREST).text);
    tl_finding_text(&f->fix, "set reading: {steady: %s}, twice the bounce",
                    tl_show(2 * s->source.bounce, TL_DIM_SECOND, TL_ROUND_NEAREST).text);
    tl_finding_change(f, TL_CHANGE_KEY, s->reading.place, "steady", "%s",
                      tl_show(2 * s->source.bounce, TL_DIM_SECOND, TL_ROUND_NEAREST).text);
}

/* What pulls low may stand higher than its saturation, as long as the pin still sees a low: the current that
 * it must take there, the highest such place found by halving. */
static double amperes_at_threshold(const tl_checker *k, int signal, const tl_ask *amperes)
{
    char path[200];
    const tl_signal *s = &k->plan->signals[signal];
    const tl_pin_limits *limits = &tl_check_pin(k, signal)->limits;
    tl_net *net = k->circuit->net;
    snprintf(path, sizeof path, "%.90s.source.saturation", s->name);
    const int param = tl_circuit_param(k->circuit, path);
    const tl_ask above = tl_ask_against(signal, 1, k->circuit->signals[signal].pin,
                                        tl_level_value(k->circuit, limits->vil, limits->supply));
    tl_bounds bounds;
    if (s->source.kind != TL_SOURCE_OPEN_COLLECTOR || param == TL_NET_NONE || !tl_signal_closes_low(s))
        return INFINITY;
    const double nominal = tl_net_param_nominal(net, param);
    double span[2];
    tl_net_param_span(net, param, &span[0], &span[1]);
    double low = span[1],
           high = fmax(low, tl_level_volts(limits->vil, k->plan->supplies[limits->supply].volts.high));
    for (int i = 0; i < 24; i++) {
        const double at = (low + high) / 2;
        tl_net_set_param(net, param, at, at, at);
        const bool is_low = tl_circuit_ask(k->circuit, &above, &bounds) == TL_NET_SOLVED && bounds.high <= 0;
        *(is_low ? &low : &high) = at;
    }
    tl_net_set_param(net, param, low, low, low);
    const double most = tl_circuit_most(k->circuit, amperes);
    tl_net_set_param(net, param, span[0], nominal, span[1]);
    return isnan(most) ? INFINITY : most;
}

/* The current that an open collector or a logic output must take or give at its level. */
static void check_drive(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_signal_nodes *nodes = &k->circuit->signals[signal];
    for (int closed = 0; closed < 2 && !isnan(s->source.drives); closed++) {
        const int rail = closed ? nodes->on_rail : nodes->off_rail;
        const tl_ask ask = tl_ask_of(TL_ASK_RAIL_AMPERES, signal, closed, rail);
        tl_bounds amperes;
        if (rail == TL_NET_NONE)
            continue;
        const tl_net_status fault = tl_circuit_ask(k->circuit, &ask, &amperes);
        double most = fmax(fabs(amperes.low), fabs(amperes.high));
        if (fault != TL_NET_SOLVED || most <= s->source.drives)
            continue;
        const double enough = closed == 1 ? amperes_at_threshold(k, signal, &ask) : INFINITY;
        if (enough <= s->source.drives)
            continue;
        most = fmin(most, enough);
        tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_WEAK_DRIVER, s->source.place,
                                     "%s: the driver cannot supply the current of its load", s->name);
        tl_check_drive_figures(f, most, s->source.drives);
        tl_check_corner(k, f, &amperes,
                        fabs(amperes.low) > fabs(amperes.high) ? amperes.low_at : amperes.high_at);
        tl_finding_text(&f->fix, "increase the resistances that load it at least %.1f times",
                        ceil(10 * most / s->source.drives) / 10);
        return;
    }
}

static bool check_same_rail(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_plan_part *pull = tl_check_part(k, signal, TL_PART_PULL);
    if (pull == NULL || s->source.kind == TL_SOURCE_LOGIC || pulls_fight(k, signal) ||
        pull->rail != s->source.supply)
        return true;
    const bool to_ground = s->source.supply == TL_TO_GROUND || s->source.ground_side;
    const char *rail = s->source.supply == TL_TO_GROUND ? "ground" : k->plan->supplies[s->source.supply].name;
    tl_finding *f =
        tl_check_add(k, TL_USUAL, TL_RULE_SAME_RAIL, pull->of->place,
                     "%s: contact and pull go to the same rail; the level never changes", s->name);
    tl_finding_text(&f->figure, "both are on %s", rail);
    if (to_ground)
        tl_finding_text(&f->fix, "set pull: {up: 10k, to: %s}",
                        k->plan->supplies[tl_check_pin_supply(k, s)].name);
    else {
        tl_finding_text(&f->fix, "connect the contact to ground: source: {contact: ground}");
        tl_finding_change(f, TL_CHANGE_KEY, s->source.place, "contact", "ground");
    }
    return false;
}

/* A contact stays clean only if some current flows when it closes. */
static void check_wetting(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    double amperes = 0;
    if (!(s->source.wetting > 0))
        return;
    for (const tl_plan_part *pull = NULL; (pull = tl_check_next(k, signal, TL_PART_PULL, pull)) != NULL;) {
        const tl_bounds closed = tl_circuit_part_amperes(k->circuit, signal, 1, pull->of->name);
        if (!pull->own && isfinite(closed.low)) /* either way round */
            amperes += fmax(0, fmax(closed.low, -closed.high));
    }
    if (amperes >= s->source.wetting * (1 - 1e-9))
        return;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_WETTING, s->source.place,
                                 "%s: the contact current is below the wetting current", s->name);
    tl_finding_figures(f, TL_DIM_AMPERE, amperes, s->source.wetting);
    tl_finding_text(&f->figure, "%s; minimum %s", tl_show(amperes, TL_DIM_AMPERE, TL_ROUND_DOWN).text,
                    tl_show(s->source.wetting, TL_DIM_AMPERE, TL_ROUND_UP).text);
    if (amperes > 0)
        tl_finding_text(&f->fix, "reduce the pull at least %.1f times: tinyladder size pull --wetting",
                        ceil(10 * s->source.wetting / amperes) / 10);
}

void tl_check_contact(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const bool closes_low = tl_signal_closes_low(s),
               on_bus = signal >= k->plan->signal_count && s->reading.place.line == 0;
    check_steady(k, s);
    const bool apart = check_same_rail(k, signal);
    bool safe = true;
    if (!tl_check_shifters(k, signal))
        return;
    check_wetting(k, signal);
    if (!on_bus || s->source.kind == TL_SOURCE_LOGIC)
        check_drive(k, signal);
    for (int closed = 0; closed < 2; closed++) {
        const tl_net_status fault = tl_circuit_worst_case(k->circuit, signal, closed)->fault;
        if (fault != TL_NET_SOLVED)
            tl_check_fault(k, signal, fault);
        else if (safe)
            safe = tl_check_limits(k, signal, closed);
        if (fault == TL_NET_SOLVED && safe && apart)
            check_level(k, signal, closed == 1, closes_low == (closed == 0));
    }
    if (safe && apart)
        tl_check_speed(k, signal);
}
