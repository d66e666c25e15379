/*
 * Sizing a divider. For one lower leg a larger upper leg lowers the tap and the current and raises the
 * resistance seen from the tap, so the upper legs that fit it are one stretch of the sorted values, and its
 * ends are found by halving. The largest share of the range comes from the smallest upper leg of that
 * stretch: the search is exact.
 */
#include "../net/memory.h"
#include "tinyladder/size.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

tl_divider_wish tl_divider_wish_default(void)
{
    return (tl_divider_wish){
        .load_ohms = INFINITY,
        .most_amperes = INFINITY,
        .most_tap_ohms = INFINITY,
        .tolerance = 0.01,
        .series = TL_E24,
        .least_ohms = 10,
        .most_ohms = 10e6,
    };
}

static double parallel(double a, double b)
{
    if (a == 0 || b == 0)
        return 0;
    return isinf(b) ? a : isinf(a) ? b : a * b / (a + b);
}

static double clamped(double value, double low, double high)
{
    return fmin(fmax(value, low), high);
}

tl_divider_choice tl_divider_work_out(const tl_divider_wish *wish, double upper, double lower)
{
    const double t = wish->tolerance, load = wish->load_ohms, source = wish->source_ohms;
    const double upper_low = upper * (1 - t), upper_high = upper * (1 + t);
    const double lower_low = lower * (1 - t), lower_high = lower * (1 + t);
    const double p = parallel(lower, load), p_low = parallel(lower_low, load),
                 p_high = parallel(lower_high, load);

    tl_divider_choice choice = {
        .upper = upper,
        .lower = lower,
        .ratio = p / (source + upper + p),
        .tap_low = wish->source_low * p_low / (source + upper_high + p_low),
        .tap_high = wish->source_high * p_high / (source + upper_low + p_high),
        .amperes = wish->source_high / (source + upper_low + p_low),
        .tap_ohms = parallel(source + upper_high, p_high),
    };
    choice.share = choice.tap_high / wish->limit;
    /* Power in a leg peaks where the leg equals what drives it: that may lie inside its tolerance. */
    const double worst_upper = clamped(source + p_low, upper_low, upper_high);
    const double amperes = wish->source_high / (source + worst_upper + p_low);
    choice.upper_watts = amperes * amperes * worst_upper;
    const double drive = source + upper_low, loaded = isinf(load) ? 1 : 1 + drive / load;
    const double worst_lower = clamped(drive / loaded, lower_low, lower_high);
    const double tap = wish->source_high * worst_lower / (drive + worst_lower * loaded);
    choice.lower_watts = tap * tap / worst_lower;
    return choice;
}

static bool sensible(const tl_divider_wish *w)
{
    return w->source_low >= 0 && w->source_high >= w->source_low && isfinite(w->source_high) &&
           w->source_high > 0 && w->limit > 0 && isfinite(w->limit) && w->source_ohms >= 0 &&
           isfinite(w->source_ohms) && w->load_ohms > 0 && w->most_amperes > 0 && w->most_tap_ohms > 0 &&
           w->upper >= 0 && w->lower >= 0 && w->tolerance >= 0 && w->tolerance < 1 && w->least_ohms > 0 &&
           w->most_ohms >= w->least_ohms && isfinite(w->most_ohms);
}

typedef struct {
    double *values;
    size_t count;
} leg_values;

static leg_values values_of_leg(const tl_divider_wish *wish, double fixed)
{
    leg_values legs = {NULL, 1};
    if (fixed > 0) {
        legs.values = tl_alloc(1, sizeof *legs.values);
        legs.values[0] = fixed;
        return legs;
    }
    legs.count = tl_series_over(wish->series, wish->least_ohms, wish->most_ohms, NULL, 0);
    legs.values = tl_alloc(legs.count, sizeof *legs.values);
    tl_series_over(wish->series, wish->least_ohms, wish->most_ohms, legs.values, legs.count);
    return legs;
}

static bool breaks(const tl_divider_wish *wish, const tl_divider_choice *choice, tl_divider_reason reason)
{
    switch (reason) {
    case TL_DIVIDER_OVER_LIMIT:
        return choice->tap_high > wish->limit;
    case TL_DIVIDER_OVER_CURRENT:
        return choice->amperes > wish->most_amperes;
    default:
        return choice->tap_ohms > wish->most_tap_ohms;
    }
}

/* How far over its limit a pair is; the measure of "nearest". */
static double excess(const tl_divider_choice *choice, tl_divider_reason reason)
{
    switch (reason) {
    case TL_DIVIDER_OVER_LIMIT:
        return choice->tap_high;
    case TL_DIVIDER_OVER_CURRENT:
        return choice->amperes;
    default:
        return choice->tap_ohms;
    }
}

/* The first upper leg from `from` on for which `reason` is (no longer) broken; the values rise, so halving
 * finds it. */
static size_t first_upper(const tl_divider_wish *wish, const leg_values *uppers, double lower,
                          tl_divider_reason reason, bool broken)
{
    size_t low = 0, high = uppers->count;
    while (low < high) {
        const size_t middle = low + (high - low) / 2;
        const tl_divider_choice choice = tl_divider_work_out(wish, uppers->values[middle], lower);
        if (breaks(wish, &choice, reason) == broken)
            high = middle;
        else
            low = middle + 1;
    }
    return low;
}

static bool better(const tl_divider_choice *a, const tl_divider_choice *b)
{
    if (fabs(a->share - b->share) > 1e-9 * fabs(b->share))
        return a->share > b->share;
    return a->amperes < b->amperes;
}

static void offer(tl_divider_choice *choices, size_t room, tl_divider_answer *answer,
                  const tl_divider_choice *choice)
{
    size_t at = answer->count;
    while (at > 0 && better(choice, &choices[at - 1]))
        at--;
    if (at >= room)
        return;
    if (answer->count < room)
        answer->count++;
    memmove(&choices[at + 1], &choices[at], (answer->count - 1 - at) * sizeof *choices);
    choices[at] = *choice;
}

/* Keeps a pair that breaks this one limit and no other, if it is nearer to it than what was kept. */
static void offer_miss(const tl_divider_wish *wish, tl_divider_answer *answer, tl_divider_reason reason,
                       double upper, double lower)
{
    const tl_divider_choice choice = tl_divider_work_out(wish, upper, lower);
    tl_divider_miss *miss = &answer->miss[reason];
    for (int other = 0; other < TL_DIVIDER_REASONS; other++) {
        if (breaks(wish, &choice, (tl_divider_reason)other) != (other == (int)reason))
            return;
    }
    const double now = excess(&choice, reason), before = excess(&miss->choice, reason);
    if (miss->any &&
        (now > before * (1 + 1e-9) || (now > before * (1 - 1e-9) && !better(&choice, &miss->choice))))
        return;
    *miss = (tl_divider_miss){true, choice};
}

static void search_lower(const tl_divider_wish *wish, const leg_values *uppers, double lower,
                         tl_divider_choice *choices, size_t room, tl_divider_answer *answer)
{
    const size_t in_limit = first_upper(wish, uppers, lower, TL_DIVIDER_OVER_LIMIT, false);
    const size_t in_budget = first_upper(wish, uppers, lower, TL_DIVIDER_OVER_CURRENT, false);
    const size_t too_weak = first_upper(wish, uppers, lower, TL_DIVIDER_OVER_OHMS, true);
    const size_t first = in_limit > in_budget ? in_limit : in_budget;

    answer->tried += uppers->count;
    if (first < too_weak)
        answer->fitting += too_weak - first;
    for (size_t i = first; i < too_weak && i - first < room; i++) {
        const tl_divider_choice choice = tl_divider_work_out(wish, uppers->values[i], lower);
        offer(choices, room, answer, &choice);
    }
    if (in_limit > 0)
        offer_miss(wish, answer, TL_DIVIDER_OVER_LIMIT, uppers->values[in_limit - 1], lower);
    if (in_budget > 0)
        offer_miss(wish, answer, TL_DIVIDER_OVER_CURRENT, uppers->values[in_budget - 1], lower);
    const size_t weak = too_weak > first ? too_weak : first;
    if (weak < uppers->count)
        offer_miss(wish, answer, TL_DIVIDER_OVER_OHMS, uppers->values[weak], lower);
}

tl_size_status tl_size_divider(const tl_divider_wish *wish, tl_divider_choice *choices, size_t room,
                               tl_divider_answer *answer)
{
    *answer = (tl_divider_answer){0};
    if (!sensible(wish))
        return TL_SIZE_NONSENSE;
    const leg_values uppers = values_of_leg(wish, wish->upper), lowers = values_of_leg(wish, wish->lower);
    for (size_t i = 0; i < lowers.count; i++)
        search_lower(wish, &uppers, lowers.values[i], choices, room, answer);
    free(uppers.values);
    free(lowers.values);
    return answer->fitting > 0 ? TL_SIZE_DONE : TL_SIZE_IMPOSSIBLE;
}
