/* SPDX-License-Identifier: MIT */
/* A divider as the way down from one voltage world into another. */
#include "sizing/shift_case.h"

static tl_choice divider_choice(const shift_case *k, const tl_leg *upper, const tl_leg *lower)
{
    const tl_shift_requirement *w = k->w;
    tl_choice c = shift_choice("divider", WAY_DIVIDER);
    const double least = lower->low / (upper->high + lower->low),
                 most = lower->high / (upper->low + lower->high);
    const double ohms = parallel_of(upper->high, lower->high), leaks = ohms * w->leakage;
    choice_part(&c, "upper", TL_DIM_OHM, upper);
    choice_part(&c, "lower", TL_DIM_OHM, lower);
    choice_figure(&c, TL_FIG_HIGH_MARGIN, k->voh * least - leaks - k->vih, 0);
    choice_figure(&c, TL_FIG_LOW_MARGIN, k->vil - k->vol * most - leaks, 0);
    choice_figure(&c, TL_FIG_AT_THE_RECEIVER, w->from.high * most + leaks, k->limit);
    choice_figure(&c, TL_FIG_RISES_IN,
                  shift_edge(ohms, w->farads, k->voh * least - leaks, k->start * least, k->vih), k->edge);
    choice_figure(&c, TL_FIG_FALLS_IN,
                  shift_edge(ohms, w->farads, -k->vol * most - leaks, -w->from.high * most, -k->vil),
                  k->edge);
    choice_figure(&c, TL_FIG_DRIVER_GIVES, w->from.high / (upper->low + lower->low), w->drives);
    const double over = shift_room(k);
    const shift_off off = {NAN, fmax(0, (w->from.high - over) / upper->low - over / lower->high), 0};
    shift_add_off(k, &off, &c);
    return c;
}

/* By practice the sum and the values; by any other order the current alone. Once it exceeds `enough` the rest
 * is not added. */
static double pair_cost(const shift_case *k, const tl_leg *upper, const tl_leg *lower, double amperes,
                        double enough)
{
    const tl_shift_requirement *w = k->w;
    const double sum = upper->nominal + lower->nominal, most = lower->high / (upper->low + lower->high);
    if (k->answer->order != TL_BY_PRACTICE)
        return amperes;
    if (sum < 1e3 || sum > 1e6) /* far from what anybody would take */
        return 10 + fabs(log(sum / 20e3));
    double cost = practice_cost(PRACTICE_SUM_MIDDLE, sum) + practice_cost_near(PRACTICE_SUM_SMALL, sum, 3e3) +
                  practice_cost_near(PRACTICE_SUM_LARGE, sum, 40e3);
    if (cost < enough)
        cost += practice_cost(PRACTICE_LOOP_VOLTS, w->from.high * most / k->limit);
    if (cost >= enough)
        return cost;
    const double least = lower->low / (upper->high + lower->low),
                 ohms = parallel_of(upper->high, lower->high),
                 edge = shift_edge(ohms, w->farads, k->voh * least, k->start * least, k->vih);
    tl_choice c = {0};
    choice_part(&c, "upper", TL_DIM_OHM, upper);
    choice_part(&c, "lower", TL_DIM_OHM, lower);
    practice_add(&c, PRACTICE_HIGH_LEVEL, k->vih / (k->voh * least));
    practice_add(&c, PRACTICE_LOW_LEVEL, k->vol * most / k->vil);
    practice_add(&c, PRACTICE_EDGE, edge / k->edge);
    practice_add(&c, PRACTICE_AMPERES, amperes / w->drives);
    practice_common(&c, k->answer->stock);
    return cost + c.cost;
}

static void offer_divider(const shift_case *k, tl_choice *c)
{
    char upper[64], lower[64];
    choice_plan(c, "- divider: {upper: %s, lower: %s}",
                tl_leg_plan_text(&c->part[0], k->answer->stock, upper),
                tl_leg_plan_text(&c->part[1], k->answer->stock, lower));
    result_offer(k->answer, c);
}

/* Milliamperes too many into a receiver that is off. */
static double off_excess(const tl_choice *c)
{
    for (int i = 0; i < c->figures; i++) {
        if (c->figure[i].id == TL_FIG_RECEIVER_OFF)
            return fmax(0, c->figure[i].value - c->figure[i].limit) / 1e-3;
    }
    return 0;
}

/* The best divider of all pairs that do it. */
void shift_try_divider(const shift_case *k)
{
    const tl_shift_requirement *w = k->w;
    const tl_stock *stock = k->answer->stock;
    tl_choice best = {0}, nearest = {0};
    double nearest_excess = INFINITY, least = INFINITY;
    if (w->both_ways != 0 || w->open_drain != 0 || !shift_goes_down(k)) {
        shift_rule_out(k, "divider",
                       "only from a higher to a lower supply, one direction, from a push-pull driver");
        return;
    }
    tl_leg asked[2];
    if (k->answer->compare) {
        if (shift_asked(k, 0, &asked[0]) && shift_asked(k, 1, &asked[1])) {
            best = divider_choice(k, &asked[0], &asked[1]);
            offer_divider(k, &best);
        }
        return;
    }
    for (int i = 0; i < stock->count; i++) {
        for (int j = 0; j < stock->count; j++) {
            const tl_leg upper = leg_of(stock, i), lower = leg_of(stock, j);
            if (upper.nominal > w->most_pull || lower.nominal > w->most_pull)
                continue;
            const double most = lower.high / (upper.low + lower.high),
                         amperes = w->from.high / (upper.low + lower.low);
            if (w->from.high * most > k->limit)
                continue;
            const double cost = pair_cost(k, &upper, &lower, amperes, least);
            if (best.parts > 0 && cost >= least)
                continue; /* cheap to tell: no better than the best so far */
            const tl_choice c = divider_choice(k, &upper, &lower);
            const double excess = fmax(0, -c.figure[0].value) + fmax(0, -c.figure[1].value) +
                                  fmax(0, c.figure[3].value / k->edge - 1) +
                                  fmax(0, c.figure[5].value / w->drives - 1) + off_excess(&c);
            if (choice_fits(&c)) {
                best = c;
                least = cost;
            } else if (excess < nearest_excess) {
                nearest_excess = excess;
                nearest = c;
            }
        }
    }
    if (best.parts > 0)
        offer_divider(k, &best);
    else if (nearest.parts > 0)
        shift_settle(k, &nearest);
    else
        shift_rule_out(k, "divider", "no pair stays within the receiver limit of %s",
                       say(k->limit, TL_DIM_VOLT));
}
