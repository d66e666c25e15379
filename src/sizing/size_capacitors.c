/* SPDX-License-Identifier: MIT */
/* Filter and reservoir: the sizings that choose capacitors. */
#include "sizing/sizing.h"
#include <stdlib.h>

static const double two_pi = 6.283185307179586;

tl_filter_requirement tl_filter_requirement_default(void)
{
    return (tl_filter_requirement){.keep = NAN,
                                   .reject = NAN,
                                   .by = 10,
                                   .most_ohms = 10e3,
                                   .most_error = INFINITY,
                                   .capacitor_tolerance = 0.1,
                                   .converter = unknown_converter};
}

/* What comes nearest, with the first figure that it breaks. */
static void reject_nearest(tl_size_result *answer, const tl_choice *c)
{
    for (int i = 0; i < c->figures; i++) {
        const tl_size_figure *f = &c->figure[i];
        if (figure_broken(f)) {
            result_reject(answer, c, "comes nearest: %s %s, limit %s", f->label, say_figure(f), say_limit(f));
            return;
        }
    }
}

/* One pole: |H| = 1 / sqrt(1 + (2 pi f R C)^2). */
static double gain_at(double hertz, double ohms, double farads)
{
    return 1 / hypot(1, two_pi * hertz * ohms * farads);
}

static void work_out_filter(const tl_filter_requirement *w, const tl_leg *series, const tl_leg *farads,
                            tl_choice *c)
{
    char value[64], capacitance[40];
    const double most = w->source_ohms + series->high, least = w->source_ohms + series->low;
    choice_part(c, "series", TL_DIM_OHM, series);
    choice_part(c, "capacitor", TL_DIM_FARAD, farads);
    choice_figure(c, TL_FIG_CORNER_LOWEST, 1 / (two_pi * most * farads->high), NAN);
    choice_figure(c, TL_FIG_CORNER_HIGHEST, 1 / (two_pi * least * farads->low), NAN);
    choice_figure(c, TL_FIG_KEPT, 100 * gain_at(w->keep, most, farads->high), 100 * pow(10, -0.05));
    choice_figure(c, TL_FIG_FALLS_BY, 1 / gain_at(w->reject, least, farads->low), w->by);
    choice_figure(c, TL_FIG_SETTLES_IN, most * farads->high * log(ldexp(1, (int)w->converter.bits + 1)), NAN);
    choice_figure(c, TL_FIG_SOURCE_RESISTANCE, most, w->most_ohms);
    choice_figure(c, TL_FIG_LEAKAGE_COSTS, most * w->leakage, w->most_error);
    double used;
    (void)tl_choice_tightest(c, &used);
    c->score = c->extreme = -used;
    choice_plan(c, "- filter: {series: %s, capacitor: %s ±%g %%}", tl_leg_plan_text(series, NULL, value),
                tl_leg_write(farads, NULL, TL_DIM_FARAD, capacitance),
                100 * (farads->high - farads->nominal) / farads->nominal);
}

/* Whether half a count is left on the sampling capacitor: fed by a filter's capacitor at once, or through all
 * of the filter in time. */
static bool feeds(const tl_filter_requirement *w, const tl_leg *series, const tl_leg *farads)
{
    const tl_size_converter *converter = &w->converter;
    const double codes = ldexp(1, (int)converter->bits), cs = converter->sample_farads,
                 most = w->source_ohms + series->high,
                 tau = most * (farads->high + cs) + or_else(converter->switch_ohms, 0) * cs;
    return !is_said(cs) || cs / (cs + farads->low) * codes <= 0.5 ||
           tau * log(2 * codes) <= converter->acquisition;
}

static void weigh_filter(const tl_size_result *answer, tl_choice *c)
{
    const double ohms = c->part[0].nominal, farads = c->part[1].nominal;
    if (answer->order != TL_BY_PRACTICE)
        return;
    practice_add(c, PRACTICE_FILTER_SMALL, ohms);
    practice_add(c, PRACTICE_FILTER_LARGE, ohms);
    practice_add(c, PRACTICE_FILTER_MIDDLE, ohms);
    practice_add(c, PRACTICE_FILTER_FARADS_SMALL, farads);
    practice_add(c, PRACTICE_FILTER_FARADS_LARGE, farads);
    practice_common(c, answer->stock);
    result_score(answer, c);
}

void tl_size_filter(const tl_filter_requirement *w, tl_size_result *answer)
{
    if (!(w->keep > 0) || !(w->reject > w->keep) || !(w->by > 1) || w->source_ohms < 0 ||
        !(w->most_ohms > 0) || w->leakage < 0 ||
        !(w->capacitor_tolerance >= 0 && w->capacitor_tolerance < 1)) {
        result_refuse(answer, TL_SIZE_NONSENSE,
                      "a filter needs a passband frequency and a higher stopband frequency, both above 0 Hz, "
                      "and an attenuation "
                      "above 1");
        return;
    }
    tl_stock capacitors = offered_capacitors(answer, 22e-6, w->capacitor_tolerance);
    result_keep_more(answer);
    tl_choice nearest = {0};
    double least_excess = INFINITY;
    bool starved = false;
    for (int i = 0; i < capacitors.count; i++) {
        for (int j = 0; j < answer->stock->count; j++) {
            const tl_leg farads = capacitor_of(&capacitors, i), series = leg_of(answer->stock, j);
            tl_choice c = {0};
            double used;
            work_out_filter(w, &series, &farads, &c);
            answer->tried++;
            (void)tl_choice_tightest(&c, &used);
            if (result_takes(answer, &c) && !feeds(w, &series, &farads)) {
                if (!starved)
                    result_reject(answer, &c,
                                  "the capacitor is too small to charge the sampling capacitor at once, and "
                                  "too large to "
                                  "settle in time");
                starved = true;
            } else if (result_takes(answer, &c)) {
                answer->fitting++;
                result_fits(answer, &c);
                weigh_filter(answer, &c);
                result_offer(answer, &c);
            } else if (used < least_excess) {
                least_excess = used;
                nearest = c;
            }
        }
    }
    release_capacitors(answer, &capacitors);
    result_rank(answer);
    if (answer->count == 0) {
        result_refuse(answer, TL_SIZE_IMPOSSIBLE,
                      "one resistor and one capacitor cannot pass %s and attenuate %s %g times within these "
                      "tolerances",
                      say(w->keep, TL_DIM_HERTZ), say(w->reject, TL_DIM_HERTZ), w->by);
        reject_nearest(answer, &nearest);
    }
    result_note(
        answer,
        "The loss in the passband is at most 1 dB (89.1 %%). The capacitor of a filter is also a reservoir "
        "for the ADC: %s.",
        is_said(w->converter.sample_farads)
            ? "the figures include that; 'size reservoir' calculates the sample rate"
            : "see 'size reservoir'");
}

/* --- reservoir --- */

tl_reservoir_requirement tl_reservoir_requirement_default(void)
{
    return (tl_reservoir_requirement){
        .source_ohms = NAN, .rate = NAN, .capacitor_tolerance = 0.1, .converter = unknown_converter};
}

/* In counts, from the other end of the span: what the shared charge takes at once, and what f samples a
 * second keep drawing. */
static void work_out_reservoir(const void *requirement, const tl_leg *farads, tl_choice *c)
{
    const tl_reservoir_requirement *w = requirement;
    char capacitance[40];
    const double codes = ldexp(1, (int)w->converter.bits), cs = w->converter.sample_farads;
    const double at_once = codes * cs / (cs + farads->low);
    const double draw = w->source_ohms * cs * w->rate, steady = codes * draw / (1 + draw);
    const double room = (0.5 - at_once) / codes;
    choice_part(c, "capacitor", TL_DIM_FARAD, farads);
    choice_figure(c, TL_FIG_AT_ONCE, at_once, NAN);
    choice_figure(c, TL_FIG_STEADILY, steady, NAN);
    choice_figure(c, TL_FIG_TOGETHER, at_once + steady, 0.5);
    choice_figure(c, TL_FIG_SAMPLES_A_SECOND, room > 0 ? room / (1 - room) / (w->source_ohms * cs) : 0,
                  w->rate);
    choice_figure(c, TL_FIG_FOLLOWS_A_STEP_IN, w->source_ohms * farads->high * log(2 * codes), NAN);
    c->score = c->extreme = -farads->nominal;
    choice_plan(c, "- capacitor: %s ±%g %%", tl_leg_write(farads, NULL, TL_DIM_FARAD, capacitance),
                100 * (farads->high - farads->nominal) / farads->nominal);
}

static void weigh_held(const tl_size_result *answer, tl_choice *c, double least)
{
    if (answer->order != TL_BY_PRACTICE)
        return;
    practice_held(c, c->part[0].nominal, least);
    practice_common(c, answer->stock);
    result_score(answer, c);
}

static const one_part_job reservoir_job = {
    TL_DIM_FARAD, work_out_reservoir, NULL,
    (const bound_name[]){{TL_FIG_TOGETHER, "smallest capacitor"}, {TL_FIG_SAMPLES_A_SECOND, ""}, {0}}};

void tl_size_reservoir(const tl_reservoir_requirement *w, tl_size_result *answer)
{
    const double cs = w->converter.sample_farads, codes = ldexp(1, (int)or_else(w->converter.bits, 12));
    if (!(w->source_ohms > 0) || !(w->rate > 0) || !(cs > 0) ||
        !(w->converter.bits >= 6 && w->converter.bits <= 24) ||
        !(w->capacitor_tolerance >= 0 && w->capacitor_tolerance < 1)) {
        result_refuse(answer, TL_SIZE_NONSENSE,
                      "a reservoir needs the source resistance, the sample rate and the sampling "
                      "capacitor, all above 0");
        return;
    }
    result_note(
        answer,
        "For half a count at once the capacitor needs at least %s: %.0f times the sampling capacitor.",
        say(cs * (2 * codes - 1), TL_DIM_FARAD), 2 * codes - 1);
    result_exact(answer, "smallest capacitor at once", cs * (2 * codes - 1), TL_DIM_FARAD);
    result_exact(answer, "most samples a second", 0.5 / codes / (w->source_ohms * cs), TL_DIM_HERTZ);
    find_window(&reservoir_job, w, answer);
    tl_stock capacitors = offered_capacitors(answer, 100e-6, w->capacitor_tolerance);
    tl_choice last = {0};
    double least = INFINITY; /* they rise, so the first that fits */
    result_keep_more(answer);
    for (int i = 0; i < capacitors.count; i++) {
        const tl_leg farads = capacitor_of(&capacitors, i);
        tl_choice c = {0};
        work_out_reservoir(w, &farads, &c);
        answer->tried++;
        if (result_takes(answer, &c)) {
            answer->fitting++;
            least = fmin(least, farads.nominal);
            result_fits(answer, &c);
            weigh_held(answer, &c, least);
            result_offer(answer, &c);
        } else {
            last = c;
        }
    }
    release_capacitors(answer, &capacitors);
    result_rank(answer);
    if (answer->count > 0) {
        if (last.parts > 0)
            result_reject(answer, &last, "the next smaller value leaves more than half a count");
        return;
    }
    result_refuse(
        answer, TL_SIZE_IMPOSSIBLE,
        "the samples draw more charge than %s supplies: use at most %s samples per second, a smaller source "
        "resistance, or a follower",
        say(w->source_ohms, TL_DIM_OHM), say(0.5 / codes / (w->source_ohms * cs), TL_DIM_HERTZ));
    reject_nearest(answer, &last);
}
