/* SPDX-License-Identifier: MIT */
/* One pair of legs: its figures, its score in an order, and what it costs by practice. */
#include "sizing/divider_pair.h"
#include <math.h>

/* X = source and upper leg, p = lower leg and load: (V + I X) p / (X + p) falls with X and rises with p. */
static double tap_of(double volts, double amperes, double x, double p)
{
    return (volts + amperes * x) * p / (x + p);
}

double divider_tap_high(const tl_divider_requirement *w, double upper_low, double lower_high)
{
    return tap_of(w->source.high, w->leakage, w->source_ohms + upper_low,
                  parallel_of(lower_high, w->load_ohms));
}

/* With the leakage out of the pin the tap can even go below ground, and then a larger lower leg makes it
 * worse. */
static double tap_low(const tl_divider_requirement *w, double upper_high, double p_low, double p_high)
{
    const double x = w->source_ohms + upper_high;
    return fmin(tap_of(w->source.low, -w->leakage, x, p_low), tap_of(w->source.low, -w->leakage, x, p_high));
}

/* Power in a leg peaks where the leg equals what drives it: that may lie inside its tolerance. */
static double upper_power(const tl_divider_requirement *w, const tl_leg *upper, double p_low)
{
    const double worst = fmin(fmax(w->source_ohms + p_low, upper->low), upper->high);
    const double amperes = w->source.high / (w->source_ohms + worst + p_low);
    return amperes * amperes * worst;
}

static double lower_power(const tl_divider_requirement *w, const tl_leg *upper, const tl_leg *lower)
{
    const double drive = w->source_ohms + upper->low,
                 loaded = isinf(w->load_ohms) ? 1 : 1 + drive / w->load_ohms;
    const double worst = fmin(fmax(drive / loaded, lower->low), lower->high);
    const double tap = w->source.high * worst / (drive + worst * loaded);
    return tap * tap / worst;
}

double divider_score_without_current(const tl_divider_requirement *w, double share, int parts)
{
    return (w->order == TL_ORDER_PARTS || w->order == TL_ORDER_PRACTICE ? -10.0 * parts : 0) +
           1e-9 * (double)(long long)(share * 1e9 + 0.5);
}

double divider_score(const tl_divider_requirement *w, double share, double amperes, int parts)
{
    const double saving = 1 - (log10(amperes) + 15) / 30;
    return w->order == TL_ORDER_CURRENT
               ? saving
               : divider_score_without_current(w, share, parts) + divider_current_part * saving;
}

/* The leg that uses most of its rating; where no rating is known, the hotter one. */
static void power_figure(tl_choice *c, double upper_watts, double upper_rating, double lower_watts,
                         double lower_rating)
{
    const bool upper = isinf(upper_rating) && isinf(lower_rating)
                           ? upper_watts > lower_watts
                           : upper_watts / upper_rating > lower_watts / lower_rating;
    choice_figure(c, TL_FIG_POWER_IN_A_LEG, upper ? upper_watts : lower_watts,
                  upper ? upper_rating : lower_rating);
}

/* What weighs in a divider, in addition to what weighs in every choice: each row with its quantity, and where
 * it is comfortable where this job says so, else NAN. */
typedef struct {
    practice_id id;
    double x, at;
} weight;
enum { WEIGHTS_MOST = 6 };

static int weights_of(const tl_divider_requirement *w, const tl_leg *upper, const tl_leg *lower, double share,
                      double amperes, weight weights[WEIGHTS_MOST])
{
    const double sum = upper->nominal + lower->nominal;
    const double tap = parallel_of(w->source_ohms + upper->high, parallel_of(lower->high, w->load_ohms));
    int count = 0;
    weights[count++] = (weight){PRACTICE_SHARE_LITTLE, share, NAN};
    if (w->line) {
        weights[count++] = (weight){PRACTICE_SUM_SMALL, sum, NAN};
        weights[count++] = (weight){PRACTICE_SUM_LARGE, sum, NAN};
        weights[count++] = (weight){PRACTICE_SUM_MIDDLE, sum, NAN};
    } else if (w->most_amperes < 100e-6) {
        weights[count++] = (weight){PRACTICE_BUDGET_MIDDLE, amperes, w->most_amperes / 2};
    } else {
        weights[count++] = (weight){PRACTICE_SOURCE_LITTLE, amperes, NAN};
        weights[count++] = (weight){PRACTICE_SOURCE_MUCH, amperes, NAN};
        weights[count++] = (weight){PRACTICE_SOURCE_MIDDLE, amperes, NAN};
    }
    weights[count++] = (weight){PRACTICE_TAP_OHMS, tap, fmax(10e3, or_else(w->tap_said, 0))};
    weights[count++] = (weight){PRACTICE_LOWER_OPEN, (w->source.high - w->limit) / upper->nominal, NAN};
    return count;
}

double divider_amperes(const tl_divider_requirement *w, const tl_leg *upper, const tl_leg *lower)
{
    return w->source.high / (w->source_ohms + upper->low + parallel_of(lower->low, w->load_ohms)) +
           w->leakage;
}

double divider_least_cost(const tl_divider_requirement *w, const tl_leg *upper, const tl_leg *lower,
                          double share)
{
    weight weights[WEIGHTS_MOST];
    const int count = weights_of(w, upper, lower, share, divider_amperes(w, upper, lower), weights);
    double cost = practice_cost(PRACTICE_VOLTS, share);
    for (int i = 0; i < count; i++)
        cost += isnan(weights[i].at) ? practice_cost(weights[i].id, weights[i].x)
                                     : practice_cost_near(weights[i].id, weights[i].x, weights[i].at);
    return cost;
}

tl_choice tl_divider_work_out(const tl_divider_requirement *w, const tl_leg *upper, const tl_leg *lower)
{
    tl_choice c = {0};
    const double source = w->source_ohms, load = w->load_ohms;
    const double p_low = parallel_of(lower->low, load), p_high = parallel_of(lower->high, load);
    const double high = divider_tap_high(w, upper->low, lower->high);
    const double amperes = divider_amperes(w, upper, lower);
    const double metered = parallel_of(parallel_of(lower->nominal, load), w->meter_ohms);
    choice_part(&c, "upper", TL_DIM_OHM, upper);
    choice_part(&c, "lower", TL_DIM_OHM, lower);
    choice_figure(&c, TL_FIG_TAP_LOWEST, tap_low(w, upper->high, p_low, p_high), NAN);
    choice_figure(&c, TL_FIG_TAP_HIGHEST, high, w->limit);
    choice_figure(&c, is_said(w->least_share) ? TL_FIG_OF_THE_LIMIT_LEAST : TL_FIG_OF_THE_LIMIT,
                  100 * high / w->limit, 100 * w->least_share);
    choice_figure(&c, TL_FIG_CURRENT, amperes, w->most_amperes);
    choice_figure(&c, TL_FIG_SOURCE_RESISTANCE, parallel_of(source + upper->high, p_high), w->most_tap_ohms);
    power_figure(&c, upper_power(w, upper, p_low), upper->watts, lower_power(w, upper, lower), lower->watts);
    choice_figure(&c, TL_FIG_METER_SHOWS, w->source.nominal * metered / (source + upper->nominal + metered),
                  NAN);
    if (w->drift * w->away > 0) {
        double now[2], left[2];
        ratio_errors(upper, lower, source, load, now);
        ratio_drift(upper, lower, source, load, w->drift * w->away, left);
        choice_figure(&c, TL_FIG_ERROR_NOW, fmax(-now[0], now[1]), NAN);
        choice_figure(&c, TL_FIG_CALIBRATED, fmax(-left[0], left[1]), NAN);
    }
    c.score = c.extreme = divider_score(w, high / w->limit, amperes, part_count(upper) + part_count(lower));
    if (w->order == TL_ORDER_PRACTICE) {
        weight weights[WEIGHTS_MOST];
        const int count = weights_of(w, upper, lower, high / w->limit, amperes, weights);
        for (int i = 0; i < count; i++) {
            if (isnan(weights[i].at))
                practice_add(&c, weights[i].id, weights[i].x);
            else
                practice_near(&c, weights[i].id, weights[i].x, weights[i].at);
        }
    }
    return c;
}
