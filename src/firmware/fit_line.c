/*
 * value = base +- ((count mul + add) >> shift). For a given mul and shift every count leaves an interval of
 * add in which it comes out right; where all of them meet, every count does. Multipliers near the slope are
 * tried, those of 16 bits and shifts of whole bytes first: they are quickest on small chips.
 */
#include "firmware/fit.h"
#include <math.h>
#include <stddef.h>

enum { TRIES = 24, TRIES_MOST = 2000 }; /* multipliers on either side of the slope */
#define TIE 1e-7                        /* so near to a half both neighbours are right */

static double nearest_low(const fit_target *t, long c)
{
    return t->whole ? t->wanted[c] : ceil(t->wanted[c] - 0.5 - TIE);
}

static double nearest_high(const fit_target *t, long c)
{
    return t->whole ? t->wanted[c] : floor(t->wanted[c] + 0.5 + TIE);
}

int32_t fit_line_value(const fit_line *line, long count)
{
    const long above = count - line->first;
    const uint32_t steps = tl_lean_steps((uint16_t)above, line->mul, line->add, line->shift);
    return line->falls ? line->base - (int32_t)steps : line->base + (int32_t)steps;
}

static fit_quality quality_of(const fit_target *t, const fit_line *line)
{
    fit_quality q = {0, 0};
    for (long c = t->first; c <= t->last; c++) {
        const double value = fit_line_value(line, c);
        q.deviation = fmax(q.deviation, fabs(value - t->wanted[c]));
        q.wrong += value < nearest_low(t, c) || value > nearest_high(t, c);
    }
    return q;
}

/* Steps of count c from the base on, so that they never go below 0. */
static void steps_wanted(const fit_target *t, const fit_line *line, long c, double *low, double *high)
{
    *low = line->falls ? line->base - nearest_high(t, c) : nearest_low(t, c) - line->base;
    *high = line->falls ? line->base - nearest_low(t, c) : nearest_high(t, c) - line->base;
}

/* The adds with which every count is right; false where there are none. */
static bool add_for(const fit_target *t, fit_line *line)
{
    const double unit = ldexp(1, line->shift), last = (double)(t->last - line->first);
    double least = 0, most = (double)UINT32_MAX - last * line->mul;
    for (long c = t->first; c <= t->last && least <= most; c++) {
        double low, high;
        const double moved = (double)(c - line->first) * line->mul;
        steps_wanted(t, line, c, &low, &high);
        least = fmax(least, low * unit - moved);
        most = fmin(most, (high + 1) * unit - 1 - moved);
    }
    if (least > most)
        return false;
    /* The half that rounds, where it will do; else the middle. */
    line->add =
        least <= unit / 2 && unit / 2 <= most ? (uint32_t)(unit / 2) : (uint32_t)floor((least + most) / 2);
    return true;
}

static bool fits(const fit_target *t, const fit_line *line, double mul)
{
    return mul >= 0 && mul <= (double)UINT32_MAX &&
           mul * (double)(t->last - line->first) < (double)UINT32_MAX;
}

/* Every count right, with this shift. */
static bool is_right(const fit_target *t, double slope, fit_line *line)
{
    const double unit = ldexp(1, line->shift), middle = nearbyint(fabs(slope) * unit);
    /* Ends that are whole already may each be half a digit beside the line. */
    const double off = t->whole ? unit / (double)(t->last - t->first) : 0;
    const int tries = TRIES + (int)fmin(ceil(off), TRIES_MOST);
    for (int i = 0; i <= 2 * tries; i++) {
        const double mul = middle + (i % 2 == 0 ? i / 2 : -(i + 1) / 2);
        if (!fits(t, line, mul))
            continue;
        line->mul = (uint32_t)mul;
        if (add_for(t, line))
            return true;
    }
    return false;
}

/* The best that a shift gives with the slope as it is: the first count is rounded, and what follows. */
static bool come_near(const fit_target *t, double slope, fit_line *line)
{
    const double unit = ldexp(1, line->shift), mul = nearbyint(fabs(slope) * unit);
    const double begin = line->falls ? line->base - t->wanted[t->first] : t->wanted[t->first] - line->base;
    const double add = (begin + 0.5) * unit - (double)(t->first - line->first) * fabs(slope) * unit;
    const double reach = fabs(slope) * unit * (double)(t->last - line->first) + add;
    if (mul > (double)UINT32_MAX || add < 0 || reach >= (double)UINT32_MAX - unit)
        return false;
    line->mul = (uint32_t)mul;
    line->add = (uint32_t)fmin(fmax(nearbyint(add), 0), (double)UINT32_MAX);
    line->quality = quality_of(t, line);
    return true;
}

bool fit_a_line(const fit_target *t, double tolerance, fit_line *line)
{
    static const uint8_t shifts[] = {16, 8, 24, 20, 18, 14, 12, 22, 10, 26, 28, 6, 4, 2, 0};
    const double first = t->wanted[t->first], last = t->wanted[t->last];
    const double slope = t->last > t->first ? (last - first) / (double)(t->last - t->first) : 0;
    fit_line best = {.quality = {INFINITY, 0}};
    *line = (fit_line){.falls = last < first, .first = (uint16_t)(t->whole ? t->first : 0)};
    /* From 0 where that is below everything, so that nothing need be added; at the end that is lowest else.
     */
    const double at_zero = first - slope * (double)(t->first - line->first);
    if (fabs(first) > INT32_MAX || fabs(last) > INT32_MAX || fabs(at_zero) > INT32_MAX)
        return false;
    line->base = line->falls ? (int32_t)ceil(at_zero) + 1 : at_zero > -0.5 ? 0 : (int32_t)floor(at_zero) - 1;
    for (size_t i = 0; i < sizeof shifts; i++) {
        line->shift = shifts[i];
        if (is_right(t, slope, line)) {
            line->quality = quality_of(t, line);
            return true;
        }
    }
    for (size_t i = 0; i < sizeof shifts; i++) {
        line->shift = shifts[i];
        if (come_near(t, slope, line) && line->quality.deviation < best.quality.deviation)
            best = *line;
    }
    *line = best;
    return best.quality.deviation <= tolerance;
}
