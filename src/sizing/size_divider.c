/* SPDX-License-Identifier: MIT */
/*
 * Sizing a divider. For one lower leg the tap falls, and the current too, as the least ohms of the upper leg
 * rise; so with the upper legs sorted by their least ohms, those that meet both limits begin at one place,
 * found by halving. The resistance seen from the tap rises with them: walking on from there, the first that
 * meets it too is the best for this lower leg, and where even the least ohms of an upper leg break it, all
 * further ones do. So the search is exact, also for drawers whose parts have several tolerances.
 */
#include "sizing/divider_pair.h"
#include <stdlib.h>
#include <string.h>

tl_divider_requirement tl_divider_requirement_default(void)
{
    return (tl_divider_requirement){
        .source = {NAN, NAN, NAN, false},
        .limit = NAN,
        .reference = NAN,
        .load_ohms = INFINITY,
        .most_amperes = INFINITY,
        .most_tap_ohms = INFINITY,
        .upper.nominal = NAN,
        .lower.nominal = NAN,
        .meter_ohms = 10e6,
        .least_share = NAN,
        .parts = 1,
        .order = TL_ORDER_PRACTICE,
        .tap_said = NAN,
    };
}

/* --- the search --- */

/* The upper leg's least ohms that keep the tap within the limit and the current within its budget. */
static double least_upper(const tl_divider_requirement *w, const tl_leg *lower)
{
    const double p_high = parallel_of(lower->high, w->load_ohms),
                 p_low = parallel_of(lower->low, w->load_ohms);
    const double room = w->limit - w->leakage * p_high; /* what the leakage alone leaves of the limit */
    const double by_limit =
        room > 0 ? p_high * (w->source.high - w->limit) / room - w->source_ohms : INFINITY;
    const double by_current =
        isinf(w->most_amperes)
            ? 0
            : w->source.high / fmax(0, w->most_amperes - w->leakage) - p_low - w->source_ohms;
    return fmax(by_limit, by_current) * (1 - 1e-12);
}

static bool try_pair(const tl_divider_requirement *w, const tl_leg *upper, const tl_leg *lower,
                     tl_size_result *answer)
{
    tl_choice choice = tl_divider_work_out(w, upper, lower);
    if (!choice_fits(&choice) || !enough_parts(answer->stock, upper, lower))
        return false;
    if (w->order == TL_ORDER_PRACTICE) {
        practice_common(&choice, answer->stock);
        result_score(answer, &choice);
    }
    result_offer(answer, &choice);
    return true;
}

/* Whether an upper leg of this many ohms can still come among the best; without building any figures. */
static bool hopeless(const tl_divider_requirement *w, double upper_low, const tl_leg *lower, int parts,
                     const tl_size_result *answer)
{
    if (answer->count < answer->room)
        return false;
    const double worst = answer->choices[answer->count - 1].score;
    const double share = divider_tap_high(w, upper_low, lower->high) / w->limit;
    if (w->order != TL_ORDER_CURRENT)
        return divider_score_without_current(w, share, parts) + divider_current_part < worst;
    const double amperes =
        w->source.high / (w->source_ohms + upper_low + parallel_of(lower->low, w->load_ohms));
    return divider_score(w, share, amperes + w->leakage, parts) <= worst;
}

static bool too_weak(const tl_divider_requirement *w, double upper_low, const tl_leg *lower)
{
    return parallel_of(w->source_ohms + upper_low, parallel_of(lower->high, w->load_ohms)) >
           w->most_tap_ohms * (1 + 1e-12);
}

/* The last upper leg whose tap still has the share that is required, by halving: the tap falls as they rise.
 */
static int last_with_share(const tl_divider_requirement *w, const leg_list *uppers, const tl_leg *lower)
{
    int low = -1, high = uppers->count - 1;
    if (!is_said(w->least_share))
        return high;
    while (low < high) {
        const int middle = (low + high + 1) / 2;
        if (divider_tap_high(w, uppers->keys[middle].low, lower->high) >=
            w->least_share * w->limit * (1 - 1e-9))
            low = middle;
        else
            high = middle - 1;
    }
    return low;
}

/* Best share first: up from the least upper leg. Least current first: down from the largest. */
static void search_upwards(const tl_divider_requirement *w, const leg_list *uppers, int first,
                           const tl_leg *lower, int parts, tl_size_result *answer)
{
    int found = 0;
    for (int i = first; i < uppers->count && found < answer->room; i++) {
        const double low = uppers->keys[i].low;
        if (hopeless(w, low, lower, parts, answer) || too_weak(w, low, lower))
            return;
        const tl_leg upper = leg_at(uppers, i);
        found += try_pair(w, &upper, lower, answer);
    }
}

static void search_downwards(const tl_divider_requirement *w, const leg_list *uppers, int first,
                             const tl_leg *lower, int parts, tl_size_result *answer)
{
    int found = 0;
    for (int i = last_with_share(w, uppers, lower); i >= first && found < answer->room; i--) {
        const double low = uppers->keys[i].low;
        if (hopeless(w, low, lower, parts, answer))
            return;
        const tl_leg upper = leg_at(uppers, i);
        if (!too_weak(w, low, lower))
            found += try_pair(w, &upper, lower, answer);
    }
}

/* Whether the choices that are kept all cost less. */
static bool is_dear(const tl_divider_requirement *w, const tl_leg *upper, const tl_leg *lower, double share,
                    const tl_size_result *answer)
{
    static const double tie = 0.002;
    return answer->count == answer->room + answer->spare &&
           divider_least_cost(w, upper, lower, share) > answer->choices[answer->worst].cost + tie +
                                                            practice_discount(upper, answer->stock) +
                                                            practice_discount(lower, answer->stock);
}

/* One that is too dear to be kept may still be the first in another order. */
static void keep_furthest(const tl_divider_requirement *w, const tl_leg *upper, const tl_leg *lower,
                          double share, tl_size_result *answer)
{
    if (divider_score(w, share, divider_amperes(w, upper, lower), part_count(upper) + part_count(lower)) >
            answer->furthest.extreme &&
        enough_parts(answer->stock, upper, lower))
        answer->furthest = tl_divider_work_out(w, upper, lower);
}

/* By practice: of each lower leg the uppers that still use six tenths of what the best of them does. */
static void search_near_the_best(const tl_divider_requirement *w, const leg_list *uppers, int first,
                                 const tl_leg *lower, tl_size_result *answer)
{
    static const double near = 0.6;
    double best = NAN;
    for (int i = first; i < uppers->count; i++) {
        const double low = uppers->keys[i].low, tap = divider_tap_high(w, low, lower->high);
        if (too_weak(w, low, lower) || tap < near * best)
            return;
        const tl_leg upper = leg_at(uppers, i);
        if (isinf(upper.watts) && isinf(lower->watts) && is_dear(w, &upper, lower, tap / w->limit, answer)) {
            keep_furthest(w, &upper, lower, tap / w->limit, answer);
            best = fmax(best, tap);
        } else if (try_pair(w, &upper, lower, answer)) {
            best = fmax(best, tap);
        }
    }
}

static void search(const tl_divider_requirement *w, const leg_list *uppers, const leg_list *lowers, int parts,
                   tl_size_result *answer)
{
    if (w->order == TL_ORDER_PRACTICE) { /* from the largest down: small ones are dear */
        for (int i = lowers->count - 1, first = 0; i >= 0; i--) {
            const tl_leg lower = leg_at(lowers, i);
            first = first_from(uppers, least_upper(w, &lower), first);
            search_near_the_best(w, uppers, first, &lower, answer);
        }
    }
    for (int i = 0, first = 0; i < lowers->count && w->order != TL_ORDER_PRACTICE; i++) {
        const tl_leg lower = leg_at(lowers, i);
        first = first_from(uppers, least_upper(w, &lower), first);
        if (w->order == TL_ORDER_CURRENT)
            search_downwards(w, uppers, first, &lower, parts, answer);
        else
            search_upwards(w, uppers, first, &lower, parts, answer);
    }
    answer->tried += (double)uppers->count * lowers->count;
}

/* A divider that draws next to nothing uses next to nothing of the range: unless asked otherwise, it shall
 * use half of what could be had. */
static double half_the_best(const tl_divider_requirement *w, const tl_size_result *answer)
{
    tl_divider_requirement most = *w;
    tl_size_result *best = tl_size_result_new(answer->stock, 1);
    most.order = TL_ORDER_SHARE;
    tl_size_divider(&most, best);
    const double share =
        best->count > 0 ? best->choices[0].figure[TL_DIVIDER_SHARE].value / 200 : (double)NAN;
    tl_size_result_free(best);
    return share;
}

/* --- why others fail --- */

/* Keeps the pair if it breaks this figure alone and comes nearer to its limit than what was kept. */
static void keep_rejected(const tl_choice *choice, int figure, tl_choice *nearest)
{
    for (int f = 0; f < choice->figures; f++) {
        if (figure_broken(&choice->figure[f]) != (f == figure))
            return;
    }
    const double now = choice->figure[figure].value;
    if (nearest->figures == 0 || now < nearest->figure[figure].value * (1 - 1e-9) ||
        (now < nearest->figure[figure].value * (1 + 1e-9) && choice->score > nearest->score))
        *nearest = *choice;
}

static void widen(tl_size_result *answer, const char *part, double nominal)
{
    tl_size_window *window = result_window(answer, NULL, part, TL_DIM_OHM);
    window->offered_least = fmin(window->offered_least, nominal);
    window->offered_most = fmax(window->offered_most, nominal);
}

/* The tap's volts, the source's amperes, the tap's ohms. */
static double rejected_value(const tl_divider_requirement *w, int which, const tl_leg *upper,
                             const tl_leg *lower)
{
    return which == 0   ? divider_tap_high(w, upper->low, lower->high)
           : which == 1 ? divider_amperes(w, upper, lower)
                        : parallel_of(w->source_ohms + upper->high, parallel_of(lower->high, w->load_ohms));
}

static void explain_rejected(const tl_divider_requirement *w, const leg_list *uppers, const leg_list *lowers,
                             tl_size_result *answer)
{
    static const int figures[] = {TL_DIVIDER_TAP_HIGHEST, TL_DIVIDER_CURRENT, TL_DIVIDER_OHMS};
    static const char *const why[] = {"over the limit", "over the current budget", "too weak for the pin"};
    tl_choice nearest[3] = {{0}};
    for (int l = 0, first = 0; l < lowers->count; l++) {
        const tl_leg lower = leg_at(lowers, l);
        first = first_from(uppers, least_upper(w, &lower), first);
        int weak =
            first; /* the first upper leg from there on that is too weak: the resistance rises, so halve */
        for (int high = uppers->count; weak < high;) {
            const int middle = weak + (high - weak) / 2;
            if (too_weak(w, leg_at(uppers, middle).high, &lower))
                high = middle;
            else
                weak = middle + 1;
        }
        if (first < weak) { /* these fit, unless they are not enough in number, or use too little */
            widen(answer, "upper", leg_at(uppers, first).nominal);
            widen(answer, "upper", leg_at(uppers, weak - 1).nominal);
            widen(answer, "lower", lower.nominal);
        }
        for (int m = 0; m < 3; m++) {
            const int at = m == 2 ? weak : first - 1;
            if (at < 0 || at >= uppers->count)
                continue;
            const tl_leg upper = leg_at(uppers, at);
            if (nearest[m].figures > 0 &&
                rejected_value(w, m, &upper, &lower) > nearest[m].figure[figures[m]].value * (1 + 1e-9))
                continue;
            const tl_choice choice = tl_divider_work_out(w, &upper, &lower);
            keep_rejected(&choice, figures[m], &nearest[m]);
        }
    }
    for (int m = 0; m < 3; m++) {
        if (nearest[m].figures == 0)
            continue;
        const tl_size_figure *f = &nearest[m].figure[figures[m]];
        result_reject(answer, &nearest[m], "%s: %s %s, limit %s", why[m], f->label, say_figure(f),
                      say_limit(f));
    }
}

/* With one leg given there is one right value for the other: say it, and what its neighbours on offer do. */
static void explain_wanted(const tl_divider_requirement *w, const leg_list *uppers, const leg_list *lowers,
                           tl_size_result *answer)
{
    const bool upper_wanted = is_said(w->lower.nominal);
    if (upper_wanted == is_said(w->upper.nominal))
        return;
    const tl_leg other = leg_given(upper_wanted ? &w->lower : &w->upper);
    const double given = other.nominal;
    const double p = parallel_of(given, w->load_ohms), drive = w->source_ohms + given;
    const double wanted =
        upper_wanted
            ? p * (w->source.high / w->limit - 1) - w->source_ohms
            : 1 / ((w->source.high / w->limit - 1) / drive - (isinf(w->load_ohms) ? 0 : 1 / w->load_ohms));
    if (!(wanted > 0) || !isfinite(wanted))
        return;
    const leg_list *list = upper_wanted ? uppers : lowers;
    int above = 0;
    while (above < list->count && leg_at(list, above).nominal < wanted)
        above++;
    for (int i = above - 1; i <= above; i++) {
        char value[40];
        if (i < 0 || i >= list->count)
            continue;
        const tl_leg leg = leg_at(list, i);
        const tl_choice c =
            upper_wanted ? tl_divider_work_out(w, &leg, &other) : tl_divider_work_out(w, &other, &leg);
        const tl_size_figure *tap = &c.figure[TL_DIVIDER_TAP_HIGHEST];
        result_note(answer, "The %s resistor needs %s; with %s the output is %s, %s the limit of %s.",
                    upper_wanted ? "upper" : "lower", say(wanted, TL_DIM_OHM),
                    tl_leg_write(&leg, answer->stock, TL_DIM_OHM, value), say_figure(tap),
                    figure_broken(tap) ? "above" : "below", say(w->limit, TL_DIM_VOLT));
    }
}

/* --- the whole --- */

static bool is_sensible(const tl_divider_requirement *w, tl_size_result *answer)
{
    const bool sensible = is_range(&w->source) && w->source.high > 0 && w->limit > 0 && isfinite(w->limit) &&
                          w->source_ohms >= 0 && isfinite(w->source_ohms) && w->load_ohms > 0 &&
                          w->most_amperes > 0 && w->most_tap_ohms > 0 &&
                          !(w->upper.low <= 0 && is_said(w->upper.nominal)) &&
                          !(w->lower.low <= 0 && is_said(w->lower.nominal)) && w->meter_ohms > 0 &&
                          w->leakage >= 0 && !(w->least_share < 0 || w->least_share > 1) &&
                          (w->parts == 1 || w->parts == 2) && answer->stock->count > 0;
    if (is_range(&w->source) && w->source.low < 0)
        result_refuse(answer, TL_SIZE_NONSENSE,
                      "the output of a divider to ground stays below 0 V: raise it with a lower resistor "
                      "to a supply");
    else if (!sensible)
        result_refuse(
            answer, TL_SIZE_NONSENSE,
            "a divider needs a source and a limit above 0 V, resistors, limits and loads above 0, and values "
            "to choose from");
    return sensible && w->source.low >= 0;
}

static void write_plans(tl_size_result *answer)
{
    char upper[64], lower[64];
    for (int i = 0; i < answer->count; i++) {
        tl_choice *c = &answer->choices[i];
        choice_plan(c, "- divider: {upper: %s, lower: %s}",
                    tl_leg_plan_text(&c->part[0], answer->stock, upper),
                    tl_leg_plan_text(&c->part[1], answer->stock, lower));
    }
}

static double cheapest(const tl_size_result *answer)
{
    double least = INFINITY;
    for (int i = 0; i < answer->count; i++)
        least = fmin(least, answer->choices[i].cost);
    return least;
}

/* Legs of two: all combinations that hold one, unless enough with fewer parts were found and those come
 * first. */
static void search_doubles(const tl_divider_requirement *w, const leg_list *uppers, const leg_list *lowers,
                           tl_size_result *answer)
{
    leg_list uppers_2 = double_legs(answer->stock, &w->upper);
    leg_list lowers_2 = is_said(w->lower.nominal) || is_said(w->upper.nominal)
                            ? double_legs(answer->stock, &w->lower)
                            : uppers_2;
    search(w, &uppers_2, lowers, 3, answer);
    search(w, uppers, &lowers_2, 3, answer);
    search(w, &uppers_2, &lowers_2, 4, answer);
    if (lowers_2.keys != uppers_2.keys)
        free(lowers_2.keys);
    free(uppers_2.keys);
}

static void explain_result(const tl_divider_requirement *w, tl_size_result *answer)
{
    if (answer->count == 0)
        result_refuse(answer, TL_SIZE_IMPOSSIBLE, "none of %.0f pairs meets all limits", answer->tried);
    else if (answer->choices[0].figure[TL_DIVIDER_SHARE].value < 25)
        result_note(answer,
                    "The output uses little of the range: the limits of current and source resistance "
                    "contradict each other here.");
    if (w->leakage > 0)
        result_note(answer, "The figures include a pin leakage of %s, either way.",
                    say(w->leakage, TL_DIM_AMPERE));
    result_note(answer, "If the lower resistor opens, the pin gets the full source voltage. A clamp or a "
                        "follower protects it.");
}

void tl_size_divider(const tl_divider_requirement *requirement, tl_size_result *answer)
{
    tl_divider_requirement both = *requirement;
    const tl_divider_requirement *w = &both;
    both.limit = fmin(or_else(requirement->limit, requirement->reference),
                      or_else(requirement->reference, requirement->limit));
    if (!is_sensible(w, answer))
        return;
    if (w->order == TL_ORDER_CURRENT && !is_said(w->least_share))
        both.least_share = half_the_best(w, answer);
    if (w->source.high <= w->limit) {
        result_refuse(answer, TL_SIZE_IMPOSSIBLE,
                      "no divider is needed: the source never exceeds %s; a series resistor protects the "
                      "pin well enough",
                      say(w->limit, TL_DIM_VOLT));
        return;
    }
    result_note(answer, "Limits: output %s, source current %s, source resistance at the pin %s.",
                say(w->limit, TL_DIM_VOLT),
                isinf(w->most_amperes) ? "none" : say(w->most_amperes, TL_DIM_AMPERE),
                isinf(w->most_tap_ohms) ? "none" : say(w->most_tap_ohms, TL_DIM_OHM));
    result_exact(answer, "largest ratio", w->limit / w->source.high, TL_DIM_NUMBER);
    if (answer->compare) {
        const tl_leg upper = leg_of(answer->stock, 0), lower = leg_of(answer->stock, 1);
        const tl_choice choice = tl_divider_work_out(w, &upper, &lower);
        result_offer(answer, &choice);
        write_plans(answer);
        return;
    }
    answer->order = w->order == TL_ORDER_PRACTICE ? TL_BY_PRACTICE : TL_BY_EXTREME;
    result_keep_more(answer);
    leg_list uppers = single_legs(answer->stock, &w->upper), lowers = single_legs(answer->stock, &w->lower);
    search(w, &uppers, &lowers, 2, answer);
    explain_rejected(w, &uppers, &lowers, answer);
    explain_wanted(w, &uppers, &lowers, answer);
    const bool singles_do = w->order == TL_ORDER_PRACTICE
                                ? cheapest(answer) < 0.3
                                : w->order == TL_ORDER_PARTS && answer->count >= answer->room;
    if (w->parts == 2 && !singles_do)
        search_doubles(w, &uppers, &lowers, answer);
    result_rank(answer);
    free(uppers.keys);
    free(lowers.keys);
    write_plans(answer);
    explain_result(w, answer);
}
