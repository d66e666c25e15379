/* SPDX-License-Identifier: MIT */
/*
 * Two legs of a wanted ratio, volts unsaid: r = lower / (upper + lower). For every lower leg the upper one
 * that is required is lower (1 / r - 1); the legs on offer are sorted, so only its two neighbours can be
 * nearest.
 */
#include "sizing/legs.h"
#include <stdlib.h>

tl_ratio_requirement tl_ratio_requirement_default(void)
{
    return (tl_ratio_requirement){.ratio = NAN, .sum = {0, NAN, INFINITY, false}, .parts = 1};
}

static double ratio_of(double upper, double lower)
{
    return lower / (upper + lower);
}

static void try_pair(const tl_ratio_requirement *w, const tl_leg *upper, const tl_leg *lower,
                     tl_size_result *answer)
{
    char a[64], b[64];
    tl_choice c = {0};
    const double ratio = ratio_of(upper->nominal, lower->nominal), sum = upper->nominal + lower->nominal;
    if (sum < w->sum.low * (1 - 1e-12) || sum > w->sum.high * (1 + 1e-12) ||
        !enough_parts(answer->stock, upper, lower))
        return;
    choice_part(&c, "upper", TL_DIM_OHM, upper);
    choice_part(&c, "lower", TL_DIM_OHM, lower);
    choice_figure(&c, TL_FIG_RATIO, ratio, NAN);
    choice_figure(&c, TL_FIG_OFF_BY, 100 * (ratio / w->ratio - 1), NAN);
    choice_figure(&c, TL_FIG_RATIO_LOWEST, ratio_of(upper->high, lower->low), NAN);
    choice_figure(&c, TL_FIG_RATIO_HIGHEST, ratio_of(upper->low, lower->high), NAN);
    double left[2];
    ratio_drift(upper, lower, 0, INFINITY, w->drift * w->away, left);
    choice_figure(&c, TL_FIG_CALIBRATED_LOWEST, left[0], NAN);
    choice_figure(&c, TL_FIG_CALIBRATED_HIGHEST, left[1], NAN);
    choice_figure(&c, TL_FIG_BOTH_TOGETHER, upper->high + lower->high, NAN);
    /* Nearest first; of equally near ones fewer parts, then the larger resistances. */
    c.score = c.extreme =
        -fabs(ratio - w->ratio) - 1e-9 * (part_count(upper) + part_count(lower)) + 1e-14 * log10(sum);
    choice_plan(&c, "- divider: {upper: %s, lower: %s}", tl_leg_plan_text(upper, answer->stock, a),
                tl_leg_plan_text(lower, answer->stock, b));
    answer->fitting++;
    result_fits(answer, &c);
    if (answer->order == TL_BY_PRACTICE) {
        practice_add(&c, PRACTICE_RATIO_OFF, fabs(ratio / w->ratio - 1) / 0.01 + 0.05);
        practice_near(&c, PRACTICE_RATIO_SUM, sum, sqrt(fmax(w->sum.low, 2e3) * fmin(w->sum.high, 200e3)));
        practice_common(&c, answer->stock);
        result_score(answer, &c);
    }
    result_offer(answer, &c);
}

static void search(const tl_ratio_requirement *w, const leg_list *uppers, const leg_list *lowers,
                   tl_size_result *answer)
{
    for (int i = 0, near = 0; i < lowers->count; i++) {
        const tl_leg lower = leg_at(lowers, i);
        const double wanted = lower.nominal * (1 / w->ratio - 1);
        near = first_from(uppers, wanted * lower.low / lower.nominal, near);
        for (int k = near - 2; k <= near + 1; k++) { /* sorted by their least ohms, not by the nominal ones */
            if (k < 0 || k >= uppers->count)
                continue;
            const tl_leg upper = leg_at(uppers, k);
            try_pair(w, &upper, &lower, answer);
        }
    }
    answer->tried += (double)uppers->count * lowers->count;
}

void tl_size_ratio(const tl_ratio_requirement *w, tl_size_result *answer)
{
    static const tl_quantity any = {NAN, NAN, NAN, false};
    if (!(w->ratio > 0 && w->ratio < 1) || !(w->sum.low <= w->sum.high) || (w->parts != 1 && w->parts != 2) ||
        !(w->drift >= 0 && w->away >= 0 && w->drift * w->away < 1) || answer->stock->count == 0) {
        result_refuse(answer, TL_SIZE_NONSENSE,
                      "a ratio is between 0 and 1, a resistor has one or two parts, and the temperature "
                      "coefficient is per kelvin");
        return;
    }
    if (answer->compare) {
        const tl_leg upper = leg_of(answer->stock, 0), lower = leg_of(answer->stock, 1);
        try_pair(w, &upper, &lower, answer);
        if (answer->count == 0)
            result_refuse(answer, TL_SIZE_IMPOSSIBLE, "the sum of %s is outside the required range",
                          say(upper.nominal + lower.nominal, TL_DIM_OHM));
        return;
    }
    leg_list single = single_legs(answer->stock, &any);
    result_keep_more(answer);
    search(w, &single, &single, answer);
    if (w->parts == 2) {
        leg_list pairs = double_legs(answer->stock, &any);
        search(w, &pairs, &single, answer);
        search(w, &single, &pairs, answer);
        search(w, &pairs, &pairs, answer);
        free(pairs.keys);
    }
    free(single.keys);
    result_rank(answer);
    if (w->drift * w->away > 0)
        result_note(answer,
                    "Calibrated: change of the ratio if both resistors drift by %s in opposite directions.",
                    say(100 * w->drift * w->away, TL_DIM_PERCENT));
    result_exact(answer, "upper by lower", 1 / w->ratio - 1, TL_DIM_NUMBER);
    if (answer->count == 0)
        result_refuse(answer, TL_SIZE_IMPOSSIBLE, "no pair has such a sum");
}
