/* SPDX-License-Identifier: MIT */
/*
 * value = base +- ((count mul + add) >> shift). For a given mul and shift every count leaves an interval of
 * add in which it comes out right; where all of them meet, every count does. Multipliers near the slope are
 * tried, those of 16 bits and shifts of whole bytes first: they are quickest on small chips.
 */
#include "firmware/fit.h"
#include <math.h>
#include <stddef.h>

enum { TRIES = 24 }; /* multipliers on either side of the slope */
static const double most_of[] = {4294967295.0, 281474976710655.0}; /* of all bits: plain, fine */
#define TIE 1e-7 /* so near to a half both neighbours are right */

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
    const uint32_t steps = line->fine
                               ? tl_lean_fine((uint16_t)above, line->mul, (uint32_t)(line->add >> 16),
                                              (uint16_t)line->add, (uint8_t)(line->shift - 16))
                               : tl_lean_steps((uint16_t)above, line->mul, (uint32_t)line->add, line->shift);
    /* As on the chip, where what does not fit wraps: a line that does so is never taken. */
    return (int32_t)(line->falls ? (uint32_t)line->base - steps : (uint32_t)line->base + steps);
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
    double least = 0, most = most_of[line->fine] - last * line->mul;
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
    const double middle = floor((least + most) / 2);
    if (middle < least)
        return false;
    line->add = (uint64_t)(least <= unit / 2 && unit / 2 <= most ? floor(unit / 2) : middle);
    return true;
}

static bool fits(const fit_target *t, const fit_line *line, double mul)
{
    return mul >= 0 && mul <= (double)UINT32_MAX &&
           mul * (double)(t->last - line->first) < most_of[line->fine];
}

/* How far apart the counts let a line of this slope be moved, in digits: below 0 it meets some of them
 * wrongly. */
static double room_at(const fit_target *t, double slope)
{
    double least = -INFINITY, most = INFINITY;
    for (long c = t->first; c <= t->last; c++) {
        least = fmax(least, nearest_low(t, c) - 0.5 - slope * (double)(c - t->first));
        most = fmin(most, nearest_high(t, c) + 0.5 - slope * (double)(c - t->first));
    }
    return most - least;
}

/* The slope that leaves most room: it falls off to either side. */
static double slope_of(const fit_target *t)
{
    enum { HALVINGS = 60 };
    const double span = (double)(t->last - t->first),
                 slope = (t->wanted[t->last] - t->wanted[t->first]) / span;
    double low = slope - 2 / span, high = slope + 2 / span;
    for (int i = 0; i < HALVINGS; i++) {
        const double a = low + (high - low) / 3, b = high - (high - low) / 3;
        if (room_at(t, a) < room_at(t, b))
            low = a;
        else
            high = b;
    }
    return (low + high) / 2;
}

/* Every count right, with this shift. */
static bool is_right(const fit_target *t, double slope, fit_line *line)
{
    const double middle = nearbyint(fabs(slope) * ldexp(1, line->shift));
    for (int i = 0; i <= 2 * TRIES; i++) {
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
    line->add = (uint64_t)fmin(fmax(nearbyint(add), 0), (double)UINT32_MAX);
    line->quality = quality_of(t, line);
    return true;
}

/* With one of these shifts, every count. */
static bool find_right(const fit_target *t, double slope, const uint8_t *shifts, int count, fit_line *line)
{
    for (int i = 0; i < count; i++) {
        line->shift = shifts[i];
        if (is_right(t, slope, line)) {
            line->quality = quality_of(t, line);
            return line->quality.wrong == 0;
        }
    }
    return false;
}

bool fit_a_line(const fit_target *t, double tolerance, fit_line *line)
{
    static const uint8_t shifts[] = {16, 8, 24, 20, 18, 14, 12, 22, 10, 26, 28, 6, 4, 2, 0},
                         fine[] = {32, 24, 40, 28, 36, 20, 44, 16};
    const double first = t->wanted[t->first], last = t->wanted[t->last];
    fit_line best = {.quality = {INFINITY, 0}};
    if (t->last <= t->first || fabs(first) > INT32_MAX || fabs(last) > INT32_MAX)
        return false;
    const double ends = (last - first) / (double)(t->last - t->first);
    *line = (fit_line){.falls = last < first, .first = (uint16_t)(t->whole ? t->first : 0)};
    /* From 0 where that is below everything, so that nothing need be added; at the end that is lowest else.
     */
    const double at_zero = first - ends * (double)(t->first - line->first);
    if (fabs(at_zero) > INT32_MAX)
        return false;
    line->base = line->falls ? (int32_t)ceil(at_zero) + 1 : at_zero > -0.5 ? 0 : (int32_t)floor(at_zero) - 1;
    double slope = t->whole ? slope_of(t) : ends;
    if (find_right(t, slope, shifts, sizeof shifts, line))
        return true;
    slope = slope_of(t);
    if (room_at(t, slope) > 0) { /* there is such a line */
        if (find_right(t, slope, shifts, sizeof shifts, line))
            return true;
        line->fine = true;
        if (find_right(t, slope, fine, sizeof fine, line))
            return true;
        line->fine = false;
    }
    for (size_t i = 0; i < sizeof shifts; i++) {
        line->shift = shifts[i];
        if (come_near(t, ends, line) && line->quality.deviation < best.quality.deviation)
            best = *line;
    }
    *line = best;
    return best.quality.deviation <= tolerance;
}
