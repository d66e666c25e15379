/* SPDX-License-Identifier: MIT */
/* What stands between a contact, a transistor or a bus line and its pin: pull, guard, series resistor into a
 * clamp. */
#include "sizing/sizing.h"
#include "tinyladder/design/standards.h"
#include <stdio.h>

static double low_threshold(const tl_pull_requirement *w, double rail)
{
    return is_said(w->vil) ? w->vil : w->vil_share * rail;
}

static double high_threshold(const tl_pull_requirement *w, double rail)
{
    return is_said(w->vih) ? w->vih : w->vih_share * rail;
}

/* Time from a level towards `end` through R and C, until a threshold is crossed: R C ln((end - from) / (end -
 * to)). */
static double edge_time(double ohms, double farads, double end, double from, double to)
{
    if (farads <= 0 || to == from)
        return 0;
    const bool crossed = to > from ? end > to : end < to;
    return crossed ? ohms * farads * log((end - from) / (end - to)) : INFINITY;
}

/* --- pull --- */

tl_pull_requirement tl_pull_requirement_default(void)
{
    return (tl_pull_requirement){.rail.nominal = NAN,
                                 .vil = NAN,
                                 .vih = NAN,
                                 .vil_share = tl_vil_share,
                                 .vih_share = tl_vih_share,
                                 .leakage = 1e-6,
                                 .drives = INFINITY,
                                 .most_amperes = 1e-3,
                                 .longest_edge = INFINITY,
                                 .internal.nominal = NAN};
}

/* One rail corner of a pull: how much of each allowance is used. A pull-down is the mirror image, seen from
 * the rail. */
typedef struct {
    double idle, idle_limit, active, active_limit, edge;
} pull_corner;

static pull_corner corner_of(const tl_pull_requirement *w, const tl_leg *pull, double rail)
{
    const double vil = low_threshold(w, rail), vih = high_threshold(w, rail);
    /* Across the pull while closed, at the least pull: the rest of the rail is across what closes. */
    const double on = w->saturation.high, off = w->saturation.low;
    const double behind = w->leakage * w->guard; /* what the pin's leakage costs behind the pull */
    const double closed = on + (rail - on) * w->closed.high / (pull->low + w->closed.high) +
                          w->leakage * parallel_of(pull->low, w->closed.high) + behind;
    const double least = off + (rail - off) * w->closed.low / (pull->high + w->closed.low);
    const double drop = pull->high * w->leakage + behind;
    pull_corner k;
    if (w->down != 0)
        k = (pull_corner){drop, vil - w->margin, rail - closed, vih,
                          edge_time(pull->high, w->farads, drop, rail - least, vil)};
    else
        k = (pull_corner){rail - drop, vih + w->margin, closed, vil,
                          edge_time(pull->high, w->farads, rail - drop, least, vih)};
    return k;
}

static void work_out_pull(const void *requirement, const tl_leg *pull, tl_choice *c)
{
    const tl_pull_requirement *w = requirement;
    char value[64];
    const pull_corner a = corner_of(w, pull, w->rail.low), b = corner_of(w, pull, w->rail.high);
    const bool down = w->down != 0;
    /* The rail corner with the lesser margin counts: thresholds and pull are taken at the same one. */
    const double idle_a = (down ? -1 : 1) * (a.idle - a.idle_limit),
                 idle_b = (down ? -1 : 1) * (b.idle - b.idle_limit);
    const double active_a = (down ? 1 : -1) * (a.active - a.active_limit),
                 active_b = (down ? 1 : -1) * (b.active - b.active_limit);
    const pull_corner *idle = idle_a < idle_b ? &a : &b, *active = active_a < active_b ? &a : &b;
    const double amperes = (w->rail.high - w->saturation.low) / (pull->low + w->closed.low);
    const double wetting = (w->rail.low - w->saturation.high) / (pull->high + w->closed.high);
    const double edge = fmax(a.edge, b.edge), budget = fmin(w->most_amperes, w->drives);
    choice_part(c, "pull", TL_DIM_OHM, pull);
    choice_figure(c, down ? TL_FIG_IDLE_LEVEL : TL_FIG_IDLE_LEVEL_LEAST, idle->idle, idle->idle_limit);
    choice_figure(c, down ? TL_FIG_CLOSED_LEVEL_LEAST : TL_FIG_CLOSED_LEVEL, active->active,
                  active->active_limit);
    choice_figure(c, TL_FIG_CURRENT_CLOSED, amperes, budget);
    choice_figure(c, TL_FIG_WETTING_CURRENT, wetting, w->wetting > 0 ? w->wetting : (double)NAN);
    choice_figure(c, down ? TL_FIG_FALLS_BACK_IN : TL_FIG_RISES_BACK_IN, edge, w->longest_edge);
    choice_figure(c, TL_FIG_POWER, amperes * amperes * pull->low, pull->watts);
    /* The best is as far from every limit as it gets: the largest share of an allowance is the smallest. */
    const double room = down ? idle->idle_limit : w->rail.low - high_threshold(w, w->rail.low) - w->margin;
    double used = fmax((pull->high + w->guard) * w->leakage / room, amperes / budget);
    used = fmax(used, w->wetting > 0 ? w->wetting / wetting : 0);
    used = fmax(used, isfinite(w->longest_edge) ? edge / w->longest_edge : 0);
    c->extreme = -used;
    practice_add(c, PRACTICE_LEAKAGE, (pull->high + w->guard) * w->leakage / room);
    char guard[60] = "";
    if (w->guard > 0)
        snprintf(guard, sizeof guard, "\n- guard: %s", say(w->guard, TL_DIM_OHM));
    choice_plan(c, "- pull: {%s: %s, to: %s}%s", down ? "down" : "up", tl_leg_plan_text(pull, NULL, value),
                down ? "ground" : "RAIL", guard);
}

static void weigh_pull(const void *requirement, const practice_window *window, tl_choice *c)
{
    const tl_pull_requirement *w = requirement;
    const double ohms = c->part[0].nominal;
    const bool asleep =
        fmin(w->most_amperes, w->drives) <= 100e-6; /* a budget: then it is ten times as large */
    const double times = asleep ? 10 : 1;
    practice_near(c, PRACTICE_PULL_SMALL, ohms, times * 4.7e3);
    practice_near(c, PRACTICE_PULL_LARGE, ohms, times * 47e3);
    practice_near(c, PRACTICE_PULL_MIDDLE, ohms, practice_centre(window, times * 2.3e3, times * 47e3));
}

static void judge_internal_pull(const tl_pull_requirement *w, tl_size_result *answer)
{
    tl_choice c = {0};
    const tl_leg internal = {w->internal.low, w->internal.nominal, w->internal.high, INFINITY, -1, -1, 0};
    if (!is_said(w->internal.nominal))
        return;
    work_out_pull(w, &internal, &c);
    for (int i = 0; i < c.figures; i++) {
        if (!figure_broken(&c.figure[i]))
            continue;
        result_note(answer, "The internal pull of the board (%s .. %s) is not enough: %s %s, limit %s.",
                    say(internal.low, TL_DIM_OHM), say(internal.high, TL_DIM_OHM), c.figure[i].label,
                    say_figure(&c.figure[i]), say_limit(&c.figure[i]));
        return;
    }
    result_note(answer, "The internal pull of the board (%s .. %s) is enough: you need no resistor.",
                say(internal.low, TL_DIM_OHM), say(internal.high, TL_DIM_OHM));
}

static const one_part_job pull_job = {
    TL_DIM_OHM, work_out_pull, weigh_pull,
    (const bound_name[]){{TL_FIG_IDLE_LEVEL, "largest for the leakage"},
                         {TL_FIG_IDLE_LEVEL_LEAST, "largest for the leakage"},
                         {TL_FIG_CURRENT_CLOSED, "smallest for the current"},
                         {0}}};

void tl_size_pull(const tl_pull_requirement *w, tl_size_result *answer)
{
    if (!is_range(&w->rail) || w->rail.low <= 0 || w->leakage < 0 || w->margin < 0 || !is_range(&w->closed) ||
        w->closed.low < 0 || w->guard < 0 || !is_range(&w->saturation) || w->saturation.low < 0 ||
        w->drives <= 0 || w->wetting < 0 || w->most_amperes <= 0 || w->farads < 0 || w->longest_edge <= 0 ||
        w->saturation.high >= w->rail.low ||
        high_threshold(w, w->rail.low) <= low_threshold(w, w->rail.low)) {
        result_refuse(answer, TL_SIZE_NONSENSE,
                      "a pull needs a rail above 0 V; leakage, margin and resistances are not negative, and "
                      "VIH is above VIL");
        return;
    }
    judge_internal_pull(w, answer);
    try_every_value(&pull_job, w, answer);
    if (w->normally_closed != 0)
        result_note(answer, "Normally closed: the current of the closed contact flows all the time, and an "
                            "open wire reads as pressed.");
}

/* --- guard --- */

tl_guard_requirement tl_guard_requirement_default(void)
{
    return (tl_guard_requirement){.rail.nominal = NAN, .pin_amperes = NAN, .pull = NAN, .vil = NAN};
}

static void work_out_guard(const void *requirement, const tl_leg *guard, tl_choice *c)
{
    const tl_guard_requirement *w = requirement;
    char value[64];
    choice_part(c, "guard", TL_DIM_OHM, guard);
    choice_figure(c, TL_FIG_PIN_CURRENT, w->rail.high / guard->low, w->pin_amperes);
    choice_figure(c, TL_FIG_POWER_THEN, w->rail.high * w->rail.high / guard->low, guard->watts);
    choice_figure(c, TL_FIG_DROP_BY_LEAKAGE, guard->high * w->leakage, NAN);
    choice_figure(c, TL_FIG_TIME_CONSTANT, guard->high * w->farads, NAN);
    if (is_said(w->pull))
        choice_figure(c, TL_FIG_CLOSED_LEVEL, w->rail.high * guard->high / (guard->high + w->pull),
                      or_else(w->vil, tl_vil_share * w->rail.high));
    c->extreme = -guard->nominal;
    choice_plan(c, "- guard: %s", tl_leg_plan_text(guard, NULL, value));
}

static void weigh_guard(const void *requirement, const practice_window *window, tl_choice *c)
{
    (void)requirement;
    (void)window;
    practice_add(c, PRACTICE_GUARD_MIDDLE, c->part[0].nominal);
    practice_add(c, PRACTICE_GUARD_LARGE, c->part[0].nominal);
}

static const one_part_job guard_job = {TL_DIM_OHM, work_out_guard, weigh_guard,
                                       (const bound_name[]){{TL_FIG_PIN_CURRENT, "smallest guard"}, {0}}};

void tl_size_guard(const tl_guard_requirement *w, tl_size_result *answer)
{
    if (!is_range(&w->rail) || w->rail.low <= 0 || !(w->pin_amperes > 0) || w->pull <= 0 || w->leakage < 0 ||
        w->farads < 0) {
        result_refuse(
            answer, TL_SIZE_NONSENSE,
            "a protection resistor needs the supply voltage and the maximum pin current, both above 0");
        return;
    }
    result_note(answer, "Minimum resistance: %s (%s across it, %s through the pin).",
                say(w->rail.high / w->pin_amperes, TL_DIM_OHM), say(w->rail.high, TL_DIM_VOLT),
                say(w->pin_amperes, TL_DIM_AMPERE));
    try_every_value(&guard_job, w, answer);
    result_note(
        answer, "%s",
        is_said(w->pull)
            ? "With the pull on the pin side, both resistors divide the level while the contact is closed."
            : "Connect the pull on the contact side: then the resistor does not change the level.");
}

/* --- bus pull --- */

tl_bus_requirement tl_bus_requirement_default(void)
{
    return (tl_bus_requirement){.mode = TL_BUS_STANDARD, .rail.nominal = NAN, .farads = NAN};
}

/* Into a device that the mode alone is known of, with one pull. */
static tl_bus_sunk sunk_by(const tl_bus_requirement *w, double ohms)
{
    const tl_bus_pull pull = {w->rail.high, ohms};
    return tl_bus_sinks(&(tl_bus_held){w->mode, NAN, NAN, w->rail, &pull, 1});
}

bool tl_bus_limits(const tl_bus_requirement *w, double *least, double *most, char why[240])
{
    const tl_bus_rule *mode = tl_bus_rule_of(w->mode);
    char farads[32], allowed[32];
    /* A pull of one ohm asks for this many times what is sure; the volts across it do not change. */
    const double sink = sunk_by(w, 1).share;
    if (isinf(sink)) {
        snprintf(why, 240,
                 "standard mode has no low level at or below 2 V in the specification: use fast mode");
        return false;
    }
    if (w->farads > mode->most_farads) {
        snprintf(why, 240, "%s on the line, but %s mode allows %s: split the bus or slow down",
                 tl_quantity_write(w->farads, TL_DIM_FARAD, TL_ROUND_NEAREST, farads), mode->name,
                 tl_quantity_write(mode->most_farads, TL_DIM_FARAD, TL_ROUND_NEAREST, allowed));
        return false;
    }
    *least = sink;
    *most = mode->rise / (tl_bus_rise_share * w->farads);
    return true;
}

static void work_out_bus_pull(const void *requirement, const tl_leg *pull, tl_choice *c)
{
    const tl_bus_requirement *w = requirement;
    double least = 0, most = 0;
    char why[240], value[64];
    tl_bus_limits(w, &least, &most, why);
    choice_part(c, "pull", TL_DIM_OHM, pull);
    choice_figure(c, TL_FIG_LEAST_OHMS, pull->low, least);
    choice_figure(c, TL_FIG_MOST_OHMS, pull->high, most);
    choice_figure(c, TL_FIG_RISE_TIME, tl_bus_rise_share * pull->high * w->farads,
                  tl_bus_rule_of(w->mode)->rise);
    const tl_bus_sunk sunk = sunk_by(w, pull->low);
    choice_figure(c, TL_FIG_CURRENT_LOW, sunk.amperes, sunk.allowed);
    c->extreme = -fmax(least / pull->low, pull->high / most);
    practice_near(c, PRACTICE_BUS_MIDDLE, pull->nominal, sqrt(least * most));
    practice_add(c, PRACTICE_BUS_SMALL, pull->nominal);
    practice_add(c, PRACTICE_BUS_LARGE, pull->nominal);
    choice_plan(c, "- pull: {up: %s, to: RAIL}", tl_leg_plan_text(pull, NULL, value));
}

static const one_part_job bus_pull_job = {TL_DIM_OHM, work_out_bus_pull, NULL,
                                          (const bound_name[]){{TL_FIG_LEAST_OHMS, "smallest pull"},
                                                               {TL_FIG_MOST_OHMS, "largest pull"},
                                                               {TL_FIG_RISE_TIME, ""},
                                                               {TL_FIG_CURRENT_LOW, ""},
                                                               {0}}};

static double widest_tolerance(const tl_stock *stock)
{
    double widest = 0;
    for (int i = 0; i < stock->count; i++)
        widest = fmax(widest, stock->parts[i].tolerance);
    return widest;
}

void tl_size_bus_pull(const tl_bus_requirement *w, tl_size_result *answer)
{
    double least, most;
    char why[240];
    if (!is_range(&w->rail) || w->rail.low <= 0 || !(w->farads > 0)) {
        result_refuse(answer, TL_SIZE_NONSENSE,
                      "a bus pull-up needs the supply voltage and the capacitance of a line, both above 0");
        return;
    }
    if (!tl_bus_limits(w, &least, &most, why)) {
        result_refuse(answer, TL_SIZE_IMPOSSIBLE, "%s", why);
        return;
    }
    const double tolerance = widest_tolerance(answer->stock);
    result_exact(answer, "smallest nominal", least / (1 - tolerance), TL_DIM_OHM);
    result_exact(answer, "largest nominal", most / (1 + tolerance), TL_DIM_OHM);
    result_note(answer, "UM10204, %s mode: all pull-ups of a line in parallel from %s to %s.",
                tl_bus_rule_of(w->mode)->name, say(least, TL_DIM_OHM), say(most, TL_DIM_OHM));
    if (least > most) {
        find_window(&bus_pull_job, w, answer);
        result_refuse(answer, TL_SIZE_IMPOSSIBLE,
                      "the driver needs at least %s, the edge at most %s: reduce the capacitance (to %s) "
                      "or use a slower mode",
                      say(least, TL_DIM_OHM), say(most, TL_DIM_OHM),
                      say(tl_bus_rule_of(w->mode)->rise / (tl_bus_rise_share * least), TL_DIM_FARAD));
        return;
    }
    try_every_value(&bus_pull_job, w, answer);
}

/* --- injection --- */

tl_injection_requirement tl_injection_requirement_default(void)
{
    return (tl_injection_requirement){.fault.nominal = NAN,
                                      .rail.nominal = NAN,
                                      .clamp = tl_clamp_drop,
                                      .amperes = NAN,
                                      .pins = 1,
                                      .board_amperes = NAN};
}

static void work_out_injection(const void *requirement, const tl_leg *series, tl_choice *c)
{
    const tl_injection_requirement *w = requirement;
    char value[64];
    const double rail = w->unpowered != 0 ? 0 : w->rail.low;
    const double above = fmax(0, w->fault.high - rail - w->clamp), below = fmax(0, -w->clamp - w->fault.low);
    choice_part(c, "series", TL_DIM_OHM, series);
    choice_figure(c, TL_FIG_INJECTED_ABOVE, above / series->low, w->amperes);
    choice_figure(c, TL_FIG_INJECTED_BELOW, below / series->low, w->amperes);
    choice_figure(c, TL_FIG_INTO_THE_RAIL_ALL, w->pins * above / series->low, w->board_amperes);
    choice_figure(c, TL_FIG_POWER_THEN, fmax(above * above, below * below) / series->low, series->watts);
    c->extreme = -series->nominal;
    choice_plan(c, "- series: %s\n- clamp: pin", tl_leg_plan_text(series, NULL, value));
}

static void weigh_injection(const void *requirement, const practice_window *window, tl_choice *c)
{
    (void)requirement;
    practice_near(c, PRACTICE_INJECTION_MIDDLE, c->part[0].nominal, 2 * window->least);
    practice_add(c, PRACTICE_INJECTION_LARGE, c->part[0].nominal);
}

static const one_part_job injection_job = {TL_DIM_OHM, work_out_injection, weigh_injection, NULL};

void tl_size_injection(const tl_injection_requirement *w, tl_size_result *answer)
{
    if (!is_range(&w->fault) || !is_range(&w->rail) || w->rail.low <= 0 || !(w->amperes > 0) ||
        w->clamp < 0 || w->pins < 1 || w->board_amperes < 0) {
        result_refuse(
            answer, TL_SIZE_NONSENSE,
            "the job needs the fault voltage, the supply voltage and the maximum clamp current, all above 0");
        return;
    }
    const double rail = w->unpowered != 0 ? 0 : w->rail.low;
    if (w->fault.high <= rail + w->clamp && w->fault.low >= -w->clamp) {
        result_refuse(answer, TL_SIZE_IMPOSSIBLE, "no resistor is needed: %s .. %s stays between the clamps",
                      say(w->fault.low, TL_DIM_VOLT), say(w->fault.high, TL_DIM_VOLT));
        return;
    }
    try_every_value(&injection_job, w, answer);
    result_bound(answer, "smallest series resistor", answer->window[0].least, TL_DIM_OHM);
    if (is_said(w->board_amperes))
        result_note(answer, "A current above that of the board (%s) would raise its supply.",
                    say(w->board_amperes, TL_DIM_AMPERE));
    if (w->unpowered != 0)
        result_note(
            answer,
            "Without power the limit drops to the clamp voltage of %s, and a live signal feeds the board "
            "through the pin.",
            say(w->clamp, TL_DIM_VOLT));
    else if (w->fault.high > w->clamp)
        result_note(answer,
                    "If the board can be off while the signal is live, run this again with --unpowered.");
}
